"""The closed set of edits: all that can ever happen to a document.

`apply(project, edit)` is pure: it returns the new document and the difference that
leads back. The Desk, the command line and the tests all speak these edits.
"""

from __future__ import annotations

from typing import Annotated, Literal, Union

from pydantic import Field

from ..difference import Difference, apply_difference, difference
from ..model import Frozen, Project
from .adding import AddPicture, AddTitle, add_picture, add_title
from .base import EditError
from .clips import (
    AddClip, ChangeFit, MoveClip, RemoveClip, TrimClip, add_clip, change_fit, move_clip, remove_clip, trim_clip,
)
from .film import AddMedia, AddTrack, ChangeSettings, add_media, add_track, change_settings
from .keys import (
    AddKey, EaseKey, KeyPlacement, MoveKey, RecountKey, RemoveKey, SetMoving,
    add_key, ease_key, key_placement, move_key, recount_key, remove_key, set_moving,
)
from .placing import PlaceClip, place_clip
from .spans import SetSpanEase, SetSpans, set_span_ease, set_spans
from .steps import AddStep, MoveStep, RemoveStep, SwitchStep, add_step, move_step, remove_step, switch_step
from .text import ChangeText, change_text
from .values import SetProperty, SetValue, set_property, set_value


class Several(Frozen):
    """Some edits as one act: all of them or none, one undo."""

    kind: Literal["several"] = "several"
    label: str = Field(max_length=200)
    edits: tuple["Edit", ...] = Field(min_length=1, max_length=5000)


Edit = Annotated[
    Union[
        AddClip, AddKey, AddMedia, AddPicture, AddStep, AddTitle, AddTrack, ChangeFit, ChangeSettings, ChangeText, Difference, EaseKey,
        KeyPlacement, MoveClip, MoveKey, MoveStep, PlaceClip, RecountKey, RemoveClip, RemoveKey, RemoveStep, SetMoving, SetProperty,
        SetSpanEase, SetSpans, SetValue, Several, SwitchStep, TrimClip,
    ],
    Field(discriminator="kind"),
]
Several.model_rebuild()


def _several(project: Project, edit: Several) -> tuple[Project, str]:
    for one in edit.edits:
        project, _ = _run(project, one)
    return project, edit.label


_RULES = {
    AddClip: add_clip, AddKey: add_key, AddPicture: add_picture, AddTitle: add_title, PlaceClip: place_clip,
    AddMedia: add_media, AddStep: add_step, AddTrack: add_track,
    ChangeFit: change_fit, ChangeSettings: change_settings, EaseKey: ease_key, KeyPlacement: key_placement,
    MoveKey: move_key, RecountKey: recount_key, RemoveKey: remove_key, SetMoving: set_moving,
    ChangeText: change_text, Difference: lambda project, edit: (apply_difference(project, edit), "change"),
    MoveClip: move_clip, MoveStep: move_step, RemoveClip: remove_clip, RemoveStep: remove_step,
    SetProperty: set_property, SetSpanEase: set_span_ease, SetSpans: set_spans, SetValue: set_value,
    Several: _several, SwitchStep: switch_step, TrimClip: trim_clip,
}


def _run(project: Project, edit: Edit) -> tuple[Project, str]:
    return _RULES[type(edit)](project, edit)


def apply(project: Project, edit: Edit) -> tuple[Project, Difference]:
    """The document after the edit, and the difference that undoes it.

    Raises EditError, with nothing changed, when the edit does not fit the document.
    """
    after, _ = _run(project, edit)
    return after, difference(after, project)


def label_of(project: Project, edit: Edit) -> str:
    """What undo will say it undoes, in a few words."""
    return _run(project, edit)[1]


__all__ = ["Edit", "EditError", "Several", "apply", "label_of"] + [kind.__name__ for kind in _RULES]
