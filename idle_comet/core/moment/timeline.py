"""Which clips are where: an index of the document by track and time."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from typing import NamedTuple

from ..project.model import Clip, Project, Track


class Lane(NamedTuple):
    """A track's clips in order of time."""

    track: Track
    heads: list[int]
    clips: list[Clip]


class _Index(NamedTuple):
    """Per track, from the bottom up; `alone` says whether any clip is to be seen alone."""

    clips: dict[str, Clip]
    tracks: tuple
    lanes: dict[str, Lane]
    alone: bool


_indices: dict[int, _Index] = {}


def _index(project: Project) -> _Index:
    """Clips by track and head. A document's clips never change, so the index is kept by their identity."""
    known = _indices.get(id(project.clips))
    if known and known.clips is project.clips and known.tracks is project.tracks:
        return known
    gathered: dict[str, list[Clip]] = {track.id: [] for track in reversed(project.tracks)}
    alone = False
    for clip in project.clips.values():
        alone = alone or clip.seen == "alone"
        if clip.track in gathered:
            gathered[clip.track].append(clip)
    tracks = {track.id: track for track in project.tracks}
    lanes = {}
    for id_, clips in gathered.items():
        clips.sort(key=lambda clip: clip.head)
        lanes[id_] = Lane(tracks[id_], [clip.head for clip in clips], clips)
    while len(_indices) >= 8:
        _indices.pop(next(iter(_indices)))
    _indices[id(project.clips)] = index = _Index(project.clips, project.tracks, lanes, alone)
    return index


def lanes(project: Project) -> list[Lane]:
    """All tracks with their clips, from the bottom of the picture up."""
    return list(_index(project).lanes.values())


def is_seen(project: Project, clip: Clip) -> bool:
    """Whether a clip shows at all: not hidden, nor its track, nor outdone by clips that are to be seen alone."""
    index = _index(project)
    lane = index.lanes.get(clip.track)
    if clip.seen == "hidden" or lane is None or lane.track.hidden:
        return False
    return clip.seen == "alone" or not index.alone


def live_clips(project: Project, frame: float) -> list[Clip]:
    """The clips on screen at a frame, from the bottom track up."""
    live = []
    for lane in _index(project).lanes.values():
        place = bisect_right(lane.heads, frame) - 1
        if place >= 0 and frame < lane.clips[place].end and is_seen(project, lane.clips[place]):
            live.append(lane.clips[place])
    return live


def neighbour(project: Project, clip: Clip, side: int) -> Clip | None:
    """The clip that touches this one before its head (side −1) or after its end (side 1), if it is seen."""
    lane = _index(project).lanes.get(clip.track)
    if lane is None:
        return None
    place = bisect_left(lane.heads, clip.head) + side
    if not 0 <= place < len(lane.clips):
        return None
    other = lane.clips[place]
    touches = other.end == clip.head if side < 0 else other.head == clip.end
    return other if touches and is_seen(project, other) else None


def film_length(project: Project) -> int:
    """Frames from the start to the last clip's end."""
    return max((lane.clips[-1].end for lane in _index(project).lanes.values() if lane.clips), default=0)
