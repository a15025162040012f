"""Properties: a number that is fixed or moving."""

from __future__ import annotations

from bisect import bisect_right
from typing import Annotated, Callable, Literal, NamedTuple, Union

from pydantic import BaseModel, ConfigDict, Field

from ..clock import LocalClock
from .ease import Ease, Strengths, ease_progress

Number = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
CountsFrom = Literal["head", "tail", "proportion"]


class _Frozen(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Key(_Frozen):
    """One value at one time, and the ease that leads to the next key.

    `at` is in frames (0 or more from the head, 0 or less from the tail) or a
    proportion of the clip, 0..1.
    """

    counts_from: CountsFrom = "head"
    at: Annotated[float, Field(ge=-1e7, le=1e7, allow_inf_nan=False)]
    value: Number
    ease: Ease = Strengths()


class Fixed(_Frozen):
    """One value for the whole clip."""

    state: Literal["fixed"] = "fixed"
    value: Number


class Moving(_Frozen):
    """Values at keys, eased between them, held before the first and after the last."""

    state: Literal["moving"] = "moving"
    keys: tuple[Key, ...] = Field(min_length=1, max_length=2000)


Property = Annotated[Union[Fixed, Moving], Field(discriminator="state")]


class TimedKey(NamedTuple):
    """A key at its real frame in the clip; `index` is its place in the property."""

    frame: float
    index: int
    key: Key


def _clock_for(keys: tuple[Key, ...], clock: LocalClock) -> LocalClock:
    """The clip's clock, its spans grown to hold every key that counts from an end."""
    arrival = max((key.at for key in keys if key.counts_from == "head"), default=0)
    departure = max((-key.at for key in keys if key.counts_from == "tail"), default=0)
    return clock.covering(min(arrival, 1e7), min(departure, 1e7))


def resolve_keys(moving: Moving, clock: LocalClock) -> list[TimedKey]:
    """The keys at their real frames, in playing order."""
    own = _clock_for(moving.keys, clock)
    place = {"head": own.from_head, "tail": own.from_tail, "proportion": own.in_proportion}
    timed = [TimedKey(place[key.counts_from](key.at), index, key) for index, key in enumerate(moving.keys)]
    return sorted(timed, key=lambda item: (item.frame, item.index))


def _between(timed: list[TimedKey], frame: float) -> float:
    after = bisect_right(timed, frame, key=lambda item: item.frame)
    if after == 0:
        return timed[0].key.value
    left = timed[after - 1]
    if after == len(timed):
        return left.key.value
    right = timed[after]
    progress = ease_progress(left.key.ease, (frame - left.frame) / (right.frame - left.frame))
    return left.key.value + (right.key.value - left.key.value) * progress


def sampler(prop: Property, clock: LocalClock) -> Callable[[float], float]:
    """The property as a function of the clip's frame, counted from its head; fractions are allowed.

    In a clip with no stay the arrival's last key and the departure's first would
    cross by a frame: then keys from the head rule before the departure begins, and
    keys from the tail from there on, so each end still plays as it was made.
    """
    if prop.state == "fixed" or len(prop.keys) == 1:
        value = prop.value if prop.state == "fixed" else prop.keys[0].value
        return lambda frame: value
    timed = resolve_keys(prop, clock)
    heads = [item for item in timed if item.key.counts_from == "head"]
    tails = [item for item in timed if item.key.counts_from == "tail"]
    if not (heads and tails and heads[-1].frame > tails[0].frame):
        return lambda frame: _between(timed, frame)
    border = _clock_for(prop.keys, clock).spans.arrival
    before = [item for item in timed if item.key.counts_from != "tail"]
    after = [item for item in timed if item.key.counts_from != "head"]
    return lambda frame: _between(before if frame < border else after, frame)


def value_at(prop: Property, frame: float, clock: LocalClock) -> float:
    """The value at one frame of the clip; see `sampler`."""
    return sampler(prop, clock)(frame)
