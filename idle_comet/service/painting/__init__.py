"""Painting in processes of their own: the drawing library holds the interpreter's lock."""

from .asking import FrameRequest, Painted, PaintFailed
from .pool import PainterProcess, Painters

__all__ = ["FrameRequest", "PaintFailed", "Painted", "PainterProcess", "Painters"]
