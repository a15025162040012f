"""The protocol every step kind follows."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Mapping

from ..picture import Matrix, Patch, Rect
from .parameter import Parameter

Values = Mapping[str, Any]
"""Numbers; colours as `#rrggbb`, points as (x, y)."""


@dataclass(frozen=True, slots=True)
class StepContext:
    """What a step may know when it renders.

    `matrix` leads from the step's own space (px of the project's frame) to px of the
    picture being painted; later placements are already in it, so that a text is
    painted once, where it ends up, and never resampled. `window` is the part of the
    painted picture that anyone after this step will look at.
    """

    matrix: Matrix
    window: Rect
    seed: int = 0

    @property
    def scale(self) -> float:
        """Px of the painted picture for one px of the project's frame here."""
        return self.matrix.scale


@dataclass(frozen=True, slots=True)
class Ready:
    """A way to add a step with its motion already made, by its own name.

    `away` are values it comes from over the arrival and goes to over the departure; `through` run from one
    value to another over the whole clip.
    """

    name: str
    label: str
    synonyms: tuple[str, ...]
    away: Mapping[str, float] = field(default_factory=dict)
    through: Mapping[str, tuple[float, float]] = field(default_factory=dict)


class StepKind:
    """One thing done to a picture. Subclasses say what they change and leave the rest.

    A step changes pixels (`render`), where the picture stands (`place`) or how much
    of it is seen (`opacity`).
    """

    kind: str
    label: str
    synonyms: tuple[str, ...] = ()
    says: str
    """One line under the name, filled with the values as shown: `"{radius} px"`."""
    parameters: tuple[Parameter, ...] = ()
    ready: tuple[Ready, ...] = ()

    def margin(self, values: Values) -> float:
        """How far, in px of the project's frame, the step reaches outside its input."""
        return 0.0

    def place(self, values: Values, anchor: tuple[float, float]) -> Matrix | None:
        """Where the picture goes; `anchor` is the resting centre of the clip's content."""
        return None

    def opacity(self, values: Values) -> float:
        return 1.0

    def changes_pixels(self, values: Values) -> bool:
        """False where `render` would return its input."""
        return False

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        return patch

    def presence(self, values: Values) -> float:
        """The share of resting ink still visible after this step, 0..1."""
        return self.opacity(values)
