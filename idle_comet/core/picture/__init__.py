"""Patches of pixels, and what is done to them."""

from .blend import coloured, gathered, over
from .blur import blur_patch, gaussian_blur, reach
from .colour import RGB, parse_colour, to_i420
from .distance import distance_outside
from .fill import covered
from .joining import mix_pictures, reached
from .masking import beyond, field, masked
from .matrix import Matrix
from .missing import missing_picture
from .patch import EVERYWHERE, NOWHERE, Patch, Rect, Sides
from .planes import planes_to_rgba
from .shapes import ellipse, paint_path, polygon, rounded
from .smear import mean_of, travelled
from .svg import SvgError, SvgPart, outline_path, read_svg
from .warp import covered_by, paint_rectangle, warp_picture

__all__ = [
    "EVERYWHERE", "Matrix", "NOWHERE", "Patch", "RGB", "Rect", "Sides", "SvgError", "SvgPart", "beyond", "blur_patch", "coloured", "covered", "covered_by", "distance_outside", "ellipse", "field",
    "gathered", "gaussian_blur", "masked", "mean_of", "missing_picture", "mix_pictures", "outline_path", "over", "paint_path", "paint_rectangle", "parse_colour",
    "planes_to_rgba", "polygon", "reach", "reached", "read_svg", "rounded", "to_i420", "travelled", "warp_picture",
]
