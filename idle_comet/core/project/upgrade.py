"""Old forms of parts brought up to date, on the raw JSON, before any model is made of it.

Every form there ever was is read: of the project file, the store's rows, the journal and recipes. What is up to date
already stays as it is. A form that changes gets a few lines here and a kept file in the tests.
"""

from __future__ import annotations

from typing import Any

Raw = dict[str, Any]


def upgraded(sort: str, raw: Raw) -> Raw:
    """One part of a document by its sort: "settings", "marks", "range", "track", "media" or "clip"."""
    if sort == "clip":
        return {**raw, "content": _content(raw.get("content"))}
    if sort == "settings" and raw.get("type_styles"):
        return {
            **raw,
            "type_styles": [
                {**style, "look": _content(style.get("look"))} if isinstance(style, dict) else style
                for style in raw["type_styles"]
            ],
        }
    if sort == "marks":
        # The range stood among the marks before it became a part of its own.
        return {name: value for name, value in raw.items() if name not in _RANGE}
    return raw


def upgraded_document(raw: Raw) -> Raw:
    """A whole document, as the project file has it, or a difference between two: what is not there stays away."""
    made = dict(raw)
    if isinstance(raw.get("settings"), dict):
        made["settings"] = upgraded("settings", raw["settings"])
    if isinstance(raw.get("clips"), dict):
        made["clips"] = {
            id: upgraded("clip", clip) if isinstance(clip, dict) else clip for id, clip in raw["clips"].items()
        }
    if isinstance(raw.get("marks"), dict):
        made["marks"] = upgraded("marks", raw["marks"])
        if raw.get("range") is None and any(name in raw["marks"] for name in _RANGE):
            made["range"] = range_of(raw["marks"])
    return made


_RANGE = ("first", "last")


def range_of(marks: Raw) -> Raw:
    """The range, where it stands among the marks."""
    return {name: marks.get(name) for name in _RANGE}


def upgraded_recipe(raw: Raw) -> Raw:
    """A recipe."""
    return {**raw, "content": _content(raw["content"])} if "content" in raw else raw


def _content(raw: Any) -> Any:
    if not isinstance(raw, dict):
        return raw
    raw = _weight_held(raw) if raw.get("kind") == "text" else raw
    # Values were plain numbers and colours before they could move.
    return {
        name: {"state": "fixed", "value": value}
        if name in _ONCE_PLAIN and isinstance(value, (int, float, str))
        else value
        for name, value in raw.items()
    }


_ONCE_PLAIN = ("weight", "colour")


def _weight_held(raw: Raw) -> Raw:
    """A weight was held by keys of its own before it could move."""
    held = raw.get("held")
    if not isinstance(held, dict):
        return raw
    keys = held.get("weight")
    if not isinstance(keys, list) or not all(isinstance(key, dict) for key in keys):
        return raw
    first = {"at": 0, "value": raw.get("weight", 600), "ease": {"kind": "hold"}}
    moving = (
        {"state": "moving", "keys": [first, *({**key, "ease": {"kind": "hold"}} for key in keys)]}
        if keys
        else first["value"]
    )
    return {**raw, "weight": moving, "held": {name: value for name, value in held.items() if name != "weight"}}
