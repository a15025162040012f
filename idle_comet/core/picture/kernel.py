"""How hot loops are compiled."""

from __future__ import annotations

from typing import Any

import numba
import numpy as np


def kernel(*signatures: str, fastmath: bool = False) -> Any:
    """Compile a loop when its module is imported, once for each of its signatures; the machine code is kept on disk.

    Compiled by signature, so that no frame ever waits for a compiler, and without
    the GIL, so that threads of one process can blend at the same time. With `fastmath`
    sums may be taken in another order; machines differ by no more than that.
    """
    return numba.njit(list(signatures), nogil=True, cache=True, fastmath=fastmath)


def own(pixels: np.ndarray) -> np.ndarray:
    """Pixels as loops take them: in one piece, and not locked against being written to."""
    whole = np.ascontiguousarray(pixels)
    return whole if whole.flags.writeable else whole.copy()
