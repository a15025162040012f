"""What a painting process is asked for, and what it answers."""

from __future__ import annotations

from typing import NamedTuple

from ...core.project.difference import Difference


class PaintFailed(RuntimeError):
    """A frame could not be painted; the message says why."""


class Unwanted(RuntimeError):
    """A frame was dropped while it was painted: something else is wanted by now."""


class FrameRequest(NamedTuple):
    """A frame of the film, or (when `clip` is named) the picture after its first `done` steps.

    With `tiles`, that picture at so many moments of the clip, in one row. With `beside`, edits as JSON,
    the film after each of them in a cell of its own; with both, the film after the edit at so many moments of the
    clip, one below the other.
    """

    frame: int
    width: int
    height: int
    exact: bool
    quality: int
    clip: str | None = None
    done: int = 0
    tiles: int = 0
    beside: tuple[str, ...] = ()
    counted: bool = False
    """Not the picture but how its tones are spread, as the JSON of a `Tally`."""
    whole: bool = False
    """All of a clip's picture, as it lies about the frame."""
    cached: bool = False
    """It is known to lie in the cache of frames."""
    fallback: tuple[int, int] | None = None
    """The size at which it is painted where the cache does not hold it at the one that is asked for."""
    small: bool = False
    """For the process of small pictures, so that the preview never waits for it."""


class Changed(NamedTuple):
    """What a film has changed by since a revision that a painting process knows."""

    since: int
    change: Difference


class Painted(NamedTuple):
    """A JPEG (or what was counted, as JSON), how many seconds of work it took (0 from the cache), motion-blur samples
    taken and wanted, and whether it is as large as it was asked for."""

    jpeg: bytes
    seconds: float
    samples: tuple[int, int] = (0, 0)
    full_size: bool = True


class Refused(NamedTuple):
    """An edit that was to be tried does not fit the film."""

    why: str


class Failed(NamedTuple):
    """A frame that could not be painted."""

    why: str
