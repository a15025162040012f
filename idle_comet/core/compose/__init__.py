"""From a document and a frame number to pixels: evaluate → plan → paint."""

from .evaluate import Layer, Scene, evaluate, evaluate_clip
from .paint import Painter, Sources
from .plan import Plan, plan, plan_view

__all__ = ["Layer", "Painter", "Plan", "Scene", "Sources", "evaluate", "evaluate_clip", "plan", "plan_view"]
