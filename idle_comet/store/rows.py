"""Documents to rows and back: one row of JSON for every part."""

from __future__ import annotations

import gc
import json
from contextlib import contextmanager
from typing import Any, Iterable, Iterator, TypeVar

from pydantic import BaseModel, ValidationError
from pymysql.cursors import DictCursor

from ..core.edits.mending import Aside, mended, mended_places
from ..core.project.difference import Difference, whole
from ..core.project.model import Clip, InToOut, KeptLook, Marks, Media, Project, Settings, Track
from ..core.project.upgrade import upgraded
from ..core.project.validity import Invalid, check_groups, check_places
from .before_parts import raw_parts

Part = TypeVar("Part", bound=BaseModel)

SETTINGS, MARKS, RANGE, TRACK, MEDIA, CLIP = "settings", "marks", "range", "track", "media", "clip"
"""The sorts of parts. Of the first three there is one each, under its sort as its id."""


class Found:
    """A document as it was read. `aside` is what had to be left out to read it; `moved` says it stands in older tables
    yet."""

    def __init__(self, project: Project, revision: int, aside: list[Aside], moved: bool) -> None:
        self.project, self.revision, self.aside, self.moved = project, revision, aside, moved


@contextmanager
def _without_collection() -> Iterator[None]:
    """Parts hold no rings of objects. To look for rings again and again while thousands of parts are made takes as
    long as making them (8,000 clips: 3.3 s in place of 1.7)."""
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was:
            gc.enable()


@_without_collection()
def read_project(cursor: DictCursor, project: str) -> Found | None:
    """The document, or None where there is none of this id."""
    cursor.execute("SELECT * FROM projects WHERE id = %s", (project,))
    row = cursor.fetchone()
    if row is None:
        return None
    raw = _raw(cursor, project) if row["in_parts"] else raw_parts(cursor, row)
    aside: list[Aside] = []

    def read(sort: str, model: type[Part], called: str) -> list[Part]:
        made = (_read(model, upgraded(sort, each), called.format(**each), aside) for each in raw.get(sort, []))
        return [each for each in made if each is not None]

    settings, marks = read(SETTINGS, Settings, "The film"), read(MARKS, Marks, "What is marked on the ruler")
    ranges = read(RANGE, InToOut, "The range")
    tracks, media, clips = (
        read(TRACK, Track, "The track “{name}”"),
        read(MEDIA, Media, "“{name}”"),
        read(CLIP, Clip, "“{name}”"),
    )
    found = Project(
        settings=settings[0] if settings else Settings(name=row["name"][:200] or "Film"),
        tracks=tuple(tracks),
        media={item.id: item for item in media},
        clips={clip.id: clip for clip in clips},
        marks=marks[0] if marks else Marks(),
        range=ranges[0] if ranges else InToOut(),
    )
    try:
        check_places(found, found.clips)
        check_groups(found)
    except Invalid:
        found, left = mended_places(found)
        aside.extend(left)
    return Found(found, row["revision"], aside, not row["in_parts"])


def read_looks(cursor: DictCursor) -> list[tuple[str, str, KeptLook]]:
    """The looks that films keep, with the id and the name of the film; the film that changed last first. One that
    can't be read is left out."""
    cursor.execute(
        "SELECT projects.id, projects.name, parts.body FROM parts JOIN projects ON projects.id = parts.project"
        " WHERE parts.sort = %s AND projects.deleted_at IS NULL ORDER BY projects.changed_at DESC, projects.id",
        (SETTINGS,),
    )
    found = []
    for row in cursor.fetchall():
        for look in upgraded(SETTINGS, json.loads(row["body"])).get("looks", ()):
            kept = _read(KeptLook, look, "", [])
            if kept is not None:
                found.append((row["id"], row["name"], kept))
    return found


def read_media(cursor: DictCursor, but: str) -> list[tuple[str, str, Media]]:
    """The media of all films but one, with the id and the name of the film; the film that changed last first. One that
    can't be read is left out."""
    cursor.execute(
        "SELECT projects.id AS film, projects.name, parts.body FROM parts JOIN projects ON projects.id = parts.project"
        " WHERE parts.sort = %s AND projects.id != %s AND projects.deleted_at IS NULL"
        " ORDER BY projects.changed_at DESC, projects.id, parts.place, parts.id",
        (MEDIA, but),
    )
    read = ((row, _read(Media, upgraded(MEDIA, json.loads(row["body"])), "", [])) for row in cursor.fetchall())
    return [(row["film"], row["name"], media) for row, media in read if media is not None]


def _raw(cursor: DictCursor, project: str) -> dict[str, list[dict[str, Any]]]:
    cursor.execute("SELECT sort, body FROM parts WHERE project = %s ORDER BY sort, place, id", (project,))
    found: dict[str, list[dict[str, Any]]] = {}
    for row in cursor.fetchall():
        found.setdefault(row["sort"], []).append(json.loads(row["body"]))
    return found


def _read(model: type[Part], raw: dict[str, Any], owner: str, aside: list[Aside]) -> Part | None:
    """Sound parts cost one validation; only one that is not is mended."""
    try:
        return model.model_validate(raw)
    except ValidationError:
        found, left = mended(model, raw, owner)
        aside.extend(left)
        return found


def rewrite(cursor: DictCursor, project: str, document: Project) -> None:
    """Write a document in place of all that is stored of it."""
    cursor.execute("DELETE FROM parts WHERE project = %s", (project,))
    cursor.execute("UPDATE projects SET in_parts = TRUE WHERE id = %s", (project,))
    write_difference(cursor, project, whole(document))


def write_difference(cursor: DictCursor, project: str, change: Difference) -> None:
    """Write only the parts that changed."""
    if change.settings is not None:
        _write_list_columns(cursor, project, change.settings)
        _put(cursor, project, SETTINGS, [(SETTINGS, change.settings)])
    if change.marks is not None:
        _put(cursor, project, MARKS, [(MARKS, change.marks)])
    if change.range is not None:
        _put(cursor, project, RANGE, [(RANGE, change.range)])
    if change.tracks is not None:
        cursor.execute("DELETE FROM parts WHERE project = %s AND sort = %s", (project, TRACK))
        _put(cursor, project, TRACK, [(track.id, track) for track in change.tracks])
    for sort, put, gone in ((MEDIA, change.media, change.media_gone), (CLIP, change.clips, change.clips_gone)):
        _delete(cursor, project, sort, list(gone))
        _put(cursor, project, sort, put.items())


def _write_list_columns(cursor: DictCursor, project: str, settings: Settings) -> None:
    """What the list of films shows stands in columns too."""
    cursor.execute(
        "UPDATE projects SET name = %s, width = %s, height = %s, rate_num = %s, rate_den = %s, rate_non_drop = %s "
        "WHERE id = %s",
        (
            settings.name,
            settings.width,
            settings.height,
            settings.rate.num,
            settings.rate.den,
            settings.rate.non_drop,
            project,
        ),
    )


def _put(cursor: DictCursor, project: str, sort: str, parts: Iterable[tuple[str, BaseModel]]) -> None:
    rows = [(project, sort, id, place, part.model_dump_json()) for place, (id, part) in enumerate(parts)]
    if rows:
        cursor.executemany(
            "INSERT INTO parts (project, sort, id, place, body) VALUES (%s, %s, %s, %s, %s)"
            " ON DUPLICATE KEY UPDATE body = VALUES(body)" + (", place = VALUES(place)" if sort == TRACK else ""),
            rows,
        )


def _delete(cursor: DictCursor, project: str, sort: str, ids: list[str]) -> None:
    for start in range(0, len(ids), 500):
        some = ids[start : start + 500]
        marks = ", ".join(["%s"] * len(some))
        cursor.execute(
            f"DELETE FROM parts WHERE project = %s AND sort = %s AND id IN ({marks})", (project, sort, *some)
        )
