"""What parts of a document are made of: every model is frozen; an edit makes a new one."""

from __future__ import annotations

from typing import Annotated, Any, Callable, Union

from pydantic import BeforeValidator, Field, StringConstraints

from ..motion import Fixed, Moving, Property
from ..motion.numbered import Numbered
from ..motion.property import CountsFrom

MAX_TEXT = 10_000
MAX_FRAMES = 10_000_000

Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,63}$")]
Name = Annotated[str, StringConstraints(min_length=1, max_length=200)]
Frames = Annotated[int, Field(ge=0, le=MAX_FRAMES)]


def fixed(value: float | str | tuple[float, float]) -> Fixed:
    return Fixed(value=value)


def as_property(value: Any) -> Any:
    return Fixed(value=value) if isinstance(value, (str, int, float)) else value


Shorthand = Annotated[Property, BeforeValidator(as_property)]
"""A property that may be given as a plain number or colour: one that is fixed."""


def speeds(least: float, most: float) -> Callable[[Fixed | Moving], Fixed | Moving]:
    """A check that all speeds of a property are numbers within bounds, and that it does not repeat: the way gone is
    their integral."""

    def check(speed: Fixed | Moving) -> Fixed | Moving:
        if speed.state == "moving" and speed.repeat is not None:
            raise ValueError("a speed that moves does not repeat")
        for each in [speed.value] if speed.state == "fixed" else [key.value for key in speed.keys]:
            if not isinstance(each, (int, float)) or not least <= each <= most:
                raise ValueError(f"a speed is a number from {least:g} to {most:g}")
        return speed

    return check


Speed = Annotated[Union[Fixed, Moving], Field(discriminator="state")]


class HeldKey(Numbered):
    """From its frame on a choice or the words are these; times are counted as a key's. Edits name it by its `id`."""

    counts_from: CountsFrom = "head"
    at: Annotated[float, Field(ge=-1e7, le=1e7, allow_inf_nan=False)]
    value: Annotated[str, StringConstraints(max_length=MAX_TEXT)] | int
