"""Patches of pixels, and what is done to them."""

from .blend import coloured, over
from .blur import blur_patch, gaussian_blur, reach
from .colour import RGB, parse_colour, to_i420
from .joining import mix_pictures, reached
from .matrix import Matrix
from .patch import Patch, Rect
from .planes import planes_to_rgba
from .smear import mean_of, travelled
from .warp import paint_rectangle, warp_picture

__all__ = [
    "Matrix", "Patch", "RGB", "Rect", "blur_patch", "coloured", "gaussian_blur", "mean_of", "mix_pictures", "over", "paint_rectangle", "parse_colour",
    "planes_to_rgba", "reach", "reached", "to_i420", "travelled", "warp_picture",
]
