"""Shapes: drawn over a film, fitted to what lies under them, and made another one while the film runs."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from ..moment.compiled import compiled
from ..moment.evaluate import evaluate_clip
from ..moment.scene import ShapeNow
from ..moment.shaped import outline_of
from ..moment.standing import layout_of
from ..moment.whereabouts import whereabouts_of
from ..motion import Ease, Fixed, Key, Moving, Outline, Property, Strengths, resolve_keys
from ..motion.outlines import turned_like
from ..picture import Rect
from ..project.address import CONTENT
from ..project.model import Clip, Frames, Frozen, Id, Project, Shape, Step, Text
from ..project.timeline import timeline_of
from ..project.times import clock_of
from ..steps import BY_HAND
from .adding import with_clip_somewhere
from .aligning import box_at, moved, shifted
from .base import EditError, clip_of, rule, with_clip
from .values import property_of

Px = Annotated[float, Field(ge=-20000, le=20000, allow_inf_nan=False)]
Size = Annotated[float, Field(ge=0, le=40000, allow_inf_nan=False)]
Form = Literal["rectangle", "ellipse", "polygon", "star", "line", "outline"]


class AddShape(Frozen):
    """A shape from a frame on, about a middle that counts from the middle of the frame: on the topmost track with room.

    An `outline` counts from that middle, too."""

    kind: Literal["add_shape"] = "add_shape"
    clip: Id
    frame: Frames
    length: Annotated[int, Field(ge=1, le=10_000_000)]
    form: Form = "rectangle"
    x: Px = 0
    y: Px = 0
    width: Size = 320
    height: Size = 180
    turn: Annotated[float, Field(ge=-36000, le=36000, allow_inf_nan=False)] = 0
    outline: Outline | None = None


class FitShape(Frozen):
    """A shape is laid around what another clip inks at a frame of their timeline, `away` px from it; it is then as wide
    and as high as that, and no longer turned."""

    kind: Literal["fit_shape"] = "fit_shape"
    clip: Id
    to: Id
    frame: Frames
    away: Px = 0


class FitWords(Frozen):
    """A title's words are broken and sized so that they are as large as fits within a shape, `away` px from its edge,
    and stand in its middle."""

    kind: Literal["fit_words"] = "fit_words"
    clip: Id
    within: Id
    frame: Frames
    away: Size = 16


class BecomeShape(Frozen):
    """A shape becomes another one from a frame of its timeline on, within `length` frames: another form of its own
    size, or the form, place and colours of another shape, `like`. It is an outline from then on."""

    kind: Literal["become_shape"] = "become_shape"
    clip: Id
    frame: Frames
    length: Annotated[int, Field(ge=1, le=100_000)] = 20
    form: Form | None = None
    like: Id | None = None
    ease: Ease = Strengths(start=0.4, end=0.7)


_COLOURS = ("#d98e32", "#4f7a6b", "#c9563c", "#7f97ad", "#7a3f1d", "#e8c36a")
"""What new shapes are filled with, in turn, so that one is told from the other."""


def _colour(project: Project, edit: AddShape) -> str:
    """The first colour that no shape has that is there at the same time; the first of all where all are taken."""
    beside = [
        each.content.values.get("colour", Fixed(value=_COLOURS[0]))
        for each in project.clips.values()
        if isinstance(each.content, Shape) and each.head < edit.frame + edit.length and edit.frame < each.end
    ]
    taken = {each.value for each in beside if each.state == "fixed"}
    return next((each for each in _COLOURS if each not in taken), _COLOURS[0])


@rule(AddShape)
def add_shape(project: Project, edit: AddShape) -> tuple[Project, str]:
    values: dict[str, Property] = {name: Fixed(value=getattr(edit, name)) for name in ("x", "y", "turn")}
    if edit.form == "outline":
        values |= {} if edit.outline is None else {"outline": Fixed(value=edit.outline)}
    else:
        values |= {name: Fixed(value=getattr(edit, name)) for name in ("width", "height")}
    colour = _colour(project, edit)
    if colour != _COLOURS[0]:
        values["colour"] = Fixed(value=colour)
    if edit.form == "line":
        values["stroke"] = Fixed(value=max(2.0, round(project.settings.height / 180)))
    clip = Clip(
        id=edit.clip,
        track="none",
        name=edit.form.capitalize(),
        head=edit.frame,
        length=edit.length,
        content=Shape(values=values, choices={"form": edit.form}),
        steps=(Step(id="placement", kind=BY_HAND.kind),),
    )
    return with_clip_somewhere(project, clip, False, None), f"add {edit.form}"


def _shape_of(project: Project, id: str) -> tuple[Clip, Shape]:
    clip = clip_of(project, id)
    if not isinstance(clip.content, Shape):
        raise EditError(f"“{clip.name}” is no shape; nothing was changed.")
    return clip, clip.content


def _standing(project: Project, clip: Clip, other: Clip, frame: int) -> Rect:
    """What another clip inks at a frame, in the space of this one's content."""
    if timeline_of(project, clip) != timeline_of(project, other):
        raise EditError(f"“{other.name}” lies on another timeline than “{clip.name}”; nothing was changed.")
    settings = project.settings
    seen = evaluate_clip(project, other, frame - other.head) if other.head <= frame < other.end else None
    own = evaluate_clip(project, clip, frame - clip.head) if clip.head <= frame < clip.end else None
    if seen is None or own is None:
        there = other if seen is None else clip
        raise EditError(f"“{there.name}” is not seen at this frame; nothing was changed. Go to one where both are.")
    box = whereabouts_of(seen, settings.width, settings.height).box
    matrix = whereabouts_of(own, settings.width, settings.height).matrix
    if box.empty:
        raise EditError(f"“{other.name}” inks nothing at this frame; nothing was changed.")
    if abs(matrix.scale) < 1e-6:
        raise EditError(f"“{clip.name}” has no size at this frame; nothing was changed.")
    return box.through(matrix.inverse())


_SIZE = ("width", "height", "turn")


@rule(FitShape)
def fit_shape(project: Project, edit: FitShape) -> tuple[Project, str]:
    clip, content = _shape_of(project, edit.clip)
    other = clip_of(project, edit.to)
    if other is clip:
        raise EditError("A shape can't be fitted to itself; nothing was changed. Take another clip in hand with it.")
    if content.choices.get("form") in ("outline", "line"):
        raise EditError(
            f"“{clip.name}” is drawn corner by corner, and has no width and height to be fitted; nothing was changed."
        )
    moving = next((name for name in _SIZE if property_of(clip, CONTENT, name).state != "fixed"), None)
    if moving:
        raise EditError(
            f"The {moving} of “{clip.name}” moves; nothing was changed. "
            "Fit it before it is set in motion, or take its keys away."
        )
    box = _standing(project, clip, other, edit.frame).grown(edit.away)
    if box.empty:
        raise EditError(f"So far inside of “{other.name}” no room is left; nothing was changed.")
    now = compiled(project, clip).content
    assert now is not None
    was = dict(now(edit.frame - clip.head).values)
    to = {"x": (box.x0 + box.x1 - project.settings.width) / 2, "y": (box.y0 + box.y1 - project.settings.height) / 2}
    values: dict[str, Property] = {
        name: shifted(property_of(clip, CONTENT, name), value - was[name]) for name, value in to.items()
    }
    values |= {"width": Fixed(value=round(box.x1 - box.x0, 3)), "height": Fixed(value=round(box.y1 - box.y0, 3))}
    fitted = content.model_copy(update={"values": {**content.values, **values, "turn": Fixed(value=0.0)}})
    made = clip.model_copy(update={"content": fitted})
    return with_clip(project, made), f"fit {clip.name} to {other.name}"


_ROUND = 1 - math.sqrt(0.5)
"""Share of its width that an ellipse takes from the largest rectangle within it."""


@rule(FitWords)
def fit_words(project: Project, edit: FitWords) -> tuple[Project, str]:
    clip, (shape, content) = clip_of(project, edit.clip), _shape_of(project, edit.within)
    words = clip.content
    if not isinstance(words, Text):
        raise EditError(f"“{clip.name}” has no words; nothing was changed. Take a title and a shape in hand.")
    moving = next((name for name in ("size", "box") if getattr(words, name).state != "fixed"), None)
    if moving:
        raise EditError(
            f"The {moving} of “{clip.name}” moves; nothing was changed. "
            "Fit it before it is set in motion, or take its keys away."
        )
    box = _standing(project, clip, shape, edit.frame)
    wide, high = box.x1 - box.x0, box.y1 - box.y0
    less = _ROUND if content.choices.get("form") in ("ellipse", "polygon", "star") else 0.0
    wide, high = wide * (1 - less) - 2 * edit.away, high * (1 - less) - 2 * edit.away
    if wide < 4 or high < 4:
        raise EditError(f"“{shape.name}” leaves no room for words; nothing was changed. Make it larger, or go nearer.")
    words = words.model_copy(
        update={"box": Fixed(value=round(wide, 1)), "box_does": "wrap", "align": "centre"}
        | {"stand_x": "centre", "stand_y": "middle"}
    )
    size = _largest(project, clip.model_copy(update={"content": words}), words, wide, high, edit.frame)
    words = words.model_copy(update={"size": Fixed(value=size)})
    made = clip.model_copy(update={"content": words})
    box, now = (box_at(project, each, edit.frame) for each in (shape, made))
    by = [(box[axis] + box[axis + 2] - now[axis] - now[axis + 2]) / 2 for axis in (0, 1)]
    return with_clip(project, moved(made, *by)), f"fit {clip.name} into {shape.name}"


def _largest(project: Project, clip: Clip, words: Text, wide: float, high: float, frame: int) -> float:
    """The largest size in tenths of a px at which the words, broken to a width, are no higher and no wider."""

    def fits(tenths: int) -> bool:
        trial = words.model_copy(update={"size": Fixed(value=tenths / 10)})
        layout = layout_of(compiled(project, clip.model_copy(update={"content": trial})).text(frame - clip.head))
        lines = layout.lines
        if not lines:
            return True
        tall = (lines[-1].baseline + lines[-1].descent - lines[0].baseline + lines[0].ascent) * tenths / 10
        return tall <= high and max(line.width for line in lines) * tenths / 10 <= wide + 1e-6

    low, top = 10, 20_000
    if not fits(low):
        raise EditError("Even at 1 px the words don't fit; nothing was changed. Use fewer words or a larger shape.")
    while top - low > 1:
        middle = (low + top) // 2
        low, top = (middle, top) if fits(middle) else (low, middle)
    return low / 10


@rule(BecomeShape)
def become_shape(project: Project, edit: BecomeShape) -> tuple[Project, str]:
    clip, content = _shape_of(project, edit.clip)
    if (edit.form is None) == (edit.like is None):
        raise EditError("Say either which form it becomes, or which shape it becomes like; nothing was changed.")
    first = edit.frame - clip.head
    if first < 0 or first + edit.length >= clip.length:
        raise EditError(
            f"“{clip.name}” is not there for {edit.length} frames from here on; nothing was changed. "
            "Go further to the left, or make it longer."
        )
    now = _now(project, clip, first)
    if edit.like is None:
        assert edit.form is not None
        goal = _with(now, form=edit.form)
        said: str = edit.form
    else:
        other, _ = _shape_of(project, edit.like)
        goal, said = (
            _now(project, other, min(max(0, edit.frame + edit.length - other.head), other.length - 1)),
            other.name,
        )
    try:
        one, two = outline_of(now), outline_of(goal)
    except ValueError as error:
        raise EditError(f"“{clip.name}” can't become “{said}”, since {error}; nothing was changed.") from None
    before, after = turned_like(one, two)
    was = dict(now.values)
    going: dict[str, Property] = {"outline": _way(content, "outline", clip, first, edit, before, after)}
    if edit.like is not None:
        for name, value in goal.values:
            if name in _TAKEN and value != was[name]:
                going[name] = _way(content, name, clip, first, edit, was[name], value)
    made = content.model_copy(
        update={"values": {**content.values, **going}, "choices": {**content.choices, "form": "outline"}}
    )
    return with_clip(project, clip.model_copy(update={"content": made})), f"{clip.name} becomes {said}"


_TAKEN = ("x", "y", "turn", "filled", "colour", "second", "angle", "stroke", "line_colour")


def _now(project: Project, clip: Clip, frame: float) -> ShapeNow:
    of = compiled(project, clip).content
    found = of(frame) if of is not None else None
    assert isinstance(found, ShapeNow)
    return found


def _with(shape: ShapeNow, **values: object) -> ShapeNow:
    return shape._replace(values=tuple((name, values.get(name, value)) for name, value in shape.values))


def _way(
    content: Shape, name: str, clip: Clip, first: int, edit: BecomeShape, before: object, after: object
) -> Property:
    """The value from before to after within the time of the edit; keys that lie outside of it stay."""
    own = content.values.get(name)
    last = first + edit.length
    keys = [
        (frame, Key(at=float(frame + clip.skipped), value=value, ease=edit.ease))  # type: ignore[arg-type]
        for frame, value in ((float(first), before), (float(last), after))
    ]
    if own is not None and own.state == "moving":
        timed = resolve_keys(own, clock_of(clip))
        keys += [(item.frame, item.key) for item in timed if not first <= item.frame <= last]
    return Moving(keys=tuple(key for _, key in sorted(keys, key=lambda each: each[0])))
