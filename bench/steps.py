"""What each step kind costs on one 1280×720 picture, beside a copy of it (float32) and a 3×3 blur, in one run."""

from __future__ import annotations

import time

import cv2
import numpy as np

from idle_comet.core.picture import EVERYWHERE, Matrix, Patch, Rect, graded, load_kernels
from idle_comet.core.steps import KINDS, Rest, StepContext, StepKind

from .common import close, p50

WIDTH, HEIGHT = 1280, 720
FRAME = Rect(0, 0, WIDTH, HEIGHT)
LIMITS = {"grain": 1.5, "colour_grade": 2.0, "lift_gamma_gain": 2.0, "folded": 2.0, "glow": 12.0, "displace": 8.0}
"""The most a kind may cost, in copies of the frame, and all that grade in one pass."""
FOLDED = ("colour_grade", "lift_gamma_gain", "tone_colours")


def cpu(*works, rounds: int = 9) -> list[float]:
    """Seconds of CPU that each takes; they take turns, so that whatever slows the machine meets all of them."""
    spent: list[list[float]] = [[] for _ in works]
    for _ in range(rounds):
        for work, own in zip(works, spent):
            began = time.process_time()
            work()
            own.append(time.process_time() - began)
    return [p50(own) for own in spent]


def given(kind, **more):
    """Default values; where those change nothing, half-way to the further printed end."""
    values = {each.name: each.default for each in kind.parameters} | {each.name: each.default for each in kind.choices}
    values |= {"frame": 3, "seconds": 0.12, "picture": None, "drawing": None, "table": None} | more
    if not kind.changes_pixels(values):
        for each in kind.parameters:
            if each.sort == "number" and each.may_move:
                far = each.high if abs(each.high - each.neutral) >= abs(each.low - each.neutral) else each.low
                values[each.name] = (each.neutral + far) / 2
    return values | more


def run() -> bool:
    cv2.setNumThreads(1)
    load_kernels()
    soft = cv2.GaussianBlur(np.random.default_rng(1).random((HEIGHT, WIDTH, 3)).astype(np.float32), (0, 0), 8)
    soft = (soft - soft.min()) / np.ptp(soft) * 255
    pixels = np.dstack([soft, np.full((HEIGHT, WIDTH), 255, np.float32)]).astype(np.float32)
    rest = Rest((WIDTH / 2, HEIGHT / 2), FRAME, FRAME, FRAME, WIDTH, HEIGHT)
    context = StepContext(Matrix(), FRAME, rest)
    patch = Patch(pixels, 0, 0, extends=EVERYWHERE)

    def copied() -> None:
        pixels.copy()

    def blurred() -> None:
        cv2.GaussianBlur(pixels, (3, 3), 0)

    copy, blur = cpu(copied, blurred, rounds=25)
    print(f"{'a copy':16} {1000 * copy:6.2f} ms CPU   a 3×3 blur {1000 * blur:6.2f} ms CPU")
    ratios = {}
    for name, kind in KINDS.items():
        if type(kind).render is StepKind.render:
            continue
        values = given(kind)
        if not kind.changes_pixels(values):
            continue
        kind.render(patch, values, context)
        spent, copy, blur = cpu(lambda: kind.render(patch, values, context), copied, blurred)
        ratios[name] = spent / copy
        mega = spent * 1e6 / (WIDTH * HEIGHT)
        print(f"{name:16} {1000 * mega:6.1f} ms a megapixel, {spent / copy:5.1f} copies, {spent / blur:5.1f} blurs")
    folded, copy = cpu(lambda: graded(patch, [KINDS[name].grading(given(KINDS[name])) for name in FOLDED]), copied)
    print(f"{'folded':16} {folded / copy:5.1f} copies for {', '.join(FOLDED)} in one pass")
    grown = []
    for name, parameter in (("glow", "size"), ("focus_blur", "radius"), ("streak_blur", "length")):
        small, large = (given(KINDS[name], **{parameter: value}) for value in (6.0, 60.0))
        both = cpu(*(lambda values=values: KINDS[name].render(patch, values, context) for values in (small, large)))
        grown.append((f"{name} at 60 px against 6", both[1] / both[0], 1.5))
    ratios["folded"] = folded / copy
    return close("steps", [(f"{name} copies", ratios[name], most) for name, most in LIMITS.items()] + grown)
