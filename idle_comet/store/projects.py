"""Projects as they stand, and their edits: each one transaction, each acknowledged only when written."""

from __future__ import annotations

import json
import threading
from dataclasses import dataclass, field, replace
from itertools import count
from typing import Any, Callable, Literal, overload

from cachetools import LRUCache
from pydantic import TypeAdapter, ValidationError

from ..core.edits import PASSED_BY_UNDO, ChangeText, Edit, Enacted, enact
from ..core.edits.mending import Aside, mended
from ..core.edits.rebase import Conflict, Conflicting, rebased
from ..core.project.difference import Difference, apply_difference, inverse_of, joined, whole
from ..core.project.model import KeptLook, Media, Project
from ..core.project.touched import How, Path, touched
from ..core.project.upgrade import upgraded_document
from .database import Database
from .rows import read_looks, read_media, read_project, rewrite, write_difference

_edit = TypeAdapter(Edit | Difference)

Role = Literal["do", "undo", "redo", "passed"]
_Prepare = Callable[..., tuple[Any, Enacted, str | None]]
"""Of an edit: what is written of it, what it does to the newest state, and what undo says if not its own label."""


class UnknownProject(LookupError):
    """There is no project of this id."""


class DeletedProject(ValueError):
    """The project is off the list and takes no edits until it is put back."""


class NothingToUndo(ValueError):
    """The history is empty in that direction."""


class StaleRevision(ValueError):
    """What is to be undone or done again is no longer what was seen; nothing was changed."""

    def __init__(self, stored: "Stored", conflicts: list[Conflict] | None = None, message: str = "") -> None:
        super().__init__(
            message
            or "Another window has changed the film since, and this would take that back. Nothing was changed; the "
            "film is shown as it is now."
        )
        self.stored = stored
        self.conflicts = conflicts or []


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
    """What an edit did: the state after it, and the parts that differ from those of revision `since`.

    Where that can't be known any more `since` is None, and `change` is all of the film.
    """

    stored: Stored
    change: Difference = field(default_factory=Difference)
    since: int | None = None
    token: str = ""


@dataclass(frozen=True, slots=True)
class Sender:
    """Who makes an edit, and what they know.

    `known` is the newest revision they have the state of, `saw` the one that was on their screen as they made it, their
    own edits since apart; `window` names them. Without a name every edit since `saw` is somebody else's.
    """

    known: int
    saw: int
    window: str | None = None


def _fold(undo: list[Past], redo: list[Past], revision: int, role: str, label: str, gesture: str | None) -> None:
    """Add one journal row to the history. Edits of one gesture are one entry; what undo passes over is none."""
    if role == "passed":
        return
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


_FILMS = 32
"""Films whose newest state is kept in memory."""


class ProjectStore:
    """All projects. The newest state of each is kept in memory and checked against its revision."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._known: LRUCache[str, Stored] = LRUCache(_FILMS)
        self._lock = threading.Lock()
        self.listener: Callable[[Outcome], None] | None = None
        """Told of every edit once it is written, from the thread that wrote it."""

    @property
    def waits(self) -> float:
        """Seconds for which the oldest work that is under way has been waiting for the database; 0 where none is."""
        return self._database.waits

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

    def media_elsewhere(self, id: str) -> list[tuple[str, str, Media]]:
        """The media of other films that this one does not have, each once and with the id and the name of the film that
        changed last."""
        own = {each.hash for each in self.load(id).project.media.values()}
        found = self._database.run(lambda cursor: read_media(cursor, id))
        unlike = {media.hash: (film, name, media) for film, name, media in reversed(found) if media.hash not in own}
        return list(unlike.values())[::-1]

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

        tries = count()

        def work(cursor):
            if next(tries):
                cursor.execute("SELECT 1 FROM projects WHERE id = %s", (id,))
                if cursor.fetchone():
                    # The answer of the commit was lost.
                    return
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

        def work(cursor) -> Stored | None:
            cursor.execute("SELECT revision FROM projects WHERE id = %s", (id,))
            return self._current(cursor, id, cursor.fetchone(), False)

        stored = self._database.run(work)
        # One that has to be mended is read once more with its row locked: what is written back is what stands there.
        return stored or self._database.run(lambda cursor: self._mended(cursor, id))

    def _mended(self, cursor, id: str) -> Stored:
        cursor.execute("SELECT revision FROM projects WHERE id = %s FOR UPDATE", (id,))
        return self._current(cursor, id, cursor.fetchone())

    @overload
    def _current(self, cursor, id: str, row: dict | None, locked: Literal[True] = True) -> Stored: ...

    @overload
    def _current(self, cursor, id: str, row: dict | None, locked: bool) -> Stored | None: ...

    def _current(self, cursor, id: str, row: dict | None, locked: bool = True) -> Stored | None:
        """The state that a row of the table of films stands for; None where it has to be mended and the row is not
        locked."""
        if row is None:
            raise UnknownProject(f"There is no project “{id}”.")
        with self._lock:
            known = self._known.get(id)
        if known and known.revision == row["revision"]:
            return known
        found = read_project(cursor, id)
        if found is None:
            raise UnknownProject(f"There is no project “{id}”.")
        project, revision = found.project, found.revision
        if found.aside or found.moved:
            if not locked:
                return None
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

    def edit(
        self, id: str, revision: int, edit: Edit, token: str, gesture: str | None = None, sender: Sender | None = None
    ) -> Outcome:
        """Apply an edit made on `revision` and write it before returning.

        `token` names the edit: sent again (after a lost answer) it is not done twice. What a window made on an older
        state is done on the newest, unless it touches what others changed since. Without a `sender` it was worked out
        of all of that state (how loud the film is, say), and holds for no other.
        Raises EditError, StaleRevision (with both values) where it does not hold, UnknownProject.
        """

        def prepare(cursor, stored: Stored, by: Sender) -> tuple[Edit, Enacted, str | None]:
            if sender is None and stored.revision != revision:
                raise StaleRevision(stored)
            theirs, typed_on = self._by_others(cursor, stored, by, edit)
            if not theirs:
                return edit, enact(stored.project, edit), None
            try:
                return edit, rebased(stored.project, edit, theirs, typed_on), None
            except Conflicting as error:
                raise StaleRevision(stored, error.conflicts, str(error)) from None

        role: Role = "passed" if isinstance(edit, PASSED_BY_UNDO) else "do"
        return self._write(id, sender or Sender(revision, revision), token, role, gesture, prepare)

    def undo(self, id: str, revision: int, token: str, sender: Sender | None = None) -> Outcome:
        return self._along(id, token, "undo", sender or Sender(revision, revision))

    def redo(self, id: str, revision: int, token: str, sender: Sender | None = None) -> Outcome:
        return self._along(id, token, "redo", sender or Sender(revision, revision))

    def _along(self, id: str, token: str, what: Literal["undo", "redo"], sender: Sender) -> Outcome:
        """One step along the history. It takes back what was seen, or nothing: raises StaleRevision where others made
        edits since."""

        def prepare(cursor, stored: Stored, by: Sender) -> tuple[Difference, Enacted, str | None]:
            since = [row for row in _since(cursor, stored, by.saw) if row["role"] != "passed"]
            if any(row["window"] is None or row["window"] != by.window for row in since):
                raise StaleRevision(stored)
            history = stored.undo if what == "undo" else stored.redo
            if not history:
                raise NothingToUndo(f"There is nothing to {what}.")
            entry = history[-1]
            marks = ", ".join(["%s"] * len(entry.revisions))
            cursor.execute(
                f"SELECT inverse FROM edits WHERE project = %s AND revision IN ({marks}) ORDER BY revision DESC",
                (stored.id, *entry.revisions),
            )
            back = joined([self._inverse(cursor, stored.id, row["inverse"]) for row in cursor.fetchall()])
            return back, enact(stored.project, back), entry.label

        return self._write(id, sender, token, what, None, prepare)

    def _by_others(self, cursor, stored: Stored, by: Sender, edit: Edit) -> tuple[dict[Path, How], str | None]:
        """What others touched since what the sender saw; and, of new words, the text they were typed on."""
        theirs: dict[Path, How] = {}
        after = stored.project
        own: str | None = None
        for row in _since(cursor, stored, by.saw):
            inverse = self._inverse(cursor, stored.id, row["inverse"])
            before = apply_difference(after, inverse)
            if row["window"] is None or row["window"] != by.window:
                theirs |= touched(before, inverse_of(inverse, after))
            elif own is None and isinstance(edit, ChangeText):
                own = _typed(json.loads(row["edit"]), edit.clip)
            after = before
        if not isinstance(edit, ChangeText):
            return theirs, None
        if own is None:
            own = edit.typed_on
        clip = after.clips.get(edit.clip)
        return theirs, own if own is not None else clip.content.text if clip and clip.content.kind == "text" else None

    def _inverse(self, cursor, id: str, text: str) -> Difference:
        """What leads back, as it was written; parts of it that no longer validate are mended and set aside."""
        raw = upgraded_document(json.loads(text))
        try:
            return Difference.model_validate(raw)
        except ValidationError:
            found, aside = mended(Difference, raw, "What was taken back")
            self._set_aside(cursor, id, aside)
            return found or Difference()

    def _write(self, id: str, by: Sender, token: str, role: Role, gesture: str | None, prepare: _Prepare) -> Outcome:
        done: Outcome | None = None

        def work(cursor) -> Outcome:
            nonlocal done
            cursor.execute("SELECT revision, deleted_at FROM projects WHERE id = %s FOR UPDATE", (id,))
            row = cursor.fetchone()
            if row is not None and row["deleted_at"] is not None:
                raise DeletedProject(
                    "This film was deleted, so nothing was changed. Put it back first; it is as it was."
                )
            stored = self._current(cursor, id, row)
            cursor.execute("SELECT revision FROM edit_tokens WHERE project = %s AND token = %s", (id, token))
            known = cursor.fetchone()
            if known:
                # By an earlier try of this very call, whose commit was never answered; or sent again.
                if done is not None and done.stored.revision == known["revision"]:
                    return done
                done = None
                return self._outcome(cursor, stored, by.known, None, token)
            if max(by.known, by.saw) > stored.revision:
                raise StaleRevision(
                    stored, message="This was made on a state that is not known here. Nothing was changed."
                )
            edit, (after, change, inverse, says), label = prepare(cursor, stored, by)
            label = (label or says)[:200]
            revision = stored.revision + 1
            write_difference(cursor, id, change)
            cursor.execute(
                "UPDATE projects SET revision = %s, changed_at = CURRENT_TIMESTAMP(3) WHERE id = %s", (revision, id)
            )
            cursor.execute(
                "INSERT INTO edit_tokens (project, token, revision) VALUES (%s, %s, %s)", (id, token, revision)
            )
            undo, redo = list(stored.undo), list(stored.redo)
            goes_on = self._go_on(cursor, stored, revision, role, gesture, by.window, token, label, edit, inverse)
            if goes_on and role == "do":
                undo[-1] = replace(undo[-1], label=label, revisions=(*undo[-1].revisions[:-1], revision))
            elif not goes_on:
                cursor.execute(
                    "INSERT INTO edits (project, revision, since, role, token, gesture, window, label, edit, inverse)"
                    " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
                    (
                        id,
                        revision,
                        stored.revision,
                        role,
                        token,
                        gesture,
                        by.window,
                        label,
                        _edit.dump_json(edit).decode(),
                        inverse.model_dump_json(),
                    ),
                )
                _fold(undo, redo, revision, role, label, gesture)
            now = Stored(id, revision, after, tuple(undo), tuple(redo))
            done = self._outcome(cursor, now, by.known, change, token)
            return done

        outcome = self._database.run(work)
        # Only what is committed is remembered, and told.
        self._remember(outcome.stored)
        if outcome is done and self.listener is not None:
            self.listener(outcome)
        return outcome

    def _go_on(
        self,
        cursor,
        stored: Stored,
        revision: int,
        role: Role,
        gesture: str | None,
        window: str | None,
        token: str,
        label: str,
        edit: Edit | Difference,
        inverse: Difference,
    ) -> bool:
        """Write an edit into the newest row of the journal, if that is of the same gesture. Returns whether it was."""
        if not gesture or role in ("undo", "redo"):
            return False
        last = stored.undo[-1] if stored.undo else None
        if role == "do" and (last is None or last.revisions[-1] != stored.revision or stored.redo):
            return False
        cursor.execute(
            "SELECT inverse FROM edits"
            " WHERE project = %s AND revision = %s AND role = %s AND gesture = %s AND window <=> %s",
            (stored.id, stored.revision, role, gesture, window),
        )
        row = cursor.fetchone()
        if row is None:
            return False
        back = joined([inverse, self._inverse(cursor, stored.id, row["inverse"])])
        cursor.execute(
            "UPDATE edits SET revision = %s, token = %s, label = %s, edit = %s, inverse = %s"
            " WHERE project = %s AND revision = %s",
            (
                revision,
                token,
                label,
                _edit.dump_json(edit).decode(),
                back.model_dump_json(),
                stored.id,
                stored.revision,
            ),
        )
        return True

    def _outcome(self, cursor, now: Stored, known: int, change: Difference | None, token: str) -> Outcome:
        """The state now, with what differs from the one the sender knows. `change` is what the newest edit changed."""
        if change is not None and known == now.revision - 1:
            return Outcome(now, change, known, token)
        if known == now.revision:
            return Outcome(now, Difference(), known, token)
        changes = [] if change is None else [change]
        inverses = [self._inverse(cursor, now.id, row["inverse"]) for row in _since(cursor, now, known)]
        parts = joined([*inverses, *changes])
        if known > now.revision or known < 0 or (not inverses and not changes):
            return Outcome(now, whole(now.project), None, token)
        return Outcome(now, _as_now(parts, now.project), known, token)

    def forget_tokens(self) -> None:
        """Let go of tokens that are older than a month: nobody sends an edit again after that."""
        self._database.run(
            lambda cursor: cursor.execute(
                "DELETE FROM edit_tokens WHERE made_at < CURRENT_TIMESTAMP(3) - INTERVAL 30 DAY"
            )
        )


def _since(cursor, stored: Stored, revision: int) -> list[dict[str, Any]]:
    """Rows of the journal whose edits are newer than a revision, in part at least; the newest first."""
    if revision >= stored.revision:
        return []
    cursor.execute(
        "SELECT revision, role, window, edit, inverse FROM edits"
        " WHERE project = %s AND revision > %s AND revision <= %s ORDER BY revision DESC",
        (stored.id, revision, stored.revision),
    )
    return list(cursor.fetchall())


def _typed(edit: dict[str, Any], clip: str) -> str | None:
    """The words that an edit of the journal set on a clip."""
    return edit.get("text") if edit.get("kind") == "change_text" and edit.get("clip") == clip else None


def _as_now(parts: Difference, project: Project) -> Difference:
    """The parts that a difference names, as they stand in a document."""
    return Difference(
        settings=parts.settings and project.settings,
        tracks=None if parts.tracks is None else project.tracks,
        marks=parts.marks and project.marks,
        range=parts.range and project.range,
        media={id: project.media[id] for id in (*parts.media, *parts.media_gone) if id in project.media},
        media_gone=tuple(id for id in (*parts.media, *parts.media_gone) if id not in project.media),
        clips={id: project.clips[id] for id in (*parts.clips, *parts.clips_gone) if id in project.clips},
        clips_gone=tuple(id for id in (*parts.clips, *parts.clips_gone) if id not in project.clips),
    )
