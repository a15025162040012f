"""Hits of sounds: kept with their clip, and words that are typed by them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contents import SoundHit
from ..contents.sound import MOST_HITS, MOST_LEVELS, HeardLevel
from ..motion import Fixed, Hold, Key, Moving
from ..project.hits import frame_of, hit_frames
from ..project.model import MAX_FRAMES, Clip, Frozen, Id, Project, Sound, Step
from ..project.retiming import retiming
from ..steps import TYPING
from ..steps.typing import typed_clusters
from .base import EditError, clip_of, rule, with_clip, with_step
from .values import with_property


class SetHits(Frozen):
    """The hits of a sound, in seconds of its source: as they were found, or put by hand."""

    kind: Literal["set_hits"] = "set_hits"
    clip: Id
    hits: Annotated[tuple[SoundHit, ...], Field(max_length=MOST_HITS)]


class TapHits(Frozen):
    """Hits tapped to a sound while it was heard, at frames of its clip, fractions and all. Those that it had over the
    same stretch go."""

    kind: Literal["tap_hits"] = "tap_hits"
    clip: Id
    frames: Annotated[
        tuple[Annotated[float, Field(ge=0, le=MAX_FRAMES, allow_inf_nan=False)], ...],
        Field(min_length=1, max_length=MOST_HITS),
    ]


class TypeByHits(Frozen):
    """A title is typed by the hits of a sound: each letter is there from its hit's frame on. With fewer hits than
    letters several come at a hit, evenly; hits past the last letter are left over. A title that is not typed yet is
    from now on."""

    kind: Literal["type_by_hits"] = "type_by_hits"
    clip: Id
    sound: Id


class AddLevel(Frozen):
    """What was measured of a sound's loudness, for values that go with it; the same band again takes the old one's
    place."""

    kind: Literal["add_level"] = "add_level"
    clip: Id
    level: HeardLevel


@rule(AddLevel)
def add_level(project: Project, edit: AddLevel) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if not isinstance(clip.content, Sound):
        raise EditError(f"“{clip.name}” is no sound, and is not measured; nothing was changed.")
    levels = list(clip.content.levels)
    at = band_of(clip.content, edit.level.low, edit.level.high)
    if at is None and len(levels) >= MOST_LEVELS:
        raise EditError(f"“{clip.name}” is measured in {MOST_LEVELS} bands, the most there can be.")
    if at is None:
        levels.append(edit.level)
    else:
        levels[at] = edit.level
    content = clip.content.model_copy(update={"levels": tuple(levels)})
    return with_clip(project, clip.model_copy(update={"content": content})), f"measure {clip.name}"


def band_of(sound: Sound, low: float, high: float) -> int | None:
    """The number of the band that was measured between two frequencies."""
    bands = [(each.low, each.high) for each in sound.levels]
    return bands.index((low, high)) if (low, high) in bands else None


@rule(SetHits)
def set_hits(project: Project, edit: SetHits) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if not isinstance(clip.content, Sound):
        raise EditError(f"“{clip.name}” is no sound, and has no hits; nothing was changed.")
    hits = tuple(sorted(edit.hits, key=lambda hit: hit.at))
    return with_clip(
        project, clip.model_copy(update={"content": clip.content.model_copy(update={"hits": hits})})
    ), f"hits of {clip.name}"


_NEAR = 0.1
"""Seconds beyond the first tap and the last within which hits belong to the same stretch."""


@rule(TapHits)
def tap_hits(project: Project, edit: TapHits) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if not isinstance(clip.content, Sound):
        raise EditError(f"“{clip.name}” is no sound, and has no hits; nothing was changed.")
    way, rate = retiming(clip), float(project.settings.rate.fraction)
    frames = [frame for frame in edit.frames if frame < clip.length]
    if not frames:
        raise EditError(f"“{clip.name}” is not heard at any of these frames; nothing was changed.")
    tapped = [SoundHit(at=max(0.0, round(way.at(frame) / rate, 5))) for frame in frames]
    first, last = min(hit.at for hit in tapped) - _NEAR, max(hit.at for hit in tapped) + _NEAR
    kept = [hit for hit in clip.content.hits if not first <= hit.at <= last]
    return set_hits(project, SetHits(clip=clip.id, hits=(*kept, *tapped)[:MOST_HITS]))


@rule(TypeByHits)
def type_by_hits(project: Project, edit: TypeByHits) -> tuple[Project, str]:
    clip, sound = clip_of(project, edit.clip), clip_of(project, edit.sound)
    if clip.content.kind != "text":
        raise EditError(f"“{clip.name}” has no words to be typed; nothing was changed.")
    letters = len(typed_clusters(clip.content.text))
    # Two hits in one frame are one: no letter could be shown between them.
    frames = sorted({frame_of(place) - clip.head for place in hit_frames(project, sound)})
    frames = [frame for frame in frames if 0 <= frame < clip.length][: min(letters, 1900)]
    if not frames or not letters:
        raise EditError(
            f"No hit of “{sound.name}” lies within “{clip.name}”; nothing was changed. Detect its hits, and lay both "
            f"over one another."
        )
    keys = [Key(at=float(clip.skipped), value=0.0, ease=Hold())] if frames[0] > 0 else []
    for number, frame in enumerate(frames, 1):
        typed = -(-number * letters // len(frames))
        keys.append(Key(at=float(frame + clip.skipped), value=typed / letters, ease=Hold()))
    clip, step = _typed(clip)
    clip = with_property(clip, step, "shown", Moving(keys=tuple(keys)))
    clip = with_property(clip, step, "uneven", Fixed(value=0))
    return with_clip(project, clip), f"type {clip.name} by the hits of {sound.name}"


def _typed(clip: Clip) -> tuple[Clip, str]:
    """The clip with a step that types it, and that step's id."""
    step = next((each for each in clip.steps if each.kind == TYPING.kind), None)
    if step is not None:
        return with_step(clip, step.model_copy(update={"on": True, "units": None})), step.id
    if len(clip.steps) >= 100:
        raise EditError(f"“{clip.name}” already has 100 steps; nothing was changed.")
    taken = {each.id for each in clip.steps}
    id = next(name for n in range(101) if (name := f"typed-{n}" if n else "typed") not in taken)
    return clip.model_copy(update={"steps": (Step(id=id, kind=TYPING.kind), *clip.steps)}), id
