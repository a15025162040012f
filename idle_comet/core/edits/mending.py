"""Reading stored parts that no longer validate: what is too much is taken out and named, all else is kept.

Works on the raw JSON, before any model is made of it.
"""

from __future__ import annotations

import copy
import json
from typing import Any, NamedTuple, TypeVar

from pydantic import BaseModel, ValidationError

from ..project.model import Project, Track
from ..project.validity import DEEPEST, Invalid, check_groups, said
from .copies import with_room

M = TypeVar("M", bound=BaseModel)
_CUT = ("too_long", "string_too_long")


class Aside(NamedTuple):
    """A part that was set aside: whose it was, why, and the part itself as JSON.

    `why` is empty where it went only because something in it did.
    """

    owner: str
    why: str
    document: str


def mended(model: type[M], raw: dict[str, Any], owner: str) -> tuple[M | None, list[Aside]]:
    """The part without what does not validate, and what was set aside; None when nothing sound is left.

    What is too long is cut to the longest that is allowed; anything else is taken out at the innermost place that
    can do without it.
    """
    aside: list[Aside] = []
    left: Any = copy.deepcopy(raw)
    # Each round takes something out, so it ends; the bound is for a part that is nothing but faults.
    for _ in range(5000):
        try:
            return model.model_validate_json(json.dumps(left)), aside
        except ValidationError as error:
            first = error.errors(include_url=False)[0]
            place = _place(left, first["loc"])
            if not place:
                return None, [Aside(owner, aside[0].why if aside else said(error, owner), json.dumps(raw))]
            holder = left
            for part in place[:-1]:
                holder = holder[part]
            value = holder[place[-1]]
            follows = aside and first["type"] in ("missing", "too_short")
            aside.append(Aside(owner, "" if follows else said(error, owner), json.dumps(value)))
            if first["type"] in _CUT:
                holder[place[-1]] = value[: first["ctx"]["max_length"]]
            else:
                del holder[place[-1]]
    return None, [Aside(owner, f"{owner} can't be read", json.dumps(raw))]


def _place(raw: Any, loc: tuple[int | str, ...]) -> list[Any]:
    """The keys and indexes of an error's place that really are in the document, without the names of union members."""
    path: list[Any] = []
    at, tagged = raw, False
    for part in loc:
        if isinstance(at, dict):
            if not tagged and part in (at.get("kind"), at.get("state")):
                tagged = True
                continue
            if part not in at:
                break
        elif not (isinstance(at, list) and isinstance(part, int) and part < len(at)):
            break
        path.append(part)
        at, tagged = at[part], False
    return path


def _found_again(project: Project) -> tuple[Project, list[Aside]]:
    """Tracks of groups that are not there, or that would hold themselves, as tracks of the film."""
    aside: list[Aside] = []
    while True:
        try:
            check_groups(project)
            return project, aside
        except Invalid as error:
            stray = next(track for track in project.tracks if track.within is not None and _astray(project, track))
            project = project.model_copy(
                update={
                    "tracks": tuple(
                        each.model_copy(update={"within": None}) if each is stray else each for each in project.tracks
                    )
                }
            )
            aside.append(Aside(f"track {stray.id}", f"{error}; it lies on the film's own timeline now", "null"))


def _astray(project: Project, track: Track) -> bool:
    within = {each.id: each.within for each in project.tracks}
    seen: set[str] = set()
    at = track.within
    while at is not None:
        clip = project.clips.get(at)
        if clip is None or clip.content.kind != "group" or at in seen or len(seen) >= DEEPEST:
            return True
        seen.add(at)
        at = within.get(clip.track)
    return False


def mended_places(project: Project) -> tuple[Project, list[Aside]]:
    """The document with every clip on a track that is there, and none over another."""
    aside: list[Aside] = []
    known = {track.id for track in project.tracks}
    for missing in dict.fromkeys(clip.track for clip in project.clips.values() if clip.track not in known):
        project = project.model_copy(update={"tracks": (*project.tracks, Track(id=missing, name="Found again"))})
        aside.append(
            Aside(f"track {missing}", f"The track “{missing}” was missing; its clips lie on a new one", "null")
        )
    project, lost = _found_again(project)
    aside += lost
    over = []
    ends: dict[str, int] = {}
    for clip in sorted(project.clips.values(), key=lambda each: each.head):
        if clip.head < ends.get(clip.track, 0):
            over.append(clip)
        else:
            ends[clip.track] = clip.end
    if over:
        project = with_room(project, over)
        aside += [
            Aside(clip.name, f"“{clip.name}” lay over another clip; it has a place of its own now", "null")
            for clip in over
        ]
    return project, aside
