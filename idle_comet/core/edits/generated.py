"""Generated pictures: laid over a film, and made another one."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..patterns import PATTERNS, Pattern
from ..project.model import Clip, Frames, Frozen, Generated, Id, Project, Step
from ..steps import BY_HAND
from ..wording import in_text
from .adding import on_top, with_clip_somewhere
from .base import EditError, clip_of, rule, with_clip

Word = Annotated[str, StringConstraints(max_length=60)]


class AddGenerated(Frozen):
    """A generated picture from a frame on, with its pattern's own blend mode: on a track of pictures with room,
    or at the top if it is meant to lie over all."""

    kind: Literal["add_generated"] = "add_generated"
    clip: Id
    frame: Frames
    length: Annotated[int, Field(ge=1, le=10_000_000)]
    pattern: Word
    track: Id | None = None


class ChangePattern(Frozen):
    """Another pattern in place of the one a clip has; values of the same name are kept."""

    kind: Literal["change_pattern"] = "change_pattern"
    clip: Id
    pattern: Word


def _pattern(kind: str) -> Pattern:
    if kind not in PATTERNS:
        raise EditError(f"There is no generated picture “{kind}”; nothing was changed.")
    return PATTERNS[kind]


@rule(AddGenerated)
def add_generated(project: Project, edit: AddGenerated) -> tuple[Project, str]:
    pattern = _pattern(edit.pattern)
    clip = Clip(
        id=edit.clip,
        track="none",
        name=pattern.label,
        head=edit.frame,
        length=edit.length,
        content=Generated(pattern=pattern.kind),
        blend=pattern.blend,
        steps=(Step(id="placement", kind=BY_HAND.kind),),
    )
    said = f"add {in_text(pattern.label)}"
    if pattern.over_all and edit.track is None:
        return on_top(project, clip, "Over all"), said
    return with_clip_somewhere(project, clip, True, edit.track), said


@rule(ChangePattern)
def change_pattern(project: Project, edit: ChangePattern) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    pattern = _pattern(edit.pattern)
    content = clip.content
    if content.kind != "generated":
        raise EditError(f"“{clip.name}” is no generated picture; nothing was changed.")
    before = PATTERNS.get(content.pattern)
    sorts = {each.name: each.sort for each in before.parameters} if before else {}
    same = {each.name for each in pattern.parameters if sorts.get(each.name) == each.sort}
    taken = {each.name: each.options for each in pattern.choices}
    made = Generated(
        pattern=pattern.kind,
        values={name: prop for name, prop in content.values.items() if name in same},
        choices={name: word for name, word in content.choices.items() if word in taken.get(name, ())},
    )
    # A name or a mode of its own is kept.
    renamed = {"name": pattern.label} if before and clip.name == before.label else {}
    blended = {"blend": pattern.blend} if before and clip.blend == before.blend else {}
    after = clip.model_copy(update={"content": made, **renamed, **blended})
    return with_clip(project, after), f"change to {in_text(pattern.label)}"
