"""How hot loops are compiled."""

from __future__ import annotations

import numba


def kernel(*signatures: str, fastmath: bool = False):
    """Compile a loop when its module is imported, once for each of its signatures; the machine code is kept on disk.

    Compiled by signature, so that no frame ever waits for a compiler, and without
    the GIL, so that threads of one process can blend at the same time. With `fastmath`
    sums may be taken in another order; machines differ by no more than that.
    """
    return numba.njit(list(signatures), nogil=True, cache=True, fastmath=fastmath)
