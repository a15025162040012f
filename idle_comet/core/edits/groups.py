"""Groups: clips gathered into one clip with a timeline of its own, and taken apart again."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contents.sound import cut_fades
from ..motion import Key, Property
from ..project.model import Clip, Frozen, Group, Id, Name, Project, Track, Treatment
from ..project.retiming import retiming
from ..project.timeline import groups_around, lanes, timeline_of
from ..project.times import handles_of
from ..project.validity import DEEPEST
from .base import EditError, clip_of, rule
from .clips import Clips, named
from .copies import has_room
from .lanes import with_clips
from .looks import looks_of
from .tracks import with_new_track


class GatherClips(Frozen):
    """Clips of one timeline become a group, called `group`, that lies where the topmost of them lay."""

    kind: Literal["gather_clips"] = "gather_clips"
    clips: Clips
    group: Annotated[Id, Field(max_length=56)]
    name: Name = "Group"


class TakeApart(Frozen):
    """A group's clips come back onto the timeline the group lies on, cut to what the group shows of them.

    Steps of the group go onto each of its clips, onto a treatment over them, called `clip`-steps, or away. What they do
    to the group as one they then do to each, or to all that lies below. None refuses where there are any."""

    kind: Literal["take_apart"] = "take_apart"
    clip: Id
    steps: Literal["each", "treatment", "drop"] | None = None


@rule(GatherClips)
def gather_clips(project: Project, edit: GatherClips) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    within = timeline_of(project, clips[0])
    if edit.group in project.clips:
        raise EditError(f"There is already a clip “{edit.group}”; nothing was gathered.")
    stray = next((clip for clip in clips if timeline_of(project, clip) != within), None)
    if stray is not None:
        raise EditError(f"“{stray.name}” lies on another timeline than “{clips[0].name}”; nothing was gathered.")
    if len(groups_around(project, clips[0])) + 1 >= DEEPEST:
        raise EditError(f"Groups go {DEEPEST} deep at most; nothing was gathered.")
    ids = {clip.id for clip in clips}
    _check_looks(project, ids)
    own = [lane.track for lane in reversed(lanes(project, within))]
    taken = [track for track in own if any(clip.track == track.id for clip in clips)]
    names = {track.id: f"{edit.group}-{number}" for number, track in enumerate(taken, 1)}
    clash = next((name for name in names.values() if any(track.id == name for track in project.tracks)), None)
    if clash:
        raise EditError(f"There is already a track “{clash}”; nothing was gathered.")
    head, end = min(clip.head for clip in clips), max(clip.end for clip in clips)
    inner = [
        clip.model_copy(
            update={
                "track": names[clip.track],
                "head": clip.head - head,
                "rides": clip.rides if clip.rides in ids else None,
            }
        )
        for clip in clips
    ]
    outer = [
        clip.model_copy(update={"rides": None})
        for clip in project.clips.values()
        if clip.rides in ids and clip.id not in ids
    ]
    tracks = tuple(Track(id=names[track.id], name=track.name, within=edit.group) for track in taken)
    project = with_clips(project, [*inner, *outer]).model_copy(update={"tracks": (*project.tracks, *tracks)})
    project, host = _host(project, taken[0], head, end, edit.group)
    group = Clip(id=edit.group, track=host, name=edit.name, head=head, length=end - head, content=Group())
    return with_clips(project, [group]), f"gather {named(clips)}"


def _host(project: Project, track: Track, head: int, end: int, name: str) -> tuple[Project, str]:
    """The track for a group: the one its topmost clip lay on, or a new one just above it where others lie in the
    way."""
    if has_room(project, track.id, head, end):
        return project, track.id
    new = f"{name}-lane"
    if any(each.id == new for each in project.tracks):
        raise EditError(f"There is already a track “{new}”; nothing was gathered.")
    tracks = list(project.tracks)
    tracks.insert([each.id for each in tracks].index(track.id), Track(id=new, name="Groups", within=track.within))
    return project.model_copy(update={"tracks": tuple(tracks)}), new


def _check_looks(project: Project, ids: set[str]) -> None:
    """Raises EditError where a look would lead from inside the group to the outside, or the other way."""
    for clip in project.clips.values():
        for other in looks_of(clip):
            if other in project.clips and (clip.id in ids) != (other in ids):
                raise EditError(
                    f"“{clip.name}” looks at “{project.clips[other].name}”, and only one of them would be in the "
                    f"group; "
                    "nothing was gathered. Gather both, or neither."
                )


@rule(TakeApart)
def take_apart(project: Project, edit: TakeApart) -> tuple[Project, str]:
    group = clip_of(project, edit.clip)
    if group.content.kind != "group":
        raise EditError(f"“{group.name}” is no group; nothing was changed.")
    if group.blend != "normal" or group.opening or group.closing:
        raise EditError(
            f"“{group.name}” has a blend mode or a transition of its own, which its clips can't keep; nothing was "
            f"changed. Take those off first."
        )
    own = [step for step in group.steps if step.on]
    if own and edit.steps is None:
        raise EditError(
            f"“{group.name}” has steps of its own; nothing was changed. Say what becomes of them: each of its clips "
            f"gets them, a treatment over them, or they go."
        )
    if group.content.speed != 1 or group.content.start % 1:
        raise EditError(f"“{group.name}” runs at a speed of its own; nothing was changed. Set it back to 100 % first.")
    begin = int(group.content.start)
    inner = lanes(project, group.id)
    back, gone = [], []
    for lane in inner:
        for clip in lane.clips:
            first, last = max(clip.head, begin), min(clip.end, begin + group.length)
            if first >= last:
                gone.append(clip.id)
                continue
            part = _cut_to(clip, first, last).model_copy(update={"head": group.head + first - begin})
            back.append(_stepped(part, group) if edit.steps == "each" and clip.content.kind in _PAINTED else part)
    tracks, order = [], {track.id: track for track in project.tracks}
    for track in project.tracks:
        if track.within == group.id:
            continue
        if track.id == group.track:
            # From the top down, just above where the group lay.
            tracks += [order[lane.track.id].model_copy(update={"within": track.within}) for lane in reversed(inner)]
        tracks.append(track)
    after = with_clips(project, back, [group.id, *gone]).model_copy(update={"tracks": tuple(tracks)})
    if own and edit.steps == "treatment":
        after = _treated(after, group, timeline_of(project, group))
    return after, f"take apart {group.name}"


_PAINTED = ("text", "shape", "footage", "still", "plain", "generated", "model", "group")


def _stepped(clip: Clip, group: Clip) -> Clip:
    """A clip of a group with the group's steps after its own, at the same frames of the film. What a motor drives goes
    by the clip's own time."""
    late, early = clip.head - group.head, group.end - clip.end

    def shifted(prop: Property) -> Property:
        if prop.state != "moving":
            return prop
        keys = (_at_same_frame(key, clip, group, late, early) for key in prop.keys)
        return prop.model_copy(update={"keys": tuple(keys)})

    def all_of(values: dict[str, Property]) -> dict[str, Property]:
        return {name: shifted(prop) for name, prop in values.items()}

    ids: dict[str | None, str] = {}
    taken = {step.id for step in clip.steps}
    for step in group.steps:
        ids[step.id] = next(name for n in range(300) if (name := f"{step.id[:50]}-g{n}" if n else step.id) not in taken)
        taken.add(ids[step.id])
    made = [
        step.model_copy(
            update={
                "id": ids[step.id],
                "values": all_of(step.values),
                "mix": shifted(step.mix),
                "masks": tuple(mask.model_copy(update={"values": all_of(mask.values)}) for mask in step.masks),
                "masked_from": ids.get(step.masked_from),
                "since": max(0, step.since - late + clip.skipped - group.skipped) if step.since else 0,
                "until": max(0, step.until - early + clip.cut_off - group.cut_off) if step.until else 0,
            }
        )
        for step in group.steps
    ]
    if len(clip.steps) + len(made) > 100:
        raise EditError(f"“{clip.name}” would have more than 100 steps; nothing was changed.")
    return clip.model_copy(update={"steps": (*clip.steps, *made)})


def _at_same_frame(key: Key, clip: Clip, group: Clip, late: int, early: int) -> Key:
    """A key of a group's step for a clip of it, at the same frame of the film."""
    if key.counts_from == "head":
        return key.model_copy(update={"at": key.at - late + clip.skipped - group.skipped})
    if key.counts_from == "tail":
        return key.model_copy(update={"at": key.at + early - clip.cut_off + group.cut_off})
    whole = group.skipped + group.length + group.cut_off - 1
    return key.model_copy(update={"counts_from": "head", "at": key.at * whole - group.skipped - late + clip.skipped})


def _treated(project: Project, group: Clip, within: str | None) -> Project:
    """A treatment with a group's steps over all that lies on its timeline, as long as it lasted."""
    id = f"{group.id[:58]}-steps"
    if id in project.clips:
        raise EditError(f"There is already a clip “{id}”; nothing was changed.")
    fields = {"id": id, "name": f"Steps of {group.name}"[:60], "content": Treatment(), "rides": None}
    own = group.model_copy(update=fields)
    at = next(place for place, track in enumerate(project.tracks) if track.within == within)
    project, track = with_new_track(project, False, at, within, like="Treatments")
    return with_clips(project, [own.model_copy(update={"track": track})])


def _cut_to(clip: Clip, first: int, last: int) -> Clip:
    """A clip as far as it lies between two frames; its motion goes on as it was."""
    before, after = first - clip.head, clip.end - last
    if before == after == 0:
        return clip
    content = clip.content
    if before and content.kind in ("footage", "sound", "group"):
        content = content.model_copy(update={"start": max(0.0, float(retiming(clip).exact(before)))})
    if content.kind == "sound":
        content = cut_fades(content, before, after)
    return clip.model_copy(
        update={
            "head": first,
            "length": last - first,
            "content": content,
            "skipped": clip.skipped + before,
            "cut_off": clip.cut_off + after,
            "handles": handles_of(clip),
            "opening": None if before else clip.opening,
            "closing": None if after else clip.closing,
        }
    )
