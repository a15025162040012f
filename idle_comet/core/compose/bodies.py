"""Painting what is solid: words and shapes with depth, and models, with what stands between them and a light."""

from __future__ import annotations

from typing import Callable

from ..moment.scene import ModelNow, ShapeNow, TextNow
from ..picture import Matrix, Patch, missing_picture, warp_picture
from .deep import Body, Deep
from .graph import Board, Picture, Seen, Source, Stepped
from .model import model_nearness, paint_model, told_model
from .solid import paint_solid, solid_nearness, told_solid
from .sources import Found
from .thrown import Told, told_board


class Bodies:
    """Paints bodies; `patch` paints the planes that are between them and a light."""

    def __init__(self, found: Found, patch: Callable[[Picture], Patch]) -> None:
        self._found, self._patch = found, patch

    def nearness(self, seen: Seen) -> Patch | None:
        """How near a body is at each px; None of anything that is a plane."""
        picture = seen.picture
        while isinstance(picture, Stepped):
            picture = picture.child
        if not isinstance(picture, Source):
            return None
        content, poses = picture.content, [pose for pose in picture.poses if pose.solid and pose.opacity > 0]
        deep = next((pose.solid.deep if isinstance(pose.solid, Body) else pose.solid for pose in poses), None)
        # Through another view in perspective, how near it is is told as of a plane.
        if not isinstance(deep, Deep) or not deep.view.flat:
            return None
        if isinstance(content, (TextNow, ShapeNow)):
            return solid_nearness(content, poses, picture.window, self._found.frame_of(picture.exact))
        if not isinstance(content, ModelNow):
            return None
        model = self._found.model(content.media)
        # What stands in the place of a missing one is a plane.
        return None if model is None else model_nearness(model, content, deep, picture.window)

    def model(self, content: ModelNow, source: Source) -> Patch:
        """A model; one that is missing is a plane that says so."""
        deep = source.poses[0].solid
        assert isinstance(deep, Deep)
        model = self._found.model(content.media)
        if model is not None:
            return paint_model(model, content, deep, source.window, source.exact, self._between(source))
        picture, size = missing_picture(320, 320), dict(content.values)["size"]
        middle = Matrix.shift((content.width - size) / 2, (content.height - size) / 2)
        return warp_picture(picture, source.matrix @ middle @ Matrix.grow(size / 320), source.window, False)

    def ink(self, content: TextNow | ShapeNow, source: Source) -> Patch:
        """The ink of words or a shape that is solid."""
        solid = [pose for pose in source.poses if pose.solid is not None]
        frame_of = self._found.frame_of(source.exact)
        return paint_solid(content, solid, source.window, source.exact, frame_of, self._between(source))

    def _between(self, source: Source) -> list[Told]:
        """A body and all that may be between it and a light, as any eye sees them."""
        told = []
        for each in (source, *source.around):
            if isinstance(each, Board):
                told.append(told_board(self._patch(each.picture), each.scale, each.plane))
                continue
            content, poses = each.content, [pose for pose in each.poses if pose.solid is not None]
            if isinstance(content, (TextNow, ShapeNow)) and poses:
                told.append(told_solid(content, poses, self._found.frame_of(each.exact)))
            elif isinstance(content, ModelNow) and (model := self._found.model(content.media)) is not None:
                told.append(told_model(model, content, each.poses[0]))
        return told
