"""Whatever edit is sent: it is refused with a sentence, or it leaves a film that is stored, opens again and can be undone."""

import json
import random

import pytest
from hypothesis import HealthCheck, given, settings, strategies as st
from starlette.testclient import TestClient

from idle_comet.core.project.file import read_project_file, write_project_file
from idle_comet.service.app import create_app
from idle_comet.service.context import Context
from idle_comet.store.projects import ProjectStore

from ..core.drawn import DRAWN, any_edit, rich_film
from .asked import API, SCHEMAS, drawn

KINDS = {name: SCHEMAS[ref.rsplit("/", 1)[-1]] for name, ref in SCHEMAS["EditOrder"]["properties"]["edit"]["discriminator"]["mapping"].items()}
CLIPS = ["title", "strap", "plain", "shot-1", "shot-2", "card"]
IDS = {"clip": [*CLIPS, "new"], "new": ["new"], "id": ["new", "copy", "title"], "track": ["titles", "more", "shots"], "step": ["placement", "focus", "content", "backing"],
       "media": ["copy"], "name": ["opacity", "y", "radius", "size", "text"], "shot": ["shot-1"], "source": ["title"], "marker": ["m1"], "style": ["calm"], "colour": ["honey"]}


def named(name, schema):
    """Mostly what the film has, so that edits reach past the first question."""
    if name == "keys":
        return st.sampled_from(CLIPS) if "pattern" in schema.get("propertyNames", {}) else None
    if name == "clips" and schema.get("items", {}).get("type") == "string":
        return st.lists(st.sampled_from(CLIPS), min_size=1, max_size=3)
    if name in IDS and (schema.get("type") == "string" or any(each.get("type") == "string" for each in schema.get("anyOf", ()))):
        return st.sampled_from(IDS[name])
    return None


class Still:
    """Painters and exports that have nothing to do here."""

    def start(self): ...

    def stop(self): ...


@pytest.fixture
def service(database, heath, tmp_path):
    store = ProjectStore(database)
    app = create_app(Context(store, Still(), Still(), tmp_path, Still()), None, frozenset({"testserver"}))
    with TestClient(app) as client:
        client.store, client.rich = store, rich_film(heath[1])
        yield client


class Film:
    """A film of its own that everything is sent to."""

    made = 0

    def __init__(self, service):
        Film.made += 1
        self.service, self.id = service, f"film-{Film.made}"
        service.store.create(self.id, service.rich)

    @property
    def revision(self):
        return self.service.store.load(self.id).revision

    def send(self, what, **body):
        return self.service.post(f"/api/projects/{self.id}/{what}", json={"revision": self.revision, **body})

    def checked(self, answer, before):
        """What must hold of any answer, and of the film after it."""
        assert answer.status_code in (200, 409, 422), (answer.status_code, answer.text[:500])
        stored = self.service.store.load(self.id)
        if answer.status_code != 200:
            assert answer.json()["detail"] and stored.project == before
            return stored.project
        again = ProjectStore(self.service.store._database)
        assert again.load(self.id).project == stored.project, "it does not open as it was"
        assert again.set_aside(self.id) == []
        assert read_project_file(write_project_file(stored.project, {}))[0] == stored.project
        assert self.service.get(f"/api/projects/{self.id}").status_code == 200
        return stored.project


def sent(film, edit):
    before = film.service.store.load(film.id).project
    answer = film.send("edits", edit=edit)
    after = film.checked(answer, before)
    if answer.status_code == 200:
        assert film.checked(film.send("undo"), after) == before
        assert film.checked(film.send("redo"), before) == after
    return after


LOOSE = settings(suppress_health_check=list(HealthCheck))


@pytest.mark.parametrize("kind", KINDS)
def test_an_edit_of_the_description_is_refused_or_stands(service, kind):
    film = Film(service)

    @settings(LOOSE, max_examples=12)
    @given(drawn(KINDS[kind], named))
    def once(edit):
        sent(film, edit)

    once()


@settings(LOOSE, max_examples=25)
@given(st.lists(any_edit, min_size=3, max_size=12), st.integers(0, 2**32))
def test_a_walk_of_edits_undone_and_done_again_at_any_time(service, edits, seed):
    film, chance = Film(service), random.Random(seed)
    for edit in edits:
        before = service.store.load(film.id).project
        what = chance.choices(("edits", "undo", "redo"), (6, 3, 1))[0]
        answer = film.send(what, **({"edit": json.loads(edit.model_dump_json())} if what == "edits" else {}))
        film.checked(answer, before)
