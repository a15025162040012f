"""Single frames as PNG and JPEG."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
import simplejpeg


def write_png(path: Path, rgba: np.ndarray) -> None:
    """Write an opaque (h, w, 4) uint8 frame; raises OSError when it can't be written."""
    if not path.parent.is_dir():
        raise OSError(f"The folder {path.parent} does not exist.")
    done, data = cv2.imencode(".png", np.ascontiguousarray(rgba[..., 2::-1]))
    assert done
    path.write_bytes(data.tobytes())


def jpeg_bytes(rgba: np.ndarray, quality: int) -> bytes:
    """An opaque frame as JPEG; from quality 90 up without chroma subsampling."""
    return simplejpeg.encode_jpeg(
        np.ascontiguousarray(rgba),
        quality=quality,
        colorspace="RGBA",
        colorsubsampling="444" if quality >= 90 else "420",
        fastdct=quality < 90,
    )
