"""Lift, gamma, gain: dark, middle and bright tones of each channel."""

from __future__ import annotations

from ..picture import Grading, line
from ..remember import kept
from .grades import Grades
from .kind import Values
from .parameter import Parameter

_CHANNELS = (("red", "red"), ("green", "green"), ("blue", "blue"))


class LiftGammaGain(Grades):
    """out = (gain · (v + lift · (1 − v))) ^ (1/gamma) on encoded values v, each channel by its own numbers and by those
    of all: a lift moves black and leaves white, a gain moves white and leaves black."""

    kind = "lift_gamma_gain"
    label = "Lift, gamma, gain"
    synonyms = ("wheels", "shadows and highlights", "black level", "white level", "balance")
    says = "{lift}, {gamma}, {gain}"
    parameters = tuple(
        parameter
        for suffix, word in (("", ""), *((f"_{name}", f", {word}") for name, word in _CHANNELS))
        for parameter in (
            Parameter(f"lift{suffix}", f"Lift{word}", "", 0, -0.3, 0.3, -1, 1, digits=3, gentle=0.01),
            Parameter(f"gamma{suffix}", f"Gamma{word}", "", 1, 0.4, 2.5, 0.1, 10, neutral=1, digits=2, gentle=0.02),
            Parameter(f"gain{suffix}", f"Gain{word}", "", 1, 0.4, 1.8, 0, 10, neutral=1, digits=2, gentle=0.02),
        )
    )

    def changes_pixels(self, values: Values) -> bool:
        return not self.rests(values)

    def grading(self, values: Values) -> Grading:
        return _grading(
            *(
                (
                    values["lift"] + values[f"lift_{name}"],
                    values["gamma"] * values[f"gamma_{name}"],
                    values["gain"] * values[f"gain_{name}"],
                )
                for name, _ in _CHANNELS
            )
        )


@kept
def _grading(*channels: tuple[float, float, float]) -> Grading:
    """By the lift, gamma and gain of each channel."""
    red, green, blue = (line(gain * (1 - lift), gain * lift, 1 / gamma) for lift, gamma, gain in channels)
    return Grading((red, green, blue))
