"""Reading pictures: upright, in sRGB, eight bits, with their transparency. Animated ones are read picture by
picture."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Iterator, NamedTuple

import numpy as np
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from .alpha import premultiplied
from .probe import MediaError
from .sniff import check_size

# Sizes are checked by ourselves, before anything is unpacked.
Image.MAX_IMAGE_PIXELS = None

_SRGB = ImageCms.createProfile("sRGB")
_UNREADABLE = (
    OSError,
    ValueError,
    SyntaxError,
    UnidentifiedImageError,
    EOFError,
    KeyError,
    IndexError,
    ImageCms.PyCMSError,
    Image.DecompressionBombError,
)


class Moment(NamedTuple):
    """One picture of an animated file and how long it is shown, ms."""

    picture: np.ndarray
    alpha: bool
    lasts: int


def _opened(path: Path, name: str) -> Image.Image:
    """The file's first picture, not yet unpacked."""
    try:
        image = Image.open(path)
    except _UNREADABLE:
        raise MediaError(
            f"“{name}” can't be read as a picture: it is broken or of an unknown make. It was not added."
        ) from None
    check_size(name, *image.size)
    return image


def read_still(path: Path, name: str) -> tuple[np.ndarray, bool]:
    """A picture file as premultiplied (h, w, 4) uint8 RGBA, and whether it has transparency. Raises MediaError."""
    image = _opened(path, name)
    try:
        image.load()
        return _plain(image)
    except _UNREADABLE:
        raise MediaError(f"“{name}” can't be read to its end: it is broken or cut short. It was not added.") from None


def is_animated(path: Path, name: str) -> bool:
    image = _opened(path, name)
    try:
        return getattr(image, "n_frames", 1) > 1
    except _UNREADABLE:
        return False


def moments(path: Path, name: str) -> Iterator[Moment]:
    """The pictures of an animated file in order, each whole. Raises MediaError."""
    image = _opened(path, name)
    try:
        for number in range(image.n_frames):
            image.seek(number)
            image.load()
            # Files that say nothing, or less than any screen shows, mean a tenth of a second (as browsers have it).
            lasts = int(image.info.get("duration") or 0)
            yield Moment(*_plain(image), lasts if lasts > 10 else 100)
    except _UNREADABLE:
        raise MediaError(f"“{name}” can't be read to its end: it is broken or cut short. It was not added.") from None


def _plain(image: Image.Image) -> tuple[np.ndarray, bool]:
    profile = image.info.get("icc_profile")
    alpha = image.mode in ("RGBA", "LA", "PA", "La", "RGBa") or "transparency" in image.info
    image = ImageOps.exif_transpose(image)
    if image.mode.startswith("I;16") or image.mode in ("I", "F"):
        image = _eight_bits(image)
    if image.mode in ("P", "PA", "LA", "La", "RGBa", "1") or (alpha and image.mode != "RGBA"):
        image = image.convert("RGBA" if alpha else "RGB")
    if profile and image.mode in ("RGB", "RGBA", "CMYK", "L", "LAB"):
        image = _in_srgb(image, profile)
    pixels = np.asarray(image.convert("RGBA"))
    return (premultiplied(pixels), True) if alpha else (np.ascontiguousarray(pixels), False)


def _eight_bits(image: Image.Image) -> Image.Image:
    values = np.asarray(image).astype(np.float64)
    # Whole numbers of this kind are 16 bits wide; others are light from 0 to 1.
    values = values / 257 if image.mode != "F" else values * 255
    return Image.fromarray(np.rint(values.clip(0, 255)).astype(np.uint8), "L")


def _in_srgb(image: Image.Image, profile: bytes) -> Image.Image:
    """Through the picture's own profile; one that makes no sense is left aside."""
    try:
        own = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        mode = "RGBA" if image.mode == "RGBA" else "RGB"
        return (
            ImageCms.profileToProfile(
                image,
                own,
                _SRGB,
                renderingIntent=ImageCms.Intent.RELATIVE_COLORIMETRIC,
                outputMode=mode,
                flags=ImageCms.Flags.BLACKPOINTCOMPENSATION,
            )
            or image
        )
    except (ImageCms.PyCMSError, ValueError, OSError):
        return image
