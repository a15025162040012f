"""How values move: eases and keyed properties."""

from .ease import Ease, Free, Hold, Linear, Strengths, describe_ease, ease_progress
from .property import Fixed, Key, Moving, Property, resolve_keys, sampler, value_at

__all__ = [
    "Ease", "Fixed", "Free", "Hold", "Key", "Linear", "Moving", "Property", "Strengths",
    "describe_ease", "ease_progress", "resolve_keys", "sampler", "value_at",
]
