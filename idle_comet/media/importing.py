"""Taking files into the media folder: probed, named by their content, with a thumbnail and a light proxy."""

from __future__ import annotations

import os
import re
import uuid
from pathlib import Path

import av
import cv2
import numpy as np

from ..core.clock import Rate
from ..core.project.model import Media
from .alpha import has_alpha, premultiplied
from .decode import ShotReader, picture_of
from .probe import MediaError, hash_file, probe
from .proxy import make_proxy
from .sniff import check_size, sniff
from .still import jpeg_bytes

_THUMBNAIL_WIDTH = 288
_NUMBERED = re.compile(r"^(.*?)(\d+)(\.[a-z]+)$", re.I)


def thumbnail_path(file: Path) -> Path:
    return file.with_suffix(".thumb.jpg")


def import_file(path: Path, name: str, folder: Path) -> Media:
    """Move an uploaded file into the media folder; raises MediaError, leaving nothing behind, when it can't be used."""
    kind = sniff(path, name)
    return _import_still(path, name, folder) if kind == "still" else _import_video(path, name, folder)


def _id() -> str:
    return f"m-{uuid.uuid4().hex[:12]}"


def _title(name: str) -> str:
    return Path(name).stem[:200] or "Untitled"


def _keep(path: Path, hash: str, suffix: str, folder: Path) -> Path:
    """Put the file under its content's name; the same content is kept once."""
    kept = folder / f"{hash}{suffix.lower()}"
    if not kept.exists():
        os.replace(path, kept)
    return kept


def _import_still(path: Path, name: str, folder: Path) -> Media:
    picture, alpha = read_still(path, name)
    kept = _keep(path, hash_file(path), Path(name).suffix, folder)
    _write_thumbnail(kept, picture)
    return Media(id=_id(), name=_title(name), kind="still", alpha=alpha, hash=kept.stem, path=kept.name,
                 width=picture.shape[1], height=picture.shape[0], frames=1)


def read_still(path: Path, name: str) -> tuple[np.ndarray, bool]:
    """A picture file as premultiplied (h, w, 4) uint8 RGBA, and whether it has transparency."""
    try:
        with av.open(str(path)) as container:
            stream = container.streams.video[0]
            if not stream.width or not stream.height:
                raise StopIteration
            check_size(name, stream.width, stream.height)
            frame = next(container.decode(stream))
    except (av.FFmpegError, StopIteration, IndexError) as error:
        raise MediaError(f"“{name}” can't be read as a picture: {error or 'it holds none'}. It was not added.") from error
    alpha = has_alpha(frame.format)
    pixels = frame.to_ndarray(format="rgba")
    return (premultiplied(pixels), True) if alpha else (pixels, False)


def _import_video(path: Path, name: str, folder: Path) -> Media:
    try:
        found = probe(path)
    except MediaError as error:
        raise MediaError(f"“{name}” can't be used: {str(error).removeprefix(path.name).strip()} It was not added.") from error
    check_size(name, found.width, found.height)
    _check_whole(path, name, found.frames)
    kept = _keep(path, found.hash, Path(name).suffix, folder)
    reader = ShotReader(kept)
    first = picture_of(reader.frame(0), reader.alpha, exact=True)
    _write_thumbnail(kept, first)
    make_proxy(kept, reader.alpha)
    reader.close()
    return Media(id=_id(), name=_title(name), kind="video", alpha=reader.alpha, hash=found.hash, path=kept.name,
                 width=found.width, height=found.height, frames=found.frames,
                 rate=Rate(num=found.rate.numerator, den=found.rate.denominator))


def _check_whole(path: Path, name: str, frames: int) -> None:
    """A film whose end was cut off still has a header that promises all of it."""
    with av.open(str(path)) as container:
        stream = container.streams.video[0]
        try:
            there = sum(1 for packet in container.demux(stream) if packet.size)
        except av.FFmpegError:
            there = 0
    if there < frames:
        raise MediaError(f"“{name}” is cut short: {there} of its {frames} frames are there. It was not added; copy the file again.")


def numbered(names: list[str]) -> str | None:
    """The common name of files that count up as one run of pictures, or None."""
    matches = [_NUMBERED.match(name) for name in names]
    if len(names) < 2 or not all(matches):
        return None
    if len({(match[1], match[3].lower()) for match in matches}) > 1:
        return None
    numbers = sorted(int(match[2]) for match in matches)
    return matches[0][1].rstrip("-_. ") or "Pictures" if numbers == list(range(numbers[0], numbers[0] + len(names))) else None


def import_numbered(files: list[tuple[Path, str]], rate: Rate, folder: Path) -> Media:
    """Numbered pictures as one shot, losslessly, with their transparency."""
    title = numbered([name for _, name in files])
    assert title
    files = sorted(files, key=lambda item: int(_NUMBERED.match(item[1])[2]))
    unfinished = folder / f".{uuid.uuid4().hex}.mkv"
    size, any_alpha = None, False
    try:
        with av.open(str(unfinished), "w") as out:
            stream = out.add_stream("ffv1", rate=rate.fraction)
            stream.pix_fmt = "bgra"
            for number, (path, name) in enumerate(files):
                if sniff(path, name) != "still":
                    raise MediaError(f"“{name}” is not a picture; the run was not added.")
                picture, alpha = read_still(path, name)
                any_alpha |= alpha
                size = size or picture.shape[:2]
                if picture.shape[:2] != size:
                    raise MediaError(f"“{name}” is {picture.shape[1]}×{picture.shape[0]}, the first picture {size[1]}×{size[0]}; the run was not added.")
                if number == 0:
                    stream.height, stream.width = size
                # Kept premultiplied: the tag tells the reader.
                frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(picture[..., [2, 1, 0, 3]]), format="bgra")
                frame.pts, frame.time_base = number, 1 / rate.fraction
                for packet in stream.encode(frame):
                    out.mux(packet)
            for packet in stream.encode():
                out.mux(packet)
        found = probe(unfinished)
        kept = _keep(unfinished, found.hash, ".premultiplied.mkv", folder)
        picture = picture_of(ShotReader(kept).frame(0), any_alpha, exact=True, straight=False)
        _write_thumbnail(kept, picture)
        return Media(id=_id(), name=title[:200], kind="video", alpha=any_alpha, hash=found.hash, path=kept.name, width=size[1],
                     height=size[0], frames=len(files), rate=rate)
    finally:
        unfinished.unlink(missing_ok=True)


def _write_thumbnail(file: Path, picture: np.ndarray) -> None:
    """A small picture over mid grey, so that transparency can be told."""
    target = thumbnail_path(file)
    if target.exists():
        return
    height = max(16, round(picture.shape[0] * _THUMBNAIL_WIDTH / picture.shape[1]))
    small = cv2.resize(picture, (_THUMBNAIL_WIDTH, min(height, 1024)), interpolation=cv2.INTER_AREA).astype(np.float32)
    ground = np.float32(74) * (1 - small[..., 3:] / 255)
    small[..., :3] += ground
    small[..., 3] = 255
    target.write_bytes(jpeg_bytes(small.clip(0, 255).astype(np.uint8), 85))
