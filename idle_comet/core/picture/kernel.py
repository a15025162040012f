"""How hot loops are compiled."""

from __future__ import annotations

import numba


def kernel(*signatures: str):
    """Compile a loop when its module is imported, once for each of its signatures; the machine code is kept on disk.

    Compiled by signature, so that no frame ever waits for a compiler, and without
    the GIL, so that threads of one process can blend at the same time.
    """
    return numba.njit(list(signatures), nogil=True, cache=True, fastmath=False)
