"""Evaluate: every value at one frame, as plain values. No pixels yet."""

from __future__ import annotations

from ..picture import Rect
from ..project.mask import OF_ANOTHER
from ..project.model import Camera, Clip, Footage, Group, Light, Project, Sound, Still, Styled, Treatment
from ..project.source import source_place
from ..project.styled import kept
from ..project.timeline import Side, has_sides, live_clips, part_at, timeline_of
from ..steps import KINDS, STAND, StepKind, Values
from .compiled import CompiledStep, compiled
from .exposure import exposure_of
from .filling import filling
from .joins import Joining, joining_at
from .lights import lights_on, with_casters
from .looking import gathered, looking
from .passing import step_by_units
from .scene import (
    ContentNow,
    FootageNow,
    GroupNow,
    Join,
    Layer,
    MaskNow,
    ModelNow,
    Scene,
    StepNow,
    TextNow,
    TreatmentNow,
)
from .space import by_depth, camera_moves, eye_at, stands_in_space
from .standing import layout_of

_DEEPEST = 24
"""Groups within groups that are painted; a document has no more (see project/validity.py)."""


def evaluate(
    project: Project,
    frame: float,
    within: str | None = None,
    shown: float | None = None,
    depth: int = 0,
    side: Side = "front",
) -> Scene:
    """All values at a frame of the film, or of a group's own timeline; fractions are moments within the shutter.

    `shown` is the frame whose source pictures are used, where that is not `frame`; `side` from where a group is seen.
    """
    settings = project.settings
    layers: list[Layer | Join] = []
    at = frame if shown is None else shown
    for clip in live_clips(project, at, within, side) if depth <= _DEEPEST else ():
        joining = joining_at(project, clip, at)
        layer: Layer | Join | None
        if joining is None:
            layer = evaluate_clip(
                project, clip, frame - clip.head, None if shown is None else shown - clip.head, depth=depth
            )
        else:
            layer = _join(project, joining, frame, shown, depth)
        if layer:
            layers.append(layer)
    if any(isinstance(each, Layer) and any(step.kind == STAND.kind for step in each.steps) for each in layers):
        layers = with_casters(by_depth(layers, settings.width, settings.height))
    return Scene(settings.width, settings.height, settings.background, tuple(layers))


def _join(project: Project, joining: Joining, frame: float, shown: float | None, depth: int) -> Join | None:
    before, after = (
        None
        if clip is None
        else evaluate_clip(project, clip, frame - clip.head, None if shown is None else shown - clip.head, depth=depth)
        for clip in (joining.before, joining.after)
    )
    return Join(joining.transition, joining.progress(frame), before, after) if before or after else None


def evaluate_clip(
    project: Project,
    clip: Clip,
    local: float,
    shown: float | None = None,
    letters: frozenset[int] | None = None,
    depth: int = 0,
    whole: Clip | None = None,
    placing: bool = False,
) -> Layer | None:
    """One clip at a frame counted from its head; None where there is nothing of it.

    `shown` is the frame whose source picture is used, where that is not `local`: while a
    shutter is open the camera moves, but the source shows one picture. With `letters`,
    steps that are passed on are worked out for those letters of the words only. Of a clip
    that has some of its steps only, `whole` is the one with all: what keeps the frame
    filled is solved for that. With `placing` only what says where all of it stands is
    worked out: a group holds nothing then, and there are no other steps and no masks.
    """
    if isinstance(clip.content, (Sound, Camera, Light)):
        return None
    own = compiled(project, clip)
    if placing:
        letters = frozenset()
        own = own._replace(steps=tuple(each._replace(masks=()) for each in own.steps if _says_where(each)))
    if not own.travels and stands_in_space(clip) and camera_moves(project, clip, clip.head + local):
        own = own._replace(moves=True, travels=True)
    side = _side(project, clip, own.steps, local)
    content: ContentNow
    if own.content is not None:
        content = own.content(local)
    elif placing and isinstance(clip.content, Group):
        content = GroupNow(Scene(project.settings.width, project.settings.height, None, ()), True, _ink(project, clip))
    else:
        content = _held(project, clip, local, shown, depth, side)
    if isinstance(content, ModelNow):
        content = content._replace(lights=lights_on(project, clip, clip.head + local))
    at = local if shown is None else shown
    steps, content = _steps(project, clip, own.steps, content, local, at, letters, whole or clip)
    if side == "back":
        steps = tuple(_from_behind(step) for step in steps)
    exposure = exposure_of(project, clip, own, local) if shown is None and not placing else None
    return Layer(clip.id, content, steps, exposure, clip.blend, own.travels)


def _says_where(step: CompiledStep) -> bool:
    """Whether a step may place what it is done to, or change the words that are laid out."""
    kind = KINDS[step.kind]
    return kind.places or kind.changes_words


def _side(project: Project, clip: Clip, steps: tuple[CompiledStep, ...], local: float) -> Side:
    """From where a group with a front and a back is seen: each step that turns it over changes sides."""
    turning = [each for each in steps if KINDS[each.kind].turns_over and each.since <= local < each.until]
    if not turning or clip.content.kind != "group" or not has_sides(project, clip.id):
        return "front"
    back = False
    for each in turning:
        mix = each.mixed(local)
        behind = mix > 0 and KINDS[each.kind].shows_back(each.told(each.values(local), local, mix))
        if behind is None:
            return "edge"
        back ^= behind
    return "back" if back else "front"


def _from_behind(step: StepNow) -> StepNow:
    """A step that turns over, of a clip whose back is seen."""
    kind = KINDS[step.kind]
    if not kind.turns_over or not kind.shows_back(step.values):
        return step
    return step._replace(values={**step.values, "back": True})


def _steps(
    project: Project,
    clip: Clip,
    steps: tuple[CompiledStep, ...],
    content: ContentNow,
    local: float,
    shown: float,
    letters: frozenset[int] | None,
    whole: Clip,
) -> tuple[tuple[StepNow, ...], ContentNow]:
    """Every step that is on, and the content with its words as the steps have changed them; like a shot's picture they
    stand still while the shutter is open."""
    live = [step for step in steps if step.since <= local < step.until]
    if isinstance(content, TextNow):
        for step in live:
            kind = KINDS[step.kind]
            mix = step.mixed(shown) if kind.changes_words else 0
            if mix > 0:
                content = _worded(content, kind, step.told(step.values(shown), shown, mix))
    made = []
    for step in live:
        if step.units is not None and isinstance(content, TextNow):
            now = step_by_units(clip, step, layout_of(content), local, shown=shown, letters=letters)
        else:
            # What is hidden at its frame is hidden for as long as the shutter is open around it.
            kind = KINDS[step.kind]
            still = local != shown and (kind.with_source or kind.hidden(step.values(shown)))
            at = shown if still else local
            mix = step.mixed(at)
            told = step.told(step.values(at), at, mix)
            if kind.lit:
                told = {**told, "lights": lights_on(project, clip, clip.head + at)}
            if kind.in_space:
                told = {**told, "eye": eye_at(project, clip, clip.head + at)}
            if KINDS[step.kind].camera:
                filled = filling(project, whole, content)
                if filled is not None and filled.step == step.id:
                    told = {**told, "filled": filled.scale}
            now = StepNow(step.kind, told, step.share(mix), at >= step.border)
        if step.masks:
            now = now._replace(masks=masks_at(project, clip, step, local, shown))
        made.append(now._replace(id=step.id, run=step.run))
    return tuple(made), content


def _worded(content: TextNow, kind: StepKind, values: Values) -> TextNow:
    """A text as a step changes its words and their colours."""
    words = kind.words(values, content.text)
    if words != content.text:
        content = content._replace(text=words, ranges=kept(content.ranges, content.text, words))
    coloured = kind.styles(values, content.text, content.colour)
    if coloured:
        more = tuple(Styled(start=start, end=end, colour=colour) for start, end, colour in coloured)
        content = content._replace(ranges=(*content.ranges, *more))
    return content


_ELSEWHERE = {"intersect": "add", "add": "intersect", "subtract": "add"}
"""How masks are joined for what lies outside of them."""


def masks_at(project: Project, clip: Clip, step: CompiledStep, local: float, shown: float) -> tuple[MaskNow, ...]:
    """A step's masks at a frame of its clip. A clip that is looked at counts where it is, whether it is seen itself or
    not."""
    made = []
    outside = KINDS[step.kind].outside
    for mask in step.masks:
        # What was wiped is what the other clip had gone past where it was furthest.
        at = None if mask.furthest is None else mask.furthest(local)
        moment = (local, shown) if at is None or at == local else (at, at)
        values = {**mask.fixed, **{each.name: each.parameter.clamp(each.sample(local)) for each in mask.varying}}
        made.append(
            MaskNow(
                mask.form,
                values,
                # 1 − (a ∩ b) is (1 − a) ∪ (1 − b), and so on (De Morgan).
                mask.invert != (outside and mask.joined != "subtract"),
                mask.by,
                look_at(project, clip, mask.clip, *moment) if mask.form in OF_ANOTHER else None,
                _ELSEWHERE[mask.joined] if outside else mask.joined,
            )
        )
    return tuple(made)


def look_at(
    project: Project, clip: Clip, other: str | None, local: float, shown: float, placing: bool = False
) -> Layer | None:
    """Another clip of the same timeline at the moment of this one; None where it is not there, or looks back here.
    `placing` is as in `evaluate_clip`."""
    found = project.clips.get(other) if other else None
    if found is None or found is clip or timeline_of(project, found) != timeline_of(project, clip):
        return None
    found = part_at(project, found, clip.head + shown)
    by = clip.head - found.head
    if not 0 <= shown + by < found.length:
        return None
    with looking(clip.id, found.id) as free:
        return evaluate_clip(project, found, local + by, shown + by, placing=placing) if free else None


def _held(
    project: Project, clip: Clip, local: float, shown: float | None, depth: int, side: Side
) -> FootageNow | GroupNow | TreatmentNow:
    """What a clip without values of its own holds: a picture of its source, its group's scene, or nothing."""
    content = clip.content
    if isinstance(content, Treatment):
        return TreatmentNow()
    if isinstance(content, Group):
        at = content.start + local * content.speed
        inner = None if shown is None else content.start + shown * content.speed
        apart = bool(clip.steps) or clip.blend != "normal" or clip.opening is not None or clip.closing is not None
        return GroupNow(evaluate(project, at, clip.id, inner, depth + 1, side), apart, _ink(project, clip))
    assert isinstance(content, (Footage, Still))
    return _picture(project, clip, content, local if shown is None else shown)


def _ink(project: Project, group: Clip) -> Rect | None:
    """What a group's clips take up, where one of its steps goes by that."""
    by_it = any(step.kind in KINDS and KINDS[step.kind].by_cell for step in group.steps)
    return gathered(project, group) if by_it else None


def _picture(project: Project, clip: Clip, content: Footage | Still, local: float) -> FootageNow:
    media = project.media.get(content.media)
    if media is None:
        # What is missing stands as large as the frame, and is drawn as missing.
        return FootageNow(content.media, 0, content.fit, project.settings.width, project.settings.height, False)
    source, next_share = 0, 0.0
    if content.kind == "footage":
        place = source_place(project, clip, int(local // 1))
        source = int(place)
        # Shares that differ by less than a level of 255 paint the same picture.
        next_share = round(float(place - source) * 256) / 256 if content.between == "mixed" else 0.0
    return FootageNow(media.id, source, content.fit, media.width, media.height, media.alpha, media.ink, next_share)
