"""A moment: everything that is true of a film at one time, worked out on demand and once."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from ..project.address import NotThere, place_at
from ..project.model import Clip, Project
from .compiled import sample_of
from .course import presence
from .evaluate import evaluate, evaluate_clip
from .scene import Layer, Scene
from .whereabouts import Whereabouts, whereabouts_of


class Moment:
    """A film at a time in frames, whole or not: every moment of an open shutter is one like any other.

    Clips are asked for by their id. Of a clip that lies in a group the time is that of the group's own timeline.
    """

    def __init__(self, project: Project, frame: float, within: str | None = None) -> None:
        self.project, self.frame, self.within = project, frame, within
        self._layers: dict[str, Layer | None] = {}
        self._stand: dict[str, Whereabouts | None] = {}

    @cached_property
    def scene(self) -> Scene:
        """All that is to be seen, from the bottom of the picture up."""
        return evaluate(self.project, self.frame, self.within)

    def inside(self, group: str) -> "Moment":
        """The same moment on the timeline of a group."""
        clip = self._clip(group)
        if clip.content.kind != "group":
            raise NotThere(f"“{clip.name}” is no group")
        return Moment(self.project, clip.content.start + (self.frame - clip.head) * clip.content.speed, group)

    def layer(self, clip: str) -> Layer | None:
        """A clip's content and steps as they are now; None where the clip is not there."""
        if clip not in self._layers:
            local = self.frame - self._clip(clip).head
            there = 0 <= local < self._clip(clip).length
            self._layers[clip] = evaluate_clip(self.project, self._clip(clip), local) if there else None
        return self._layers[clip]

    def whereabouts(self, clip: str) -> Whereabouts | None:
        """Where a clip stands; None where it is not there."""
        if clip not in self._stand:
            layer, settings = self.layer(clip), self.project.settings
            self._stand[clip] = layer and whereabouts_of(layer, settings.width, settings.height)
        return self._stand[clip]

    def value(self, clip: str, owner: str, name: str) -> Any:
        """One value, as its gauge shows it. Raises NotThere."""
        place = place_at(self._clip(clip), owner, name)
        return place.parameter.clamp(
            sample_of(self.project, self._clip(clip), owner, name)(self.frame - self._clip(clip).head)
        )

    def presence(self, clip: str) -> float:
        """The share of a clip's resting ink that is seen, 0..1."""
        return presence(self.project, self._clip(clip), [self.frame - self._clip(clip).head])[0][1]

    def _clip(self, clip: str) -> Clip:
        if clip not in self.project.clips:
            raise NotThere(f"There is no clip “{clip}”")
        return self.project.clips[clip]
