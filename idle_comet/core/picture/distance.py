"""How far every pixel lies from the edge of a shape, to a fraction of a pixel."""

from __future__ import annotations

import numpy as np

from .kernel import kernel


@kernel("float64(float64, float64, float64)")
def _to_edge(gx, gy, share):
    """From the centre of a pixel that is covered by `share` to a straight edge across the direction (gx, gy)
    (Gustavson & Strand, Anti-aliased Euclidean distance transform, 2011)."""
    gx, gy = abs(gx), abs(gy)
    length = np.sqrt(gx * gx + gy * gy)
    if length == 0:
        return 0.5 - share
    gx, gy = gx / length, gy / length
    if gx < gy:
        gx, gy = gy, gx
    corner = 0.5 * gy / gx
    if share < corner:
        return 0.5 * (gx + gy) - np.sqrt(2 * gx * gy * share)
    if share < 1 - corner:
        return (0.5 - share) * gx
    return -0.5 * (gx + gy) + np.sqrt(2 * gx * gy * (1 - share))


@kernel("float64(float32[:,::1], int64, int64, int64, int64)")
def _far(alpha, x, y, qx, qy):
    """Distance of pixel (x, y) to the edge in pixel (qx, qy)."""
    dx, dy = float(qx - x), float(qy - y)
    return np.sqrt(dx * dx + dy * dy) + _to_edge(dx, dy, alpha[qy, qx] / 255.0)


@kernel("void(float32[:,::1], float32[:,::1], int32[:,::1], int32[:,::1])")
def _spread(alpha, out, from_x, from_y):
    height, width = alpha.shape
    for y in range(height):
        for x in range(width):
            if alpha[y, x] > 0:
                gx = float(alpha[y, min(x + 1, width - 1)]) - float(alpha[y, max(x - 1, 0)])
                gy = float(alpha[min(y + 1, height - 1), x]) - float(alpha[max(y - 1, 0), x])
                out[y, x] = _to_edge(gx, gy, alpha[y, x] / 255.0)
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
                        if 0 <= other < width and from_x[y + step, other] >= 0:
                            qx, qy = from_x[y + step, other], from_y[y + step, other]
                            far = _far(alpha, x, y, qx, qy)
                            if far < out[y, x]:
                                out[y, x] = far
                                from_x[y, x], from_y[y, x] = qx, qy
            for back in range(2):
                for column in range(width):
                    x = column if back == 0 else width - 1 - column
                    other = x - 1 if back == 0 else x + 1
                    if 0 <= other < width and from_x[y, other] >= 0:
                        qx, qy = from_x[y, other], from_y[y, other]
                        far = _far(alpha, x, y, qx, qy)
                        if far < out[y, x]:
                            out[y, x] = far
                            from_x[y, x], from_y[y, x] = qx, qy


def distance_outside(alpha: np.ndarray) -> np.ndarray:
    """Px from each pixel's centre to the nearest edge of what is covered; below 0 inside, where it says no more than
    that.

    `alpha` is (h, w) coverage in code values: a pixel covered by half lies on the edge. Right to a sixth of a px, on
    average to a twentieth."""
    alpha = np.ascontiguousarray(alpha, np.float32)
    # The tail of a blur is no edge: what can't be seen counts as nothing.
    alpha = np.where(alpha < 0.5, np.float32(0), alpha)
    out = np.empty(alpha.shape, np.float32)
    _spread(alpha, out, np.empty(alpha.shape, np.int32), np.empty(alpha.shape, np.int32))
    return out
