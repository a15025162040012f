"""The API's description, from which the front end's types are made."""

from __future__ import annotations

import json
from pathlib import Path

DESCRIPTION = Path(__file__).resolve().parents[2] / "web" / "src" / "api" / "openapi.json"


def describe() -> str:
    """The OpenAPI document as stable text."""
    from .app import create_app

    app = create_app(context=None, front_end=None, hosts=frozenset())
    return json.dumps(app.openapi(), indent=1, sort_keys=True) + "\n"


if __name__ == "__main__":
    DESCRIPTION.write_text(describe())
