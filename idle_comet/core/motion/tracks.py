"""Recorded turns of a camera: read from lines of time, yaw, pitch and roll, and written so."""

from __future__ import annotations

import re
from typing import NamedTuple

import numpy as np

from .ease import Linear
from .property import Key, Moving

_LINES = 400_000
_KEYS = 2000
_GAP = 0.5
"""Seconds between two lines that are told as a gap; across it the turn is carried on evenly."""

_NAMES = ("time", "yaw", "pitch", "roll")


class TrackError(ValueError):
    """The text is no track that can be used; the words say why."""


class Track(NamedTuple):
    """`seconds` (n,) from the first line on, and `turns` (n, 3): yaw, pitch and roll in degrees. `says` what an editor
    should know of it."""

    seconds: np.ndarray
    turns: np.ndarray
    says: tuple[str, ...]


def read_track(text: str) -> Track:
    """A track from lines of four numbers (seconds, and degrees), with commas, semicolons or tabs between; a first line
    may name the columns, in any order.

    Raises TrackError for fewer than two lines, more than 400 000, a line that is none, times that go back, or turns of
    more than half a turn.
    """
    told = [
        (number, line)
        for number, line in enumerate(text.lstrip("\ufeff").splitlines(), 1)
        if line.strip() and not line.lstrip().startswith("#")
    ]
    if len(told) > _LINES + 1:
        raise TrackError(f"it has {len(told)} lines; at most {_LINES} are read. Save it at fewer lines a second")
    between = next((each for each in ";\t," if told and each in told[0][1]), ",")
    rows = [(number, [cell.strip() for cell in line.split(between)]) for number, line in told]
    order = list(range(4))
    if rows and not _is_number(rows[0][1][0]):
        heads = [cell.lower() for cell in rows[0][1]]
        names = [re.match("[a-z]*", cell).group() for cell in heads]  # type: ignore[union-attr]
        missing = [name for name in _NAMES if name not in names]
        if missing:
            raise TrackError(f"its first line names no column “{missing[0]}”; it needs time, yaw, pitch and roll")
        if any("rad" in cell for cell in heads):
            raise TrackError("its first line says radians; turns are read in degrees")
        order = [names.index(name) for name in _NAMES]
        rows = rows[1:]
    if len(rows) < 2:
        raise TrackError("it has fewer than two lines of numbers")
    for number, row in rows:
        if len(row) <= max(order) or not all(_is_number(row[place]) for place in order):
            raise TrackError(f"line {number} is not four numbers")
    found = np.array([[float(row[place]) for place in order] for _, row in rows])
    if not np.isfinite(found).all():
        number, _ = rows[int(np.argmin(np.isfinite(found).all(1)))]
        raise TrackError(f"a number in line {number} is not finite")
    seconds, turns = found[:, 0] - found[0, 0], found[:, 1:]
    back = np.flatnonzero(np.diff(seconds) <= 0)
    if len(back):
        raise TrackError(f"time does not go on at line {rows[int(back[0]) + 1][0]}")
    if np.abs(turns).max() > 180:
        raise TrackError(f"it turns by {np.abs(turns).max():.0f}°; a camera turns by at most 180, in degrees")
    says = []
    gaps = np.diff(seconds)
    if gaps.max() > _GAP:
        says.append(f"From {seconds[gaps.argmax()]:.2f} s on nothing was recorded for {gaps.max():.2f} s.")
    return Track(seconds, turns, tuple(says))


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def keyed(track: Track, rate: float, frames: int, skipped: int = 0) -> tuple[Moving, Moving, Moving]:
    """Yaw, pitch and roll as moving values of a clip of so many frames, from its head on: a key at every frame that was
    recorded, or, where that would be more than 2000, evenly spread. A turn between two lines is straight. `skipped` are
    the frames that were cut off before the clip's head."""
    last = min(float(frames - 1), track.seconds[-1] * rate)
    count = int(min(_KEYS, max(2, np.floor(last) + 1)))
    at = np.linspace(0, last, count) if count == _KEYS else np.arange(count, dtype=float)

    def moving(turns: np.ndarray) -> Moving:
        values = np.interp(at / rate, track.seconds, turns)
        return Moving(
            keys=tuple(
                Key(at=float(frame + skipped), value=round(float(value), 5), ease=Linear())
                for frame, value in zip(at, values)
            )
        )

    return moving(track.turns[:, 0]), moving(track.turns[:, 1]), moving(track.turns[:, 2])


def write_track(seconds: np.ndarray, turns: np.ndarray) -> str:
    """The lines of (n,) seconds and (n, 3) degrees."""
    rows = (f"{at:.5f},{yaw:.6f},{pitch:.6f},{roll:.6f}" for at, (yaw, pitch, roll) in zip(seconds, turns))
    return "\n".join((",".join(_NAMES), *rows)) + "\n"
