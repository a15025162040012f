"""Type: shipped faces, shaping with HarfBuzz, layout, and painting from glyph paths."""

from .faces import FAMILIES, Face, Family, face_for
from .layout import Layout, lay_out
from .painting import paint_text

__all__ = ["FAMILIES", "Face", "Family", "Layout", "face_for", "lay_out", "paint_text"]
