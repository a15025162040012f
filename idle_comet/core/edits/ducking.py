"""A bed that ducks under speech."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..contents.sound import SILENT
from ..motion import Key, Moving, Strengths, number
from ..project.model import Frozen, Id, Project, Sound
from .base import EditError, clip_of, rule, with_clip
from .values import property_of, with_property

Moment = Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)]


class DuckSound(Frozen):
    """A sound's gain goes down by so many dB while somebody speaks: `spoken` are moments from … to, in seconds of the
    timeline. It goes down within `down` seconds before and comes back within `back` after; where there is no time to
    come back it stays down."""

    kind: Literal["duck_sound"] = "duck_sound"
    clip: Id
    spoken: Annotated[tuple[tuple[Moment, Moment], ...], Field(max_length=900)]
    by: Annotated[float, Field(ge=0, le=96)] = 12
    down: Annotated[float, Field(ge=0, le=60)] = 0.3
    back: Annotated[float, Field(ge=0, le=60)] = 0.8


@rule(DuckSound)
def duck_sound(project: Project, edit: DuckSound) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if not isinstance(clip.content, Sound):
        raise EditError(f"“{clip.name}” is no sound; only sounds go down under others. Nothing was changed.")
    gain = property_of(clip, "content", "gain")
    if gain.state == "driven":
        raise EditError(f"The gain of “{clip.name}” is driven by a motor; fix it first. Nothing was changed.")
    rate = float(project.settings.rate.fraction)
    # As loud as it is at its head, whatever an earlier ducking made of it.
    full = number(gain.value if gain.state == "fixed" else gain.keys[0].value)
    low = max(SILENT, full - edit.by)
    down, back = (max(1, round(seconds * rate)) for seconds in (edit.down, edit.back))
    spans: list[list[int]] = []
    for begin, end in sorted(edit.spoken):
        first, last = round(min(begin, end) * rate) - clip.head, round(max(begin, end) * rate) - clip.head
        if last <= 0 or first >= clip.length:
            continue
        if spans and first - spans[-1][1] < down + back:
            spans[-1][1] = max(spans[-1][1], last)
        else:
            spans.append([first, last])
    if not spans:
        raise EditError(f"Nobody speaks while “{clip.name}” is heard; nothing was changed.")
    ease = Strengths(start=0.5, end=0.5)
    points: dict[int, float] = {0: full}
    for first, last in spans:
        # Before its head it has gone down already.
        points |= {max(0, first - down): full if first > 0 else low, max(0, first): low}
        if last < clip.length - 1:
            points[last] = low
            points[min(clip.length - 1, last + back)] = full
    keys = tuple(Key(at=float(frame + clip.skipped), value=value, ease=ease) for frame, value in sorted(points.items()))
    made = with_property(clip, "content", "gain", Moving(keys=keys))
    return with_clip(project, made), f"duck {clip.name} under speech"
