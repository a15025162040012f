"""What a value does that goes with how loud a sound is."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Callable

from ..contents.sound import LEVELS_A_SECOND
from ..motion.motors import SoundLevel
from ..project.model import Clip, Project, Sound
from ..project.retiming import retiming


@lru_cache(maxsize=64)
def smoothed(values: tuple[int, ...], attack: float, release: float) -> tuple[float, ...]:
    """Levels 0..1 that rise and fall no faster than they may: exponentials with these times, in seconds."""
    up, down = (1 - math.exp(-1 / (LEVELS_A_SECOND * time)) if time > 0 else 1.0 for time in (attack, release))
    now, found = 0.0, []
    for value in values:
        level = value / 255
        now += (level - now) * (up if level > now else down)
        found.append(now)
    return tuple(found)


def level_by_frames(project: Project, clip: Clip, motor: SoundLevel) -> Callable[[float], float | None] | None:
    """The level of a sound by the frames of another clip of its timeline: 0 before and after it is heard. None where
    there is no such sound or it was not measured."""
    heard = project.clips.get(motor.clip)
    if heard is None or not isinstance(heard.content, Sound) or motor.band >= len(heard.content.levels):
        return None
    content, way = heard.content, retiming(heard)
    levels = smoothed(content.levels[motor.band].values, motor.attack, motor.release)
    rate = float(project.settings.rate.fraction)

    def at(frame: float) -> float:
        own = frame + clip.head - heard.head
        if not 0 <= own < heard.length:
            return 0.0
        place = way.at(own) / rate * LEVELS_A_SECOND
        first = math.floor(place)
        one, other = (levels[each] if 0 <= each < len(levels) else 0.0 for each in (first, first + 1))
        return one + (other - one) * (place - first)

    return at
