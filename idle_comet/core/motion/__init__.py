"""How values move: eases, motors, paths and the properties made of them."""

from .cascade import (
    ORDERS,
    By,
    Cascade,
    Leads,
    Order,
    Timing,
    Unit,
    fitted,
    held_state,
    leads_of,
    ranks,
    timing,
    unit_frame,
)
from .css import EaseError, read_css, write_css
from .ease import (
    STARTING_POINTS,
    Bounce,
    Ease,
    Free,
    Hold,
    Jumps,
    Linear,
    Spring,
    Strengths,
    Traced,
    describe_ease,
    ease_progress,
    mirrored,
    stronger,
)
from .motors import Follow, Motor, Oscillation, Steady, Tether, Wobble, describe_motor
from .property import (
    Driven,
    Fixed,
    Key,
    Moving,
    Property,
    Repeat,
    TimedKey,
    Value,
    number,
    resolve_keys,
)
from .sampling import ALONE, Around, path_segments, sampler, value_at

__all__ = [
    "ALONE", "Around", "Bounce", "By", "Cascade", "Driven", "Ease", "EaseError", "Fixed", "Follow", "Free", "Hold", "Jumps", "Key", "Leads", "Linear", "Motor", "Moving",
    "ORDERS", "Order", "Oscillation", "Property", "Repeat", "STARTING_POINTS", "Spring", "Steady", "Strengths", "Tether", "TimedKey", "Timing", "Traced", "Unit", "Value", "Wobble", "describe_ease", "describe_motor",
    "ease_progress", "fitted", "held_state", "leads_of", "mirrored", "number", "path_segments", "ranks", "read_css", "resolve_keys", "sampler", "stronger", "timing", "unit_frame", "value_at", "write_css",
]
