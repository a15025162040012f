"""Space: solids, how they are lit, and how they come to be px."""

from .around import AROUND, NOTHING, Around, around, around_of
from .extrude import BEVELS, EDGE, FRONT, SIDE, Bevel, Cut, extruded, region_of
from .lights import LightNow, rows_of, usual
from .lit import lit
from .mesh import Mesh, face_normals, joined, smoothed
from .rasterise import Triangles, nearness_of, rasterise
from .shade import Painted
from .wear import WORKED, Worked, worked

__all__ = [
    "AROUND",
    "Around",
    "BEVELS",
    "Bevel",
    "Cut",
    "EDGE",
    "FRONT",
    "LightNow",
    "Mesh",
    "NOTHING",
    "Painted",
    "SIDE",
    "Triangles",
    "WORKED",
    "Worked",
    "around",
    "around_of",
    "extruded",
    "face_normals",
    "joined",
    "lit",
    "nearness_of",
    "rasterise",
    "region_of",
    "rows_of",
    "smoothed",
    "usual",
    "worked",
]
