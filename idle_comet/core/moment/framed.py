"""A move's framings on the picture they lie on, to be seen and dragged there."""

from __future__ import annotations

from ..modelled import Model
from ..motion import Framing, resolve_keys, shown
from ..picture import Rect
from ..project.model import Clip, Project
from ..project.times import clock_of
from ..steps import MOVE
from .evaluate import evaluate_clip
from .filling import filling
from .placed import Point
from .standing import stand


class FramingNow(Model):
    """A framing: the frame's corners on the picture, clockwise from its upper left, and its middle. `key` is the id of
    the key that holds it and `frame` where that stands in the clip; one that is not in a key has none."""

    key: int | None
    frame: float
    framing: Framing
    corners: list[Point]
    middle: Point


class Framed(Model):
    """The framings of a move in px of the frame as the picture lies at rest, before the move. `left`, `top`, `width`
    and `height` are what of that is shown whole: the picture and the frame. `now` is what the frame shows at the moment
    that was asked for, kept filled."""

    left: float
    top: float
    width: float
    height: float
    framings: list[FramingNow]
    now: FramingNow


def framed(project: Project, clip: Clip, step: str, local: float) -> Framed | None:
    """The framings of a step that is a move, at a frame of its clip; None where it is none, or the clip is not
    there."""
    number = next((n for n, each in enumerate(clip.steps) if each.id == step and each.kind == MOVE.kind), None)
    layer = evaluate_clip(project, clip, local) if number is not None else None
    if number is None or layer is None:
        return None
    wide, high = project.settings.width, project.settings.height
    found = filling(project, clip, layer.content)
    held = next((each for each in layer.steps if each.id == step), None)
    prop = clip.steps[number].values.get("framing")
    default = MOVE.parameters[0].default
    keys = resolve_keys(prop, clock_of(clip)) if prop is not None and prop.state == "moving" else []
    made = [
        _placed(each.key.id, each.frame, each.key.value, wide, high)
        for each in keys
        if isinstance(each.key.value, Framing)
    ]
    if not keys:
        fixed = prop.value if prop is not None and prop.state == "fixed" else default
        made = [_placed(None, 0.0, fixed if isinstance(fixed, Framing) else default, wide, high)]
    scale = found.scale if found is not None and found.step == step else 1.0
    now = held.values["framing"] if held is not None else default
    box = whole_of(stand(layer.content, wide, high).box, wide, high)
    return Framed(
        left=box.x0,
        top=box.y0,
        width=box.x1 - box.x0,
        height=box.y1 - box.y0,
        framings=made,
        now=_placed(None, local, now, wide, high, scale),
    )


def whole_of(box: Rect, wide: float, high: float) -> Rect:
    """All of a picture, and all of the frame, with a narrow margin."""
    both = box.union(Rect(0, 0, wide, high))
    return both.grown(0.02 * max(both.x1 - both.x0, both.y1 - both.y0))


def _placed(
    key: int | None, frame: float, framing: Framing, wide: float, high: float, filled: float = 1.0
) -> FramingNow:
    seen, middle = shown(framing), complex(wide / 2, high / 2)

    def at(x: float, y: float) -> Point:
        # Kept filled, the frame shows so much less of the picture about its middle.
        found = seen.inverse(complex(x - wide / 2, y - high / 2) / filled) + middle
        return found.real, found.imag

    corners = [at(x, y) for x, y in ((0, 0), (wide, 0), (wide, high), (0, high))]
    return FramingNow(key=key, frame=frame, framing=framing, corners=corners, middle=at(wide / 2, high / 2))
