"""Chroma key: one colour of the picture is taken out."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from ..picture import NOWHERE, Patch, colourfulness, deepened, keyed, parse_colour
from .kind import Rest, StepContext, StepKind, Values
from .parameter import Parameter, colour, share


class ColourKey(StepKind):
    """A px is gone where its hue and colourfulness are nearer to the key's than the tolerance, whole again a softness
    later; they are Cb and Cr of BT.709, of encoded values.

    Spill is what a px has more of the key's strongest channel than the mean of the other two.
    """

    kind = "colour_key"
    label = "Chroma key"
    group = "colour"
    synonyms = ("colour key", "green screen", "blue screen", "chroma key", "remove background", "matte")
    says = "{colour}, {tolerance} %"
    parameters = (
        share("amount", "Amount", 1.0, 0.0),
        colour("colour", "Key", "#00b140"),
        Parameter("tolerance", "Tolerance", "%", 0.18, 0, 0.6, 0, 1, neutral=0.18, shown_times=100),
        Parameter("softness", "Softness", "%", 0.1, 0, 0.4, 0, 1, neutral=0.1, shown_times=100),
        share("spill", "Spill suppression", 0.8, 0.8),
    )

    def notes(self, values: Values, moving: frozenset[str], rest: Rest, text: str, seconds: float) -> list[str]:
        grey = math.hypot(*colourfulness(parse_colour(values["colour"])))
        if values["amount"] > 0 and grey <= values["tolerance"]:
            return ["The key takes greys with it, and so most of the picture; lower its tolerance, or pick its colour."]
        return []

    def changes_pixels(self, values: Values) -> bool:
        return values["amount"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        pixels = np.ascontiguousarray(deepened(patch))
        shares = (values[name] for name in ("tolerance", "softness", "amount", "spill"))
        keyed(pixels, parse_colour(values["colour"]), *shares)
        return replace(patch, pixels=pixels, colour=None, extends=NOWHERE)
