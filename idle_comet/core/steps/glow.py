"""Glow: what is bright spreads over its surroundings as light does."""

from __future__ import annotations

import math
from dataclasses import replace

import cv2
import numpy as np

from ..motion import Strengths
from ..picture import LUMA, Patch, Rect, as_light, bright, light_of, light_reach, octaves, parse_colour, shone
from .kind import Pulse, Ready, Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter, colour, share

_OCTAVES = 5
"""Blurs that are added up, each half as wide as the one before: a core that is bright and a skirt that is wide."""


class Glow(StepKind):
    """What is brighter than the threshold spreads over five octaves, each half as wide as the next and all with the
    same energy; mixed as light. `size` is about how far it is seen: twice the widest one's standard deviation.

    The light added is `gain` times the light that spreads (the sum over all px is the same, as far as it is seen).
    """

    kind = "glow"
    label = "Glow"
    group = "light"
    synonyms = ("bloom", "shine", "halo", "neon", "luminous", "light spreads")
    says = "{size} px, {gain} %"
    parameters = (
        Parameter("gain", "Intensity", "%", 0.6, 0, 3, 0, 20, neutral=0, shown_times=100),
        Parameter("size", "Radius", "px", 48, 2, 240, 1, 2000, neutral=48, digits=1),
        share("threshold", "Threshold", 0.0, 0.0),
        Parameter("softness", "Softness", "%", 0.3, 0, 1, 0.01, 1, neutral=0.3, shown_times=100),
        colour("near", "Inner tint", "#fff0c8"),
        colour("far", "Outer tint", "#e8902c"),
        share("tint", "Tint amount", 0.0, 0.0),
    )
    choices = (
        Choice("lights", "Lights", ("all around", "outside only", "inside only", "alone")),
        Choice("by", "Mixed by", ("screen", "add")),
    )
    ready = (
        Ready("glow-in", "Glow in and out", ("light up", "shine in", "glow arrives"), away={"gain": 2.4}),
        Ready(
            "glow-pulse",
            "Glow in pulses",
            ("pulse", "throb", "heartbeat", "breathing light", "beacon"),
            pulse={"gain": Pulse(0.3, 2.4, 14, 24, 50)},
            fixed={"size": 70},
        ),
        Ready(
            "glow-flash",
            "Flash and glow",
            ("flash of light", "flare up"),
            beats={"gain": ((0, 0.0), (10, 2.4), (26, 0.6))},
            ease=Strengths(start=0.3, end=0.5),
        ),
    )

    def margin(self, values: Values, rest: Rest) -> float:
        return light_reach(values["size"] / 2)

    def keeps_cover(self, values: Values) -> bool:
        return values["lights"] != "alone"

    def changes_pixels(self, values: Values) -> bool:
        return values["gain"] > 0

    def parted(self, values: Values) -> tuple[Values, Values | None] | None:
        below: Values = {**values, "lights": "alone"}
        if values["lights"] == "all around":
            return below, {**values, "lights": "inside only"}
        return (below, None) if values["lights"] == "outside only" else None

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        everywhere = patch.extends.everywhere
        widest = values["size"] / 2 * context.scale
        far = math.ceil(light_reach(widest))
        area = patch.rect if everywhere else patch.rect.grown(far)
        wanted = area.meets(Rect(*context.window.whole())) if not everywhere else area
        if wanted.empty:
            return Patch.empty()
        # Light from further than it reaches is not seen.
        held = patch.cut(wanted.grown(far)) if not everywhere else patch
        area = held.rect.union(wanted)
        ends = patch.extends
        if not everywhere:
            # Where the picture goes on past the frame, so does its light.
            area = Rect(
                area.x0 - far * ends.left,
                area.y0 - far * ends.top,
                area.x1 + far * ends.right,
                area.y1 + far * ends.bottom,
            )
        x0, y0, x1, y1 = (int(edge) for edge in area)
        light = light_of(held)
        if patch.opacity != 1:
            light *= np.float32(patch.opacity)
        sides = [held.y - y0, y1 - held.y - held.height, held.x - x0, x1 - held.x - held.width]
        if any(sides):
            goes_on = (ends.top, ends.bottom, ends.left, ends.right)
            for side, border in ((True, cv2.BORDER_REPLICATE), (False, cv2.BORDER_CONSTANT)):
                top, bottom, left, right = (wide if on is side else 0 for wide, on in zip(sides, goes_on))
                light = cv2.copyMakeBorder(light, top, bottom, left, right, border, value=(0, 0, 0, 0))
        seen = light
        if values["threshold"] > 0:
            # At a threshold of nothing all light spreads, the darkest too.
            seen = bright(light, values["threshold"], values["softness"])
        glow, place = octaves(seen, widest, _weights(values), everywhere, x0, y0)
        out = shone(light, glow, place, values["lights"], values["by"] == "screen")
        return replace(patch, pixels=out, x=x0, y=y0, colour=None, opacity=1.0).cut(wanted)


def _weights(values: Values) -> list[float | np.ndarray]:
    """How strong each octave is, from the widest to the narrowest; with a tint, a matrix over the channels."""
    gain, tinted = values["gain"] / _OCTAVES, values["tint"]
    if tinted <= 0:
        return [gain] * _OCTAVES
    # A tint keeps how bright the light is, and goes from far to near.
    tones = [as_light(parse_colour(values[name])).astype(np.float64) for name in ("far", "near")]
    far, near = (tone / max(1e-6, float(np.dot(tone, LUMA))) for tone in tones)
    weights: list[float | np.ndarray] = []
    for nearer in np.linspace(0, 1, _OCTAVES):
        matrix = np.zeros((4, 4), np.float32)
        coloured = np.outer(near * nearer + far * (1 - nearer), LUMA)
        matrix[:3, :3] = gain * ((1 - tinted) * np.eye(3) + tinted * coloured)
        weights.append(matrix)
    return weights
