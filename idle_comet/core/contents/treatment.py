"""Nothing of its own: a strip whose steps are done to all that lies below it."""

from __future__ import annotations

from typing import Literal

from ..modelled import Frozen


class Treatment(Frozen):
    """Its clip's steps act on the picture of all tracks below, as far as the clip's opacity goes."""

    kind: Literal["treatment"] = "treatment"
