"""The film's own settings and its media."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..clock import Rate
from ..project.model import FilmSound, Frozen, Media, Name, Project
from .base import EditError, changed, rule
from .reframing import reframed


class ChangeSettings(Frozen):
    """A new name, size or rate for the film; what is None stays. All that is in it is fitted to the new frame and
    rate."""

    kind: Literal["change_settings"] = "change_settings"
    name: Name | None = None
    width: int | None = Field(default=None, ge=16, le=8192, multiple_of=2)
    height: int | None = Field(default=None, ge=16, le=8192, multiple_of=2)
    rate: Rate | None = None


class AddMedia(Frozen):
    kind: Literal["add_media"] = "add_media"
    media: Media


class SetFilmSound(Frozen):
    """How loud the film is as a whole, and below which true peak it is kept."""

    kind: Literal["set_film_sound"] = "set_film_sound"
    sound: FilmSound


@rule(ChangeSettings)
def change_settings(project: Project, edit: ChangeSettings) -> tuple[Project, str]:
    values = {
        name: getattr(edit, name) for name in ("name", "width", "height", "rate") if getattr(edit, name) is not None
    }
    settings = changed(project.settings, **values)
    numbered = (
        ", non-drop timecode" if settings.rate.non_drop else ", drop-frame timecode" if settings.rate.drops else ""
    )
    label = (
        f"name {settings.name}"
        if edit.name
        else f"{settings.width}×{settings.height}, {settings.rate} frames per second{numbered}"
    )
    fitted = reframed(project, settings.width, settings.height, settings.rate)
    return fitted.model_copy(update={"settings": fitted.settings.model_copy(update={"name": settings.name})}), label


@rule(AddMedia)
def add_media(project: Project, edit: AddMedia) -> tuple[Project, str]:
    if edit.media.path.split(".")[0] != edit.media.hash:
        raise EditError(
            f"The file of “{edit.media.name}” is not named by its content ({edit.media.path}); nothing was added."
        )
    media = {**project.media, edit.media.id: edit.media}
    return project.model_copy(update={"media": media}), f"add {edit.media.name}"


@rule(SetFilmSound)
def set_film_sound(project: Project, edit: SetFilmSound) -> tuple[Project, str]:
    settings = project.settings.model_copy(update={"sound": edit.sound})
    return project.model_copy(update={"settings": settings}), f"sound of the film at {edit.sound.gain:+.1f} dB"
