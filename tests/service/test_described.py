"""Requests drawn from the API's description, sent to the running server: no server error, no hang, no answer outside
the description.

`COMET_REQUESTS` sets how many are sent in all (a few hundred by themselves).
"""

import json
import os

import jsonschema
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from .asked import API, SCHEMAS, drawn
from .test_any_edit import named

OPERATIONS = [
    (method, path, operation) for path, methods in API["paths"].items() for method, operation in methods.items()
]
COUNT = max(4, int(os.environ.get("COMET_REQUESTS", "500")) // len(OPERATIONS))
FORMS = ("/media", "/typefaces")


def resolved(schema):
    """A schema with the description's parts as its own."""
    return {
        "$ref": "#/$defs/root",
        "$defs": {
            "root": json.loads(json.dumps(schema).replace("#/components/schemas/", "#/$defs/")),
            **json.loads(json.dumps(SCHEMAS).replace("#/components/schemas/", "#/$defs/")),
        },
    }


def parameters(operation, place, known):
    found = {}
    for each in operation.get("parameters", []):
        if each["in"] == place:
            strategy = (
                st.just(known[each["name"]]) | drawn(each["schema"], named)
                if each["name"] in known
                else drawn(each["schema"], named)
            )
            found[each["name"]] = strategy if each.get("required") or place == "path" else st.none() | strategy
    return st.fixed_dictionaries(found)


def escaped(value):
    from urllib.parse import quote

    # A stroke or a dot would make it another address, which is not what is asked here.
    return quote(str(value).replace("/", "-").strip("."), safe="") or "%20"


@pytest.mark.parametrize(
    "method, path, operation", OPERATIONS, ids=[f"{method} {path}" for method, path, _ in OPERATIONS]
)
def test_every_answer_is_as_described(made, running, method, path, operation):
    known = {"project_id": made.id, "clip_id": "title", "id": "skep", "typeface": "archivo", "clip": "title"}
    if method == "delete" or path.endswith("/copy"):
        known["project_id"] = "nope"
    body = operation.get("requestBody", {}).get("content", {}).get("application/json", {}).get("schema")
    answers = {status: each.get("content", {}) for status, each in operation["responses"].items()}
    checks = {}

    @settings(max_examples=COUNT, suppress_health_check=list(HealthCheck))
    @given(
        parameters(operation, "path", known),
        parameters(operation, "query", known),
        drawn(body, named) if body else st.none(),
    )
    def once(parts, query, sent):
        address = path.removeprefix("/api").format(**{name: escaped(value) for name, value in parts.items()})
        if path.endswith("/exports") and isinstance(sent, dict):
            # A film of one small frame: what is tried here is the answer, not the film.
            sent = {**sent, "first": 0, "last": 0, "width": 64, "height": 36}
        if path.endswith("/edits") and isinstance(sent, dict):
            sent = {**sent, "revision": made.state()["revision"]}
        told = (
            {"files": [("files", ("a.png", b"\x89PNG\r\n\x1a\n" + bytes(30)))]}
            if path.endswith(FORMS) and method == "post"
            else {"json": sent}
            if body
            else {}
        )
        answer = running.api(
            method.upper(), address, params={name: value for name, value in query.items() if value is not None}, **told
        )
        status = str(answer.status_code)
        assert answer.status_code < 500, (address, query, sent, answer.text[:300])
        assert status in answers, (status, address, answer.text[:300])
        kind = answer.headers.get("content-type", "").split(";")[0]
        if answer.content and status != "204":
            assert kind in answers[status], (status, kind, list(answers[status]))
        if kind == "application/json" and answer.content:
            check = checks.setdefault(
                status, jsonschema.Draft202012Validator(resolved(answers[status][kind]["schema"]))
            )
            wrong = next(check.iter_errors(answer.json()), None)
            assert wrong is None, (status, str(wrong)[:500])
        assert str(running.home) not in answer.text

    once()
