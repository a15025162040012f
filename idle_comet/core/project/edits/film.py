"""The film's own settings and its media."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ...clock import Rate
from ..model import Frozen, Media, Name, Project
from .base import EditError, changed


class ChangeSettings(Frozen):
    """A new name for the film; a new size and rate while nothing is on its timeline. What is None stays."""

    kind: Literal["change_settings"] = "change_settings"
    name: Name | None = None
    width: int | None = Field(default=None, ge=16, le=8192, multiple_of=2)
    height: int | None = Field(default=None, ge=16, le=8192, multiple_of=2)
    rate: Rate | None = None


class AddMedia(Frozen):
    kind: Literal["add_media"] = "add_media"
    media: Media


def change_settings(project: Project, edit: ChangeSettings) -> tuple[Project, str]:
    values = {name: getattr(edit, name) for name in ("name", "width", "height", "rate") if getattr(edit, name) is not None}
    renumbered = edit.rate is not None and edit.rate.fraction == project.settings.rate.fraction
    if values.keys() - {"name", *(["rate"] if renumbered else [])} and project.clips:
        raise EditError("The film's size and rate can be set only while its timeline is empty; nothing was changed.")
    settings = changed(project.settings, **values)
    numbered = ", non-drop timecode" if settings.rate.non_drop else ", drop-frame timecode" if settings.rate.drops else ""
    label = f"name {settings.name}" if edit.name else f"{settings.width}×{settings.height}, {settings.rate} frames per second{numbered}"
    return project.model_copy(update={"settings": settings}), label


def add_media(project: Project, edit: AddMedia) -> tuple[Project, str]:
    media = {**project.media, edit.media.id: edit.media}
    return project.model_copy(update={"media": media}), f"add {edit.media.name}"
