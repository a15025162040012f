"""A recipe of several clips: a small film that is laid into another, with parts to be filled in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..project.model import Frames, Frozen, Id, Name, Project

EnsembleSort = Literal["arrangement", "strip", "emblem", "card", "end card", "in depth"]
ENSEMBLE_SORTS: tuple[EnsembleSort, ...] = ("arrangement", "strip", "emblem", "card", "end card", "in depth")

FillKind = Literal["words", "colour", "picture", "sound"]
_Place = Annotated[
    str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,63}(:[a-z0-9][a-z0-9/-]{0,128}\.[a-z0-9_]{1,60})?$")
]


class Part(Frozen):
    """Something to be filled in. `places` are where it goes: "CLIP" takes words, a picture or a sound whole,
    "CLIP:content.colour" or "CLIP:STEP.value" one value.

    What is not filled in is as the ensemble has it."""

    name: Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9 ]{0,39}$")]
    kind: FillKind
    value: Annotated[str, StringConstraints(max_length=2000)] = ""
    places: Annotated[tuple[_Place, ...], Field(min_length=1, max_length=60)]


class Ensemble(Frozen):
    """Clips that belong together, as a film of their own.

    Its first `head` and its last `tail` frames always last as long as they do here; only what lies between is made
    longer or shorter, and nothing of it unless it `stretches`."""

    id: Id
    name: Name
    sort: EnsembleSort
    note: Annotated[str, StringConstraints(max_length=500)] = ""
    film: Project
    parts: Annotated[tuple[Part, ...], Field(max_length=60)] = ()
    head: Frames = 0
    tail: Frames = 0
    stretches: bool = True

    @property
    def length(self) -> int:
        """Frames from its begin to its last clip's end, at its own rate."""
        within = {track.id for track in self.film.tracks if track.within is None}
        return max((clip.end for clip in self.film.clips.values() if clip.track in within), default=0)
