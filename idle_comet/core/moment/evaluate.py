"""Evaluate: every value at one frame, as plain values. No pixels yet."""

from __future__ import annotations

from ..project.model import Clip, Footage, Project, Still
from ..project.source import source_frame
from ..project.styled import kept
from ..steps import KINDS
from .compiled import CompiledStep, compiled
from .exposure import exposure_of
from .joins import Joining, joining_at
from .passing import step_by_units
from .scene import FootageNow, Join, Layer, Scene, StepNow, TextNow
from .standing import layout_of
from .timeline import live_clips


def evaluate(project: Project, frame: float) -> Scene:
    """All values at a frame of the film; fractions are moments within the shutter."""
    layers: list[Layer | Join] = []
    for clip in live_clips(project, frame):
        joining = joining_at(project, clip, frame)
        if joining is None:
            layer = evaluate_clip(project, clip, frame - clip.head)
        else:
            layer = _join(project, joining, frame)
        if layer:
            layers.append(layer)
    settings = project.settings
    return Scene(settings.width, settings.height, settings.background, tuple(layers))


def _join(project: Project, joining: Joining, frame: float) -> Join | None:
    sides = [clip and evaluate_clip(project, clip, frame - clip.head) for clip in (joining.before, joining.after)]
    return Join(joining.transition, joining.progress(frame), *sides) if any(sides) else None


def evaluate_clip(project: Project, clip: Clip, local: float, shown: float | None = None, letters: frozenset[int] | None = None) -> Layer | None:
    """One clip at a frame counted from its head; None where there is nothing of it.

    `shown` is the frame whose source picture is used, where that is not `local`: while a
    shutter is open the camera moves, but the source shows one picture. With `letters`,
    steps that are passed on are worked out for those letters of the words only.
    """
    own = compiled(project, clip)
    content = _picture(project, clip.content, local if shown is None else shown) if own.content is None else own.content(local)
    if content is None:
        return None
    steps, content = _steps(clip, own.steps, content, local, local if shown is None else shown, letters)
    exposure = exposure_of(project, clip, own, local) if shown is None else None
    return Layer(clip.id, content, steps, exposure)


def _steps(clip: Clip, steps: tuple[CompiledStep, ...], content, local: float, shown: float, letters: frozenset[int] | None):
    """Every step that is on, and the content with its words as the steps have changed them; like a shot's picture they stand still while the shutter is open."""
    live = [step for step in steps if step.since <= local < step.until]
    if isinstance(content, TextNow):
        for step in live:
            mix = step.mixed(shown)
            words = KINDS[step.kind].words(step.told(step.values(shown), shown, mix), content.text) if mix > 0 else content.text
            content = content if words == content.text else content._replace(text=words, ranges=kept(content.ranges, content.text, words))
    made = []
    for step in live:
        if step.units is not None and isinstance(content, TextNow):
            made.append(step_by_units(clip, step, layout_of(content), local, shown=shown, letters=letters))
        else:
            # What is hidden at its frame is hidden for as long as the shutter is open around it.
            at = shown if local != shown and KINDS[step.kind].hidden(step.values(shown)) else local
            mix = step.mixed(at)
            made.append(StepNow(step.kind, step.told(step.values(at), at, mix), step.share(mix), at >= step.border))
    return tuple(made), content


def _picture(project: Project, content: Footage | Still, local: float) -> FootageNow:
    media = project.media.get(content.media)
    if media is None:
        # What is missing stands as large as the frame, and is drawn as missing.
        return FootageNow(content.media, 0, content.fit, project.settings.width, project.settings.height, False)
    source = 0
    if content.kind == "footage":
        source = source_frame(project, content, int(local // 1))
    return FootageNow(media.id, source, content.fit, media.width, media.height, media.alpha)
