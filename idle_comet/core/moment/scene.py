"""What is to be seen at one frame, as plain values."""

from __future__ import annotations

from typing import Any, Mapping, NamedTuple

from ..picture import Mode, Rect
from ..project.model import Clip, Project, Styled, Transition
from ..space import LightNow


class TextNow(NamedTuple):
    """A text's settings at one frame; size and box in px of the project's frame."""

    text: str
    typeface: str
    weight: float
    width: float
    size: float
    tracking: float
    leading: float
    colour: str
    align: str
    stand_x: str
    stand_y: str
    measured_by: str
    box: float = 0.0
    box_does: str = "wrap"
    case: str = "typed"
    kerning: bool = True
    features: tuple[str, ...] = ()
    ranges: tuple[Styled, ...] = ()


class FootageNow(NamedTuple):
    """A shot at one frame, or a still: `frame` is the frame of its source, of which the next has a share."""

    media: str
    frame: int
    fit: str
    width: int
    height: int
    alpha: bool
    ink: tuple[int, int, int, int] | None = None
    next_share: float = 0.0


class PlainNow(NamedTuple):
    """One colour over the frame."""

    colour: str


class GeneratedNow(NamedTuple):
    """A generated picture at one moment: `values` are (name, value) of its pattern, choices included."""

    pattern: str
    values: tuple[tuple[str, Any], ...]
    seconds: float
    frame: float
    width: int
    height: int


class ShapeNow(NamedTuple):
    """A shape at one moment: `values` are (name, value), choices included; `drawing` is path data of its own."""

    values: tuple[tuple[str, Any], ...]
    drawing: str
    width: int
    height: int


class CameraNow(NamedTuple):
    """A camera at one moment: (name, value) of all that is set of it."""

    values: tuple[tuple[str, Any], ...]


class ModelNow(NamedTuple):
    """A model at one moment: `values` are (name, value), choices included; `animation` is the number of its motion,
    from 0 on and below that none, `seconds` where that is. It is `own` thousandths of its longest side
    wide and high. `lights` shine on it; None is the usual ones."""

    media: str
    values: tuple[tuple[str, Any], ...]
    animation: int
    seconds: float
    width: int
    height: int
    own: tuple[int, int] = (1000, 1000)
    lights: tuple[LightNow, ...] | None = None


class ValuesNow(NamedTuple):
    """A light at one moment: (name, value) of all that is set of it."""

    values: tuple[tuple[str, Any], ...]


class GroupNow(NamedTuple):
    """Everything a group holds, at the moment of its own timeline.

    `apart`: it is painted by itself before it lies over what is below, since something is done to all of it. `ink` is
    what its clips take up of the frame, for steps that go by it.
    """

    scene: "Scene"
    apart: bool
    ink: Rect | None = None


class TreatmentNow(NamedTuple):
    """Nothing of its own: its steps are done to all that lies below."""


ContentNow = TextNow | FootageNow | PlainNow | GeneratedNow | ShapeNow | ModelNow | GroupNow | TreatmentNow


class MaskNow(NamedTuple):
    """Where a step is done: within a form that its values describe, or where another clip's `layer` is seen.

    `by` says what of that clip counts: its "shape" (how much it covers) or its "brightness".
    """

    form: str
    values: Mapping[str, Any]
    invert: bool = False
    by: str = "shape"
    layer: "Layer | None" = None
    joined: str = "intersect"


class PartNow(NamedTuple):
    """A step's values for one unit of a text."""

    values: Mapping[str, Any]
    mix: float
    unit: str
    index: int  # type: ignore[assignment]  # in place of the tuple's own


class StepNow(NamedTuple):
    """A step that is on at this frame, with all of its values and choices.

    Where it is passed on from unit to unit, `parts` are those that differ and `of_letter` says which part each
    letter of the text belongs to; `values` are then those of the first.
    """

    kind: str
    values: Mapping[str, Any]
    mix: float
    leaving: bool = False
    """Whether the clip is nearer to its departure than to its arrival, as the step's keys have them."""
    parts: tuple[PartNow, ...] = ()
    of_letter: tuple[int, ...] = ()
    pivot: str = "own"
    masks: tuple[MaskNow, ...] = ()
    id: str = ""
    run: frozenset[str] = frozenset()
    """Steps before it that its masks hold for as well."""
    casters: tuple["Layer", ...] = ()
    """What may throw a shadow on what this step stands up."""

    @property
    def passed_on(self) -> bool:
        """Whether it is done to some letters of the text otherwise than to others, whether or not that was worked
        out."""
        return bool(self.of_letter)


class Exposure(NamedTuple):
    """Over which moments of a clip, counted from its head, one frame of it is exposed; `frame` is that frame.

    The moments between are evaluated when it is known how large they are painted.
    """

    project: Project
    clip: Clip
    opens: float
    closes: float
    frame: float


class Layer(NamedTuple):
    """One clip at one moment; `exposure` says over which moments a frame of it is exposed, if it has motion blur."""

    clip: str
    content: ContentNow
    steps: tuple[StepNow, ...]
    exposure: Exposure | None = None
    blend: Mode = "normal"
    moves: bool = False
    """Whether it is placed otherwise at another moment."""


class Join(NamedTuple):
    """A transition at one frame: from `before` to `after` (either may be nothing), `progress` eased."""

    transition: Transition
    progress: float
    before: Layer | None
    after: Layer | None


class Scene(NamedTuple):
    """Everything to be seen at one frame, from the bottom of the picture up; without a background over nothing."""

    width: int
    height: int
    background: str | None
    layers: tuple[Layer | Join, ...]
