"""Taking files into the media folder: probed, named by their content, with a thumbnail and a light proxy."""

from __future__ import annotations

import math
import re
import shutil
import uuid
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from typing import Iterable, Iterator

import av
import cv2
import numpy as np

from ..core.clock import Rate
from ..core.compose import portrait
from ..core.project.model import Media
from ..disk import put, sync
from .alpha import ink_of
from .decode import ShotReader
from .long_sound import marks_path
from .models import frames_of, proportions, read_model, sniffed
from .probe import CHANGING, MediaError, Probe, hash_file, probe
from .proxy import proxy_path
from .proxying import make_proxy
from .sniff import TABLE, check_size, sniff
from .sounding import peaks_path, picture_of_sound, read_sound, samples_path
from .still import jpeg_bytes
from .stills import Moment, is_animated, moments, read_still
from .tables import read_table, sample_of
from .transparent import says_premultiplied

_THUMBNAIL_WIDTH = 288
_NUMBERED = re.compile(r"^(.*?)(\d+)(\.[a-z]+)$", re.I)


def thumbnail_path(file: Path) -> Path:
    return file.with_suffix(".thumb.jpg")


def import_file(path: Path, name: str, folder: Path) -> Media:
    """Move an uploaded file into the media folder; raises MediaError, leaving nothing behind, when it can't be used."""
    return _settled(_imported(path, name, folder), folder)


def _imported(path: Path, name: str, folder: Path) -> Media:
    try:
        if sniffed(path, name):
            return _import_model(path, name, folder)
        sort = sniff(path, name)
        if sort == "table":
            return _import_table(path, name, folder)
        if sort == "sound":
            return _import_sound(path, name, folder)
        if sort == "video":
            return _import_video(path, name, folder)
        if is_animated(path, name):
            return _import_animated(path, name, folder)
        return _import_still(path, name, folder)
    except (av.FFmpegError, cv2.error, ValueError, ArithmeticError, LookupError, StopIteration) as error:
        if isinstance(error, MediaError):
            raise
        # Whatever a stranger's file makes a reader stumble over: it is the file that is refused.
        raise MediaError(f"“{name}” can't be read ({type(error).__name__}). It was not added.") from error


def _id() -> str:
    return f"m-{uuid.uuid4().hex[:12]}"


def _title(name: str) -> str:
    return Path(name).stem[:120] or "Untitled"


def _keep(path: Path, hash: str, suffix: str, folder: Path) -> tuple[Path, bool]:
    """Put the file under its content's name; the same content is kept once. And whether it is new.

    A kept file that no longer holds what it should (after a power cut, say) is mended by the new one.
    """
    kept = folder / f"{hash}{suffix.lower()}"
    made = _made_of(kept)
    if kept.exists() and hash_file(kept) == hash:
        for each in made:
            if each.exists() and not each.stat().st_size:
                each.unlink()
        return kept, False
    for each in made:
        each.unlink(missing_ok=True)
    put(path, kept)
    return kept, True


def _made_of(kept: Path) -> tuple[Path, ...]:
    """What is made of a file and lies beside it."""
    return thumbnail_path(kept), proxy_path(kept), samples_path(kept), peaks_path(kept), marks_path(kept)


def _settled(media: Media, folder: Path) -> Media:
    """Media with the length of their file. Its name may have been given by another import of the same file, which has
    not written the folder to the disk yet."""
    sync(folder)
    return media.model_copy(update={"size": (folder / media.path).stat().st_size})


class _Unless:
    """Takes what was kept of a file away again unless it could be used."""

    def __init__(self, kept: Path, new: bool) -> None:
        self._kept, self._new = kept, new

    def __enter__(self) -> None: ...

    def __exit__(self, kind, error, trace) -> None:
        if kind is not None and self._new:
            kept = self._kept
            for each in (kept, *_made_of(kept)):
                each.unlink(missing_ok=True)


def _import_still(path: Path, name: str, folder: Path) -> Media:
    picture, alpha = read_still(path, name)
    kept, new = _keep(path, hash_file(path), Path(name).suffix, folder)
    with _Unless(kept, new):
        _write_thumbnail(kept, picture)
        return Media(
            id=_id(),
            name=_title(name),
            kind="still",
            alpha=alpha,
            ink=ink_of(picture) if alpha else None,
            hash=kept.stem,
            path=kept.name,
            width=picture.shape[1],
            height=picture.shape[0],
            frames=1,
        )


def _import_table(path: Path, name: str, folder: Path) -> Media:
    cube = read_table(path, name)
    kept, new = _keep(path, hash_file(path), TABLE, folder)
    with _Unless(kept, new):
        _write_thumbnail(kept, sample_of(cube))
        return Media(
            id=_id(),
            name=_title(name),
            kind="table",
            hash=kept.stem,
            path=kept.name,
            width=min(16384, cube.size),
            height=1 if cube.entries.ndim == 2 else cube.size,
            frames=1,
        )


def _import_model(path: Path, name: str, folder: Path) -> Media:
    model = read_model(path, name)
    wide, high = proportions(model)
    kept, new = _keep(path, hash_file(path), Path(name).suffix, folder)
    with _Unless(kept, new):
        _write_thumbnail(kept, portrait(model, 384, 216))
        return Media(
            id=_id(),
            name=_title(name),
            kind="model",
            alpha=True,
            hash=kept.stem,
            path=kept.name,
            width=wide,
            height=high,
            frames=frames_of(model),
            notes=tuple(dict.fromkeys(each[:200] for each in model.notes))[:20],
        )


def _import_sound(path: Path, name: str, folder: Path) -> Media:
    kept, new = _keep(path, hash_file(path), Path(name).suffix, folder)
    with _Unless(kept, new):
        try:
            sound = read_sound(kept)
        except MediaError as error:
            raise MediaError(f"“{name}” can't be used: {error}. It was not added.") from error
        if sound is None:
            raise MediaError(f"“{name}” holds no sound; it was not added.")
        _write_thumbnail(kept, picture_of_sound(kept, _THUMBNAIL_WIDTH, 96))
        return Media(
            id=_id(),
            name=_title(name),
            kind="sound",
            hash=kept.stem,
            path=kept.name,
            width=1,
            height=1,
            frames=max(1, math.ceil(sound.seconds * 25)),
            sound=sound,
        )


def _import_video(path: Path, name: str, folder: Path) -> Media:
    try:
        found = probe(path)
    except MediaError as error:
        raise MediaError(
            f"“{name}” can't be used: {str(error).removeprefix(path.name).strip()} It was not added."
        ) from error
    check_size(name, found.width, found.height)
    changing = ".changing" if found.rate == CHANGING else ""
    multiplied = ".premultiplied" if says_premultiplied(path) else ""
    return _kept_shot(path, f"{changing}{multiplied}{Path(name).suffix}", found, name, folder)


def _kept_shot(path: Path, suffix: str, found: Probe, name: str, folder: Path, alpha: bool | None = None) -> Media:
    """The shot under its content's name, with its thumbnail and its proxy."""
    kept, new = _keep(path, found.hash, suffix, folder)
    with _Unless(kept, new):
        reader = ShotReader(kept)
        try:
            alpha = reader.alpha if alpha is None else alpha
            _write_thumbnail(kept, reader.picture(0, exact=True))
        finally:
            reader.close()
        make_proxy(kept)
        try:
            sound = read_sound(kept)
        except MediaError as error:
            sound, found = None, replace(found, notes=(*found.notes, f"{error}, so it is silent"))
        return Media(
            id=_id(),
            name=_title(name),
            kind="video",
            alpha=alpha,
            hash=found.hash,
            path=kept.name,
            width=found.width,
            height=found.height,
            frames=found.frames,
            rate=Rate(num=found.rate.numerator, den=found.rate.denominator),
            sound=sound,
            notes=found.notes,
        )


def _import_animated(path: Path, name: str, folder: Path) -> Media:
    """An animated picture as a shot: every picture for as long as the file says, losslessly, with its transparency."""
    return _written(((each, name) for each in moments(path, name)), name, folder, Fraction(1, 1000))


def numbered(names: list[str]) -> str | None:
    """The common name of files that count up as one run of pictures, or None."""
    matches = [_NUMBERED.match(name) for name in names]
    if len(names) < 2 or not all(matches):
        return None
    if len({(match[1], match[3].lower()) for match in matches}) > 1:
        return None
    numbers = sorted(int(match[2]) for match in matches)
    return (
        matches[0][1].rstrip("-_. ") or "Pictures"
        if numbers == list(range(numbers[0], numbers[0] + len(names)))
        else None
    )


def import_numbered(files: list[tuple[Path, str]], rate: Rate, folder: Path) -> Media:
    """Numbered pictures as one shot, losslessly, with their transparency."""
    title = numbered([name for _, name in files])
    assert title
    files = sorted(files, key=lambda item: int(_NUMBERED.match(item[1])[2]))

    def pictures() -> Iterator[tuple[Moment, str]]:
        for path, name in files:
            if sniff(path, name) != "still":
                raise MediaError(f"“{name}” is not a picture; the run was not added.")
            yield Moment(*read_still(path, name), 1), name

    return _settled(_written(pictures(), f"{title}.png", folder, 1 / rate.fraction), folder)


def _written(pictures: Iterable[tuple[Moment, str]], title: str, folder: Path, unit: Fraction) -> Media:
    """A shot of pictures, each shown for so many units (seconds)."""
    unfinished = folder / f".{uuid.uuid4().hex}.mkv"
    size, any_alpha, at = None, False, 0
    try:
        # Bit for bit the same for the same pictures, so that they are kept once.
        with av.open(str(unfinished), "w", options={"fflags": "+bitexact"}) as out:
            stream = out.add_stream("ffv1", rate=1 / unit)
            stream.pix_fmt = "bgra"
            stream.codec_context.time_base = unit
            for (picture, alpha, lasts), name in pictures:
                any_alpha |= alpha
                if size is None:
                    stream.height, stream.width = size = picture.shape[:2]
                if picture.shape[:2] != size:
                    raise MediaError(
                        f"“{name}” is {picture.shape[1]}×{picture.shape[0]}, the first picture {size[1]}×{size[0]}; "
                        f"the run was not added."
                    )
                # Kept premultiplied: the tag tells the reader.
                frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(picture[..., [2, 1, 0, 3]]), format="bgra")
                frame.pts, frame.time_base = at, unit
                at += lasts
                for packet in stream.encode(frame):
                    out.mux(packet)
            for packet in stream.encode():
                out.mux(packet)
        found = probe(unfinished)
        changing = found.rate == CHANGING
        if not changing and unit != 1 / CHANGING:
            found = replace(found, rate=1 / unit)
        return _kept_shot(
            unfinished, f"{'.changing' if changing else ''}.premultiplied.mkv", found, title, folder, any_alpha
        )
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
    # Twelve imports of one file at once write it each on their own.
    unfinished = target.with_name(f".{uuid.uuid4().hex}.thumb")
    unfinished.write_bytes(jpeg_bytes(small.clip(0, 255).astype(np.uint8), 85))
    put(unfinished, target)


def clear_leftovers(folder: Path) -> None:
    """Take away uploads and parts that a killed server left half done; nothing refers to them."""
    for left in [*folder.glob(".*"), *folder.glob("faces/.*")]:
        if left.is_dir():
            shutil.rmtree(left, ignore_errors=True)
        else:
            left.unlink(missing_ok=True)
