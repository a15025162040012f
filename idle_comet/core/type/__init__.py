"""Type: typefaces, shaping with HarfBuzz, layout, units, and painting from glyph paths."""

from .faces import OWN, STAND_IN, Face, Family, face_for, families, family_of
from .layout import Glyph, Layout, Line, lay_out, regions
from .painting import Inking, Pose, Smear, glyphs_of, paint_text
from .runs import clusters
from .setting import CASES, Block, Range, Setting
from .units import KINDS, PIVOTS, Pivot, Unit

__all__ = [
    "Block",
    "CASES",
    "Face",
    "Family",
    "Glyph",
    "Inking",
    "KINDS",
    "Layout",
    "Line",
    "OWN",
    "PIVOTS",
    "Pivot",
    "Pose",
    "glyphs_of",
    "Smear",
    "Range",
    "STAND_IN",
    "Setting",
    "Unit",
    "clusters",
    "face_for",
    "families",
    "family_of",
    "lay_out",
    "paint_text",
    "regions",
]
