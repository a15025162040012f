"""Documents to rows and back."""

from __future__ import annotations

import json

from pydantic import ValidationError
from pymysql.cursors import DictCursor

from ..core.edits.mending import Aside, mended, mended_places
from ..core.project.difference import Difference
from ..core.project.model import Clip, Marks, Media, Project, Settings, Track
from ..core.project.validity import Invalid, check_places

_CLIP_COLUMNS = ("id", "track", "name", "head", "length", "arrival", "departure", "skipped", "cut_off", "seen", "rides", "recipe")
"""Columns of a clip that are its fields as they stand."""


def read_project(cursor: DictCursor, project: str) -> tuple[Project, int, list[Aside]] | None:
    """The document, its revision and what had to be set aside to read it; or None."""
    cursor.execute("SELECT * FROM projects WHERE id = %s", (project,))
    row = cursor.fetchone()
    if row is None:
        return None
    aside: list[Aside] = []

    def read(model, raw: dict, owner: str):
        """Sound parts cost one validation; only one that is not is mended."""
        try:
            return model.model_validate(raw)
        except ValidationError:
            found, left = mended(model, raw, owner)
            aside.extend(left)
            return found

    raw = {name: row[name] for name in ("name", "width", "height", "background")}
    raw["rate"] = {"num": row["rate_num"], "den": row["rate_den"], "non_drop": bool(row["rate_non_drop"])}
    raw |= {name: json.loads(row[name]) for name in ("shutter", "eases", "palette", "type_styles")}
    settings = read(Settings, raw, "The film")
    cursor.execute("SELECT id, name, hidden, locked, height FROM tracks WHERE project = %s ORDER BY place", (project,))
    tracks = [read(Track, {**each, "hidden": bool(each["hidden"]), "locked": bool(each["locked"])}, f"The track “{each['name']}”") for each in cursor.fetchall()]
    cursor.execute("SELECT * FROM media WHERE project = %s", (project,))
    media = {each["id"]: read(Media, _media(each), f"“{each['name']}”") for each in cursor.fetchall()}
    cursor.execute("SELECT * FROM steps WHERE project = %s ORDER BY clip, place", (project,))
    steps: dict[str, list[dict]] = {}
    for each in cursor.fetchall():
        steps.setdefault(each["clip"], []).append({
            "id": each["id"], "kind": each["kind"], "on": bool(each["is_on"]), "since": each["since"], "until": each["until"],
            "mix": json.loads(each["mix"]), "values": json.loads(each["properties"]), "choices": json.loads(each["choices"]),
            "units": json.loads(each["units"]), "drawing": each["drawing"], "media": each["media"]})
    cursor.execute("SELECT * FROM clips WHERE project = %s", (project,))
    clips = {
        each["id"]: read(Clip, {
            **{name: each[name] for name in _CLIP_COLUMNS}, "steps": steps.get(each["id"], []),
            **{name: json.loads(each[name]) for name in ("content", "opening", "closing", "shutter", "palette")}}, f"“{each['name']}”")
        for each in cursor.fetchall()
    }
    marks = read(Marks, json.loads(row["marks"]), "What is marked on the ruler")
    found = Project(settings=settings or Settings(name=row["name"][:200] or "Film"), tracks=tuple(track for track in tracks if track),
                    media={id: item for id, item in media.items() if item}, clips={id: clip for id, clip in clips.items() if clip}, marks=marks or Marks())
    try:
        check_places(found, found.clips)
    except Invalid:
        found, left = mended_places(found)
        aside.extend(left)
    return found, row["revision"], aside


def _media(row: dict) -> dict:
    names = ("id", "name", "kind", "hash", "path", "width", "height", "frames")
    return {**{name: row[name] for name in names}, "alpha": bool(row["alpha"]), "notes": json.loads(row["notes"]), "rate": {"num": row["rate_num"], "den": row["rate_den"]}}


def rewrite(cursor: DictCursor, project: str, whole: Project) -> None:
    """Write a document in place of all that is stored of it."""
    cursor.execute("SELECT id FROM clips WHERE project = %s", (project,))
    clips = tuple(row["id"] for row in cursor.fetchall())
    cursor.execute("SELECT id FROM media WHERE project = %s", (project,))
    media = tuple(row["id"] for row in cursor.fetchall())
    write_difference(cursor, project, Difference(settings=whole.settings, tracks=whole.tracks, marks=whole.marks, media=whole.media, clips=whole.clips,
                                                 clips_gone=tuple(id for id in clips if id not in whole.clips), media_gone=tuple(id for id in media if id not in whole.media)))


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
        "INSERT INTO media (project, id, name, kind, alpha, hash, path, width, height, rate_num, rate_den, frames, notes)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [(project, item.id, item.name, item.kind, item.alpha, item.hash, item.path, item.width, item.height, item.rate.num, item.rate.den,
          item.frames, json.dumps(item.notes)) for item in change.media.values()])
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
