"""Read once by the process that others are forked from: what paints is imported, and its loops are ready.

So a painting process, or one that exports, begins within milliseconds, and so does the one that takes its place. While
the loops are still being compiled by another process (`IDLE_COMET_COMPILING`), each is taken when it is first run.
"""

import gc
import os
import sys

from ...core.picture import load_kernels
from ...media import film  # noqa: F401
from . import worker  # noqa: F401

if "IDLE_COMET_COMPILING" not in os.environ:
    load_kernels()
# What is read is never let go: to look through all of it for rubbish would hold up a frame for its own length.
gc.collect()
gc.freeze()
# A frame is planned by thousands of small things that go by themselves: to look through the young ones for rubbish at
# every 700th is a twentieth of it.
gc.set_threshold(10_000, 20, 20)
# While a frame is planned and painted another thread makes its shot's picture. Its turn must not come as late as the
# whole frame is done.
sys.setswitchinterval(0.0001)
