"""Reading frames of shots by number: in order when played, by seeking when not."""

from __future__ import annotations

from collections import OrderedDict
from fractions import Fraction
from pathlib import Path
from typing import Callable, Iterator

import av
import numpy as np
from av.video.reformatter import Colorspace, ColorRange, Interpolation, VideoReformatter

from ..core.picture import planes_to_rgba
from .alpha import has_alpha, premultiplied
from .probe import MediaError
from .proxy import PROXY_WIDTH, proxy_path

_SEEK_BEYOND = 24
"""Frames ahead up to which decoding on is cheaper than seeking."""


class ShotReader:
    """One open shot. Frames are found by their time stamp, never by counting calls."""

    def __init__(self, path: Path) -> None:
        self.is_proxy = path.suffixes[-2:-1] == [".proxy"]
        # Runs of pictures are stored premultiplied by us; files from elsewhere are straight.
        self.straight = ".premultiplied" not in path.suffixes
        try:
            self._container = av.open(str(path))
        except (av.FFmpegError, OSError) as error:
            raise MediaError(f"{path.name} can't be opened: {error}") from error
        self._stream = self._container.streams.video[0]
        self._stream.thread_type = "SLICE"
        # The common decoder drops the transparency of VP8 and VP9.
        hidden = self._stream.metadata.get("alpha_mode") == "1" and self._stream.codec_context.name in ("vp8", "vp9")
        self._alpha_decoder = av.CodecContext.create(f"libvpx{'-vp9' * (self._stream.codec_context.name == 'vp9')}", "r") if hidden else None
        self.alpha = hidden or has_alpha(self._stream.codec_context.format)
        self._rate = Fraction(self._stream.average_rate)
        self._first = self._stream.start_time or 0
        self._frames = None
        self._at = -1
        self._last: av.VideoFrame | None = None

    def close(self) -> None:
        self._container.close()

    def _number(self, frame: av.VideoFrame) -> int:
        return round((frame.pts - self._first) * self._stream.time_base * self._rate)

    def _decode(self) -> Iterator[av.VideoFrame]:
        if self._alpha_decoder is None:
            return self._container.decode(self._stream)
        return (frame for packet in self._container.demux(self._stream) for frame in self._alpha_decoder.decode(packet))

    def frame(self, index: int) -> av.VideoFrame:
        """The frame with this number; past the end, the last one there is."""
        if self._last is not None and self._at == index:
            return self._last
        if self._frames is None or index < self._at or index > self._at + _SEEK_BEYOND:
            self._container.seek(self._first + int(index / self._rate / self._stream.time_base), stream=self._stream)
            self._frames = self._decode()
            self._last = None
        for frame in self._frames:
            self._at, self._last = self._number(frame), frame
            if self._at >= index:
                return frame
        if self._last is None:
            raise MediaError("The shot ended before the frame that was asked for.")
        self._frames = None
        return self._last


class ShotSources:
    """Frames of a project's shots and stills as premultiplied RGBA, with the last ones kept."""

    def __init__(self, path_of: Callable[[str], Path], keep_bytes: int = 384 << 20) -> None:
        self._path_of = path_of
        self._readers: OrderedDict[Path, ShotReader] = OrderedDict()
        self._kept: OrderedDict[tuple, np.ndarray] = OrderedDict()
        self._bytes, self._most = 0, keep_bytes

    def frame(self, media: str, index: int, width: int, exact: bool) -> np.ndarray:
        """(h, w, 4) uint8; see `core.compose.Sources`."""
        path = self._path_of(media)
        light = proxy_path(path)
        if not exact and width <= PROXY_WIDTH * 1.15 and light.exists():
            path = light
        key = (path, index, exact)
        if key not in self._kept:
            self._kept[key] = picture = self._read(path, index, exact)
            self._bytes += picture.nbytes
            while self._bytes > self._most and len(self._kept) > 1:
                self._bytes -= self._kept.popitem(last=False)[1].nbytes
        self._kept.move_to_end(key)
        return self._kept[key]

    def _read(self, path: Path, index: int, exact: bool) -> np.ndarray:
        if path.suffix in _STILL_SUFFIXES:
            from .importing import read_still

            return read_still(path, path.name)[0]
        reader = self._reader(path)
        return picture_of(reader.frame(index), reader.alpha, exact, reader.straight, reader.is_proxy)

    def _reader(self, path: Path) -> ShotReader:
        if path not in self._readers:
            if len(self._readers) >= 8:
                self._readers.popitem(last=False)[1].close()
            self._readers[path] = ShotReader(path)
        self._readers.move_to_end(path)
        return self._readers[path]


_STILL_SUFFIXES = {".png", ".jpg", ".jpeg", ".webp"}
_reformatter = VideoReformatter()


def picture_of(frame: av.VideoFrame, alpha: bool, exact: bool, straight: bool = True, proxy: bool = False) -> np.ndarray:
    """A decoded frame as premultiplied (h, w, 4) uint8 RGBA, by the shot's own matrix and range.

    Rec.709 is assumed from 720 lines up when the shot says nothing. `exact` takes the
    slower conversion that is right to one code value.
    """
    tagged = frame.colorspace
    matrix = Colorspace(tagged) if tagged in (1, 5, 6) and not proxy else (
        Colorspace.ITU709 if proxy or frame.height >= 720 else Colorspace.ITU601)
    if exact and frame.format.name in ("yuv420p", "yuvj420p") and frame.width % 2 == frame.height % 2 == 0:
        whole = proxy or frame.color_range == 2 or frame.format.name == "yuvj420p"
        return planes_to_rgba(*_planes(frame), 1 if matrix == Colorspace.ITU709 else 5, whole)
    flags = Interpolation.BICUBIC
    if exact:
        flags = flags | Interpolation.ACCURATE_RND | Interpolation.FULL_CHR_H_INT
    whole_range = proxy or frame.color_range == 2 or frame.format.is_rgb
    out = _reformatter.reformat(
        frame, format="rgba", src_colorspace=matrix, dst_colorspace=Colorspace.ITU709,
        src_color_range=ColorRange.JPEG if whole_range else ColorRange.MPEG, dst_color_range=ColorRange.JPEG,
        interpolation=flags)
    plane = out.planes[0]
    rows = np.frombuffer(plane, np.uint8).reshape(out.height, plane.line_size)[:, :out.width * 4]
    pixels = np.ascontiguousarray(rows).reshape(out.height, out.width, 4)
    return premultiplied(pixels) if alpha and straight else pixels


def _planes(frame: av.VideoFrame) -> list[np.ndarray]:
    """The frame's three planes without their padding."""
    sizes = [(frame.height, frame.width)] + [(frame.height // 2, frame.width // 2)] * 2
    return [
        np.frombuffer(plane, np.uint8).reshape(-1, plane.line_size)[:height, :width]
        for plane, (height, width) in zip(frame.planes, sizes)
    ]
