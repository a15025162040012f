"""A spoken minute: what Ottoline says, by a synthetic voice whose words and their times are known."""

from __future__ import annotations

import ctypes
from functools import lru_cache
from typing import NamedTuple

import numpy as np
import scipy

RATE = 48_000

SENTENCES = (
    "The heather opened late this year, and we waited for it.",
    "Every morning Davit walked the lower field and came back with nothing to tell.",
    "Then, in the first week of the cold nights, it came all at once.",
    "The whole heath turned, and by noon you could hear the hives from the road.",
    "A slow harvest is not a poor one.",
    "The honey is darker, and it does not run.",
    "Isko says it has to be asked twice.",
    "We cut the comb by hand and let it stand in the warm room until evening.",
    "Wren keeps the wax for her candles, so nothing is lost.",
    "People ask me how many jars there will be.",
    "I tell them what my mother told me: count them when they are on the shelf.",
    "The bees have had their share, and the rest is ours.",
    "That is how it has always been on Marrow Lane.",
)

GERMAN = (
    "Die Heide blühte spät in diesem Jahr, und wir haben auf sie gewartet.",
    "Jeden Morgen ging Davit über die untere Wiese und kam zurück und hatte nichts zu erzählen.",
    "Dann, in der ersten Woche der kalten Nächte, kam alles auf einmal.",
    "Die ganze Heide wurde farbig, und mittags hörte man die Stöcke von der Straße aus.",
    "Eine langsame Ernte ist keine schlechte.",
    "Der Honig ist dunkler, und er läuft nicht.",
    "Isko sagt, man muss ihn zweimal bitten.",
    "Wir schneiden die Waben von Hand und lassen sie bis zum Abend im warmen Zimmer stehen.",
    "Wren behält das Wachs für ihre Kerzen, so geht nichts verloren.",
    "Die Leute fragen mich, wie viele Gläser es werden.",
    "Ich sage ihnen, was meine Mutter mir gesagt hat: Zählt sie, wenn sie im Regal stehen.",
    "Die Bienen haben ihren Teil gehabt, und der Rest gehört uns.",
    "So ist es in der Marrow Lane immer gewesen.",
)
"""The same in another language, sentence by sentence."""

_PAUSE = 0.55
"""Seconds of silence after each sentence."""

_PACE = 134
"""Words a minute."""


class Word(NamedTuple):
    """A word that is said, the number of its sentence, and from when to when, in seconds."""

    text: str
    sentence: int
    begin: float
    end: float


class Spoken(NamedTuple):
    """(n,) samples at 48 kHz, and the words."""

    samples: np.ndarray
    words: tuple[Word, ...]


class _Event(ctypes.Structure):
    """As libespeak-ng lays it out."""

    _fields_ = (
        ("type", ctypes.c_int),
        ("identifier", ctypes.c_uint),
        ("text_position", ctypes.c_int),
        ("length", ctypes.c_int),
        ("audio_position", ctypes.c_int),
        ("sample", ctypes.c_int),
        ("user_data", ctypes.c_void_p),
        ("id", ctypes.c_char * 8),
    )


_WORD, _END = 1, 5
_SYNCHRONOUS = 2
_UTF8 = 1


def _said(library: ctypes.CDLL, rate: int, text: str) -> tuple[np.ndarray, list[tuple[str, float, float]]]:
    """One sentence: its samples at the voice's own rate, and its words with their times."""
    parts: list[np.ndarray] = []
    starts: list[tuple[int, int, float]] = []
    ends: list[float] = []

    @ctypes.CFUNCTYPE(ctypes.c_int, ctypes.POINTER(ctypes.c_short), ctypes.c_int, ctypes.POINTER(_Event))
    def heard(samples, count, events):
        if samples and count > 0:
            parts.append(np.ctypeslib.as_array(samples, (count,)).copy())
        place = 0
        while events[place].type:
            event = events[place]
            if event.type == _WORD:
                starts.append((event.text_position - 1, event.length, event.audio_position / 1000))
            elif event.type == _END:
                ends.append(event.audio_position / 1000)
            place += 1
        return 0

    library.espeak_SetSynthCallback(heard)
    data = text.encode()
    library.espeak_Synth(data, len(data) + 1, 0, 1, 0, _UTF8, None, None)
    library.espeak_Synchronize()
    samples = np.concatenate(parts).astype(np.float64) / 32768
    tokens, begins, at = text.split(), [], 0
    for token in tokens:
        place = text.index(token, at)
        at = place + len(token)
        # One token may be said as several words, and several as one.
        begins.append(next((begin for where, _, begin in starts if place <= where < at), None))
    last = len(samples) / rate
    known = [(number, begin) for number, begin in enumerate(begins) if begin is not None]
    edges = np.interp(range(len(tokens) + 1), *zip(*known, (len(tokens), last)))
    timed = []
    for token, begin, end in zip(tokens, edges, edges[1:]):
        # Before a pause a word ends where its clause does.
        end = min([end, *(each for each in ends if begin < each < end)])
        timed.append((token, float(begin), _sounding_end(samples, rate, begin, max(begin + 0.02, end))))
    return samples, timed


def _sounding_end(samples: np.ndarray, rate: int, begin: float, end: float) -> float:
    """The end of what sounds between two moments."""
    part = np.abs(samples[int(begin * rate) : int(end * rate)])
    loud = np.flatnonzero(part > 0.01)
    return begin + (int(loud[-1]) + 1) / rate if len(loud) else end


@lru_cache(maxsize=1)
def spoken() -> Spoken:
    """The minute, the same at every call."""
    library = ctypes.CDLL("libespeak-ng.so.1")
    rate = library.espeak_Initialize(_SYNCHRONOUS, 0, None, 0)
    if rate <= 0:
        raise RuntimeError("the synthetic voice can't be set up")
    library.espeak_SetVoiceByName(b"en-gb+f3")
    for parameter, value in ((1, _PACE), (2, 90), (3, 42), (4, 45)):
        library.espeak_SetParameter(parameter, value, 0)
    parts, words, at = [np.zeros(int(0.4 * rate))], [], 0.4
    for number, text in enumerate(SENTENCES):
        samples, timed = _said(library, rate, text)
        words += [Word(token, number, at + begin, at + end) for token, begin, end in timed]
        parts += [samples, np.zeros(int(_PAUSE * rate))]
        at += (len(samples) + int(_PAUSE * rate)) / rate
    library.espeak_Terminate()
    whole = scipy.signal.resample_poly(np.concatenate(parts), RATE, rate)
    return Spoken((whole * (0.7 / np.abs(whole).max())).astype(np.float32), tuple(words))


def voice() -> np.ndarray:
    """(n, 2), as every other sound of the demo."""
    return np.repeat(spoken().samples[:, None].astype(np.float64), 2, 1)
