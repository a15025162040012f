"""Displace: noise pushes the picture about, across and down or outwards from a point."""

from __future__ import annotations

import numpy as np

from ..motion import Strengths
from ..picture import Matrix, Patch, Rect, field_of, noise_over, pushed_by, widened
from .kind import Ready, Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter, point, whole


class Displace(StepKind):
    """`amount` is how far the strongest noise pushes, in px of the frame. `scale` is the px of one wave of the coarsest
    noise, `detail` how many octaves finer it goes, `contrast` how much of it is pushed to its ends, `speed` how many
    waves pass a second."""

    kind = "displace"
    label = "Displace"
    group = "texture"
    synonyms = ("distort", "turbulence", "rough edges", "heat haze", "weathered", "torn")
    says = "{amount} px, waves of {scale} px"
    restless = True
    parameters = (
        Parameter("amount", "Amount", "px", 8, 0, 60, 0, 2000, neutral=0, digits=1),
        Parameter("scale", "Scale", "px", 60, 2, 400, 1, 4000, neutral=60, digits=1),
        whole("detail", "Detail", 3, 1, 6),
        Parameter("contrast", "Contrast", "%", 0, 0, 1, 0, 1, shown_times=100),
        Parameter("speed", "Speed", "/s", 0.4, 0, 4, 0, 60, neutral=0.4, digits=2),
        point("middle", "Centre", 640).only("pushes", "outwards"),
        whole("seed", "Seed", 1, 1, 999),
    )
    choices = (Choice("pushes", "Pushes", ("across and down", "outwards")),)
    ready = (
        Ready(
            "tear-coarse", "Coarse tears", ("torn paper", "ripped"), fixed={"amount": 26, "scale": 160, "contrast": 0.6}
        ),
        Ready(
            "rough-fine",
            "Fine rough edges",
            ("ink bleed", "worn type"),
            fixed={"amount": 3, "scale": 9, "contrast": 0.2},
        ),
        Ready(
            "settle",
            "Settle out of noise",
            ("melt in", "condense"),
            away={"amount": 70},
            ease=Strengths(start=0.1, end=0.9),
        ),
    )

    def margin(self, values: Values, rest: Rest) -> float:
        return values["amount"] + 1

    def changes_pixels(self, values: Values) -> bool:
        return values["amount"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        area = widened(patch, values["amount"] * context.scale, context.window)
        if patch.rect.empty or area.empty:
            return patch
        return pushed_by(
            patch, context.matrix, area, lambda over, to: self._pushes(over, to, values, context.rest), values["amount"]
        )

    def _pushes(self, over: Rect, to: Matrix, values: Values, rest: Rest) -> tuple[np.ndarray, np.ndarray]:
        """How far what the px of a rectangle show has been pushed across and down, -1..1."""
        if values["pushes"] != "outwards":
            return self._noise(over, to, values, 0), self._noise(over, to, values, 5003)
        across, down = field_of(over, to)
        x = across - np.float32((rest.box.x0 + rest.box.x1) / 2 + values["middle"][0])
        y = down - np.float32((rest.box.y0 + rest.box.y1) / 2 + values["middle"][1])
        by = np.clip(self._noise(over, to, values, 0), -1, 1) / np.maximum(np.hypot(x, y), np.float32(1e-3))
        return x * by, y * by

    def _noise(self, over: Rect, to: Matrix, values: Values, salt: int) -> np.ndarray:
        """(h, w) about -1..1."""
        time = values["seconds"] * values["speed"]
        scale = max(1.0, values["scale"])
        made = noise_over(over, to, scale, int(values["detail"]), time, int(values["seed"]) + salt, 1.6)
        keen = np.float32(1 + 6 * values["contrast"])
        return np.tanh(np.clip(made, -1, 1) * keen) / np.tanh(keen) if values["contrast"] > 0 else made
