"""Changing words and how they are set."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..model import MAX_TEXT, Frozen, Id, Project
from .base import EditError, changed, clip_of, with_clip


class ChangeText(Frozen):
    """New words, or a new typeface, weight or alignment; what is None stays."""

    kind: Literal["change_text"] = "change_text"
    clip: Id
    text: Annotated[str, StringConstraints(max_length=MAX_TEXT)] | None = None
    typeface: Annotated[str, StringConstraints(max_length=100)] | None = None
    weight: int | None = Field(default=None, ge=1, le=1000)
    align: Literal["left", "centre", "right"] | None = None
    stand_x: Literal["left", "centre", "right"] | None = None
    stand_y: Literal["top", "middle", "bottom"] | None = None
    measured_by: Literal["ink", "type"] | None = None


_LABELS = {
    "text": "words", "typeface": "typeface", "weight": "weight", "align": "line alignment",
    "stand_x": "place in the frame", "stand_y": "place in the frame", "measured_by": "alignment by {}",
}


def change_text(project: Project, edit: ChangeText) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if clip.content.kind != "text":
        raise EditError(f"“{clip.name}” has no words to change; it shows {clip.content.kind}.")
    values = {name: getattr(edit, name) for name in _LABELS if getattr(edit, name) is not None}
    if "text" in values:
        values["text"] = values["text"].replace("\r\n", "\n").replace("\r", "\n")
        if "\x00" in values["text"]:
            raise EditError("The words hold a character that can't be kept (NUL). They are as they were; leave it out.")
    content = changed(clip.content, **values)
    name = " ".join(content.text.split())[:60] or "Empty title"
    first = next(iter(values), "text")
    label = _LABELS[first].format(values.get(first))
    return with_clip(project, clip.model_copy(update={"content": content, "name": name})), label
