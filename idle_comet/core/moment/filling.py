"""Keep filled: by how much larger a picture must be shown so that no edge of it is seen while the camera moves."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from ..picture import Rect
from ..project.model import Clip, Project
from ..project.times import handles_of, uncut
from ..remember import Remembered
from ..steps import KINDS, Rest
from .compiled import Compiled, CompiledStep, compiled
from .scene import ContentNow, TextNow
from .standing import Standing, stand

_SUBFRAMES = 9
"""Moments of an open shutter that are looked at."""

_FRAMES = 30_000
"""Frames that are solved at most: twenty minutes. Of a longer clip so many, evenly spread, with a little to spare."""

_MOST = 50.0
"""A picture that would have to be shown larger than this counts as lost: its edge can't be hidden."""

_HAIR = 1e-6


class Filling(NamedTuple):
    """How a picture fills the frame over its clip.

    `step` is shown larger by `scale`; None where nothing is kept filled. `spare` is (n, 4): px of the frame that are
    left of the picture beyond it at each of `frames`, at its left, upper, right and lower side; less than 0 where an
    edge is in sight. `lost` is the first frame at which no scale would hide it; `uncovered` says that the picture does
    not cover the frame even at rest. `enlarged` is how many px of the frame one px of the source takes at most; `pans`
    (n,) how many px of the frame moves carry the picture from each frame to the next, a shaken camera left aside.
    """

    step: str | None
    scale: float
    frames: np.ndarray
    spare: np.ndarray
    lost: float | None
    uncovered: bool
    enlarged: float
    pans: np.ndarray

    @property
    def first_edge(self) -> float | None:
        """The first frame at which an edge is in sight."""
        seen = np.flatnonzero(self.spare.min(1) < -0.01)
        return float(self.frames[seen[0]]) if len(seen) else None


class _Made(NamedTuple):
    own: Compiled
    size: tuple[int, int]
    box: Rect
    open: tuple[float, float]
    filling: Filling | None


_kept: Remembered[Clip, _Made] = Remembered()


def filling(project: Project, clip: Clip, content: ContentNow) -> Filling | None:
    """How a clip's picture fills the frame; None for words and graphics, which have no edge to be hidden, and where no
    camera moves."""
    own = compiled(project, clip)
    if (
        isinstance(content, TextNow)
        or getattr(content, "alpha", False)
        or not any(KINDS[step.kind].camera for step in own.steps)
    ):
        return None
    settings = project.settings
    standing = stand(content, settings.width, settings.height)
    shutter = clip.shutter or settings.shutter
    opened = shutter.angle / 360 * shutter.smear if own.moves else 0.0
    begins = -{"before": opened, "on": opened / 2, "after": 0.0}[shutter.sits]
    key = own, (settings.width, settings.height), standing.box, (begins, begins + opened)
    known = _kept.find(clip)
    if known is None or known[0] is not own or known[1:4] != key[1:]:
        whole = uncut(clip)
        solved = _solved(whole, compiled(project, whole), standing, handles_of(clip), *key[3])
        known = _kept.keep(clip, _Made(*key, solved if whole is clip else _part(solved, clip)))
    return known.filling


def _part(whole: Filling, clip: Clip) -> Filling:
    """Of a whole motion what a clip that was cut from it shows, in its own frames. The scale belongs to the whole: its
    parts are shown as they were."""
    frames = whole.frames - clip.skipped
    before, after = (transition.length if transition else 0 for transition in (clip.opening, clip.closing))
    there = (frames >= -before) & (frames < clip.length + after)
    lost = None if whole.lost is None else whole.lost - clip.skipped
    return whole._replace(
        frames=frames[there],
        spare=whole.spare[there],
        pans=whole.pans[there],
        lost=None if lost is None or not -before <= lost < clip.length + after else lost,
    )


def _solved(
    clip: Clip, own: Compiled, standing: Standing, handles: tuple[int, int], begins: float, ends: float
) -> Filling:
    """Of a whole clip, over its length and its handles."""
    rest = standing.rest()
    cameras = [step for step in own.steps if KINDS[step.kind].camera]
    before, after = handles
    first_frame, count = -before, clip.length + before + after
    # Of a clip of hours not every frame is looked at.
    apart = -(-count // _FRAMES)
    frames = np.unique(np.append(np.arange(first_frame, first_frame + count, apart), clip.length - 1)).astype(float)
    subframes = min(_SUBFRAMES, max(3, _FRAMES // len(frames)))
    parts = np.linspace(begins, ends, subframes) if ends > begins else np.zeros(1)
    moments = (frames[:, None] + parts).ravel()
    holder = next((n for n, step in enumerate(cameras) if step.fixed["edges"] == "kept filled"), None)
    # A move is shown larger after it, before the camera is shaken; one that is only held, before that.
    border = len(cameras) if holder is None else holder + (not KINDS[cameras[holder].kind].flows)
    shown = np.repeat(frames, len(parts))
    first, later = (_through(part, moments, shown, rest) for part in (cameras[:border], cameras[border:]))
    box, width, height = rest.box, rest.width, rest.height
    covers = box.x0 <= _HAIR and box.y0 <= _HAIR and box.x1 >= width - _HAIR and box.y1 >= height - _HAIR
    corners = np.array([[0, 0, 1], [width, 0, 1], [width, height, 1], [0, height, 1.0]]).T
    middle = np.array([width / 2, height / 2])
    aside = _flat(np.linalg.inv(later) @ corners) - middle
    back = np.linalg.inv(first)
    scale, lost = 1.0, None
    if holder is not None and covers:
        needed = _needed(back, middle, aside, box)
        hopeless = np.flatnonzero(needed > _MOST)
        lost = float(moments[hopeless[0]]) if len(hopeless) else None
        scale = max(1.0, float(needed[needed <= _MOST].max(initial=1.0)))
        if scale > 1:
            # Between the moments that are looked at it may be a hair more.
            scale *= 1 + (2e-3 if apart > 1 else 2e-4 if ends > begins else 1e-7)
    at = _picture_at(back, middle, aside / scale)
    per = _larger(back, middle) * scale
    across, down = at[..., 0], at[..., 1]
    lower, upper = (across.min(1) - box.x0, down.min(1) - box.y0), (box.x1 - across.max(1), box.y1 - down.max(1))
    sides = np.stack([*lower, *upper], 1)
    spare = (sides * per[:, None]).reshape(len(frames), -1, 4).min(1)
    held = cameras[holder].id if holder is not None and covers else None
    enlarged = float(per.max()) * standing.matrix.scale
    # What goes against the source's own movement is no pan, and neither is a shaken camera.
    panned = [step for step in cameras if not (KINDS[step.kind].flows or KINDS[step.kind].with_source)]
    moves = _through(panned, frames, frames, rest)
    return Filling(held, scale, frames, spare, lost, not covers, enlarged, _carried(moves, middle))


def _carried(ways: np.ndarray, middle: np.ndarray) -> np.ndarray:
    """(n,): how far what is seen in the middle of the frame is carried until the next frame, in px of it."""
    if len(ways) < 2:
        return np.zeros(len(ways))
    seen = np.concatenate([_picture_at(np.linalg.inv(ways[:-1]), middle, np.zeros((len(ways) - 1, 1, 2)))[:, 0],
                           np.ones((len(ways) - 1, 1))], 1)  # fmt: skip
    gone = _flat(ways[1:] @ seen[..., None])[:, 0] - middle
    far = np.hypot(gone[:, 0], gone[:, 1])
    return np.append(far, far[-1])


def _through(steps: list[CompiledStep], times: np.ndarray, shown: np.ndarray, rest: Rest) -> np.ndarray:
    """(n, 3, 3): what steps do to px of the frame, one after the other, at each moment. `shown` are the frames the
    moments are part of."""
    whole = np.broadcast_to(np.eye(3), (len(times), 3, 3))
    for step in steps:
        kind = KINDS[step.kind]
        moments = shown if kind.with_source else times
        mixes = np.array([step.mixed(at) for at in moments])
        numbers = None
        if kind.flows:
            values: dict[str, Any] = dict(step.fixed)
            for each in step.varying:
                values[each.name] = np.array([each.parameter.clamp(each.sample(at)) for at in moments])
            for name in kind.weakens:
                values[name] = values[name] * mixes
            numbers = kind.ways(values, (moments + step.skipped) / step.rate, rest)
        if numbers is None:
            placed = (kind.place(step.told(step.values(at), at, float(mix)), rest) for at, mix in zip(moments, mixes))
            numbers = np.array([_IDENTITY if matrix is None else tuple(matrix) for matrix in placed])
        a, b, c, d, e, f, g, h, i = numbers.T
        made = np.stack([np.stack([a, c, e], 1), np.stack([b, d, f], 1), np.stack([g, h, i], 1)], 1)
        there = (moments >= step.since) & (moments < step.until)
        made[~there] = np.eye(3)
        whole = made @ whole
    return whole


_IDENTITY = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0, 1.0)


def _flat(points: np.ndarray) -> np.ndarray:
    """(n, k, 2) of (n, 3, k) points told with their depth; one behind the eye is at the end of the world."""
    depth = points[:, 2]
    depth = np.where(depth > 1e-9, depth, 1e-9)
    return np.stack([points[:, 0] / depth, points[:, 1] / depth], -1)


def _picture_at(back: np.ndarray, middle: np.ndarray, aside: np.ndarray) -> np.ndarray:
    """(n, k, 2): what of the picture is seen so far aside of the frame's middle."""
    seen = np.concatenate([middle + aside, np.ones((*aside.shape[:2], 1))], -1)
    return _flat(back @ np.moveaxis(seen, 1, 2))


def _larger(back: np.ndarray, middle: np.ndarray) -> np.ndarray:
    """(n,): px of the frame for one of the picture, in the middle."""
    step = _picture_at(back, middle, np.broadcast_to(np.array([[0.0, 0.0], [1.0, 0.0]]), (len(back), 2, 2)))
    return 1 / np.maximum(np.hypot(*(step[:, 1] - step[:, 0]).T), 1e-9)


def _needed(back: np.ndarray, middle: np.ndarray, aside: np.ndarray, box: Rect) -> np.ndarray:
    """(n,): the least scale about the frame's middle at which no corner is seen past the picture's edge.

    What is seen at the middle, p, stays; a corner shows p + v/s. It lies within a side at a distance l beyond p when
    s ≥ v/l, v counted towards that side. Where the middle itself lies past an edge nothing helps.
    """
    if np.abs(back[:, 2, :2]).max() > 1e-12:
        return _searched(back, middle, aside, box)
    seen = _picture_at(back, middle, np.zeros((len(back), 1, 2)))
    ways = _picture_at(back, middle, aside) - seen
    needed = np.ones(len(back))
    for axis, low, high in ((0, box.x0, box.x1), (1, box.y0, box.y1)):
        for way, room in ((ways[..., axis], high - seen[..., axis]), (-ways[..., axis], seen[..., axis] - low)):
            asked = np.where(way > 0, way / np.maximum(room, 1e-12), 0.0)
            needed = np.maximum(needed, asked.max(1))
    return needed


def _searched(back: np.ndarray, middle: np.ndarray, aside: np.ndarray, box: Rect) -> np.ndarray:
    """The same where the picture is seen in perspective, by halving."""
    low, high = np.ones(len(back)), np.full(len(back), 2 * _MOST)
    for _ in range(40):
        tried = (low + high) / 2
        at = _picture_at(back, middle, aside / tried[:, None, None])
        inside = (
            (at[..., 0] >= box.x0) & (at[..., 0] <= box.x1) & (at[..., 1] >= box.y0) & (at[..., 1] <= box.y1)
        ).all(1)
        low, high = np.where(inside, low, tried), np.where(inside, tried, high)
    whole = _picture_at(back, middle, aside)
    fits = (whole >= [box.x0, box.y0]).all((1, 2)) & (whole <= [box.x1, box.y1]).all((1, 2))
    return np.where(fits, 1.0, high)
