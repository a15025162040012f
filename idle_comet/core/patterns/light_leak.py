"""Light leak: warm light from outside the frame, over nothing."""

from __future__ import annotations

import numpy as np

from ..picture import as_light, leaking, parse_colour
from ..steps import Parameter, colour, share, whole
from .kind import LOOP, Ground, Pattern, Values, looped
from .tints import shone_over_nothing


class LightLeak(Pattern):
    """The same light as the step of this name, as a picture of its own."""

    kind = "light_leak"
    label = "Light leak"
    synonyms = ("leak", "flare", "film burn", "warm edges")
    restless = True
    blend = "screen"
    over_all = True
    parameters = (
        Parameter("strength", "Strength", "%", 0.6, 0, 1.5, 0, 5, shown_times=100),
        Parameter("speed", "Speed", "/s", 0.12, 0, 1, 0, 20, digits=2),
        colour("near", "Colour, near", "#ffb35a"),
        colour("far", "Colour, far", "#d2431c"),
        share("reach", "Reach", 0.55, 0.55),
        whole("seed", "Seed", 1, 1, 999),
        LOOP,
    )

    def paint(self, values: Values, ground: Ground) -> np.ndarray:
        across, down = ground.places
        u, v = across / np.float32(ground.wide), down / np.float32(ground.high)
        near, far = (as_light(parse_colour(values[name])) for name in ("near", "far"))

        def light(seconds: float) -> np.ndarray:
            return leaking(
                u, v, seconds * values["speed"], near, far, values["reach"], values["strength"], int(values["seed"])
            )

        # Encoded, light looks wider than it is; over nothing there is no picture to hold against it.
        return shone_over_nothing(looped(values, ground.seconds, light) ** np.float32(1.8))
