"""Long shadow: the shape of the ink drawn out behind it, as by a low sun."""

from __future__ import annotations

import math

import cv2
import numpy as np

from ..motion import Strengths
from ..picture import Patch, parse_colour
from .beneath import Beneath
from .kind import Ready, Rest, StepContext, Values
from .parameter import Parameter, colour, share

_LEFT = 0.04
"""What is left of a shadow that fades at its end."""


class LongShadow(Beneath):
    """All that the ink passes over on a straight way; along it the shadow loses the same share at every px."""

    kind = "long_shadow"
    label = "Long shadow"
    of_ink = True
    synonyms = ("drawn out shadow", "flat shadow", "low sun", "block shadow")
    says = "{length} px at {angle}°"
    dresses = True
    parameters = (
        Parameter("length", "Length", "px", 90, 0, 400, 0, 2000, neutral=0, digits=1),
        Parameter("angle", "Angle", "°", 45, -180, 180, -36000, 36000, neutral=45, gentle=4),
        colour("colour", "Colour", "#1d120b"),
        share("strength", "Opacity", 0.7, 0.7),
        share("fades", "Fades out", 0.0, 0.0),
    )
    ready = (
        Ready(
            "sun-sinks",
            "Shadow grows",
            ("sun sinks", "shadow in"),
            away={"length": 0},
            ease=Strengths(start=0.2, end=0.8),
        ),
    )

    def margin(self, values: Values, rest: Rest) -> float:
        return values["length"] + 2

    def changes_pixels(self, values: Values) -> bool:
        return values["length"] > 0 and values["strength"] > 0

    def beneath(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        turn = math.radians(values["angle"])
        x, y = context.rest.anchor
        (ax, ay), (bx, by) = (
            context.matrix.map(x, y),
            context.matrix.map(x + math.cos(turn) * values["length"], y + math.sin(turn) * values["length"]),
        )
        way = bx - ax, by - ay
        long = math.hypot(*way)
        most = 3 * max(context.window.x1 - context.window.x0, context.window.y1 - context.window.y0, 256)
        if long > most:
            way, long = (way[0] * most / long, way[1] * most / long), most
        room_x, room_y = math.ceil(abs(way[0])) + 1, math.ceil(abs(way[1])) + 1
        left, right = (room_x, 1) if way[0] < 0 else (1, room_x)
        above, below = (room_y, 1) if way[1] < 0 else (1, room_y)
        cover = cv2.copyMakeBorder(patch.alpha, above, below, left, right, cv2.BORDER_CONSTANT, value=0)
        keeps = _LEFT ** values["fades"]
        # What the ink has passed over so far passes over as much again: the way is doubled each time.
        done = min(0.5, long)
        while done < long:
            step = min(done, long - done)
            moved = _moved(cover, way[0] * step / long, way[1] * step / long)
            cover = np.maximum(cover, moved * np.float32(keeps ** (step / long)))
            done += step
        return Patch(cover, patch.x - left, patch.y - above, colour=parse_colour(values["colour"]))


def _moved(cover: np.ndarray, dx: float, dy: float) -> np.ndarray:
    by = np.array([[1.0, 0.0, dx], [0.0, 1.0, dy]])
    return cv2.warpAffine(cover, by, (cover.shape[1], cover.shape[0]), flags=cv2.INTER_LINEAR)
