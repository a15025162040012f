"""Parts of a text set in their own way."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..project.model import MAX_TEXT, Frozen, Id, Project, Styled
from ..project.styled import STYLES, restyled
from .base import EditError, changed, clip_of, rule, with_clip


class StyleRange(Frozen):
    """Set characters [start, end) in their own way; what is None stays, `clear` takes all of it back first."""

    kind: Literal["style_range"] = "style_range"
    clip: Id
    style: Styled
    clear: bool = False


class StyleLine(Frozen):
    """The same for one line of the text, counted from 0."""

    kind: Literal["style_line"] = "style_line"
    clip: Id
    line: Annotated[int, Field(ge=0, le=MAX_TEXT)]
    style: Styled
    clear: bool = False


@rule(StyleRange)
def style_range(project: Project, edit: StyleRange) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if clip.content.kind != "text":
        raise EditError(f"“{clip.name}” has no words to set; it shows {clip.content.kind}.")
    start, end = edit.style.start, min(edit.style.end, len(clip.content.text))
    if start >= end:
        raise EditError(
            f"There are no characters from {start} to {edit.style.end} in “{clip.name}”; choose some first. Nothing "
            f"was changed."
        )
    asked = {name: getattr(edit.style, name) for name in STYLES if getattr(edit.style, name) is not None}
    made = restyled(clip.content.ranges, start, end, asked, edit.clear)
    if len(made) > 500:
        raise EditError("A text can have 500 parts set in their own way; this would be more. Nothing was changed.")
    label = "set a part plain" if edit.clear and not asked else f"{next(iter(asked), 'set')} of a part"
    return with_clip(project, clip.model_copy(update={"content": changed(clip.content, ranges=made)})), label


@rule(StyleLine)
def style_line(project: Project, edit: StyleLine) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    lines = clip.content.text.split("\n") if clip.content.kind == "text" else []
    if edit.line >= len(lines):
        raise EditError(f"“{clip.name}” has {len(lines)} lines; there is no line {edit.line + 1}. Nothing was changed.")
    start = sum(len(line) + 1 for line in lines[: edit.line])
    style = edit.style.model_copy(update={"start": start, "end": start + len(lines[edit.line])})
    return style_range(project, StyleRange(clip=edit.clip, style=style, clear=edit.clear))
