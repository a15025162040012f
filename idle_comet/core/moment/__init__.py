"""What holds at one time: values, where things stand, how clips are drawn and meet."""

from . import tethering as _tethering  # noqa: F401  tells `looking` how an own edge is brought somewhere
from . import whereabouts as _whereabouts  # noqa: F401  tells `looking` how another clip is found
