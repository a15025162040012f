"""Pool of light: a soft light falls on a part of the picture."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..picture import GAMMA, Matrix, Patch, Rect, as_light, brighten, deepened, field_of, parse_colour
from ..remember import kept_field
from .kind import Ready, StepContext, StepKind, Values
from .parameter import Parameter, colour, point, share


class PoolOfLight(StepKind):
    """In light: what is there times (1 + gain · colour) in the pool, times (1 − dark) outside it, with a soft edge."""

    kind = "pool_of_light"
    label = "Pool of light"
    group = "light"
    synonyms = ("spotlight", "lamp", "relight", "light the face", "torch")
    says = "{gain} %"
    parameters = (
        Parameter("gain", "Intensity", "%", 0.8, 0, 4, 0, 20, neutral=0, shown_times=100),
        share("dark", "Darken outside", 0.0, 0.0),
        point("middle", "Centre", 640),
        Parameter("size", "Size", "px", 260, 10, 900, 1, 20000, neutral=260),
        share("softness", "Softness", 0.8, 0.8),
        colour("colour", "Colour", "#ffd9a0"),
    )
    ready = (Ready("lights-up", "Light comes up", ("fade up light", "dim"), away={"gain": 0}, fixed={}),)

    def keeps_cover(self, values: Values) -> bool:
        return True

    def changes_pixels(self, values: Values) -> bool:
        return values["gain"] > 0 or values["dark"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        asked = tuple(values[name] for name in ("gain", "dark", "middle", "size", "softness", "colour"))
        pixels = deepened(patch)
        brighten(pixels, _factor(context.matrix, patch.rect, context.rest.box, *asked))
        return replace(patch, pixels=pixels, colour=None)


@kept_field
def _factor(
    matrix: Matrix,
    area: Rect,
    box: Rect,
    gain: float,
    dark: float,
    middle: tuple[float, float],
    size: float,
    softness: float,
    colour: str,
) -> np.ndarray:
    """(h, w, 3) float32: what encoded colours are multiplied by. A factor in light is another one in what is
    encoded."""
    across, down = field_of(area, matrix)
    x = across - np.float32((box.x0 + box.x1) / 2 + middle[0])
    y = down - np.float32((box.y0 + box.y1) / 2 + middle[1])
    lit = np.clip((1 - np.hypot(x, y) / max(1.0, size)) / max(0.02, softness), 0, 1)
    lit = (lit * lit * (3 - 2 * lit))[..., None]
    by = (1 - dark * (1 - lit)) * (1 + gain * lit * as_light(parse_colour(colour)))
    return by.astype(np.float32) ** np.float32(1 / GAMMA)
