"""Every step kind, one file each. A kind is registered by standing in this list."""

from __future__ import annotations

from .focus_blur import FocusBlur
from .kind import Ready, StepContext, StepKind
from .parameter import Parameter, colour
from .placement import Placement

KINDS: dict[str, StepKind] = {kind.kind: kind for kind in (FocusBlur(), Placement())}

MIX = Parameter("mix", "Mix", "%", 1, 0, 1, 0, 1, neutral=1, shown_times=100)

CONTENT_PARAMETERS: dict[str, tuple[Parameter, ...]] = {
    "text": (
        Parameter("size", "Size", "px", 64, 8, 240, 1, 2000),
        Parameter("tracking", "Tracking", "‰ em", 0, -100, 600, -500, 3000),
        Parameter("leading", "Leading", "×", 1.2, 0.6, 2.4, 0.1, 10, neutral=1, digits=2),
        colour("colour", "Colour", "#fff6e6"),
    ),
    "footage": (), "still": (), "plain": (colour("colour", "Colour", "#211e1b"),),
}

__all__ = ["CONTENT_PARAMETERS", "KINDS", "MIX", "Parameter", "Ready", "StepContext", "StepKind"]
