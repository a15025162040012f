"""Handheld: the view turns a little, as a held camera does."""

from __future__ import annotations

import math

import numpy as np

from ..motion.handheld import SITUATIONS, focal_px, turns_at
from ..picture import Matrix
from .kind import Rest, StepKind, Values
from .parameter import Choice, Parameter, whole

_TURNS = ("intensity", "yaw", "pitch", "turned")

_STEP = 1 / 240
"""Seconds over which a speed is taken."""


class Handheld(StepKind):
    """A true turn of the view: yaw, then pitch, then roll of a lens of this focal length before a sensor of this width.
    The turns are a function of time and seed alone (`motion/handheld.py`): the same at any frame rate, in any part of a
    clip that was cut. To them is added what the view is turned by values of its own, as a recorded track has them.

    `skew` is how long a sensor takes from its first row to its last; what moves meanwhile leans. Kept filled, the
    picture is shown larger about the middle of the frame, by the least that leaves no edge in sight
    (`moment/filling.py`)."""

    kind = "handheld"
    label = "Handheld"
    group = "place"
    synonyms = ("shaky", "trembling", "wobble", "hand-held", "breathing camera", "unsteady", "tripod", "boat")
    says = "{intensity} %, {focal} mm"
    camera = True
    restless = True
    flows = True
    weakens = ("intensity", "yaw", "pitch", "turned")
    parameters = (
        Parameter("intensity", "Intensity", "%", 1, 0, 3, 0, 20, neutral=0, shown_times=100),
        Parameter("speed", "Speed", "%", 1, 0.25, 2, 0.01, 10, neutral=1, shown_times=100, may_move=False),
        Parameter("across", "Across", "%", 1, 0, 2, 0, 10, neutral=1, shown_times=100),
        Parameter("down", "Down", "%", 1, 0, 2, 0, 10, neutral=1, shown_times=100),
        Parameter("roll", "Roll", "%", 1, 0, 2, 0, 10, neutral=1, shown_times=100),
        Parameter("zoom", "Zoom", "%", 0, 0, 0.05, 0, 0.5, neutral=0, shown_times=100, digits=1),
        Parameter("focal", "Focal length", "mm", 50, 18, 200, 4, 2000, neutral=50),
        Parameter("sensor", "Sensor's width", "mm", 36, 6, 60, 1, 200, neutral=36, digits=1, may_move=False),
        Parameter("yaw", "Added pan", "°", 0, -5, 5, -60, 60, digits=2, gentle=0.1),
        Parameter("pitch", "Added tilt", "°", 0, -5, 5, -60, 60, digits=2, gentle=0.1),
        Parameter("turned", "Added roll", "°", 0, -5, 5, -180, 180, digits=2, gentle=0.1),
        Parameter("skew", "Rolling shutter", "ms", 0, 0, 33, 0, 200, neutral=0, may_move=False),
        whole("seed", "Seed", 1, 1, 999),
    )
    choices = (
        Choice("situation", "Situation", tuple(SITUATIONS)),
        Choice("edges", "Edges", ("kept filled", "as it comes")),
    )

    def rests(self, values: Values) -> bool:
        return all(values[name] == 0 for name in _TURNS)

    def place(self, values: Values, rest: Rest) -> Matrix | None:
        filled = values.get("filled", 1.0)
        if self.rests(values) and filled == 1:
            return None
        return Matrix(*(float(each) for each in self.ways(values, np.array([values["seconds"]]), rest)[0]))

    def ways(self, values: Values, seconds: np.ndarray, rest: Rest) -> np.ndarray:
        """(n, 9) float64: the matrix at each moment, its numbers in the order of `Matrix`. Values may be arrays."""
        own = seconds * values["speed"]
        turns = self._turns(values, own)
        # A slow sway of its own breathes the zoom.
        breath = values["zoom"] * values["intensity"] * np.sin(2 * math.pi * 0.23 * own + int(values["seed"]))
        far = np.broadcast_to(focal_px(rest.width, np.asarray(values["focal"], float), values["sensor"]), own.shape)
        made = _turned(turns, far, np.broadcast_to(values.get("filled", 1.0) * (1 + breath), own.shape), rest)
        if values["skew"] > 0:
            later = self._turns(values, own + _STEP * values["speed"])
            return _skewed(made, np.radians(later - turns) / _STEP * values["skew"] / 1000, far, rest)
        return made

    def _turns(self, values: Values, own: np.ndarray) -> np.ndarray:
        """(n, 3) radians are told in degrees: yaw, pitch, roll."""
        much = _three([values[name] * values["intensity"] for name in ("across", "down", "roll")], own)
        shaken = turns_at(values["situation"], int(values["seed"]), own) * much
        # What was recorded, or is turned by hand, is not made stronger with the situation.
        return shaken + _three([values[name] for name in ("yaw", "pitch", "turned")], own)


def _three(found: list[float | np.ndarray], own: np.ndarray) -> np.ndarray:
    """Three values as (3,) for all moments, or as (n, 3) where one of them is another at each."""
    if not any(isinstance(each, np.ndarray) for each in found):
        return np.array(found)
    return np.stack([np.broadcast_to(each, own.shape) for each in found], 1)


def _turned(turns: np.ndarray, far: np.ndarray, grown: np.ndarray, rest: Rest) -> np.ndarray:
    """(n, 9): the picture, larger by `grown` about the middle, seen through a lens `far` px before it that has
    turned."""
    yaw, pitch, roll = np.radians(turns).T
    (cy, sy), (cx, sx), (cz, sz) = ((np.cos(each), np.sin(each)) for each in (yaw, pitch, roll))
    # The rows of R = Ry · Rx · Rz, for a point (x, y, far).
    rows = (
        (cy * cz + sy * sx * sz, -cy * sz + sy * sx * cz, sy * cx),
        (cx * sz, cx * cz, -sx),
        (-sy * cz + cy * sx * sz, sy * sz + cy * sx * cz, cy * cx),
    )
    view = np.zeros((len(turns), 3, 3))
    for row, (one, two, three) in enumerate(rows):
        by = far if row < 2 else 1.0
        view[:, row, 0], view[:, row, 1], view[:, row, 2] = one * grown * by / far, two * grown * by / far, three * by
    return _about(view, rest)


def _about(view: np.ndarray, rest: Rest) -> np.ndarray:
    """Matrices about the middle of the frame, as `Matrix` has them, their last number 1."""
    x, y = rest.width / 2, rest.height / 2
    to, back = np.array([[1, 0, x], [0, 1, y], [0, 0, 1.0]]), np.array([[1, 0, -x], [0, 1, -y], [0, 0, 1.0]])
    whole = to @ view @ back
    whole /= whole[:, 2:, 2:]
    order = ((0, 0), (1, 0), (0, 1), (1, 1), (0, 2), (1, 2), (2, 0), (2, 1), (2, 2))
    return np.stack([whole[:, row, column] for row, column in order], axis=1)


def _skewed(ways: np.ndarray, gone: np.ndarray, far: np.ndarray, rest: Rest) -> np.ndarray:
    """Each row of the frame as it is read, from the middle one's moment: `gone` radians from the first to the last."""
    lean = np.zeros((len(ways), 3, 3))
    lean[:] = np.eye(3)
    lean[:, 0, 1], lean[:, 1, 1] = far * gone[:, 0] / rest.height, 1 - far * gone[:, 1] / rest.height
    a, b, c, d, e, f, g, h, i = ways.T
    view = np.stack([np.stack([a, c, e], 1), np.stack([b, d, f], 1), np.stack([g, h, i], 1)], axis=1)
    x, y = rest.width / 2, rest.height / 2
    to, back = np.array([[1, 0, x], [0, 1, y], [0, 0, 1.0]]), np.array([[1, 0, -x], [0, 1, -y], [0, 0, 1.0]])
    return _about(back @ (to @ lean @ back @ view) @ to, rest)
