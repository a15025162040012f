"""How type is set, as plain values: one `Setting` for a text, others for ranges of it."""

from __future__ import annotations

from typing import NamedTuple

CASES = ("typed", "upper", "lower", "small")
"""As typed, capitals, small letters, small capitals (from the face where it has them, else capitals set smaller)."""

SMALL = 0.78
"""Size of capitals that stand in for small capitals: between x-height and cap height of most faces."""


class Setting(NamedTuple):
    """Lengths are in em of the whole text: `size` 1 is the text's own, `shift` lifts the baseline."""

    typeface: str
    weight: float = 400
    width: float = 100
    size: float = 1.0
    tracking: float = 0.0
    """1/1000 of the setting's own em after every cluster but the line's last."""
    colour: str | None = None
    """None is the text's own."""
    shift: float = 0.0
    case: str = "typed"
    kerning: bool = True
    features: tuple[str, ...] = ()
    """OpenType feature tags that are on, besides what a script needs."""


class Range(NamedTuple):
    """Characters [start, end) of the text, set in their own way."""

    start: int
    end: int
    setting: Setting


class Block(NamedTuple):
    """How lines stand together. `measure` is the width they are broken at, in em; None leaves them as typed."""

    leading: float = 1.2
    align: str = "centre"
    measure: float | None = None
    justify: bool = False


def cased(text: str, case: str) -> tuple[str, list[int]]:
    """The text in a case, and for each of its characters the one of the text it comes from (ß becomes two)."""
    change = {"upper": str.upper, "lower": str.lower}.get(case)
    if change is None:
        return text, list(range(len(text)))
    made = [change(each) for each in text]
    return "".join(made), [index for index, part in enumerate(made) for _ in part]
