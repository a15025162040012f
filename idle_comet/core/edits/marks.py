"""Markers, and the range that loops and is exported."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import StringConstraints

from ..moment.meeting import pull
from ..project.model import Frames, Frozen, Id, InToOut, Marker, Marks, Project
from .base import EditError, rule
from .clips import Reach


class SetMarker(Frozen):
    """A marker at a frame: a new one, or the one of this id moved and named. With `snap` it is drawn to what stands no
    more than so many frames away: an end, a key, a hit of a sound."""

    kind: Literal["set_marker"] = "set_marker"
    marker: Id
    frame: Frames
    name: Annotated[str, StringConstraints(max_length=200)] | None = None
    snap: Reach = 0


class RemoveMarker(Frozen):
    kind: Literal["remove_marker"] = "remove_marker"
    marker: Id


class SetRange(Frozen):
    """The range's first and last frame; None is the film's own end. Undo passes over it."""

    kind: Literal["set_range"] = "set_range"
    first: Frames | None = None
    last: Frames | None = None


def _with(project: Project, markers: tuple[Marker, ...]) -> Project:
    return project.model_copy(update={"marks": Marks(markers=markers)})


@rule(SetMarker)
def set_marker(project: Project, edit: SetMarker) -> tuple[Project, str]:
    old = next((each for each in project.marks.markers if each.id == edit.marker), None)
    if old is None and len(project.marks.markers) >= 5000:
        raise EditError("There are 5,000 markers already; nothing was added.")
    name = edit.name if edit.name is not None else old.name if old else ""
    others = [each for each in project.marks.markers if each.id != edit.marker]
    frame = edit.frame
    if edit.snap:
        frame = max(0, frame + pull(_with(project, tuple(others)), [frame], set(), edit.snap, None))
    markers = sorted([*others, Marker(id=edit.marker, frame=frame, name=name)], key=lambda each: (each.frame, each.id))
    label = (
        "add marker"
        if old is None
        else "name marker"
        if edit.name is not None and edit.name != old.name
        else "move marker"
    )
    return _with(project, tuple(markers)), f"{label} {name}".strip()


@rule(RemoveMarker)
def remove_marker(project: Project, edit: RemoveMarker) -> tuple[Project, str]:
    if all(each.id != edit.marker for each in project.marks.markers):
        raise EditError(f"There is no marker “{edit.marker}”; nothing was changed.")
    return _with(project, tuple(each for each in project.marks.markers if each.id != edit.marker)), "remove marker"


@rule(SetRange)
def set_range(project: Project, edit: SetRange) -> tuple[Project, str]:
    if edit.first is not None and edit.last is not None and edit.first > edit.last:
        raise EditError(f"A range ends where it begins or later; {edit.first} to {edit.last} was not taken.")
    label = "no range" if edit.first is None and edit.last is None else "range"
    return project.model_copy(update={"range": InToOut(first=edit.first, last=edit.last)}), label
