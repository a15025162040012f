"""What a property's value can be, and what lies between two values of one sort."""

from __future__ import annotations

from typing import Annotated, Any, Callable, Literal, Union

from pydantic import Field, StringConstraints

from .framing import Framing, mixed_framing
from .outlines import Number, Outline, Point, between_points, mixed_outline

Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-f]{6}$")]
ClearColour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-f]{8}$")]
"""A colour with its opacity: `#rrggbbaa`."""
Word = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9 -]{0,63}$")]
"""One of some choices."""
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]

Sort = Literal["number", "colour", "clear colour", "choice", "point", "outline", "framing"]


Value = Union[Number, Colour, ClearColour, Word, Point, Outline, Framing]


def number(value: Value) -> float:
    """A value of a number's property; raises TypeError for any other sort."""
    if isinstance(value, (int, float)):
        return value
    raise TypeError(f"{value!r} is no number")


def sort_of(value: Any) -> Sort | None:
    """Which sort a value is; None for what is none."""
    if isinstance(value, str):
        return "choice" if not value.startswith("#") else "colour" if len(value) == 7 else "clear colour"
    if isinstance(value, bool):
        return None
    if isinstance(value, (int, float)):
        return "number"
    if isinstance(value, tuple):
        return "point"
    if isinstance(value, Framing):
        return "framing"
    return "outline" if isinstance(value, Outline) else None


def between(a: Any, b: Any, progress: float) -> Any:
    """What lies between two values of one sort; an eased progress may reach past 0 and 1."""
    return mixer_of(sort_of(a))(a, b, progress)


def mixer_of(sort: Sort | None) -> Callable[[Any, Any, float], Any]:
    """What mixes two values of a sort by a progress. A choice waits for its key."""
    return _MIXERS.get(sort, lambda a, b, progress: a)


def mixed_colour(a: str, b: str, progress: float) -> str:
    """Between two colours on their encoded values; an overshoot is cut at black and white.

    Where one has an opacity the colours count as much as they cover (CSS Color 4, §12.3, premultiplied).
    """
    if len(a) == len(b) == 7:
        return "#" + "".join(_byte(x + (y - x) * progress) for x, y in zip(_bytes(a), _bytes(b)))
    (*one, first), (*other, second) = _bytes(a, 255), _bytes(b, 255)
    opacity = min(255.0, max(0.0, first + (second - first) * progress))
    mixed = (x * first + (y * second - x * first) * progress for x, y in zip(one, other))
    return "#" + "".join(_byte(each / opacity if opacity else 0.0) for each in mixed) + _byte(opacity)


def _bytes(colour: str, *opacity: int) -> tuple[int, ...]:
    found = tuple(int(colour[place : place + 2], 16) for place in range(1, len(colour), 2))
    return (*found, *opacity)[:4] if opacity else found


def _byte(value: float) -> str:
    return f"{min(255, max(0, round(value))):02x}"


def _mixed(a: float, b: float, progress: float) -> float:
    return a + (b - a) * progress


_MIXERS: dict[Sort | None, Callable[[Any, Any, float], Any]] = {
    "number": _mixed,
    "colour": mixed_colour,
    "clear colour": mixed_colour,
    "point": between_points,
    "outline": mixed_outline,
    "framing": mixed_framing,
}
