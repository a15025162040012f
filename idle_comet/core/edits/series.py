"""The series' palette and type styles: titles refer to them, and changing one changes them all."""

from __future__ import annotations

from typing import Annotated, Any, Literal, TypeVar

from pydantic import Field, StringConstraints

from ..motion import Fixed
from ..project.model import Clip, Frozen, Id, Name, PaletteColour, Project, Text, TypeStyle
from ..steps import BY_HAND, KINDS
from .base import EditError, clip_of, rule
from .lanes import with_clips
from .values import parameter_of, property_of, with_property

Place = Annotated[str, StringConstraints(max_length=140)]
SURFACE = tuple(kind.kind for kind in KINDS.values() if kind.dresses)
"""Step kinds that are part of a type style."""

_WORDS = (
    "kind",
    "text",
    "ranges",
    "held",
    "caption",
    "type_style",
    "align",
    "stand_x",
    "stand_y",
    "measured_by",
    "box",
    "box_does",
)
"""What a title keeps when it takes a type style."""


class SetPaletteColour(Frozen):
    """A colour of the palette, new or changed; every title that refers to it follows."""

    kind: Literal["set_palette_colour"] = "set_palette_colour"
    colour: PaletteColour


class RemovePaletteColour(Frozen):
    """Titles keep the colour they have, and no longer follow."""

    kind: Literal["remove_palette_colour"] = "remove_palette_colour"
    colour: Id


class UsePaletteColour(Frozen):
    """A title's colour (or a step's) is a colour of the palette from now on."""

    kind: Literal["use_palette_colour"] = "use_palette_colour"
    clips: Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]
    step: Id
    name: Annotated[str, StringConstraints(max_length=60)]
    colour: Id


class SaveTypeStyle(Frozen):
    """A type style from how a title is set; one of that id changes, and with it every title set in it."""

    kind: Literal["save_type_style"] = "save_type_style"
    clip: Id
    style: Id
    name: Name


class UseTypeStyle(Frozen):
    """Titles set in a type style; None lets them keep how they look and follow no more."""

    kind: Literal["use_type_style"] = "use_type_style"
    clips: Annotated[tuple[Id, ...], Field(min_length=1, max_length=5000)]
    style: Id | None


class RemoveTypeStyle(Frozen):
    kind: Literal["remove_type_style"] = "remove_type_style"
    style: Id


Entry = TypeVar("Entry", PaletteColour, TypeStyle)


def _with_settings(project: Project, **changes: Any) -> Project:
    return project.model_copy(update={"settings": project.settings.model_copy(update=changes)})


def _put(entries: tuple[Entry, ...], entry: Entry) -> tuple[Entry, ...]:
    """An entry in the place of the one with its id, or at the end."""
    if any(each.id == entry.id for each in entries):
        return tuple(entry if each.id == entry.id else each for each in entries)
    if len(entries) >= 100:
        raise EditError("There are 100 of them already; remove one first. Nothing was changed.")
    return entries + (entry,)


@rule(SetPaletteColour)
def set_palette_colour(project: Project, edit: SetPaletteColour) -> tuple[Project, str]:
    referring = [
        _coloured(clip, edit.colour) for clip in project.clips.values() if edit.colour.id in clip.palette.values()
    ]
    project = with_clips(project, referring)
    palette = _put(project.settings.palette, edit.colour)
    return _with_settings(project, palette=palette), f"{edit.colour.name} {edit.colour.value}" + (
        f" in {len(referring)} titles" if referring else ""
    )


def _coloured(clip: Clip, colour: PaletteColour) -> Clip:
    """The clip with the colour at every place that refers to it; a place that is gone is forgotten."""
    for place in [place for place, id in clip.palette.items() if id == colour.id]:
        step, _, name = place.partition(".")
        try:
            if parameter_of(clip, step, name).sort == "colour" and property_of(clip, step, name).state == "fixed":
                clip = with_property(clip, step, name, Fixed(value=colour.value))
        except EditError:
            clip = clip.model_copy(update={"palette": {at: id for at, id in clip.palette.items() if at != place}})
    return clip


@rule(RemovePaletteColour)
def remove_palette_colour(project: Project, edit: RemovePaletteColour) -> tuple[Project, str]:
    found = _entry(project.settings.palette, edit.colour, "colour")
    freed = [
        clip.model_copy(update={"palette": {at: id for at, id in clip.palette.items() if id != edit.colour}})
        for clip in project.clips.values()
        if edit.colour in clip.palette.values()
    ]
    palette = tuple(each for each in project.settings.palette if each.id != edit.colour)
    return _with_settings(with_clips(project, freed), palette=palette), f"remove colour {found.name}"


@rule(UsePaletteColour)
def use_palette_colour(project: Project, edit: UsePaletteColour) -> tuple[Project, str]:
    colour = _entry(project.settings.palette, edit.colour, "colour")
    changed = []
    for clip in (clip_of(project, id) for id in edit.clips):
        parameter = parameter_of(clip, edit.step, edit.name)
        if parameter.sort != "colour":
            raise EditError(f"{parameter.label} is no colour; nothing was changed.")
        clip = with_property(clip, edit.step, edit.name, Fixed(value=colour.value))
        changed.append(clip.model_copy(update={"palette": {**clip.palette, f"{edit.step}.{edit.name}": colour.id}}))
    return with_clips(project, changed), f"colour {colour.name}"


def _entry(entries: tuple[Entry, ...], id: str, what: str) -> Entry:
    found = next((each for each in entries if each.id == id), None)
    if found is None:
        raise EditError(f"This film has no {what} “{id}”; nothing was changed.")
    return found


@rule(SaveTypeStyle)
def save_type_style(project: Project, edit: SaveTypeStyle) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if clip.content.kind != "text":
        raise EditError(f"“{clip.name}” has no words; a type style is taken from a title. Nothing was saved.")
    look = clip.content.model_copy(update={"text": "", "ranges": (), "held": {}, "caption": None, "type_style": None})
    surface = tuple(step for step in clip.steps if step.kind in SURFACE)
    style = TypeStyle(id=edit.style, name=edit.name, look=look, surface=surface)
    project = _with_settings(project, type_styles=_put(project.settings.type_styles, style))
    clip = clip.model_copy(update={"content": clip.content.model_copy(update={"type_style": style.id})})
    referring = [
        styled(each, style) for each in project.clips.values() if each.id != clip.id and _is_set_in(each, style.id)
    ]
    return with_clips(project, [clip, *referring]), f"type style {style.name}" + (
        f", {len(referring)} more titles follow" if referring else ""
    )


def _is_set_in(clip: Clip, style: str) -> bool:
    return clip.content.kind == "text" and clip.content.type_style == style


def styled(clip: Clip, style: TypeStyle) -> Clip:
    """The clip set in a type style: its words, place and motion stay, its surface is the style's."""
    taken = {name: getattr(style.look, name) for name in Text.model_fields if name not in _WORDS}
    steps = [step for step in clip.steps if step.kind not in SURFACE]
    at = next((place for place, step in enumerate(clip.steps) if step.kind in SURFACE), None)
    at = len(steps) if at is None else sum(step.kind not in SURFACE for step in clip.steps[:at])
    if at == len(steps) and steps and steps[-1].kind == BY_HAND.kind:
        at -= 1
    used = {step.id for step in steps}
    surface = [
        step if step.id not in used else step.model_copy(update={"id": f"{style.id[:40]}-{step.id[:20]}"})
        for step in style.surface
    ]
    return clip.model_copy(
        update={
            "content": clip.content.model_copy(update={**taken, "type_style": style.id}),
            "steps": (*steps[:at], *surface, *steps[at:]),
        }
    )


@rule(UseTypeStyle)
def use_type_style(project: Project, edit: UseTypeStyle) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in edit.clips]
    without = next((clip for clip in clips if clip.content.kind != "text"), None)
    if without is not None:
        raise EditError(f"“{without.name}” has no words to set. Nothing was changed.")
    if edit.style is None:
        return with_clips(project, [_freed(clip) for clip in clips]), "leave the type style"
    style = _entry(project.settings.type_styles, edit.style, "type style")
    return with_clips(project, [styled(clip, style) for clip in clips]), f"set in {style.name}"


def _freed(clip: Clip) -> Clip:
    return clip.model_copy(update={"content": clip.content.model_copy(update={"type_style": None})})


@rule(RemoveTypeStyle)
def remove_type_style(project: Project, edit: RemoveTypeStyle) -> tuple[Project, str]:
    style = _entry(project.settings.type_styles, edit.style, "type style")
    freed = [_freed(clip) for clip in project.clips.values() if _is_set_in(clip, edit.style)]
    styles = tuple(each for each in project.settings.type_styles if each.id != edit.style)
    return _with_settings(with_clips(project, freed), type_styles=styles), f"remove type style {style.name}"
