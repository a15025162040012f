"""Lights: added, and set up about what stands in space."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contents import with_properties
from ..moment.surroundings import centre_of, stood_at
from ..motion import Fixed, Property
from ..project.model import Clip, Frames, Frozen, Id, Light, Project
from ..project.timeline import timeline_of
from .adding import on_top
from .base import EditError, clip_of, rule, with_clip
from .riding import span_over

LightSort = Literal["spot", "point", "everywhere"]
LightSide = Literal["above left", "above right", "before", "below", "left", "right", "behind"]

_DIM = 0.35
"""Of the light that comes with the first one: what that does not reach is not black."""


class AddLight(Frozen):
    """A light from a frame on, above all: while it lasts, it shines on what stands in space and on what is solid. A
    dim light everywhere comes with the first one of a film, as a clip of its own whose name ends in `-dim`. `over` a
    clip they begin and end with it, and ride with it from then on."""

    kind: Literal["add_light"] = "add_light"
    clip: Annotated[Id, Field(max_length=56)]
    frame: Frames
    length: Annotated[int, Field(ge=1, le=10_000_000)]
    sort: LightSort = "spot"
    over: Id | None = None


class SetLight(Frozen):
    """A light is put on one side of what it shines at: of the middle of the frame, or of a clip `onto` that stands in
    space, as it stands at a frame of the film. A spot then points there; with no side it does so from where it is."""

    kind: Literal["set_light"] = "set_light"
    clip: Id
    side: LightSide | None
    onto: Id | None = None
    frame: Frames = 0


@rule(AddLight)
def add_light(project: Project, edit: AddLight) -> tuple[Project, str]:
    span = span_over(project, edit)
    first = not any(clip.content.kind == "light" for clip in project.clips.values())
    content = Light(choices={} if edit.sort == "spot" else {"sort": edit.sort})
    name = {"spot": "Spot", "point": "Light", "everywhere": "Light everywhere"}[edit.sort]
    if first and edit.sort != "everywhere":
        dim = Light(values={"strength": Fixed(value=_DIM)}, choices={"sort": "everywhere"})
        project = on_top(
            project, Clip(id=f"{edit.clip}-dim", track="none", name="Light everywhere", content=dim, **span), "Lights"
        )
    clip = Clip(id=edit.clip, track="none", name=name, content=content, **span)
    return on_top(project, clip, "Lights"), f"add a {'light' if edit.sort != 'spot' else 'spot'}"


_SIDES: dict[LightSide, tuple[float, float, float]] = {
    "above left": (-0.45, -0.45, -0.65),
    "above right": (0.45, -0.45, -0.65),
    "before": (0.0, -0.08, -0.95),
    "below": (0.0, 0.5, -0.45),
    "left": (-0.9, -0.1, -0.25),
    "right": (0.9, -0.1, -0.25),
    "behind": (0.25, -0.5, 0.6),
}
"""In widths of the frame, from what it shines at."""


@rule(SetLight)
def set_light(project: Project, edit: SetLight) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if not isinstance(clip.content, Light):
        raise EditError(f"“{clip.name}” is no light; nothing was changed.")
    if edit.side is None and clip.content.choices.get("sort") == "point":
        raise EditError(f"“{clip.name}” shines to all sides and points nowhere; nothing was changed.")
    if clip.content.choices.get("sort") == "everywhere":
        raise EditError(f"“{clip.name}” shines everywhere, from no side; nothing was changed. Make it a spot first.")
    at, of = (0.0, 0.0, 0.0), "the frame"
    if edit.onto is not None:
        other = clip_of(project, edit.onto)
        within = timeline_of(project, clip)
        if timeline_of(project, other) != within:
            raise EditError(f"“{other.name}” stands in another space than “{clip.name}”; nothing was changed.")
        stood = next((each for each in stood_at(project, within, edit.frame) if each.clip.id == other.id), None)
        if stood is None:
            raise EditError(f"“{other.name}” is not placed in 3D at this frame; nothing was changed.")
        at, of = centre_of(stood), other.name
    values: dict[str, Property] = {}
    if edit.side is not None:
        ways = dict(zip("xyz", _SIDES[edit.side]))
        wide = project.settings.width
        values = {name: Fixed(value=round(at[n] + wide * ways[name], 3)) for n, name in enumerate("xyz")}
    values |= {f"aim_{name}": Fixed(value=round(at[n], 3)) for n, name in enumerate("xyz")}
    content = with_properties(clip.content, values)
    said = f"light {of} from {edit.side}" if edit.side else f"point the light at {of}"
    return with_clip(project, clip.model_copy(update={"content": content})), said
