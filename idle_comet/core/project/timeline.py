"""Which clips are where: an index of the document by track and time."""

from __future__ import annotations

import threading
from bisect import bisect_left, bisect_right
from itertools import compress, pairwise
from operator import attrgetter
from typing import Iterable, Literal, NamedTuple

from .difference import replaced
from .model import Clip, Project, Track


class Lane(NamedTuple):
    """A track's clips in order of time."""

    track: Track
    heads: list[int]
    clips: list[Clip]


class _Timeline(NamedTuple):
    """The film's own timeline or a group's: its lanes from the bottom of the picture up, and whether any of its clips
    is to be seen alone."""

    lanes: dict[str, Lane]
    alone: bool


class _Index(NamedTuple):
    """Of one document: its timelines by the group they belong to, and of each track the timeline it is on."""

    clips: dict[str, Clip]
    tracks: tuple[Track, ...]
    timelines: dict[str | None, _Timeline]
    within: dict[str, str | None]
    alone: frozenset[str]
    """Tracks with a clip that is solo."""


_PLACE = attrgetter("head", "id")
_indices: dict[int, _Index] = {}
_lock = threading.Lock()
_EMPTY = _Timeline({}, False)


def _index(project: Project) -> _Index:
    """Clips by track and head. A document's clips never change, so the index is kept by their identity; that of one
    that differs by a few clips from another is made from the other's."""
    known = _indices.get(id(project.clips))
    if known and known.clips is project.clips and known.tracks is project.tracks:
        return known
    # Several threads of a server ask at once.
    with _lock:
        kept = list(_indices.values())
    near = next((each for each in reversed(kept) if each.tracks is project.tracks), None)
    index = (near and _from_near(near, project)) or _from_all(project)
    with _lock:
        while len(_indices) >= 8:
            _indices.pop(next(iter(_indices)))
        _indices[id(project.clips)] = index
    return index


def _from_all(project: Project) -> _Index:
    gathered: dict[str, list[Clip]] = {track.id: [] for track in project.tracks}
    alone: set[str] = set()
    for clip in project.clips.values():
        found = gathered.get(clip.track)
        if found is not None:
            found.append(clip)
            if _seen_alone(clip):
                alone.add(clip.track)
    lanes = {track.id: _lane(track, gathered[track.id]) for track in project.tracks}
    return _of_lanes(project, lanes, frozenset(alone))


_FEW = 64
"""Clips up to which an index is made from another."""


def _from_near(near: _Index, project: Project) -> _Index | None:
    """The index of a document on the same tracks, most of whose clips are the same objects; None where too many are
    not."""
    old, new = near.clips, project.clips
    others = replaced(old, new)
    if others is not None:
        gone, put = [before for _, before, _ in others], [after for _, _, after in others]
    else:
        put = [clip for id, clip in new.items() if old.get(id) is not clip]
        gone = [clip for id, clip in old.items() if new.get(id) is not clip]
    if len(put) + len(gone) > _FEW:
        return None
    lanes = {track: lane for timeline in near.timelines.values() for track, lane in timeline.lanes.items()}
    alone = set(near.alone)
    left = {id(clip) for clip in gone}
    for track in {clip.track for clip in (*put, *gone)} & lanes.keys():
        lane = lanes[track]
        lanes[track] = _shifted(
            lane, [clip for clip in gone if clip.track == track], [clip for clip in put if clip.track == track]
        )
        others_alone = track in alone and any(
            map(_seen_alone, compress(lane.clips, (id(clip) not in left for clip in lane.clips)))
        )
        alone.discard(track)
        if others_alone or any(_seen_alone(clip) for clip in put if clip.track == track):
            alone.add(track)
    return _of_lanes(project, lanes, frozenset(alone))


def _seen_alone(clip: Clip) -> bool:
    return clip.seen == "alone" and clip.content.kind not in UNSEEN


def _shifted(lane: Lane, gone: list[Clip], put: list[Clip]) -> Lane:
    """A lane without some clips and with others. Of thousands that stay none is looked at."""
    heads, clips = lane.heads.copy(), lane.clips.copy()
    for clip in gone:
        at = bisect_left(heads, clip.head)
        while clips[at] is not clip:
            at += 1
        del heads[at], clips[at]
    for clip in put:
        at = bisect_left(heads, clip.head)
        # Of several with one head (which only a document that does not hold has) the id decides.
        while at < len(clips) and _PLACE(clips[at]) < _PLACE(clip):
            at += 1
        heads.insert(at, clip.head)
        clips.insert(at, clip)
    return Lane(lane.track, heads, clips)


def _lane(track: Track, clips: list[Clip]) -> Lane:
    ordered = sorted(clips, key=_PLACE)
    return Lane(track, [clip.head for clip in ordered], ordered)


def _of_lanes(project: Project, lanes: dict[str, Lane], alone: frozenset[str]) -> _Index:
    found: dict[str | None, dict[str, Lane]] = {None: {}}
    for track in reversed(project.tracks):
        found.setdefault(track.within, {})[track.id] = lanes[track.id]
    timelines = {within: _Timeline(own, not alone.isdisjoint(own)) for within, own in found.items()}
    within = {track.id: track.within for track in project.tracks}
    return _Index(project.clips, project.tracks, timelines, within, alone)


def lanes(project: Project, within: str | None = None) -> list[Lane]:
    """The tracks of a timeline with their clips, from the bottom of the picture up: of a group, or of the film
    itself."""
    return list(_index(project).timelines.get(within, _EMPTY).lanes.values())


def timeline_of(project: Project, clip: Clip) -> str | None:
    """The group whose timeline a clip lies on; None for the film's own."""
    return _index(project).within.get(clip.track)


def groups_around(project: Project, clip: Clip) -> list[Clip]:
    """The groups a clip is in, from the innermost outwards. One that would hold itself ends the row."""
    found: list[Clip] = []
    while (
        (within := timeline_of(project, clip)) is not None
        and within in project.clips
        and project.clips[within] not in found
    ):
        clip = project.clips[within]
        found.append(clip)
    return found


def own_frame(project: Project, clip: Clip, frame: float) -> float:
    """A frame of the film on the timeline that a clip lies on: of a group, or the film's own."""
    for group in reversed(groups_around(project, clip)):
        if group.content.kind == "group":
            frame = group.content.start + (frame - group.head) * group.content.speed
    return frame


def is_seen(project: Project, clip: Clip) -> bool:
    """Whether a clip shows at all: not hidden, nor its track, nor outdone by clips that are solo."""
    index = _index(project)
    timeline = index.timelines.get(index.within.get(clip.track), _EMPTY)
    lane = timeline.lanes.get(clip.track)
    if clip.seen == "hidden" or lane is None or lane.track.hidden:
        return False
    return clip.seen == "alone" or not timeline.alone


Side = Literal["front", "back", "edge"]
"""From where a group is seen; of one that is edge-on neither side is."""


UNSEEN = ("sound", "camera", "light")
"""Contents that show nothing themselves."""


def has_sides(project: Project, group: str) -> bool:
    """Whether some of a group's tracks are seen from one side only."""
    return any(lane.track.side for lane in _index(project).timelines.get(group, _EMPTY).lanes.values())


def live_clips(project: Project, frame: float, within: str | None = None, side: Side = "front") -> list[Clip]:
    """The clips on screen at a frame of a timeline seen from a side, from the bottom track up."""
    live = []
    for lane in _index(project).timelines.get(within, _EMPTY).lanes.values():
        if lane.track.side not in (None, side):
            continue
        place = bisect_right(lane.heads, frame) - 1
        if place < 0 or frame >= lane.clips[place].end or lane.clips[place].content.kind in UNSEEN:
            continue
        if is_seen(project, lane.clips[place]):
            live.append(lane.clips[place])
    return live


def part_at(project: Project, clip: Clip, frame: float) -> Clip:
    """Of a clip that was cut the part that lies at a frame of its timeline, where those between still touch; the clip
    itself where none does."""
    if clip.head <= frame < clip.end or not (clip.skipped or clip.cut_off):
        return clip
    lane = _index(project).timelines.get(timeline_of(project, clip), _EMPTY).lanes.get(clip.track)
    if lane is None:
        return clip
    place, way, part = bisect_left(lane.heads, clip.head), 1 if frame >= clip.end else -1, clip
    while not part.head <= frame < part.end:
        place += way
        other = lane.clips[place] if 0 <= place < len(lane.clips) else None
        touches = other is not None and (part.end == other.head if way > 0 else other.end == part.head)
        if other is None or not touches or _whole_span(other) != _whole_span(clip):
            return clip
        part = other
    return part


def _whole_span(clip: Clip) -> tuple[int, int, str]:
    """From where to where the whole motion of a clip goes, and what it shows."""
    return clip.head - clip.skipped, clip.end + clip.cut_off, clip.content.kind


def neighbour(project: Project, clip: Clip, side: int) -> Clip | None:
    """The clip that touches this one before its head (side −1) or after its end (side 1), if it is seen."""
    index = _index(project)
    lane = index.timelines.get(index.within.get(clip.track), _EMPTY).lanes.get(clip.track)
    if lane is None:
        return None
    place = bisect_left(lane.heads, clip.head) + side
    if not 0 <= place < len(lane.clips):
        return None
    other = lane.clips[place]
    touches = other.end == clip.head if side < 0 else other.head == clip.end
    return other if touches and is_seen(project, other) else None


def overlap(project: Project, ids: Iterable[str]) -> tuple[Clip, Clip] | None:
    """Two clips of which one lies over the other, in order of time, where one of them is of these ids. All tracks are
    there."""
    index = _index(project)
    for id in ids:
        clip = project.clips[id]
        lane = index.timelines[index.within[clip.track]].lanes[clip.track]
        at = bisect_left(lane.heads, clip.head)
        # What nobody changed lies as it lay: only what is beside a changed clip can be over it.
        for one, other in pairwise(lane.clips[max(0, at - 1) : at + 2]):
            if one.end > other.head:
                return one, other
    return None


def film_length(project: Project, within: str | None = None) -> int:
    """Frames from the start of a timeline to its last clip's end."""
    return max((lane.clips[-1].end for lane in lanes(project, within) if lane.clips), default=0)
