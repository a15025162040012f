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
    found: dict[MotionHit, float] = {}
    came = _hits(course, 0.0, float(arrival))
    if came:
        found["fastest"], found["landed"] = came
    went = _hits(course, float(clip.length - 1 - departure), float(clip.length - 1))
    if went:
        found["leaving"], found["gone"] = went
    return found


def _hits(course: ClipCourse, first: float, last: float) -> tuple[float, float] | None:
    """The fastest moment and the end of what moves between two frames; None where nothing does."""
    if last - first < 1:
        return None
    at = np.arange(first, last + _STEP / 2, _STEP)
    lines = [course.presence]
    for curve in course.curves:
        if curve.state == "moving" and curve.points:
            lines += curve.fan or [curve.points]
    motion = np.zeros(len(at) - 1)
    for line in lines:
        if len(line) < 2:
            continue
        frames, values = np.array(line, float).T
        ways = np.abs(np.diff(np.interp(at, frames, values)))
        if ways.sum() > 1e-6:
            motion += ways / ways.sum()
    if motion.sum() <= 0:
        return None
    # What was drawn at few moments has corners: the fastest is the middle of what is nearly as fast.
    smooth = np.convolve(motion, np.hanning(13)[1:-1] / np.hanning(13).sum(), mode="same")
    fastest = at[:-1][smooth >= 0.98 * smooth.max()].mean() + _STEP / 2
    travelled = np.cumsum(motion) / motion.sum()
    ended = at[1:][np.searchsorted(travelled, 1 - _STILL)]
    return float(fastest), float(ended)
