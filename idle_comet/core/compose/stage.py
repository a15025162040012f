"""The picture after each step of a clip, small, for the Steps panel."""

from __future__ import annotations

from itertools import takewhile

from ..moment.course import visible_spans
from ..moment.evaluate import evaluate, evaluate_clip
from ..moment.framed import whole_of
from ..moment.scene import Join, Layer, Scene, TextNow, TreatmentNow
from ..moment.standing import stand
from ..picture import Matrix, Rect
from ..project.model import Clip, Project
from ..project.timeline import timeline_of
from ..steps import KINDS
from .graph import Blended
from .plan import Plan, plan_view

_LARGE, _LEGIBLE, _MARGIN = 0.30, 0.20, 0.06
"""How high ink is shown at most, and at least as a whole, and the room beside it: shares of the picture."""

_GROUND = "#4a4640"
"""Behind a cropped stage: dark enough for light type, light enough for a shadow to be seen."""

_AROUND = "#1c1a18"
"""Around a whole picture."""


def plan_stage(
    project: Project, clip_id: str, done: int, frame: float, width: int, height: int, whole: bool = False
) -> Plan:
    """What `clip_id` looks like once its first `done` steps are done.

    `frame` is one of the timeline the clip lies on. A placement is shown in the whole frame, with what lies below;
    anything else is cropped to the ink. Off the clip, the middle of its stay is shown. With `whole` all of a picture is
    shown, as it lies about the frame (`moment/framed.py`).
    """
    clip = project.clips[clip_id]
    local = frame - clip.head
    if not 0 <= local < clip.length:
        arrival, departure = visible_spans(clip)
        local = (arrival + clip.length - departure) / 2
    steps = clip.steps[:done]
    layer = evaluate_clip(project, clip.model_copy(update={"steps": steps}), local, whole=clip)
    settings = project.settings
    fit = Matrix.grow(width / settings.width, height / settings.height)
    if layer is None:
        return Plan(width, height, Blended((), Rect(0, 0, width, height), _GROUND))
    if whole:
        area = whole_of(stand(layer.content, settings.width, settings.height).box, settings.width, settings.height)
        view = Matrix.grow(width / (area.x1 - area.x0), height / (area.y1 - area.y0)) @ Matrix.shift(-area.x0, -area.y0)
        below = _below(project, clip, local) if isinstance(layer.content, TreatmentNow) else ()
        return plan_view(Scene(settings.width, settings.height, _AROUND, (*below, layer)), view, width, height, False)
    last = KINDS.get(steps[-1].kind) if steps else None
    in_frame = not isinstance(layer.content, TextNow) or (last is not None and last.group == "place")
    if in_frame:
        layers = (*_below(project, clip, local), layer)
        scene = Scene(settings.width, settings.height, settings.background, layers)
        return plan_view(scene, fit, width, height, False)
    scene = Scene(settings.width, settings.height, _GROUND, (layer,))
    return plan_view(scene, _closeup(layer, settings.width, settings.height, width, height), width, height, False)


def _below(project: Project, clip: Clip, local: float) -> tuple[Layer | Join, ...]:
    """What lies below a clip; what lies above has no part in what its steps do."""
    scene = evaluate(project, clip.head + local, timeline_of(project, clip))
    return tuple(takewhile(lambda each: not _shows(each, clip.id), scene.layers))


def _shows(layer: Layer | Join, clip: str) -> bool:
    sides = (layer.before, layer.after) if isinstance(layer, Join) else (layer,)
    return any(side is not None and side.clip == clip for side in sides)


def _closeup(layer: Layer, frame_width: int, frame_height: int, width: int, height: int) -> Matrix:
    """A view of the whole ink with a margin; where that would be too small to read, of where the ink begins."""
    standing = stand(layer.content, frame_width, frame_height)
    ink = Rect(0, 0, frame_width, frame_height) if standing.ink.empty else standing.ink
    wide, high = max(1.0, ink.x1 - ink.x0), max(1.0, ink.y1 - ink.y0)
    scale = min(_LARGE * height / high, 4.0)
    whole = min(scale, (1 - 2 * _MARGIN) * width / wide)
    middle = Matrix.shift(0, -(ink.y0 + ink.y1) / 2)
    if whole * high >= _LEGIBLE * height:
        return (
            Matrix.shift(width / 2, height / 2) @ Matrix.grow(whole) @ Matrix.shift(-(ink.x0 + ink.x1) / 2, 0) @ middle
        )
    carets = standing.layout.lines[0].carets if standing.layout and standing.layout.lines else (0, 0)
    begins, from_side = (ink.x1, 1 - _MARGIN) if carets[0] > carets[-1] else (ink.x0, _MARGIN)
    return Matrix.shift(from_side * width, height / 2) @ Matrix.grow(scale) @ Matrix.shift(-begins, 0) @ middle
