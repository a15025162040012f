"""Painting in processes of their own: the graphics library holds the interpreter's lock."""

from .asking import FrameRequest, Painted, PaintFailed, Unwanted
from .frame_cache import FrameCache
from .pool import PainterProcess, Painters, Wish

__all__ = ["FrameCache", "FrameRequest", "PaintFailed", "Painted", "PainterProcess", "Painters", "Unwanted", "Wish"]
