"""A photograph or graphic."""

from __future__ import annotations

from typing import Literal

from ..modelled import Frozen
from .base import Id


class Still(Frozen):
    """A photograph or graphic, with its transparency."""

    kind: Literal["still"] = "still"
    media: Id
    fit: Literal["fill", "fit", "own"] = "fill"
    """"own": one px of the picture on one px of the frame."""
