"""Flicker: the light of the picture wavers."""

from __future__ import annotations

import math

import numpy as np

from ..picture import GAMMA, Grading, line
from .grades import Grades
from .kind import Values
from .parameter import Parameter, whole


class Flicker(Grades):
    """Exposure by a sum of three waves whose rates do not divide each other and whose phases the seed gives, so that it
    depends on time alone: at the rate most, faster and slower less."""

    kind = "flicker"
    label = "Flicker"
    group = "light"
    synonyms = ("waver", "unsteady light", "candle", "old projector", "lamp")
    says = "{amount} stops"
    restless = True
    parameters = (
        Parameter("amount", "Amount", "st", 0.15, 0, 1.5, 0, 6, neutral=0, digits=2),
        Parameter("rate", "Rate", "Hz", 6, 0.2, 12, 0.05, 60, neutral=6, digits=1),
        whole("seed", "Seed", 1, 1, 999),
    )

    def changes_pixels(self, values: Values) -> bool:
        return values["amount"] > 0

    def grading(self, values: Values) -> Grading:
        time = values["seconds"]
        phases = np.random.Generator(np.random.PCG64(int(values["seed"]))).random(3)
        swing = sum(
            weight * math.sin(2 * math.pi * (values["rate"] * times * time + phase))
            for weight, times, phase in zip((0.6, 0.3, 0.3), (1.0, 1.618, 0.414), phases)
        )
        # So many times the light are these times the encoded value.
        return Grading((line(2 ** (values["amount"] * swing / GAMMA), 0.0),) * 3)
