"""Paint: a plan becomes pixels. Preview and export both end here."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import replace
from typing import Callable, Protocol, runtime_checkable

import numpy as np

from ..moment.scene import FootageNow, GeneratedNow, ModelNow, PlainNow, ShapeNow, TextNow
from ..moment.standing import layout_of
from ..picture import (
    EVERYWHERE,
    Cube,
    Grading,
    Matrix,
    Patch,
    Planes,
    Rect,
    area_of,
    crossed,
    enlarged,
    gathered,
    going_on,
    graded,
    mean_of,
    missing_picture,
    mixed,
    paint_rectangle,
    parse_colour,
    travelled,
    warp_picture,
)
from ..remember import Budget
from ..space.model import ReadModel
from ..steps import KINDS, Beneath, StepContext
from ..type import paint_text
from .covering import cover_of
from .deep import Body, Deep
from .generated import generate
from .graph import (
    Averaged,
    Blended,
    Board,
    Crossed,
    MaskPlan,
    Mixed,
    Picture,
    Seen,
    Shared,
    Source,
    Stepped,
    StepPlan,
    Travelled,
    digest_of,
)
from .joining import joined
from .laying import filled, laid, laid_clear, laid_over_nothing
from .masks import share_of, within
from .model import model_nearness, paint_model, told_model
from .plan import Plan
from .shape import paint_shape
from .solid import bodies, paint_solid, solid_nearness, told_solid
from .thrown import Told, told_board


class PictureMissing(LookupError):
    """There is no picture of this media, or its file is gone."""


class Sources(Protocol):
    """Where pictures of shots come from. What is not there raises PictureMissing, and is painted as missing."""

    def frame(self, media: str, index: int, width: int, exact: bool) -> np.ndarray:
        """(h, w, 4) uint8 premultiplied RGBA of one source frame.

        `width` is how wide the whole picture will be painted: a source may answer with
        a smaller picture of the same shape when not `exact`.
        """


_MET = 4096
"""Pictures remembered by their digest to tell which come again."""


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


class Painter:
    """Paints plans, keeping what comes again (a still title under a moving fade, a still step on a moving clip)."""

    def __init__(self, sources: Sources | None, kept: Budget | None = None) -> None:
        self._sources = sources
        self._kept = Budget(64 << 20) if kept is None else kept
        self._now: dict[int, Patch] = {}
        self._met: OrderedDict[bytes, None] = OrderedDict()
        self.missing: set[str] = set()
        """Media whose picture was not there when it was asked for."""
        self.pause: Callable[[], None] = lambda: None
        """Called between pieces of work; what it raises ends the frame there."""

    def paint(self, plan: Plan) -> np.ndarray:
        """(height, width, 4) uint8 premultiplied RGBA; opaque where the plan has a background, as a film's own has."""
        try:
            patches = [(self._seen(child), child.mode) for child in plan.picture.children]
            if plan.picture.background is None:
                return laid_clear(patches, plan.width, plan.height)
            return laid(patches, plan.width, plan.height, parse_colour(plan.picture.background))
        finally:
            self._now.clear()

    def _seen(self, seen: Seen) -> Patch:
        return self.patch(seen.picture).faded(seen.opacity)

    def patch(self, picture: Picture) -> Patch:
        """The pixels of a picture, painted or kept from before."""
        self.pause()
        known = self._now.get(id(picture))
        if known is not None:
            return known
        known = self._kept.find(picture.digest) if _may_come_again(picture) else None
        if known is None:
            known = self._painted(picture)
            if _may_come_again(picture) and self._comes_again(picture):
                self._kept.keep(picture.digest, known, known.pixels.nbytes + 400)
        if isinstance(picture, Blended):
            # A treatment has what lies below it twice: as it is, and with its steps done.
            self._now[id(picture)] = known
        return known

    def _comes_again(self, picture: Picture) -> bool:
        """Whether a picture has been painted before: what moves is another at every frame, and would fill what is
        kept."""
        return self._met_before(picture.digest) or not any(
            isinstance(each, Source) and _passes(each.content) for each in picture.walk()
        )

    def _met_before(self, name: bytes) -> bool:
        again = name in self._met
        self._met[name] = None
        self._met.move_to_end(name)
        if len(self._met) > _MET:
            self._met.popitem(last=False)
        return again

    def _painted(self, picture: Picture) -> Patch:
        if isinstance(picture, Source):
            return self._source(picture)
        if isinstance(picture, Stepped):
            return self._after_steps(picture)
        if isinstance(picture, Blended):
            return self._blended(picture)
        if isinstance(picture, Crossed):
            seen = [self._seen(child) for child in picture.children]
            return crossed(seen, picture.near, picture.window, [self._nearness(child) for child in picture.children])
        if isinstance(picture, Shared):
            before, after = self.patch(picture.before), self.patch(picture.after)
            return mixed(before, after, self._share(before, after, picture.share, picture.masks))
        if isinstance(picture, Travelled):
            return travelled(self.patch(picture.child), picture.shifts, picture.window)
        if isinstance(picture, Averaged):
            return mean_of((self._once(each) for each in picture.samples), picture.window)
        if isinstance(picture, Mixed):
            return joined(picture, *(self._side(side, picture.frame) for side in (picture.before, picture.after)))
        raise TypeError(f"{type(picture).__name__} is no picture this painter knows")

    def _once(self, seen: Seen) -> Patch:
        """One moment of many: nothing of it is kept."""
        self.pause()
        picture = seen.picture
        steps = []
        while isinstance(picture, Stepped):
            steps.append(picture.plan)
            picture = picture.child
        patch = self._painted(picture)
        for step in reversed(steps):
            patch = self._stepped(patch, step)
        return patch.faded(seen.opacity)

    def _side(self, side: Seen | None, frame: Rect) -> np.ndarray:
        """One side of a transition over nothing, as large as the frame."""
        _, _, width, height = frame.whole()
        return laid_over_nothing([(self._seen(side), side.mode)] if side else [], 0, 0, width, height)

    def _blended(self, picture: Blended) -> Patch:
        patches = [(self._seen(child), child.mode) for child in picture.children]
        x0, y0, x1, y1 = picture.window.whole()
        if picture.background is not None:
            pixels = filled(x1 - x0, y1 - y0, parse_colour(picture.background), np.float32)
            return Patch(laid_over_nothing(patches, x0, y0, x1 - x0, y1 - y0, pixels), x0, y0, extends=EVERYWHERE)
        if all(mode == "normal" for _, mode in patches):
            return gathered([patch for patch, _ in patches], picture.window)
        area = area_of([patch for patch, _ in patches], picture.window)
        if area.empty:
            return Patch.empty()
        x0, y0, x1, y1 = area.whole()
        return Patch(
            laid_over_nothing(patches, x0, y0, x1 - x0, y1 - y0),
            x0,
            y0,
            extends=going_on([patch for patch, _ in patches], area),
        )

    def _after_steps(self, picture: Stepped) -> Patch:
        """The last step done to what comes before it; steps in a row that grade are done in one pass."""
        gradings = []
        child: Picture = picture
        while isinstance(child, Stepped) and (child is picture or self._kept.find(child.digest) is None):
            grading = _grading(child.plan)
            if grading is None:
                break
            gradings.append(grading)
            child = child.child
        if not gradings:
            return self._stepped(self.patch(picture.child), picture.plan, picture.child)
        return graded(self.patch(child), gradings[::-1])

    def _stepped(self, patch: Patch, plan: StepPlan, child: Picture | None = None) -> Patch:
        self.pause()
        step, kind = plan.step, KINDS[plan.step.kind]
        context = StepContext(
            plan.matrix,
            plan.window,
            plan.rest,
            self._frame_of(plan.exact),
            {each.number: enlarged(self.patch(each.picture), each.coarse) for each in plan.shadows},
            self._table,
            plan.exact,
        )
        if isinstance(kind, Beneath) and child is not None and not patch.rect.empty:
            after = kind.over(self._beneath(kind, patch, plan, child, context), patch, step.values, context)
        else:
            after = kind.render(patch, step.values, context)
        if plan.only is not None:
            after = within(after, plan.matrix, plan.only)
        if after is patch or step.mix >= 1 and not plan.masks:
            return after
        return mixed(patch, after, self._share(patch, after, step.mix, plan.masks))

    def _beneath(self, kind: Beneath, patch: Patch, plan: StepPlan, child: Picture, context: StepContext) -> Patch:
        """What lies below a picture, kept for the next one that covers the same."""
        key = digest_of(("beneath", cover_of(child), plan.names()))
        known = self._kept.find(key)
        if known is None:
            known = kind.beneath(patch, plan.step.values, context)
            if self._met_before(key):
                self._kept.keep(key, known, known.pixels.nbytes + 400)
        return known

    def _share(self, before: Patch, after: Patch, share: float, masks: tuple[MaskPlan, ...]) -> float | np.ndarray:
        """How much of one picture is the other: a number, or one for each px of both their bounds."""
        if not masks:
            return share
        area = before.rect.union(after.rect)
        return share * share_of(
            masks, area, [None if mask.picture is None else self.patch(mask.picture) for mask in masks]
        )

    def _source(self, source: Source) -> Patch:
        content = source.content
        if isinstance(content, ModelNow):
            return self._model(content, source)
        if isinstance(content, (TextNow, ShapeNow)) and bodies(source.poses):
            return self._with_bodies(content, source)
        if isinstance(content, TextNow):
            return paint_text(layout_of(content), source.poses, source.window, parse_colour(content.colour))
        if isinstance(content, PlainNow):
            return paint_rectangle(
                Rect(0, 0, 1, 1), source.matrix, source.window, parse_colour(content.colour), source.frame
            )
        if isinstance(content, GeneratedNow):
            return generate(content, source.matrix, source.window, source.frame)
        if isinstance(content, ShapeNow):
            return paint_shape(content, source.matrix, source.window)
        shown = content.width * source.matrix.scale_at(content.width / 2, content.height / 2)
        picture, alpha = self._frame(content, int(shown + 0.999), source.exact)
        matrix = source.matrix @ Matrix.grow(content.width / picture.shape[1], content.height / picture.shape[0])
        return warp_picture(
            picture, matrix, source.window, not alpha, source.frame, source.exact, self._kept, source.moves
        )

    def _nearness(self, seen: Seen) -> Patch | None:
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
            return solid_nearness(content, poses, picture.window, self._frame_of(picture.exact))
        if not isinstance(content, ModelNow) or not isinstance(self._sources, ModelSources):
            return None
        try:
            return model_nearness(self._sources.model(content.media), content, deep, picture.window)
        except PictureMissing:
            # What stands in its place is a plane.
            self.missing.add(content.media)
            return None

    def _model(self, content: ModelNow, source: Source) -> Patch:
        """A model; one that is missing is a plane that says so."""
        deep = source.poses[0].solid
        assert isinstance(deep, Deep)
        try:
            if not isinstance(self._sources, ModelSources):
                raise PictureMissing(content.media)
            model, between = self._sources.model(content.media), self._between(source)
            return paint_model(model, content, deep, source.window, source.exact, between)
        except PictureMissing:
            self.missing.add(content.media)
            picture, size = missing_picture(320, 320), dict(content.values)["size"]
            middle = Matrix.shift((content.width - size) / 2, (content.height - size) / 2)
            return warp_picture(picture, source.matrix @ middle @ Matrix.grow(size / 320), source.window, False)

    def _between(self, source: Source) -> list[Told]:
        """A body and all that may be between it and a light, as any eye sees them."""
        found = []
        for each in (source, *source.around):
            if isinstance(each, Board):
                found.append(told_board(self.patch(each.picture), each.scale, each.plane))
                continue
            content, poses = each.content, [pose for pose in each.poses if pose.solid is not None]
            if isinstance(content, (TextNow, ShapeNow)) and poses:
                found.append(told_solid(content, poses, self._frame_of(each.exact)))
            elif isinstance(content, ModelNow) and isinstance(self._sources, ModelSources):
                try:
                    found.append(told_model(self._sources.model(content.media), content, each.poses[0]))
                except PictureMissing:
                    self.missing.add(content.media)
        return found

    def _with_bodies(self, content: TextNow | ShapeNow, source: Source) -> Patch:
        """Ink of which some is solid; what is flat lies below."""
        solid = [pose for pose in source.poses if pose.solid is not None]
        frame_of = self._frame_of(source.exact)
        body = paint_solid(content, solid, source.window, source.exact, frame_of, self._between(source))
        flat = replace(source, poses=tuple(pose for pose in source.poses if pose.solid is None))
        if not flat.poses:
            return body
        return gathered([self._source(flat), body], source.window)

    def _frame(self, content: FootageNow, width: int, exact: bool) -> tuple[np.ndarray | Planes, bool]:
        """A shot's picture, and whether it may have transparency; what is missing is painted as missing."""
        try:
            planes = (
                self._sources.planes(content.media, content.frame, width, exact)
                if isinstance(self._sources, PlanarSources) and not content.alpha
                else None
            )
            if planes is not None:
                return planes, False
            if self._sources is None:
                raise PictureMissing(content.media)
            return self._sources.frame(content.media, content.frame, width, exact), content.alpha
        except PictureMissing:
            self.missing.add(content.media)
            wide = max(16, min(content.width, 640))
            return missing_picture(wide, max(9, round(wide * content.height / content.width))), False

    def _table(self, media: str) -> Cube | None:
        """For steps that look colours up."""
        try:
            if not isinstance(self._sources, TableSources):
                raise PictureMissing(media)
            return self._sources.table(media)
        except PictureMissing:
            self.missing.add(media)
            return None

    def _frame_of(self, exact: bool) -> Callable[[str, int, int], np.ndarray]:
        """For steps that use a picture of the film."""

        def frame(media: str, number: int, width: int) -> np.ndarray:
            try:
                if self._sources is None:
                    raise PictureMissing(media)
                return self._sources.frame(media, number, width, exact)
            except PictureMissing:
                self.missing.add(media)
                return missing_picture(640, 360)

        return frame


def _grading(plan: StepPlan) -> Grading | None:
    """What a step does to colours where that is all it does, and the same to all of the picture."""
    step = plan.step
    grading = None if plan.masks or plan.only is not None else KINDS[step.kind].grading(step.values)
    return grading and replace(grading, share=grading.share * min(1.0, step.mix))


def _passes(content: object) -> bool:
    """Whether a content is another at the next frame, most likely."""
    return isinstance(content, FootageNow) or (isinstance(content, GeneratedNow) and content.frame > 0)


def _may_come_again(picture: Picture) -> bool:
    """Frames of footage are kept by their source."""
    return not (isinstance(picture, Source) and isinstance(picture.content, FootageNow))
