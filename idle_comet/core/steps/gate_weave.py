"""Gate weave: the picture is never quite where it was, as film in its gate."""

from __future__ import annotations

import math

from ..motion.motors import Wobble, wobble
from ..picture import Matrix
from .kind import Rest, StepKind, Values
from .parameter import Choice, Parameter, whole


class GateWeave(StepKind):
    """Slow smooth noise across, down and in turn, never further than the amounts; and now and then a jump down, as of a
    bad join. With its edges covered the picture is made larger by just so much that none of it ever shows."""

    kind = "gate_weave"
    label = "Gate weave"
    group = "texture"
    synonyms = ("film jitter", "unsteady", "projector", "old film", "shake")
    says = "{across} and {down} px"
    restless = True
    weakens = ("across", "down", "turn", "jump")
    parameters = (
        Parameter("across", "Across", "px", 1.2, 0, 12, 0, 2000, digits=1),
        Parameter("down", "Down", "px", 1.8, 0, 12, 0, 2000, digits=1),
        Parameter("turn", "Rotation", "°", 0.04, 0, 1, 0, 45, digits=2),
        Parameter("rate", "Rate", "Hz", 2.5, 0.2, 10, 0, 60, neutral=2.5, digits=1),
        Parameter("jump", "Jumps", "px", 0, 0, 40, 0, 2000, digits=1),
        Parameter("often", "Jump interval", "s", 3, 0.5, 20, 0.1, 600, neutral=3, digits=1, may_move=False),
        whole("seed", "Seed", 1, 1, 999),
    )
    choices = (Choice("edges", "Edges", ("covered", "seen")),)

    def place(self, values: Values, rest: Rest) -> Matrix | None:
        if not any(values[name] for name in ("across", "down", "turn", "jump")):
            return None
        seconds, seed = values["seconds"], int(values["seed"])
        x, y, turn = (
            wobble(Wobble(rate=values["rate"], seed=seed + salt), seconds) * values[name]
            for salt, name in ((0, "across"), (1009, "down"), (2003, "turn"))
        )
        y += values["jump"] * _jumped(seconds, values["often"], seed)
        middle = ((rest.box.x0 + rest.box.x1) / 2, (rest.box.y0 + rest.box.y1) / 2)
        # Words have no edges to be covered.
        covered = values["edges"] == "covered" and rest.layout is None
        grown = self._grown(values, rest) if covered else 1.0
        return (
            Matrix.shift(middle[0] + x, middle[1] + y)
            @ Matrix.turn(turn)
            @ Matrix.grow(grown)
            @ Matrix.shift(-middle[0], -middle[1])
        )

    def _grown(self, values: Values, rest: Rest) -> float:
        """The least scale at which a picture that just fills its box still does, wherever it is put.

        A box of half-sides a and b, shifted by up to (x, y) and turned by up to θ, covers itself when scaled by
        cos θ + max(b/a, a/b) sin θ + max(x/a, y/b), each a bound of its own.
        """
        a, b = max(1.0, (rest.box.x1 - rest.box.x0) / 2), max(1.0, (rest.box.y1 - rest.box.y0) / 2)
        turn = math.radians(min(45.0, values["turn"]))
        # Turned back into the picture's own axes a shift has parts along both.
        x, y = values["across"], values["down"] + values["jump"]
        along, aside = x + y * math.sin(turn), y + x * math.sin(turn)
        return math.cos(turn) + max(a / b, b / a) * math.sin(turn) + max(along / a, aside / b)


def _jumped(seconds: float, often: float, seed: int) -> float:
    """1 at a jump, dying away within a sixth of a second; jumps come about so often, at moments set by the seed."""
    turn, past = divmod(seconds, max(0.1, often))
    chance = math.sin((turn + 1) * 127.1 + seed * 311.7) * 43758.5453
    since = past - (chance - math.floor(chance)) * max(0.1, often) * 0.8
    return 1 - since * 6 if 0 <= since < 1 / 6 else 0.0
