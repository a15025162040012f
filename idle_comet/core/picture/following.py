"""Following a point of a moving picture from frame to frame.

Optical flow (Lucas and Kanade, in pyramids) says about where the point went, and is asked backwards as well. Then the
patch around it is laid on the frame it was picked in: a Gauss–Newton search over affine maps, with light and contrast
free and outliers weighed down (Baker and Matthews, "Lucas–Kanade 20 years on"). Since every frame is compared with the
first one for as long as that is alike, small errors do not add up.
"""

from __future__ import annotations

import math
from collections import deque
from typing import Any, Literal, NamedTuple

import cv2
import numpy as np

SURE = 0.6
"""A quality below this counts as lost."""

_FOUND_AGAIN = 0.82
"""What the likeness must be at least where a lost point is found again: there is no path that leads to it."""

_ALIKE = 0.9
"""Likeness below which a newer picture of the patch is taken beside the first one."""

_GOES_ON = 25
"""Frames for which a hidden point is thought to go on as it went."""

_BACK = 1.5
"""Px; where flow leads back further from where it came, it leads nowhere."""

_OLD = 6
"""Frames that the look of the patch is old with which a lost one is searched: what hid it has not yet touched it."""

_CHANGE = 0.3
"""How far an affine map may be from the last one."""

_SUDDEN = 0.2
"""By how much less alike than usual the patch may become from one frame to the next."""

_ROUNDS = 14
_STOP = 2e-3
"""Px; a step of the search smaller than this ends it."""

_OUTLIER = 4.685
"""Tukey's constant: a difference of so many deviations no longer counts."""


class Seen(NamedTuple):
    """Where the point is in a frame, in px from the picture's upper left corner (the middle of the first px is at a
    half), and how sure that is: 0 is lost, 1 is just as it was picked. `why` says what a lost one was lost for."""

    x: float
    y: float
    quality: float
    why: Literal["", "hidden", "left"] = ""

    @property
    def lost(self) -> bool:
        return self.quality < SURE


class _Picture(NamedTuple):
    """The patch around the point in some frame: its softened `pixels` (n,), and which of them lie on the picture."""

    pixels: np.ndarray
    inside: np.ndarray


def reach_in(height: int) -> int:
    """Half the side of the patch that is followed, in px of a picture of this height."""
    return max(9, round(height / 52))


def hold(grey: np.ndarray, x: float, y: float) -> float:
    """How well a point can be held on to, in grey levels a px: the root of the smaller eigenvalue of its gradients (Shi
    and Tomasi). A plain area has next to nothing, and so has a straight edge; grain alone comes to about 0.3."""
    reach = reach_in(grey.shape[0])
    side = 4 * reach + 1
    patch = cv2.getRectSubPix(grey, (side, side), (x - 0.5, y - 0.5)).astype(np.float32)
    soft = cv2.GaussianBlur(patch, (0, 0), 1.0)
    inner = slice(reach, -reach), slice(reach, -reach)
    across, down = (cv2.Sobel(soft, cv2.CV_32F, *way, scale=1 / 8)[inner] for way in ((1, 0), (0, 1)))
    weights = _weights(reach)
    a, b, c = (float((each * weights).sum() / weights.sum()) for each in (across**2, across * down, down**2))
    return math.sqrt(max(0.0, (a + c) / 2 - math.hypot((a - c) / 2, b)))


def _weights(reach: int) -> np.ndarray:
    """(h, w): a bell over the patch, so that what surrounds the point counts little."""
    line = np.exp(-0.5 * (np.arange(-reach, reach + 1) / (0.5 * reach)) ** 2).astype(np.float32)
    return line[:, None] * line[None, :]


class Pursuit:
    """Follows one point. Frames are grey uint8 (h, w) of one size; the first is the one the point is picked in."""

    def __init__(self, grey: np.ndarray, x: float, y: float) -> None:
        self._reach = reach_in(grey.shape[0])
        steps = np.arange(-self._reach, self._reach + 1, dtype=np.float32)
        self._grid = np.stack(np.meshgrid(steps, steps), -1).reshape(-1, 2)
        self._bell = _weights(self._reach).ravel()
        self._before = grey
        self._at = np.array([x, y], np.float64)
        self._pace = np.zeros(2)
        self._shape = np.eye(2)
        self._pictures = [self._picture(grey, self._at)]
        self._looks = deque([self._square(grey, self._at)], maxlen=_OLD)
        self._shapes = [np.eye(2)]
        self._likes: deque[float] = deque(maxlen=24)
        self._gone = 0

    def next(self, grey: np.ndarray) -> Seen:
        """The point in the frame after the last one that was given."""
        flowed = self._flowed(grey) if not self._gone else None
        if flowed is not None and flowed[1] > _BACK:
            flowed = None
        found = self._best(grey, flowed[0], self._least(flowed[1])) if flowed is not None else None
        if found is None:
            found = self._looked_for(grey)
        self._before = grey
        if found is None:
            self._gone += 1
            ahead = self._at + self._pace * min(self._gone, _GOES_ON)
            return Seen(float(ahead[0]), float(ahead[1]), 0.0, "hidden" if _within(grey, ahead) else "left")
        place, shape, likeness, number = found
        if not self._gone:
            self._pace = 0.7 * self._pace + 0.3 * (place - self._at)
        self._at, self._shape, self._gone = place, shape, 0
        self._looks.append(self._square(grey, place))
        apart = flowed[1] if flowed is not None else 0.0
        slowly = likeness > max(self._likes, default=1.0) - _SUDDEN / 4
        self._likes.append(likeness)
        if likeness < _ALIKE and number == len(self._pictures) - 1 and apart < 0.5 and slowly:
            # The first one stays, to be gone back to; of the newer ones only the last.
            self._pictures[1:], self._shapes[1:] = [self._picture(grey, place)], [np.eye(2)]
        return Seen(float(place[0]), float(place[1]), min(1.0, likeness * math.exp(-((apart / 4) ** 2))))

    def _least(self, apart: float) -> float:
        """The likeness that is asked for: not far less than it was, since what hides a point comes suddenly and its
        look changes slowly; and more where flow does not lead back to where it came from."""
        usual = sorted(self._likes)[len(self._likes) // 2] if self._likes else 1.0
        return max(SURE, usual - _SUDDEN) + min(0.3, 0.1 * apart)

    def _picture(self, grey: np.ndarray, at: np.ndarray) -> _Picture:
        spots = self._grid + at
        return _Picture(_sampled(_smooth(grey, at, 2 * self._reach), spots), _inside(grey, spots))

    def _square(self, grey: np.ndarray, at: np.ndarray) -> np.ndarray:
        side = 2 * self._reach + 1
        return cv2.getRectSubPix(grey, (side, side), (float(at[0] - 0.5), float(at[1] - 0.5)))

    def _flowed(self, grey: np.ndarray) -> tuple[np.ndarray, float] | None:
        """Where optical flow carries the point, and how far from where it was it leads back; None where it leads
        nowhere."""
        far = int(6 * self._reach + 3 * np.abs(self._pace).max())
        x0, y0, x1, y1 = _around(grey, self._at, far)
        before, now = (np.ascontiguousarray(each[y0:y1, x0:x1]) for each in (self._before, grey))
        corner = np.array([x0 + 0.5, y0 + 0.5])
        start = (self._at - corner).astype(np.float32).reshape(1, 1, 2)
        guess = (self._at + self._pace - corner).astype(np.float32).reshape(1, 1, 2)
        side = 2 * self._reach + 1

        def flow(one: np.ndarray, other: np.ndarray, at: np.ndarray, to: np.ndarray) -> Any:
            return cv2.calcOpticalFlowPyrLK(
                one, other, at, to, winSize=(side, side), maxLevel=3, criteria=(3, 30, 0.01),
                flags=cv2.OPTFLOW_USE_INITIAL_FLOW,
            )  # fmt: skip

        there, good, _ = flow(before, now, start, guess.copy())
        if not good[0, 0] or not np.isfinite(there).all():
            return None
        back, good, _ = flow(now, before, there, start.copy())
        if not good[0, 0]:
            return None
        return there.reshape(2).astype(np.float64) + corner, float(np.linalg.norm(back - start))

    def _best(
        self, grey: np.ndarray, near: np.ndarray, least: float
    ) -> tuple[np.ndarray, np.ndarray, float, int] | None:
        """The patch as it is found near a place: (place, shape, likeness, number of the picture it was compared
        with)."""
        if not _within(grey, near):
            return None
        best = None
        for number, picture in enumerate(self._pictures):
            shape = self._shape if number == 0 else self._shapes[number]
            fitted = self._fitted(grey, picture, near, shape)
            if fitted is None:
                continue
            place, shape, likeness = fitted
            self._shapes[number] = shape
            if likeness >= _ALIKE:
                return place, shape if number == 0 else self._shape, likeness, number
            if likeness >= least and (best is None or likeness > best[2]):
                best = place, shape if number == 0 else self._shape, likeness, number
        return best

    def _fitted(
        self, grey: np.ndarray, picture: _Picture, near: np.ndarray, shape: np.ndarray
    ) -> tuple[np.ndarray, np.ndarray, float] | None:
        """Lay a picture of the patch on a frame: gain · frame(A·u + p) + offset ≈ picture(u) over its px u."""
        soft = _smooth(grey, near, 3 * self._reach)
        gain, offset = 1.0, 0.0
        place, turned = near.copy(), shape.copy()
        base = picture.pixels
        for _ in range(_ROUNDS):
            spots = self._grid @ turned.T + place
            now, across, down = _sampled(soft, spots), _sampled(soft, spots, 1), _sampled(soft, spots, 2)
            weights = self._bell * picture.inside * _inside(grey, spots)
            if weights.sum() < 0.3 * self._bell.sum():
                return None
            off = base - (gain * now + offset)
            spread = 1.4826 * float(np.median(np.abs(off))) + 1.0
            weights = weights * np.clip(1 - (off / (_OUTLIER * spread)) ** 2, 0, None) ** 2
            u, v = self._grid[:, 0], self._grid[:, 1]
            ways = np.stack(
                [gain * across, gain * down, gain * across * u, gain * across * v, gain * down * u, gain * down * v,
                 now, np.ones_like(now)], 1
            )  # fmt: skip
            # A little damping keeps what the patch says nothing of where it is.
            normal = (ways * weights[:, None]).T @ ways
            normal[np.diag_indices(8)] *= 1 + 1e-4
            normal[np.diag_indices(8)] += 1e-3
            try:
                step = np.linalg.solve(normal, (ways * weights[:, None]).T @ off)
            except np.linalg.LinAlgError:
                return None
            length = float(np.hypot(step[0], step[1]))
            if not np.isfinite(step).all() or length > 4 * self._reach:
                return None
            place = place + step[:2]
            turned = turned + step[2:6].reshape(2, 2)
            gain, offset = gain + float(step[6]), offset + float(step[7])
            if length < _STOP:
                break
        # From one frame to the next a patch hardly changes its shape: what would be found so is something else.
        changed = np.linalg.solve(shape, turned) - np.eye(2)
        most = _CHANGE / 2 if self._gone else _CHANGE
        if np.linalg.norm(place - near) > self._reach or np.abs(changed).max() > most:
            return None
        spots = self._grid @ turned.T + place
        weights = self._bell * picture.inside * _inside(grey, spots)
        # What is half outside of the frame may be like anything.
        if weights.sum() < (0.8 if self._gone else 0.45) * self._bell.sum():
            return None
        return place, turned, _likeness(base, _sampled(soft, spots), weights)

    def _looked_for(self, grey: np.ndarray) -> tuple[np.ndarray, np.ndarray, float, int] | None:
        """The patch wherever it is like its pictures, around where it would be; the further the longer it is gone."""
        ahead = self._at + self._pace * min(self._gone + 1, _GOES_ON)
        # It can't have gone far from where it would be; the less is known of that, the further.
        astray = min(self._reach / 2 + (2 + 0.6 * np.abs(self._pace).max()) * (self._gone + 1), 16 * self._reach)
        x0, y0, x1, y1 = _around(grey, ahead, int(astray) + self._reach)
        window = grey[y0:y1, x0:x1]
        if min(window.shape) <= 2 * self._reach + 1:
            return None
        scores = cv2.matchTemplate(window, self._looks[0], cv2.TM_CCOEFF_NORMED)
        _, score, _, spot = cv2.minMaxLoc(scores)
        if not math.isfinite(score) or score < 0.7:
            return None
        near = np.array([x0 + spot[0] + self._reach + 0.5, y0 + spot[1] + self._reach + 0.5])
        return self._best(grey, near, _FOUND_AGAIN)


def _around(grey: np.ndarray, at: np.ndarray, far: int) -> tuple[int, int, int, int]:
    """A window of the frame around a place: (x0, y0, x1, y1) in whole px."""
    height, width = grey.shape
    x, y = (min(max(int(each), 0), size - 1) for each, size in zip(at, (width, height)))
    return max(0, x - far), max(0, y - far), min(width, x + far + 1), min(height, y + far + 1)


def _within(grey: np.ndarray, at: np.ndarray) -> bool:
    height, width = grey.shape
    return bool(0 <= at[0] <= width and 0 <= at[1] <= height)


def _inside(grey: np.ndarray, spots: np.ndarray) -> np.ndarray:
    """(n,) 1 where a place lies on the picture, 0 where it does not."""
    height, width = grey.shape
    x, y = spots[:, 0], spots[:, 1]
    return ((x >= 0.5) & (x <= width - 0.5) & (y >= 0.5) & (y <= height - 0.5)).astype(np.float32)


class _Soft(NamedTuple):
    """A softened part of a frame with its slopes, and where its corner lies."""

    layers: tuple[np.ndarray, np.ndarray, np.ndarray]
    x: int
    y: int


def _smooth(grey: np.ndarray, at: np.ndarray, far: int) -> _Soft:
    """Around a place: a little softened, so that grain has no say, with its slopes across and down."""
    x0, y0, x1, y1 = _around(grey, at, far + 4)
    soft = cv2.GaussianBlur(grey[y0:y1, x0:x1].astype(np.float32), (0, 0), 1.0, borderType=cv2.BORDER_REPLICATE)
    across = cv2.Scharr(soft, cv2.CV_32F, 1, 0, scale=1 / 32)
    down = cv2.Scharr(soft, cv2.CV_32F, 0, 1, scale=1 / 32)
    return _Soft((soft, across, down), x0, y0)


def _sampled(soft: _Soft, spots: np.ndarray, layer: int = 0) -> np.ndarray:
    """(n,) float32: the part at places of the frame."""
    corner = np.array([soft.x + 0.5, soft.y + 0.5])
    maps = np.ascontiguousarray((spots - corner).astype(np.float32)).reshape(-1, 1, 2)
    found = cv2.remap(
        soft.layers[layer], maps, np.empty(0, np.float32), cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE
    )
    return found.ravel()


def _likeness(one: np.ndarray, other: np.ndarray, weights: np.ndarray) -> float:
    """Their correlation, −1..1, under weights."""
    total = float(weights.sum())
    a, b = (each - float((each * weights).sum()) / total for each in (one, other))
    spread = float((a * a * weights).sum() * (b * b * weights).sum())
    return float((a * b * weights).sum()) / math.sqrt(spread) if spread > 0 else 0.0
