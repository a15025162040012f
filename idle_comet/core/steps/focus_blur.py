"""Focus blur: a Gaussian whose radius is its standard deviation."""

from __future__ import annotations

from ..picture import Patch, blur_patch, reach
from .kind import Ready, Rest, StepContext, StepKind, Values
from .parameter import Parameter


class FocusBlur(StepKind):
    kind = "focus_blur"
    label = "Focus blur"
    synonyms = ("blur", "soften", "defocus", "gaussian", "focus in")
    says = "radius {radius} px"
    keeps_means = True
    parameters = (Parameter("radius", "Radius", "px", 0, 0, 60, 0, 1000, digits=1),)
    ready = (
        Ready("focus-in", "Focus in and out", ("focus", "sharpen", "blur in", "soft arrival"), away={"radius": 24}),
        Ready(
            "focus-letters",
            "Focus in, letter by letter",
            ("focus letters", "blur in letters"),
            away={"radius": 18},
            unit="letter",
            delay=2,
        ),
    )

    def margin(self, values: Values, rest: Rest) -> float:
        return reach(values["radius"])

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["radius"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        return blur_patch(patch, values["radius"] * context.scale, context.window)
