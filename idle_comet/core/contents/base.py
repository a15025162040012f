"""What parts of a document are made of: every model is frozen; an edit makes a new one."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BeforeValidator, Field, StringConstraints

from ..motion import Fixed, Property
from ..motion.numbered import Numbered
from ..motion.property import CountsFrom

MAX_TEXT = 10_000
MAX_FRAMES = 10_000_000

Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,63}$")]
Name = Annotated[str, StringConstraints(min_length=1, max_length=200)]
Frames = Annotated[int, Field(ge=0, le=MAX_FRAMES)]


def fixed(value: float | str | tuple[float, float]) -> Fixed:
    return Fixed(value=value)


def _as_property(value: Any) -> Any:
    return Fixed(value=value) if isinstance(value, (str, int, float)) else value


Shorthand = Annotated[Property, BeforeValidator(_as_property)]
"""A property that may be given as a plain number or colour: one that is fixed."""


class HeldKey(Numbered):
    """From its frame on a choice or the words are these; times are counted as a key's. Edits name it by its `id`."""

    counts_from: CountsFrom = "head"
    at: Annotated[float, Field(ge=-1e7, le=1e7, allow_inf_nan=False)]
    value: Annotated[str, StringConstraints(max_length=MAX_TEXT)] | int
