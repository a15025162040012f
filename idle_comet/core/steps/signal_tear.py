"""Signal tear: bands of rows shifted sideways and channels pulled apart, as by a bad signal."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..motion import Strengths
from ..picture import Patch, deepened, field
from .kind import Ready, Rest, StepContext, StepKind, Values
from .parameter import Parameter, whole
from .scatter import chance


class SignalTear(StepKind):
    kind = "signal_tear"
    label = "Signal tear"
    group = "arrival"
    synonyms = ("glitch", "digital tearing", "channel split", "interference", "row offset")
    says = "torn by {tear} px, split by {split} px"
    restless = True
    parameters = (
        Parameter("tear", "Amount", "px", 0, 0, 120, 0, 2000, digits=1),
        Parameter("split", "RGB split", "px", 0, 0, 30, 0, 500, digits=1),
        Parameter("band", "Bands", "px", 9, 1, 60, 1, 2000, neutral=9),
        Parameter("holds", "Hold frames", "frames", 2, 1, 12, 1, 1000, neutral=2, may_move=False),
        whole("seed", "Seed", 1, 1, 999),
    )
    ready = (
        Ready(
            "tear-in",
            "Signal tear in",
            ("glitch in", "tear in"),
            away={"tear": 70, "split": 14},
            ease=Strengths(start=0.0, end=0.6),
        ),
    )

    def changes_pixels(self, values: Values) -> bool:
        return values["tear"] > 0 or values["split"] > 0

    def margin(self, values: Values, rest: Rest) -> float:
        return values["tear"] + values["split"] + 1

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        room = math.ceil((values["tear"] + values["split"]) * context.scale) + 1
        upright = context.matrix.flat and context.matrix.b == context.matrix.c == 0
        above = 0 if upright else room
        pixels = cv2.copyMakeBorder(deepened(patch), above, above, room, room, cv2.BORDER_CONSTANT, value=(0, 0, 0, 0))
        height, width = pixels.shape[:2]
        if not upright:
            return self._turned(Patch(pixels, patch.x - room, patch.y - room, opacity=patch.opacity), values, context)
        back = context.matrix.inverse()
        # Bands lie in the frame, not in the patch, so that they are the same whatever is painted of it.
        rows = np.array([back.map(patch.x, patch.y + y + 0.5)[1] for y in range(height)])
        band = np.floor(rows / values["band"])
        turn = int(values["frame"] // max(1.0, values["holds"]))
        moved = chance(band, np.full(height, turn), int(values["seed"])) * 2 - 1
        moved *= chance(band, np.full(height, turn + 7919), int(values["seed"])) < 0.6
        shift = (moved * values["tear"] * context.scale).astype(np.float32)
        apart = values["split"] * context.scale
        x = np.arange(width, dtype=np.float32)[None, :]
        y = np.repeat(np.arange(height, dtype=np.float32)[:, None], width, 1)
        split = [
            cv2.remap(
                pixels,
                x - shift[:, None] + way * np.float32(apart),
                y,
                cv2.INTER_LINEAR,
                borderMode=cv2.BORDER_CONSTANT,
            )
            for way in (-1, 0, 1)
        ]
        out = np.stack(
            [split[0][..., 0], split[1][..., 1], split[2][..., 2], np.maximum.reduce([one[..., 3] for one in split])],
            axis=-1,
        )
        return Patch(np.ascontiguousarray(out), patch.x - room, patch.y, opacity=patch.opacity)

    def _turned(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        """The same where the picture is turned or seen in perspective: bands lie along its own rows."""
        to = context.matrix
        across, down = field(patch, to)
        turn = int(values["frame"] // max(1.0, values["holds"]))
        band = np.floor(down / values["band"])
        moved = chance(band, np.full(band.shape, turn), int(values["seed"])) * 2 - 1
        moved *= chance(band, np.full(band.shape, turn + 7919), int(values["seed"])) < 0.6
        shift = (moved * values["tear"]).astype(np.float32)

        def sampled(apart: float) -> np.ndarray:
            x = across - shift + np.float32(apart)
            w = np.maximum(to.g * x + to.h * down + to.i, 1e-3)
            return cv2.remap(
                patch.pixels,
                ((to.a * x + to.c * down + to.e) / w - patch.x - 0.5).astype(np.float32),
                ((to.b * x + to.d * down + to.f) / w - patch.y - 0.5).astype(np.float32),
                cv2.INTER_LINEAR,
                borderMode=cv2.BORDER_CONSTANT,
            )

        split = [sampled(way * values["split"]) for way in (-1, 0, 1)]
        out = np.stack(
            [split[0][..., 0], split[1][..., 1], split[2][..., 2], np.maximum.reduce([one[..., 3] for one in split])],
            axis=-1,
        )
        return Patch(np.ascontiguousarray(out), patch.x, patch.y, opacity=patch.opacity)
