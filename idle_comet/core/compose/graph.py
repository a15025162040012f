"""The frame as a graph of pictures: what is painted, through which transforms, what is done to it, and over what it
lies.

A node says everything its pixels depend on, and names them by a short digest: two nodes with the same digest have the
same pixels. Rectangles and matrices lead to px of the painted picture.
"""

from __future__ import annotations

import hashlib
import marshal
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Iterator, NamedTuple

from ..moment.scene import FootageNow, GeneratedNow, MaskNow, ModelNow, PlainNow, ShapeNow, StepNow, TextNow
from ..picture import Matrix, Mode, Nearness, Rect, Vector
from ..project.model import Transition
from ..steps import Rest
from ..type import Pose


def digest_of(names: object) -> bytes:
    """16 bytes in the place of plain values. Named tuples are best told as plain ones (`(*each,)`), which are written
    in a tenth of the time."""
    try:
        # As this version of it writes them, what is equal is written the same.
        told = marshal.dumps(names, 2)  # type: ignore[arg-type]
    except ValueError:
        told = repr(names).encode("utf-8", "surrogatepass")
    return hashlib.blake2b(told, digest_size=16).digest()


@dataclass(frozen=True, eq=False)
class Picture:
    """A node: pixels to be painted."""

    def names(self) -> tuple[Any, ...]:
        """Everything the pixels depend on, as plain values; pictures it is made of by their digests."""
        raise NotImplementedError

    def parts(self) -> tuple["Picture", ...]:
        """The pictures it is made of."""
        return ()

    @cached_property
    def digest(self) -> bytes:
        """16 bytes that name the pixels, quality included."""
        return digest_of((type(self).__name__, self.names()))

    @cached_property
    def passes(self) -> bool:
        """Whether it is another at the next frame, most likely, since something it is made of is."""
        return any(part.passes for part in self.parts())

    def walk(self) -> Iterator["Picture"]:
        """This picture and all it is made of."""
        yield self
        for part in self.parts():
            yield from part.walk()


@dataclass(frozen=True, eq=False)
class Source(Picture):
    """A clip's content before any step has changed its pixels. Words are painted by `poses`, anything else through
    `matrix`.

    `window` is what is needed of it, `frame` what can be seen in the end: a picture that reaches its edge goes on past
    it. One that `moves`, now or at another time of its clip, is sampled evenly."""

    content: TextNow | FootageNow | PlainNow | GeneratedNow | ShapeNow | ModelNow
    matrix: Matrix
    window: Rect
    frame: Rect
    exact: bool
    poses: tuple[Pose, ...] = ()
    moves: bool = False
    around: tuple["Source | Board", ...] = ()
    """Of a body, what else may be between it and a light."""

    def names(self) -> tuple[Any, ...]:
        poses = [pose.name for pose in self.poses]
        around = [each.names() if isinstance(each, Board) else each.digest for each in self.around]
        content: tuple[Any, ...] = (*self.content,)
        if isinstance(self.content, TextNow) and self.content.ranges:
            ranges = tuple((*each,) for each in self.content.ranges)
            content = (*self.content._replace(ranges=ranges),)  # type: ignore[arg-type]
        kind = type(self.content).__name__
        return (kind, content, (*self.matrix,), (*self.window,), (*self.frame,), self.exact, poses, self.moves, around)

    def parts(self) -> tuple[Picture, ...]:
        return tuple(each.picture if isinstance(each, Board) else each for each in self.around)

    @cached_property
    def passes(self) -> bool:
        content = self.content
        own = isinstance(content, FootageNow) or (isinstance(content, GeneratedNow) and content.frame > 0)
        return own or super().passes


class Board(NamedTuple):
    """A plane that stands in the world: its picture, so many px to one of its own, and where those lie (origin, across,
    down)."""

    picture: Picture
    scale: float
    plane: tuple[Vector, Vector, Vector]

    def names(self) -> tuple[Any, ...]:
        return (self.picture.digest, self.scale, self.plane)


@dataclass(frozen=True)
class MaskPlan:
    """One mask of a step: in the space that `matrix` leads out of, or as another clip's `picture` has it."""

    mask: MaskNow
    matrix: Matrix
    picture: Picture | None = field(default=None, compare=False)
    corners: tuple[tuple[float, float], ...] = ()
    """Where a clip that wipes stands, px of the painted picture."""

    def names(self) -> tuple[Any, ...]:
        picture = self.picture.digest if self.picture else None
        mask = self.mask._replace(values=tuple(self.mask.values.items()), layer=None)  # type: ignore[arg-type]
        return (*mask, (*self.matrix,), picture, self.corners)


class Shadow(NamedTuple):
    """What a light, by its `number`, sees before a plane: a picture `coarse` times smaller than what is painted."""

    number: int
    picture: Picture
    coarse: int


@dataclass(frozen=True)
class StepPlan:
    """A step that changes pixels: with the transform and the window it works in, and what it is done to at rest.

    `only` is the part of the step's own space that goes with the letters it is painted for; None is all of it.
    """

    step: StepNow
    matrix: Matrix
    window: Rect
    rest: Rest
    exact: bool
    only: Rect | None = None
    masks: tuple[MaskPlan, ...] = ()
    shadows: tuple[Shadow, ...] = field(default=(), compare=False)

    def names(self) -> tuple[Any, ...]:
        return (
            self.step.kind,
            tuple(self.step.values.items()),
            self.step.mix,
            (*self.matrix,),
            (*self.window,),
            self.rest.name,
            self.exact,
            self.only and (*self.only,),
            tuple(mask.names() for mask in self.masks),
            tuple((each.number, each.picture.digest, each.coarse) for each in self.shadows),
        )


@dataclass(frozen=True, eq=False)
class Stepped(Picture):
    """A picture with a step done to it, as far as its mix and its masks say."""

    child: Picture
    plan: StepPlan

    def names(self) -> tuple[Any, ...]:
        return (self.child.digest, self.plan.names())

    def parts(self) -> tuple[Picture, ...]:
        masks = (mask.picture for mask in self.plan.masks if mask.picture is not None)
        return (self.child, *masks, *(each.picture for each in self.plan.shadows))


def before_steps(picture: Picture) -> tuple[Picture, list[StepPlan]]:
    """A picture as it is before its last steps, and these in the order they are done."""
    steps: list[StepPlan] = []
    while isinstance(picture, Stepped):
        steps.insert(0, picture.plan)
        picture = picture.child
    return picture, steps


@dataclass(frozen=True)
class Seen:
    """A picture among others, and how it lies over what is below it. `clip` says whose it is."""

    picture: Picture
    opacity: float = 1.0
    mode: Mode = "normal"
    clip: str = ""

    def names(self) -> tuple[Any, ...]:
        return (self.picture.digest, self.opacity, self.mode)


@dataclass(frozen=True, eq=False)
class Blended(Picture):
    """Pictures over each other, from the bottom up; with a `background` on that colour, otherwise over nothing."""

    children: tuple[Seen, ...]
    window: Rect
    background: str | None = None

    def names(self) -> tuple[Any, ...]:
        return (tuple(child.names() for child in self.children), (*self.window,), self.background)

    def parts(self) -> tuple[Picture, ...]:
        return tuple(child.picture for child in self.children)


@dataclass(frozen=True, eq=False)
class Crossed(Picture):
    """Pictures of planes that cross, or lie in another order than their middles do: at every px what is nearer lies
    over what is further away. `near` tells of each how near it is over the picture."""

    children: tuple[Seen, ...]
    near: tuple[Nearness, ...]
    window: Rect

    def names(self) -> tuple[Any, ...]:
        return (tuple(child.names() for child in self.children), self.near, (*self.window,))

    def parts(self) -> tuple[Picture, ...]:
        return tuple(child.picture for child in self.children)


@dataclass(frozen=True, eq=False)
class Shared(Picture):
    """(1 − share) of one picture and `share` of the other, the share times its masks."""

    before: Picture
    after: Picture
    share: float
    masks: tuple[MaskPlan, ...] = ()

    def names(self) -> tuple[Any, ...]:
        return (self.before.digest, self.after.digest, self.share, tuple(mask.names() for mask in self.masks))

    def parts(self) -> tuple[Picture, ...]:
        return (self.before, self.after, *(mask.picture for mask in self.masks if mask.picture is not None))


@dataclass(frozen=True, eq=False)
class Mixed(Picture):
    """A transition: both sides over nothing, each as large as the frame, then one taken over by the other."""

    transition: Transition
    progress: float
    before: Seen | None
    after: Seen | None
    frame: Rect

    def names(self) -> tuple[Any, ...]:
        return (
            self.transition.model_dump_json(),
            self.progress,
            (*self.frame,),
            *(side and side.names() for side in (self.before, self.after)),
        )

    def parts(self) -> tuple[Picture, ...]:
        return tuple(side.picture for side in (self.before, self.after) if side)


@dataclass(frozen=True, eq=False)
class Travelled(Picture):
    """A picture that only travels while the shutter is open: its mean at `shifts`, in px."""

    child: Picture
    shifts: tuple[tuple[float, float], ...]
    window: Rect
    wanted: int

    def names(self) -> tuple[Any, ...]:
        return (self.child.digest, self.shifts, (*self.window,))

    def parts(self) -> tuple[Picture, ...]:
        return (self.child,)


@dataclass(frozen=True, eq=False)
class Averaged(Picture):
    """The mean of a picture's moments while the shutter is open. `wanted` is how many the distance asks for; fewer are
    taken where a ceiling holds."""

    samples: tuple[Seen, ...]
    window: Rect
    wanted: int

    def names(self) -> tuple[Any, ...]:
        return (tuple(sample.names() for sample in self.samples), (*self.window,))

    def parts(self) -> tuple[Picture, ...]:
        return tuple(sample.picture for sample in self.samples)
