"""Whether words before a lens are sharp for as long as it takes to read them."""

from __future__ import annotations

from ..captions.reading_time import reading_seconds
from ..picture import Eye
from ..project.model import Clip, Project
from ..steps import STAND, Stand
from .evaluate import evaluate_clip
from .placed import total_matrix
from .scene import TextNow
from .space import stands_in_space
from .standing import stand

_LOOKS = 48
"""Moments of a clip that are looked at."""

_LEGIBLE = 0.1
"""Of an em: words whose points are spread over more than this are hard to read."""


def spread_over(project: Project, clip: Clip, local: float) -> float | None:
    """How far a lens spreads the points of words at a frame of their clip, in em of them as they are seen; None where
    no lens does, or no words are there."""
    layer = evaluate_clip(project, clip, local)
    if layer is None or not isinstance(layer.content, TextNow):
        return None
    step = next((each for each in layer.steps if each.kind == STAND.kind and each.mix > 0), None)
    eye: Eye | None = step.values.get("eye") if step is not None else None
    if step is None or eye is None or eye.focus is None:
        return None
    assert isinstance(STAND, Stand)
    standing = stand(layer.content, project.settings.width, project.settings.height)
    rest = standing.rest(step.leaving, step.pivot)
    ahead = eye.depth(STAND.middle(step.values, rest))
    if ahead <= 1e-6:
        return None
    seen = total_matrix(layer, standing).scale_at(*rest.anchor) * rest.em
    return abs(eye.focus.diameter(ahead)) / max(seen, 1e-6)


def out_of_focus(project: Project, clip: Clip) -> str | None:
    """A sentence where words of a clip are blurred by a lens for too much of the time they are there."""
    if clip.content.kind != "text" or not stands_in_space(clip):
        return None
    rate = float(project.settings.rate.fraction)
    every = max(1, clip.length // _LOOKS)
    frames = range(0, clip.length, every)
    spreads = [spread_over(project, clip, frame) for frame in frames]
    if all(each is None for each in spreads):
        return None
    longest = run = 0
    for each in spreads:
        run = run + 1 if each is None or each <= _LEGIBLE else 0
        longest = max(longest, run)
    sharp = longest * every / rate
    needed = min(reading_seconds(clip.content.text), clip.length / rate)
    if sharp >= needed or longest == len(spreads):
        return None
    return (
        f"Its words are out of focus while they are to be read: sharp for {sharp:.1f} s, and reading them takes "
        f"{needed:.1f} s. Pull focus to them earlier, or set the f-number higher."
    )
