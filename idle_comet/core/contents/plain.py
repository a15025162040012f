"""One colour all over the frame."""

from __future__ import annotations

from typing import Literal

from ..modelled import Frozen
from ..steps import colour
from .base import Shorthand, fixed


class Plain(Frozen):
    """One colour all over the frame."""

    kind: Literal["plain"] = "plain"
    colour: Shorthand = fixed("#211e1b")


PARAMETERS = (colour("colour", "Colour", "#211e1b"),)
