"""Points of a shot's picture that were followed from frame to frame."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from ..modelled import Frozen
from .base import MAX_FRAMES, Id, Name

MAX_FOLLOWED = 30_000
"""Frames that a point is followed over at most: twenty minutes."""

Px = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Sure = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]
SourceFrame = Annotated[int, Field(ge=0, le=MAX_FRAMES)]


class HandPlace(Frozen):
    """Where a point is in a frame of the source, as it was put there by hand, in px of the source."""

    frame: SourceFrame
    x: Px
    y: Px


class FollowedPoint(Frozen):
    """Where a point of the picture is, frame by frame of the source from `first` on, in px of the source from its upper
    left corner, and how sure that is: 0 where it was lost.

    It belongs to the picture and not to the clip's time: a clip that is trimmed, cut or slowed down keeps it. `hand`
    are places put by hand, in order of time; the one it was picked at is the first that there was.
    """

    id: Id
    name: Name
    media: Id
    """The picture it was followed in."""
    first: SourceFrame
    x: Annotated[tuple[Px, ...], Field(min_length=1, max_length=MAX_FOLLOWED)]
    y: Annotated[tuple[Px, ...], Field(min_length=1, max_length=MAX_FOLLOWED)]
    sure: Annotated[tuple[Sure, ...], Field(min_length=1, max_length=MAX_FOLLOWED)]
    hand: Annotated[tuple[HandPlace, ...], Field(max_length=2000)] = ()

    @model_validator(mode="after")
    def _as_long(self) -> "FollowedPoint":
        if not len(self.x) == len(self.y) == len(self.sure):
            raise ValueError("a followed point has one place and one certainty for every frame")
        if any(one.frame >= other.frame for one, other in zip(self.hand, self.hand[1:])):
            raise ValueError("places put by hand are in order of time, one for a frame")
        return self
