"""Writing a film: H.264 in MP4, Rec.709, tagged so that every player shows the same colours."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from ..core.picture import to_i420

_REC709 = 1
_LIMITED = 1


class FilmWriter:
    """Frames in, a finished MP4 out. Use as a context; on an error the file is left unfinished."""

    def __init__(
        self,
        path: Path,
        width: int,
        height: int,
        rate: Fraction,
        crf: float = 18,
        preset: str = "veryfast",
        threads: int = 0,
        keys_every: int = 0,
        more: dict[str, str] | None = None,
    ) -> None:
        """`keys_every` frames a whole picture stands in the file, for shots that are sought in; 0 leaves it to the
        encoder. `more` are further options of the encoder."""
        self._container = av.open(str(path), "w", format="mp4", options={"movflags": "+faststart"})
        self._stream = self._container.add_stream("libx264", rate=rate)
        context = self._stream.codec_context
        context.width, context.height, context.pix_fmt = width, height, "yuv420p"
        context.time_base = 1 / rate
        context.thread_count = threads
        context.options = {"crf": f"{crf:g}", "preset": preset, "chroma_sample_location": "left"}
        if keys_every:
            context.options |= {"g": str(keys_every), "bf": "0", "tune": "fastdecode"}
        context.options |= more or {}
        context.colorspace = context.color_primaries = context.color_trc = _REC709
        context.color_range = _LIMITED
        self._count = 0

    def write(self, rgba: np.ndarray) -> None:
        """Add one (h, w, 4) uint8 frame."""
        frame = av.VideoFrame(rgba.shape[1], rgba.shape[0], "yuv420p")
        for plane, pixels in zip(frame.planes, to_i420(rgba)):
            rows = np.frombuffer(plane, np.uint8).reshape(-1, plane.line_size)
            rows[: pixels.shape[0], : pixels.shape[1]] = pixels
        # Tags on the context alone are not enough: the encoder reads them off each frame too.
        frame.colorspace = frame.color_primaries = frame.color_trc = _REC709
        frame.color_range = _LIMITED
        frame.pts, frame.time_base = self._count, self._stream.codec_context.time_base
        self._count += 1
        for packet in self._stream.encode(frame):
            self._container.mux(packet)

    def __enter__(self) -> "FilmWriter":
        return self

    def __exit__(self, kind, error, trace) -> None:
        if kind is None:
            for packet in self._stream.encode():
                self._container.mux(packet)
        self._container.close()
