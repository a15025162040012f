"""Motions and finishes that are made of several steps, added as one."""

from __future__ import annotations

from typing import Any

from ..motion import Ease, Fixed, Key, Linear, Moving, Property, Strengths
from ..project.model import Frozen, Mask, Step


class Together(Frozen):
    """`group` says where it is listed, as of a step kind."""

    id: str
    label: str
    synonyms: tuple[str, ...]
    group: str
    steps: tuple[Step, ...]


def _from_head(*beats: tuple[float, float], ease: Ease) -> Moving:
    """Values at frames after the clip's head."""
    return Moving(keys=tuple(Key(at=at, value=value, ease=ease) for at, value in beats))


def _step(number: int, kind: str, values: dict[str, Any], masks: tuple[Mask, ...] = ()) -> Step:
    held: dict[str, Property] = {
        name: value if isinstance(value, Moving) else Fixed(value=value) for name, value in values.items()
    }
    return Step(id=f"s-{number}", kind=kind, values=held, masks=masks)


def _ellipse(id: str, **values: float) -> Mask:
    return Mask(id=id, joined="add", values={name: Fixed(value=value) for name, value in values.items()})


TOGETHER: dict[str, Together] = {
    each.id: each
    for each in (
        Together(
            id="glitch-in",
            label="Glitch in",
            synonyms=("break up and tear", "digital arrival", "signal comes in"),
            group="arrival",
            steps=(
                _step(1, "fray", {"gone": _from_head((0, 1), (12, 0), ease=Linear())}),
                _step(
                    2,
                    "signal_tear",
                    {
                        "tear": _from_head((0, 80), (5, 46), (12, 0), ease=Strengths(start=0, end=0.6)),
                        "split": _from_head((0, 16), (12, 0), ease=Strengths(start=0, end=0.6)),
                    },
                ),
            ),
        ),
        Together(
            id="weathered",
            label="Weathered",
            synonyms=("torn and worn", "old print", "distressed", "rough edges and tears"),
            group="texture",
            steps=(
                _step(
                    1,
                    "displace",
                    {"amount": 8, "scale": 130, "detail": 3, "contrast": 0.5, "speed": 0.15, "seed": 4},
                    (
                        _ellipse("m-1", x=400, y=360, width=360, height=300, feather=110),
                        _ellipse("m-2", x=860, y=350, width=300, height=260, feather=110),
                    ),
                ),
                _step(2, "displace", {"amount": 2, "scale": 9, "detail": 3, "contrast": 0.2, "speed": 0.3}),
            ),
        ),
    )
}
