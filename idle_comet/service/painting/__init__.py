"""Painting in processes of their own: the graphics library holds the interpreter's lock."""

from .asking import FrameRequest, Painted, PaintFailed, Unwanted
from .pool import PainterProcess, Painters, Wish, processes

__all__ = ["FrameRequest", "PaintFailed", "Painted", "PainterProcess", "Painters", "Unwanted", "Wish", "processes"]
