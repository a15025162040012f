"""Where pictures of shots, tables of colours and models come from, and what is painted where one is missing."""

from __future__ import annotations

import threading
from typing import Callable, Protocol, TypeVar, runtime_checkable

import cv2
import numpy as np

from ..moment.scene import FootageNow
from ..picture import Cube, Planes, missing_picture
from ..space.model import ReadModel


class PictureMissing(LookupError):
    """There is no picture of this media, or its file is gone."""


class Sources(Protocol):
    """Where pictures of shots come from. What is not there raises PictureMissing, and is painted as missing."""

    def frame(self, media: str, index: int, width: int, exact: bool) -> np.ndarray:
        """(h, w, 4) uint8 premultiplied RGBA of one source frame.

        `width` is how wide the whole picture will be painted: a source may answer with
        a smaller picture of the same shape when not `exact`.
        """


@runtime_checkable
class PlanarSources(Sources, Protocol):
    """Sources that hand out a shot's frames as they are stored, too."""

    def planes(self, media: str, index: int, width: int, exact: bool) -> Planes | None:
        """The frame as planes; None for one that is not an opaque 4:2:0 picture."""


@runtime_checkable
class TableSources(Sources, Protocol):
    """Sources that have tables of colours, too."""

    def table(self, media: str) -> Cube:
        """A table by its media. Raises PictureMissing."""


@runtime_checkable
class ModelSources(Sources, Protocol):
    """Sources that have models, too."""

    def model(self, media: str) -> ReadModel:
        """A model by its media. Raises PictureMissing."""


Asked = TypeVar("Asked")
Answer = TypeVar("Answer")


class Found:
    """What sources have; what is not there is painted as missing, and named. Safe for threads: sources are asked one
    thing at a time."""

    def __init__(self, sources: Sources | None) -> None:
        self._sources = sources
        # What else they have is asked once: it is told by looking at all they can do, which takes long.
        self._planar = sources if isinstance(sources, PlanarSources) else None
        self._tables = sources if isinstance(sources, TableSources) else None
        self._models = sources if isinstance(sources, ModelSources) else None
        self._lock = threading.Lock()
        self.missing: set[str] = set()
        """Media that were not there when they were asked for."""

    def shot(self, content: FootageNow, width: int, exact: bool) -> tuple[np.ndarray | Planes, bool]:
        """A shot's picture, and whether it may have transparency; what is missing is painted as missing."""

        def ask(sources: Sources) -> tuple[np.ndarray | Planes, bool]:
            if content.next_share:
                one, other = (sources.frame(content.media, content.frame + by, width, exact) for by in (0, 1))
                return cv2.addWeighted(one, 1 - content.next_share, other, content.next_share, 0), content.alpha
            if self._planar is not None and not content.alpha:
                planes = self._planar.planes(content.media, content.frame, width, exact)
                if planes is not None:
                    return planes, False
            return sources.frame(content.media, content.frame, width, exact), content.alpha

        found = self._asked(content.media, self._sources, ask)
        if found is not None:
            return found
        wide = max(16, min(content.width, 640))
        return missing_picture(wide, max(9, round(wide * content.height / content.width))), False

    def table(self, media: str) -> Cube | None:
        """For steps that look colours up."""
        return self._asked(media, self._tables, lambda sources: sources.table(media))

    def frame_of(self, exact: bool) -> Callable[[str, int, int], np.ndarray]:
        """For steps that use a picture of the film."""

        def frame(media: str, number: int, width: int) -> np.ndarray:
            found = self._asked(media, self._sources, lambda sources: sources.frame(media, number, width, exact))
            return missing_picture(640, 360) if found is None else found

        return frame

    def model(self, media: str) -> ReadModel | None:
        """A model, or None where it is not there."""
        return self._asked(media, self._models, lambda sources: sources.model(media))

    def _asked(self, media: str, sources: Asked | None, ask: Callable[[Asked], Answer]) -> Answer | None:
        """What sources have; None where it is not there."""
        with self._lock:
            try:
                if sources is not None:
                    return ask(sources)
            except PictureMissing:
                pass
            self.missing.add(media)
            return None
