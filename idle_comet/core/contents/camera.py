"""A camera: from where, and with which lens, what stands in space is seen while it lasts."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..modelled import Frozen
from ..motion import Property
from ..motion.handheld import SITUATIONS
from ..steps import LENS, SENSOR, Choice, Parameter, whole

_Word = Annotated[str, StringConstraints(max_length=60)]


class Camera(Frozen):
    """It shows nothing itself. Values left out have their default."""

    kind: Literal["camera"] = "camera"
    values: Annotated[dict[_Word, Property], Field(max_length=40)] = {}
    choices: Annotated[dict[_Word, _Word], Field(max_length=4)] = {}


def _place(name: str, label: str, low: float, high: float) -> Parameter:
    return Parameter(name, label, "px", 0, low, high, -100_000, 100_000, digits=1, gentle=4)


CHOICES = (
    Choice("sharp", "Depth of field", ("everything", "by the lens")),
    Choice("held", "Handheld", ("still", *SITUATIONS)),
)

PARAMETERS = (
    _place("x", "X", -640, 640),
    _place("y", "Y", -360, 360),
    _place("z", "Z", -1200, 1200),
    _place("aim_x", "Aim X", -640, 640),
    _place("aim_y", "Aim Y", -360, 360),
    _place("aim_z", "Aim Z", -800, 2400),
    Parameter("roll", "Roll", "°", 0, -45, 45, -36000, 36000, digits=1, gentle=1),
    Parameter("lens", "Lens", "mm", LENS, 12, 135, 1, 2000, neutral=LENS, digits=1, gentle=1),
    Parameter("sensor", "Sensor", "mm", SENSOR, 6, 60, 1, 200, neutral=SENSOR, digits=1, may_move=False),
    *(
        each.only("sharp", "by the lens")
        for each in (
            _place("focus", "Focus distance", -800, 2400),
            Parameter("stop", "f-number", "", 2.8, 1, 22, 0.1, 200, neutral=2.8, digits=1, gentle=0.1),
            Parameter("metres", "Scene scale", "m", 1, 0.1, 10, 0.001, 10_000, neutral=1, digits=2, may_move=False),
            whole("blades", "Blades", 0, 0, 12),
            Parameter("roundness", "Roundness", "%", 0.4, 0, 1, 0, 1, neutral=0.4, shown_times=100, may_move=False),
            Parameter("highlights", "Bokeh highlights", "×", 1, 1, 20, 1, 1000, neutral=1, digits=1, gentle=0.2),
        )
    ),
    *(
        each.only("held", *SITUATIONS)
        for each in (
            Parameter("intensity", "Intensity", "%", 1, 0, 3, 0, 20, neutral=0, shown_times=100),
            Parameter("speed", "Speed", "%", 1, 0.25, 2, 0.01, 10, neutral=1, shown_times=100, may_move=False),
            Parameter("sway", "Sway", "mm", 12, 0, 60, 0, 2000, neutral=0, digits=1),
            whole("seed", "Seed", 1, 1, 999),
        )
    ),
)
"""It stands where the frame fills what it sees with a lens of 35 mm on 36; `x`, `y` and `z` move it from there, `z`
towards the frame. Where it aims counts from the middle of the frame.

Sharp is what lies as far ahead as its aim, and `focus` px more. `metres` says how large the world is, which lenses go
by: how many metres a frame's width is. Fewer than three blades leave the opening round. A picture knows nothing
brighter than white; by `highlights` what is white in it shone so many times as bright, where it is out of focus.

A camera that is held turns as its situation has it (`motion/handheld.py`), and sways aside and up by `sway` mm for
every degree it would turn at another time, so that what is near moves before what is far away."""
