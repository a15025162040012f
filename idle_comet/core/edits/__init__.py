"""The closed set of edits: all that can ever happen to a document.

`apply(project, edit)` is pure: it returns the new document and the difference that
leads back. The Desk, the command line and the tests all speak these edits.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal, NamedTuple, TypeAlias, Union

from pydantic import Field, ValidationError

from ..project.difference import Difference, apply_difference, difference, inverse_of
from ..project.model import Frozen, Project
from ..project.validity import Invalid, check_changed, said
from .adding import AddPicture, AddTitle, AddTreatment, LayPictures
from .aligning import AlignClips, DistributeClips
from .arranging import ArrangeClips, ToFrontAndBack
from .base import RULES, EditError, rule
from .by_hits import CascadeByHits, PulseByHits
from .captions import AddCaptions, GivenCue, StyleCaptions
from .cards import TurnInto
from .carrying import CarryOver, Reset
from .choices import ForgetEase, HoldChoice, RemoveHeld, SaveEase, SetShutter, SetStepTimes
from .clips import AddClip, ChangeFit, MoveClips, RemoveClips, SetBlend, SetSeen, TrimClip
from .copies import DuplicateClips, PasteClips
from .cutting import MakeWhole, ReplaceShot, SetBetween, SetSpeed, SlipClip, SplitClips, StretchClips
from .drawings import AddDrawing
from .ducking import DuckSound
from .emblems import AnswerMotion, LeaveAndReturn, Uncover
from .ensembles import FillEnsemble, UseEnsemble, ensemble_of
from .feel import MirrorArrival, Slower, Soften, Stronger
from .film import AddMedia, ChangeSettings, SetFilmSound
from .fitting import PutSoundOn
from .focusing import FocusOn
from .framings import ChangeFraming
from .generated import AddGenerated, ChangePattern
from .groups import GatherClips, TakeApart
from .hits import AddLevel, SetHits, TapHits, TypeByHits
from .holding import HoldStill, HoldToPoint
from .insides import without_strays
from .joins import SetTransition
from .keys import AddKey, KeyPlacement, MoveKey, SetMoving
from .lanes import check_unlocked
from .lighting import AddLight, SetLight
from .manykeys import (
    AlignKeys,
    CopiedKey,
    DistributeKeys,
    EaseKeys,
    KeyAt,
    KeyRef,
    PasteKeys,
    PlaceKeys,
    RecountKeys,
    RemoveKeys,
    ShiftKeys,
    StretchKeys,
)
from .marks import RemoveMarker, SetMarker, SetRange
from .masks import AddMask, ChangeMask, RemoveMask, SetMaskRun
from .moving import ChangeMove, FillMove, UseMove
from .outlines import ChangeCorner, DrawMask, MoveCorner
from .passing import GiveStep, SetChoice, SetUnits
from .placing import PlaceClip
from .points import LeavePoint, MendPoint, NamePoint, RemovePoint, SetPoint
from .ranges import StyleLine, StyleRange
from .recipes import AddFromRecipe, UseRecipe
from .replacing import AddTitles, ReplaceWords
from .riding import RideWith, carried, misfits
from .runs import BakeMotion, SetMotor, SetRepeat, SetTangents, SetThrough
from .second import AddSecondLine
from .series import (
    RemovePaletteColour,
    RemoveTypeStyle,
    SaveTypeStyle,
    SetPaletteColour,
    UsePaletteColour,
    UseTypeStyle,
)
from .shapes import AddShape, BecomeShape, FitShape, FitWords
from .sounds import PartSound, SetFades, SetKeepsPitch, SetMuted
from .space import AddCamera, FillFrame, MoveCamera, StandTo
from .spans import SetSpanEase, SetSpans
from .steps import AddStep, MoveStep, RemoveStep, SwitchStep
from .strips import MakeStrip, ShowDetail
from .text import ChangeText
from .together import AddTogether
from .tracks import AddTrack, ChangeTrack, MoveTrack, RemoveTrack
from .use_look import RemoveLook, SaveLook, UseLook
from .values import SetProperty, SetValue


class Several(Frozen):
    """Some edits as one act: all of them or none, one undo."""

    kind: Literal["several"] = "several"
    label: str = Field(max_length=200)
    edits: tuple["Edit", ...] = Field(min_length=1, max_length=5000)


@rule(Several)
def _several(project: Project, edit: Several) -> tuple[Project, str]:
    for one in edit.edits:
        project, _ = _run(project, one)
    return project, edit.label


if TYPE_CHECKING:
    # Which kinds there are is known when all of them have been read.
    Edit: TypeAlias = Frozen
else:
    Edit = Annotated[Union[tuple(RULES)], Field(discriminator="kind")]
Several.model_rebuild()


def _run(project: Project, edit: Edit) -> tuple[Project, str]:
    try:
        return RULES[type(edit)](project, edit)
    except ValidationError as error:
        raise EditError(f"{said(error, 'What would be made')}; nothing was changed.") from None


class Enacted(NamedTuple):
    """The document after an edit, the difference that was made, the one that undoes it, and what undo will say it
    undoes."""

    after: Project
    change: Difference
    inverse: Difference
    label: str


def enact(project: Project, edit: Edit | Difference) -> Enacted:
    """Do an edit.

    A difference comes from the history alone. Raises EditError, with nothing changed, when the edit does not fit
    the document, or would leave one that does not validate, be written or read again.
    """
    if isinstance(edit, Difference):
        after, label = apply_difference(project, edit), "change"
    else:
        after, label = _run(project, edit)
        after = without_strays(carried(project, after))
        check_unlocked(project, after)
    change = difference(project, after)
    try:
        check_changed(after, change)
    except Invalid as error:
        raise EditError(f"{error}; nothing was changed.") from None
    return Enacted(after, change, inverse_of(change, project), label)


def apply(project: Project, edit: Edit | Difference) -> tuple[Project, Difference]:
    """The document after the edit, and the difference that undoes it; see `enact`."""
    done = enact(project, edit)
    return done.after, done.inverse


PASSED_BY_UNDO = (SetRange,)
"""Edits that are written like all others and that undo passes over: they say how the film is worked on."""


__all__ = [
    "PASSED_BY_UNDO",
    "AddCamera",
    "AddLight",
    "AddCaptions",
    "AddClip",
    "AddDrawing",
    "AddFromRecipe",
    "AddGenerated",
    "AddKey",
    "AddLevel",
    "AddMask",
    "AddMedia",
    "AddPicture",
    "AddSecondLine",
    "AddShape",
    "AddStep",
    "AddTitle",
    "AddTitles",
    "AddTogether",
    "AddTrack",
    "AddTreatment",
    "AlignClips",
    "AlignKeys",
    "AnswerMotion",
    "ArrangeClips",
    "BakeMotion",
    "BecomeShape",
    "CarryOver",
    "CascadeByHits",
    "ChangeCorner",
    "ChangeFit",
    "ChangeFraming",
    "ChangeMask",
    "ChangeMove",
    "ChangePattern",
    "ChangeSettings",
    "ChangeText",
    "ChangeTrack",
    "CopiedKey",
    "DistributeClips",
    "DistributeKeys",
    "DrawMask",
    "DuckSound",
    "DuplicateClips",
    "EaseKeys",
    "Edit",
    "EditError",
    "FillEnsemble",
    "FillFrame",
    "FillMove",
    "FitShape",
    "FitWords",
    "FocusOn",
    "ForgetEase",
    "GatherClips",
    "GiveStep",
    "GivenCue",
    "HoldChoice",
    "HoldStill",
    "HoldToPoint",
    "KeyPlacement",
    "KeyAt",
    "KeyRef",
    "LayPictures",
    "LeaveAndReturn",
    "LeavePoint",
    "MakeStrip",
    "MakeWhole",
    "MendPoint",
    "MirrorArrival",
    "MoveCamera",
    "MoveClips",
    "MoveCorner",
    "MoveKey",
    "MoveStep",
    "MoveTrack",
    "NamePoint",
    "PartSound",
    "PasteClips",
    "PasteKeys",
    "PlaceClip",
    "PlaceKeys",
    "PulseByHits",
    "PutSoundOn",
    "RecountKeys",
    "RemoveClips",
    "RemoveHeld",
    "RemoveKeys",
    "RemoveLook",
    "RemoveMarker",
    "RemoveMask",
    "RemovePaletteColour",
    "RemovePoint",
    "RemoveStep",
    "RemoveTrack",
    "RemoveTypeStyle",
    "ReplaceShot",
    "ReplaceWords",
    "Reset",
    "RideWith",
    "SaveEase",
    "SaveLook",
    "SaveTypeStyle",
    "SetBetween",
    "SetBlend",
    "SetChoice",
    "SetFades",
    "SetFilmSound",
    "SetHits",
    "SetKeepsPitch",
    "SetMarker",
    "SetMaskRun",
    "SetMotor",
    "SetMoving",
    "SetMuted",
    "SetPaletteColour",
    "SetPoint",
    "SetProperty",
    "SetRange",
    "SetRepeat",
    "SetSeen",
    "SetShutter",
    "SetSpanEase",
    "SetSpans",
    "SetLight",
    "SetSpeed",
    "SetStepTimes",
    "SetTangents",
    "SetThrough",
    "SetTransition",
    "SetUnits",
    "SetValue",
    "Several",
    "ShiftKeys",
    "ShowDetail",
    "SlipClip",
    "Slower",
    "Soften",
    "SplitClips",
    "StandTo",
    "StretchClips",
    "StretchKeys",
    "Stronger",
    "StyleCaptions",
    "StyleLine",
    "StyleRange",
    "SwitchStep",
    "TakeApart",
    "ToFrontAndBack",
    "TrimClip",
    "TurnInto",
    "TapHits",
    "TypeByHits",
    "Uncover",
    "UseEnsemble",
    "UseLook",
    "UseMove",
    "UsePaletteColour",
    "UseRecipe",
    "UseTypeStyle",
    "apply",
    "enact",
    "ensemble_of",
    "misfits",
]
