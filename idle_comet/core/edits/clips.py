"""Placing clips on tracks: add, remove, move, trim."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contents.sound import cut_fades
from ..moment.meeting import pull
from ..motion import resolve_keys
from ..picture import Mode
from ..project.model import MAX_FRAMES, Clip, Footage, Frames, Frozen, Id, Project, Sound
from ..project.retiming import retiming
from ..project.source import source_length
from .base import EditError, changed, clip_of, clock_of, rule, with_clip
from .lanes import check_room, shift_after, with_clips
from .tracks import without_bare

Clips = Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]
Reach = Annotated[float, Field(ge=0, le=10_000)]


class AddClip(Frozen):
    kind: Literal["add_clip"] = "add_clip"
    clip: Clip


class RemoveClips(Frozen):
    """Take clips away; with `close` what follows on their tracks moves up. A track that was made for them goes with the
    last of them."""

    kind: Literal["remove_clips"] = "remove_clips"
    clips: Clips
    close: bool = False


class MoveClips(Frozen):
    """New heads, and other tracks where they are named.

    With `snap`, all are drawn together so that one end comes onto a head, tail, marker, key,
    word's onset or the playhead that lies no more than so many frames away.
    """

    kind: Literal["move_clips"] = "move_clips"
    heads: Annotated[dict[Id, Frames], Field(min_length=1, max_length=5000)]
    tracks: dict[Id, Id] = {}
    snap: Reach = 0
    playhead: Frames | None = None


class TrimClip(Frozen):
    """New ends. Trimming the head of footage shows it from a later source frame.

    With `ripple` what follows on the track keeps its distance to the clip's end, and a head
    that is trimmed stays at its frame.
    """

    kind: Literal["trim_clip"] = "trim_clip"
    clip: Id
    head: Frames
    length: int = Field(ge=1, le=MAX_FRAMES)
    ripple: bool = False
    snap: Reach = 0
    playhead: Frames | None = None


class ChangeFit(Frozen):
    """How a picture meets the frame."""

    kind: Literal["change_fit"] = "change_fit"
    clip: Id
    fit: Literal["fill", "fit", "own"]


class SetBlend(Frozen):
    """How clips are blended with what lies below them."""

    kind: Literal["set_blend"] = "set_blend"
    clips: Clips
    mode: Mode


class SetSeen(Frozen):
    """Whether clips are visible, hidden, or solo."""

    kind: Literal["set_seen"] = "set_seen"
    clips: Clips
    seen: Literal["shown", "hidden", "alone"]


def named(clips: list[Clip]) -> str:
    return clips[0].name if len(clips) == 1 else f"{len(clips)} clips"


def check_source(project: Project, clip: Clip) -> None:
    if isinstance(clip.content, Sound) and clip.content.media not in project.media:
        raise EditError(f"The sound “{clip.content.media}” is not in this project; nothing was changed.")
    if clip.content.kind in ("footage", "still") and clip.content.media not in project.media:
        raise EditError(f"The picture “{clip.content.media}” is not in this project; nothing was changed.")


@rule(AddClip)
def add_clip(project: Project, edit: AddClip) -> tuple[Project, str]:
    if edit.clip.id in project.clips:
        raise EditError(f"There is already a clip “{edit.clip.id}”; nothing was added.")
    check_source(project, edit.clip)
    after = with_clip(project, edit.clip)
    check_room(after, [edit.clip.id])
    return after, f"add {edit.clip.name}"


@rule(RemoveClips)
def remove_clips(project: Project, edit: RemoveClips) -> tuple[Project, str]:
    gone = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    after = with_clips(project, (), [clip.id for clip in gone])
    if edit.close:
        # From the last on, so that each gap closes by its own length.
        for clip in sorted(gone, key=lambda clip: -clip.head):
            after = with_clips(after, shift_after(after, clip.track, clip.end, -clip.length))
    return without_bare(
        after, {clip.track for clip in gone}
    ), f"remove {named(gone)}{' and close the gap' if edit.close else ''}"


@rule(MoveClips)
def move_clips(project: Project, edit: MoveClips) -> tuple[Project, str]:
    moved = [
        clip_of(project, id).model_copy(update={"head": head, "track": edit.tracks.get(id, clip_of(project, id).track)})
        for id, head in edit.heads.items()
    ]
    if edit.snap:
        edges = [edge for clip in moved for edge in (clip.head, clip.end)]
        by = pull(project, edges, set(edit.heads), edit.snap, edit.playhead)
        if min(clip.head for clip in moved) + by >= 0:
            moved = [clip.model_copy(update={"head": clip.head + by}) for clip in moved]
    after = with_clips(project, moved)
    check_room(after, edit.heads)
    return after, f"move {named(moved)}"


@rule(TrimClip)
def trim_clip(project: Project, edit: TrimClip) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    head, end = edit.head, edit.head + edit.length
    if edit.snap:
        which = "head" if edit.head != clip.head else "tail"
        by = pull(project, [head if which == "head" else end], {clip.id}, edit.snap, edit.playhead)
        head, end = (head + by, end) if which == "head" else (head, end + by)
    if not 0 <= head < end:
        raise EditError(f"“{clip.name}” would have no frame left; it is as it was.")
    trimmed = trimmed_to(project, clip, head, end - head)
    if not edit.ripple:
        after = with_clip(project, trimmed)
        check_room(after, [clip.id])
        return after, f"trim {clip.name} to {trimmed.length} frames"
    grown = trimmed.length - clip.length
    trimmed = trimmed.model_copy(update={"head": clip.head})
    after = with_clips(project, [trimmed, *shift_after(project, clip.track, clip.end, grown, [clip.id])])
    check_room(after, [clip.id])
    return after, f"trim {clip.name} to {trimmed.length} frames and move the rest"


def trimmed_to(project: Project, clip: Clip, head: int, length: int) -> Clip:
    """The clip with these ends; footage must have the frames for it."""
    content = clip.content
    by, back = head - clip.head, clip.end - (head + length)
    # A cut end that is trimmed shows more or less of the same motion: nothing moves against the film. A speed that
    # moves belongs to what is shown: its clip shows more or less of it, too.
    retimed = isinstance(content, (Footage, Sound)) and retiming(clip).fixed is None
    skipped = max(0, clip.skipped + by) if clip.skipped or retimed else 0
    cut_off = max(0, clip.cut_off + back) if clip.cut_off or retimed else 0
    if isinstance(content, (Footage, Sound)) and retiming(clip).fixed != 0:
        content = _trimmed(project, clip, content, by, length)
        if isinstance(content, Sound):
            content = _fades_as_before(content, by, back)
        if retimed:
            content = _speeds_stay(clip, content, max(0, -(clip.skipped + by)), max(0, -(clip.cut_off + back)))
    made = clip.model_copy(
        update={"head": head, "length": length, "content": content, "skipped": skipped, "cut_off": cut_off}
    )
    return said_as_before(project, clip, made)


def _trimmed(project: Project, clip: Clip, content: Footage | Sound, by: int, length: int) -> Footage | Sound:
    """A content from so many frames after the clip's head on; the source must have the frames it did not show yet."""
    way, last = retiming(clip), source_length(project, content) - 1
    # A sound may begin within its first frame.
    within = max(0.0, -content.start)
    start = float(way.exact(by))
    if content.media in project.media and (by < 0 or by + length > clip.length):

        def beyond(low: float, high: float) -> float:
            return max(0.0, -low - within, high - last)

        over = beyond(*way.reach(by, by + length - 1))
        if over > beyond(*way.reach(0, clip.length - 1)):
            speed = abs(way.speed(by if by < 0 else by + length - 1)) or 1.0
            raise EditError(
                f"“{clip.name}” has no {'earlier frames' if by < 0 else 'frames left'}: {-(-over / speed // 1):g} more "
                f"would be needed. It has only {last + 1} frames."
            )
    # Never the 0 that is written "-0.0".
    return content.model_copy(update={"start": max(-within, start) + 0.0})


def _speeds_stay(clip: Clip, content: Footage | Sound, before: int, after: int) -> Footage | Sound:
    """The content with its keys of speed where they stand, in a motion that is so many frames longer at its head and
    its end."""
    if not (before or after) or content.speed.state != "moving":
        return content
    timed = resolve_keys(content.speed, clock_of(clip))
    keys = list(content.speed.keys)
    for item in timed:
        at = item.frame + clip.skipped + before
        keys[item.index] = item.key.model_copy(update={"counts_from": "head", "at": at})
    return content.model_copy(update={"speed": content.speed.with_keys(tuple(keys))})


def _fades_as_before(content: Sound, at_head: int, at_end: int) -> Sound:
    """A sound that was cut keeps its fades where they are in time when its cut ends are trimmed by so many frames."""
    before = content.fade_before and max(-content.fade_before, at_head)
    after = content.fade_after and max(-content.fade_after, at_end)
    return cut_fades(content, before, after)


def said_as_before(project: Project, before: Clip, after: Clip) -> Clip:
    """A clip whose words are still said when they were, though it begins at another frame."""
    content = after.content
    by = (after.head - after.skipped) - (before.head - before.skipped)
    if content.kind != "text" or content.caption is None or not content.caption.words or not by:
        return after
    seconds = by / float(project.settings.rate.fraction)
    words = tuple(
        word.model_copy(update={"begin": word.begin - seconds, "end": word.end - seconds})
        for word in content.caption.words
    )
    caption = content.caption.model_copy(update={"words": words})
    return after.model_copy(update={"content": content.model_copy(update={"caption": caption})})


@rule(ChangeFit)
def change_fit(project: Project, edit: ChangeFit) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if clip.content.kind not in ("footage", "still"):
        raise EditError(
            f"“{clip.name}” shows {clip.content.kind}; only a picture fits the frame in one way or another."
        )
    content = changed(clip.content, fit=edit.fit)
    return with_clip(project, clip.model_copy(update={"content": content})), f"{edit.fit} the frame"


@rule(SetBlend)
def set_blend(project: Project, edit: SetBlend) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    treatment = next((clip for clip in clips if clip.content.kind == "treatment" and not clip.steps), None)
    if treatment is not None:
        raise EditError(
            f"“{treatment.name}” does nothing to what lies below yet, so there is nothing to blend; nothing was "
            f"changed. Give it a step first."
        )
    return with_clips(
        project, [clip.model_copy(update={"blend": edit.mode}) for clip in clips]
    ), f"{edit.mode.replace('-', ' ')} {named(clips)}"


@rule(SetSeen)
def set_seen(project: Project, edit: SetSeen) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in edit.clips]
    what = {"shown": "show", "hidden": "hide", "alone": "see alone"}[edit.seen]
    return with_clips(
        project, [clip.model_copy(update={"seen": edit.seen}) for clip in clips]
    ), f"{what} {named(clips)}"
