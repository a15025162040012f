"""Light leak: warm light from outside drifts over the picture."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..picture import Patch, as_light, field, leaking, light_of, parse_colour, screened
from .kind import Ready, StepContext, StepKind, Values
from .parameter import Parameter, colour, share, whole


class LightLeak(StepKind):
    """Three soft streaks that the seed places and turns, each brightest at an edge of the picture; they drift at the
    speed. Mixed as light, by screen, on the picture alone."""

    kind = "light_leak"
    label = "Light leak"
    group = "light"
    synonyms = ("leak", "flare", "sun", "warm edges", "film burn")
    says = "{strength} %"
    restless = True
    parameters = (
        Parameter("strength", "Opacity", "%", 0.5, 0, 1.5, 0, 5, neutral=0, shown_times=100),
        Parameter("speed", "Speed", "/s", 0.12, 0, 1, 0, 20, neutral=0.12, digits=2),
        colour("near", "Inner colour", "#ffb35a"),
        colour("far", "Outer colour", "#d2431c"),
        share("reach", "Reach", 0.55, 0.55),
        whole("seed", "Seed", 1, 1, 999),
    )
    ready = (
        Ready(
            "leak-once",
            "Leak once",
            ("flash leak",),
            beats={"strength": ((0, 0.0), (14, 1.2), (34, 0.0))},
            comes_back=False,
        ),
    )

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        box = context.rest.box
        across, down = field(patch, context.matrix)
        u = (across - np.float32(box.x0)) / np.float32(max(1e-3, box.x1 - box.x0))
        v = (down - np.float32(box.y0)) / np.float32(max(1e-3, box.y1 - box.y0))
        near, far = (as_light(parse_colour(values[name])) for name in ("near", "far"))
        light = leaking(
            u,
            v,
            values["seconds"] * values["speed"],
            near,
            far,
            values["reach"],
            values["strength"],
            int(values["seed"]),
        )
        return replace(patch, pixels=screened(light_of(patch), light), colour=None)
