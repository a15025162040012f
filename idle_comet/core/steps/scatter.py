"""Chance that is the same on every machine: one number for each whole place and seed."""

from __future__ import annotations

import numpy as np


def chance(x: np.ndarray, y: np.ndarray, seed: int) -> np.ndarray:
    """Even numbers in [0, 1) for whole (x, y): 32-bit integer mixing (the finaliser of MurmurHash3)."""
    with np.errstate(over="ignore"):
        mixed = (
            x.astype(np.int64).astype(np.uint32) * np.uint32(0x9E3779B1)
            ^ y.astype(np.int64).astype(np.uint32) * np.uint32(0x85EBCA77)
            ^ np.uint32(seed * 0xC2B2AE3D & 0xFFFFFFFF)
        )
        mixed = (mixed ^ (mixed >> np.uint32(16))) * np.uint32(0x85EBCA6B)
        mixed = (mixed ^ (mixed >> np.uint32(13))) * np.uint32(0xC2B2AE35)
        mixed ^= mixed >> np.uint32(16)
    return mixed.astype(np.float64) / 2.0**32
