"""Move: the frame goes over the picture from framing to framing."""

from __future__ import annotations

from ..motion import Framing, mixed_framing, shown
from ..picture import Matrix
from .kind import Rest, StepKind, Values
from .parameter import Choice, Parameter


class Move(StepKind):
    """The picture is seen as the framing shows it (`motion/framing.py`); its middle counts from that of the frame
    at rest. Kept filled, it is shown larger about the middle of the frame, by the least that leaves no edge in
    sight at any moment of the clip (`moment/filling.py`)."""

    kind = "move"
    label = "Move"
    group = "place"
    synonyms = ("pan", "push in", "pull out", "zoom", "tilt", "roll", "framing", "camera move", "reframe")
    says = "from framing to framing"
    camera = True
    weakens = ("framing",)
    parameters = (Parameter("framing", "Framing", "px", Framing(), 0, 1, 0, 1, neutral=Framing(), sort="framing"),)
    choices = (Choice("edges", "Edges", ("kept filled", "as framed")),)

    def weakened(self, values: Values, mix: float) -> Values:
        return {**values, "framing": mixed_framing(Framing(), values["framing"], mix)}

    def place(self, values: Values, rest: Rest) -> Matrix | None:
        seen, filled = shown(values["framing"]), values.get("filled", 1.0)
        turn, shift = seen.turn * filled, seen.shift * filled
        if turn == 1 and shift == 0:
            return None
        x, y = rest.width / 2, rest.height / 2
        a, b = turn.real, turn.imag
        return Matrix(a, b, -b, a, x + shift.real - a * x + b * y, y + shift.imag - b * x - a * y)
