"""Every step kind, one file each. A kind is registered by standing in this list."""

from __future__ import annotations

from .axis import Axis, axis_across
from .backing import Backing
from .beneath import Beneath
from .cell import Cell
from .colour_grade import ColourGrade
from .colour_key import ColourKey
from .colour_table import ColourTable
from .counter import Counter
from .crop import Crop
from .displace import Displace
from .draw_on import DrawOn
from .edge_reveal import EdgeReveal
from .flicker import Flicker
from .focus_blur import FocusBlur
from .fray import Fray
from .gate_weave import GateWeave
from .glow import Glow
from .gradient import Gradient
from .grain import Grain
from .handheld import Handheld
from .kind import LetterNow, Pulse, Ready, Rest, Solid, StepContext, StepKind, Values, enlargement
from .letterbox import Letterbox
from .lift_gamma_gain import LiftGammaGain
from .light_leak import LightLeak
from .long_shadow import LongShadow
from .mask import Mask
from .move import Move
from .outline import Outline
from .parameter import Choice, Parameter, colour, point, share, whole
from .past_camera import PastCamera
from .picture_fill import PictureFill
from .pixel_blocks import PixelBlocks
from .placement import Placement
from .pool_of_light import PoolOfLight
from .roll import Roll
from .said_words import SaidWords
from .scan_lines import ScanLines
from .scramble import Scramble
from .shadow import Shadow
from .shape import Shape
from .sharpen import Sharpen
from .signal_tear import SignalTear
from .solid import MakeSolid
from .stand import LENS, SENSOR, Stand, resting_eye
from .still_point import StillPoint
from .streak_blur import StreakBlur
from .stretch import Stretch
from .sweep import Sweep
from .tile import Tile
from .tone_colours import ToneColours
from .tumble import Tumble
from .turn_over import TurnOver
from .typing import Typing
from .vignette import Vignette
from .wave import Wave

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
        SaidWords(),
        Gradient(),
        PictureFill(),
        MakeSolid(),
        Outline(),
        Shadow(),
        LongShadow(),
        Backing(),
        Shape(),
        Glow(),
        StreakBlur(),
        Sharpen(),
        ColourGrade(),
        LiftGammaGain(),
        ToneColours(),
        ColourTable(),
        ColourKey(),
        Displace(),
        Wave(),
        PixelBlocks(),
        Tile(),
        Mask(),
        Crop(),
        Cell(),
        TurnOver(),
        Stand(),
        Vignette(),
        PoolOfLight(),
        StillPoint(),
        Move(),
        Handheld(),
        GateWeave(),
        LightLeak(),
        Flicker(),
        Grain(),
        ScanLines(),
        Letterbox(),
    )
}

TYPING = KINDS[Typing.kind]
"""What words are typed by."""

CELL, SHADOW = KINDS[Cell.kind], KINDS[Shadow.kind]
"""A place of its own in the frame, and what is cast behind it."""

MOVE, HANDHELD, STILL_POINT = KINDS[Move.kind], KINDS[Handheld.kind], KINDS[StillPoint.kind]
"""The cameras: from framing to framing, as it is held, and held still by a point."""

BY_HAND: StepKind = next(kind for kind in KINDS.values() if kind.by_hand)
"""The step that is moved by hand on the picture."""

STAND = KINDS[Stand.kind]
"""What stands in space."""

MIX = Parameter("mix", "Mix", "%", 1, 0, 1, 0, 1, neutral=1, shown_times=100)

__all__ = [
    "Beneath",
    "LENS",
    "SENSOR",
    "STAND",
    "Stand",
    "resting_eye",
    "HANDHELD",
    "Axis",
    "BY_HAND",
    "CELL",
    "Choice",
    "KINDS",
    "LetterNow",
    "MIX",
    "MOVE",
    "Parameter",
    "Pulse",
    "Ready",
    "Rest",
    "SHADOW",
    "STILL_POINT",
    "Solid",
    "StepContext",
    "TYPING",
    "StepKind",
    "Values",
    "axis_across",
    "colour",
    "enlargement",
    "point",
    "share",
    "whole",
]
