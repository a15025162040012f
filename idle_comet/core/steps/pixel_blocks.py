"""Mosaic: the picture in squares of one colour each."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np

from ..motion import Jumps
from ..picture import Matrix, Patch, bent, deepened, places, widened
from .kind import Ready, Rest, StepContext, StepKind, Values
from .parameter import Parameter


class PixelBlocks(StepKind):
    """Blocks lie on a grid about the middle of the picture's box; each has the mean of what it covers."""

    kind = "pixel_blocks"
    label = "Mosaic"
    group = "texture"
    synonyms = ("pixel blocks", "pixelate", "mosaic", "censor", "low resolution", "big pixels")
    says = "{size} px"
    parameters = (Parameter("size", "Size", "px", 12, 1, 80, 1, 1000, neutral=1, digits=1),)
    ready = (
        Ready(
            "blocks-in", "Out of blocks", ("depixelate", "resolve"), away={"size": 48}, ease=Jumps(count=8, at="end")
        ),
    )

    def margin(self, values: Values, rest: Rest) -> float:
        return values["size"] + 1

    def keeps_cover(self, values: Values) -> bool:
        return False

    def changes_pixels(self, values: Values) -> bool:
        return values["size"] > 1

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        size = values["size"]
        area = widened(patch, size * context.scale, context.window)
        if patch.rect.empty or area.empty:
            return patch
        across, down = places(area, context.matrix)
        box = context.rest.box
        x0, y0 = np.float32((box.x0 + box.x1) / 2), np.float32((box.y0 + box.y1) / 2)
        middle_x = (np.floor((across - x0) / size) + np.float32(0.5)) * np.float32(size) + x0
        middle_y = (np.floor((down - y0) / size) + np.float32(0.5)) * np.float32(size) + y0
        wide = max(1, round(size * context.scale))
        room = 0 if patch.extends.everywhere else wide
        pixels = patch.pixels.astype(np.float32) if patch.colour is not None else deepened(patch)
        if room:
            pixels = cv2.copyMakeBorder(pixels, room, room, room, room, cv2.BORDER_CONSTANT, value=(0, 0, 0, 0))
        border = cv2.BORDER_REPLICATE if patch.extends.everywhere else cv2.BORDER_CONSTANT
        mean = cv2.blur(pixels, (wide, wide), borderType=border)
        held = replace(patch, pixels=mean, x=patch.x - room, y=patch.y - room)
        # A box with an even side has its middle half a px before its own px.
        aside = 0.0 if wide % 2 else 0.5
        return bent(held, Matrix.shift(aside, aside) @ context.matrix, area, middle_x, middle_y)
