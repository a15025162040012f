"""How far every pixel lies from the edge of a shape, to a fraction of a pixel."""

from __future__ import annotations

import numpy as np

from .kernel import kernel


@kernel("void(uint8[:,::1], float32[:,::1], int32[:,::1], int32[:,::1])")
def _spread(alpha, out, from_x, from_y):
    height, width = alpha.shape
    for y in range(height):
        for x in range(width):
            if alpha[y, x] > 0:
                out[y, x] = 0.5 - alpha[y, x] / 255.0
                from_x[y, x], from_y[y, x] = x, y
            else:
                out[y, x] = 1e9
                from_x[y, x], from_y[y, x] = -1, -1
    # Two sweeps down and up, each to the right and back, carry the nearest covered pixel on (Danielsson 1980).
    for turn in range(2):
        for row in range(height):
            y = row if turn == 0 else height - 1 - row
            step = -1 if turn == 0 else 1
            if 0 <= y + step < height:
                for x in range(width):
                    for side in range(-1, 2):
                        other = x + side
                        if 0 <= other < width:
                            qx, qy = from_x[y + step, other], from_y[y + step, other]
                            if qx >= 0:
                                far = np.sqrt(float((qx - x) ** 2 + (qy - y) ** 2)) + 0.5 - alpha[qy, qx] / 255.0
                                if far < out[y, x]:
                                    out[y, x] = far
                                    from_x[y, x], from_y[y, x] = qx, qy
            for back in range(2):
                for column in range(width):
                    x = column if back == 0 else width - 1 - column
                    other = x - 1 if back == 0 else x + 1
                    if 0 <= other < width:
                        qx, qy = from_x[y, other], from_y[y, other]
                        if qx >= 0:
                            far = np.sqrt(float((qx - x) ** 2 + (qy - y) ** 2)) + 0.5 - alpha[qy, qx] / 255.0
                            if far < out[y, x]:
                                out[y, x] = far
                                from_x[y, x], from_y[y, x] = qx, qy


def distance_outside(alpha: np.ndarray) -> np.ndarray:
    """Px from each pixel's centre to the nearest edge of what is covered; below 0 inside, never below −0.5.

    `alpha` is (h, w) uint8 coverage: a pixel covered by half lies on the edge. Right to about a tenth of a px.
    """
    alpha = np.ascontiguousarray(alpha)
    out = np.empty(alpha.shape, np.float32)
    _spread(alpha, out, np.empty(alpha.shape, np.int32), np.empty(alpha.shape, np.int32))
    return out
