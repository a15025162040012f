"""Where the hits of a sound lie on its clip's timeline."""

from __future__ import annotations

import math

from .model import Clip, Project, Sound
from .retiming import retiming


def hit_frames(project: Project, clip: Clip) -> list[float]:
    """The frames of the timeline a sound lies on at which its hits are heard, fractions and all, in order; those it
    does not play are left out."""
    content = clip.content
    if not isinstance(content, Sound):
        return []
    rate = float(project.settings.rate.fraction)
    way = retiming(clip)
    places = (way.when(hit.at * rate) for hit in content.hits)
    return [clip.head + place for place in places if place is not None and -1e-6 <= place < clip.length]


def frame_of(place: float) -> int:
    """The frame in which a moment lies: the one that is shown when it is heard."""
    return math.floor(place + 1e-6)
