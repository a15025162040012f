"""The demo's sounds, made of nothing but numbers: effects, the heath's air, a music bed with a clear beat."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Callable

import numpy as np

from .voice import voice

RATE = 48_000
BEAT = 60 / 96
"""Seconds from beat to beat of the bed."""


def _seconds(length: float) -> np.ndarray:
    return np.arange(int(length * RATE)) / RATE


def _noise(length: float, seed: int) -> np.ndarray:
    return np.random.default_rng(seed).standard_normal(int(length * RATE))


def _shaped(samples: np.ndarray, gain: Callable[[np.ndarray], np.ndarray]) -> np.ndarray:
    """Samples with a gain for each frequency, in Hz."""
    size = 1 << (len(samples) + RATE - 1).bit_length()
    spectrum = np.fft.rfft(samples, size)
    return np.fft.irfft(spectrum * gain(np.fft.rfftfreq(size, 1 / RATE)), size)[: len(samples)]


def _below(samples: np.ndarray, hertz: float) -> np.ndarray:
    return _shaped(samples, lambda f: 1 / np.sqrt(1 + (f / hertz) ** 4))


def _band(samples: np.ndarray, low: float, high: float) -> np.ndarray:
    return _shaped(samples, lambda f: 1 / np.sqrt((1 + (f / high) ** 4) * (1 + (low / np.maximum(f, 1e-3)) ** 4)))


def _wide(samples: np.ndarray, apart: float = 0.011) -> np.ndarray:
    """(n, 2): the right side a little later and softer, so that it is not all in one place."""
    late = int(apart * RATE)
    right = np.concatenate([np.zeros(late), samples[:-late]])
    return np.stack([0.92 * samples + 0.25 * right, 0.25 * samples + 0.92 * right], 1)


def _room(samples: np.ndarray, lasts: float, much: float, seed: int) -> np.ndarray:
    """(n, 2) in a room: a tail of noise that dies away, another on each side."""
    tail = _seconds(lasts)
    made = []
    for side in range(2):
        answer = _below(_noise(lasts, seed + side), 4200) * np.exp(-5.5 * tail / lasts)
        answer /= np.sqrt((answer**2).sum())
        size = 1 << (len(samples) + len(answer)).bit_length()
        wet = np.fft.irfft(np.fft.rfft(samples[:, side], size) * np.fft.rfft(answer, size), size)[: len(samples)]
        made.append(samples[:, side] + much * wet)
    return np.stack(made, 1)


def _level(samples: np.ndarray, peak: float) -> np.ndarray:
    return samples * (peak / np.abs(samples).max())


def _whoosh(length: float, peak_at: float, low: float, high: float, seed: int) -> np.ndarray:
    """Air past the ear: noise in a band that rises to a moment and falls."""
    at = _seconds(length)
    rise = np.where(at < peak_at, at / peak_at, 1 - (at - peak_at) / (length - peak_at)).clip(0, 1)
    bands = [low * (high / low) ** share for share in np.linspace(0, 1, 9)]
    out = np.zeros((len(at), 2))
    for number, (one, other) in enumerate(zip(bands, bands[1:])):
        share = number / 7
        near = np.exp(-(((rise**1.4 - share) / 0.22) ** 2))
        side = 0.5 + 0.5 * np.clip((at - peak_at) / length, -1, 1)
        voice = _band(_noise(length, seed + number), one, other) * near * rise**1.6
        out += np.stack([voice * np.sqrt(1 - side * 0.8), voice * np.sqrt(0.2 + side * 0.8)], 1)
    return _level(out, 0.7)


def _struck(partials: list[tuple[float, float, float]], length: float) -> np.ndarray:
    """A struck body: (Hz, level, seconds to a third) of each of its tones."""
    at = _seconds(length)
    return sum(level * np.sin(2 * math.pi * hertz * at) * np.exp(-at / dies) for hertz, level, dies in partials)


def click() -> np.ndarray:
    at = _seconds(0.12)
    body = _band(_noise(0.12, 4), 1800, 9000) * np.exp(-at / 0.004) + 0.4 * np.sin(2 * math.pi * 1150 * at) * np.exp(
        -at / 0.012
    )
    return _level(_wide(body, 0.0006), 0.6)


def chime() -> np.ndarray:
    tones = [
        (523.25, 1, 1.1),
        (1046.5 * 1.002, 0.5, 0.8),
        (1430, 0.32, 0.5),
        (2093 * 1.01, 0.25, 0.4),
        (3180, 0.12, 0.2),
    ]
    return _level(_room(_wide(_struck(tones, 3.2), 0.004), 1.8, 0.25, 31), 0.6)


def knock() -> np.ndarray:
    at = _seconds(0.5)
    wood = _struck([(168, 1, 0.05), (402, 0.5, 0.03), (760, 0.3, 0.015)], 0.5)
    return _level(
        _room(_wide(wood + 0.2 * _band(_noise(0.5, 8), 500, 3000) * np.exp(-at / 0.008), 0.001), 0.3, 0.2, 12), 0.7
    )


def typewriter() -> np.ndarray:
    """Nine strokes, none like the other."""
    out, rng = np.zeros((int(1.9 * RATE), 2)), np.random.default_rng(21)
    for stroke in range(9):
        begin = int((0.06 + 0.19 * stroke + rng.uniform(-0.02, 0.02)) * RATE)
        at = _seconds(0.16)
        hit = _band(_noise(0.16, 50 + stroke), 900, 7000) * np.exp(-at / 0.006)
        body = _struck([(rng.uniform(170, 220), 0.6, 0.03), (rng.uniform(1300, 1700), 0.3, 0.01)], 0.16)
        out[begin : begin + len(at)] += _wide(hit * rng.uniform(0.7, 1) + body, 0.0008)
    return _level(out, 0.6)


def hum() -> np.ndarray:
    """A hive close by: many wings near 230 Hz."""
    at, rng = _seconds(10), np.random.default_rng(5)
    out = np.zeros((len(at), 2))
    for _ in range(14):
        drift = np.cumsum(_below(rng.standard_normal(len(at)), 1.5)) / RATE
        turns = rng.uniform(196, 262) * at + 90 * drift
        wing = sum(np.sin(2 * math.pi * k * turns + rng.uniform(0, 6)) / k**1.3 for k in range(1, 5))
        swell = 0.55 + 0.45 * np.sin(2 * math.pi * (rng.uniform(0.08, 0.4) * at + rng.uniform()))
        side = rng.uniform()
        out += np.stack([wing * swell * math.sqrt(1 - side), wing * swell * math.sqrt(side)], 1)
    return _level(_faded(out, 0.4), 0.4)


def air() -> np.ndarray:
    """Wind over the heath."""
    at = _seconds(20)
    gust = 0.5 + 0.3 * np.sin(2 * math.pi * at / 7.3) + 0.2 * np.sin(2 * math.pi * at / 3.1 + 1)
    sides = []
    for side in (0, 1):
        low, high = _band(_noise(20, 60 + side), 90, 900), _band(_noise(20, 70 + side), 900, 3500)
        sides.append(low * gust + 0.25 * high * gust**2)
    return _level(_faded(np.stack(sides, 1), 0.6), 0.35)


def _faded(samples: np.ndarray, over: float) -> np.ndarray:
    count = int(over * RATE)
    ramp = np.sin(np.linspace(0, math.pi / 2, count))[:, None]
    samples = samples.copy()
    samples[:count] *= ramp
    samples[-count:] *= ramp[::-1]
    return samples


def bed() -> np.ndarray:
    """Forty seconds: a soft drum on every beat, plucked notes between, slow chords below."""
    length, rng = 40.0, np.random.default_rng(96)
    chords = [(57, 60, 64, 67), (53, 57, 60, 65), (48, 55, 60, 64), (55, 59, 62, 67)]
    dry = np.zeros((int(length * RATE) + RATE * 3, 2))

    def put(samples: np.ndarray, seconds: float, level: float, side: float) -> None:
        begin = int(seconds * RATE)
        part = dry[begin : begin + len(samples)]
        part += level * np.stack([samples * math.sqrt(1 - side), samples * math.sqrt(side)], 1)[: len(part)]

    beats = int(length / BEAT)
    for beat in range(beats):
        when, chord = beat * BEAT, chords[beat // 4 % 4]
        at = _seconds(0.4)
        drum = np.sin(2 * math.pi * (52 * at + 3.2 * (1 - np.exp(-at / 0.03)))) * np.exp(-at / 0.12)
        put(
            drum + 0.3 * _below(_noise(0.4, beat), 2500) * np.exp(-at / 0.006),
            when,
            0.55 if beat % 4 == 0 else 0.38,
            0.5,
        )
        for half in range(2):
            note = chord[(beat * 2 + half * 3) % 4] + 12 * (1 + (beat + half) % 2)
            put(
                _plucked(note, 1.6),
                when + half * BEAT / 2 + rng.uniform(-0.004, 0.004),
                0.16,
                0.3 + 0.4 * rng.uniform(),
            )
        if beat % 4 == 0:
            for number, note in enumerate(chord):
                put(_held(note, 4 * BEAT + 0.8), when, 0.075, 0.2 + 0.2 * number)
    wet = _room(dry, 1.6, 0.35, 77)[: int(length * RATE)]
    return _level(_faded(wet, 0.03), 0.7)


@lru_cache(maxsize=64)
def _plucked(note: int, length: float) -> np.ndarray:
    hertz = 440 * 2 ** ((note - 69) / 12)
    return _struck([(hertz * k, 1 / k**1.6, 0.5 / k**0.7) for k in range(1, 7)], length)


@lru_cache(maxsize=64)
def _held(note: int, length: float) -> np.ndarray:
    at, hertz = _seconds(length), 440 * 2 ** ((note - 69) / 12)
    rises, falls = np.clip(at / (0.35 * length), 0, 1), np.clip((at - 0.6 * length) / (0.4 * length), 0, 1)
    swell = np.sin(rises * math.pi / 2) * np.cos(falls * math.pi / 2)
    voices = (
        np.sin(2 * math.pi * hertz * (1 + cents / 1200 * math.log(2)) * at + note + cents) for cents in (-6, 0, 5)
    )
    return sum(voices) * swell


SOUNDS: dict[str, tuple[str, Callable[[], np.ndarray]]] = {
    "bed": ("Heath, a bed", bed),
    "whoosh-soft": ("Whoosh, soft", lambda: _whoosh(1.4, 0.8, 160, 2400, 200)),
    "whoosh-quick": ("Whoosh, quick", lambda: _whoosh(0.7, 0.42, 300, 6000, 300)),
    "whoosh-deep": ("Whoosh, deep", lambda: _whoosh(2.2, 1.3, 60, 900, 400)),
    "click": ("Click", click),
    "chime": ("Chime", chime),
    "knock": ("Knock on wood", knock),
    "typewriter": ("Typewriter", typewriter),
    "hum": ("Bees, close by", hum),
    "air": ("Air of the heath", air),
    "voice": ("Ottoline speaks", voice),
}
"""Every sound by its id: its name, and what makes it, (n, 2) float64 at 48 kHz."""
