"""Documents to rows and back."""

from __future__ import annotations

import json

from pydantic import TypeAdapter
from pymysql.cursors import DictCursor

from ..core.clock import Rate
from ..core.motion import Property
from ..core.project.difference import Difference
from ..core.project.model import Clip, Content, Media, Project, Settings, Step, Track

_content = TypeAdapter(Content)
_property = TypeAdapter(Property)
_properties = TypeAdapter(dict[str, Property])


def read_project(cursor: DictCursor, project: str) -> tuple[Project, int] | None:
    """The document and its revision, or None."""
    cursor.execute("SELECT * FROM projects WHERE id = %s", (project,))
    row = cursor.fetchone()
    if row is None:
        return None
    settings = Settings(name=row["name"], width=row["width"], height=row["height"],
                        rate=Rate(num=row["rate_num"], den=row["rate_den"]), background=row["background"])
    cursor.execute("SELECT id, name FROM tracks WHERE project = %s ORDER BY place", (project,))
    tracks = tuple(Track(**each) for each in cursor.fetchall())
    cursor.execute("SELECT * FROM media WHERE project = %s", (project,))
    media = {each["id"]: _media(each) for each in cursor.fetchall()}
    cursor.execute("SELECT * FROM steps WHERE project = %s ORDER BY clip, place", (project,))
    steps: dict[str, list[Step]] = {}
    for each in cursor.fetchall():
        steps.setdefault(each["clip"], []).append(Step(
            id=each["id"], kind=each["kind"], on=bool(each["is_on"]), mix=_property.validate_json(each["mix"]),
            values=_properties.validate_json(each["properties"])))
    cursor.execute("SELECT * FROM clips WHERE project = %s", (project,))
    clips = {
        each["id"]: Clip(
            **{name: each[name] for name in ("id", "track", "name", "head", "length", "arrival", "departure")},
            content=_content.validate_json(each["content"]), steps=tuple(steps.get(each["id"], ())))
        for each in cursor.fetchall()
    }
    return Project(settings=settings, tracks=tracks, media=media, clips=clips), row["revision"]


def _media(row: dict) -> Media:
    names = ("id", "name", "kind", "hash", "path", "width", "height", "frames")
    return Media(**{name: row[name] for name in names}, alpha=bool(row["alpha"]), rate=Rate(num=row["rate_num"], den=row["rate_den"]))


def write_settings(cursor: DictCursor, project: str, settings: Settings) -> None:
    cursor.execute(
        "UPDATE projects SET name = %s, width = %s, height = %s, rate_num = %s, rate_den = %s, background = %s WHERE id = %s",
        (settings.name, settings.width, settings.height, settings.rate.num, settings.rate.den, settings.background, project))


def write_difference(cursor: DictCursor, project: str, change: Difference) -> None:
    """Write only the parts that changed."""
    if change.settings:
        write_settings(cursor, project, change.settings)
    if change.tracks is not None:
        cursor.execute("DELETE FROM tracks WHERE project = %s", (project,))
        cursor.executemany("INSERT INTO tracks (project, id, place, name) VALUES (%s, %s, %s, %s)",
                           [(project, track.id, place, track.name) for place, track in enumerate(change.tracks)])
    _delete(cursor, "media", project, [*change.media_gone, *change.media])
    cursor.executemany(
        "INSERT INTO media (project, id, name, kind, alpha, hash, path, width, height, rate_num, rate_den, frames)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [(project, item.id, item.name, item.kind, item.alpha, item.hash, item.path, item.width, item.height, item.rate.num, item.rate.den,
          item.frames) for item in change.media.values()])
    # Deleting a clip deletes its steps with it.
    _delete(cursor, "clips", project, [*change.clips_gone, *change.clips])
    cursor.executemany(
        "INSERT INTO clips (project, id, track, name, head, length, arrival, departure, content)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [(project, clip.id, clip.track, clip.name, clip.head, clip.length, clip.arrival, clip.departure,
          clip.content.model_dump_json()) for clip in change.clips.values()])
    cursor.executemany(
        "INSERT INTO steps (project, clip, id, place, kind, is_on, mix, properties) VALUES (%s, %s, %s, %s, %s, %s, %s, %s)",
        [(project, clip.id, step.id, place, step.kind, step.on, step.mix.model_dump_json(),
          json.dumps({name: prop.model_dump(mode="json") for name, prop in step.values.items()}))
         for clip in change.clips.values() for place, step in enumerate(clip.steps)])


def _delete(cursor: DictCursor, table: str, project: str, ids: list[str]) -> None:
    for start in range(0, len(ids), 500):
        some = ids[start:start + 500]
        marks = ", ".join(["%s"] * len(some))
        cursor.execute(f"DELETE FROM {table} WHERE project = %s AND id IN ({marks})", (project, *some))
