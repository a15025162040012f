"""What holds at one time: values, where things stand, how clips are drawn and meet."""

from . import gathered as _gathered  # noqa: F401  tells `looking` what a group takes up
from . import points as _points  # noqa: F401  tells `looking` what a followed point does
from . import tethering as _tethering  # noqa: F401  tells `looking` how an own edge is brought somewhere
from . import whereabouts as _whereabouts  # noqa: F401  tells `looking` how another clip is found
