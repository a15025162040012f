"""A film of one clip alone."""

from __future__ import annotations

from ..project.model import Clip, Project
from ..project.timeline import timeline_of
from .base import EditError, clip_of


def only(project: Project, id: str) -> tuple[Project, Clip]:
    """The film with nothing seen and heard but one clip of its own timeline; all others stay to be looked at. Raises
    EditError."""
    clip = clip_of(project, id)
    if timeline_of(project, clip) is not None:
        raise EditError(f"“{clip.name}” lies within a group; take the group itself, or take it apart first.")
    if clip.content.kind in ("treatment", "sound"):
        raise EditError(f"“{clip.name}” has no picture of its own to be exported.")
    clips = {}
    for each in project.clips.values():
        seen = "alone" if each.id == id else "hidden" if each.content.kind == "sound" else each.seen
        # Alone are only those on the film's timeline: what a group holds keeps its own.
        if each.id != id and each.seen == "alone" and timeline_of(project, each) is None:
            seen = "shown"
        clips[each.id] = each.model_copy(update={"seen": seen})
    made = project.model_copy(update={"clips": clips})
    return made, made.clips[id]
