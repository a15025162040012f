"""Every step kind, one file each. A kind is registered by standing in this list."""

from __future__ import annotations

from .backing import Backing
from .counter import Counter
from .draw_on import DrawOn
from .edge_reveal import EdgeReveal
from .focus_blur import FocusBlur
from .fray import Fray
from .gradient import Gradient
from .kind import LetterNow, Ready, Rest, StepContext, StepKind, enlargement
from .outline import Outline
from .parameter import Choice, Parameter, colour
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

KINDS: dict[str, StepKind] = {kind.kind: kind for kind in (
    Placement(), FocusBlur(), EdgeReveal(), Stretch(), Tumble(), PastCamera(), Typing(), DrawOn(), Sweep(), Fray(), SignalTear(), Scramble(), Counter(), Roll(),
    Gradient(), PictureFill(), Outline(), Shadow(), Backing(), Shape(),
)}

MIX = Parameter("mix", "Mix", "%", 1, 0, 1, 0, 1, neutral=1, shown_times=100)

CONTENT_PARAMETERS: dict[str, tuple[Parameter, ...]] = {
    "text": (
        Parameter("weight", "Weight", "", 600, 100, 900, 1, 1000, neutral=400, gentle=80),
        Parameter("width", "Width", "%", 100, 62, 125, 25, 200, neutral=100, gentle=5),
        Parameter("size", "Size", "px", 64, 8, 240, 1, 2000),
        Parameter("tracking", "Tracking", "‰ em", 0, -100, 600, -500, 3000),
        Parameter("leading", "Leading", "×", 1.2, 0.6, 2.4, 0.1, 10, neutral=1, digits=2),
        colour("colour", "Colour", "#fff6e6"),
        Parameter("box", "Box", "px", 0, 0, 1280, 0, 20000),
    ),
    "footage": (), "still": (), "plain": (colour("colour", "Colour", "#211e1b"),),
}

__all__ = ["CONTENT_PARAMETERS", "Choice", "KINDS", "LetterNow", "MIX", "Parameter", "Ready", "Rest", "StepContext", "StepKind", "enlargement"]
