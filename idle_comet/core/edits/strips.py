"""A picture that gives way to a strip for words, and one that goes to a detail of itself."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..moment.grips import space_of
from ..moment.placed import around_matrix
from ..motion import Fixed, Key, Moving, Property, Strengths, number
from ..motion.outlines import Number
from ..project.model import MAX_TEXT, Clip, Frames, Frozen, Generated, Id, Project, Step, Text
from ..steps import BY_HAND, CELL
from .arranging import ArrangeClips, arrange_clips
from .base import EditError, clip_of, rule, with_clip
from .copies import has_room
from .lanes import with_clips
from .tracks import with_new_track


class MakeStrip(Frozen):
    """A picture gives way to a strip, `share` of the frame high (or, beside it, wide), in which words stand over a
    ground of their own; at its end it takes the frame back. The ground is called `seed`-ground and lies below the
    picture, the words `seed`-words, above it; a strip made anew keeps the words it has."""

    kind: Literal["make_strip"] = "make_strip"
    clip: Id
    seed: Annotated[Id, Field(max_length=50)]
    side: Literal["below", "left", "right"] = "below"
    share: Annotated[float, Field(ge=0.08, le=0.7)] = 0.22
    text: Annotated[str, StringConstraints(max_length=MAX_TEXT)] = "An address\nand a line below it"
    ground: Literal["plain", "gradient", "moving"] = "gradient"
    align: Literal["left", "centre", "right"] = "centre"
    shadow: bool = True
    length: Annotated[int, Field(ge=1, le=1000)] = 20


class ShowDetail(Frozen):
    """A picture in a cell shows a detail there: what is seen at a point of the frame at a frame of the clip comes into
    the middle of the cell, `zoom` times as large as the whole would be."""

    kind: Literal["show_detail"] = "show_detail"
    clip: Id
    frame: Frames
    at: tuple[Number, Number]
    zoom: Annotated[float, Field(ge=0.05, le=50, allow_inf_nan=False)] = 2.0


_TONES = ("#1d1712", "#3a2230", "#6f4a5e")


@rule(MakeStrip)
def make_strip(project: Project, edit: MakeStrip) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    if clip.content.kind in ("sound", "treatment", "text"):
        raise EditError(f"“{clip.name}” is no picture that could give way; nothing was changed.")
    below = edit.side == "below"
    order = ArrangeClips(
        clips=(clip.id,),
        arrangement="strip below" if below else "strip beside",
        corner="upper left" if edit.side == "left" else "upper right",
        share=edit.share,
        shadow=edit.shadow,
        length=edit.length,
    )
    project, _ = arrange_clips(project, order)
    width, height = project.settings.width, project.settings.height
    # The strip's own room, and its middle from the middle of the frame.
    room = (width, height * edit.share) if below else (width * edit.share, height)
    x = {"below": 0.0, "left": (room[0] - width) / 2, "right": (width - room[0]) / 2}[edit.side]
    y = (height - room[1]) / 2 if below else 0.0
    ids = {part: f"{edit.seed}-{part}" for part in ("ground", "words")}
    known = project.clips.get(ids["words"])
    text = known.content.text if known is not None and isinstance(known.content, Text) else edit.text
    project = with_clips(project, (), [id for id in ids.values() if id in project.clips])
    ground = Clip(
        id=ids["ground"], track="none", name="Strip", head=clip.head, length=clip.length, content=_ground(edit.ground)
    )
    project = _laid(project, ground, clip, under=True)
    words = Clip(
        id=ids["words"],
        track="none",
        name=" ".join(text.split())[:60] or "Empty title",
        head=clip.head,
        length=clip.length,
        content=Text(
            text=text,
            size=Fixed(value=round(room[1] * 0.22 if below else room[0] * 0.1, 1)),
            align=edit.align,
            box=Fixed(value=round(room[0] * 0.86, 1)),
        ),
        steps=(Step(id="placement", kind=BY_HAND.kind, values=_coming(edit, clip, x, y)),),
        arrival=min(clip.length, edit.length + 12),
        departure=min(clip.length, edit.length),
    )
    return _laid(project, words, clip, under=False), f"strip for words beside {clip.name}"


def _ground(sort: str) -> Generated:
    values = {name: Fixed(value=tone) for name, tone in zip(("first", "second", "third"), _TONES)}
    if sort == "plain":
        values = {name: Fixed(value=_TONES[1]) for name in values}
    speed = {"speed": Fixed(value=0.05)} if sort == "moving" else {}
    return Generated(pattern="gradient", values={**values, "angle": Fixed(value=0.0), **speed})


def _coming(edit: MakeStrip, clip: Clip, x: float, y: float) -> dict[str, Property]:
    """The words come once there is room for them, and are gone before it closes."""
    late, out = min(edit.length, clip.length // 3), min(edit.length, clip.length // 3)
    ease = Strengths(start=0.1, end=0.7)
    keys = (
        Key(at=float(late) - min(6, late), value=0.0, ease=ease),
        Key(at=float(late + 8), value=1.0),
        Key(counts_from="tail", at=float(-out), value=1.0, ease=ease),
        Key(counts_from="tail", at=float(-max(0, out - 10)), value=0.0),
    )
    return {"opacity": Moving(keys=keys), "x": Fixed(value=round(x, 1)), "y": Fixed(value=round(y, 1))}


def _laid(project: Project, clip: Clip, beside: Clip, under: bool) -> Project:
    """A clip on a track right under or over another's, of that timeline, with room for it; else on a new one."""
    order = [track.id for track in project.tracks]
    within = next(track.within for track in project.tracks if track.id == beside.track)
    own = [track.id for track in project.tracks if track.within == within]
    place = own.index(beside.track) + (1 if under else -1)
    if 0 <= place < len(own) and has_room(project, own[place], clip.head, clip.end):
        return with_clips(project, [clip.model_copy(update={"track": own[place]})])
    at = order.index(beside.track) + (1 if under else 0)
    project, track = with_new_track(project, not under, at, within)
    return with_clips(project, [clip.model_copy(update={"track": track})])


@rule(ShowDetail)
def show_detail(project: Project, edit: ShowDetail) -> tuple[Project, str]:
    clip = clip_of(project, edit.clip)
    place = next((number for number, step in enumerate(clip.steps) if step.kind == CELL.kind), None)
    if place is None:
        raise EditError(f"“{clip.name}” stands in no cell; arrange it first. Nothing was changed.")
    space = space_of(project, clip, place - 1, edit.frame)
    if space is None:
        raise EditError(f"“{clip.name}” is not there at this frame; nothing was changed.")
    standing, matrix = space[0], around_matrix(project, clip, edit.frame) @ space[1]
    if abs(matrix.scale) < 1e-9:
        raise EditError(f"“{clip.name}” has no size at this frame; nothing was changed.")
    x, y = matrix.inverse().map(*edit.at)
    box = standing.box
    step = clip.steps[place]
    detail = {"detail_x": x - (box.x0 + box.x1) / 2, "detail_y": y - (box.y0 + box.y1) / 2, "zoom": edit.zoom}
    values = {**step.values, **{name: Fixed(value=round(number(value), 3)) for name, value in detail.items()}}
    steps = tuple(each.model_copy(update={"values": values}) if each is step else each for each in clip.steps)
    return with_clip(project, clip.model_copy(update={"steps": steps})), f"detail of {clip.name}"
