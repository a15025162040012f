"""What is held to followed points: titles and pictures that go with them, and shots held still by them."""

from __future__ import annotations

import cmath
import math
from typing import Annotated, Any, Literal, NamedTuple

from pydantic import Field

from ..moment.compiled import sample_of
from ..moment.evaluate import evaluate_clip
from ..moment.points import at_rest, on_picture, path_of, source_at
from ..moment.standing import stand
from ..motion import Driven, Fixed, OnPoint, Property
from ..picture import Matrix
from ..project.model import Clip, Frames, Frozen, Id, Project, Step
from ..steps import BY_HAND, STILL_POINT
from .base import EditError, clip_of, rule, with_clip, with_step
from .clips import Clips, named
from .lanes import with_clips
from .looks import check_looks
from .points import point_of, shot_of

_HELD = "held-to-point"
"""The id of the step that holds a clip to a point."""


class HoldToPoint(Frozen):
    """Clips go with a point of a shot from now on, and with a second one turn and grow with both. At frame `at` of the
    timeline they lie on they stand as they stood. None lets them go: they stay where they are at that frame."""

    kind: Literal["hold_to_point"] = "hold_to_point"
    clips: Clips
    shot: Id | None
    point: Id | None = None
    second: Id | None = None
    at: Frames = 0


class HoldStill(Frozen):
    """A shot is moved against a point of its own, so that it stays where it is at a frame of its clip; with a second
    one against its turn and its size too. With `smooth` seconds only what is quicker than that is taken out."""

    kind: Literal["hold_still"] = "hold_still"
    clip: Id
    point: Id
    second: Id | None = None
    frame: Frames = 0
    smooth: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] = 0.0


class _Holding(NamedTuple):
    """What is held to: a shot's points (None is its own), where the first one is seen at the frame of holding, and the
    way from there to the second."""

    shot: str | None
    point: str
    second: str | None
    place: complex
    way: complex | None
    says: str

    def on(self, gives: Literal["x", "y", "turn", "size"], rest: float, **more: Any) -> Property:
        """A value that goes with them."""
        motor = {"clip": self.shot, "point": self.point, "second": self.second, "gives": gives, **more}
        return Driven(motor=OnPoint.model_validate(motor), rest=rest)


def _holding(shot: Clip, first: str, second: str | None, source: int | None, by: Matrix | None) -> _Holding:
    """A shot's points as they are seen at a frame of it, through a matrix from px of its source."""
    one, other = point_of(shot, first), None if second is None else point_of(shot, second)
    if source is None or by is None:
        raise EditError(f"The picture of “{shot.name}” is not there; nothing was changed.")
    places = [path_of(each).at(source) for each in (one, other) if each is not None]
    seen = [complex(*by.map(each.real, each.imag)) for each in places]
    way = seen[1] - seen[0] if other is not None else None
    if way is not None and abs(way) < 1:
        raise EditError("The two points lie on one another, and say nothing of a turn; nothing was changed.")
    says = one.name + (f" and {other.name}" if other is not None else "")
    return _Holding(shot.id, first, second, seen[0], way, says)


@rule(HoldToPoint)
def hold_to_point(project: Project, edit: HoldToPoint) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    if edit.shot is None:
        return with_clips(project, [_let_go(project, clip, edit.at) for clip in clips]), f"let {named(clips)} go"
    shot, _ = shot_of(project, edit.shot)
    if edit.point is None:
        raise EditError("Choose the point that it shall go with; nothing was changed.")
    local = min(max(edit.at - shot.head, 0), shot.length - 1)
    source, matrix = source_at(project, shot, local), on_picture(project, shot, float(local))
    to = _holding(shot, edit.point, edit.second, source, matrix)
    for clip in clips:
        check_looks(project, clip, shot.id, f"place of “{clip.name}”")
    return with_clips(project, [_held(project, clip, to, edit.at) for clip in clips]), (
        f"hold {named(clips)} to {to.says}"
    )


def _held(project: Project, clip: Clip, to: _Holding, at: int) -> Clip:
    """A placement after all others that goes with the points; at the frame it is held at it stands as it stood."""
    layer = evaluate_clip(project, clip, 0)
    if layer is None:
        raise EditError(f"There is nothing of “{clip.name}” to be held; nothing was changed.")
    step = next((each for each in clip.steps if each.id == _HELD), None)
    old = {"x": 0.0, "y": 0.0, "rotation": 0.0, "scale": 1.0}
    if step is not None:
        old = {name: _value(project, clip, _HELD, name, at) for name in old}
    rest = complex(*stand(layer.content, project.settings.width, project.settings.height).anchor)
    anchor = rest + complex(old["x"], old["y"])
    if to.way is None:
        shift = complex(old["x"], old["y"]) - to.place
        values = {
            "x": to.on("x", 0.0, offset=shift.real),
            "y": to.on("y", 0.0, offset=shift.imag),
            **{name: Fixed(value=old[name]) for name in ("rotation", "scale")},
        }
    else:
        # The step turns and grows about where the content rests; that place goes with the points.
        aside = (anchor - to.place) / to.way
        seen = {"aside": (aside.real, aside.imag)}
        values = {
            "x": to.on("x", 0.0, offset=-rest.real, **seen),
            "y": to.on("y", 0.0, offset=-rest.imag, **seen),
            "rotation": to.on("turn", 0.0, offset=old["rotation"] - math.degrees(cmath.phase(to.way))),
            "scale": to.on("size", 1.0, gain=old["scale"] * project.settings.height / abs(to.way)),
        }
    if step is not None:
        return with_step(clip, step.model_copy(update={"values": {**step.values, **values}, "on": True}))
    if len(clip.steps) >= 100:
        raise EditError(f"“{clip.name}” already has 100 steps; it can't be held. Nothing was changed.")
    return clip.model_copy(update={"steps": (*clip.steps, Step(id=_HELD, kind=BY_HAND.kind, values=values))})


def _value(project: Project, clip: Clip, step: str, name: str, at: int) -> float:
    """A number of a step at a frame of the timeline."""
    local = min(max(at - clip.head, 0), clip.length - 1)
    return round(float(sample_of(project, clip, step, name)(local)), 4)


def _let_go(project: Project, clip: Clip, at: int) -> Clip:
    """What goes with another clip's point stays as it is at a frame."""
    found = False
    for step in clip.steps:
        values = dict(step.values)
        for name, prop in step.values.items():
            if prop.state == "driven" and prop.motor.kind == "on_point" and prop.motor.clip is not None:
                values[name], found = Fixed(value=_value(project, clip, step.id, name, at)), True
        clip = with_step(clip, step.model_copy(update={"values": values}))
    if not found:
        raise EditError(f"“{clip.name}” is held to no point; nothing was changed.")
    return clip


@rule(HoldStill)
def hold_still(project: Project, edit: HoldStill) -> tuple[Project, str]:
    clip, _ = shot_of(project, edit.clip)
    local = min(edit.frame, clip.length - 1)
    source, matrix = source_at(project, clip, local), at_rest(project, clip)
    to = _holding(clip, edit.point, edit.second, source, matrix)._replace(shot=None)
    values = _calmed(project, to, edit.smooth) if edit.smooth else _stopped(project, to)
    known = next((step for step in clip.steps if step.kind == STILL_POINT.kind), None)
    if known is not None:
        now = with_step(clip, known.model_copy(update={"values": values, "on": True}))
    elif len(clip.steps) >= 100:
        raise EditError(f"“{clip.name}” already has 100 steps; it can't be held still. Nothing was changed.")
    else:
        taken = {step.id for step in clip.steps}
        id = next(name for n in range(101) if (name := f"held-still-{n}" if n else "held-still") not in taken)
        # Before all else: what it goes with is the picture at rest.
        now = clip.model_copy(update={"steps": (Step(id=id, kind=STILL_POINT.kind, values=values), *clip.steps)})
    return with_clip(project, now), f"hold {clip.name} still by {to.says}"


def _middle(project: Project) -> complex:
    return complex(project.settings.width, project.settings.height) / 2


def _stopped(project: Project, to: _Holding) -> dict[str, Property]:
    """Values against all that the points do."""
    about = to.place - _middle(project)
    values: dict[str, Property] = {
        "x": to.on("x", 0.0, offset=-to.place.real),
        "y": to.on("y", 0.0, offset=-to.place.imag),
        "about_x": Fixed(value=about.real),
        "about_y": Fixed(value=about.imag),
    }
    if to.way is not None:
        values["turn"] = to.on("turn", 0.0, offset=-math.degrees(cmath.phase(to.way)))
        values["size"] = to.on("size", 1.0, gain=project.settings.height / abs(to.way))
    return values


def _calmed(project: Project, to: _Holding, smooth: float) -> dict[str, Property]:
    """Values against what the points do quicker than so many seconds."""
    quick, slow = ({"part": part, "smooth": smooth} for part in ("quick", "slow"))
    middle = _middle(project)
    about = to.place - middle
    values: dict[str, Property] = {
        "x": to.on("x", 0.0, **quick),
        "y": to.on("y", 0.0, **quick),
        "about_x": to.on("x", about.real, offset=-middle.real, **slow),
        "about_y": to.on("y", about.imag, offset=-middle.imag, **slow),
    }
    if to.way is not None:
        values |= {"turn": to.on("turn", 0.0, **quick), "size": to.on("size", 1.0, **quick)}
    return values
