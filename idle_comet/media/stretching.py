"""A sound at another speed with its pitch as it was: made once for each speed, by FFmpeg, and kept beside it."""

from __future__ import annotations

import os
import threading
import uuid
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from ..core.sound import SOUND_RATE
from ..disk import put

_KEPT = 6
"""Speeds kept of one sound; the one that was not asked for longest goes first."""

_SLOWEST = 0.5
"""What the filter can do at once; slower ones go through it twice and more."""

_AT_ONCE = SOUND_RATE
_locks: dict[Path, threading.Lock] = {}
_finding = threading.Lock()


def stretched_path(samples: Path, pace: float) -> Path:
    return samples.with_name(f"{samples.name.removesuffix('.f32')}.pace-{pace:.5f}.f32")


def stretched(samples: Path, pace: float) -> Path:
    """The samples of a file at a pace, as a file of their own: made where there is none yet."""
    target = stretched_path(samples, pace)
    with _finding:
        own = _locks.setdefault(target, threading.Lock())
    with own:
        if target.exists():
            os.utime(target)
            return target
        unfinished = target.with_name(f".{uuid.uuid4().hex}.f32")
        try:
            with unfinished.open("wb") as out:
                for block in _through(np.memmap(samples, "<f4", "r").reshape(-1, 2), pace):
                    out.write(np.ascontiguousarray(block, "<f4").tobytes())
            put(unfinished, target)
        finally:
            unfinished.unlink(missing_ok=True)
        kept = sorted(
            target.parent.glob(f"{target.name.split('.pace-')[0]}.pace-*.f32"), key=lambda f: f.stat().st_mtime
        )
        for old in kept[:-_KEPT]:
            old.unlink(missing_ok=True)
        return target


def _paces(pace: float) -> list[float]:
    found = []
    while pace < _SLOWEST:
        found.append(_SLOWEST)
        pace /= _SLOWEST
    return [*found, pace]


def _through(samples: np.ndarray, pace: float):
    graph = av.filter.Graph()
    source = graph.add_abuffer(sample_rate=SOUND_RATE, format="flt", layout="stereo", time_base=Fraction(1, SOUND_RATE))
    nodes = [source, *(graph.add("atempo", f"{each:.9f}") for each in _paces(pace)), graph.add("abuffersink")]
    for one, other in zip(nodes, nodes[1:]):
        one.link_to(other)
    graph.configure()
    for begin in range(0, len(samples), _AT_ONCE):
        block = np.ascontiguousarray(samples[begin : begin + _AT_ONCE], np.float32)
        frame = av.AudioFrame.from_ndarray(block.reshape(1, -1), format="flt", layout="stereo")
        frame.sample_rate, frame.pts, frame.time_base = SOUND_RATE, begin, Fraction(1, SOUND_RATE)
        source.push(frame)
        yield from _pulled(graph)
    source.push(None)
    yield from _pulled(graph)


def _pulled(graph: av.filter.Graph):
    while True:
        try:
            frame = graph.pull()
        except (av.BlockingIOError, av.EOFError):
            return
        yield frame.to_ndarray().reshape(-1, 2)
