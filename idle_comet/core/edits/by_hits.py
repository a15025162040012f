"""Motion by the hits of a sound: units of a text that come on them, a value that pulses with them."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Sequence

from pydantic import Field

from ..moment.compiled import compiled
from ..moment.standing import layout_of
from ..motion import Cascade, Ease, Key, Moving, Property, Strengths, Unit, number, resolve_keys
from ..project.address import places
from ..project.hits import hit_frames
from ..project.model import Clip, Frozen, Id, Project, Units
from ..project.times import clock_of
from ..wording import in_text
from .base import EditError, clip_of, rule, step_of, with_clip, with_step
from .values import check_value, parameter_of, property_of, with_property


class CascadeByHits(Frozen):
    """A step is passed on from unit to unit by the hits of a sound: each unit begins its motion on its hit, or lands on
    it. With fewer hits than units several come at one, evenly; hits past the last unit are left over."""

    kind: Literal["cascade_by_hits"] = "cascade_by_hits"
    clip: Id
    step: Id
    sound: Id
    unit: Unit = "word"
    on: Literal["begins", "lands"] = "begins"


class PulseByHits(Frozen):
    """A value that jumps to a peak within `rise` frames at every hit of a sound and falls back to where it rests within
    `fall` frames; where the next hit comes sooner, it falls as far as there is time."""

    kind: Literal["pulse_by_hits"] = "pulse_by_hits"
    clip: Id
    step: Annotated[str, Field(max_length=129)]
    name: Annotated[str, Field(max_length=64)]
    sound: Id
    peak: Any
    rise: Annotated[int, Field(ge=0, le=250)] = 1
    fall: Annotated[int, Field(ge=1, le=2500)] = 8
    ease: Ease = Strengths(start=0, end=0.6)


def _hits(project: Project, clip: Clip, sound: Clip) -> list[float]:
    """The hits of a sound that lie within a clip, in frames from its head."""
    found = [place - clip.head for place in hit_frames(project, sound)]
    found = [frame for frame in found if 0 <= frame < clip.length]
    if not found:
        raise EditError(
            f"No hit of “{sound.name}” lies within “{clip.name}”; nothing was changed. Detect its hits, and lay both "
            f"over one another."
        )
    return found


@rule(CascadeByHits)
def cascade_by_hits(project: Project, edit: CascadeByHits) -> tuple[Project, str]:
    clip, sound = clip_of(project, edit.clip), clip_of(project, edit.sound)
    step = step_of(clip, edit.step)
    if clip.content.kind != "text":
        raise EditError(f"“{clip.name}” has no words to be passed on; nothing was changed.")
    hits = _hits(project, clip, sound)
    clock = clock_of(clip)
    heads = [
        item.frame
        for place in places(clip)
        if place.owner == step.id and place.property.state == "moving"
        for item in resolve_keys(place.property, clock)
        if item.key.counts_from == "head"
    ]
    if not heads:
        raise EditError("This step has no arrival that could be passed on; nothing was changed.")
    begins, arrives = min(heads), max(heads)
    count = len(layout_of(compiled(project, clip).text(0)).units[edit.unit])
    if not count:
        raise EditError(f"“{clip.name}” is empty; nothing was changed.")
    own = hits if len(hits) >= count else [hits[unit * len(hits) // count] for unit in range(count)]
    at = begins if edit.on == "begins" else arrives
    times = tuple(max(0.0, round(frame - at, 3)) for frame in own[:count])
    cascade = Cascade(unit=edit.unit, by="times", times=times)
    old = step.units or Units()
    # It leaves as it left before: hits are of the arrival.
    departure = old.departure or (old.arrival if step.units else Cascade())
    units = old.model_copy(update={"arrival": cascade, "departure": departure})
    made = with_step(clip, step.model_copy(update={"units": units}))
    return with_clip(project, made), f"{edit.unit}s of {clip.name} by the hits of {sound.name}"


@rule(PulseByHits)
def pulse_by_hits(project: Project, edit: PulseByHits) -> tuple[Project, str]:
    clip, sound = clip_of(project, edit.clip), clip_of(project, edit.sound)
    parameter, prop = parameter_of(clip, edit.step, edit.name), property_of(clip, edit.step, edit.name)
    if not parameter.may_move or parameter.sort not in ("number", "colour"):
        raise EditError(f"{parameter.label} can't pulse; nothing was changed.")
    check_value(parameter, edit.peak)
    hits = sorted({round(frame) for frame in _hits(project, clip, sound)})[:600]
    made = with_property(
        clip, edit.step, edit.name, pulsed(clip, prop, hits, edit.peak, edit.rise, edit.fall, edit.ease)
    )
    return with_clip(project, made), f"{in_text(parameter.label)} by the hits of {sound.name}"


_FALLS = Strengths(start=0, end=0.6)


def pulsed(
    clip: Clip, prop: Property, hits: Sequence[int], peak: Any, rise: int, fall: int, ease: Ease = _FALLS
) -> Moving:
    """A value that jumps to a peak at frames of its clip, in order, and falls back to where it rests."""
    rest = prop.rest if prop.state == "driven" else prop.value if prop.state == "fixed" else prop.keys[0].value
    keys: dict[int, Key] = {}

    def put(frame: int, value: Any) -> None:
        if 0 <= frame < clip.length:
            keys[frame] = Key(at=float(frame + clip.skipped), value=value, ease=ease)

    put(0, rest)
    for place, hit in enumerate(hits):
        follows = hits[place + 1] - rise if place + 1 < len(hits) else clip.length + fall
        before = hit - rise
        if rise and (before not in keys) and before >= 0:
            put(before, rest)
        put(hit, peak)
        gone = hit + fall
        if gone <= follows:
            put(gone, rest)
        elif follows > hit:
            put(follows, _part(rest, peak, (follows - hit) / fall))
    return Moving(keys=tuple(keys[frame] for frame in sorted(keys)))


def _part(rest: Any, peak: Any, share: float) -> Any:
    """How far a value has fallen back before the next hit; a colour falls all the way."""
    if isinstance(rest, str) or isinstance(peak, str):
        return rest
    return round(number(peak) + (number(rest) - number(peak)) * share, 6)
