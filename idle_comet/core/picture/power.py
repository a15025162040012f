"""Powers of rows of numbers, for loops that work on whole rows."""

from __future__ import annotations

import numpy as np

from .kernel import kernel

_HALF_ROOT = np.int32(0x3F3504F3)
"""The bits of √½ as a float32."""


_ROOM = 1024
"""Numbers that are worked on at a time: few enough to stay in the nearest memory."""


@kernel("void(float32[::1], float32)", fastmath=True)
def raised(row, to):
    """Raise a row of numbers to a power of more than 0, in place, right to 1 in 100 000 and exact at 0 and 1; what is
    below 0 becomes 0. Results below 2⁻¹²⁶ are 0.

    x = 2ᵉ·m with m within √½..√2, so that xᵖ is 2 to the power p·(e + log₂ m). log₂ and 2ᶠ are polynomials through
    Chebyshev nodes; both are exact where their argument is 1 and 0.
    """
    bits, part = np.empty(_ROOM, np.int32), np.empty(_ROOM, np.float32)
    mantissa = bits.view(np.float32)
    for start in range(0, row.shape[0], _ROOM):
        values = row[start : start + _ROOM]
        of = values.view(np.int32)
        for x in range(values.shape[0]):
            e = (of[x] - _HALF_ROOT) >> np.int32(23)
            bits[x] = of[x] - (e << np.int32(23))
            part[x] = np.float32(e)
        for x in range(values.shape[0]):
            t = mantissa[x] - np.float32(1)
            log = np.float32(0.16818659)
            log = log * t + np.float32(-0.26796387)
            log = log * t + np.float32(0.29611956)
            log = log * t + np.float32(-0.35952446)
            log = log * t + np.float32(0.48061313)
            log = log * t + np.float32(-0.72136018)
            log = log * t + np.float32(1.4426965)
            whole = min(max((part[x] + log * t) * to, np.float32(-126)), np.float32(126))
            n = np.floor(whole + np.float32(0.5))
            f = whole - n
            two = np.float32(0.0013381303)
            two = two * f + np.float32(0.0096663685)
            two = two * f + np.float32(0.05550381)
            two = two * f + np.float32(0.24022349)
            two = two * f + np.float32(0.69314718)
            bits[x] = (np.int32(n) + np.int32(127)) << np.int32(23)
            part[x] = np.float32(1) + f * two
        for x in range(values.shape[0]):
            values[x] = mantissa[x] * part[x] if values[x] > np.float32(0) else np.float32(0)
