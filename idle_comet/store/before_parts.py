"""Films stored before every part was a row of its own: read as raw JSON from the tables they are in."""

from __future__ import annotations

import json
from typing import Any

from pymysql.cursors import DictCursor

from ..core.project.upgrade import range_of

_AS_THEY_STAND = (
    "id",
    "track",
    "name",
    "head",
    "length",
    "arrival",
    "departure",
    "skipped",
    "cut_off",
    "seen",
    "rides",
    "recipe",
)
"""Columns of a clip that are its fields."""


def raw_parts(cursor: DictCursor, row: dict[str, Any]) -> dict[str, list[dict[str, Any]]]:
    """All parts of a film by their sort, as the project file has them; `row` is the film's own."""
    project = row["id"]
    settings = {name: row[name] for name in ("name", "width", "height", "background")}
    settings["rate"] = {"num": row["rate_num"], "den": row["rate_den"], "non_drop": bool(row["rate_non_drop"])}
    settings |= {name: json.loads(row[name]) for name in ("shutter", "eases", "palette", "type_styles")}
    cursor.execute("SELECT id, name, hidden, locked, height FROM tracks WHERE project = %s ORDER BY place", (project,))
    tracks = [{**each, "hidden": bool(each["hidden"]), "locked": bool(each["locked"])} for each in cursor.fetchall()]
    cursor.execute("SELECT * FROM media WHERE project = %s", (project,))
    media = [_media(each) for each in cursor.fetchall()]
    marks = json.loads(row["marks"])
    return {
        "settings": [settings],
        "marks": [marks],
        "range": [range_of(marks)],
        "track": tracks,
        "media": media,
        "clip": _clips(cursor, project),
    }


def _clips(cursor: DictCursor, project: str) -> list[dict[str, Any]]:
    cursor.execute("SELECT * FROM steps WHERE project = %s ORDER BY clip, place", (project,))
    steps: dict[str, list[dict[str, Any]]] = {}
    for each in cursor.fetchall():
        steps.setdefault(each["clip"], []).append(
            {
                "id": each["id"],
                "kind": each["kind"],
                "on": bool(each["is_on"]),
                "since": each["since"],
                "until": each["until"],
                "mix": json.loads(each["mix"]),
                "values": json.loads(each["properties"]),
                "choices": json.loads(each["choices"]),
                "units": json.loads(each["units"]),
                "drawing": each["drawing"],
                "media": each["media"],
            }
        )
    cursor.execute("SELECT * FROM clips WHERE project = %s", (project,))
    return [
        {
            **{name: each[name] for name in _AS_THEY_STAND},
            "steps": steps.get(each["id"], []),
            **{name: json.loads(each[name]) for name in ("content", "opening", "closing", "shutter", "palette")},
        }
        for each in cursor.fetchall()
    ]


def _media(row: dict[str, Any]) -> dict[str, Any]:
    names = ("id", "name", "kind", "hash", "path", "width", "height", "frames")
    return {
        **{name: row[name] for name in names},
        "alpha": bool(row["alpha"]),
        "notes": json.loads(row["notes"]),
        "rate": {"num": row["rate_num"], "den": row["rate_den"]},
    }
