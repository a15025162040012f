"""A second line below a title: smaller, lighter, a little later, with its motion the other way."""

from __future__ import annotations

from typing import Annotated, Callable, Literal

from pydantic import Field, StringConstraints

from ..moment.evaluate import evaluate_clip
from ..moment.scene import TextNow
from ..moment.standing import stand
from ..motion import Fixed, Key, Property, Value, number
from ..project.model import MAX_TEXT, Clip, Frames, Frozen, Id, Project, Step, Text
from ..steps import BY_HAND
from ..type import family_of
from .aligning import shifted
from .base import EditError, clip_of, rule
from .copies import place_somewhere
from .spans import map_properties

_SMALLER = 0.55


class AddSecondLine(Frozen):
    """A copy of a title under it that arrives so many frames later and ends with it; what rose, sinks."""

    kind: Literal["add_second_line"] = "add_second_line"
    clip: Id
    new: Id
    later: Frames = Field(default=10, le=1000)
    text: Annotated[str, StringConstraints(max_length=MAX_TEXT)] = "Second line"


@rule(AddSecondLine)
def add_second_line(project: Project, edit: AddSecondLine) -> tuple[Project, str]:
    title = clip_of(project, edit.clip)
    if title.content.kind != "text":
        raise EditError(f"“{title.name}” has no words; a second line stands under words.")
    if edit.new in project.clips:
        raise EditError(f"There is already a clip “{edit.new}”; nothing was added.")
    if title.length - edit.later < 2:
        raise EditError(
            f"“{title.name}” is {title.length} frames long; a line {edit.later} frames later would not be seen."
        )
    content = title.content
    family = family_of(content.typeface)
    heavy = number(content.weight.value) if content.weight.state == "fixed" else 600
    lighter = max((weight for weight in (family.weights if family else ()) if weight < heavy), default=heavy)
    smaller = map_properties(title, _smaller, "content").content
    assert smaller.kind == "text"
    small = smaller.model_copy(
        update={
            "text": edit.text,
            "weight": Fixed(value=lighter),
            "width": content.width,
            "ranges": (),
            "held": {},
            "caption": None,
            "tracking": Fixed(value=20),
            "leading": content.leading,
        }
    )
    down = _drop(project, title, small)
    line = title.model_copy(
        update={
            "id": edit.new,
            "name": " ".join(edit.text.split())[:60] or "Empty title",
            "head": title.head + edit.later,
            "length": title.length - edit.later,
            "content": small,
            "rides": title.rides,
            "steps": _turned(title.steps, down),
        }
    )
    return place_somewhere(project, line), "add a second line"


def _smaller(prop: Property) -> Property:
    """Sizes in proportion; colours and the rest stay."""

    def times(value: Value) -> Value:
        return round(value * _SMALLER, 2) if isinstance(value, (int, float)) and value > 4 else value

    if prop.state == "fixed":
        return prop.model_copy(update={"value": times(prop.value)})
    if prop.state == "moving":
        return prop.model_copy(
            update={"keys": tuple(key.model_copy(update={"value": times(key.value)}) for key in prop.keys)}
        )
    return prop


def _drop(project: Project, title: Clip, small: Text) -> float:
    """How far down the line's middle lies below the title's, px: half of both inks and two thirds of its size
    between."""
    settings, middle = project.settings, title.length // 2
    inks = []
    for clip in (title, title.model_copy(update={"content": small})):
        layer = evaluate_clip(project, clip.model_copy(update={"steps": ()}), middle)
        assert layer is not None and isinstance(layer.content, TextNow)
        inks.append((stand(layer.content, settings.width, settings.height).ink, layer.content.size))
    (upper, _), (lower, size) = inks
    return round((upper.y1 - upper.y0) / 2 + (lower.y1 - lower.y0) / 2 + size * 2 / 3, 1)


def _turned(steps: tuple[Step, ...], down: float) -> tuple[Step, ...]:
    """The steps with every travel turned round, and the last placement moved down."""
    turned = [
        step.model_copy(
            update={
                "values": {
                    name: _negated(prop) if name in ("x", "y") and step.kind == BY_HAND.kind else prop
                    for name, prop in step.values.items()
                }
            }
        )
        for step in steps
    ]
    place = next((i for i in range(len(turned) - 1, -1, -1) if turned[i].kind == BY_HAND.kind), None)
    if place is None:
        return (*turned, Step(id="second-line", kind=BY_HAND.kind, values={"y": Fixed(value=down)}))
    y = turned[place].values.get("y") or Fixed(value=0.0)
    turned[place] = turned[place].model_copy(update={"values": {**turned[place].values, "y": shifted(y, down)}})
    return tuple(turned)


def _negated(prop: Property) -> Property:
    return _mapped(prop, lambda value: -number(value))


def _mapped(prop: Property, change: Callable[[Value], Value]) -> Property:
    def key(one: Key) -> Key:
        return one.model_copy(update={"value": change(one.value)})

    if prop.state == "fixed":
        return prop.model_copy(update={"value": change(prop.value)})
    if prop.state == "moving" and all(isinstance(one.value, float) for one in prop.keys):
        return prop.model_copy(update={"keys": tuple(key(one) for one in prop.keys)})
    return prop
