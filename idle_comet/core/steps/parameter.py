"""How a step kind or a content kind declares what can be set."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, slots=True)
class Parameter:
    """One number an editor can set.

    `low` and `high` are the printed ends of its gauge; `least` and `most` what is
    allowed at all (values beyond are clamped when evaluated, refused when set).
    """

    name: str
    label: str
    unit: str
    default: float
    low: float
    high: float
    least: float
    most: float
    neutral: float = 0.0
    digits: int = 0
    may_move: bool = True
    shown_times: float = 1.0
    """What the stored value is multiplied by on screen (100 for a share shown in %)."""

    def clamp(self, value: float) -> float:
        return min(self.most, max(self.least, value))

    def describe(self) -> dict[str, Any]:
        return {field: getattr(self, field) for field in self.__dataclass_fields__}
