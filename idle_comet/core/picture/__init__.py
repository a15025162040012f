"""Patches of pixels, and what is done to them."""

from .blend import over
from .blur import blur_patch, gaussian_blur, reach
from .colour import RGB, parse_colour, to_i420
from .matrix import Matrix
from .patch import Patch, Rect
from .planes import planes_to_rgba
from .warp import paint_rectangle, warp_picture

__all__ = [
    "Matrix", "Patch", "RGB", "Rect", "blur_patch", "gaussian_blur", "over", "paint_rectangle", "parse_colour", "planes_to_rgba", "reach", "to_i420",
    "warp_picture",
]
