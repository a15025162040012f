"""The protocol every step kind follows."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Callable, Literal, Mapping, NamedTuple

import numpy as np

from ..motion import By, Ease, Order, Unit
from ..picture import Cube, Grading, Matrix, Patch, Rect
from ..space import Bevel, LightNow
from ..type import Inking, Layout, Pivot
from .axis import Axis
from .parameter import Choice, Parameter

Values = Mapping[str, Any]
"""Numbers; colours as `#rrggbb`, points as (x, y), choices as their word."""


@dataclass(frozen=True, slots=True)
class Rest:
    """Where a picture, or one unit of a text, stands before any step moves it, in px of the project's frame.

    `box` is the union of its own type box and its ink, `cell` that as far as it does not reach into its neighbours',
    `anchor` the point it turns and grows about. Of a text there is also the layout and the way from its em to the
    frame."""

    anchor: tuple[float, float]
    box: Rect
    cell: Rect
    ink: Rect
    width: float
    height: float
    leaving: bool = False
    index: int = 0
    count: int = 1
    layout: Layout | None = field(default=None, hash=False, compare=False, repr=False)
    to_frame: Matrix = Matrix()

    @property
    def name(self) -> tuple[object, ...]:
        """All of it but the layout as plain tuples."""
        boxes = (*self.box, *self.cell, *self.ink)
        sizes = (self.width, self.height, self.leaving, self.index, self.count)
        return (self.anchor, boxes, sizes, (*self.to_frame,))

    @property
    def em(self) -> float:
        """Px of the frame for one em; a tenth of the frame's height where there is no type."""
        return self.to_frame.scale if self.layout else self.height / 10


class LetterNow(NamedTuple):
    """What a step makes of one letter: how much of it is seen, and the character shown in its place."""

    opacity: float = 1.0
    swap: str | None = None


def enlargement(matrix: Matrix, rest: Rest) -> float:
    """How much larger a picture is painted through a transform than it rests: in perspective, where it stands."""
    box = rest.ink if rest.layout is not None and not rest.ink.empty else rest.box
    return matrix.scale_at((box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2)


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
    rest: Rest
    frame_of: Callable[[str, int, int], np.ndarray] | None = None
    """A frame of a picture of the film, (h, w, 4) uint8 premultiplied: media, number, how wide it will be seen."""

    shadows: Mapping[int, Patch] = field(default_factory=dict)
    """What lies between a light, by its number, and what the step is done to, as that is painted."""

    table_of: Callable[[str], Cube | None] | None = None
    """A table of colours of the film, by its media; None for one that is gone."""
    exact: bool = True
    """Whether it is painted as exported; a light picture may be made with less care."""

    @property
    def scale(self) -> float:
        """Px of the painted picture for one px of the project's frame, in the middle of what the step is done to."""
        return enlargement(self.matrix, self.rest)


class Solid(NamedTuple):
    """What ink becomes that is made solid: how deep, in px of the frame, with which edge (see `space/extrude.py`), and
    what its surfaces are like: (name, value) of all that is set, and the lights that shine on it."""

    depth: float
    bevel: Bevel
    wide: float
    deep: float
    looks: tuple[tuple[str, Any], ...]
    lights: tuple[LightNow, ...] | None
    picture: tuple[str, int, int, int] | None
    box: Rect
    to_frame: Matrix = Matrix()
    """From the words' em to px of the frame."""


class Pulse(NamedTuple):
    """A value that rises and falls again and again: from `low` to `peak` in `rise` frames, back in `fall`, once about
    every `period` frames. A whole number of pulses fits the clip, so that it ends as it began."""

    low: float
    peak: float
    rise: float
    fall: float
    period: float


@dataclass(frozen=True, slots=True)
class Ready:
    """A way to add a step with its motion already made, by its own name.

    `away` are values it comes from over the arrival and goes to over the departure; `through` run from one
    value to another over the whole clip; `beats` are (frames after the head, value) one after the other, mirrored at
    the end where it `comes_back`. `unit`, `delay` and `pivot` pass it on from unit to unit of a text.
    """

    name: str
    label: str
    synonyms: tuple[str, ...]
    away: Mapping[str, float] = field(default_factory=dict)
    through: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    beats: Mapping[str, tuple[tuple[float, float], ...]] = field(default_factory=dict)
    comes_back: bool = True
    pulse: Mapping[str, Pulse] = field(default_factory=dict)
    during: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    """The share of the arrival in which a value of `away` comes, where that is not all of it."""
    fixed: Mapping[str, float] = field(default_factory=dict)
    choices: Mapping[str, str] = field(default_factory=dict)
    ease: Ease | None = None
    unit: Unit = "all"
    order: Order = "forward"
    delay: float = 3
    by: By = "delay"
    pivot: Pivot = "own"


class StepKind:
    """One thing done to a picture. Subclasses say what they change and leave the rest.

    A step changes where the picture stands (`place`), how much of it is seen (`opacity`), which words and letters
    there are (`words`, `letters`), how outlines are inked (`inking`), or pixels (`render`). One that both places and
    renders is placed first: what it renders stands still while the picture moves through it.
    """

    kind: str
    label: str
    group: str = "surface"
    """Where it is listed: "arrival", "surface", "backing" or "place"."""
    synonyms: tuple[str, ...] = ()
    says: str
    """One line under the name, filled with the values as shown: `"{radius} px"`."""
    parameters: tuple[Parameter, ...] = ()
    choices: tuple[Choice, ...] = ()
    ready: tuple[Ready, ...] = ()
    text_only: bool = False
    """Whether it does nothing to pictures without words."""
    takes: Literal["drawing", "picture", "table"] | None = None
    """What of its own it can be given: an outline (its values then hold the `drawing`), a picture of the film (they
    hold the `picture`: None, or (media, width, height, frames)), or a table of colours (the `table`: None, or its
    media)."""
    weakens: tuple[str, ...] = ()
    """Values that a mix below 100 % takes back towards their neutral ones. For a step that places, inks or changes
    words this is what its mix means; pixels are mixed as pictures."""
    restless: bool = False
    """Whether it is another picture at every frame by itself; its values then hold the clip's `frame`, and the
    `seconds` from its head."""

    of_ink: bool = False
    """Whether it belongs to the ink itself: it is done before what blurs or lights that, or lies behind it."""
    dresses: bool = False
    """Whether it is part of how type is dressed, and so of a type style."""
    camera: bool = False
    """Whether it moves the frame's view of a picture, and can keep it filled: its values then hold `filled`, by how
    much larger the picture is shown for that."""
    with_source: bool = False
    """Whether it goes with the picture of the source: it stands still with it while the shutter is open."""
    covers_by_cover: bool = False
    """Whether what a picture covers after it depends on nothing of the picture but what it covers before."""
    flows: bool = False
    """Of a restless kind: whether it goes on while the shutter is open, and not from frame to frame only."""
    hears: bool = False
    """Whether it knows when words are said: its values then hold `said`, from when to when each word is, in seconds."""
    by_hand: bool = False
    """Whether it is the one that is moved by hand on the picture: every clip has its own, or gets one."""
    outside: bool = False
    """Whether it is done where its masks are not; without masks it does nothing."""
    by_cell: bool = False
    """Whether it goes by what is to be seen of a picture, and not by the frame it lies in."""
    turns_over: bool = False
    """Whether it can turn a clip so far that its back is seen: its values then hold `back`, whether the clip has
    one and shows it."""
    lit: bool = False
    """Whether lights shine on it: its values then hold the `lights` of its timeline, or None where there are none."""
    in_space: bool = False
    """Whether it stands in space: its values then hold `eye`, the camera of its timeline, or None."""
    fades: tuple[str, ...] = ()
    """Of a kind that places: the values that have no part in where."""
    keeps_means: bool = False
    """Whether what it makes of a mean of pictures is the mean of what it makes of each: then a streak may be made
    before it."""

    @property
    def makes_bodies(self) -> bool:
        """Whether it makes what it is done to solid (see `solid`)."""
        return type(self).solid is not StepKind.solid

    @property
    def can_be_masked(self) -> bool:
        """Whether it does something that has a place on the picture: words and letters have none."""
        of_words = (StepKind.words, StepKind.styles, StepKind.letters)
        return (type(self).words, type(self).styles, type(self).letters) == of_words

    @property
    def paints_its_own(self) -> bool:
        """Whether it may paint something where the picture has no ink."""
        return type(self).adds is not StepKind.adds

    def weakened(self, values: Values, mix: float) -> Values:
        """The values of the same step done by a share, 0..1."""
        neutral = dict(self._neutral)
        made = dict(values)
        for name in self.weakens:
            value, rest = values[name], neutral[name]
            made[name] = (
                tuple(mix * each for each in value) if isinstance(value, tuple) else rest + mix * (value - rest)
            )
        return made

    def rests(self, values: Values) -> bool:
        """Whether all values are their neutral ones: then the step changes nothing."""
        for name, neutral in self._neutral:
            value = values[name]
            # A number of numpy's is compared with each of a pair: only a pair may be.
            if value != neutral and not (isinstance(value, tuple) and value == (0, 0)):
                return False
        return True

    @cached_property
    def _neutral(self) -> list[tuple[str, Any]]:
        return [(each.name, each.neutral) for each in self.parameters]

    def keeps_cover(self, values: Values) -> bool:
        """Whether an opaque picture that covers the frame still does so after the step."""
        return not self.changes_pixels(values)

    @cached_property
    def places(self) -> bool:
        """Whether it places what it is done to (see `place`)."""
        return type(self).place is not StepKind.place

    @cached_property
    def changes_words(self) -> bool:
        """Whether it may set other words, or words in another way (see `words` and `styles`)."""
        return type(self).words is not StepKind.words or type(self).styles is not StepKind.styles

    @cached_property
    def changes_letters(self) -> bool:
        """Whether it may do something else to some letters than to others (see `letters`)."""
        return type(self).letters is not StepKind.letters

    @cached_property
    def only_paints(self) -> bool:
        """Whether its values make no difference to anything but what it paints, and whether it does."""
        looked_at = ("margin", "reach", "leaves", "place", "opacity", "words", "styles", "letters", "inking", "solid")
        return self._leaves_alone(looked_at)

    @cached_property
    def only_places(self) -> bool:
        """Whether all it does to pixels, outlines and bodies is to place them, and to hide them by a share."""
        return self._leaves_alone(("changes_pixels", "inking", "solid"))

    def _leaves_alone(self, what: tuple[str, ...]) -> bool:
        """Whether it says nothing of its own about these."""
        return all(getattr(type(self), each) is getattr(StepKind, each) for each in what)

    @property
    def turns_in_depth(self) -> bool:
        """Whether it turns what it is done to out of its plane (see `seen_from`)."""
        return type(self).seen_from is not StepKind.seen_from

    @property
    def hides(self) -> bool:
        """Whether there are values at which nothing may be seen (see `hidden`)."""
        return type(self).hidden is not StepKind.hidden

    def hidden(self, values: Values) -> bool:
        """Whether nothing may be seen while the step has these values at a frame, however long the shutter is open
        around it."""
        return False

    def margin(self, values: Values, rest: Rest) -> float:
        """How far, in px of the project's frame, the step reaches outside its input."""
        return 0.0

    def reach(self, values: Values, rest: Rest, matrix: Matrix, window: Rect) -> float:
        """How far, in px of the painted picture, it reaches outside its input for what is seen in a window; `matrix`
        leads there from px of the frame."""
        return self.margin(values, rest) * enlargement(matrix, rest)

    def leaves(self, values: Values, rest: Rest) -> Rect | None:
        """What of its own space anything is left of, where it takes away all that lies outside; None where something
        may be left anywhere."""
        return None

    def shows_back(self, values: Values) -> bool | None:
        """Whether it turns what it is done to so far that its back is seen; None where it is exactly edge-on."""
        return False

    def place(self, values: Values, rest: Rest) -> Matrix | None:
        """Where the picture goes; None if it stays."""
        return None

    def ways(self, values: Values, seconds: np.ndarray, rest: Rest) -> np.ndarray | None:
        """(n, 9): `place` at many moments at once, its numbers in the order of `Matrix`; values may be arrays of as
        many. None of a kind that is asked moment by moment."""
        return None

    def seen_from(self, values: Values, rest: Rest) -> tuple[float, float, float] | None:
        """Of a kind that turns a picture in depth: the point its eye looks straight at, and from how many px away; None
        where that is as the frame is seen."""
        return None

    def opacity(self, values: Values) -> float:
        return 1.0

    def words(self, values: Values, text: str) -> str:
        """Other words in place of these."""
        return text

    def styles(self, values: Values, text: str, own: str) -> tuple[tuple[int, int, str], ...]:
        """Characters [start, end) that have another colour than the text's own."""
        return ()

    def letters(self, values: Values, rest: Rest) -> tuple[LetterNow, ...] | None:
        """What becomes of every letter of the text; None leaves them all."""
        return None

    def inking(self, values: Values, rest: Rest) -> Inking | None:
        """How outlines are drawn; None fills them."""
        return None

    def makes_body(self, values: Values) -> bool:
        """Whether it makes ink solid with these values."""
        return False

    def solid(self, values: Values, rest: Rest) -> Solid | None:
        """What ink becomes that is made solid; None leaves it flat."""
        return None

    def changes_pixels(self, values: Values) -> bool:
        """False where `render` would return its input."""
        return False

    def parted(self, values: Values) -> tuple[Values, Values | None] | None:
        """Values with which only what lies below the picture is painted, and those that are left to do to the picture
        (None: nothing). The one below the other is what `values` paint. None where it can't be parted, or where
        nothing lies below."""
        return None

    def adds(self, values: Values, rest: Rest) -> Rect | None:
        """What it paints of its own, in the step's space, whether or not the picture has ink there; None for
        nothing."""
        return None

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        return patch

    def grading(self, values: Values) -> Grading | None:
        """What it does to colours where that is all it does, and the same everywhere; several in a row are done in one
        pass. Of other kinds None."""
        return None

    def axis(self, values: Values, rest: Rest) -> Axis | None:
        """The line along which its colours run, to be taken hold of on the picture; None where there is none."""
        return None

    def notes(self, values: Values, moving: frozenset[str], rest: Rest, text: str, seconds: float) -> list[str]:
        """What an editor should know of it, in sentences: `moving` are the names of values that are not fixed,
        `seconds` how long the clip lasts."""
        return []

    def vanishes(self, values: Values) -> bool:
        """Whether nothing is left of what it is done to, wherever that stands."""
        return self.opacity(values) <= 0 or (self.places and self.only_places and self.presence(values) <= 0)

    def presence(self, values: Values) -> float:
        """The share of resting ink still visible after this step, 0..1."""
        return self.opacity(values)
