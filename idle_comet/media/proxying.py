"""Making light stand-ins for shots: small, every frame whole, so that any frame is a few milliseconds away."""

from __future__ import annotations

import uuid
from fractions import Fraction
from pathlib import Path

import av
import cv2

from ..disk import put
from .decode import ShotReader, matrix_of
from .proxy import PROXY_WIDTH, proxy_path


def make_proxy(shot: Path) -> Path | None:
    """Write the proxy of a shot beside it: MJPEG, frame for frame and at the same times, at most 640 px wide,
    upright with square pixels, in Rec.709.

    A shot with transparency has none: JPEG can't hold it.
    """
    target = proxy_path(shot)
    if target.exists():
        return target
    reader = ShotReader(shot)
    unfinished = target.with_name(f".{uuid.uuid4().hex}.{target.name}")
    try:
        if reader.alpha:
            return None
        width, height = _size(reader)
        with av.open(str(unfinished), "w", format="matroska") as out:
            small = out.add_stream("mjpeg", rate=1 / reader.base, options={"qmin": "3", "qmax": "3"})
            small.width, small.height, small.pix_fmt = width, height, "yuvj420p"
            small.codec_context.time_base = reader.base
            for at, frame in reader.all():
                if reader.plain(frame):
                    # From the shot's matrix to Rec.709's, from its range to JPEG's.
                    scaled = frame.reformat(
                        width,
                        height,
                        "yuvj420p",
                        src_colorspace=matrix_of(frame),
                        dst_colorspace=1,
                        src_color_range=2 if frame.color_range == 2 else 1,
                        dst_color_range=2,
                        interpolation="AREA",
                    )
                else:
                    picture = cv2.resize(reader.shown(frame, exact=True), (width, height), interpolation=cv2.INTER_AREA)
                    scaled = av.VideoFrame.from_ndarray(picture, format="rgba").reformat(
                        format="yuvj420p", src_color_range=2, dst_colorspace=1, dst_color_range=2, interpolation="AREA"
                    )
                scaled.pts, scaled.time_base = at, reader.base
                for packet in small.encode(scaled):
                    out.mux(packet)
            for packet in small.encode():
                out.mux(packet)
        put(unfinished, target)
    finally:
        reader.close()
        unfinished.unlink(missing_ok=True)
    return target


def _size(reader: ShotReader) -> tuple[int, int]:
    shape = reader.shape
    width = max(2, min(PROXY_WIDTH, shape.width) // 2 * 2)
    return width, min(16384, max(2, round(Fraction(shape.height * width, shape.width) / 2) * 2))
