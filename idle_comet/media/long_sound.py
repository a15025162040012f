"""Long sounds: six hours would take 8 GB as samples, so they are decoded part by part where they are asked for.

A long sound is read once for its peaks and for marks from which on it can be decoded again. Some parts of it are
compared with what was read then; a file whose parts do not come out the same is kept as samples like a short one.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from pathlib import Path
from typing import Callable, Iterator

import av
import numpy as np

from ..core.sound import SOUND_RATE
from ..disk import put
from .apart import Unreadable
from .probe import MediaError
from .samples import Mark, decoded, origin_of

LONG = 20 * 60.0
"""Seconds from which on a sound is long."""

_PART = 10 * SOUND_RATE
"""Samples that are decoded at once."""

_KEPT = 6
"""Parts that are kept of each sound, 23 MB."""

_APART = 2 * SOUND_RATE
"""Samples between two marks."""

_SETTLES = SOUND_RATE // 10
"""Samples before a place after which a resampler that began there gives the same as one that began earlier."""

_EARLIER = 1.0
"""Seconds before a mark from which on its coder is fed: coders go by what came before."""

_SAME = 0.1
"""How far a part that is decoded again may be off, as a share of its loudness (both as root of the mean square). AAC
fills bands with noise, which is another one each time; what lies at another place is off by far more."""


def marks_path(file: Path) -> Path:
    return file.with_suffix(".marks.npy")


class Marks:
    """The marks of a sound that is read from its start."""

    def __init__(self) -> None:
        self.origin, self._found = 0.0, list[Mark]()

    def passed(self, mark: Mark, origin: float) -> None:
        self.origin = origin
        if not self._found or mark.at - self._found[-1].at >= _APART:
            self._found.append(mark)

    def write(self, file: Path, count: int, unfinished: Path) -> None:
        """Write them beside the file, with the length of the sound in samples."""
        with unfinished.open("wb") as out:
            # Times of the file are told apart to a thousandth of a sample by doubles.
            np.save(out, np.array([(count, self.origin, 0), *self._found], np.float64))
        put(unfinished, marks_path(file))


class _Decoder:
    """Decodes parts of one file. Raises MediaError where it can't."""

    def __init__(self, file: Path) -> None:
        known = np.load(marks_path(file))
        self._file, self._count, self._origin = file, int(known[0, 0]), float(known[0, 1])
        self._marks = known[1:].astype(np.int64)
        self._open()

    def _open(self) -> None:
        try:
            self._container = av.open(str(self._file))
        except (av.FFmpegError, OSError) as error:
            raise MediaError("a part of its sound can't be read") from error
        self._stream = self._container.streams.audio[0]
        self._from = origin_of(self._container, self._stream)

    def part(self, number: int) -> np.ndarray:
        """By the last mark before it after which the resampler settles."""
        first = number * _PART
        count = min(_PART, self._count - first)
        mark = max(0, int(np.searchsorted(self._marks[:, 0], first - _SETTLES, "right")) - 1)
        try:
            if not mark:
                # What a coder leads in with is left out where a file is opened, not where it is sought.
                self._open()
                return _taken(decoded(self._container, self._stream, self._from), 0, first, count)
            return self._from_mark(Mark(*map(int, self._marks[mark])), first, count)
        except (av.FFmpegError, OSError, ValueError) as error:
            raise MediaError("a part of its sound can't be read") from error

    def _from_mark(self, mark: Mark, first: int, count: int) -> np.ndarray:
        base = self._stream.time_base
        assert base is not None
        earlier = max(mark.pts - round(_EARLIER / base), self._stream.start_time or 0)
        self._container.seek(earlier, stream=self._stream)
        blocks = decoded(self._container, self._stream, self._origin, mark)
        return _taken(blocks, max(0, mark.at), first, count)


def _taken(blocks: Iterator[np.ndarray], at: int, first: int, count: int) -> np.ndarray:
    """Samples from a place on, out of blocks that begin at a place before it."""
    made = np.zeros((count, 2), np.float32)
    for block in blocks:
        begin, end = max(first, at), min(first + count, at + len(block))
        if begin < end:
            made[begin - first : end - first] = block[begin - at : end - at]
        at += len(block)
        if at >= first + count:
            break
    return made


_MOST = 3
"""Long sounds that a process holds open."""

_decoders: OrderedDict[Path, _Decoder] = OrderedDict()
_decoding = threading.Lock()


def _decoded_part(file: Path, number: int) -> np.ndarray:
    with _decoding:
        decoder = _decoders.pop(file, None) or _Decoder(file)
        _decoders[file] = decoder
        while len(_decoders) > _MOST:
            _decoders.popitem(last=False)
        return decoder.part(number)


_read: list[Callable[[Path, int], np.ndarray]] = [_decoded_part]


def decode_apart(do: Callable[..., np.ndarray] | None) -> None:
    """Let another process decode the parts: for one that must not fall with a file. None: this one does."""
    _read[:] = [_decoded_part if do is None else lambda file, number: do(_decoded_part, file, number)]


class LongSound:
    """(n, 2) float32 samples of a file, like an array that can be cut but not changed. May be used by several threads.

    Raises MediaError on a cut that can't be decoded."""

    def __init__(self, file: Path) -> None:
        self._file, self._count = file, int(np.load(marks_path(file), mmap_mode="r")[0, 0])
        self._parts: OrderedDict[int, np.ndarray] = OrderedDict()
        self._lock = threading.Lock()

    def __len__(self) -> int:
        return self._count

    def __getitem__(self, places: slice) -> np.ndarray:
        first, last, _ = places.indices(self._count)
        if last <= first:
            return np.zeros((0, 2), np.float32)
        with self._lock:
            parts = [self._part(number) for number in range(first // _PART, (last - 1) // _PART + 1)]
        begin = first // _PART * _PART
        return np.concatenate(parts)[first - begin : last - begin]

    def _part(self, number: int) -> np.ndarray:
        part = self._parts.pop(number, None)
        if part is None:
            try:
                part = _read[0](self._file, number)
            except Unreadable as error:
                raise MediaError(f"a part of its sound can't be read: {error}") from error
            while len(self._parts) >= _KEPT:
                self._parts.popitem(last=False)
        self._parts[number] = part
        return part

    def agrees(self, known: dict[int, np.ndarray]) -> bool:
        """Whether samples from some places on come out as they were when all were read from the start."""
        try:
            off = [(self[at : at + len(part)] - part, part) for at, part in known.items()]
        except MediaError:
            return False
        return all(np.sqrt(np.mean(each**2)) <= _SAME * np.sqrt(np.mean(part**2)) + 1e-4 for each, part in off)


_held: OrderedDict[Path, LongSound] = OrderedDict()
_opening = threading.Lock()


def long_sound(file: Path) -> LongSound | None:
    """A long sound of a file that was read, opened once for all who ask; None for one that is kept as samples."""
    if not marks_path(file).exists():
        return None
    with _opening:
        found = _held.pop(file, None) or LongSound(file)
        _held[file] = found
        while len(_held) > _MOST:
            _held.popitem(last=False)
        return found
