"""What an editor is told of a camera: the spare picture at every moment, edges in sight, how fast it pans."""

from __future__ import annotations

from ..clock import Rate, format_timecode
from ..modelled import Model
from ..project.model import Clip, Project
from ..steps import KINDS
from .evaluate import evaluate_clip
from .filling import Filling, filling

_SHOWN = 120
"""At most about so many frames are told."""

_WIDTH_IN = 7.0
"""Seconds in which a pan may cross a frame's width at 24 frames a second and a shutter of 180°; quicker, it judders."""

_BRIEF = 0.5
"""Seconds; what is faster for less long than this is a cut more than a pan, and does not judder."""


class CameraCourse(Model):
    """`filled` is by how much larger the picture is shown to keep the frame filled, at the step `holder`.

    `spare` are (frame, left, upper, right, lower): px of the frame that the picture reaches past it, less than 0 where
    its edge is in sight. `enlarged` is how many px of the frame one of the source takes at most. `pans` are (frame, %
    of the frame's width a second), `limit` the most at which a pan does not judder."""

    holder: str | None
    filled: float
    spare: list[tuple[float, float, float, float, float]]
    first_edge: float | None
    enlarged: float
    pans: list[tuple[float, float]]
    limit: float


def camera_of(project: Project, clip: Clip) -> CameraCourse | None:
    """None where no camera moves, and for words."""
    found = _filling(project, clip)
    if found is None:
        return None
    step = max(1, len(found.frames) // _SHOWN)
    some = sorted({*range(0, len(found.frames), step), len(found.frames) - 1})
    speeds = _speeds(project, found)
    return CameraCourse(
        holder=found.step,
        filled=found.scale,
        # The least of the frames that are not told.
        spare=[
            (float(found.frames[n]), *(float(each) for each in found.spare[n : n + step].min(0)))  # type: ignore[misc]
            for n in some
        ],
        first_edge=found.first_edge,
        enlarged=found.enlarged,
        pans=[(float(found.frames[n]), speeds[n]) for n in some],
        limit=pan_limit(project, clip),
    )


def pan_limit(project: Project, clip: Clip) -> float:
    """The most % of the frame's width a second that a pan may go: the frame in 7 s at 24 frames a second and 180°. From
    frame to frame it may go as far at any rate; a shutter that is open longer covers more of the way."""
    shutter = clip.shutter or project.settings.shutter
    opened = min(1.0, shutter.angle / 360)
    return 100 * (0.5 + opened) * float(project.settings.rate.fraction) / (24 * _WIDTH_IN)


def _filling(project: Project, clip: Clip) -> Filling | None:
    if not any(step.on and step.kind in KINDS and KINDS[step.kind].camera for step in clip.steps):
        return None
    layer = evaluate_clip(project, clip, 0)
    return None if layer is None else filling(project, clip, layer.content)


def _speeds(project: Project, found: Filling) -> list[float]:
    by = 100 * float(project.settings.rate.fraction) / project.settings.width
    return [float(each) * by for each in found.pans]


def camera_notes(project: Project, clip: Clip) -> list[str]:
    """What is wrong with the camera of a clip, in sentences."""
    found = _filling(project, clip)
    if found is None:
        return []
    rate = project.settings.rate
    notes = []
    if found.lost is not None:
        notes.append(
            f"At {_at(clip, found.lost, rate)} the middle of the framing lies past the picture's edge, which can't be "
            f"kept out of sight. Lay the framing on the picture."
        )
    elif found.uncovered:
        notes.append("The picture does not fill the frame at rest, so its edges stay in sight; fit it to fill.")
    elif found.first_edge is not None:
        notes.append(
            f"An edge of the picture is in sight from {_at(clip, found.first_edge, rate)} on; keep it filled, or lay "
            f"the framing further in."
        )
    if found.enlarged > 1.5 and clip.content.kind in ("footage", "still"):
        notes.append(f"It is shown at up to {100 * found.enlarged:.0f} % of its own px, and will look soft.")
    limit, frames = pan_limit(project, clip), float(rate.fraction)
    fast = [speed for speed in _speeds(project, found) if speed > limit]
    if len(fast) > _BRIEF * frames:
        notes.append(
            f"It pans at up to {max(fast):.0f} % of the frame's width a second; above {limit:.0f} % it judders at this "
            f"rate and shutter."
        )
    return notes


def _at(clip: Clip, frame: float, rate: Rate) -> str:
    return format_timecode(max(0, clip.head + int(frame)), rate)
