import json
from pathlib import Path

import pytest
from hypothesis import Phase, find, settings

from idle_comet.core.clock import Rate
from idle_comet.core.contents.base import fixed
from idle_comet.core.edits import (
    PASSED_BY_UNDO,
    ChangeText,
    EditError,
    SetFilmSound,
    SetMarker,
    SetRange,
    SetSpans,
    apply,
)
from idle_comet.core.motion import Bounce, Cascade, Driven, Follow, Jumps, Key, Moving, Repeat, Spring, Traced, Wobble
from idle_comet.core.project.difference import difference
from idle_comet.core.project.model import (
    FilmSound,
    HeldKey,
    InToOut,
    Marker,
    Marks,
    PaletteColour,
    Project,
    SavedEase,
    Shutter,
    Step,
    Styled,
    Transition,
    TypeStyle,
    Units,
)
from idle_comet.core.project.upgrade import upgraded_document
from idle_comet.store.database import Database
from idle_comet.store.projects import NothingToUndo, ProjectStore, Sender, StaleRevision, UnknownProject
from idle_comet.store.recipes import RecipeStore

from ..core.drawn import DRAWN
from ..core.rich import rich_film


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


def test_every_kind_of_edit_is_written_and_undone_on_disk(database, heath):
    rich = rich_film(heath[1])
    ProjectStore(database).create("rich", rich)
    store = ProjectStore(database)

    def fits(edit):
        try:
            return apply(rich, edit)[0] != rich
        except EditError:
            return False

    first = settings(max_examples=60, phases=[Phase.generate], derandomize=True, database=None)
    for drawn in DRAWN.values():
        edit = find(drawn, fits, settings=first)
        revision = store.load("rich").revision
        after = store.edit("rich", revision, edit, f"{edit.kind}-{revision}").stored
        assert after.project != rich and ProjectStore(database).load("rich").project == after.project
        if isinstance(edit, PASSED_BY_UNDO):
            assert not after.undo
            rich = after.project
            continue
        store.undo("rich", after.revision, f"back-{after.revision}")
        assert ProjectStore(database).load("rich").project == rich


def test_every_part_of_a_document_comes_back_as_it_was(database, film):
    """One of everything, through the tables and out again; then each part alone as a difference."""
    title = film.clips["title"].model_copy(
        update={
            "skipped": 3,
            "cut_off": 4,
            "seen": "alone",
            "rides": "shot",
            "shutter": Shutter(angle=90, smear=2, sits="after"),
            "opening": Transition(kind="ellipse", length=9, ease=Spring(damping=0.4), softness=0.3),
            "closing": Transition(kind="dip", colour="#204060", ease=Traced(points=((0, 0), (0.4, 0.9), (1, 1)))),
            "content": film.clips["title"].content.model_copy(
                update={
                    "colour": Moving(
                        keys=(Key(at=0, value="#000000"), Key(at=9, value="#ffffff")),
                        through=True,
                        repeat=Repeat(mode="mirror", times=3),
                    ),
                    "held": {
                        "text": (HeldKey(id=1, at=5, value="B"),),
                        "typeface": (HeldKey(id=1, counts_from="tail", at=-5, value="bitter"),),
                    },
                    "ranges": (Styled(start=0, end=3, weight=900, colour="#00ff00"),),
                    "features": ("tnum",),
                    "case": "small",
                    "box_does": "fit",
                    "type_style": "calm",
                }
            ),
            "recipe": "skep",
            "palette": {"content.colour": "honey"},
            "steps": (
                *film.clips["title"].steps,
                Step(
                    id="more",
                    kind="placement",
                    since=4,
                    until=6,
                    values={
                        "path": Moving(
                            keys=(
                                Key(at=0, value=(1.5, -2), out=(4, 0)),
                                Key(at=9, value=(7, 8), into=(0, 3), ease=Bounce()),
                            )
                        ),
                        "x": Driven(motor=Wobble(amplitude=2, seed=9, fade_in=3), rest=4),
                        "y": Driven(motor=Follow(clip="shot", step="s", name="x", delay=2)),
                    },
                ),
                Step(
                    id="apart",
                    kind="shape",
                    choices={"form": "drawing"},
                    drawing="M0 0L9 0L9 9Z",
                    media="heath-evening",
                    units=Units(
                        arrival=Cascade(unit="letter", order="random", seed=4),
                        departure=Cascade(unit="line"),
                        pivot="top",
                    ),
                ),
            ),
        }
    )
    shot = film.clips["shot"].model_copy(
        update={"content": film.clips["shot"].content.model_copy(update={"speed": fixed(-0.5), "start": 12.5})}
    )
    whole = film.model_copy(
        update={
            "clips": {"title": title, "shot": shot},
            "tracks": tuple(
                track.model_copy(update={"hidden": True, "locked": True, "height": 90}) for track in film.tracks
            ),
            "marks": Marks(markers=(Marker(id="m", frame=7, name="swarm"),)),
            "range": InToOut(first=3, last=90),
            "settings": film.settings.model_copy(
                update={
                    "rate": Rate(num=30000, den=1001, non_drop=True),
                    "shutter": Shutter(angle=180),
                    "eases": (SavedEase(name="mine", ease=Jumps(count=3)),),
                    "palette": (PaletteColour(id="honey", name="Honey", value="#f0b440"),),
                    "type_styles": (
                        TypeStyle(
                            id="calm",
                            name="Calm",
                            look=film.clips["title"].content,
                            surface=(Step(id="soft", kind="shadow"),),
                        ),
                    ),
                }
            ),
        }
    )
    store = ProjectStore(database)
    store.create("whole", whole)
    assert fresh(store).load("whole").project == whole
    store.create("film", film)
    store.edit("film", 0, difference(film, whole), "token-001")
    assert fresh(store).load("film").project == whole
    store.undo("film", 1, "token-002")
    assert fresh(store).load("film").project == film


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


def test_undo_passes_over_the_range(store, film):
    store.edit("film", 0, SetMarker(marker="m", frame=9), "token-001")
    store.edit("film", 1, SetRange(first=3, last=40), "token-002")
    undone = fresh(store).undo("film", 2, "token-u1").stored
    assert not undone.project.marks.markers and not undone.undo
    assert (undone.project.range.first, undone.project.range.last) == (3, 40)
    moved = store.edit("film", 3, SetRange(first=5), "token-003").stored
    assert [entry.label for entry in moved.redo] == ["add marker"]
    # Dragging it is one row of the journal.
    for step in range(5):
        store.edit("film", 4 + step, SetRange(first=5 + step), f"token-d{step}", "drag")
    with store._database.transaction() as cursor:
        cursor.execute("SELECT COUNT(*) AS found FROM edits WHERE role = 'passed' AND gesture = 'drag'")
        assert cursor.fetchone()["found"] == 1
    redone = fresh(store).redo("film", 9, "token-r1").stored
    assert redone.project.marks.markers[0].frame == 9 and redone.project.range.first == 9


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


def test_a_film_with_parts_that_can_not_be_read_opens_without_them_and_says_so(store, film):
    """As an older program may have left it: a value with too many keys, words too long, a clip past the last frame, one
    over another."""
    with store._database.transaction() as cursor:
        keys = [{"at": at, "value": 1.0} for at in range(2100)]
        last = len(film.clips["title"].steps) - 1
        cursor.execute(
            f"UPDATE parts SET body = JSON_SET(body, '$.steps[{last}].values.x', JSON_EXTRACT(%s, '$')) WHERE id = "
            f"'title'",
            (json.dumps({"state": "moving", "keys": keys}),),
        )
        cursor.execute(
            "UPDATE parts SET body = JSON_SET(body, '$.content.text', %s) WHERE id = 'title'", ("x" * 12_000,)
        )
        for id, name, head, length in (
            ("far", "Far", "20000000", "9"),
            ("over", "Over", "JSON_VALUE(body, '$.head') + 5", "9"),
        ):
            cursor.execute(
                "INSERT INTO parts (project, sort, id, body) SELECT project, sort, %s, JSON_SET(body, '$.id', %s, "
                "'$.name', %s,"
                f" '$.head', {head}, '$.length', {length}) FROM parts WHERE sort = 'clip' AND id = 'shot'",
                (id, id, name),
            )
    opened = fresh(store)
    stored = opened.load("film")
    title = stored.project.clips["title"]
    assert len(title.steps[-1].values["x"].keys) == 2000 and title.content.text == "x" * 10_000
    assert set(stored.project.clips) == {"title", "shot", "over"} and stored.project.clips["over"].track != "shots"
    said = "\n".join(each.why for each in opened.set_aside("film"))
    assert (
        "2,000 entries" in said
        and "10,000 characters" in said
        and "head of “Far”" in said
        and "“Over” lay over another" in said
    )
    assert any(
        len(json.loads(each.document)) == 2100 for each in opened.set_aside("film") if each.document.startswith("[")
    ), "what was cut is kept whole"
    # Once and for all: it is not said again, and the film goes on as any other.
    again = fresh(store)
    assert again.load("film").project == stored.project and len(again.set_aside("film")) == len(
        opened.set_aside("film")
    )
    again.edit("film", 0, words("on"), "token-on1")
    assert again.undo("film", 1, "token-on2").stored.project == stored.project


def test_a_film_stored_before_every_part_had_a_row_opens_as_it_was_and_goes_on(database):
    kept = json.loads((Path(__file__).parent / "kept" / "rows-before-parts.json").read_text())
    film = Project.model_validate(upgraded_document(kept["project"]))
    with database.transaction() as cursor:
        columns = {"id": "kept", "revision": 4, **kept["film"]}
        cursor.execute(
            f"INSERT INTO projects ({', '.join(columns)}) VALUES ({', '.join(['%s'] * len(columns))})",
            tuple(columns.values()),
        )
        for table in ("tracks", "media", "clips", "steps"):
            held = kept["tables"][table]
            cursor.executemany(
                f"INSERT INTO {table} ({', '.join(held['columns'])}) VALUES "
                f"({', '.join(['%s'] * len(held['columns']))})",
                held["rows"],
            )
    store = ProjectStore(database)
    assert store.load("kept").project == film and store.set_aside("kept") == []
    title = next(id for id, clip in film.clips.items() if clip.content.kind == "text")
    after = store.edit("kept", 4, SetSpans(clip=title, arrival=3), "token-001").stored
    assert (
        fresh(store).load("kept").project == after.project
        and fresh(store).undo("kept", 5, "token-002").stored.project == film
    )


def test_a_way_back_that_can_not_be_read_is_gone_as_far_as_it_can_be(store, film):
    """As an older program may have journalled it: what leads back holds words that are too long."""
    store.edit("film", 0, words("now"), "token-001")
    with store._database.transaction() as cursor:
        cursor.execute(
            "UPDATE edits SET inverse = JSON_SET(inverse, '$.clips.title.content.text', %s) WHERE revision = 1",
            ("y" * 11_000,),
        )
    other = fresh(store)
    back = other.undo("film", 1, "token-002").stored.project
    assert back.clips["title"].content.text == "y" * 10_000 and "10,000 characters" in other.set_aside("film")[0].why
    assert fresh(store).load("film").project == back


def test_a_recipe_that_can_not_be_read_is_kept_and_hides_no_other(database):
    from idle_comet.core.recipes import shipped_recipes

    recipes = RecipeStore(database)
    good = next(iter(shipped_recipes().values())).model_copy(update={"id": "own-good"})
    recipes.keep(good)
    with database.transaction() as cursor:
        cursor.execute("INSERT INTO recipes (id, document) VALUES ('own-bad', '{\"format\": \"of another time\"}')")
        cursor.execute("INSERT INTO ensembles (id, document) VALUES ('own-bad', '{}')")
    assert recipes.own() == {"own-good": good} and recipes.own_ensembles() == {}
    with database.transaction() as cursor:
        cursor.execute("SELECT id FROM recipes ORDER BY id")
        assert [row["id"] for row in cursor.fetchall()] == ["own-bad", "own-good"]


def test_what_was_worked_out_of_a_whole_state_holds_for_no_other(database, film):
    """A loudness that was measured before another edit is not set after it; what a hand set is."""
    store = ProjectStore(database)
    store.create("film", film)
    quieter = SetFilmSound(sound=FilmSound(gain=-6.0))
    store.edit("film", 0, ChangeText(clip="title", text="LOUD"), "token-001", sender=Sender(0, 0, "window-one"))
    with pytest.raises(StaleRevision) as stale:
        store.edit("film", 0, quieter, "token-002")
    assert stale.value.stored.revision == 1 and store.load("film").project.settings.sound.gain == 0
    assert store.edit("film", 0, quieter, "token-003", sender=Sender(0, 0, "window-two")).stored.revision == 2
