"""Every generated picture, one file each. A pattern is registered by standing in this list."""

from __future__ import annotations

from .discs import Discs
from .dust import Dust
from .gradient import Gradient
from .grid import Grid
from .kind import Ground, Pattern, Values
from .light_leak import LightLeak
from .paper import Paper
from .particles import Particles
from .pollen import Pollen
from .rays import Rays
from .smoke import Smoke

PATTERNS: dict[str, Pattern] = {
    pattern.kind: pattern
    for pattern in (Gradient(), Smoke(), Paper(), Dust(), Particles(), LightLeak(), Discs(), Rays(), Grid(), Pollen())
}

__all__ = ["Ground", "PATTERNS", "Pattern", "Values"]
