"""A clip's properties as functions of its time, made once for as long as the clip is what it was."""

from __future__ import annotations

import math
from typing import Any, Callable, Iterable, NamedTuple, TypeVar

from ..clock import LocalClock, Rate
from ..contents import BY_NAME, CONTENT_PARAMETERS, Content, HeldName, choices_of, parameters_of, property_in
from ..contents.caption import said
from ..motion import Fixed, Leads, Property, leads_of, resolve_keys, sampler
from ..motion.motors import Follow, OnPoint, SoundLevel, Tether
from ..motion.sampling import Sample, jumps_of
from ..patterns import PATTERNS
from ..project.address import NotThere, mask_owner, place_at
from ..project.mask import MASK_PARAMETERS
from ..project.model import (
    Camera,
    Clip,
    Generated,
    HeldKey,
    Light,
    Mask,
    Media,
    ModelFile,
    Project,
    Settings,
    Shape,
    Step,
    Text,
    Units,
)
from ..project.times import clock_of
from ..remember import Remembered
from ..steps import KINDS, MIX, Parameter, Values
from .levels import level_by_frames
from .looking import meeting, watching, where
from .scene import CameraNow, GeneratedNow, ModelNow, PlainNow, ShapeNow, TextNow, ValuesNow


class Varying(NamedTuple):
    """A value that is not fixed, as a function of the clip's frame, and where its keys lie."""

    name: str
    parameter: Parameter
    sample: Sample
    leads: Leads


class CompiledMask(NamedTuple):
    """A mask of a step: its values that are fixed and those that are not, and the clip it looks at."""

    form: str
    clip: str | None
    by: str
    invert: bool
    joined: str
    fixed: dict[str, Any]
    varying: tuple[Varying, ...]
    furthest: Callable[[float], float | None] | None = None
    """For a wipe that is held: the frame up to now at which the other clip was furthest along the way."""


class CompiledStep(NamedTuple):
    """A step that is on, done at frames since ≤ f < until of its clip. `varying` are the values that are not fixed.

    From `border` on the clip is leaving, as the step's keys have it.
    """

    id: str
    kind: str
    since: int
    until: int
    fixed: dict[str, Any]
    varying: tuple[Varying, ...]
    mix: Varying
    units: Units | None
    border: float
    masks: tuple[CompiledMask, ...] = ()
    rate: float = 25.0
    """Frames of the film a second."""
    skipped: int = 0
    """Frames of the clip that were cut off before its head."""
    run: frozenset[str] = frozenset()
    """Steps before it that its masks hold for as well."""

    def values(self, frame: float) -> Values:
        """All of its values and choices at a frame of the clip."""
        if not self.varying:
            return self.fixed
        return {**self.fixed, **{each.name: each.parameter.clamp(each.sample(frame)) for each in self.varying}}

    def told(self, values: Values, frame: float, mix: float = 1.0) -> Values:
        """As the kind takes them: done by a share where that means other values, and with the frame and its second for
        a kind that is another picture at every frame."""
        kind = KINDS[self.kind]
        if mix < 1 and kind.weakens:
            values = kind.weakened(values, mix)
        if not kind.restless:
            return values
        whole = float(frame // 1) + self.skipped
        return {**values, "frame": whole, "seconds": (frame + self.skipped if kind.flows else whole) / self.rate}

    def share(self, mix: float) -> float:
        """What is left of a mix to be done by mixing pictures."""
        return 1.0 if mix > 0 and KINDS[self.kind].weakens else mix

    def mixed(self, frame: float) -> float:
        return MIX.clamp(self.mix.sample(frame))


class Compiled(NamedTuple):
    """`content` gives a text's or a colour's settings at a frame; None for pictures. `moves` is False for a clip that
    is still."""

    content: Callable[[float], Any] | None
    steps: tuple[CompiledStep, ...]
    moves: bool
    travels: bool
    """Whether it is placed otherwise at one moment than at another; one that only fades is not."""
    jumps: tuple[float, ...] = ()
    """Frames at which a value jumps, or a step begins or ends, in order."""

    def text(self, frame: float) -> TextNow:
        """A text's settings at a frame; raises TypeError for anything else."""
        found = self.content(frame) if self.content else None
        if not isinstance(found, TextNow):
            raise TypeError("only a text has words")
        return found


class _Made(NamedTuple):
    """With what a clip was compiled: the film's rate and, where it looks around itself, the rest of the document."""

    rate: Rate
    around: tuple[dict[str, Clip], dict[str, Media], Settings] | None
    compiled: Compiled


_kept: Remembered[Clip, _Made] = Remembered()


def compiled(project: Project, clip: Clip) -> Compiled:
    """The clip's functions, kept by its identity (and, where it follows something, by the document's)."""
    known = _kept.find(clip)
    now = project.clips, project.media, project.settings
    if known and known.rate == project.settings.rate:
        if known.around is None or all(one is other for one, other in zip(known.around, now)):
            return known.compiled
    around = Surroundings(project, clip)
    made = _compile(project, clip, around)
    return _kept.keep(clip, _Made(project.settings.rate, now if around.asked else None, made)).compiled


class Surroundings:
    """What a clip's motors may look at. A chain of followers that leads back to itself ends in nothing."""

    def __init__(self, project: Project, clip: Clip, seen: frozenset[tuple[str, str, str]] = frozenset()) -> None:
        self.rate = float(project.settings.rate.fraction)
        self.asked = False
        self._project, self._clip, self._seen = project, clip, seen
        self._at: tuple[str, str] = ("", "")

    def at(self, step: str, name: str) -> "Surroundings":
        """The same, on behalf of one property."""
        inner = Surroundings(self._project, self._clip, self._seen | {(self._clip.id, step, name)})
        inner._at = (step, name)
        return inner

    def picture(self, media: str | None) -> tuple[str, int, int, int] | None:
        """A picture of the film, by its id: (media, width, height, frames)."""
        self.asked = True
        found = self._project.media.get(media) if media else None
        if found is not None and found.kind in ("table", "model"):
            return None
        return (found.id, found.width, found.height, found.frames) if found else None

    def table(self, media: str | None) -> str | None:
        """A table of colours of the film, by its id."""
        self.asked = True
        found = self._project.media.get(media) if media else None
        return found.id if found and found.kind == "table" else None

    def follow(self, motor: Follow) -> Sample | None:
        self.asked = True
        other = self._clip if motor.clip is None else self._project.clips.get(motor.clip)
        if other is None or (other.id, motor.step, motor.name) in self._seen or len(self._seen) > 64:
            return None
        found = find_property(other, motor.step, motor.name)
        if found is None:
            return None
        parameter, prop = found
        sample = sampler(
            prop, clock_of(other), Surroundings(self._project, other, self._seen | {(other.id, motor.step, motor.name)})
        )
        shift = self._clip.head - other.head
        return lambda frame: parameter.clamp(sample(frame + shift))

    def tether(self, motor: Tether) -> Sample | None:
        self.asked = True
        project, clip = self._project, self._clip
        other = project.clips.get(motor.clip)
        if other is None or other is clip:
            return None

        def stands(frame: float) -> float | None:
            return where(project, clip, other.id, frame, motor.side)

        place: Callable[[float], float | None] = stands
        if motor.held is not None:
            # A part of a clip that was cut holds what the whole held.
            place = held_since(stands, min if motor.held == "least" else max, -clip.skipped)
        if motor.own is None:
            return place
        meets = meeting(project, clip, *self._at, motor.own)

        def met(frame: float) -> float | None:
            found = place(frame)
            return None if found is None else meets(frame, motor.gain * found + motor.offset)

        return met

    def furthest(self, other: str, way: Sample) -> Callable[[float], float | None]:
        """The frame up to one of this clip at which the middle of another clip was furthest along a way, in degrees."""
        self.asked = True
        project, clip = self._project, self._clip

        def place(frame: float) -> tuple[float, float] | None:
            turn = math.radians(way(frame))
            shares = {"middle-x": math.cos(turn), "middle-y": math.sin(turn)}
            places = [
                share * at
                for side, share in shares.items()
                if abs(share) > 1e-9 and (at := where(project, clip, other, frame, side)) is not None  # type: ignore[arg-type]
            ]
            return (sum(places), frame) if places else None

        stands = held_since(place, max, -clip.skipped)
        return lambda frame: None if (found := stands(frame)) is None else found[1]

    def on_point(self, motor: OnPoint) -> Sample | None:
        self.asked = True
        return watching(self._project, self._clip, motor)

    def sound_level(self, motor: SoundLevel) -> Sample | None:
        self.asked = True
        return level_by_frames(self._project, self._clip, motor)


Found = TypeVar("Found")


def held_since(
    place: Callable[[float], Found | None], furthest: Callable[[Any, Any], Any], first: int
) -> Callable[[float], Found | None]:
    """A place as the furthest that it has been at any whole frame from a first one on; None where it is none now."""
    known: list[list[Found | None]] = [[]]

    def so_far(frames: int) -> list[Found | None]:
        """What it was furthest at each of so many first frames. Two threads may both work it out."""
        found = known[0]
        if len(found) < frames:
            found = list(found)
            for at in range(first + len(found), first + frames):
                found.append(_further(furthest, found[-1] if found else None, place(float(at))))
            known[0] = found
        return found

    def held(frame: float) -> Found | None:
        now, whole = place(frame), math.floor(frame) - first
        if now is None:
            return None
        return now if whole < 0 else _further(furthest, so_far(whole + 1)[whole], now)

    return held


def _further(furthest: Callable[[Any, Any], Any], one: Found | None, other: Found | None) -> Found | None:
    if one is None or other is None:
        return one if other is None else other
    return furthest(one, other)


def find_property(clip: Clip, owner: str, name: str) -> tuple[Parameter, Property] | None:
    """A property by its place, with its declaration; None where there is none."""
    try:
        found = place_at(clip, owner, name)
    except NotThere:
        return None
    return found.parameter, found.property


def sample_of(project: Project, clip: Clip, owner: str, name: str) -> Sample:
    """A property as a function of the clip's frame. Raises NotThere."""
    return sampler(place_at(clip, owner, name).property, clock_of(clip), Surroundings(project, clip).at(owner, name))


def _compile(project: Project, clip: Clip, around: Surroundings) -> Compiled:
    clock = clock_of(clip)

    def sample(step: str, name: str, prop: Property) -> Sample:
        own = around.at(step, name)
        made = sampler(prop, clock, own)
        around.asked = around.asked or own.asked
        return made

    steps = tuple(_step(clip, step, sample, clock, around) for step in clip.steps if _is_done(step))
    content = clip.content
    jumps = _jumps(clip, steps, clock)
    travels = any(_travels(step) for step in clip.steps if _is_done(step))
    # What a mask looks at may move whenever it likes.
    moves = any(step.masks or (step.kind in KINDS and KINDS[step.kind].flows) for step in clip.steps) or any(
        prop.state != "fixed" for step in clip.steps for prop in (step.mix, *step.values.values())
    )
    if content.kind == "text":
        numbers = tuple(
            (each.name, each, sample("content", each.name, getattr(content, each.name)))
            for each in CONTENT_PARAMETERS["text"]
        )
        moves = moves or any(getattr(content, each.name).state != "fixed" for each in CONTENT_PARAMETERS["text"])
        return Compiled(_text(content, numbers, clock), steps, moves, travels, jumps)
    if content.kind == "plain":
        parameter = CONTENT_PARAMETERS["plain"][0]
        colour = sample("content", "colour", content.colour)
        return Compiled(lambda frame: PlainNow(parameter.clamp(colour(frame))), steps, moves, travels, jumps)
    if isinstance(content, BY_NAME):
        # How long a model's own motion lasts is known of its file.
        around.asked = around.asked or content.kind == "model"
        varies = {each.name for each in parameters_of(content) if property_in(content, each).state != "fixed"}
        travels = travels or (content.kind == "shape" and bool(varies & {"x", "y", "width", "height", "turn"}))
        plays = _plays(project, content)
        travels = travels or plays or (content.kind == "model" and bool(varies & {"size", "tilt", "swing", "roll"}))
        return Compiled(_by_name(project, clip, content, sample), steps, moves or plays or bool(varies), travels, jumps)
    return Compiled(None, steps, moves, travels, jumps)


def _jumps(clip: Clip, steps: tuple[CompiledStep, ...], clock: LocalClock) -> tuple[float, ...]:
    own = {step.id for step in steps}
    owners: list[Iterable[Property]] = [(property_in(clip.content, each) for each in parameters_of(clip.content))]
    for step in clip.steps:
        if step.id in own:
            owners += [(step.mix, *step.values.values()), *(mask.values.values() for mask in step.masks)]
    found = {at for owner in owners for prop in owner for at in jumps_of(prop, clock)}
    ends = (float(at) for step in steps for at in (step.since, step.until) if abs(at) < 1 << 40)
    return tuple(sorted(found.union(ends)))


def _by_name(
    project: Project,
    clip: Clip,
    content: Generated | Shape | Camera | Light | ModelFile,
    sample: Callable[[str, str, Property], Sample],
) -> Callable[[float], Any]:
    pattern = PATTERNS.get(content.pattern) if content.kind == "generated" else None
    chosen = [(each.name, each.clamp(content.choices.get(each.name))) for each in choices_of(content)]
    values = [(each, sample("content", each.name, property_in(content, each))) for each in parameters_of(content)]
    rate = float(project.settings.rate.fraction)
    width, height = project.settings.width, project.settings.height

    def at(frame: float) -> GeneratedNow | ShapeNow | CameraNow | ModelNow | ValuesNow:
        now = [(each.name, each.clamp(found(frame))) for each, found in values]
        if content.kind == "camera":
            return CameraNow((*now, *chosen))
        if content.kind == "model":
            return _model_now(project, clip, content, tuple([*now, *chosen]), frame)
        if content.kind == "light":
            return ValuesNow((*now, *chosen))
        if content.kind == "shape":
            return ShapeNow((*now, *chosen), content.drawing, width, height)
        # A clip that was cut goes on where it was; one that does not change by itself is the same at every frame.
        whole = float(frame // 1 + clip.skipped) if pattern and pattern.restless else 0.0
        return GeneratedNow(content.pattern, (*now, *chosen), whole / rate, whole, width, height)

    return at


def _plays(project: Project, content: Content) -> bool:
    """Whether a content moves by itself."""
    if not isinstance(content, ModelFile):
        return False
    media = project.media.get(content.media)
    return media is not None and media.frames > 1 and content.choices.get("plays") != "stands still"


def _model_now(
    project: Project, clip: Clip, content: ModelFile, values: tuple[tuple[str, Any], ...], frame: float
) -> ModelNow:
    told = dict(values)
    media = project.media.get(content.media)
    lasts = media.frames / 25 if media is not None and media.frames > 1 else 0.0
    rate = float(project.settings.rate.fraction)
    seconds = (frame + clip.skipped) / rate
    if told["plays"] == "over the clip":
        # From its first frame to its last, whatever was cut off.
        seconds = lasts * (frame + clip.skipped) / max(1, clip.skipped + clip.length + clip.cut_off - 1)
    elif told["plays"] == "in a loop" and lasts > 0:
        seconds %= lasts
    still = told["plays"] == "stands still" or not lasts
    width, height = project.settings.width, project.settings.height
    animation = -1 if still else int(told["animation"]) - 1
    own = (1000, 1000) if media is None else (media.width, media.height)
    return ModelNow(content.media, values, animation, 0.0 if still else min(seconds, lasts), width, height, own)


def _is_done(step: Step) -> bool:
    """Whether a step does anything: one that is done outside its masks needs some."""
    return step.on and step.kind in KINDS and not (KINDS[step.kind].outside and not step.masks)


def _run(clip: Clip, step: Step) -> frozenset[str]:
    """The steps before one that its masks hold for as well."""
    ids = [each.id for each in clip.steps]
    if not step.masks or step.masked_from not in ids:
        return frozenset()
    return frozenset(ids[ids.index(step.masked_from) : ids.index(step.id)])


def _travels(step: Step) -> bool:
    """Whether what a step places is placed otherwise from moment to moment."""
    kind = KINDS[step.kind]
    placing = [step.mix, *(prop for name, prop in step.values.items() if name not in kind.fades)]
    if not kind.places or any(prop.state != "fixed" for prop in placing):
        return kind.places
    # One that moves by itself does so unless it rests.
    now = {each.name: each.default for each in kind.parameters}
    now |= {name: prop.value for name, prop in step.values.items() if prop.state == "fixed"}
    still = step.mix.state == "fixed" and step.mix.value == 0
    return kind.restless and not still and not kind.rests(now)


def _step(
    clip: Clip, step: Step, sample: Callable[[str, str, Property], Sample], clock: LocalClock, around: "Surroundings"
) -> CompiledStep:
    fixed: dict[str, Any] = {each.name: each.clamp(step.choices.get(each.name)) for each in KINDS[step.kind].choices}
    if KINDS[step.kind].takes == "drawing":
        fixed["drawing"] = step.drawing
    elif KINDS[step.kind].takes == "picture":
        fixed["picture"] = around.picture(step.media)
    elif KINDS[step.kind].takes == "table":
        fixed["table"] = around.table(step.media)
    if KINDS[step.kind].hears and clip.content.kind == "text":
        caption = clip.content.caption
        lasts = (clip.skipped + clip.length + clip.cut_off) / around.rate
        heard = said(clip.content.text, caption.words if caption else (), lasts)
        fixed["said"] = tuple((each.begins, each.ends) for each in heard)
    varying: list[Varying] = []
    same: dict[Leads, Leads] = {}

    def vary(parameter: Parameter, prop: Property, owner: str = step.id) -> Varying:
        timed = resolve_keys(prop, clock) if prop.state == "moving" else []
        leads = leads_of(prop, timed)
        # Values whose keys lie alike share one object, so that a unit's frame is worked out once for all of them.
        return Varying(parameter.name, parameter, sample(owner, parameter.name, prop), same.setdefault(leads, leads))

    def mask_of(mask: Mask) -> CompiledMask:
        owner = mask_owner(step.id, mask.id)
        parameters = MASK_PARAMETERS[mask.form]
        given = {each.name: mask.values.get(each.name) or Fixed(value=each.default) for each in parameters}
        still = {
            each.name: each.clamp(prop.value) for each in parameters if (prop := given[each.name]).state == "fixed"
        }
        varied = tuple(vary(each, given[each.name], owner) for each in parameters if each.name not in still)
        made = CompiledMask(mask.form, mask.clip, mask.by, mask.invert, mask.joined, still, varied)
        if mask.form != "wipe" or not mask.held or mask.clip is None:
            return made
        way = next((each.sample for each in varied if each.name == "way"), lambda frame: still["way"])
        return made._replace(furthest=around.furthest(mask.clip, way))

    for each in KINDS[step.kind].parameters:
        prop = step.values.get(each.name)
        if prop is None or prop.state == "fixed":
            fixed[each.name] = each.clamp(each.default if prop is None else prop.value)
        else:
            # Its place in the order of parameters is kept.
            fixed[each.name] = each.default
            varying.append(vary(each, prop))
    mix = vary(MIX, step.mix)
    since = step.since - clip.skipped if step.since else -(1 << 40)
    until = clip.length + clip.cut_off - step.until if step.until else 1 << 40
    arrived = max((each.leads.head[1] for each in (*varying, mix) if each.leads.head), default=None)
    leaves = min((each.leads.tail[0] for each in (*varying, mix) if each.leads.tail), default=None)
    border = (1 << 40) if leaves is None else (arrived + leaves) / 2 if arrived is not None else leaves
    return CompiledStep(
        step.id,
        step.kind,
        since,
        until,
        fixed,
        tuple(varying),
        mix,
        step.units,
        border,
        tuple(mask_of(mask) for mask in step.masks),
        around.rate,
        clip.skipped,
        _run(clip, step),
    )


_HELD: tuple[HeldName, ...] = ("text", "typeface", "align", "stand_x", "stand_y", "measured_by")


def _text(
    content: Text, numbers: tuple[tuple[str, Parameter, Sample], ...], clock: LocalClock
) -> Callable[[float], Any]:
    still = {name: getattr(content, name) for name in ("box_does", "case", "kerning", "features", "ranges")}
    held = {name: held_at(content.held[name], clock) for name in _HELD if name in content.held and content.held[name]}

    def at(frame: float) -> TextNow:
        choices = {name: getattr(content, name) for name in _HELD}
        for name, find in held.items():
            found = find(frame)
            if found is not None:
                choices[name] = found
        return TextNow(
            **choices, **still, **{name: parameter.clamp(sample(frame)) for name, parameter, sample in numbers}
        )

    return at


def held_frames(keys: tuple[HeldKey, ...], clock: LocalClock) -> list[tuple[float, int, Any]]:
    """(frame, index, value) of held keys in playing order."""
    place = {"head": clock.from_head, "tail": clock.from_tail, "proportion": clock.in_proportion}
    return sorted(
        ((place[key.counts_from](key.at), index, key.value) for index, key in enumerate(keys)),
        key=lambda item: item[:2],
    )


def held_at(keys: tuple[HeldKey, ...], clock: LocalClock) -> Callable[[float], Any]:
    """What the keys say at a frame; None before the first."""
    timed = held_frames(keys, clock)

    def at(frame: float) -> Any:
        # A key counts from its frame on, to a hair: keys in proportion rarely fall on a whole frame.
        return next((value for when, _, value in reversed(timed) if when <= frame + 1e-6), None)

    return at
