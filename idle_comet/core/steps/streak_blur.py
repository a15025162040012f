"""Streak blur: smeared along a line, towards a point or about it."""

from __future__ import annotations

import math
from dataclasses import replace

import cv2
import numpy as np

from ..motion import Strengths
from ..picture import Matrix, Patch, Rect
from .kind import Ready, Rest, StepContext, StepKind, Values
from .parameter import Choice, Parameter, point


class StreakBlur(StepKind):
    """The mean of the picture over a way: moved by `length` px along the angle, enlarged by `zoom` about the point, or
    turned by `turn` about it, each from minus half to plus half.

    The mean over 2ⁿ places is n means of two (the way is halved each time), so that a long streak costs little more
    than a short one.
    """

    kind = "streak_blur"
    label = "Streak blur"
    group = "surface"
    synonyms = ("directional blur", "motion streak", "zoom blur", "spin blur", "radial blur", "whip")
    says = "{length} px, {zoom} %, {turn}°"
    parameters = (
        Parameter("length", "Length", "px", 40, 0, 400, 0, 4000, neutral=0, digits=1),
        Parameter("angle", "Angle", "°", 0, -180, 180, -36000, 36000, gentle=4),
        Parameter("zoom", "Zoom blur", "%", 0, 0, 1, 0, 4, shown_times=100),
        Parameter("turn", "Spin blur", "°", 0, 0, 90, 0, 360, digits=1),
        point("middle", "Centre", 640),
    )
    ready = (
        Ready(
            "whip-in",
            "Whip in with streaks",
            ("fast streak", "swish"),
            away={"length": 260},
            ease=Strengths(start=0.0, end=0.9),
        ),
        Ready("zoom-in", "Zoom streak", ("rush in", "explode"), away={"zoom": 0.5}, fixed={"length": 0}),
        Ready("spin-in", "Spin streak", ("whirl in",), away={"turn": 40}, fixed={"length": 0}),
    )
    choices = (Choice("edges", "Edges", ("as the picture needs", "nothing beyond")),)

    def margin(self, values: Values, rest: Rest) -> float:
        far = self._far(values, rest)
        grown, turned = math.exp(min(3.0, values["zoom"]) / 2) - 1, math.radians(values["turn"] / 2)
        return values["length"] / 2 + far * (grown + turned) + 2

    def _far(self, values: Values, rest: Rest) -> float:
        """From the point to the furthest corner of the box, px."""
        x, y = self._point(values, rest)
        return max(math.hypot(corner[0] - x, corner[1] - y) for corner in rest.box.corners())

    def _point(self, values: Values, rest: Rest) -> tuple[float, float]:
        box = rest.box
        return (box.x0 + box.x1) / 2 + values["middle"][0], (box.y0 + box.y1) / 2 + values["middle"][1]

    def changes_pixels(self, values: Values) -> bool:
        return values["length"] > 0 or values["zoom"] > 0 or values["turn"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        everywhere = patch.extends.everywhere and values["edges"] == "as the picture needs"
        margin = self.margin(values, context.rest) * context.scale
        room = min(margin, 2.0 * max(context.window.x1 - context.window.x0, context.window.y1 - context.window.y0, 64))
        wanted = patch.rect if everywhere else patch.rect.grown(math.ceil(room)).meets(Rect(*context.window.whole()))
        if wanted.empty:
            return Patch.empty()
        border = cv2.BORDER_REPLICATE if everywhere else cv2.BORDER_CONSTANT
        straight = self._straight(values, context)
        area = patch.rect.union(wanted)
        if everywhere and straight is None:
            # What goes on past the border goes on before anything is moved, not after each time it is.
            area = area.grown(math.ceil(min(margin, max(patch.width, patch.height) / 2)))
        x0, y0, x1, y1 = area.whole()
        pixels = patch.pixels.astype(np.float32, copy=False)
        sides = patch.y - y0, y1 - patch.y - patch.height, patch.x - x0, x1 - patch.x - patch.width
        if any(sides):
            bordered = cv2.copyMakeBorder(pixels, *sides[:2], *sides[2:], border, value=(0, 0, 0, 0))
            pixels = bordered.astype(np.float32, copy=False)
        if straight is not None:
            return replace(patch, pixels=_streaked(pixels, *straight, border), x=x0, y=y0).cut(wanted)
        halvings = max(1, min(9, math.ceil(math.log2(max(2.0, margin)))))
        for halving in range(halvings):
            # From the longest to the shortest, so that the fine ones smooth what the coarse ones left.
            share = 0.25 / 2**halving
            both = [self._moved(values, context, sign * share, x0, y0) for sign in (-1, 1)]
            pixels = (_warped(pixels, both[0], border) + _warped(pixels, both[1], border)) * np.float32(0.5)
        return replace(patch, pixels=np.ascontiguousarray(pixels, np.float32), x=x0, y=y0).cut(wanted)

    def _straight(self, values: Values, context: StepContext) -> tuple[float, bool] | None:
        """How long a streak is that lies across or down the painted picture and nothing else, and whether down."""
        matrix, angle = context.matrix, math.radians(values["angle"])
        x, y = values["length"] * math.cos(angle), values["length"] * math.sin(angle)
        across, down = abs(matrix.a * x + matrix.c * y), abs(matrix.b * x + matrix.d * y)
        if values["zoom"] or values["turn"] or not matrix.flat or min(across, down) > 0.01 or max(across, down) < 4:
            return None
        return max(across, down), down > across

    def _moved(self, values: Values, context: StepContext, share: float, x0: int, y0: int) -> Matrix:
        """Where the picture has gone after a share of the way, in px of the array that begins at (x0, y0)."""
        x, y = self._point(values, context.rest)
        angle = math.radians(values["angle"])
        step = (
            Matrix.shift(math.cos(angle) * values["length"] * share, math.sin(angle) * values["length"] * share)
            @ Matrix.shift(x, y)
            @ Matrix.turn(values["turn"] * share)
            @ Matrix.grow(math.exp(values["zoom"] * share))
            @ Matrix.shift(-x, -y)
        )
        to = Matrix.shift(-x0, -y0) @ context.matrix
        return to @ step @ to.inverse()


def _streaked(pixels: np.ndarray, length: float, down: bool, border: int) -> np.ndarray:
    """The mean over a length of at least 4 px, between px by straight lines.

    All px well within it have the same share; what lies about its ends is weighted by how much of a triangle one px to
    each side is within. A weighted sum of three means of whole px, each wider than the last, it costs the same however
    long it is.
    """
    half = length / 2
    inner = math.floor(half - 1)
    near, far = (1 - (1 - z) ** 2 / 2 if z > 0 else (1 + z) ** 2 / 2 for z in (half - inner - 1, half - inner - 2))
    total = np.zeros_like(pixels)
    for more, weight in enumerate((1 - near, near - far, far)):
        wide = 2 * (inner + more) + 1
        size = (1, wide) if down else (wide, 1)
        cv2.scaleAdd(cv2.blur(pixels, size, borderType=border), weight * wide / length, total, total)
    return total


def _warped(pixels: np.ndarray, to: Matrix, border: int) -> np.ndarray:
    by = Matrix.shift(-0.5, -0.5) @ to @ Matrix.shift(0.5, 0.5)
    size = pixels.shape[1], pixels.shape[0]
    if by.flat:
        affine = np.array([[by.a, by.c, by.e], [by.b, by.d, by.f]])
        return cv2.warpAffine(pixels, affine, size, flags=cv2.INTER_LINEAR, borderMode=border, borderValue=(0, 0, 0, 0))
    whole = np.array([[by.a, by.c, by.e], [by.b, by.d, by.f], [by.g, by.h, by.i]])
    return cv2.warpPerspective(pixels, whole, size, flags=cv2.INTER_LINEAR, borderMode=border, borderValue=(0, 0, 0, 0))
