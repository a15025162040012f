"""The closed set of edits: all that can ever happen to a document.

`apply(project, edit)` is pure: it returns the new document and the difference that
leads back. The Desk, the command line and the tests all speak these edits.
"""

from __future__ import annotations

from typing import Annotated, Literal, NamedTuple, Union

from pydantic import Field, ValidationError

from ..project.difference import Difference, apply_difference, difference, inverse_of
from ..project.model import Frozen, Project
from ..project.validity import Invalid, check_changed, said
from .adding import AddPicture, AddTitle, add_picture, add_title
from .aligning import AlignClips, DistributeClips, align_clips, distribute_clips
from .base import EditError
from .choices import (
    ForgetEase,
    HoldChoice,
    RemoveHeld,
    SaveEase,
    SetShutter,
    SetStepTimes,
    forget_ease,
    hold_choice,
    remove_held,
    save_ease,
    set_shutter,
    set_step_times,
)
from .clips import (
    AddClip,
    ChangeFit,
    MoveClips,
    RemoveClips,
    SetSeen,
    TrimClip,
    add_clip,
    change_fit,
    move_clips,
    remove_clips,
    set_seen,
    trim_clip,
)
from .copies import DuplicateClips, PasteClips, duplicate_clips, paste_clips
from .cutting import (
    MakeWhole,
    ReplaceShot,
    SetSpeed,
    SlipClip,
    SplitClips,
    StretchClips,
    make_whole,
    replace_shot,
    set_speed,
    slip_clip,
    split_clips,
    stretch_clips,
)
from .feel import MirrorArrival, Slower, Soften, Stronger, mirror_arrival, slower, soften, stronger_ease
from .film import AddMedia, ChangeSettings, add_media, change_settings
from .joins import SetTransition, set_transition
from .keys import AddKey, KeyPlacement, MoveKey, SetMoving, add_key, key_placement, move_key, set_moving
from .lanes import check_unlocked
from .manykeys import (
    AlignKeys,
    CopiedKey,
    DistributeKeys,
    EaseKeys,
    KeyRef,
    PasteKeys,
    RecountKeys,
    RemoveKeys,
    ShiftKeys,
    StretchKeys,
    align_keys,
    distribute_keys,
    ease_keys,
    paste_keys,
    recount_keys,
    remove_keys,
    shift_keys,
    stretch_keys,
)
from .marks import RemoveMarker, SetMarker, SetRange, remove_marker, set_marker, set_range
from .passing import CarryOver, GiveStep, Reset, SetChoice, SetUnits, carry_over, give_step, reset_clips, set_choice, set_units
from .placing import PlaceClip, place_clip
from .ranges import StyleLine, StyleRange, style_line, style_range
from .recipes import AddFromRecipe, UseRecipe, add_from_recipe, use_recipe
from .replacing import AddTitles, ReplaceWords, add_titles, replace_words
from .riding import RideWith, carried, misfits, ride_with
from .runs import BakeMotion, SetMotor, SetRepeat, SetTangents, SetThrough, bake_motion, set_motor, set_repeat, set_tangents, set_through
from .second import AddSecondLine, add_second_line
from .series import (
    RemovePaletteColour,
    RemoveTypeStyle,
    SaveTypeStyle,
    SetPaletteColour,
    UsePaletteColour,
    UseTypeStyle,
    remove_palette_colour,
    remove_type_style,
    save_type_style,
    set_palette_colour,
    use_palette_colour,
    use_type_style,
)
from .spans import SetSpanEase, SetSpans, set_span_ease, set_spans
from .steps import AddStep, MoveStep, RemoveStep, SwitchStep, add_step, move_step, remove_step, switch_step
from .text import ChangeText, change_text
from .tracks import AddTrack, ChangeTrack, MoveTrack, RemoveTrack, add_track, change_track, move_track, remove_track
from .values import SetProperty, SetValue, set_property, set_value


class Several(Frozen):
    """Some edits as one act: all of them or none, one undo."""

    kind: Literal["several"] = "several"
    label: str = Field(max_length=200)
    edits: tuple["Edit", ...] = Field(min_length=1, max_length=5000)


def _several(project: Project, edit: Several) -> tuple[Project, str]:
    for one in edit.edits:
        project, _ = _run(project, one)
    return project, edit.label


_RULES = {
    AddClip: add_clip, AddFromRecipe: add_from_recipe, AddKey: add_key, AddMedia: add_media, AddPicture: add_picture, AddSecondLine: add_second_line, AddStep: add_step, AddTitle: add_title, AddTitles: add_titles,
    AddTrack: add_track, AlignClips: align_clips, AlignKeys: align_keys, BakeMotion: bake_motion, CarryOver: carry_over, ChangeFit: change_fit, ChangeSettings: change_settings,
    ChangeText: change_text, ChangeTrack: change_track,
    DistributeClips: distribute_clips, DistributeKeys: distribute_keys, DuplicateClips: duplicate_clips, EaseKeys: ease_keys, ForgetEase: forget_ease, GiveStep: give_step, HoldChoice: hold_choice,
    KeyPlacement: key_placement, MakeWhole: make_whole, MirrorArrival: mirror_arrival, MoveClips: move_clips, MoveKey: move_key,
    MoveStep: move_step, MoveTrack: move_track, PasteClips: paste_clips, PasteKeys: paste_keys, PlaceClip: place_clip,
    RecountKeys: recount_keys, RemoveClips: remove_clips, RemoveHeld: remove_held, RemoveKeys: remove_keys, RemoveMarker: remove_marker,
    RemovePaletteColour: remove_palette_colour, RemoveStep: remove_step, RemoveTrack: remove_track, RemoveTypeStyle: remove_type_style, ReplaceShot: replace_shot, ReplaceWords: replace_words, Reset: reset_clips, RideWith: ride_with, SaveEase: save_ease, SaveTypeStyle: save_type_style,
    SetChoice: set_choice, SetMarker: set_marker, SetMotor: set_motor, SetMoving: set_moving, SetPaletteColour: set_palette_colour, SetProperty: set_property, SetRange: set_range, SetRepeat: set_repeat,
    SetSeen: set_seen, SetShutter: set_shutter, SetSpanEase: set_span_ease, SetSpans: set_spans, SetSpeed: set_speed, SetStepTimes: set_step_times,
    SetTangents: set_tangents, SetThrough: set_through, SetTransition: set_transition, SetUnits: set_units, SetValue: set_value, Several: _several,
    ShiftKeys: shift_keys, Slower: slower, SlipClip: slip_clip, Soften: soften, SplitClips: split_clips, StretchClips: stretch_clips,
    StretchKeys: stretch_keys, StyleLine: style_line, StyleRange: style_range, Stronger: stronger_ease, SwitchStep: switch_step, TrimClip: trim_clip, UsePaletteColour: use_palette_colour, UseRecipe: use_recipe, UseTypeStyle: use_type_style,
}

Edit = Annotated[Union[tuple(_RULES)], Field(discriminator="kind")]
Several.model_rebuild()


def _run(project: Project, edit: Edit) -> tuple[Project, str]:
    try:
        return _RULES[type(edit)](project, edit)
    except ValidationError as error:
        raise EditError(f"{said(error, 'What would be made')}; nothing was changed.") from None


class Enacted(NamedTuple):
    """The document after an edit, the difference that was made, the one that undoes it, and what undo will say it undoes."""

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
        after = carried(project, after)
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


__all__ = ["CopiedKey", "Edit", "EditError", "KeyRef", "Several", "apply", "enact", "misfits"] + [kind.__name__ for kind in _RULES]
