"""Cutting: split, slip, longer and shorter, speed, and another source in place of a shot."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contents.sound import cut_fades
from ..motion import Fixed
from ..project.model import MAX_FRAMES, Clip, Footage, Frames, Frozen, Group, Id, Project, Sound
from ..project.retiming import exact, retiming
from ..project.source import source_length, spare_frames
from ..project.times import handles_of
from .base import EditError, clip_of, rule, with_clip
from .clips import Clips, check_source, named, said_as_before, trimmed_to
from .copies import with_room
from .insides import with_insides
from .lanes import settled, with_clips
from .points import moved_to


class SplitClips(Frozen):
    """Cut clips in two at a frame of the film; the new halves are called `seed`-1, `seed`-2 and so on.

    Both halves go on showing the motion of the whole.
    """

    kind: Literal["split_clips"] = "split_clips"
    clips: Clips
    frame: Frames
    seed: Annotated[Id, Field(max_length=56)]


class MakeWhole(Frozen):
    """A half of a cut clip gets an arrival and a departure of its own again."""

    kind: Literal["make_whole"] = "make_whole"
    clips: Clips


class SlipClip(Frozen):
    """Show footage from another source frame on; its place on the timeline stays."""

    kind: Literal["slip_clip"] = "slip_clip"
    clip: Id
    start: Annotated[float, Field(ge=0, le=MAX_FRAMES)]


class StretchClips(Frozen):
    """All longer by so many frames, or shorter below 0. Arrivals and departures keep their frames.

    On each track what touched still touches, and what would be grown over is pushed on.
    """

    kind: Literal["stretch_clips"] = "stretch_clips"
    clips: Clips
    by: int = Field(ge=-MAX_FRAMES, le=MAX_FRAMES)


class SetSpeed(Frozen):
    """Source frames a frame, of footage or of a group: 0 is a freeze of the frame shown at `frame`, below 0 backwards.

    Keeping the `part`, the clip's length changes so that it shows the same source frames.
    """

    kind: Literal["set_speed"] = "set_speed"
    clip: Id
    speed: Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)]
    keep: Literal["part", "length"] = "part"
    frame: Frames = 0
    part: Annotated[float, Field(gt=0, le=MAX_FRAMES, allow_inf_nan=False)] | None = None
    """How many source frames to keep showing, where that is not what the clip shows now: a drag through many speeds
    keeps its first."""


class SetBetween(Frozen):
    """What shots show at a moment between two of their source frames: the one that has begun, or both by their
    shares."""

    kind: Literal["set_between"] = "set_between"
    clips: Clips
    between: Literal["nearest", "mixed"]


class ReplaceShot(Frozen):
    """Another source in a shot's place, such as a new cut of it.

    `later` is by how many frames the same moment comes later in the new source: what rides with the shot follows.
    """

    kind: Literal["replace_shot"] = "replace_shot"
    clip: Id
    media: Id
    later: int = Field(default=0, ge=-MAX_FRAMES, le=MAX_FRAMES)


@rule(SplitClips)
def split_clips(project: Project, edit: SplitClips) -> tuple[Project, str]:
    changed: list[Clip] = []
    cut = [
        clip for clip in (clip_of(project, id) for id in dict.fromkeys(edit.clips)) if clip.head < edit.frame < clip.end
    ]
    if not cut:
        raise EditError("None of these clips lies across that frame; nothing was cut.")
    for number, clip in enumerate(cut, 1):
        first, id = edit.frame - clip.head, f"{edit.seed}-{number}"
        if id in project.clips:
            raise EditError(f"There is already a clip “{id}”; nothing was cut.")
        content = former = clip.content
        if isinstance(content, (Footage, Sound, Group)):
            content = content.model_copy(update={"start": max(0.0, float(retiming(clip).exact(first)))})
        if isinstance(content, Sound) and isinstance(former, Sound):
            content, former = cut_fades(content, first, 0), cut_fades(former, 0, clip.length - first)
        cut_off = clip.cut_off + clip.length - first
        handles = handles_of(clip)
        changed.append(
            clip.model_copy(
                update={"length": first, "cut_off": cut_off, "handles": handles, "content": former, "closing": None}
            )
        )
        changed.append(
            clip.model_copy(
                update={
                    "id": id,
                    "head": edit.frame,
                    "length": clip.length - first,
                    "skipped": clip.skipped + first,
                    "handles": handles,
                    "content": content,
                    "opening": None,
                }
            )
        )
    project = with_clips(project, changed)
    for number, clip in enumerate(cut, 1):
        if clip.content.kind == "group":
            project = with_insides(project, clip.id, f"{edit.seed}-{number}")
    return project, f"cut {named(cut)}"


@rule(MakeWhole)
def make_whole(project: Project, edit: MakeWhole) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in edit.clips]
    return with_clips(
        project,
        [
            said_as_before(project, clip, clip.model_copy(update={"skipped": 0, "cut_off": 0, "handles": (0, 0)}))
            for clip in clips
        ],
    ), f"make {named(clips)} whole"


@rule(SlipClip)
def slip_clip(project: Project, edit: SlipClip) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if not isinstance(clip.content, (Footage, Sound)):
        raise EditError(f"“{clip.name}” shows {clip.content.kind}; only footage and sounds have other moments.")
    last = source_length(project, clip.content) - 1
    slipped = clip.model_copy(update={"content": clip.content.model_copy(update={"start": edit.start})})
    low, high = retiming(slipped).reach(0, clip.length - 1)
    if clip.content.media in project.media and not (0 <= low and high <= last):
        raise EditError(
            f"“{clip.name}” has {last + 1} source frames; from {edit.start:g} on there are not enough for "
            f"{clip.length}. It is as it was."
        )
    return with_clip(project, slipped), f"slip {clip.name}"


@rule(StretchClips)
def stretch_clips(project: Project, edit: StretchClips) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    short = (
        [clip for clip in clips if clip.length + edit.by < max(1, clip.arrival + clip.departure)] if edit.by < 0 else []
    )
    if short:
        clip = min(short, key=lambda each: each.length - each.arrival - each.departure)
        most = max(0, clip.length - max(1, clip.arrival + clip.departure))
        raise EditError(
            f"“{clip.name}” can be {most} frames shorter before its arrival and departure would be cut into; "
            f"nothing was changed. "
            "Take less, or make its arrival shorter first."
        )
    lengths = {}
    for clip in clips:
        lengths[clip.id] = trimmed_to(project, clip, clip.head, min(MAX_FRAMES, clip.length + edit.by))
    way = f"{abs(edit.by)} frames {'longer' if edit.by > 0 else 'shorter'}"
    return settled(project, lengths), f"{named(clips)} {way}"


@rule(SetSpeed)
def set_speed(project: Project, edit: SetSpeed) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    content = clip.content
    if not isinstance(content, (Footage, Group, Sound)):
        raise EditError(f"“{clip.name}” shows {content.kind}; only footage, sounds and groups run at a speed.")
    if isinstance(content, Sound) and not 0.1 <= edit.speed <= 10:
        raise EditError(f"A sound runs at 10 % to 1000 %; {100 * edit.speed:g} % was not taken.")
    way, new = retiming(clip), exact(edit.speed)
    shown = way.exact(clip.length) - way.exact(0)
    start, length = content.start, clip.length

    def at_speed(start: float, length: int) -> Clip:
        given = float(new) if isinstance(content, Group) else Fixed(value=float(new))
        return clip.model_copy(
            update={"length": length, "content": content.model_copy(update={"start": start, "speed": given})}
        )

    if new == 0:
        start = max(0.0, float(way.exact(min(edit.frame, clip.length - 1))))
    elif shown:
        if shown * new < 0:
            start = max(0.0, float(way.exact(clip.length - 1)))
        if edit.keep == "part":
            length = max(1, int((edit.part or abs(shown)) / abs(new) + 0.5))
        spare = spare_frames(project, at_speed(start, 1))
        length = min(length, spare[1] + 1) if spare else length
    now = at_speed(start, min(length, MAX_FRAMES))
    label = f"freeze {clip.name}" if new == 0 else f"{clip.name} at {100 * float(new):g} %"
    return settled(project, {clip.id: now}), label


@rule(SetBetween)
def set_between(project: Project, edit: SetBetween) -> tuple[Project, str]:
    shots = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    other = next((clip for clip in shots if not isinstance(clip.content, Footage)), None)
    if other is not None:
        raise EditError(f"“{other.name}” shows {other.content.kind}; only footage has source frames to mix.")
    contents = [shot.content.model_copy(update={"between": edit.between}) for shot in shots]
    now = [shot.model_copy(update={"content": content}) for shot, content in zip(shots, contents)]
    return with_clips(project, now), f"{edit.between} frames of {named(shots)}"


@rule(ReplaceShot)
def replace_shot(project: Project, edit: ReplaceShot) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    media = project.media.get(edit.media)
    if clip.content.kind != "footage":
        raise EditError(f"“{clip.name}” shows {clip.content.kind}; only a shot can be replaced by another.")
    if media is None or media.kind != "video":
        raise EditError(f"“{edit.media}” is no shot of this project; nothing was changed.")
    points = moved_to(clip.content.points, project.media.get(clip.content.media), media, edit.later, project)
    content = clip.content.model_copy(update={"media": media.id, "points": points})
    now = clip.model_copy(update={"content": content, "name": media.name})
    check_source(project, now)
    length = source_length(project, content)
    speed = retiming(now).fixed
    if speed is not None and speed > 0:
        most = int((length - 1 - content.start) / speed) + 1
        if most < 1:
            raise EditError(
                f"“{media.name}” has only {length} frames; “{clip.name}” begins at {content.start:g}. Slip it first."
            )
        now = now.model_copy(update={"length": min(clip.length, most)})
    after = with_clip(project, now)
    moved = [
        rider.model_copy(update={"head": max(0, rider.head + edit.later)})
        for rider in project.clips.values()
        if rider.rides == clip.id and edit.later
    ]
    return with_room(after, moved), f"put {media.name} in place of {clip.name}"
