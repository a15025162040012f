"""Held still: the picture moves against a point of it that was followed, so that the point stays."""

from __future__ import annotations

from ..picture import Matrix
from .kind import Rest, StepKind, Values
from .parameter import Choice, Parameter


class StillPoint(StepKind):
    """The picture is brought back by as much as a point of it has gone: by `x` and `y`, and by `turn` and `size` about
    the place where the point is held, `about_x` and `about_y` from the middle of the frame. All of them go with
    followed points (`motion/motors.py`, OnPoint), and can be keyed by hand.

    The source shows one picture for as long as the shutter is open, and so does this."""

    kind = "still_point"
    label = "Stabilise"
    group = "place"
    synonyms = ("held still", "steady", "stabilise", "stabilize", "smooth out shake", "lock on", "calm the camera")
    says = "by {x} across, {y} down, {turn}°"
    camera = True
    with_source = True
    weakens = ("x", "y", "turn", "size")
    parameters = (
        Parameter("x", "Track X", "px", 0, -200, 200, -20000, 20000, neutral=0, gentle=4),
        Parameter("y", "Track Y", "px", 0, -200, 200, -20000, 20000, neutral=0, gentle=4),
        Parameter("turn", "Track rotation", "°", 0, -20, 20, -3600, 3600, neutral=0, digits=2, gentle=0.5),
        Parameter("size", "Track scale", "%", 1, 0.5, 2, 0.05, 20, neutral=1, shown_times=100),
        Parameter("about_x", "Lock X", "px", 0, -640, 640, -20000, 20000),
        Parameter("about_y", "Lock Y", "px", 0, -360, 360, -20000, 20000),
    )
    choices = (Choice("edges", "Edges", ("kept filled", "as it comes")),)

    def notes(self, values: Values, moving: frozenset[str], rest: Rest, text: str, seconds: float) -> list[str]:
        if moving or not self.rests({**values, "about_x": 0, "about_y": 0}):
            return []
        return ["It goes with no point yet: follow one, and hold the shot still by it."]

    def place(self, values: Values, rest: Rest) -> Matrix | None:
        x, y, turn, size = (float(values[name]) for name in self.weakens)
        filled = float(values.get("filled", 1.0))
        if (x, y, turn, size, filled) == (0, 0, 0, 1, 1):
            return None
        held = rest.width / 2 + values["about_x"], rest.height / 2 + values["about_y"]
        back = Matrix.turn(-turn) @ Matrix.grow(1 / size, 1 / size) @ Matrix.shift(-held[0] - x, -held[1] - y)
        way = Matrix.shift(*held) @ back
        if filled == 1:
            return way
        # Kept filled, the picture is shown larger about the middle of the frame.
        middle = rest.width / 2, rest.height / 2
        return Matrix.shift(*middle) @ Matrix.grow(filled, filled) @ Matrix.shift(-middle[0], -middle[1]) @ way
