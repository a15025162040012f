"""Many small things, each of which comes, goes its way and goes, over and over."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from .kind import Ground


class Lives(NamedTuple):
    """`age` (n,) 0..1 within the life each is in; `lap` (n,) which of its lives that is."""

    age: np.ndarray
    lap: np.ndarray


def lives(count: int, length: np.ndarray | float, seconds: float, loop: float, seed: int) -> Lives:
    """Lives of `length` seconds each, begun at times spread by chance. Where the picture repeats after `loop` seconds
    (0: never), each life is made to fit into that a whole number of times."""
    length = np.broadcast_to(np.maximum(np.asarray(length, np.float64), 1e-3), (count,))
    many = np.maximum(1, np.rint(loop / length)) if loop > 0 else np.zeros(count)
    length = loop / many if loop > 0 else length
    along = seconds / length + chance(seed, 0, np.arange(count))
    lap = np.floor(along)
    age = along - lap
    if loop > 0:
        lap = np.mod(lap, many)
    return Lives(age, lap.astype(np.int64))


def chance(seed: int, salt: int, number: np.ndarray, lap: np.ndarray | int = 0) -> np.ndarray:
    """(n,) 0..1, the same everywhere for the same numbers (SplitMix64)."""
    with np.errstate(over="ignore"):
        x = np.asarray(number).astype(np.uint64) * np.uint64(0x9E3779B97F4A7C15)
        x = x + np.asarray(lap).astype(np.uint64) * np.uint64(0xD1B54A32D192ED03)
        x = x + np.uint64((seed * 1_000_003 + salt * 7919 + 1) & 0xFFFFFFFFFFFFFFFF) * np.uint64(0x632BE59BD9B4E019)
        for shift, by in ((30, 0xBF58476D1CE4E5B9), (27, 0x94D049BB133111EB)):
            x = (x ^ (x >> np.uint64(shift))) * np.uint64(by)
        x = x ^ (x >> np.uint64(31))
    return (x >> np.uint64(11)).astype(np.float64) / 2**53


def onto(spots: np.ndarray, ground: Ground) -> np.ndarray:
    """Spots told in px of the frame as the painted area has them."""
    made = np.array(spots, np.float64)
    x0, y0, _, _ = ground.area.whole()
    m = ground.matrix
    x, y = made[:, 0], made[:, 1]
    w = m.g * x + m.h * y + m.i
    seen = w > 1e-6
    w = np.where(seen, w, 1.0)
    made[:, 0] = (m.a * x + m.c * y + m.e) / w - x0
    made[:, 1] = (m.b * x + m.d * y + m.f) / w - y0
    made[:, 2] *= ground.scale if m.flat else np.array([m.scale_at(*each) for each in zip(x, y)])
    made[:, 8] *= seen
    # However large, no more is painted than there is.
    made[:, 2] = np.minimum(made[:, 2], 4e3)
    return made
