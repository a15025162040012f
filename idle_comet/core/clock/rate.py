"""Frame rates as exact fractions."""

from __future__ import annotations

from fractions import Fraction

from pydantic import ConfigDict, Field

from ..modelled import Model


class Rate(Model):
    """Frames per second as an exact fraction, for example 30000/1001, and how timecode numbers them.

    Range: more than 0 and at most 1000 frames per second.
    """

    model_config = ConfigDict(frozen=True)

    num: int = Field(gt=0, le=1_000_000, title="Numerator")
    den: int = Field(default=1, gt=0, le=1_000_000, title="Denominator")
    non_drop: bool = Field(default=False, description="Number every frame, at 29.97 and 59.94 too.")

    @property
    def fraction(self) -> Fraction:
        return Fraction(self.num, self.den)

    @property
    def nominal(self) -> int:
        """Whole frames counted in one second of timecode (30 for 30000/1001)."""
        return -(-self.num // self.den)

    @property
    def drops(self) -> bool:
        """Whether timecode at this rate skips numbers to stay with the clock (29.97 and 59.94)."""
        return not self.non_drop and self.den == 1001 and self.nominal % 30 == 0

    def seconds(self, frames: int) -> Fraction:
        """Exact start of a frame in seconds."""
        return frames / self.fraction

    def frame_at(self, seconds: Fraction) -> int:
        """The frame shown at an exact time: ⌊t·r⌋."""
        return int(seconds * self.fraction // 1)

    def __str__(self) -> str:
        if self.den == 1:
            return str(self.num)
        return f"{float(self.fraction):.3f}".rstrip("0").rstrip(".")
