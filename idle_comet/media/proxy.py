"""Light stand-ins for shots: small, every frame whole, so that any frame is a few milliseconds away."""

from __future__ import annotations

import os
from fractions import Fraction
from pathlib import Path

import av

PROXY_WIDTH = 640


def proxy_path(shot: Path) -> Path:
    return shot.with_suffix(".proxy.mkv")


def make_proxy(shot: Path, alpha: bool = False) -> Path | None:
    """Write the proxy of a shot beside it: MJPEG, frame for frame, at most 640 px wide.

    A shot with transparency has none: JPEG can't hold it.
    """
    target = proxy_path(shot)
    if alpha:
        return None
    if target.exists():
        return target
    unfinished = target.with_name(f".{target.name}.part")
    with av.open(str(shot)) as source, av.open(str(unfinished), "w", format="matroska") as out:
        stream = source.streams.video[0]
        stream.thread_type = "AUTO"
        rate = Fraction(stream.average_rate)
        width = min(PROXY_WIDTH, stream.width) // 2 * 2
        height = max(2, round(stream.height * width / stream.width / 2) * 2)
        small = out.add_stream("mjpeg", rate=rate, options={"qmin": "3", "qmax": "3"})
        small.width, small.height, small.pix_fmt = width, height, "yuvj420p"
        small.codec_context.time_base = 1 / rate
        for number, frame in enumerate(source.decode(stream)):
            # The matrix stays the shot's own; only the range is JPEG's.
            scaled = frame.reformat(width, height, "yuvj420p", src_colorspace=1, dst_colorspace=1,
                                    src_color_range=1, dst_color_range=2, interpolation="AREA")
            scaled.pts, scaled.time_base = number, 1 / rate
            for packet in small.encode(scaled):
                out.mux(packet)
        for packet in small.encode():
            out.mux(packet)
    os.replace(unfinished, target)
    return target
