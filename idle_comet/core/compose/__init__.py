"""From a document and a frame number to pixels: evaluate → plan → paint."""

from .evaluate import evaluate, evaluate_clip
from .paint import Painter, PictureMissing, Sources
from .plan import Plan, plan, plan_view
from .scene import Layer, Scene

__all__ = ["Layer", "Painter", "PictureMissing", "Plan", "Scene", "Sources", "evaluate", "evaluate_clip", "plan", "plan_view"]
