"""Every step kind, one file each. A kind is registered by standing in this list."""

from __future__ import annotations

from .backing import Backing
from .counter import Counter
from .draw_on import DrawOn
from .edge_reveal import EdgeReveal
from .focus_blur import FocusBlur
from .fray import Fray
from .gradient import Gradient
from .kind import LetterNow, Ready, Rest, StepContext, StepKind, Values, enlargement
from .outline import Outline
from .parameter import Choice, Parameter, colour, share
from .past_camera import PastCamera
from .picture_fill import PictureFill
from .placement import Placement
from .roll import Roll
from .scramble import Scramble
from .shadow import Shadow
from .shape import Shape
from .signal_tear import SignalTear
from .stretch import Stretch
from .sweep import Sweep
from .tumble import Tumble
from .typing import Typing

KINDS: dict[str, StepKind] = {
    kind.kind: kind
    for kind in (
        Placement(),
        FocusBlur(),
        EdgeReveal(),
        Stretch(),
        Tumble(),
        PastCamera(),
        Typing(),
        DrawOn(),
        Sweep(),
        Fray(),
        SignalTear(),
        Scramble(),
        Counter(),
        Roll(),
        Gradient(),
        PictureFill(),
        Outline(),
        Shadow(),
        Backing(),
        Shape(),
    )
}

BY_HAND: StepKind = next(kind for kind in KINDS.values() if kind.by_hand)
"""The step that is moved by hand on the picture."""

MIX = Parameter("mix", "Mix", "%", 1, 0, 1, 0, 1, neutral=1, shown_times=100)

__all__ = [
    "BY_HAND",
    "Choice",
    "KINDS",
    "LetterNow",
    "MIX",
    "Parameter",
    "Ready",
    "Rest",
    "StepContext",
    "StepKind",
    "Values",
    "colour",
    "enlargement",
    "share",
]
