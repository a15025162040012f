"""Clips gathered into one, on a timeline of their own."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..modelled import Frozen
from .base import MAX_FRAMES


class Group(Frozen):
    """What lies on the tracks that are `within` its clip. Their clips' frames count from the group's own beginning."""

    kind: Literal["group"] = "group"
    start: Annotated[float, Field(ge=0, le=MAX_FRAMES, allow_inf_nan=False)] = 0.0
    """First moment of its timeline that is shown."""
    speed: Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)] = 1.0
    """Frames of its timeline a frame: 0 holds the first, below 0 runs backwards from `start`."""
