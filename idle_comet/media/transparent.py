"""Films with transparency: painted over nothing, kept without loss, written in a form that others read."""

from __future__ import annotations

import zipfile
from fractions import Fraction
from pathlib import Path
from typing import Iterator, Literal, NamedTuple

import av
import cv2
import numpy as np
from av.video.reformatter import ColorRange, Colorspace, Interpolation

from ..core.picture import to_i420

FilmFormat = Literal["h264", "prores4444", "animation", "vp9", "png"]
AlphaKind = Literal["straight", "premultiplied"]

PREMULTIPLIED = "premultiplied alpha"
"""What a file says of itself whose colours are multiplied by their alpha; without it they are straight."""


class AlphaFormat(NamedTuple):
    """A file with transparency: its suffix and container, its coder with options, how it stores px, and its sound."""

    suffix: str
    container: str
    coder: str
    pixels: str
    options: dict[str, str]
    sound: str


ALPHA_FORMATS: dict[str, AlphaFormat] = {
    "prores4444": AlphaFormat(
        ".mov", "mov", "prores_ks", "yuva444p10le", {"profile": "4444", "alpha_bits": "16", "qscale": "4"}, "pcm"
    ),
    "animation": AlphaFormat(".mov", "mov", "qtrle", "argb", {}, "pcm"),
    "vp9": AlphaFormat(
        ".webm", "webm", "libvpx-vp9", "yuva420p", {"crf": "12", "b": "0", "deadline": "good", "cpu-used": "4"}, "opus"
    ),
    "png": AlphaFormat(".zip", "", "", "rgba", {}, "wav"),
}

_BT709 = 1
_reformatter = av.video.reformatter.VideoReformatter()


def straight(rgba: np.ndarray) -> np.ndarray:
    """Premultiplied (h, w, 4) uint8 as straight. Where nothing is seen the colour is that of what lies beside it, so
    that coders and scalers draw no dark line along edges."""
    alpha = rgba[..., 3:].astype(np.float32)
    out = np.where(alpha > 0, np.rint(rgba[..., :3] * (255 / np.maximum(alpha, 1))), 0)
    clear = rgba[..., 3] == 0
    if clear.any() and not clear.all():
        wide = rgba.astype(np.float32)
        for size in (3, 9, 33):
            spread = cv2.blur(wide, (size, size), borderType=cv2.BORDER_REPLICATE)
            near = clear & (spread[..., 3] > 0.01)
            out[near] = np.rint(spread[near, :3] * (255 / spread[near, 3:]))
            clear &= ~near
            if not clear.any():
                break
    return np.concatenate([np.clip(out, 0, 255).astype(np.uint8), rgba[..., 3:]], 2)


class LosslessWriter:
    """Premultiplied (h, w, 4) frames kept as they are, for as long as a film is being made. Use as a context."""

    def __init__(self, path: Path, width: int, height: int, rate: Fraction) -> None:
        self._container = av.open(str(path), "w", format="matroska")
        self._stream = self._container.add_stream("ffv1", rate=rate)
        self._stream.width, self._stream.height, self._stream.pix_fmt = width, height, "bgra"
        self._stream.codec_context.time_base = 1 / rate
        self._stream.codec_context.options = {"level": "3", "slices": "4"}
        self._count = 0

    def write(self, rgba: np.ndarray) -> None:
        frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(rgba[..., [2, 1, 0, 3]]), format="bgra")
        frame.pts, frame.time_base = self._count, self._stream.codec_context.time_base
        self._count += 1
        for packet in self._stream.encode(frame):
            self._container.mux(packet)

    def __enter__(self) -> "LosslessWriter":
        return self

    def __exit__(self, kind: object, error: object, trace: object) -> None:
        if kind is None:
            for packet in self._stream.encode():
                self._container.mux(packet)
        self._container.close()


def lossless(path: Path) -> Iterator[np.ndarray]:
    """The frames of such a file."""
    with av.open(str(path)) as container:
        for frame in container.decode(video=0):
            yield frame.to_ndarray(format="bgra")[..., [2, 1, 0, 3]]


class AlphaWriter:
    """Frames of a film with transparency into an open container."""

    def __init__(
        self,
        out: av.container.OutputContainer,
        form: AlphaFormat,
        width: int,
        height: int,
        rate: Fraction,
        kind: AlphaKind,
    ) -> None:
        self._out, self._form, self._kind = out, form, kind
        self.stream = out.add_stream(form.coder, rate=rate)
        context = self.stream.codec_context
        context.width, context.height, context.pix_fmt = width, height, form.pixels
        context.time_base = 1 / rate
        context.options = dict(form.options)
        if form.pixels.startswith("yuva"):
            context.colorspace = context.color_primaries = context.color_trc = _BT709
            context.color_range = 1
        if form.container == "webm":
            self.stream.metadata["alpha_mode"] = "1"
        if kind == "premultiplied":
            out.metadata["comment"] = PREMULTIPLIED
        self._count = 0

    def write(self, rgba: np.ndarray) -> None:
        """Add one premultiplied (h, w, 4) uint8 frame."""
        frame = _frame(rgba if self._kind == "premultiplied" else straight(rgba), self._form.pixels)
        frame.pts, frame.time_base = self._count, self.stream.codec_context.time_base
        self._count += 1
        for packet in self.stream.encode(frame):
            self._out.mux(packet)

    def end(self) -> None:
        for packet in self.stream.encode():
            self._out.mux(packet)


def _frame(rgba: np.ndarray, pixels: str) -> av.VideoFrame:
    """(h, w, 4) uint8 as a coder takes it, in Rec.709."""
    if pixels == "argb":
        return av.VideoFrame.from_ndarray(np.ascontiguousarray(rgba[..., [3, 0, 1, 2]]), format="argb")
    if pixels == "yuva420p":
        frame = av.VideoFrame(rgba.shape[1], rgba.shape[0], pixels)
        planes = (*to_i420(np.ascontiguousarray(rgba)), rgba[..., 3])
        for plane, part in zip(frame.planes, planes):
            rows = np.frombuffer(plane, np.uint8).reshape(-1, plane.line_size)
            rows[: part.shape[0], : part.shape[1]] = part
    else:
        frame = _reformatter.reformat(
            av.VideoFrame.from_ndarray(np.ascontiguousarray(rgba), format="rgba"),
            format=pixels,
            src_colorspace=Colorspace.ITU709,
            dst_colorspace=Colorspace.ITU709,
            src_color_range=ColorRange.JPEG,
            dst_color_range=ColorRange.MPEG,
            interpolation=Interpolation.BICUBIC | Interpolation.ACCURATE_RND | Interpolation.FULL_CHR_H_INT,
        )
    frame.colorspace = frame.color_primaries = frame.color_trc = _BT709
    frame.color_range = 1
    return frame


class PngWriter:
    """A run of PNG pictures in one ZIP file, numbered by the film's frames. Use as a context."""

    def __init__(self, path: Path, first: int, kind: AlphaKind) -> None:
        self._zip = zipfile.ZipFile(path, "w", zipfile.ZIP_STORED)
        self._number, self._kind = first, kind

    def write(self, rgba: np.ndarray) -> None:
        pixels = rgba if self._kind == "premultiplied" else straight(rgba)
        done, data = cv2.imencode(".png", pixels[..., [2, 1, 0, 3]], [cv2.IMWRITE_PNG_COMPRESSION, 3])
        if not done:
            raise OSError("a picture could not be written as PNG")
        self._zip.writestr(f"{self._number:06d}.png", data.tobytes())
        self._number += 1

    def sound(self, data: bytes) -> None:
        self._zip.writestr("sound.wav", data)

    def __enter__(self) -> "PngWriter":
        return self

    def __exit__(self, kind: object, error: object, trace: object) -> None:
        self._zip.close()


def says_premultiplied(path: Path) -> bool:
    """Whether a film's file says that its colours are multiplied by their alpha."""
    with av.open(str(path)) as container:
        return PREMULTIPLIED in {value.lower() for value in container.metadata.values()}


def count_of(path: Path) -> int:
    """How many pictures such a file holds."""
    with zipfile.ZipFile(path) as packed:
        return sum(name.endswith(".png") for name in packed.namelist())


def first_picture(path: Path) -> bytes:
    """The first picture of such a file, as PNG."""
    with zipfile.ZipFile(path) as packed:
        return packed.read(min(name for name in packed.namelist() if name.endswith(".png")))
