"""Documents to rows and back."""

from __future__ import annotations

import json

from pydantic import TypeAdapter
from pymysql.cursors import DictCursor

from ..core.clock import Rate
from ..core.motion import Property
from ..core.project.difference import Difference
from ..core.project.model import Clip, Content, Marks, Media, Project, Settings, Shutter, Step, Track, Transition, Units

_content = TypeAdapter(Content)
_property = TypeAdapter(Property)
_properties = TypeAdapter(dict[str, Property])
_transition = TypeAdapter(Transition | None)
_shutter = TypeAdapter(Shutter | None)
_units = TypeAdapter(Units | None)

_CLIP_COLUMNS = ("id", "track", "name", "head", "length", "arrival", "departure", "skipped", "cut_off", "seen", "rides", "recipe")
"""Columns of a clip that are its fields as they stand."""


def read_project(cursor: DictCursor, project: str) -> tuple[Project, int] | None:
    """The document and its revision, or None."""
    cursor.execute("SELECT * FROM projects WHERE id = %s", (project,))
    row = cursor.fetchone()
    if row is None:
        return None
    settings = Settings(name=row["name"], width=row["width"], height=row["height"],
                        rate=Rate(num=row["rate_num"], den=row["rate_den"], non_drop=bool(row["rate_non_drop"])), background=row["background"],
                        shutter=json.loads(row["shutter"]), eases=json.loads(row["eases"]),
                        palette=json.loads(row["palette"]), type_styles=json.loads(row["type_styles"]))
    cursor.execute("SELECT id, name, hidden, locked, height FROM tracks WHERE project = %s ORDER BY place", (project,))
    tracks = tuple(Track(**each) for each in cursor.fetchall())
    cursor.execute("SELECT * FROM media WHERE project = %s", (project,))
    media = {each["id"]: _media(each) for each in cursor.fetchall()}
    cursor.execute("SELECT * FROM steps WHERE project = %s ORDER BY clip, place", (project,))
    steps: dict[str, list[Step]] = {}
    for each in cursor.fetchall():
        steps.setdefault(each["clip"], []).append(Step(
            id=each["id"], kind=each["kind"], on=bool(each["is_on"]), since=each["since"], until=each["until"], mix=_property.validate_json(each["mix"]),
            values=_properties.validate_json(each["properties"]), choices=json.loads(each["choices"]), units=_units.validate_json(each["units"]),
            drawing=each["drawing"], media=each["media"]))
    cursor.execute("SELECT * FROM clips WHERE project = %s", (project,))
    clips = {
        each["id"]: Clip(
            **{name: each[name] for name in _CLIP_COLUMNS}, content=_content.validate_json(each["content"]), steps=tuple(steps.get(each["id"], ())),
            opening=_transition.validate_json(each["opening"]), closing=_transition.validate_json(each["closing"]),
            shutter=_shutter.validate_json(each["shutter"]), palette=json.loads(each["palette"]))
        for each in cursor.fetchall()
    }
    marks = Marks.model_validate_json(row["marks"])
    return Project(settings=settings, tracks=tracks, media=media, clips=clips, marks=marks), row["revision"]


def _media(row: dict) -> Media:
    names = ("id", "name", "kind", "hash", "path", "width", "height", "frames")
    return Media(**{name: row[name] for name in names}, alpha=bool(row["alpha"]), rate=Rate(num=row["rate_num"], den=row["rate_den"]))


def write_settings(cursor: DictCursor, project: str, settings: Settings) -> None:
    cursor.execute(
        "UPDATE projects SET name = %s, width = %s, height = %s, rate_num = %s, rate_den = %s, rate_non_drop = %s, background = %s, shutter = %s, eases = %s,"
        " palette = %s, type_styles = %s"
        " WHERE id = %s",
        (settings.name, settings.width, settings.height, settings.rate.num, settings.rate.den, settings.rate.non_drop, settings.background,
         settings.shutter.model_dump_json(), *(json.dumps([each.model_dump(mode="json") for each in part]) for part in (settings.eases, settings.palette, settings.type_styles)), project))


def write_difference(cursor: DictCursor, project: str, change: Difference) -> None:
    """Write only the parts that changed."""
    if change.settings:
        write_settings(cursor, project, change.settings)
    if change.tracks is not None:
        cursor.execute("DELETE FROM tracks WHERE project = %s", (project,))
        cursor.executemany(
            "INSERT INTO tracks (project, id, place, name, hidden, locked, height) VALUES (%s, %s, %s, %s, %s, %s, %s)",
            [(project, track.id, place, track.name, track.hidden, track.locked, track.height) for place, track in enumerate(change.tracks)])
    if change.marks is not None:
        cursor.execute("UPDATE projects SET marks = %s WHERE id = %s", (change.marks.model_dump_json(), project))
    _delete(cursor, "media", project, [*change.media_gone, *change.media])
    cursor.executemany(
        "INSERT INTO media (project, id, name, kind, alpha, hash, path, width, height, rate_num, rate_den, frames)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [(project, item.id, item.name, item.kind, item.alpha, item.hash, item.path, item.width, item.height, item.rate.num, item.rate.den,
          item.frames) for item in change.media.values()])
    # Deleting a clip deletes its steps with it.
    _delete(cursor, "clips", project, [*change.clips_gone, *change.clips])
    cursor.executemany(
        f"INSERT INTO clips (project, {', '.join(_CLIP_COLUMNS)}, content, opening, closing, shutter, palette)"
        f" VALUES ({', '.join(['%s'] * (len(_CLIP_COLUMNS) + 6))})",
        [(project, *(getattr(clip, name) for name in _CLIP_COLUMNS), clip.content.model_dump_json(),
          *(_json(part) for part in (clip.opening, clip.closing, clip.shutter)), json.dumps(clip.palette)) for clip in change.clips.values()])
    cursor.executemany(
        "INSERT INTO steps (project, clip, id, place, kind, is_on, since, until, mix, properties, choices, units,"
        " drawing, media) VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [(project, clip.id, step.id, place, step.kind, step.on, step.since, step.until, step.mix.model_dump_json(),
          json.dumps({name: prop.model_dump(mode="json") for name, prop in step.values.items()}), json.dumps(step.choices), _json(step.units), step.drawing, step.media)
         for clip in change.clips.values() for place, step in enumerate(clip.steps)])


def _delete(cursor: DictCursor, table: str, project: str, ids: list[str]) -> None:
    for start in range(0, len(ids), 500):
        some = ids[start:start + 500]
        marks = ", ".join(["%s"] * len(some))
        cursor.execute(f"DELETE FROM {table} WHERE project = %s AND id IN ({marks})", (project, *some))


def _json(part) -> str:
    return "null" if part is None else part.model_dump_json()
