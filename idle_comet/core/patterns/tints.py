"""Colours of patterns: runs of them, and light over nothing."""

from __future__ import annotations

from typing import Sequence

import numpy as np

from ..picture import GAMMA, parse_colour


def inked(cover: np.ndarray, colour: str) -> np.ndarray:
    """(h, w, 4) float32: one colour as far as it covers, 0..1."""
    out = np.empty((*cover.shape, 4), np.float32)
    for channel, value in enumerate((*parse_colour(colour), 255)):
        np.multiply(cover, np.float32(value), out=out[..., channel])
    return out


def run(place: np.ndarray, stops: Sequence[tuple[float, str]]) -> np.ndarray:
    """(h, w, 4) float32, opaque: colours along a place 0..1, mixed on their encoded values between stops in order."""
    ordered = sorted(stops, key=lambda stop: stop[0])
    at = [stop[0] for stop in ordered]
    out = np.full((*place.shape, 4), 255, np.float32)
    for channel in range(3):
        out[..., channel] = np.interp(place, at, [parse_colour(stop[1])[channel] for stop in ordered])
    return out


def shone_over_nothing(light: np.ndarray) -> np.ndarray:
    """(h, w, 4) float32 code values of (h, w, 3) light 0..1: it covers as much as it is bright."""
    shown = np.clip(light, 0, 1) ** np.float32(1 / GAMMA) * np.float32(255)
    return np.concatenate([shown, shown.max(-1, keepdims=True)], -1).astype(np.float32)
