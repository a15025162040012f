"""Projects as they stand, and their edits: each one transaction, each acknowledged only when written."""

from __future__ import annotations

import json
import threading
from dataclasses import dataclass, field, replace
from typing import Any, Callable

from pydantic import TypeAdapter, ValidationError

from ..core.edits import Edit, enact
from ..core.edits.mending import Aside, mended
from ..core.project.difference import Difference, joined
from ..core.project.model import KeptLook, Project
from ..core.project.upgrade import upgraded_document
from .database import Database
from .rows import read_looks, read_project, rewrite, write_difference

_edit = TypeAdapter(Edit | Difference)


class UnknownProject(LookupError):
    """There is no project of this id."""


class DeletedProject(ValueError):
    """The project is off the list and takes no edits until it is put back."""


class NothingToUndo(ValueError):
    """The history is empty in that direction."""


class StaleRevision(ValueError):
    """The edit was made on an older state; nothing was overwritten."""

    def __init__(self, stored: "Stored") -> None:
        super().__init__("The project has changed since. Nothing was overwritten; the current state is in the answer.")
        self.stored = stored


@dataclass(frozen=True, slots=True)
class Past:
    """One entry of the history: what undo will say, and the revisions it takes back."""

    label: str
    revisions: tuple[int, ...]
    gesture: str | None = None


@dataclass(frozen=True, slots=True)
class Stored:
    """A project at a revision, with what can be undone and redone."""

    id: str
    revision: int
    project: Project
    undo: tuple[Past, ...] = ()
    redo: tuple[Past, ...] = ()


@dataclass(frozen=True, slots=True)
class Outcome:
    """What an edit did: the state after it and the parts that changed."""

    stored: Stored
    change: Difference = field(default_factory=Difference)


def _fold(undo: list[Past], redo: list[Past], revision: int, role: str, label: str, gesture: str | None) -> None:
    """Add one journal row to the history. Edits of one gesture are one entry."""
    if role == "do":
        redo.clear()
        if gesture and undo and undo[-1].gesture == gesture:
            undo[-1] = replace(undo[-1], label=label, revisions=(*undo[-1].revisions, revision))
        else:
            undo.append(Past(label, (revision,), gesture))
    else:
        source, target = (undo, redo) if role == "undo" else (redo, undo)
        source.pop()
        target.append(Past(label, (revision,)))


class ProjectStore:
    """All projects. The newest state of each is kept in memory and checked against its revision."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._known: dict[str, Stored] = {}
        self._lock = threading.Lock()
        self.listener: Callable[[Outcome], None] | None = None
        """Told of every edit once it is written, from the thread that wrote it."""

    def listed(self, with_deleted: bool = False) -> list[dict[str, Any]]:
        """Id, name, size and time of the last change of every project, the latest first."""

        def work(cursor):
            cursor.execute(
                "SELECT id, name, width, height, rate_num, rate_den, revision, changed_at, deleted_at FROM projects"
                " ORDER BY changed_at DESC, id"
            )
            return [row for row in cursor.fetchall() if with_deleted or row["deleted_at"] is None]

        return self._database.run(work)

    def looks(self) -> list[tuple[str, str, KeptLook]]:
        """The looks that films keep, each once and with the id and the name of the film that changed last."""
        found = self._database.run(read_looks)
        return list({look.id: (film, name, look) for film, name, look in reversed(found)}.values())[::-1]

    def set_deleted(self, id: str, deleted: bool) -> None:
        """Take a project off the list, or put it back; nothing of it is lost."""
        self.load(id)
        self._database.run(
            lambda cursor: cursor.execute(
                f"UPDATE projects SET deleted_at = {'CURRENT_TIMESTAMP(3)' if deleted else 'NULL'} WHERE id = %s", (id,)
            )
        )

    def create(self, id: str, project: Project) -> Stored:
        """Store a new project under an id that is not taken."""

        def work(cursor):
            cursor.execute(
                "INSERT INTO projects (id, revision, name, width, height, rate_num, rate_den, background)"
                " VALUES (%s, 0, '', 16, 16, 1, 1, '#000000')",
                (id,),
            )
            rewrite(cursor, id, project)

        self._database.run(work)
        return self.load(id)

    def load(self, id: str) -> Stored:
        """The newest state; raises UnknownProject."""

        def work(cursor):
            cursor.execute("SELECT revision FROM projects WHERE id = %s", (id,))
            return self._current(cursor, id, cursor.fetchone())

        return self._database.run(work)

    def _current(self, cursor, id: str, row: dict | None) -> Stored:
        if row is None:
            raise UnknownProject(f"There is no project “{id}”.")
        known = self._known.get(id)
        if known and known.revision == row["revision"]:
            return known
        found = read_project(cursor, id)
        project, revision = found.project, found.revision
        if found.aside or found.moved:
            # Once and for all: what is left is what the film is from now on.
            rewrite(cursor, id, project)
            self._set_aside(cursor, id, found.aside)
        cursor.execute(
            "SELECT revision, role, label, gesture FROM edits WHERE project = %s AND revision <= %s ORDER BY revision",
            (id, revision),
        )
        undo: list[Past] = []
        redo: list[Past] = []
        for each in cursor.fetchall():
            _fold(undo, redo, each["revision"], each["role"], each["label"], each["gesture"])
        return self._remember(Stored(id, revision, project, tuple(undo), tuple(redo)))

    def _set_aside(self, cursor, id: str, aside: list[Aside]) -> None:
        cursor.executemany(
            "INSERT INTO set_aside (project, owner, why, document) VALUES (%s, %s, %s, %s)",
            [(id, each.owner[:300], each.why[:1000], each.document) for each in aside],
        )

    def set_aside(self, id: str) -> list[Aside]:
        """Parts of the project that could not be read any more, the oldest first."""

        def work(cursor):
            cursor.execute("SELECT owner, why, document FROM set_aside WHERE project = %s ORDER BY id", (id,))
            return [Aside(**row) for row in cursor.fetchall()]

        return self._database.run(work)

    def _remember(self, stored: Stored) -> Stored:
        with self._lock:
            known = self._known.get(stored.id)
            if known is None or known.revision <= stored.revision:
                self._known[stored.id] = stored
        return stored

    def edit(self, id: str, revision: int, edit: Edit, token: str, gesture: str | None = None) -> Outcome:
        """Apply an edit made on `revision` and write it before returning.

        `token` names the edit: sent again (after a lost answer) it is not done twice.
        Raises EditError, StaleRevision, UnknownProject.
        """

        def prepare(cursor, stored: Stored):
            return edit, None

        return self._write(id, revision, token, "do", gesture, prepare)

    def undo(self, id: str, revision: int, token: str) -> Outcome:
        return self._write(
            id, revision, token, "undo", None, lambda cursor, stored: self._back(cursor, stored, stored.undo, "undo")
        )

    def redo(self, id: str, revision: int, token: str) -> Outcome:
        return self._write(
            id, revision, token, "redo", None, lambda cursor, stored: self._back(cursor, stored, stored.redo, "redo")
        )

    def _back(self, cursor, stored: Stored, history: tuple[Past, ...], what: str) -> tuple[Difference, str | None]:
        if not history:
            raise NothingToUndo(f"There is nothing to {what}.")
        entry = history[-1]
        marks = ", ".join(["%s"] * len(entry.revisions))
        cursor.execute(
            f"SELECT inverse FROM edits WHERE project = %s AND revision IN ({marks}) ORDER BY revision DESC",
            (stored.id, *entry.revisions),
        )
        return joined([self._inverse(cursor, stored.id, row["inverse"]) for row in cursor.fetchall()]), entry.label

    def _inverse(self, cursor, id: str, text: str) -> Difference:
        """What leads back, as it was written; parts of it that no longer validate are mended and set aside."""
        raw = upgraded_document(json.loads(text))
        try:
            return Difference.model_validate(raw)
        except ValidationError:
            found, aside = mended(Difference, raw, "What was taken back")
            self._set_aside(cursor, id, aside)
            return found or Difference()

    def _write(self, id: str, revision: int, token: str, role: str, gesture: str | None, prepare) -> Outcome:
        def work(cursor):
            cursor.execute("SELECT revision, deleted_at FROM projects WHERE id = %s FOR UPDATE", (id,))
            row = cursor.fetchone()
            if row is not None and row["deleted_at"] is not None:
                raise DeletedProject(
                    "This film was deleted, so nothing was changed. Put it back first; it is as it was."
                )
            stored = self._current(cursor, id, row)
            cursor.execute("SELECT revision, inverse FROM edits WHERE project = %s AND token = %s", (id, token))
            done = cursor.fetchone()
            if done:
                return Outcome(stored, _everything(stored.project))
            if stored.revision != revision:
                raise StaleRevision(stored)
            edit, label = prepare(cursor, stored)
            after, change, inverse, says = enact(stored.project, edit)
            label = label or says
            write_difference(cursor, id, change)
            cursor.execute(
                "UPDATE projects SET revision = %s, changed_at = CURRENT_TIMESTAMP(3) WHERE id = %s", (revision + 1, id)
            )
            cursor.execute(
                "INSERT INTO edits (project, revision, role, token, gesture, label, edit, inverse)"
                " VALUES (%s, %s, %s, %s, %s, %s, %s, %s)",
                (
                    id,
                    revision + 1,
                    role,
                    token,
                    gesture,
                    label[:200],
                    _edit.dump_json(edit).decode(),
                    inverse.model_dump_json(),
                ),
            )
            undo, redo = list(stored.undo), list(stored.redo)
            _fold(undo, redo, revision + 1, role, label[:200], gesture)
            return Outcome(Stored(id, revision + 1, after, tuple(undo), tuple(redo)), change)

        outcome = self._database.run(work)
        # Only what is committed is remembered, and told.
        self._remember(outcome.stored)
        if self.listener is not None and outcome.change != Difference() and outcome.stored.revision == revision + 1:
            self.listener(outcome)
        return outcome


def _everything(project: Project) -> Difference:
    return Difference(
        settings=project.settings, tracks=project.tracks, marks=project.marks, media=project.media, clips=project.clips
    )
