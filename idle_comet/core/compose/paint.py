"""Paint: a plan becomes pixels. Preview and export both end here."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import replace
from typing import Callable, Protocol

import numpy as np

from ..moment.scene import FootageNow, PlainNow, TextNow
from ..moment.standing import layout_of
from ..picture import Matrix, Patch, Rect, coloured, field, gathered, masked, mean_of, missing_picture, over, paint_rectangle, parse_colour, travelled, warp_picture
from ..steps import KINDS, StepContext
from ..type import paint_text
from .joining import joined
from .layers import JoinPlan, LayerPlan, SmearPlan, StepPlan
from .plan import Plan


class PictureMissing(LookupError):
    """There is no picture of this media, or its file is gone."""


class Sources(Protocol):
    """Where pictures of shots come from. What is not there raises PictureMissing, and is painted as missing."""

    def frame(self, media: str, index: int, width: int, exact: bool) -> np.ndarray:
        """(h, w, 4) uint8 premultiplied RGBA of one source frame.

        `width` is how wide the whole picture will be painted: a source may answer with
        a smaller picture of the same shape when not `exact`.
        """


class Painter:
    """Paints plans, keeping patches that come again (a still title under a moving fade)."""

    def __init__(self, sources: Sources, keep_bytes: int = 64 << 20) -> None:
        self._sources = sources
        self._kept: OrderedDict[tuple, Patch] = OrderedDict()
        self._bytes, self._most = 0, keep_bytes
        self.missing: set[str] = set()
        """Media whose picture was not there when it was asked for."""
        self.pause: Callable[[], None] = lambda: None
        """Called between pieces of work; what it raises ends the frame there."""

    def paint(self, plan: Plan) -> np.ndarray:
        """(height, width, 4) uint8 premultiplied RGBA; opaque, since the background is."""
        frame, rest = self._ground(plan, plan.layers[0]) if plan.layers else None, plan.layers[1:]
        if frame is None:
            frame, rest = np.empty((plan.height, plan.width, 4), np.uint8), plan.layers
            frame[:] = (*parse_colour(plan.background), 255)
        for layer in rest:
            over(frame, self._any(layer, plan))
        return frame

    def _any(self, layer: LayerPlan | SmearPlan | JoinPlan, plan: Plan) -> Patch:
        self.pause()
        if isinstance(layer, JoinPlan):
            return self._join(layer, plan)
        return self._smear(layer, plan) if isinstance(layer, SmearPlan) else self.patch(layer, plan.exact)

    def _smear(self, layer: SmearPlan, plan: Plan) -> Patch:
        """The mean over the time the shutter is open."""
        window = Rect(0, 0, plan.width, plan.height)
        if layer.shifts:
            return travelled(self.patch(layer.samples[0], plan.exact), layer.shifts, window).faded(layer.opacity)
        return mean_of((self._render(one, plan.exact) for one in layer.samples), window)

    def _join(self, layer: JoinPlan, plan: Plan) -> Patch:
        """Both sides of a transition over nothing, then mixed."""
        sides = []
        for side in (layer.before, layer.after):
            picture = np.zeros((plan.height, plan.width, 4), np.uint8)
            if side is not None:
                over(picture, self._any(side, plan))
            sides.append(picture)
        return joined(layer.join, *sides)

    def _ground(self, plan: Plan, layer: LayerPlan | SmearPlan | JoinPlan) -> np.ndarray | None:
        """A bottom layer that covers the frame, as the frame itself instead of blended into one; None if it does not."""
        if isinstance(layer, JoinPlan) or layer.opacity < 1:
            return None
        if not isinstance((layer.samples[0] if isinstance(layer, SmearPlan) else layer).content, FootageNow):
            return None
        patch = self._any(layer, plan)
        if not (patch.extends.everywhere and patch.opacity == 1 and patch.x <= 0 and patch.y <= 0
                and patch.x + patch.width >= plan.width and patch.y + patch.height >= plan.height):
            return None
        cut = patch.pixels[-patch.y:plan.height - patch.y, -patch.x:plan.width - patch.x]
        # Pixels just made are taken as they are; a view of a source that is kept must not be painted on.
        return cut if cut.shape == patch.pixels.shape and patch.pixels.base is None else cut.copy()

    def patch(self, layer: LayerPlan, exact: bool) -> Patch:
        """The pixels of one layer, all its steps done."""
        if isinstance(layer.content, FootageNow):
            return self._render(layer, exact)
        key = (layer.key, exact)
        known = self._kept.get(key)
        if known is None:
            # The key says nothing of the fade: it is applied when the patch is blended.
            known = self._render(layer._replace(opacity=1.0), exact)
            self._keep(key, known)
        else:
            self._kept.move_to_end(key)
        return known.faded(layer.opacity)

    def _render(self, layer: LayerPlan, exact: bool) -> Patch:
        patch = self._content(layer, exact)
        frame_of = self._frames(exact)
        for step in layer.steps:
            self.pause()
            patch = _step(patch, step, frame_of)
        return patch.faded(layer.opacity)

    def _content(self, layer: LayerPlan, exact: bool) -> Patch:
        content = layer.content
        if isinstance(content, TextNow):
            return self._text(layer, content, exact)
        if isinstance(content, PlainNow):
            return paint_rectangle(Rect(0, 0, 1, 1), layer.matrix, layer.window, parse_colour(content.colour), layer.frame)
        shown = content.width * layer.matrix.scale_at(content.width / 2, content.height / 2)
        try:
            picture = self._sources.frame(content.media, content.frame, int(shown + 0.999), exact)
        except PictureMissing:
            self.missing.add(content.media)
            wide = max(16, min(content.width, 640))
            return warp_picture(missing_picture(wide, max(9, round(wide * content.height / content.width))), layer.matrix @ Matrix.grow(
                content.width / wide, content.height / max(9, round(wide * content.height / content.width))), layer.window, True, layer.frame)
        matrix = layer.matrix @ Matrix.grow(content.width / picture.shape[1], content.height / picture.shape[0])
        return warp_picture(picture, matrix, layer.window, not content.alpha, layer.frame)

    def _frames(self, exact: bool):
        def frame(media: str, number: int, width: int) -> np.ndarray:
            try:
                return self._sources.frame(media, number, width, exact)
            except PictureMissing:
                self.missing.add(media)
                return missing_picture(640, 360)
        return frame

    def _text(self, layer: LayerPlan, content: TextNow, exact: bool) -> Patch:
        """All pieces of a text: those without steps of their own in one go, the others one by one, over each other."""
        layout, colour = layout_of(content), parse_colour(content.colour)
        if not any(piece.steps for piece in layer.pieces):
            return paint_text(layout, [piece.pose for piece in layer.pieces], layer.window, colour)
        painted = []
        for piece in layer.pieces:
            self.pause()
            patch = paint_text(layout, [piece.pose], piece.window, colour)
            for step in piece.steps:
                patch = _step(patch, step, self._frames(exact))
            painted.append(patch)
        return gathered(painted, layer.window)

    def _keep(self, key: tuple, patch: Patch) -> None:
        self._kept[key] = patch
        self._bytes += patch.pixels.nbytes
        while self._bytes > self._most and self._kept:
            _, gone = self._kept.popitem(last=False)
            self._bytes -= gone.pixels.nbytes


def _step(patch: Patch, planned: StepPlan, frame_of) -> Patch:
    step = planned.step
    after = KINDS[step.kind].render(patch, step.values, StepContext(planned.matrix, planned.window, planned.rest, frame_of))
    if planned.only is not None:
        after = _within(after, planned)
    if step.mix >= 1 or after is patch:
        return after
    return mixed(patch, after, step.mix)


def _within(patch: Patch, planned: StepPlan) -> Patch:
    """The part of a step's picture that goes with some letters; parts beside each other share no pixel and miss none."""
    if patch.rect.empty:
        return patch
    across, down = field(patch, planned.matrix)
    x0, y0, x1, y1 = planned.only
    return masked(patch, ((across >= x0) & (across < x1) & (down >= y0) & (down < y1)).astype(np.float32))


def mixed(before: Patch, after: Patch, share: float) -> Patch:
    """(1 − share) of one patch and `share` of the other, pixel by pixel."""
    area = before.rect.joins(after.rect)
    x0, y0, x1, y1 = area.whole()
    flat = before.colour is not None and before.colour == after.colour
    shape = (y1 - y0, x1 - x0) if flat else (y1 - y0, x1 - x0, 4)
    total = np.zeros(shape, np.float32)
    for patch, weight in ((before, 1 - share), (after, share)):
        part = patch.pixels if flat or patch.colour is None else coloured(patch)
        total[patch.y - y0:patch.y - y0 + patch.height, patch.x - x0:patch.x - x0 + patch.width] += part * np.float32(
            weight * patch.opacity)
    pixels = (total + 0.5).astype(np.uint8)
    colour = before.colour if flat else None
    return replace(after, pixels=pixels, x=x0, y=y0, colour=colour, opacity=1.0,
                   extends=before.extends.both(after.extends))
