"""A fault at every step to the disk: what was acknowledged is there, nothing is done twice, and it goes on."""

import re

import pymysql
import pytest

from idle_comet.core.edits import ChangeText, SetSpans
from idle_comet.store.database import _MIGRATIONS, Database, StoreUnavailable
from idle_comet.store.projects import ProjectStore, Sender
from tests.faults import Faults


@pytest.fixture
def faults(mariadb, database):
    return Faults(mariadb.address.connect)


def words(text):
    return ChangeText(clip="title", text=text)


def test_an_edit_is_done_once_whichever_step_fails(faults, database, film):
    ProjectStore(database).create("film", film)
    store = ProjectStore(Database(faults))
    told = []
    store.listener = lambda outcome: told.append(outcome.stored.revision)
    done = []

    def work(name):
        before = store.load("film").revision
        faults.steps = 0
        outcome = store.edit(
            "film", before, words(name), f"token-{name}", f"gesture-{name}", Sender(before, before, "w" * 8)
        )
        faults.at = None
        assert outcome.stored.revision == before + 1 and outcome.change.clips["title"].content.text == name
        fresh = ProjectStore(database).load("film")
        assert (fresh.revision, fresh.project) == (outcome.stored.revision, outcome.stored.project)
        done.append(fresh.revision)
        undone = store.undo("film", fresh.revision, f"back-{name}").stored
        assert undone.project == film
        done.append(undone.revision)

    assert faults.each(work) >= 8
    assert told == done, "windows hear of each, once"


def test_a_film_is_made_or_not_whichever_step_fails(faults, database, film):
    store = ProjectStore(Database(faults))

    def work(name):
        id = "film-" + re.sub(r"\W", "-", name.lower())
        assert store.create(id, film).project == film
        faults.at = None
        assert ProjectStore(database).load(id).project == film

    assert faults.each(work) >= 5


def test_a_migration_that_is_cut_short_goes_on_where_it_ended(mariadb, database, faults):
    """Before a statement, or after it and before it was noted."""
    last = sorted(file.stem for file in _MIGRATIONS.glob("[0-9]*.sql"))[-1]
    faults.at, faults.steps = None, 0
    Database(faults).migrate()
    with mariadb._root() as root, root.cursor() as cursor:
        cursor.execute("DROP DATABASE comet")
        cursor.execute("CREATE DATABASE comet")
    faults.steps = 0
    Database(faults).migrate()
    steps = faults.steps
    # Making the database anew takes long: some of all steps, and the last ones.
    for at in sorted({3, 4, steps // 2, *range(steps - 5, steps)}):
        for after in (False, True):
            with mariadb._root() as root, root.cursor() as cursor:
                cursor.execute("DROP DATABASE comet")
                cursor.execute("CREATE DATABASE comet")
            faults.steps, faults.at, faults.after = 0, at, after
            with pytest.raises(pymysql.err.OperationalError):
                Database(faults, patience=0).migrate()
            fresh = Database(mariadb.address.connect)
            fresh.migrate()
            with fresh.transaction() as cursor:
                cursor.execute("SELECT name FROM migrations ORDER BY name")
                names = [row["name"] for row in cursor.fetchall()]
            fresh.close()
            assert names[-1] == last and not any("#" in name for name in names)


def test_a_database_that_does_not_answer_is_said_in_time(mariadb, database, film):
    ProjectStore(database).create("film", film)
    patient = Database(mariadb.address.connect, patience=1.0, silence=1.0)
    store = ProjectStore(patient)
    revision = store.load("film").revision
    with mariadb._root() as root, root.cursor() as cursor:
        cursor.execute("FLUSH TABLES WITH READ LOCK")
        with pytest.raises(StoreUnavailable, match="does not answer. Whether this was saved is not known"):
            store.edit("film", revision, words("waits"), "token-001")
        cursor.execute("UNLOCK TABLES")
    # What may have been done is not done again.
    outcome = store.edit("film", revision, words("waits"), "token-001")
    assert outcome.stored.project.clips["title"].content.text == "waits"
    assert ProjectStore(database).load("film").revision == revision + 1
    patient.close()


def test_a_gesture_is_one_row_and_each_of_its_edits_is_known(database, film):
    store = ProjectStore(database)
    store.create("film", film)
    by = {"gesture": "drag", "sender": None}
    for number in range(6):
        by["sender"] = Sender(number, number, "window-one")
        store.edit("film", number, SetSpans(clip="title", arrival=5 + number), f"token-{number}", **by)
    with database.transaction() as cursor:
        cursor.execute("SELECT since, revision FROM edits WHERE project = 'film'")
        assert [(row["since"], row["revision"]) for row in cursor.fetchall()] == [(0, 6)]
    for number in range(6):
        again = store.edit("film", 0, SetSpans(clip="title", arrival=40), f"token-{number}", "drag", by["sender"])
        assert again.stored.revision == 6
    fresh = ProjectStore(database)
    assert fresh.undo("film", 6, "token-back").stored.project == film
    assert fresh.redo("film", 7, "token-again").stored.project.clips["title"].arrival == 10


def test_an_edit_that_is_sent_again_is_answered_with_what_is_gone_since(database, film):
    from idle_comet.core.edits import RemoveClips

    store = ProjectStore(database)
    store.create("film", film)
    store.edit("film", 0, words("mine"), "token-001", sender=Sender(0, 0, "window-one"))
    store.edit("film", 1, RemoveClips(clips=("shot",)), "token-002", sender=Sender(1, 1, "window-two"))
    again = store.edit("film", 0, words("mine"), "token-001", sender=Sender(0, 0, "window-one"))
    assert (again.since, again.stored.revision) == (0, 2)
    assert again.change.clips_gone == ("shot",) and again.change.clips["title"].content.text == "mine"
