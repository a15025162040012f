"""A model: meshes on a tree of nodes that move by themselves, with surfaces and pictures on them.

Its own space is that of glTF 2.0: metres, y up, z towards the viewer. `drawn_in` turns it about x, so that y points
down and z away, which keeps right and left.
"""

from __future__ import annotations

import math
from typing import Literal, NamedTuple

import numpy as np

from .mesh import Mesh

Path = Literal["translation", "rotation", "scale"]
Between = Literal["LINEAR", "STEP", "CUBICSPLINE"]


class Material(NamedTuple):
    """What a surface is like: colours as light, and the numbers of its pictures, −1 for none."""

    colour: tuple[float, float, float] = (1.0, 1.0, 1.0)
    metal: float = 0.0
    rough: float = 0.6
    own_light: tuple[float, float, float] = (0.0, 0.0, 0.0)
    colour_picture: int = -1
    surface_picture: int = -1
    light_picture: int = -1
    open: bool = False
    unlit: bool = False


class Part(NamedTuple):
    """A mesh on a node; its surfaces are numbers of materials."""

    mesh: Mesh
    node: int


class Node(NamedTuple):
    """A place within another, by its number (−1 for none): a fixed `matrix` (4, 4), or moved, turned (a quaternion
    x, y, z, w) and sized."""

    parent: int
    matrix: np.ndarray | None = None
    translation: tuple[float, ...] = (0.0, 0.0, 0.0)
    rotation: tuple[float, ...] = (0.0, 0.0, 0.0, 1.0)
    scale: tuple[float, ...] = (1.0, 1.0, 1.0)


class Channel(NamedTuple):
    """What an animation does to a node: `values` (n, 3 or 4; three times as many of a spline) at `times` in seconds."""

    node: int
    path: Path
    times: np.ndarray
    values: np.ndarray
    between: Between = "LINEAR"


class ReadModel(NamedTuple):
    """A model as it was read. Parents come before their children. `animations` are runs of channels by name."""

    parts: tuple[Part, ...]
    nodes: tuple[Node, ...]
    materials: tuple[Material, ...]
    pictures: tuple[np.ndarray, ...] = ()
    animations: tuple[tuple[str, tuple[Channel, ...]], ...] = ()
    notes: tuple[str, ...] = ()

    @property
    def triangles(self) -> int:
        return sum(len(part.mesh.faces) for part in self.parts)

    @property
    def nbytes(self) -> int:
        return sum(part.mesh.nbytes for part in self.parts) + sum(each.nbytes for each in self.pictures)

    @property
    def seconds(self) -> float:
        """How long its longest animation is; 0 for one that is still."""
        return max((float(each.times[-1]) for _, run in self.animations for each in run if len(each.times)), default=0)


def turned_by(quaternion: np.ndarray) -> np.ndarray:
    """(3, 3) of a quaternion x, y, z, w; nothing of one without length."""
    long = float(np.linalg.norm(quaternion))
    if long < 1e-12:
        return np.eye(3)
    x, y, z, w = quaternion / long
    return np.array(
        [
            [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
            [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
            [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
        ]
    )


def at_time(channel: Channel, seconds: float) -> np.ndarray:
    """A channel's value; before its first key and after its last it holds those. Turns go the shorter way round, at an
    even pace (K. Shoemake, "Animating rotation with quaternion curves", 1985)."""
    times, values = channel.times, channel.values
    spline = channel.between == "CUBICSPLINE"
    keys = values[1::3] if spline else values
    n = int(np.searchsorted(times, seconds, side="right")) - 1
    if n < 0:
        return keys[0]
    if n >= len(times) - 1 or channel.between == "STEP":
        return keys[min(n, len(times) - 1)]
    lasts = float(times[n + 1] - times[n])
    t = (seconds - float(times[n])) / lasts if lasts > 0 else 1.0
    a, b = keys[n], keys[n + 1]
    if spline:
        out, into = values[3 * n + 2] * lasts, values[3 * n + 3] * lasts
        return (
            (2 * t**3 - 3 * t**2 + 1) * a
            + (t**3 - 2 * t**2 + t) * out
            + (3 * t**2 - 2 * t**3) * b
            + (t**3 - t**2) * into
        )
    if channel.path != "rotation":
        return a + (b - a) * t
    cos = float(a @ b)
    if cos < 0:
        b, cos = -b, -cos
    if cos > 0.9995:
        return a + (b - a) * t
    turn = math.acos(min(1.0, cos))
    return (math.sin((1 - t) * turn) * a + math.sin(t * turn) * b) / math.sin(turn)


def placed(model: ReadModel, animation: int = 0, seconds: float = 0.0) -> list[np.ndarray]:
    """Where each node is in the model, (4, 4), at a moment of one of its animations."""
    told: dict[tuple[int, str], np.ndarray] = {}
    if 0 <= animation < len(model.animations):
        for channel in model.animations[animation][1]:
            told[channel.node, channel.path] = at_time(channel, seconds)
    found: list[np.ndarray] = []
    for number, node in enumerate(model.nodes):
        moved = any((number, path) in told for path in ("translation", "rotation", "scale"))
        if node.matrix is not None and not moved:
            own = node.matrix
        else:
            own = np.eye(4)
            own[:3, :3] = turned_by(np.asarray(told.get((number, "rotation"), node.rotation), np.float64))
            own[:3, :3] *= np.asarray(told.get((number, "scale"), node.scale), np.float64)
            own[:3, 3] = told.get((number, "translation"), node.translation)
        found.append(own if node.parent < 0 else found[node.parent] @ own)
    return found


def box_of(model: ReadModel) -> np.ndarray:
    """(2, 3): the least and the largest coordinates of the model at rest; zeros for one without any."""
    corners = []
    nodes = placed(model, -1)
    for part in model.parts:
        if len(part.mesh.spots):
            spots = part.mesh.spots @ nodes[part.node][:3, :3].T + nodes[part.node][:3, 3]
            corners += [spots.min(0), spots.max(0)]
    return np.stack([np.min(corners, 0), np.max(corners, 0)]) if corners else np.zeros((2, 3))


def drawn_in(box: np.ndarray, size: float, x: float, y: float) -> np.ndarray:
    """(4, 4): from the model to px of the frame, with its middle at (x, y) and its longest side `size` px long."""
    long = max(float((box[1] - box[0]).max()), 1e-12)
    middle = box.mean(0)
    made = np.diag([size / long, -size / long, -size / long, 1.0])
    made[:3, 3] = np.array([x, y, 0.0]) - made[:3, :3] @ middle
    return made
