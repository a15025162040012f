"""Ensembles: recipes of several clips, made of clips in hand, laid into a film, and filled in."""

from __future__ import annotations

from typing import Annotated, Callable, Iterable, Literal, Mapping

from pydantic import Field, StringConstraints

from ..contents import BY_NAME, WITH_MEDIA, parameters_of, property_in
from ..moment.course import visible_spans
from ..motion import Fixed, Property, number
from ..project.address import CONTENT, NotThere, Place, place_at, places, put, step_at
from ..project.model import (
    MAX_TEXT,
    Clip,
    Footage,
    Frames,
    Frozen,
    Id,
    Media,
    Project,
    Settings,
    Shape,
    Sound,
    Step,
    Still,
    Text,
    Track,
)
from ..project.retiming import retiming, steady_speed
from ..project.source import source_length
from ..project.timeline import groups_around, timeline_of
from ..project.validity import Invalid, check_whole
from ..recipes.ensemble import Ensemble, EnsembleSort, Part
from ..steps import CELL
from .base import EditError, clip_of, rule
from .copies import has_room
from .insides import relooked
from .lanes import with_clips
from .reframing import reframed
from .text import ChangeText, change_text
from .values import check_value

Fills = dict[Annotated[str, StringConstraints(max_length=40)], Annotated[str, StringConstraints(max_length=MAX_TEXT)]]
_Seed = Annotated[Id, Field(max_length=48)]


class UseEnsemble(Frozen):
    """An ensemble from a frame on, `length` frames long where it can be stretched; its clips are called `seed`-1 and so
    on. `fills` are by the names of its parts: words, colours, or media of the film. What is seen lies on tracks of its
    own above all that is there, what is heard below, where it can on tracks that another has left room on."""

    kind: Literal["use_ensemble"] = "use_ensemble"
    ensemble: Ensemble
    frame: Frames
    seed: _Seed
    length: Annotated[int, Field(ge=1, le=10_000_000)] | None = None
    fills: Fills = {}


class FillEnsemble(Frozen):
    """Parts of an ensemble that was laid under this seed, filled in anew. What is gone is left out."""

    kind: Literal["fill_ensemble"] = "fill_ensemble"
    ensemble: Ensemble
    seed: _Seed
    fills: Fills


def ensemble_of(project: Project, ids: list[str], id: str, name: str, sort: EnsembleSort, note: str = "") -> Ensemble:
    """Clips of one timeline, with all that they hold and use, as an ensemble: their words, colours, pictures and sounds
    can be filled in. From where the last has arrived to where the first departs it may be stretched."""
    clips = [clip_of(project, each) for each in dict.fromkeys(ids)]
    within = timeline_of(project, clips[0])
    stray = next((clip for clip in clips if timeline_of(project, clip) != within), None)
    if stray is not None:
        raise EditError(f"“{stray.name}” lies on another timeline than “{clips[0].name}”; nothing was kept.")
    head = min(clip.head for clip in clips)
    chosen = {clip.id for clip in clips}
    inside = {
        clip.id: clip
        for clip in project.clips.values()
        if clip.id in chosen or any(group.id in chosen for group in groups_around(project, clip))
    }
    tracks = []
    for track in project.tracks:
        if any(clip.track == track.id for clip in inside.values()):
            own = track.within if track.within in inside else None
            tracks.append(track.model_copy(update={"within": own, "locked": False, "captions": None}))
    film_clips = {
        clip.id: _by_itself(clip, inside).model_copy(update={"head": clip.head - (head if clip.id in chosen else 0)})
        for clip in inside.values()
    }
    media = {used: project.media[used] for used in _used(film_clips.values()) if used in project.media}
    settings = project.settings
    film = Project(
        settings=Settings(name=name, width=settings.width, height=settings.height, rate=settings.rate),
        tracks=tuple(tracks),
        media=media,
        clips=film_clips,
    )
    made = Ensemble(id=id, name=name, sort=sort, note=note, film=film, parts=tuple(_parts(film)))
    seen = [clip for clip in clips if clip.content.kind != "sound"] or clips
    arrived = max(clip.head - head + visible_spans(clip)[0] for clip in seen)
    departs = min(clip.end - head - visible_spans(clip)[1] for clip in seen)
    stretches = departs - arrived >= 2
    edges = {"head": arrived, "tail": made.length - departs} if stretches else {"head": made.length, "tail": 0}
    return made.model_copy(update={**edges, "stretches": stretches})


def _by_itself(clip: Clip, inside: Mapping[str, Clip]) -> Clip:
    """A clip without what only its film has: its palette, its type styles, what it is attached to outside."""
    content = clip.content
    if isinstance(content, Text) and content.type_style is not None:
        content = content.model_copy(update={"type_style": None})
    return clip.model_copy(
        update={"content": content, "palette": {}, "rides": clip.rides if clip.rides in inside else None}
    )


def _used(clips: Iterable[Clip]) -> list[str]:
    found: list[str] = []
    for clip in clips:
        if isinstance(clip.content, WITH_MEDIA):
            found.append(clip.content.media)
        found += [step.media for step in clip.steps if step.media]
    return list(dict.fromkeys(found))


def _parts(film: Project) -> list[Part]:
    """Every text, picture and sound, and each colour with all of its places."""
    made: list[Part] = []
    counts: dict[str, int] = {}

    def add(kind: Literal["words", "picture", "sound"], clip: Clip, value: str) -> None:
        counts[kind] = counts.get(kind, 0) + 1
        made.append(Part(name=f"{kind} {counts[kind]}", kind=kind, value=value, places=(clip.id,)))

    for clip in sorted(film.clips.values(), key=lambda each: (each.head, each.id)):
        if isinstance(clip.content, Text):
            add("words", clip, clip.content.text[:2000])
        elif isinstance(clip.content, (Footage, Still)):
            add("picture", clip, clip.content.media)
        elif isinstance(clip.content, Sound):
            add("sound", clip, clip.content.media)
    colours: dict[str, list[str]] = {}
    for clip in film.clips.values():
        for place in places(clip):
            if place.parameter.sort == "colour" and place.property.state == "fixed" and _is_set(clip, place):
                colours.setdefault(str(place.property.value), []).append(
                    f"{clip.id}:{place.owner}.{place.parameter.name}"
                )
    made += [
        Part(name=f"colour {number}", kind="colour", value=value, places=tuple(found[:60]))
        for number, (value, found) in enumerate(colours.items(), 1)
    ]
    return made[:60]


def _is_set(clip: Clip, place: Place) -> bool:
    """Whether a value of a clip's content or of a step was ever set."""
    name = place.parameter.name
    if place.owner == CONTENT:
        return not isinstance(clip.content, BY_NAME) or name in clip.content.values
    return "/" not in place.owner and name in step_at(clip, place.owner).values


@rule(UseEnsemble)
def use_ensemble(project: Project, edit: UseEnsemble) -> tuple[Project, str]:
    ensemble = edit.ensemble
    if not ensemble.film.clips:
        raise EditError(f"“{ensemble.name}” holds no clips; nothing was added.")
    try:
        check_whole(ensemble.film)
    except Invalid as error:
        raise EditError(f"“{ensemble.name}” can't be laid in: {error}; nothing was added.") from None
    settings = project.settings
    film = reframed(ensemble.film, settings.width, settings.height, settings.rate)
    film, media = _with_media(project, film)
    time = settings.rate.fraction / ensemble.film.settings.rate.fraction
    head, tail, own = (round(each * time) for each in (ensemble.head, ensemble.tail, ensemble.length))
    if edit.length is not None and edit.length != own:
        if not ensemble.stretches:
            raise EditError(f"“{ensemble.name}” lasts {own} frames and can't be stretched; nothing was added.")
        if edit.length < head + tail + 1:
            raise EditError(
                f"“{ensemble.name}” needs {head + tail + 1} frames at least to come and to go; nothing was added."
            )
        film = _stretched(film, head, own - tail, own, edit.length)
    names = {id: f"{edit.seed}-{number}" for number, id in enumerate(film.clips, 1)}
    taken = next((id for id in names.values() if id in project.clips), None)
    if taken:
        raise EditError(f"There is already a clip “{taken}”; nothing was added.")
    project = project.model_copy(update={"media": {**project.media, **media}})
    project = _laid(project, film, names, edit)
    return _filled(project, ensemble, names, edit.fills), f"add {ensemble.name}"


@rule(FillEnsemble)
def fill_ensemble(project: Project, edit: FillEnsemble) -> tuple[Project, str]:
    names = {id: f"{edit.seed}-{number}" for number, id in enumerate(edit.ensemble.film.clips, 1)}
    if not any(id in project.clips for id in names.values()):
        raise EditError(f"“{edit.ensemble.name}” is not in this film any more; nothing was changed.")
    return _filled(project, edit.ensemble, names, edit.fills), f"fill in {', '.join(edit.fills)}"[:190]


def _with_media(project: Project, film: Project) -> tuple[Project, dict[str, Media]]:
    """The small film with its media under ids of the film it goes into, and those media that are new there."""
    known = {media.hash: media.id for media in project.media.values()}
    ids: dict[str, str] = {}
    new: dict[str, Media] = {}
    for media in film.media.values():
        if media.hash in known:
            ids[media.id] = known[media.hash]
            continue
        id, number = media.id, 2
        while id in project.media or id in new:
            id, number = f"{media.id[:56]}-{number}", number + 1
        ids[media.id] = id
        new[id] = media.model_copy(update={"id": id})
    clips = {}
    for clip in film.clips.values():
        content = clip.content
        if isinstance(content, WITH_MEDIA):
            content = content.model_copy(update={"media": ids.get(content.media, content.media)})
        steps = tuple(step.model_copy(update={"media": ids.get(step.media or "", step.media)}) for step in clip.steps)
        clips[clip.id] = clip.model_copy(update={"content": content, "steps": steps})
    return film.model_copy(update={"clips": clips, "media": {**project.media, **new}}), new


def _stretched(film: Project, head: int, tail: int, own: int, length: int) -> Project:
    """The small film made as long: what lies between two of its frames is stretched, the rest moves along."""
    share = (length - head - (own - tail)) / max(1, tail - head)

    def moved(frame: float) -> float:
        if frame <= head:
            return frame
        if frame >= tail:
            return frame + length - own
        return head + (frame - head) * share

    made = {}
    for clip in film.clips.values():
        begins, was = _offset(film, clip, lambda frame: frame), _offset(film, clip, moved)
        first, end = round(moved(clip.head + begins) - was), round(moved(clip.end + begins) - was)
        content, longest = clip.content, None
        speed = retiming(clip).fixed if isinstance(content, (Sound, Footage)) else None
        if isinstance(content, (Sound, Footage)) and speed is not None and speed > 0:
            longest = int((source_length(film, content) - content.start) / speed) or None
        lasts = max(1, end - first)
        lasts = min(lasts, max(clip.length, longest)) if longest is not None else lasts
        if isinstance(content, Sound) and clip.end + begins <= tail:
            # What is heard is not stretched, but for a bed that goes through.
            lasts = clip.length
        made[clip.id] = clip.model_copy(update={"head": max(0, first), "length": lasts})
    return film.model_copy(update={"clips": made})


def _offset(film: Project, clip: Clip, moved: Callable[[float], float]) -> float:
    """From frames of the timeline a clip lies on to those of the small film, where groups around it begin."""
    return sum(
        moved(group.head) - group.content.start for group in groups_around(film, clip) if group.content.kind == "group"
    )


def _laid(project: Project, film: Project, names: dict[str, str], edit: UseEnsemble) -> Project:
    """Clips of the small film on tracks of the film: pictures on new ones above all, sounds on such as an ensemble has
    used before, where there is room, else on new ones below all."""
    frame, seed, recipe = edit.frame, edit.seed, edit.ensemble.id
    tracks: dict[str, str] = {}
    above: list[Track] = []
    below: list[Track] = []
    inner: list[Track] = []
    used = {track.id for track in project.tracks}
    for count, track in enumerate(film.tracks, 1):
        id = f"{seed}-track-{count}"
        if id in used:
            raise EditError(f"There is already a track “{id}”; nothing was added.")
        own = [clip for clip in film.clips.values() if clip.track == track.id]
        if not own:
            continue
        tracks[track.id] = id
        made = track.model_copy(update={"id": id, "within": names.get(track.within or "")})
        if track.within is not None:
            inner.append(made)
            continue
        heard = all(clip.content.kind == "sound" for clip in own)
        found = _free(project, track, own, frame) if heard else None
        if found is not None:
            tracks[track.id] = found
        else:
            (below if heard else above).append(made)
    project = project.model_copy(update={"tracks": (*above, *project.tracks, *below, *inner)})
    copies = []
    for clip in film.clips.values():
        within = next(track.within for track in film.tracks if track.id == clip.track)
        copies.append(
            relooked(clip, names).model_copy(
                update={
                    "id": names[clip.id],
                    "track": tracks[clip.track],
                    "head": clip.head + (frame if within is None else 0),
                    "rides": names.get(clip.rides or ""),
                    "recipe": recipe,
                }
            )
        )
    return with_clips(project, copies)


def _free(project: Project, track: Track, clips: list[Clip], frame: int) -> str | None:
    """A track of that name which has room for all of these."""
    for each in project.tracks:
        if each.name == track.name and each.within is None and not each.locked:
            if all(has_room(project, each.id, clip.head + frame, clip.end + frame) for clip in clips):
                return each.id
    return None


def _filled(project: Project, ensemble: Ensemble, names: dict[str, str], fills: Fills) -> Project:
    known = {part.name for part in ensemble.parts}
    strange = next((name for name in fills if name not in known), None)
    if strange is not None:
        raise EditError(f"“{ensemble.name}” has no part “{strange}”; nothing was changed.")
    for part in ensemble.parts:
        if part.name not in fills:
            continue
        for place in part.places:
            id, _, value = place.partition(":")
            clip = project.clips.get(names.get(id, ""))
            if clip is not None:
                project = _filled_in(project, clip, part, value, fills[part.name])
    return project


def _filled_in(project: Project, clip: Clip, part: Part, place: str, value: str) -> Project:
    if part.kind == "words":
        return change_text(project, ChangeText(clip=clip.id, text=value))[0]
    if part.kind in ("picture", "sound"):
        return with_clips(project, [_shown(project, clip, part, value)])
    owner, _, name = place.rpartition(".")
    try:
        parameter = place_at(clip, owner, name).parameter
    except NotThere:
        return project
    check_value(parameter, value)
    return with_clips(project, [put(clip, owner, name, Fixed(value=value))])


def _shown(project: Project, clip: Clip, part: Part, id: str) -> Clip:
    """The clip with another picture or sound of the film in the place of its own."""
    media = project.media.get(id)
    if media is None:
        raise EditError(f"There is no picture or sound “{id}” in this film; nothing was changed.")
    content = clip.content
    if (part.kind == "sound") != (media.kind == "sound") or media.kind in ("table", "model"):
        raise EditError(f"“{media.name}” is no {part.kind}; nothing was changed.")
    if isinstance(content, Sound):
        made = content.model_copy(update={"media": id, "hits": (), "levels": ()})
        lasts = int((source_length(project, made) - made.start) / steady_speed(made))
        return clip.model_copy(update={"content": made, "length": max(1, min(clip.length, lasts)), "name": media.name})
    fit = content.fit if isinstance(content, (Footage, Still)) else "fill"
    if isinstance(content, Shape):
        # A picture in the place of a shape is whole in the room that it took.
        clip = _in_its_room(project, clip, content)
    if media.kind == "still":
        return clip.model_copy(update={"content": Still(media=id, fit=fit), "name": media.name})
    # Of a clip that was cut it shows what the clips before it have left.
    shot = Footage(media=id, fit=fit, start=float(clip.skipped))
    lasts = max(1, min(clip.length, source_length(project, shot) - clip.skipped))
    return clip.model_copy(update={"content": shot, "length": lasts, "name": media.name})


_ROOM = "room"


def _in_its_room(project: Project, clip: Clip, content: Shape) -> Clip:
    now = {each.name: property_in(content, each) for each in parameters_of(content)}
    x, y, width, height = (
        number(prop.value) if (prop := now[name]).state == "fixed" else 0.0 for name in ("x", "y", "width", "height")
    )
    values: dict[str, Property] = {
        "x": Fixed(value=project.settings.width / 2 + x - width / 2),
        "y": Fixed(value=project.settings.height / 2 + y - height / 2),
        "width": Fixed(value=max(1.0, width)),
        "height": Fixed(value=max(1.0, height)),
        "share": Fixed(value=1.0),
    }
    room = Step(id=_ROOM, kind=CELL.kind, values=values, choices={"fills": "as it is"})
    return clip.model_copy(update={"steps": (room, *(step for step in clip.steps if step.id != _ROOM))[:100]})
