"""The shape of the program: who may know whom."""

import ast
from pathlib import Path

from idle_comet.service.openapi import DESCRIPTION, describe

PACKAGE = Path(__file__).parents[1] / "idle_comet"
MAY_KNOW = {
    "core": set(), "media": {"core"}, "store": {"core"}, "demo": {"core", "media"}, "setup": set(),
    "service": {"core", "media", "store"},
}


def imports(file: Path):
    """Absolute dotted names a file imports, relative ones resolved."""
    package = ["idle_comet", *file.relative_to(PACKAGE).parent.parts]
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom):
            base = package[:len(package) - node.level + 1] if node.level else []
            yield ".".join([*base, *([node.module] if node.module else [])])


def test_imports_point_one_way():
    for name, allowed in MAY_KNOW.items():
        for file in (PACKAGE / name).rglob("*.py"):
            for imported in imports(file):
                parts = imported.split(".")
                if parts[0] == "idle_comet" and len(parts) > 1:
                    assert parts[1] in allowed | {name}, f"{file} must not know {imported}"
                if name == "core":
                    assert parts[0] not in {"fastapi", "starlette", "pymysql", "uvicorn", "av"}, f"{file} knows {imported}"


def test_a_step_kind_knows_no_document():
    for file in (PACKAGE / "core" / "steps").glob("*.py"):
        assert not any("project" in imported for imported in imports(file)), file


def test_the_front_end_is_built_against_todays_api():
    assert DESCRIPTION.read_text() == describe(), "run: python -m idle_comet.service.openapi, then npm run types in web/"
