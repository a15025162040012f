"""Whatever edit is sent: it is refused with a sentence, or it leaves a film that is stored, opens again and can be
undone."""

import json
import random

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from starlette.testclient import TestClient

from idle_comet.core.edits import PASSED_BY_UNDO
from idle_comet.core.project.file import read_project_file, write_project_file
from idle_comet.service.app import create_app
from idle_comet.service.context import Context
from idle_comet.store.projects import ProjectStore

from ..conftest import migrated
from ..core.drawn import any_edit
from ..core.rich import rich_film
from .asked import SCHEMAS, drawn

KINDS = {
    name: SCHEMAS[ref.rsplit("/", 1)[-1]]
    for name, ref in SCHEMAS["EditOrder"]["properties"]["edit"]["discriminator"]["mapping"].items()
}
PASSED = {edit.model_fields["kind"].default for edit in PASSED_BY_UNDO}
CLIPS = ["title", "strap", "plain", "shot-1", "shot-2", "card"]
IDS = {
    "clip": [*CLIPS, "new"],
    "new": ["new"],
    "id": ["new", "copy", "title"],
    "track": ["titles", "more", "shots"],
    "step": ["placement", "focus", "content", "backing"],
    "media": ["copy"],
    "name": ["opacity", "y", "radius", "size", "text"],
    "shot": ["shot-1"],
    "source": ["title"],
    "marker": ["m1"],
    "style": ["calm"],
    "colour": ["honey"],
}


def named(name, schema):
    """Mostly what the film has, so that edits reach past the first question."""
    if name == "keys":
        return st.sampled_from(CLIPS) if "pattern" in schema.get("propertyNames", {}) else None
    if name == "clips" and schema.get("items", {}).get("type") == "string":
        return st.lists(st.sampled_from(CLIPS), min_size=1, max_size=3)
    if name in IDS and (
        schema.get("type") == "string" or any(each.get("type") == "string" for each in schema.get("anyOf", ()))
    ):
        return st.sampled_from(IDS[name])
    return None


class Still:
    """Painters and exports that have nothing to do here."""

    def start(self): ...

    def stop(self): ...


@pytest.fixture(scope="module")
def database(mariadb):
    """One for all: every film is another."""
    yield from migrated(mariadb)


@pytest.fixture(scope="module")
def service(database, heath, tmp_path_factory):
    store, home = ProjectStore(database), tmp_path_factory.mktemp("home")
    app = create_app(Context(store, Still(), Still(), Still(), Still(), home, Still()), None, frozenset({"testserver"}))
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
    if answer.status_code == 200 and edit["kind"] not in PASSED:
        assert film.checked(film.send("undo"), after) == before
        assert film.checked(film.send("redo"), before) == after
    return after


LOOSE = settings(suppress_health_check=list(HealthCheck))


@pytest.mark.parametrize("kind", KINDS)
def test_an_edit_of_the_description_is_refused_or_stands(service, kind):
    film = Film(service)

    @settings(LOOSE, max_examples=6)
    @given(drawn(KINDS[kind], named))
    def once(edit):
        sent(film, edit)

    once()


@settings(LOOSE, max_examples=12)
@given(st.lists(any_edit, min_size=3, max_size=12), st.integers(0, 2**32))
def test_a_walk_of_edits_undone_and_done_again_at_any_time(service, edits, seed):
    film, chance = Film(service), random.Random(seed)
    for edit in edits:
        before = service.store.load(film.id).project
        what = chance.choices(("edits", "undo", "redo"), (6, 3, 1))[0]
        answer = film.send(what, **({"edit": json.loads(edit.model_dump_json())} if what == "edits" else {}))
        film.checked(answer, before)


def key(value, at):
    return {"at": at, "value": value}


def refused(film, says, **edit):
    answer = film.send("edits", edit=edit)
    assert answer.status_code == 422 and says in answer.json()["detail"], answer.text[:400]
    assert ProjectStore(film.service.store._database).load(film.id).revision == film.revision


def test_keys_set_one_by_one_end_where_a_document_ends(service):
    film = Film(service)
    long = {"kind": "trim_clip", "clip": "plain", "head": 90, "length": 4000}
    assert film.send("edits", edit=long).status_code == 200
    assert (
        film.send(
            "edits", edit={"kind": "add_step", "clip": "plain", "at": 0, "step": {"id": "p", "kind": "placement"}}
        ).status_code
        == 200
    )
    moving = {"state": "moving", "keys": [key(1.0, at) for at in range(2000)]}
    assert (
        film.send(
            "edits", edit={"kind": "set_property", "clip": "plain", "step": "p", "name": "x", "property": moving}
        ).status_code
        == 200
    )
    refused(film, "at most 2,000 entries", kind="set_value", clip="plain", step="p", name="x", value=3, frame=2500)
    refused(film, "at most 2,000 entries", kind="add_key", clip="plain", step="p", name="x", frame=2500)


def test_words_replaced_again_and_again_end_where_a_text_ends(service):
    film = Film(service)
    words = {"kind": "replace_words", "find": "E", "by": "EE" * 400, "capitals_count": True}
    said = [film.send("edits", edit=words) for _ in range(3)]
    assert said[-1].status_code == 422 and "at most 10,000 characters" in said[-1].json()["detail"]
    assert film.checked(film.send("undo"), service.rich) == service.rich


@pytest.mark.parametrize(
    "edit",
    [
        {"kind": "stretch_clips", "clips": ["shot-1"], "by": 9_999_900},
        {"kind": "trim_clip", "clip": "shot-3", "head": 36, "length": 9_999_990, "ripple": True},
        {"kind": "move_clips", "heads": {"plain": 10_000_000}},
        {
            "kind": "paste_clips",
            "clips": [
                {"id": "x", "track": "more", "name": "X", "head": 0, "length": 9_000_000, "content": {"kind": "plain"}}
            ],
            "frame": 9_000_000,
            "seed": "x",
        },
        {"kind": "add_title", "clip": "late", "frame": 9_999_999},
        {"kind": "set_speed", "clip": "shot-1", "speed": 0.0001, "keep": "part"},
    ],
)
def test_nothing_is_pushed_past_the_last_frame_a_film_can_have(service, edit):
    film = Film(service)
    before = service.store.load(film.id).project
    film.checked(film.send("edits", edit=edit), before)
    assert all(clip.end <= 10_000_000 for clip in service.store.load(film.id).project.clips.values())


@pytest.mark.parametrize(
    "wrap",
    [
        lambda clip: {"kind": "add_clip", "clip": clip},
        lambda clip: {"kind": "paste_clips", "clips": [clip], "frame": 500, "seed": "x"},
    ],
)
def test_two_steps_of_one_id_are_refused(service, wrap):
    steps = [{"id": "a", "kind": "placement"}, {"id": "a", "kind": "focus_blur"}]
    refused(
        Film(service),
        "two steps of one id",
        **wrap(
            {
                "id": "x",
                "track": "more",
                "name": "X",
                "head": 500,
                "length": 9,
                "content": {"kind": "plain"},
                "steps": steps,
            }
        ),
    )


def test_a_difference_from_outside_is_no_edit(service):
    refused(Film(service), "difference", kind="difference", clips_gone=["title"])


def test_half_a_character_in_a_name_is_refused(service):
    film = Film(service)
    for name in ('"\\ud800"', '"a\\u0000b"'):
        body = f'{{"revision": 0, "edit": {{"kind": "change_settings", "name": {name}}}}}'
        answer = service.post(
            f"/api/projects/{film.id}/edits", content=body, headers={"content-type": "application/json"}
        )
        assert answer.status_code == 422 and answer.json()["detail"].endswith("nothing was changed.")


def test_titles_find_a_track_when_there_is_none_left(service):
    film = Film(service)
    before = service.store.load(film.id).project
    for track in ("titles", "more", "shots"):
        assert film.send("edits", edit={"kind": "remove_track", "track": track}).status_code == 200
    for _ in range(2):
        assert film.send("edits", edit={"kind": "add_title", "clip": "new", "frame": 3}).status_code == 200
        assert film.send("undo").status_code == 200
    for _ in range(3):
        after = film.checked(film.send("undo"), None)
    assert after == before
