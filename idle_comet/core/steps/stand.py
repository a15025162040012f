"""Place in 3D: a flat picture at a place of its own in depth, before the camera of its timeline."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from ..picture import (
    Discs,
    Eye,
    Focus,
    Matrix,
    Nearness,
    Patch,
    Rect,
    Vector,
    before,
    defocused,
    looking_at,
    reach_of,
    turned_axes,
)
from ..space import lit, rows_of
from .kind import Ready, Rest, StepContext, StepKind, Values
from .parameter import Parameter

LENS, SENSOR = 35.0, 36.0
"""Mm: what a camera has unless it is given another; the frame is seen whole from LENS / SENSOR of its width away."""

_ANGLE: dict[str, Any] = {
    "unit": "°",
    "default": 0,
    "low": -90,
    "high": 90,
    "least": -36000,
    "most": 36000,
    "digits": 1,
    "gentle": 2,
}
_PLACE: dict[str, Any] = {"unit": "px", "default": 0, "least": -100_000, "most": 100_000, "digits": 1, "gentle": 4}


def resting_eye(width: float, height: float) -> Eye:
    """The camera of a timeline that has none: it sees the frame as it is."""
    return looking_at((0.0, 0.0, -width * LENS / SENSOR), (0.0, 0.0, 0.0), 0.0, width * LENS / SENSOR)


class Stand(StepKind):
    """It turns about its own pivot. Its values hold `eye`, the camera it is seen by, and None without one."""

    kind = "stand"
    label = "Place in 3D"
    group = "place"
    synonyms = ("stand in space", "depth", "3d", "z", "plane", "parallax", "behind", "perspective")
    weakens = ("x", "y", "z", "tilt", "swing", "roll", "size")
    in_space = True
    lit = True
    says = "{z} px away, {tilt}° tilt, {swing}° swing"
    parameters = (
        Parameter("x", "X", low=-640, high=640, **_PLACE),
        Parameter("y", "Y", low=-360, high=360, **_PLACE),
        Parameter("z", "Z", low=-800, high=2400, **_PLACE),
        Parameter("tilt", "Rotation X", **_ANGLE),
        Parameter("swing", "Rotation Y", **_ANGLE),
        Parameter("roll", "Rotation Z", **_ANGLE),
        Parameter("size", "Size", "%", 1, 0, 4, 0, 100, neutral=1, digits=1, shown_times=100, gentle=0.02),
    )
    ready = (
        Ready("fly-in", "Come in from far away", ("from the distance", "depth"), away={"z": 6000}),
        Ready("stand-up", "Stand up", ("rise in depth", "hinge"), away={"tilt": -90}),
    )

    def middle(self, values: Values, rest: Rest) -> Vector:
        """Where its pivot stands in the world."""
        ax, ay = rest.anchor
        return ax - rest.width / 2 + values["x"], ay - rest.height / 2 + values["y"], values["z"]

    def body(self, values: Values, rest: Rest) -> tuple[Vector, Vector, Vector, Vector]:
        """Its own px in the world: where its x, its y and its back go, and where (0, 0) lies."""
        origin, across, down = self.plane(values, rest)
        away = turned_axes(values["tilt"], values["swing"], values["roll"])[2]
        return across, down, _times(away, values["size"]), origin

    def plane(self, values: Values, rest: Rest) -> tuple[Vector, Vector, Vector]:
        """Its own px in the world: where (0, 0) lies, and where its x and its y go."""
        across, down, _ = turned_axes(values["tilt"], values["swing"], values["roll"])
        size, middle, (ax, ay) = values["size"], self.middle(values, rest), rest.anchor
        x, y, z = (middle[n] - size * (across[n] * ax + down[n] * ay) for n in range(3))
        return (x, y, z), _times(across, size), _times(down, size)

    def place(self, values: Values, rest: Rest) -> Matrix | None:
        eye = values.get("eye")
        if eye is None:
            if self.rests(values):
                return None
            eye = resting_eye(rest.width, rest.height)
        found = eye.sees(self.plane(values, rest), self.middle(values, rest), rest.width, rest.height)
        # What stands behind the camera is not seen.
        return Matrix.grow(0.0) if found is None else found

    def changes_pixels(self, values: Values) -> bool:
        eye: Eye | None = values.get("eye")
        if values.get("lights") is not None:
            return True
        return eye is not None and (eye.focus is not None or eye.until < math.inf)

    def margin(self, values: Values, rest: Rest) -> float:
        discs = self.discs(values, rest, Matrix())
        if discs is None:
            return 0.0
        frame = Rect(0, 0, rest.width, rest.height)
        # What lies beside the frame may be spread more widely than what lies in it.
        return reach_of(discs.widest(frame.grown(discs.widest(frame) / 2))) + 1.0

    def reach(self, values: Values, rest: Rest, matrix: Matrix, window: Rect) -> float:
        eye: Eye | None = values.get("eye")
        if eye is None or eye.until == math.inf:
            return super().reach(values, rest, matrix, window)
        # A shadow's edge is as soft as it is where it is looked at, which may be far from where the thing is.
        discs = self.discs(values, rest, matrix)
        return 0.0 if discs is None else reach_of(discs.widest(window.grown(discs.widest(window) / 2))) + 1.0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if values.get("lights") is not None:
            patch = self._lit(patch, values, context)
        patch = self._cut(patch, values, context)
        discs = self.discs(values, context.rest, context.matrix)
        return patch if discs is None else defocused(patch, discs, context.window, not context.exact)

    def keeps_cover(self, values: Values) -> bool:
        eye: Eye | None = values.get("eye")
        return eye is None or (eye.focus is None and eye.until == math.inf)

    def _lit(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        rest = context.rest
        eye: Eye = values.get("eye") or resting_eye(rest.width, rest.height)
        placed = eye.sees(self.plane(values, rest), self.middle(values, rest), rest.width, rest.height)
        if placed is None:
            return patch
        lights = rows_of(values["lights"])
        return lit(patch, context.matrix @ placed, self.plane(values, rest), eye.at, lights, context.shadows)

    def nearness(self, values: Values, rest: Rest, view: Matrix) -> Nearness | None:
        """One by how far ahead of the camera the plane lies, over a painted picture that `view` leads to from the
        frame; None where nothing is seen of it.

        What a plane's points are divided by is their distance, and one by it runs straight over the picture; through a
        view in perspective it is told as it is at the pivot."""
        eye: Eye = values.get("eye") or resting_eye(rest.width, rest.height)
        middle = self.middle(values, rest)
        near = eye.depth(middle)
        placed = eye.sees(self.plane(values, rest), middle, rest.width, rest.height)
        if placed is None or values["size"] < 1e-9:
            return None
        if not view.flat or placed.flat:
            return 0.0, 0.0, 1 / near
        whole = view @ placed
        back = whole.inverse()
        at = near * back.w_at(*whole.map(*rest.anchor))
        return (back.g / at, back.h / at, back.i / at) if abs(at) > 1e-12 else None

    def discs(self, values: Values, rest: Rest, view: Matrix) -> Discs | None:
        """How far out of focus each px of a painted picture is, `view` leading to it from the frame; None where
        everything is sharp, or nothing is seen."""
        eye: Eye | None = values.get("eye")
        near = None if eye is None or eye.focus is None else self.nearness(values, rest, view)
        if eye is None or eye.focus is None or near is None:
            return None
        if not view.flat:
            return self._fitted(values, rest, eye, eye.focus, view)
        focus = eye.focus
        by, most = view.scale_at(rest.width / 2, rest.height / 2), _WIDEST * rest.width
        across, down, first = (-by * focus.spread * focus.sharp * each for each in near)
        if abs(across) * rest.width + abs(down) * rest.height < _ALIKE:
            alike = by * focus.diameter(eye.depth(self.middle(values, rest)))
            return Discs(alike, 0.0, 0.0, by * most, focus.opening, focus.highlights)
        return Discs(first + by * focus.spread, across, down, by * most, focus.opening, focus.highlights)

    def _fitted(self, values: Values, rest: Rest, eye: Eye, focus: Focus, view: Matrix) -> Discs | None:
        """Through a view in perspective sizes do not run straight; as nearly as they do over what is inked."""
        plane = self.plane(values, rest)
        placed = eye.sees(plane, self.middle(values, rest), rest.width, rest.height)
        if placed is None:
            return None
        whole, found = view @ placed, []
        for x, y in (rest.anchor, *(rest.box if rest.ink.empty else rest.ink).corners()):
            far = eye.depth(_point(plane, x, y))
            on_frame = placed.map(x, y)
            if far > 1e-6 and placed.w_at(x, y) > 0 and view.w_at(*on_frame) > 0:
                found.append((*whole.map(x, y), view.scale_at(*on_frame), focus.diameter(far)))
        if not found:
            return None
        told = np.array(found)
        sizes = told[:, 2] * told[:, 3]
        most = _WIDEST * rest.width * float(told[:, 2].max())
        if len(found) < 4 or np.ptp(sizes) < _ALIKE:
            return Discs(float(sizes.mean()), 0.0, 0.0, most, focus.opening, focus.highlights)
        middle = told[:, :2].mean(0)
        fit = np.linalg.lstsq(np.column_stack([told[:, :2] - middle, np.ones(len(told))]), sizes, rcond=None)[0]
        return Discs(
            float(fit[2] - fit[:2] @ middle), float(fit[0]), float(fit[1]), most, focus.opening, focus.highlights
        )

    def _cut(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        """What of the picture lies before its eye's end."""
        eye: Eye | None = values.get("eye")
        if eye is None or eye.until == math.inf:
            return patch
        rest, view = context.rest, context.matrix
        placed = eye.sees(self.plane(values, rest), self.middle(values, rest), rest.width, rest.height)
        if placed is None:
            return patch
        # 1/z of the plane is one straight function over the picture by another, which is what the view divides by.
        back, seen = (view @ placed).inverse(), view.inverse()
        at = (view @ placed).map(*rest.anchor)
        near = eye.depth(self.middle(values, rest)) * back.w_at(*at)
        by = seen.w_at(*at)
        if abs(near) < 1e-12 or abs(by) < 1e-12:
            return patch
        a, b, c = (one / near - other / by / eye.until for one, other in zip(back[6:], seen[6:]))
        return before(patch, (a, b, c))


_WIDEST = 0.25
"""Of the frame's width: the largest disc that is painted."""

_ALIKE = 0.05
"""Px by which discs may differ over a frame's width and height and still be laid down as one size."""


def _point(plane: tuple[Vector, Vector, Vector], x: float, y: float) -> Vector:
    a, b, c = (origin + across * x + down * y for origin, across, down in zip(*plane))
    return a, b, c


def _times(vector: Vector, by: float) -> Vector:
    return vector[0] * by, vector[1] * by, vector[2] * by
