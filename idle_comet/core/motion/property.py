"""Properties: a value that is fixed, moving (keys) or driven (a motor)."""

from __future__ import annotations

from typing import Annotated, Literal, NamedTuple, Union

from pydantic import Field, field_validator

from ..clock import LocalClock
from ..modelled import Frozen
from .ease import Ease, Strengths
from .motors import Motor
from .numbered import Numbered, numbered
from .outlines import Point
from .values import Value

CountsFrom = Literal["head", "tail", "proportion"]


class Key(Numbered):
    """One value at one time, and the ease that leads to the next key. Edits name it by its `id`.

    `at` is in frames (0 or more from the head, 0 or less from the tail) or a
    proportion of the clip, 0..1. A point's key may have tangents: where the path
    comes `into` it from and goes `out` to, as shifts from the point; None is smooth
    through by itself.
    """

    counts_from: CountsFrom = "head"
    at: Annotated[float, Field(ge=-1e7, le=1e7, allow_inf_nan=False)]
    value: Value
    ease: Ease = Strengths()
    into: Point | None = None
    out: Point | None = None


class Fixed(Frozen):
    """One value for the whole clip."""

    state: Literal["fixed"] = "fixed"
    value: Value


class Repeat(Frozen):
    """After its last key a run of keys plays again, `times` in all or (None) to the clip's end."""

    mode: Literal["loop", "mirror"] = "loop"
    times: Annotated[int, Field(ge=2, le=10_000)] | None = None


class Moving(Frozen):
    """Values at keys, eased between them, held before the first and after the last.

    `through` leads smoothly through all keys without overshoot, whatever their eases.
    """

    state: Literal["moving"] = "moving"
    keys: tuple[Key, ...] = Field(min_length=1, max_length=2000)
    through: bool = False
    repeat: Repeat | None = None

    @field_validator("keys")
    @classmethod
    def _numbered(cls, keys: tuple[Key, ...]) -> tuple[Key, ...]:
        return numbered(keys)

    def with_keys(self, keys: tuple[Key, ...]) -> Moving:
        """The same run with other keys; new ones get their numbers."""
        return self.model_copy(update={"keys": numbered(keys)})


class Driven(Frozen):
    """A motor gives the value; `rest` is what it is set back to when fixed again."""

    state: Literal["driven"] = "driven"
    motor: Motor
    rest: Value = 0.0


Property = Annotated[Union[Fixed, Moving, Driven], Field(discriminator="state")]


class TimedKey(NamedTuple):
    """A key at its real frame in the clip; `index` is its place in the property."""

    frame: float
    index: int  # type: ignore[assignment]  # in place of the tuple's own
    key: Key


def clock_for(keys: tuple[Key, ...], clock: LocalClock) -> LocalClock:
    """The clip's clock, its spans grown to hold every key that counts from an end."""
    arrival = max((key.at for key in keys if key.counts_from == "head"), default=0)
    departure = max((-key.at for key in keys if key.counts_from == "tail"), default=0)
    return clock.covering(min(arrival, 1e7), min(departure, 1e7))


def resolve_keys(moving: Moving, clock: LocalClock) -> list[TimedKey]:
    """The keys at their real frames, in playing order."""
    own = clock_for(moving.keys, clock)
    place = {"head": own.from_head, "tail": own.from_tail, "proportion": own.in_proportion}
    timed = [TimedKey(place[key.counts_from](key.at), index, key) for index, key in enumerate(moving.keys)]
    return sorted(timed, key=lambda item: (item.frame, item.index))
