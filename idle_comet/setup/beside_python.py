"""What can be set up while Python's packages are fetched: it needs nothing but Python itself."""

from __future__ import annotations

import contextlib
import sys

from .front_end import BuildFailed, build_front_end
from .packages import RUNNING, TESTING, PackagesMissing, ensure

if __name__ == "__main__":
    # What fails here is missed, and named, when it is needed.
    with contextlib.suppress(PackagesMissing, BuildFailed):
        ensure(*(RUNNING if sys.argv[1:] == ["start"] else TESTING))
        build_front_end()
