"""A hive of the demo's world as a model: boxes of painted wood under a tin roof that lifts, with bees around it."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from .glb import Glb

SECONDS = 4.0


def rounded_box(wide: float, high: float, deep: float, radius: float, steps: int = 5):
    """(spots, normals, places, faces) of a box with round edges about its middle, y up."""
    half = np.array([wide, high, deep]) / 2
    inner = half - radius
    spots, normals, places, faces = [], [], [], []
    # Along a side: close together where it is round, its straight part in one.
    bend = np.sin(np.linspace(0, np.pi / 4, steps)) / np.sin(np.pi / 4)
    for axis in range(3):
        for sign in (-1.0, 1.0):
            u, v = (axis + 1) % 3, (axis + 2) % 3
            along = [np.r_[-inner[k] - radius * bend[::-1], inner[k] + radius * bend] for k in (u, v)]
            a, b = np.meshgrid(*along, indexing="ij")
            on = np.zeros((*a.shape, 3))
            on[..., axis], on[..., u], on[..., v] = sign * half[axis], a, b
            core = np.clip(on, -inner, inner)
            out = on - core
            out /= np.linalg.norm(out, axis=-1, keepdims=True)
            begin = sum(map(len, spots))
            spots.append((core + radius * out).reshape(-1, 3))
            normals.append(out.reshape(-1, 3))
            places.append(np.stack([on[..., u], on[..., v]], -1).reshape(-1, 2) * 1.6)
            rows, columns = a.shape
            i, j = np.meshgrid(np.arange(rows - 1), np.arange(columns - 1), indexing="ij")
            at = (begin + i * columns + j).ravel()
            corners = np.stack([at, at + columns, at + 1, at + 1, at + columns, at + columns + 1], 1)
            quads = corners.reshape(-1, 3)
            faces.append(quads if sign > 0 else quads[:, ::-1])
    return np.concatenate(spots), np.concatenate(normals), np.concatenate(places), np.concatenate(faces)


def ball(radius: float, stretched=(1.0, 1.0, 1.0), across: int = 24, down: int = 16):
    """(spots, normals, places, faces) of a ball, stretched along its axes."""
    turn, fall = np.meshgrid(np.linspace(0, 2 * np.pi, across + 1), np.linspace(0, np.pi, down + 1))
    ways = np.stack([np.sin(fall) * np.cos(turn), np.cos(fall), np.sin(fall) * np.sin(turn)], -1).reshape(-1, 3)
    size = np.array(stretched)
    normals = ways / size
    normals /= np.linalg.norm(normals, axis=1, keepdims=True)
    places = np.stack([turn / (2 * np.pi), fall / np.pi], -1).reshape(-1, 2)
    i, j = np.meshgrid(np.arange(down), np.arange(across), indexing="ij")
    at = (i * (across + 1) + j).ravel()
    below = at + across + 1
    faces = np.stack([at, at + 1, below, at + 1, below + 1, below], 1).reshape(-1, 3)
    return ways * radius * size, normals, places, faces


def _wood(seed: int) -> np.ndarray:
    """(256, 256, 3) uint8: paint over boards, worn along the grain."""
    random = np.random.default_rng(seed)
    y, x = np.mgrid[0:256, 0:256] / 256
    rings = sum(np.sin(2 * np.pi * (n * y + 0.3 * np.sin(2 * np.pi * x + n))) / n for n in (3, 7, 13, 29))
    grain = random.normal(0, 1, (256, 32)).repeat(8, 1) * 0.35
    shade = np.clip(0.9 + 0.05 * rings + 0.04 * grain, 0, 1)
    boards = np.where(np.abs((y * 2) % 1 - 0.5) > 0.485, 0.55, 1.0)
    return np.rint(255 * np.repeat((shade * boards)[..., None], 3, -1)).clip(0, 255).astype(np.uint8)


def _stripes() -> np.ndarray:
    """(64, 64, 3) uint8: a bee's body, head to tail downwards."""
    dark = np.array([38, 26, 12])
    warm = np.array([226, 158, 34])
    banded = (np.sin(np.linspace(0, 5 * np.pi, 64)) > 0)[:, None, None]
    return np.broadcast_to(np.where(banded, warm, dark), (64, 64, 3)).astype(np.uint8)


def _turn(axis: int, degrees: np.ndarray) -> np.ndarray:
    """(n, 4) quaternions about an axis."""
    made = np.zeros((len(degrees), 4))
    made[:, axis] = np.sin(np.radians(degrees) / 2)
    made[:, 3] = np.cos(np.radians(degrees) / 2)
    return made


def write_hive(path: Path) -> None:
    """The hive as a GLB file. Its motion: the bees go round once, and the roof lifts and comes down again."""
    out = Glb()
    wood, stripes = out.picture(_wood(3)), out.picture(_stripes())
    paints = [
        out.material(colour, 0.0, 0.55, texture=wood)
        for colour in ((0.62, 0.36, 0.09), (0.72, 0.64, 0.47), (0.18, 0.30, 0.33))
    ]
    bare = out.material((0.30, 0.19, 0.10), 0.0, 0.7, texture=wood)
    tin = out.material((0.62, 0.63, 0.64), 1.0, 0.32)
    dark = out.material((0.01, 0.008, 0.006), 0.0, 0.9)
    lamp = out.material((1.0, 0.6, 0.2), 0.0, 0.5, (3.2, 1.5, 0.35))
    body = out.material((1.0, 1.0, 1.0), 0.0, 0.5, texture=stripes)
    wing = out.material((0.75, 0.8, 0.85), 0.0, 0.2, open=True)

    hive = out.node("hive")
    out.node("board", out.mesh(*rounded_box(1.18, 0.08, 1.25, 0.02), bare), hive, translation=[0, 0.04, 0.06])
    for number, (x, z) in enumerate(((-0.45, -0.4), (0.45, -0.4), (-0.45, 0.42), (0.45, 0.42))):
        leg = out.mesh(*rounded_box(0.1, 0.3, 0.1, 0.015), bare)
        out.node(f"leg {number + 1}", leg, hive, translation=[x, -0.14, z])
    foot = 0.08
    for number, (high, paint) in enumerate(zip((0.46, 0.40, 0.34), paints)):
        box = out.mesh(*rounded_box(1.0, high, 0.9, 0.03), paint)
        out.node(f"box {number + 1}", box, hive, translation=[0, foot + high / 2, 0])
        hold = out.mesh(*rounded_box(0.3, 0.06, 0.05, 0.02), dark)
        out.node(f"hold {number + 1}", hold, hive, translation=[0, foot + high * 0.68, 0.435])
        foot += high
    out.node("entrance", out.mesh(*rounded_box(0.5, 0.06, 0.06, 0.02), dark), hive, translation=[0, 0.13, 0.43])
    for side in (-1, 1):
        out.node("lamp", out.mesh(*ball(0.035), lamp), hive, translation=[0.36 * side, 0.2, 0.47])
    roof = out.node("roof", None, hive, translation=[0, foot, 0])
    out.node("brim", out.mesh(*rounded_box(1.12, 0.14, 1.02, 0.03), tin), roof, translation=[0, 0.04, 0])
    out.node("ridge", out.mesh(*rounded_box(0.9, 0.06, 0.8, 0.03), tin), roof, translation=[0, 0.12, 0])

    times = np.linspace(0, SECONDS, 41)
    lift = np.sin(np.pi * np.clip((times - 0.6) / 2.6, 0, 1)) ** 2
    raised = np.column_stack([np.zeros(41), foot + 0.22 * lift, np.zeros(41)])
    channels = [(roof, "translation", times, raised), (roof, "rotation", times, _turn(2, 9 * lift))]
    bee, wings = out.mesh(*ball(0.06, (0.75, 1.35, 0.8)), body), out.mesh(*ball(0.06, (0.5, 0.06, 1.0)), wing)
    for number, (far, up, begins, way) in enumerate(((0.95, 0.75, 0, 1), (1.15, 1.15, 130, 1), (0.85, 1.5, 250, -1))):
        begun = _turn(1, np.array([float(begins)]))[0].tolist()
        around = out.node(f"way {number + 1}", None, hive, translation=[0, up, 0], rotation=begun)
        flier = out.node(f"bee {number + 1}", None, around, translation=[far, 0, 0])
        # Head first along its way.
        out.node("body", bee, flier, rotation=_turn(0, np.array([-90.0 * way]))[0].tolist())
        for side in (-1, 1):
            spread = _turn(2, np.array([18.0 * side]))[0].tolist()
            out.node("wing", wings, flier, translation=[0.07 * side, 0.05, 0.0], rotation=spread)
        channels.append((around, "rotation", times, _turn(1, begins - way * 360 * times / SECONDS)))
        bob = 0.05 * np.sin(2 * np.pi * (times / SECONDS * 3 + number / 3))
        channels.append((flier, "translation", times, np.column_stack([np.full(41, far), bob, np.zeros(41)])))
    out.animation("a round", channels)
    out.write(path)
