"""Several pictures in one frame: a cell for each of the clips in hand."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..motion import Ease, Fixed, Key, Moving, Property, Strengths
from ..project.cells import ONE, Arrangement, CellRect, Corner, cells_of
from ..project.model import Clip, Frozen, Id, Project, Step
from ..steps import CELL, SHADOW
from .base import EditError, clip_of, rule
from .clips import Clips, named
from .copies import has_room
from .cutting import SplitClips, split_clips
from .lanes import with_clips
from .tracks import with_new_track

Px = Annotated[float, Field(ge=0, le=4000, allow_inf_nan=False)]
MOST_CELLS = 25


class ArrangeClips(Frozen):
    """The clips in hand, each in a cell of the frame, so that they fit together; the first has the first cell. Clips
    that follow each other are laid over one another from the first one's head on, as long as the shortest.

    With `arrives` they go into their cells within `length` frames from their heads, each `apart` frames after the one
    before in `order`; with `departs` back before their ends. Without, they are there at once, so that what is cut
    against it goes on seamlessly."""

    kind: Literal["arrange_clips"] = "arrange_clips"
    clips: Clips
    arrangement: Arrangement
    corner: Corner = "lower right"
    share: Annotated[float, Field(ge=0.05, le=0.95)] = 0.3
    margin: Px = 0
    gutter: Px = 0
    radius: Px | None = None
    outline: Px | None = None
    """None: as each has it."""
    shadow: bool = False
    arrives: bool = True
    departs: bool = True
    length: Annotated[int, Field(ge=1, le=1000)] = 18
    apart: Annotated[int, Field(ge=0, le=250)] = 4
    order: Literal["first to last", "last to first", "from the middle"] = "first to last"
    ease: Ease = Strengths(start=0.4, end=0.7)
    comes: Literal["the whole frame", "beyond the edge", "its middle"] | None = None
    """None: one picture comes from the whole frame, several from beyond the edge nearest to each."""


class ToFrontAndBack(Frozen):
    """A clip in a cell fills the frame for a while and goes back: from a frame of its timeline on for `length` frames,
    each way within `way`. It is cut, and its part lies over all other pictures meanwhile; what is cut off is called
    `seed`-a-1 and `seed`-b-1."""

    kind: Literal["to_front_and_back"] = "to_front_and_back"
    clip: Annotated[str, Field(max_length=64)]
    frame: Annotated[int, Field(ge=0)]
    seed: Annotated[Id, Field(max_length=50)]
    length: Annotated[int, Field(ge=2, le=100_000)] = 75
    way: Annotated[int, Field(ge=1, le=1000)] = 16
    fits: bool = False
    """Less long where the clip ends before, if that leaves room for both ways."""
    ease: Ease = Strengths(start=0.5, end=0.5)


@rule(ArrangeClips)
def arrange_clips(project: Project, edit: ArrangeClips) -> tuple[Project, str]:
    clips = [clip_of(project, id) for id in dict.fromkeys(edit.clips)]
    blind = next((clip for clip in clips if clip.content.kind in ("sound", "treatment")), None)
    if blind is not None:
        raise EditError(f"“{blind.name}” has no picture of its own; nothing was arranged.")
    if len(clips) > 1 and edit.arrangement in ONE:
        raise EditError(f"“{edit.arrangement}” is for one picture; take one in hand, or choose a row or a grid.")
    if len(clips) == 1 and edit.arrangement not in ONE:
        raise EditError("One picture can't be shared out among cells; take more in hand, or choose an inset or a half.")
    if len(clips) > MOST_CELLS:
        raise EditError(f"More than {MOST_CELLS} pictures can't be told apart in one frame; nothing was arranged.")
    width, height = project.settings.width, project.settings.height
    margin, gutter = round(edit.margin), round(edit.gutter)
    cells = cells_of(edit.arrangement, len(clips), width, height, margin, gutter, edit.corner, edit.share)
    if any(cell.width < 8 or cell.height < 8 for cell in cells):
        raise EditError("With such margins and gutters nothing is left of the cells; nothing was arranged.")
    if len(clips) > 1:
        project, clips = _together(project, clips)
    made = [_celled(edit, clip, cell, place, len(clips)) for place, (clip, cell) in enumerate(zip(clips, cells))]
    return with_clips(project, made), f"{edit.arrangement} of {named(made)}"


def _together(project: Project, clips: list[Clip]) -> tuple[Project, list[Clip]]:
    """Clips that are there at the same time: those that are not are laid over one another."""
    begins, ends = max(clip.head for clip in clips), min(clip.end for clip in clips)
    if ends - begins >= 2 and len({clip.track for clip in clips}) == len(clips):
        return project, clips
    head = min(clip.head for clip in clips)
    length = min(clip.length for clip in clips)
    ids = {clip.id for clip in clips}
    rest = project.model_copy(update={"clips": {id: each for id, each in project.clips.items() if id not in ids}})
    within = next(track.within for track in project.tracks if track.id == clips[0].track)
    used: set[str] = set()
    made = []
    own = list(dict.fromkeys(clip.track for clip in clips))
    for clip in clips:
        track = next((id for id in own if id not in used and has_room(rest, id, head, head + length)), None)
        if track is None:
            # Beside their own, so that words that lie over them still do.
            place = min(number for number, each in enumerate(rest.tracks) if each.id in own)
            rest, track = with_new_track(rest, False, place, within)
            own.append(track)
        used.add(track)
        made.append(
            clip.model_copy(update={"head": head, "length": length, "track": track, "opening": None, "closing": None})
        )
    return rest.model_copy(update={"clips": {**rest.clips, **{clip.id: clip for clip in made}}}), made


def _turn(edit: ArrangeClips, place: int, count: int) -> int:
    """How many go before the picture at a place."""
    if edit.order == "from the middle":
        return sorted(range(count), key=lambda each: (abs(2 * each - count + 1), each)).index(place)
    return count - 1 - place if edit.order == "last to first" else place


def _celled(edit: ArrangeClips, clip: Clip, cell: CellRect, place: int, count: int) -> Clip:
    comes = edit.comes or ("the whole frame" if count == 1 else "beyond the edge")
    late = min(_turn(edit, place, count) * edit.apart, max(0, clip.length - 2))
    values: dict[str, Property] = {
        "share": _share(edit, clip, late),
        **{name: Fixed(value=float(value)) for name, value in cell._asdict().items()},
    }
    values |= {name: Fixed(value=given) for name in _LOOKS if (given := getattr(edit, name)) is not None}
    old = next((step for step in clip.steps if step.kind == CELL.kind), None)
    if old is not None:
        # Arranged anew it keeps the detail that was picked, and how its edge looks.
        values = {**{name: old.values[name] for name in (*_DETAIL, *_LOOKS) if name in old.values}, **values}
    kept = [step for step in clip.steps if step.kind != CELL.kind and step.id != _SHADOW]
    taken = {step.id for step in kept}
    id = (
        old.id
        if old is not None
        else next(name for n in range(200) if (name := f"cell-{n}" if n else "cell") not in taken)
    )
    steps = [*kept, Step(id=id, kind=CELL.kind, values=values, choices={"comes": comes})]
    if edit.shadow:
        steps.append(
            Step(id=_SHADOW, kind=SHADOW.kind, values={name: Fixed(value=each) for name, each in _SOFT.items()})
        )
    if len(steps) > 100:
        raise EditError(f"“{clip.name}” already has 100 steps; nothing was arranged.")
    return clip.model_copy(update={"steps": tuple(steps)})


_SHADOW = "cell-shadow"
_SOFT = {"distance": 8.0, "blur": 14.0, "strength": 0.5, "angle": 90.0}
_DETAIL = ("zoom", "detail_x", "detail_y", "colour")
_LOOKS = ("radius", "outline")


def _share(edit: ArrangeClips, clip: Clip, late: int) -> Property:
    keys = []
    last = clip.length - 1
    # Where both have no room each has half of it.
    way = min(edit.length, max(1, (last - late) // (2 if edit.arrives and edit.departs else 1)))
    if edit.arrives and last > 0:
        begins = min(late, last - 1)
        keys += [Key(at=float(begins), value=0.0, ease=edit.ease), Key(at=float(min(last, begins + way)), value=1.0)]
    if edit.departs and last > 0:
        keys += [
            Key(counts_from="tail", at=float(-way), value=1.0, ease=edit.ease),
            Key(counts_from="tail", at=0.0, value=0.0),
        ]
    if not keys:
        return Fixed(value=1)
    shifted = [
        key.model_copy(update={"at": key.at + clip.skipped}) if key.counts_from == "head" else key for key in keys
    ]
    return Moving(keys=tuple(shifted))


@rule(ToFrontAndBack)
def to_front_and_back(project: Project, edit: ToFrontAndBack) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    step = next((each for each in clip.steps if each.kind == CELL.kind), None)
    if step is None:
        raise EditError(f"“{clip.name}” stands in no cell; arrange it first. Nothing was changed.")
    first = edit.frame - clip.head
    room = clip.length - 1 - first
    if edit.fits and 2 * edit.way <= room < edit.length:
        edit = edit.model_copy(update={"length": room})
    if first < 1 or edit.length > room:
        raise EditError(
            f"Coming forward and going back takes {edit.length} frames; “{clip.name}” has {max(0, room)} left from "
            f"here on. Nothing was changed. Go to its frame {max(1, clip.length - 1 - edit.length)}, or make it longer."
            if first >= 1
            else f"“{clip.name}” does not begin before this frame; nothing was changed. Go to a later one."
        )
    # A part of its own: before and after, the clip stands in its cell as it did, and came as it came.
    project, _ = split_clips(project, SplitClips(clips=(clip.id,), frame=edit.frame, seed=f"{edit.seed}-a"))
    middle = f"{edit.seed}-a-1"
    end = edit.frame + edit.length
    project, _ = split_clips(project, SplitClips(clips=(middle,), frame=end, seed=f"{edit.seed}-b"))
    part = project.clips[middle]
    way = min(edit.way, part.length // 2)
    last = part.length - 1
    places = {0: 1.0, way: 0.0, max(way, last - way): 0.0, last: 1.0}
    keys = tuple(Key(at=float(at + part.skipped), value=value, ease=edit.ease) for at, value in sorted(places.items()))
    values = {**step.values, "share": Moving(keys=keys)}
    made = step.model_copy(update={"values": values, "choices": {**step.choices, "comes": "the whole frame"}})
    steps = tuple(made if each.id == step.id else each for each in part.steps)
    after = with_clips(project, [part.model_copy(update={"steps": steps})])
    return _above(after, middle), f"{clip.name} comes forward and goes back"


def _above(project: Project, id: str) -> Project:
    """A clip on top of all pictures that are there with it."""
    clip = project.clips[id]
    within = next(track.within for track in project.tracks if track.id == clip.track)
    own = [track.id for track in project.tracks if track.within == within]
    over = own[: own.index(clip.track)]
    kinds = ("footage", "still", "generated", "shape", "plain", "group")
    met = [each for each in project.clips.values() if each.track in over and _meet(each, clip)]
    met = [each for each in met if each.content.kind in kinds]
    if not met:
        return project
    return laid_above(project, id, min(met, key=lambda each: own.index(each.track)).id)


def laid_above(project: Project, id: str, other: str) -> Project:
    """A clip over another of its timeline: on the lowest track above it that has room, or on a new one; as it is if it
    lies over it already."""
    clip, order = project.clips[id], list(project.tracks)
    within = next(track.within for track in order if track.id == clip.track)
    own = [track.id for track in order if track.within == within]
    under = own.index(project.clips[other].track)
    if own.index(clip.track) < under:
        return project
    free = next((track for track in own[:under][::-1] if has_room(project, track, clip.head, clip.end)), None)
    if free is None:
        place = next(number for number, track in enumerate(order) if track.id == own[under])
        project, free = with_new_track(project, False, place, within)
    return with_clips(project, [clip.model_copy(update={"track": free})])


def _meet(one: Clip, other: Clip) -> bool:
    return one.head < other.end and other.head < one.end
