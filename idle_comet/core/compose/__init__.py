"""From a document and a frame number to pixels: evaluate → plan → paint."""

from ..moment.evaluate import evaluate, evaluate_clip
from ..moment.scene import Layer, Scene
from .model import portrait
from .paint import Painter
from .plan import Plan, plan, plan_view
from .sources import PictureMissing, Sources

__all__ = [
    "Layer",
    "Painter",
    "PictureMissing",
    "Plan",
    "Scene",
    "Sources",
    "evaluate",
    "evaluate_clip",
    "plan",
    "plan_view",
    "portrait",
]
