"""Picture fill: the ink is filled with a picture of the film."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..picture import Matrix, Patch, deepened, warp_picture
from .kind import StepContext, StepKind, Values
from .parameter import Choice, Parameter, share


class PictureFill(StepKind):
    """The picture covers the words' box, times `scale`, moved by (x, y). A shot plays on while it fills."""

    kind = "picture_fill"
    label = "Picture fill"
    of_ink = True
    synonyms = ("texture", "photo in text", "video in text", "fill with footage", "image")
    says = "{strength} %"
    takes = "picture"
    restless = True
    keeps_means = True
    parameters = (
        Parameter("scale", "Scale", "%", 1, 0.2, 4, 0.01, 100, neutral=1, shown_times=100, gentle=0.02),
        Parameter("x", "X", "px", 0, -400, 400, -20000, 20000, digits=1, gentle=3),
        Parameter("y", "Y", "px", 0, -400, 400, -20000, 20000, digits=1, gentle=3),
        share("strength", "Opacity", 1, 0),
    )
    choices = (Choice("plays", "Plays", ("with the clip", "its first frame")),)

    def changes_pixels(self, values: Values) -> bool:
        return values["strength"] > 0 and values["picture"] is not None

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty or context.frame_of is None:
            return patch
        media, width, height, frames = values["picture"]
        box = context.rest.box
        scale = max((box.x1 - box.x0) / width, (box.y1 - box.y0) / height) * values["scale"]
        x, y = (box.x0 + box.x1) / 2 + values["x"], (box.y0 + box.y1) / 2 + values["y"]
        number = min(frames - 1, max(0, int(values["frame"]))) if values["plays"] == "with the clip" else 0
        source = context.frame_of(media, number, max(1, int(context.scale * width * scale + 0.999)))
        to = (
            context.matrix
            @ Matrix.shift(x, y)
            @ Matrix.grow(width * scale / source.shape[1], height * scale / source.shape[0])
            @ Matrix.shift(-source.shape[1] / 2, -source.shape[0] / 2)
        )
        under = warp_picture(source, to, patch.rect, opaque=False)
        pixels = deepened(patch)
        filled = np.zeros_like(pixels)
        left, top = max(0, under.x - patch.x), max(0, under.y - patch.y)
        cut = under.pixels[max(0, patch.y - under.y) :, max(0, patch.x - under.x) :]
        if under.colour is None and cut.size:
            high, wide = min(cut.shape[0], filled.shape[0] - top), min(cut.shape[1], filled.shape[1] - left)
            filled[top : top + high, left : left + wide] = cut[:high, :wide]
        # Within the ink only; where the picture ends, the ink keeps its own colour.
        inside = filled * (pixels[..., 3:] / 255) + pixels * (1 - filled[..., 3:] / 255)
        out = pixels + (inside - pixels) * np.float32(values["strength"])
        return replace(patch, pixels=np.ascontiguousarray(out), colour=None)
