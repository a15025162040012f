"""Every address, asked odd things one at a time: a clear answer each time, and the server goes on."""

import json

import pytest

from idle_comet.service.openapi import DESCRIPTION

ODD = {
    "integer": [-1, 0, 10**9, 10**30, "x", ""],
    "number": ["nan", "inf", "-1e300", "x"],
    "boolean": ["perhaps"],
    "string": ["", "x" * 5000, "🐝", "..", "a\x00b", "%", "-99999999999999999999s", "1e999"],
    "array": [[""], ["nope", "x" * 5000], ["a"] * 300],
}
BODIES = [
    None,
    [],
    {},
    "x",
    5,
    {"revision": 0},
    {"revision": -1, "edit": {"kind": "explode"}},
    {"clips": ["nope"] * 9},
    {"ease": {"kind": "hold"}, "css": "x"},
    {"recipe": 3},
    {"text": "\x00"},
    {"css": "cubic-bezier(nan, 0, 0, 0)"},
    {"name": "x" * 10_000},
    {"width": 10**9},
]
ADDRESSES = [
    (method, path, operation)
    for path, methods in json.loads(DESCRIPTION.read_text())["paths"].items()
    for method, operation in methods.items()
]
PLAIN = {"integer": 3, "number": 3.5, "boolean": "true", "string": "bees", "array": ["bees"]}


def sort_of(parameter):
    schema = parameter["schema"]
    return schema.get("type") or next(each["type"] for each in schema["anyOf"] if each["type"] != "null")


def questions(operation, known):
    """(path parts, query, body) with one thing odd each, the rest as it should be."""
    parameters = operation.get("parameters", [])
    parts = {each["name"]: known.get(each["name"], "nope") for each in parameters if each["in"] == "path"}
    query = {each["name"]: PLAIN[sort_of(each)] for each in parameters if each["in"] == "query"}
    for each in parameters:
        for odd in ODD[sort_of(each)]:
            if each["in"] == "query":
                yield parts, {**query, each["name"]: odd}, {}
            elif odd not in ("", ".."):
                yield {**parts, each["name"]: odd}, query, {}
    if "requestBody" in operation:
        yield from ((parts, query, body) for body in BODIES)
    yield parts, {}, {}


@pytest.mark.parametrize(
    "method, path, operation", ADDRESSES, ids=[f"{method} {path}" for method, path, _ in ADDRESSES]
)
def test_an_odd_question_gets_a_clear_answer(made, running, method, path, operation):
    known = {"project_id": made.id, "clip_id": "title", "id": "skep", "typeface": "archivo"}
    if method == "delete" or path.endswith("/copy"):
        known["project_id"] = "nope"
    for parts, query, body in questions(operation, known):
        address = path.removeprefix("/api").format(
            **{name: str(value).replace("%", "%25").replace("\x00", "%00") for name, value in parts.items()}
        )
        answer = running.api(
            method.upper(), address, params=query, **({"json": body} if "requestBody" in operation else {})
        )
        assert answer.status_code < 500, (address[:200], query, body, answer.text[:300])
        if answer.status_code >= 400:
            assert answer.json()["detail"], (address[:200], query, body)
        elif method == "post" and path.rsplit("/", 1)[-1] in ("projects", "exports"):
            # What came of it is not kept.
            running.api("DELETE", f"/{path.rsplit('/', 1)[-1]}/{answer.json()['id']}")
    assert made.clip("title")["content"]["text"] == "SWARM"
