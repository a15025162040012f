"""Patches of pixels, and what is done to them."""

from .bend import bent, bent_by, places, pushed_by, widened
from .blend import area_of, deepened, gathered, going_on, one_colour, over, set_down
from .blur import blur_patch, gaussian_blur, light_reach, octaves, reach
from .colour import RGB, parse_colour, to_i420
from .crossing import Nearness, before, crossed
from .cube import Cube, CubeError, looked_up, read_cube
from .distance import distance_outside
from .dither import lay_into, round_into
from .eye import Eye, Focus, Vector, cross, dot, looking_at, thin_lens, turned_axes, turned_by
from .fill import Outlines, Streak, add_streaks, covered
from .grade import LUMA, Curve, Grading, graded, line, saturating
from .grain import add_grain, in_strips
from .joining import mix_pictures, reached
from .kernel import kernel, load_kernels
from .keying import colourfulness, keyed
from .leak import leaking
from .lens import Discs, Opening, defocused, reach_of
from .light import GAMMA, as_light, bright, code_of, light_of, screened, shone
from .masking import beyond, carried_on, field, field_lines, field_of, framed, masked, shifted, within
from .matrix import Matrix
from .missing import missing_picture
from .mixing import mixed
from .modes import MODES, Mode, blend
from .noise import noise, noise_over, sampled_noise
from .patch import EVERYWHERE, NOWHERE, Patch, Rect, Sides, enlarged, place_of
from .planes import Planes, planes_to_rgba
from .power import raised
from .shapes import (
    bezier_path,
    cornered,
    ellipse,
    lines_of,
    paint_box,
    paint_path,
    part_of,
    polygon,
    rounded,
    skia_matrix,
    star,
    stroked,
)
from .smear import mean_of, travelled
from .spots import lay_spots
from .svg import SvgError, SvgPart, outline_path, read_svg, was_read
from .tally import Tally, tally
from .tinge import brighten, ramp, tinged, unsharp
from .warp import covered_by, paint_rectangle, warp_picture

__all__ = [
    "turned_by",
    "Nearness",
    "crossed",
    "carried_on",
    "framed",
    "shifted",
    "thin_lens",
    "lines_of",
    "before",
    "code_of",
    "enlarged",
    "cross",
    "dot",
    "raised",
    "reach_of",
    "defocused",
    "Opening",
    "Focus",
    "Discs",
    "EVERYWHERE",
    "Cube",
    "CubeError",
    "GAMMA",
    "Grading",
    "Curve",
    "line",
    "LUMA",
    "MODES",
    "Matrix",
    "Mode",
    "NOWHERE",
    "Outlines",
    "Patch",
    "Planes",
    "RGB",
    "Rect",
    "Sides",
    "Streak",
    "Tally",
    "SvgError",
    "SvgPart",
    "add_grain",
    "add_streaks",
    "area_of",
    "as_light",
    "bent",
    "bright",
    "brighten",
    "bent_by",
    "beyond",
    "bezier_path",
    "skia_matrix",
    "star",
    "stroked",
    "blend",
    "blur_patch",
    "deepened",
    "colourfulness",
    "covered",
    "covered_by",
    "distance_outside",
    "cornered",
    "Eye",
    "Vector",
    "ellipse",
    "looking_at",
    "turned_axes",
    "field",
    "field_lines",
    "field_of",
    "gathered",
    "gaussian_blur",
    "going_on",
    "graded",
    "kernel",
    "in_strips",
    "keyed",
    "lay_spots",
    "light_of",
    "light_reach",
    "leaking",
    "load_kernels",
    "looked_up",
    "masked",
    "mean_of",
    "missing_picture",
    "mix_pictures",
    "mixed",
    "noise",
    "noise_over",
    "octaves",
    "one_colour",
    "outline_path",
    "over",
    "paint_box",
    "paint_path",
    "paint_rectangle",
    "parse_colour",
    "planes_to_rgba",
    "place_of",
    "places",
    "pushed_by",
    "part_of",
    "polygon",
    "reach",
    "read_cube",
    "reached",
    "read_svg",
    "was_read",
    "lay_into",
    "round_into",
    "rounded",
    "saturating",
    "sampled_noise",
    "screened",
    "set_down",
    "shone",
    "to_i420",
    "ramp",
    "tally",
    "tinged",
    "travelled",
    "unsharp",
    "warp_picture",
    "widened",
    "within",
]
