"""Paint: a plan becomes pixels. Preview and export both end here."""

from __future__ import annotations

from collections import Counter, OrderedDict
from dataclasses import replace
from typing import Callable, Iterable

import numpy as np

from ..moment.scene import FootageNow, GeneratedNow, ModelNow, PlainNow, ShapeNow, TextNow
from ..moment.standing import layout_of
from ..picture import (
    EVERYWHERE,
    Grading,
    Matrix,
    Mode,
    Patch,
    Rect,
    area_of,
    crossed,
    enlarged,
    gathered,
    going_on,
    graded,
    mean_of,
    mixed,
    paint_rectangle,
    parse_colour,
    travelled,
    warp_picture,
)
from ..remember import Budget
from ..steps import KINDS, Beneath, StepContext
from ..type import paint_text
from .ahead import Ahead, shot_of
from .bodies import Bodies
from .covering import cover_of
from .generated import generate
from .graph import (
    Averaged,
    Blended,
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
    before_steps,
    digest_of,
)
from .joining import joined
from .laying import laid, laid_clear, laid_over_nothing
from .masks import share_of, within
from .plan import Plan
from .shape import paint_shape
from .solid import bodies
from .sources import Found, Sources

_MET = 4096
"""Pictures remembered by their digest to tell which come again."""


class Painter:
    """Paints plans, keeping what comes again (a still title under a moving fade, a still step on a moving clip).

    One that paints for somebody who waits has shots made `ahead`, in another thread."""

    def __init__(self, sources: Sources | None, kept: Budget | None = None, ahead: bool = False) -> None:
        self._found = Found(sources)
        self._bodies = Bodies(self._found, self.patch)
        self._kept = Budget(64 << 20) if kept is None else kept
        self._now: dict[int, Patch] = {}
        self._met: OrderedDict[bytes, None] = OrderedDict()
        self._ahead = Ahead(self._source, self._is_kept) if ahead else None
        self.pause: Callable[[], None] = lambda: None
        """Called between pieces of work; what it raises ends the frame there."""

    @property
    def missing(self) -> set[str]:
        """Media whose picture was not there when it was asked for."""
        return self._found.missing

    def paint(self, plan: Plan) -> np.ndarray:
        """(height, width, 4) uint8 premultiplied RGBA; opaque where the plan has a background, as a film's own has."""
        try:
            patches = self._all_seen(plan.picture.children)
            if plan.picture.background is None:
                return laid_clear(patches, plan.width, plan.height)
            return laid(patches, plan.width, plan.height, parse_colour(plan.picture.background))
        finally:
            self.forget()
            self._now.clear()

    def begin(self, pictures: Iterable[Seen]) -> None:
        """Have the shots among pictures made meanwhile; they are painted next, or forgotten with `forget`."""
        if self._ahead is not None:
            self._ahead.begin(pictures)

    def forget(self) -> None:
        """Nothing of what was begun is painted."""
        if self._ahead is not None:
            self._ahead.end()

    def _all_seen(self, children: tuple[Seen, ...]) -> list[tuple[Patch, Mode]]:
        """The pictures of a frame; those that wait for a shot are painted last."""
        ahead, order = self._ahead, list(range(len(children)))
        if ahead is not None:
            if not all(shot_of(each.picture) for each in children):
                ahead.begin(children)
            order.sort(key=lambda place: ahead.waits(children[place].picture))
        found = {place: self._seen(children[place]) for place in order}
        return [(found[place], child.mode) for place, child in enumerate(children)]

    def _is_kept(self, picture: Picture) -> bool:
        return self._kept.find(picture.digest) is not None

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
            if _may_come_again(picture) and self._comes_again(picture) and not self.missing:
                # With a picture missing this would be kept for the time when it is there again.
                self._kept.keep(picture.digest, known, known.pixels.nbytes + 400)
        if isinstance(picture, Blended):
            # A treatment has what lies below it twice: as it is, and with its steps done.
            self._now[id(picture)] = known
        return known

    def _comes_again(self, picture: Picture) -> bool:
        """Whether a picture has been painted before: what moves is another at every frame, and would fill what is
        kept."""
        return self._met_before(picture.digest) or not picture.passes

    def _met_before(self, name: bytes) -> bool:
        again = name in self._met
        self._met[name] = None
        self._met.move_to_end(name)
        if len(self._met) > _MET:
            self._met.popitem(last=False)
        return again

    def _painted(self, picture: Picture) -> Patch:
        if isinstance(picture, Source):
            known = None if self._ahead is None else self._ahead.find(picture)
            return self._source(picture) if known is None else known
        if isinstance(picture, Stepped):
            return self._after_steps(picture)
        if isinstance(picture, Blended):
            return self._blended(picture)
        if isinstance(picture, Crossed):
            seen = [self._seen(child) for child in picture.children]
            bodies_near = [self._bodies.nearness(child) for child in picture.children]
            return crossed(seen, picture.near, picture.window, bodies_near)
        if isinstance(picture, Shared):
            before, after = self.patch(picture.before), self.patch(picture.after)
            return mixed(before, after, self._share(before, after, picture.share, picture.masks))
        if isinstance(picture, Travelled):
            return travelled(self.patch(picture.child), picture.shifts, picture.window)
        if isinstance(picture, Averaged):
            return self._mean(picture)
        if isinstance(picture, Mixed):
            return joined(picture, *(self._side(side, picture.frame) for side in (picture.before, picture.after)))
        raise TypeError(f"{type(picture).__name__} is no picture this painter knows")

    def _mean(self, picture: Averaged) -> Patch:
        """The mean of moments; nothing of them is kept but what several begin with."""
        moments = [(before_steps(each.picture), each.opacity) for each in picture.samples]
        begins = Counter(id(begin) for (begin, _), _ in moments)

        def painted(begin: Picture, steps: list[StepPlan], opacity: float) -> Patch:
            self.pause()
            patch = self._now.get(id(begin)) or self._painted(begin)
            if begins[id(begin)] > 1:
                self._now[id(begin)] = patch
            for step in steps:
                patch = self._stepped(patch, step)
            return patch.faded(opacity)

        return mean_of((painted(*moment, opacity) for moment, opacity in moments), picture.window)

    def _side(self, side: Seen | None, frame: Rect) -> np.ndarray:
        """One side of a transition over nothing, as large as the frame."""
        _, _, width, height = frame.whole()
        return laid_over_nothing([(self._seen(side), side.mode)] if side else [], 0, 0, width, height)

    def _blended(self, picture: Blended) -> Patch:
        patches = [(self._seen(child), child.mode) for child in picture.children]
        x0, y0, x1, y1 = picture.window.whole()
        if picture.background is not None:
            ground = parse_colour(picture.background)
            return Patch(laid_over_nothing(patches, x0, y0, x1 - x0, y1 - y0, ground), x0, y0, extends=EVERYWHERE)
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
            self._found.frame_of(plan.exact),
            {each.number: enlarged(self.patch(each.picture), each.coarse) for each in plan.shadows},
            self._found.table,
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
            if self._met_before(key) and not self.missing:
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
            return self._bodies.model(content, source)
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
        picture, alpha = self._found.shot(content, int(shown + 0.999), source.exact)
        matrix = source.matrix @ Matrix.grow(content.width / picture.shape[1], content.height / picture.shape[0])
        return warp_picture(
            picture, matrix, source.window, not alpha, source.frame, source.exact, self._kept, source.moves
        )

    def _with_bodies(self, content: TextNow | ShapeNow, source: Source) -> Patch:
        """Ink of which some is solid; what is flat lies below."""
        body = self._bodies.ink(content, source)
        flat = replace(source, poses=tuple(pose for pose in source.poses if pose.solid is None))
        return gathered([self._source(flat), body], source.window) if flat.poses else body


def _grading(plan: StepPlan) -> Grading | None:
    """What a step does to colours where that is all it does, and the same to all of the picture."""
    step = plan.step
    grading = None if plan.masks or plan.only is not None else KINDS[step.kind].grading(step.values)
    return grading and replace(grading, share=grading.share * min(1.0, step.mix))


def _may_come_again(picture: Picture) -> bool:
    """Frames of footage are kept by their source."""
    return not (isinstance(picture, Source) and isinstance(picture.content, FootageNow))
