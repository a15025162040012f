"""The hits a motion makes: where it is fastest, where it has landed, where it leaves, where it is gone."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..project.model import Clip, Project
from .course import ClipCourse, course_of, visible_spans

MotionHit = Literal["fastest", "landed", "leaving", "gone"]
"""Fastest and landed are of the arrival; leaving is where the departure is fastest, gone where it has ended."""

_STEP = 0.1
"""Frames between two moments that are looked at."""

_STILL = 0.02
"""Share of a motion that counts for nothing at its end."""


def motion_hits(project: Project, clip: Clip) -> dict[MotionHit, float]:
    """The hits of a clip's motion, in frames from its head; one that has no arrival or departure has none of it.

    All that moves counts alike: of every curve the share of its whole way that is travelled at a moment, and of the
    words the share of their ink that appears or goes.
    """
    course = course_of(project, clip)
    arrival, departure = visible_spans(clip)
    last = float(clip.length - 1)
    runs = _runs(course, last)
    came = _hits(course, 0.0, float(arrival))
    if came is None:
        # What was set by keys lands where it comes to rest, wherever that is.
        came = next((_hits(course, *run) for run in runs if run[1] < last - 1), None)
    went = _hits(course, last - departure, last)
    if went is None:
        went = next((_hits(course, *run) for run in reversed(runs[1:]) if run[0] > 1), None)
    found: dict[MotionHit, float] = {}
    if came:
        found["fastest"], found["landed"] = came
    if went:
        found["leaving"], found["gone"] = went
    return found


_APART = 3.0
"""Frames of rest from which on one motion has ended and another one begins."""


def _runs(course: ClipCourse, last: float) -> list[tuple[float, float]]:
    """From where to where something moves, in frames from the head, in order."""
    moves, at = _motion(course, 0.0, last)
    runs: list[tuple[float, float]] = []
    for begin in at[:-1][moves > 0]:
        if runs and begin - runs[-1][1] < _APART:
            runs[-1] = runs[-1][0], float(begin + _STEP)
        else:
            runs.append((float(begin), float(begin + _STEP)))
    return runs


def _motion(course: ClipCourse, first: float, last: float) -> tuple[np.ndarray, np.ndarray]:
    """How much moves in each step between two frames, as shares of the ways of all that moves, and the frames between
    which the steps lie, one more."""
    at = np.arange(first, last + _STEP / 2, _STEP)
    lines = [course.presence]
    for curve in course.curves:
        if curve.state == "moving" and curve.points:
            lines += curve.fan or [curve.points]
    motion = np.zeros(max(0, len(at) - 1))
    for line in lines:
        if len(line) < 2:
            continue
        frames, values = np.array(line, float).T
        ways = np.abs(np.diff(np.interp(at, frames, values)))
        if ways.sum() > 1e-6:
            motion += np.where(ways > 1e-9 * ways.sum(), ways, 0) / ways.sum()
    return motion, at


def _hits(course: ClipCourse, first: float, last: float) -> tuple[float, float] | None:
    """The fastest moment and the end of what moves between two frames; None where nothing does."""
    if last - first < 1:
        return None
    motion, at = _motion(course, first, last)
    if motion.sum() <= 0:
        return None
    # What was drawn at few moments has corners: the fastest is the middle of what is nearly as fast.
    smooth = np.convolve(motion, np.hanning(13)[1:-1] / np.hanning(13).sum(), mode="same")
    fastest = at[:-1][smooth >= 0.98 * smooth.max()].mean() + _STEP / 2
    travelled = np.cumsum(motion) / motion.sum()
    ended = at[1:][np.searchsorted(travelled, 1 - _STILL)]
    return float(fastest), float(ended)
