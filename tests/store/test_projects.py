import pytest

from idle_comet.core.project.edits import ChangeText, EditError, SetSpans
from idle_comet.store.database import Database
from idle_comet.store.projects import NothingToUndo, ProjectStore, StaleRevision, UnknownProject


@pytest.fixture
def store(database, film):
    store = ProjectStore(database)
    store.create("film", film)
    return store


def words(text):
    return ChangeText(clip="title", text=text)


def fresh(store) -> ProjectStore:
    """A store that remembers nothing but what is written."""
    return ProjectStore(store._database)


def test_what_is_acknowledged_is_written(store, film):
    assert fresh(store).load("film").project == film
    after = store.edit("film", 0, words("ANOTHER DUSK"), "token-001").stored
    read = fresh(store).load("film")
    assert read.project == after.project and read.revision == 1
    assert read.project.clips["title"].content.text == "ANOTHER DUSK"


def test_history_survives_and_a_gesture_is_one_undo(store, film):
    store.edit("film", 0, SetSpans(clip="title", arrival=12), "token-001")
    for revision, text in enumerate("abc", start=1):
        store.edit("film", revision, words(text), f"token-{text}01", gesture="typing")
    other = fresh(store)
    stored = other.load("film")
    assert [entry.label for entry in stored.undo] == ["arrival 12 frames", "words"]
    undone = other.undo("film", 4, "token-u1").stored
    assert undone.project.clips["title"].content.text == "THE SLOW HARVEST"
    assert undone.project.clips["title"].arrival == 12
    redone = fresh(store).redo("film", 5, "token-r1").stored
    assert redone.project.clips["title"].content.text == "c"
    other = fresh(store)
    other.undo("film", 6, "token-u2")
    assert other.undo("film", 7, "token-u3").stored.project == film
    with pytest.raises(NothingToUndo):
        other.undo("film", 8, "token-u4")


def test_an_edit_made_on_an_old_state_overwrites_nothing(store):
    store.edit("film", 0, words("first"), "token-001")
    with pytest.raises(StaleRevision) as stale:
        store.edit("film", 0, words("second"), "token-002")
    assert stale.value.stored.project.clips["title"].content.text == "first"
    assert fresh(store).load("film").revision == 1


def test_an_edit_sent_twice_is_done_once(store):
    store.edit("film", 0, words("once"), "token-001")
    again = store.edit("film", 0, words("once"), "token-001")
    assert again.stored.revision == 1 and again.change.clips["title"].content.text == "once"


def test_an_edit_that_does_not_fit_writes_nothing(store, film):
    with pytest.raises(EditError):
        store.edit("film", 0, ChangeText(clip="shot", text="x"), "token-001")
    assert fresh(store).load("film").project == film
    with pytest.raises(UnknownProject):
        store.load("nothing")


def test_any_words_come_back_as_they_were_typed(store):
    odd = "Ágota 🐝\u202eשלום ’\\'\"%s; DROP TABLE clips\n\ttab"
    store.edit("film", 0, words(odd), "token-001")
    assert fresh(store).load("film").project.clips["title"].content.text == odd


def test_a_lost_connection_is_waited_for(store, mariadb):
    with store._database.transaction() as cursor:
        cursor.execute("SELECT CONNECTION_ID() AS id")
        number = cursor.fetchone()["id"]
    with mariadb._root() as root, root.cursor() as cursor:
        cursor.execute(f"KILL {number}")
    assert store.edit("film", 0, words("still here"), "token-001").stored.revision == 1


def test_migrating_twice_changes_nothing(database: Database):
    assert database.migrate() == []
