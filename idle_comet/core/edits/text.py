"""Changing words and how they are set."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from ..moment.compiled import held_frames
from ..motion import Fixed
from ..project.model import MAX_TEXT, Clip, Feature, Frames, Frozen, HeldKey, Id, Project, Text
from ..project.styled import kept
from .base import EditError, changed, clip_of, clock_of, rule, with_clip
from .values import with_key


class ChangeText(Frozen):
    """New words, or a new typeface, weight or alignment; what is None stays.

    With a frame of the clip, what is held there by a key is changed in that key: the editor changes what they see.
    `typed_on` is the text that new words were typed on: what others typed into it since is merged with them.
    """

    kind: Literal["change_text"] = "change_text"
    clip: Id
    text: Annotated[str, StringConstraints(max_length=MAX_TEXT)] | None = None
    typeface: Annotated[str, StringConstraints(max_length=100)] | None = None
    weight: Annotated[float, Field(ge=1, le=1000, allow_inf_nan=False)] | None = None
    case: Literal["typed", "upper", "lower", "small"] | None = None
    kerning: bool | None = None
    features: Annotated[tuple[Feature, ...], Field(max_length=40)] | None = None
    box_does: Literal["wrap", "justify", "fit"] | None = None
    align: Literal["left", "centre", "right"] | None = None
    stand_x: Literal["left", "centre", "right"] | None = None
    stand_y: Literal["top", "middle", "bottom"] | None = None
    measured_by: Literal["ink", "type"] | None = None
    frame: Frames | None = None
    typed_on: Annotated[str, StringConstraints(max_length=MAX_TEXT)] | None = None


_LABELS = {
    "text": "words",
    "typeface": "typeface",
    "weight": "weight",
    "case": "case",
    "kerning": "kerning",
    "features": "features",
    "box_does": "box",
    "align": "line alignment",
    "stand_x": "place in the frame",
    "stand_y": "place in the frame",
    "measured_by": "alignment by {}",
}


@rule(ChangeText)
def change_text(project: Project, edit: ChangeText) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    own = clip.content
    if own.kind != "text":
        raise EditError(f"“{clip.name}” has no words to change; it shows {own.kind}.")
    values = {name: getattr(edit, name) for name in _LABELS if getattr(edit, name) is not None}
    if "text" in values:
        values["text"] = values["text"].replace("\r\n", "\n").replace("\r", "\n")
        if "\x00" in values["text"]:
            raise EditError("The words hold a character that can't be kept (NUL). They are as they were; leave it out.")
    if "weight" in values:
        weight = values.pop("weight")
        set_to = (
            with_key(clip, own.weight, min(edit.frame or 0, clip.length - 1), weight)
            if own.weight.state == "moving"
            else Fixed(value=weight)
        )
        own = changed(own, weight=set_to)
    if "text" in values and "text" not in own.held:
        values["ranges"] = kept(own.ranges, own.text, values["text"])
    held = _held(clip, own, values, edit.frame) if edit.frame is not None else {}
    if held:
        values = {key: value for key, value in values.items() if key not in held}
        values["held"] = {**own.held, **held}
    content = changed(own, **values)
    name = " ".join(content.text.split())[:60] or "Empty title"
    first = next((key for key in _LABELS if getattr(edit, key) is not None), "text")
    label = _LABELS[first].format(getattr(edit, first))
    return with_clip(project, clip.model_copy(update={"content": content, "name": name})), label


def _held(clip: Clip, content: Text, values: dict[str, Any], frame: int) -> dict[str, tuple[HeldKey, ...]]:
    """The keys that hold one of these choices at a frame, with the new value in the one that rules there."""

    found = {}
    for name, value in values.items():
        keys = next((held for held_name, held in content.held.items() if held_name == name), ())
        ruling = next(
            (index for when, index, _ in reversed(held_frames(keys, clock_of(clip))) if when <= frame + 1e-6), None
        )
        if ruling is not None:
            found[name] = (*keys[:ruling], keys[ruling].model_copy(update={"value": value}), *keys[ruling + 1 :])
    return found
