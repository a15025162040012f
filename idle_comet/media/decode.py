"""Reading frames of shots by number: in order when played, by seeking when not."""

from __future__ import annotations

from bisect import bisect_right
from collections import OrderedDict
from fractions import Fraction
from pathlib import Path
from typing import Callable, Iterator

import av
import numpy as np
from av.video.reformatter import ColorRange, Colorspace, Interpolation, VideoReformatter

from ..core.compose import PictureMissing
from ..core.picture import Cube, Planes, planes_to_rgba
from ..core.remember import Budget
from ..core.space.model import ReadModel
from .alpha import has_alpha, premultiplied
from .interlaced import deinterlaced, is_interlaced
from .models import MODELS, read_model
from .probe import CHANGING, MediaError, shape_of, times_of
from .proxy import PROXY_WIDTH, proxy_path
from .sniff import TABLE
from .stills import read_still
from .tables import read_table
from .wide import is_wide, to_rec709

_SEEK_BEYOND = 24
"""Frames ahead up to which decoding on is cheaper than seeking."""


_PROXY_BEYOND = 3
"""The same of a proxy, whose every frame stands by itself."""


class ShotReader:
    """One open shot. Frames are found by their own times, never by counting calls; `like` is another reader of the same
    file, which knows them."""

    def __init__(self, path: Path, like: ShotReader | None = None) -> None:
        self.is_proxy = ".proxy" in path.suffixes
        # Runs of pictures are stored premultiplied by us; files from elsewhere are straight.
        self._straight = ".premultiplied" not in path.suffixes
        # A shot of changing rate is counted in milliseconds; any other by its frames.
        self._changing = ".changing" in path.suffixes
        try:
            self._container = av.open(str(path))
        except (av.FFmpegError, OSError) as error:
            raise MediaError(f"The file of the shot can't be opened ({error.strerror})") from error
        self._stream = self._container.streams.video[0]
        self._stream.thread_type = "SLICE"
        # The common decoder drops the transparency of VP8 and VP9.
        told = {name.lower(): value for name, value in self._stream.metadata.items()}
        hidden = told.get("alpha_mode") == "1" and self._stream.codec_context.name in ("vp8", "vp9")
        self._alpha_decoder = (
            av.CodecContext.create(f"libvpx{'-vp9' * (self._stream.codec_context.name == 'vp9')}", "r")
            if hidden
            else None
        )
        self.alpha = hidden or has_alpha(self._stream.codec_context.format)
        self._times = times_of(self._container, self._stream) if like is None else like._times
        if not self._times:
            raise MediaError("The file of the shot holds no frames")
        self._frames: Iterator[tuple[int, av.VideoFrame]] | None = None
        self._last: tuple[int, av.VideoFrame] | None = None
        first = next(self._decoded(0), (0, None))[1]
        self.shape = shape_of(self._stream, first)
        self._interlaced = not self.is_proxy and first is not None and is_interlaced(first)

    def close(self) -> None:
        self._container.close()

    def _decoded(self, at: int) -> Iterator[tuple[int, av.VideoFrame]]:
        """(time, frame) from the last whole picture before a time on."""
        self._container.seek(at, stream=self._stream)
        if self._alpha_decoder is None:
            return ((frame.pts, frame) for frame in self._container.decode(self._stream) if frame.pts is not None)
        return (
            (frame.pts, frame)
            for packet in self._container.demux(self._stream)
            for frame in self._alpha_decoder.decode(packet)
        )

    def _place(self, index: int) -> int:
        """The place, among the frames there are, of the one that is due at an index of the shot's rate."""
        if not self._changing:
            return min(index, len(self._times) - 1)
        # Half a millisecond: what lies on the grid may have been rounded to either side of it.
        due = self._times[0] + (Fraction(2 * index + 1, 2) / CHANGING) / self._stream.time_base
        return max(0, bisect_right(self._times, due) - 1)

    def frame(self, index: int) -> av.VideoFrame:
        """The frame that is due at this number; past the end, the last one there is."""
        place = self._place(index)
        wanted = self._times[place]
        if self._last is not None and self._last[0] == wanted:
            return self._last[1]
        here = -1 if self._last is None else bisect_right(self._times, self._last[0]) - 1
        if self._frames is None or not here < place <= here + (_PROXY_BEYOND if self.is_proxy else _SEEK_BEYOND):
            # Fields are woven with those beside them: two frames earlier, so that the result is the same from anywhere.
            self._frames = self._decoded(self._times[max(0, place - 2 * self._interlaced)])
            if self._interlaced:
                self._frames = deinterlaced(self._frames, self._stream)
            self._last = None
        for at, frame in self._frames:
            self._last = (at, frame)
            if at >= wanted:
                return frame
        if self._last is None:
            raise MediaError("The shot ended before the frame that was asked for")
        self._frames = None
        return self._last[1]

    def reaches(self, index: int) -> bool:
        """Whether a frame is had by reading on, without going elsewhere in the file."""
        if self._last is None or self._frames is None:
            return False
        here = bisect_right(self._times, self._last[0]) - 1
        return here <= self._place(index) <= here + (_PROXY_BEYOND if self.is_proxy else _SEEK_BEYOND)

    @property
    def base(self) -> Fraction:
        """Seconds in which the shot's frames are counted."""
        rate = self._stream.average_rate or Fraction(25)
        return 1 / CHANGING if self._changing else 1 / Fraction(rate)

    def all(self) -> Iterator[tuple[int, av.VideoFrame]]:
        """Every frame in order, and when it is shown, in `base`; no other frame can be asked for meanwhile."""
        self._frames = self._last = None
        frames = self._decoded(self._times[0])
        for number, (at, frame) in enumerate(deinterlaced(frames, self._stream) if self._interlaced else frames):
            yield round((at - self._times[0]) * self._stream.time_base / self.base) if self._changing else number, frame

    def plain(self, frame: av.VideoFrame) -> bool:
        """Whether a frame is shown as it is stored, but for its matrix and range."""
        return not (self.shape.turns or is_wide(frame)) and not self.alpha

    def shown(self, frame: av.VideoFrame, exact: bool) -> np.ndarray:
        """A frame as premultiplied (h, w, 4) uint8 RGBA in Rec.709, upright; its pixels may not be square."""
        if not self.is_proxy and is_wide(frame) and not self.alpha:
            pixels = to_rec709(frame)
        else:
            pixels = picture_of(frame, self.alpha, exact, self._straight, self.is_proxy)
        turns = 0 if self.is_proxy else self.shape.turns
        return np.ascontiguousarray(np.rot90(pixels, turns)) if turns else pixels

    def picture(self, index: int, exact: bool) -> np.ndarray:
        """The frame that is due at this number, as it is shown."""
        return self.shown(self.frame(index), exact)

    def planes(self, index: int) -> Planes | None:
        """The frame's planes, where it is shown just as it is stored; None where its picture has to be worked out."""
        frame = self.frame(index)
        turned = not self.is_proxy and self.shape.turns
        if self.alpha or turned or not self.is_proxy and is_wide(frame) or not _planar(frame):
            return None
        matrix = Colorspace.ITU709 if self.is_proxy else matrix_of(frame)
        # The decoder's own memory: it is not used again while somebody holds it.
        return Planes(*_planes(frame), 1 if matrix == Colorspace.ITU709 else 5, _whole_range(frame, self.is_proxy))


EXPORTED = 24 << 20
"""Bytes of shots kept while a film is exported: each frame is wanted once, or by both sides of a transition."""


class ShotSources:
    """Frames of a project's shots and stills as premultiplied RGBA, with the last ones kept."""

    def __init__(self, path_of: Callable[[str], Path], kept: Budget | None = None) -> None:
        self._path_of = path_of
        self._readers: OrderedDict[tuple[Path, int], ShotReader] = OrderedDict()
        self._kept = Budget(192 << 20) if kept is None else kept

    def frame(self, media: str, index: int, width: int, exact: bool) -> np.ndarray:
        """(h, w, 4) uint8; see `core.compose.Sources`."""
        path = self._file(media, width, exact)
        key = (path, index, exact)
        found = self._kept.find(key)
        if found is None:
            if not path.exists():
                raise PictureMissing(media)
            found = self._read(path, index, exact)
            self._kept.keep(key, found, found.nbytes)
        return found

    def planes(self, media: str, index: int, width: int, exact: bool) -> Planes | None:
        """A shot's frame as it is stored; see `core.compose.sources.PlanarSources`."""
        path = self._file(media, width, exact)
        if path.suffix in _STILL_SUFFIXES:
            return None
        key = (path, index, "planes")
        found = self._kept.find(key)
        if found is None:
            if not path.exists():
                raise PictureMissing(media)
            found = self._reader(path, index).planes(index)
            if found is not None:
                self._kept.keep(key, found, found.nbytes)
        return found

    def table(self, media: str) -> Cube:
        """A table of colours; see `core.compose.sources.TableSources`."""
        try:
            path = self._path_of(media)
        except KeyError:
            raise PictureMissing(media) from None
        found = self._kept.find((path, "table"))
        if found is None:
            if not path.exists():
                raise PictureMissing(media)
            found = read_table(path, path.name)
            self._kept.keep((path, "table"), found, found.entries.nbytes)
        return found

    def model(self, media: str) -> ReadModel:
        """A model; see `core.compose.sources.ModelSources`."""
        try:
            path = self._path_of(media)
        except KeyError:
            raise PictureMissing(media) from None
        found = self._kept.find((path, "model"))
        if found is None:
            if not path.exists() or path.suffix not in MODELS:
                raise PictureMissing(media)
            found = read_model(path, path.name)
            self._kept.keep((path, "model"), found, found.nbytes)
        return found

    def _file(self, media: str, width: int, exact: bool) -> Path:
        """The shot's own file, or where a light picture will do its proxy. Raises PictureMissing."""
        try:
            path = self._path_of(media)
        except KeyError:
            raise PictureMissing(media) from None
        if path.suffix == TABLE or path.suffix in MODELS:
            raise PictureMissing(media)
        light = proxy_path(path)
        return light if not exact and width <= PROXY_WIDTH * 1.15 and light.exists() else path

    def _read(self, path: Path, index: int, exact: bool) -> np.ndarray:
        if path.suffix in _STILL_SUFFIXES:
            return read_still(path, path.name)[0]
        return self._reader(path, index).picture(index, exact)

    def _reader(self, path: Path, index: int) -> ShotReader:
        """One that is there already, or near it: clips that show a shot at different moments have one each, so that
        none has to go back and forth. In a proxy any frame is as near as the next, and one reader does. The one that
        was used longest ago gives way."""
        own = [key for key in self._readers if key[0] == path]
        key = next((key for key in reversed(own) if self._readers[key].reaches(index)), None)
        if key is None and own and (len(own) >= _EACH or self._readers[own[0]].is_proxy):
            key = own[0]
        if key is None:
            like = self._readers[own[0]] if own else None
            if len(self._readers) >= _READERS:
                self._readers.popitem(last=False)[1].close()
            used = {number for shot, number in self._readers if shot == path}
            key = path, next(number for number in range(_EACH + 1) if number not in used)
            self._readers[key] = ShotReader(path, like)
        self._readers.move_to_end(key)
        return self._readers[key]


_READERS, _EACH = 8, 3
"""Readers that are open at once, and of one shot."""

_STILL_SUFFIXES = {".png", ".jpg", ".jpeg", ".webp", ".gif"}
_reformatter = VideoReformatter()
_MATRICES = {
    1: Colorspace.ITU709,
    4: Colorspace.FCC,
    5: Colorspace.ITU601,
    6: Colorspace.ITU601,
    7: Colorspace.SMPTE240M,
    9: Colorspace.BT2020,
    10: Colorspace.BT2020,
}
"""Matrices by number (ITU-T H.273); 5 and 6 are both BT.601."""


def matrix_of(frame: av.VideoFrame) -> Colorspace:
    """The frame's own matrix; Rec.709 from 720 lines up, BT.601 below, where it says none."""
    return _MATRICES.get(frame.colorspace) or (Colorspace.ITU709 if frame.height >= 720 else Colorspace.ITU601)


def picture_of(
    frame: av.VideoFrame, alpha: bool, exact: bool, straight: bool = True, proxy: bool = False
) -> np.ndarray:
    """A decoded frame as premultiplied (h, w, 4) uint8 RGBA, by the shot's own matrix and range.

    Rec.709 is assumed from 720 lines up when the shot says nothing. `exact` takes the
    slower conversion that is right to one code value.
    """
    matrix = Colorspace.ITU709 if proxy else matrix_of(frame)
    if exact and _planar(frame):
        return planes_to_rgba(*_planes(frame), 1 if matrix == Colorspace.ITU709 else 5, _whole_range(frame, proxy))
    flags = Interpolation.BICUBIC
    if exact:
        flags = flags | Interpolation.ACCURATE_RND | Interpolation.FULL_CHR_H_INT
    whole_range = proxy or frame.color_range == 2 or frame.format.is_rgb
    out = _reformatter.reformat(
        frame,
        format="rgba",
        src_colorspace=matrix,
        dst_colorspace=Colorspace.ITU709,
        src_color_range=ColorRange.JPEG if whole_range else ColorRange.MPEG,
        dst_color_range=ColorRange.JPEG,
        interpolation=flags,
    )
    plane = out.planes[0]
    rows = np.frombuffer(plane, np.uint8).reshape(out.height, plane.line_size)[:, : out.width * 4]
    pixels = np.ascontiguousarray(rows).reshape(out.height, out.width, 4)
    return premultiplied(pixels) if alpha and straight else pixels


def _planar(frame: av.VideoFrame) -> bool:
    """Whether it is 4:2:0 of eight bits, by a matrix there are weights for."""
    return (
        frame.format.name in ("yuv420p", "yuvj420p")
        and frame.width % 2 == frame.height % 2 == 0
        and matrix_of(frame) in (Colorspace.ITU709, Colorspace.ITU601)
    )


def _whole_range(frame: av.VideoFrame, proxy: bool) -> bool:
    return proxy or frame.color_range == 2 or frame.format.name == "yuvj420p"


def _planes(frame: av.VideoFrame) -> list[np.ndarray]:
    """The frame's three planes without their padding."""
    sizes = [(frame.height, frame.width)] + [(frame.height // 2, frame.width // 2)] * 2
    return [
        np.frombuffer(plane, np.uint8).reshape(-1, plane.line_size)[:height, :width]
        for plane, (height, width) in zip(frame.planes, sizes)
    ]
