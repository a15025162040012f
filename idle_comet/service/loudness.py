"""How loud films are: measured once for each state of a film, and brought to a loudness."""

from __future__ import annotations

import threading

import numpy as np
from cachetools import LRUCache

from ..core.modelled import Model
from ..core.project.model import FilmSound, Project
from ..core.project.timeline import film_length
from ..core.sound import SOUND_RATE, SoundSources, heard
from ..core.sound.loudness import SHORT_TERM, Level, Loudness, LoudnessMeter, levels_at, lufs, over
from ..core.sound.mastering import MixedOnce, brought_to, measured
from ..core.sound.mixing import samples_of

_known: LRUCache[tuple[str, int], LoudnessMeter] = LRUCache(16)
_finding = threading.Lock()
_newest: LRUCache[str, tuple[int, threading.Lock]] = LRUCache(64)


class Overtaken(RuntimeError):
    """The film changed while it was measured, and its newer state is asked for."""


class FilmLoudness(Model):
    """LUFS of the whole film and of its loudest three seconds; true peak in dB; loudness range in LU; of every second
    the loudness of the three before it."""

    integrated: float
    short_term: float
    true_peak: float
    range: float
    course: list[float]


def _samples(project: Project) -> int:
    return samples_of(film_length(project), project.settings.rate.fraction)


def loudness_of(id: str, revision: int, project: Project, sources: SoundSources) -> FilmLoudness:
    """The film as it is heard, at one of its states."""
    with _finding:
        newest, own = _newest.get(id, (revision, threading.Lock()))
        _newest[id] = max(newest, revision), own
        meter = _known.get((id, revision))
    if meter is None:

        def overtaken() -> None:
            with _finding:
                newest = _newest.get(id, (revision, own))[0]
            if newest > revision:
                raise Overtaken("The film has changed while it was measured; its newer state is being measured.")

        # One measurement of a film at a time; other films have nothing to do with it.
        with own:
            overtaken()
            meter = _known.get((id, revision)) or measured(project, sources, _samples(project), pause=overtaken)
            with _finding:
                _known[id, revision] = meter
    found = meter.loudness()
    return FilmLoudness(
        integrated=round(found.integrated, 2),
        short_term=round(found.short_term, 2),
        true_peak=round(found.true_peak, 2),
        range=round(found.range, 1),
        course=[round(float(each), 1) for each in np.atleast_1d(lufs(over(meter.hops(), SHORT_TERM)[::10]))],
    )


def film_sound_for(project: Project, sources: SoundSources, target: float, ceiling: float) -> FilmSound:
    """The film's gain at a loudness, in LUFS, below a ceiling. Raises `TooQuiet` where there is nothing to be
    heard."""

    law = project.settings.sound.pan_law
    samples = _samples(project)
    mix = MixedOnce(samples)

    def measure(sound: FilmSound) -> Loudness:
        settings = project.settings.model_copy(update={"sound": sound.model_copy(update={"pan_law": law})})
        return measured(project.model_copy(update={"settings": settings}), sources, samples, mix=mix).loudness()

    return brought_to(target, ceiling, measure).model_copy(update={"pan_law": law})


_BEFORE = 3 * SOUND_RATE
_AFTER = 32


def levels_of(project: Project, sources: SoundSources, first: int, frames: int) -> list[Level]:
    """What the meters show at each of some frames of the film, when it has been heard to its end."""
    rate = project.settings.rate.fraction
    ends = np.array([samples_of(frame + 1, rate) for frame in range(first, first + frames)])
    begin = max(0, samples_of(first, rate) - _BEFORE)
    samples = heard(project, sources, begin, int(ends[-1]) - begin + _AFTER)
    return levels_at(samples, ends - begin)
