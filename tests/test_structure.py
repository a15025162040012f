"""The shape of the program: who may know whom."""

import ast
import functools
import re
from pathlib import Path

from idle_comet.service.openapi import DESCRIPTION, describe

PACKAGE = Path(__file__).parents[1] / "idle_comet"
MAY_KNOW = {
    "core": set(),
    "media": {"core", "disk"},
    "store": {"core"},
    "demo": {"core", "disk", "media"},
    "standins": {"core", "demo", "media"},
    "setup": {"disk"},
    "service": {"core", "media", "store"},
}


ROOMS = (
    "picture",
    "space",
    "clock",
    "motion",
    "type",
    "steps",
    "patterns",
    "contents",
    "project",
    "captions",
    "recipes",
    "moment",
    "sound",
    "edits",
    "compose",
    "checks",
)
"""The rooms of the core, each of which knows only those before it."""


@functools.cache
def parsed(file: Path) -> ast.Module:
    return ast.parse(file.read_text())


@functools.cache
def imports(file: Path) -> list[str]:
    """Absolute dotted names a file imports, relative ones resolved."""
    return list(_imports(file))


def _imports(file: Path):
    package = ["idle_comet", *file.relative_to(PACKAGE).parent.parts]
    for node in ast.walk(parsed(file)):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom):
            base = package[: len(package) - node.level + 1] if node.level else []
            yield ".".join([*base, *([node.module] if node.module else [])])


def test_imports_point_one_way():
    for name, allowed in MAY_KNOW.items():
        for file in (PACKAGE / name).rglob("*.py"):
            for imported in imports(file):
                parts = imported.split(".")
                if parts[0] == "idle_comet" and len(parts) > 1:
                    assert parts[1] in allowed | {name}, f"{file} must not know {imported}"
                if name == "core":
                    assert parts[0] not in {"fastapi", "starlette", "pymysql", "uvicorn", "av"}, (
                        f"{file} knows {imported}"
                    )


def test_the_rooms_of_the_core_lead_one_way():
    core = PACKAGE / "core"
    assert {room.name for room in core.iterdir() if room.is_dir() and room.name != "__pycache__"} == set(ROOMS)
    for place, room in enumerate(ROOMS):
        for file in (core / room).rglob("*.py"):
            for imported in imports(file):
                parts = imported.split(".")
                if parts[:2] == ["idle_comet", "core"] and len(parts) > 2 and parts[2] in ROOMS:
                    assert parts[2] in ROOMS[: place + 1], f"{file} must not know {imported}"


def test_no_import_hides_in_a_function_of_the_core():
    for file in (PACKAGE / "core").rglob("*.py"):
        for function in ast.walk(parsed(file)):
            if isinstance(function, (ast.FunctionDef, ast.AsyncFunctionDef)):
                hidden = [node for node in ast.walk(function) if isinstance(node, (ast.Import, ast.ImportFrom))]
                # The compiler is read where a loop first runs: whoever paints nothing does not wait for it.
                hidden = [node for node in hidden if not re.match("(from|import) (numba|llvmlite)", ast.unparse(node))]
                assert not hidden, f"{file}, line {hidden[0].lineno}"


def test_a_step_kind_knows_no_document():
    for file in (PACKAGE / "core" / "steps").glob("*.py"):
        assert not any("project" in imported for imported in imports(file)), file


def test_the_front_end_is_built_against_todays_api():
    assert DESCRIPTION.read_text() == describe(), (
        "run: python -m idle_comet.service.openapi, then npm run types in web/"
    )
