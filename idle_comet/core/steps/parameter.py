"""How a step kind or a content kind declares what can be set."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, Mapping

from ..motion import Sort, sort_of


@dataclass(frozen=True, slots=True)
class Parameter:
    """One value an editor can set: a number, or (by its `sort`) a colour, one with its opacity, a choice among
    `options`, a point in px, a run of colours, an outline in px or a framing.

    `low` and `high` are the printed ends of its gauge; `least` and `most` what is
    allowed at all (values beyond are clamped when evaluated, refused when set).
    """

    name: str
    label: str
    unit: str
    default: Any
    low: float
    high: float
    least: float
    most: float
    neutral: Any = 0.0
    digits: int = 0
    may_move: bool = True
    integrated: bool = False
    """Whether it counts by its integral over time: it may have keys, and has no motor and no repeat."""
    shown_times: float = 1.0
    """What the stored value is multiplied by on screen (100 for a share shown in %)."""

    sort: Sort = "number"
    options: tuple[str, ...] = ()
    gentle: float = 0.0
    """A swing that is only just seen: what a motor begins with. 0 is a hundredth of the printed scale."""

    when: tuple[str, tuple[str, ...]] | None = None
    """A choice and the words of it with which the value counts; with any other it does nothing, and is not shown."""

    def only(self, choice: str, *words: str) -> "Parameter":
        """The same, counting only with these words of a choice."""
        return replace(self, when=(choice, words))

    def counts(self, choices: Mapping[str, str], offered: tuple["Choice", ...]) -> bool:
        """Whether the value does anything with what is chosen; a choice never made is its first word."""
        if self.when is None:
            return True
        name, words = self.when
        first = next((each.default for each in offered if each.name == name), "")
        return choices.get(name, first) in words

    def clamp(self, value: Any) -> Any:
        """The value within what is allowed; one of another sort gives way to the default."""
        if self.sort == "number" and isinstance(value, (int, float)):
            return self.least if value < self.least else self.most if value > self.most else value
        if not self.fits(value):
            return self.default
        return tuple(min(self.most, max(self.least, each)) for each in value) if self.sort == "point" else value

    def fits(self, value: Any) -> bool:
        """Whether the value is of this sort at all."""
        return sort_of(value) == self.sort and (self.sort != "choice" or value in self.options)

    def describe(self) -> dict[str, Any]:
        told = {field: getattr(self, field) for field in self.__dataclass_fields__}
        # A framing's neutral one is its default.
        neutral = self.neutral if isinstance(self.neutral, (int, float)) else 0.0
        return {**told, "neutral": neutral, "gentle": self.gentle or (self.high - self.low) / 100}


@dataclass(frozen=True, slots=True)
class Choice:
    """Something an editor chooses from a few words; the first is what it is unless chosen."""

    name: str
    label: str
    options: tuple[str, ...]
    given: bool = False
    """Whether it does nothing before the step was given a picture."""

    @property
    def default(self) -> str:
        return self.options[0]

    def clamp(self, value: str | None) -> str:
        return value if value in self.options else self.default


def whole(name: str, label: str, default: int, low: int, high: int, unit: str = "") -> Parameter:
    """A whole number that does not move: a seed, a count."""
    return Parameter(name, label, unit, default, low, high, low, high, neutral=default, may_move=False)


def share(name: str, label: str, default: float = 1.0, neutral: float = 1.0) -> Parameter:
    """A part of a whole, shown in %."""
    return Parameter(name, label, "%", default, 0, 1, 0, 1, neutral=neutral, shown_times=100)


def colour(name: str, label: str, default: str) -> Parameter:
    return Parameter(name, label, "", default, 0, 1, 0, 1, sort="colour")


def point(name: str, label: str, reach: float) -> Parameter:
    """A point in px of the project's frame, (0, 0) unless set."""
    return Parameter(name, label, "px", (0.0, 0.0), -reach, reach, -20000, 20000, digits=1, sort="point")
