"""Smoke: soft veils that rise, drift and curl."""

from __future__ import annotations

import numpy as np

from ..picture import sampled_noise
from ..steps import Parameter, colour, share, whole
from .kind import LOOP, Ground, Pattern, Values, looped
from .tints import inked


class Smoke(Pattern):
    """Noise whose places other noise has pushed about: that makes it curl (domain warping, Quilez 2002)."""

    kind = "smoke"
    label = "Smoke"
    synonyms = ("mist", "fog", "haze", "clouds", "steam")
    restless = True
    blend = "screen"
    parameters = (
        share("density", "Density", 0.58, 0.0),
        share("opacity", "Opacity", 0.6, 0.0),
        Parameter("scale", "Scale", "px", 320, 20, 1200, 4, 8000, neutral=320),
        Parameter("softness", "Softness", "%", 1.3, 0.05, 2, 0.02, 4, neutral=1.3, shown_times=100),
        Parameter("curl", "Curl", "%", 0.55, 0, 2, 0, 8, neutral=0.55, shown_times=100),
        whole("detail", "Detail", 4, 1, 6),
        Parameter("rise", "Rise", "px/s", 26, -200, 200, -4000, 4000),
        Parameter("drift", "Drift", "px/s", 12, -200, 200, -4000, 4000),
        Parameter("speed", "Change", "/s", 0.12, 0, 1, 0, 20, digits=2),
        colour("colour", "Colour", "#d9d2c6"),
        whole("seed", "Seed", 1, 1, 999),
        LOOP,
    )

    def paint(self, values: Values, ground: Ground) -> np.ndarray:
        across, down = ground.places
        scale, detail, seed = values["scale"], int(values["detail"]), int(values["seed"])

        def veil(seconds: float) -> np.ndarray:
            x = across - np.float32(values["drift"] * seconds)
            y = down + np.float32(values["rise"] * seconds)
            time = seconds * values["speed"]
            push = np.float32(values["curl"] * scale)
            aside, up = (sampled_noise(x, y, scale * 1.6, 2, time, seed + salt) for salt in (211, 307))
            return sampled_noise(x + aside * push, y + up * push, scale, detail, time, seed)

        found = looped(values, ground.seconds, veil)
        soft = np.float32(values["softness"] * 0.7)
        share_ = np.clip((found - np.float32(0.45 - 0.9 * values["density"])) / soft, 0, 1)
        return inked(share_ * share_ * (3 - 2 * share_) * np.float32(values["opacity"]), values["colour"])
