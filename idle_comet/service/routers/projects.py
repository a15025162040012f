"""Projects, their edits, undo and redo."""

from __future__ import annotations

import asyncio
import logging
import re
import uuid
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request, Response
from fastapi.responses import JSONResponse
from pydantic import ConfigDict, Field

from ...core.checks.fitting import no_longer_fits
from ...core.checks.noticed import noticed
from ...core.clock import Numbering, Rate, TimecodeError, format_timecode, numbering_of, parse_time
from ...core.edits import ChangeSettings, Edit, EditError, enact, misfits
from ...core.edits.mending import Aside
from ...core.edits.rebase import Conflict
from ...core.modelled import Model
from ...core.moment.course import ClipCourse
from ...core.moment.meeting import Meeting, meetings
from ...core.project.difference import Difference
from ...core.project.model import Id, Project, Settings, Track
from ...core.project.timeline import film_length
from ...media.package import missing_files
from ...store.projects import Outcome, Sender, StaleRevision, Stored
from ..answers import Answers
from ..context import InContext
from ..courses import courses_of, redrawn
from ..problems import UNFITTING, Problem

router = APIRouter(prefix="/projects", tags=["projects"])

_log = logging.getLogger(__name__)

Token = Annotated[str, Field(min_length=8, max_length=64)]


class ProjectSummary(Model):
    id: str
    name: str
    width: int
    height: int
    rate: str
    revision: int


class ProjectOrder(Model):
    """A new film's name, frame size in px and exact rate."""

    name: Annotated[str, Field(min_length=1, max_length=200)] = "Untitled film"
    width: Annotated[int, Field(ge=16, le=8192, multiple_of=2)] = 1280
    height: Annotated[int, Field(ge=16, le=8192, multiple_of=2)] = 720
    rate: Rate = Rate(num=25)


class CopyOrder(Model):
    """What is to be other in the copy; what is left out is as in the film."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[str, Field(min_length=1, max_length=200)] | None = None
    width: Annotated[int, Field(ge=16, le=8192, multiple_of=2)] | None = None
    height: Annotated[int, Field(ge=16, le=8192, multiple_of=2)] | None = None
    rate: Rate | None = None


class History(Model):
    """What undo and redo would take back or do again, in words; None when there is nothing."""

    undo: str | None
    redo: str | None


class ProjectState(Model):
    id: str
    revision: int
    project: Project
    length: int
    history: History
    misfits: list[str]
    numbering: Numbering
    notes: list[str] = []
    """What of the film can't be done as it says, or does not fit into its frame any more, a sentence each."""
    set_aside: list[str] = []
    """What could not be read of the film any more, a sentence each; it is kept (see `/set-aside`)."""


class SetAside(Model):
    """A part of the film that could not be read any more: whose it was, why, and the part itself as JSON."""

    owner: str
    why: str
    document: str


class HistoryOrder(Model):
    """An undo or a redo.

    `revision` is the newest revision that the sender knows: the answer has what differs from it. `saw` is the one that
    was on the screen as it was made (by default the same), apart from the sender's own edits since, which the server
    knows by `window`. `token` names it once and for all: sent again, it is not done twice.
    """

    revision: int
    saw: int | None = None
    window: Annotated[str, Field(min_length=8, max_length=64)] | None = None
    token: Token = Field(default_factory=lambda: uuid.uuid4().hex)

    @property
    def sender(self) -> Sender:
        return Sender(self.revision, self.revision if self.saw is None else self.saw, self.window)


class EditOrder(HistoryOrder):
    """An edit, with what its sender knows (see HistoryOrder). Edits of one `gesture` undo together."""

    gesture: str | None = Field(default=None, max_length=64)
    edit: Edit


class EditAnswer(Model):
    """The film after an edit: its revision, the parts that differ from those of revision `since`, and how to draw them
    if they are few. Where `since` is None, `change` is all of the film."""

    revision: int
    since: int | None
    token: str = ""
    """The edit's own, by which its maker knows it."""
    length: int
    history: History
    change: Difference
    courses: dict[str, ClipCourse]
    outdated: list[Id] = []
    """Clips whose course is another now and does not come with this: it is asked for when it is in sight."""
    misfits: list[str]
    """Clips that reach past the shot they ride with."""
    numbering: Numbering
    notes: list[str] = []
    """What does not fit into the film's frame any more, a sentence each."""


class CoursesOrder(Model):
    """Clips whose courses are wanted: those in sight."""

    clips: Annotated[list[Id], Field(max_length=500)]


class MeetingsOrder(Model):
    """Clips in hand, and where the playhead stands."""

    clips: Annotated[list[Id], Field(max_length=500)]
    playhead: int | None = None


class Courses(Model):
    """How to draw clips at a revision; clips that are not there are left out."""

    revision: int
    courses: dict[str, ClipCourse]


class StaleAnswer(Model):
    """An edit that meets what others changed: nothing of it was done. `current` is the film as it is now, `conflicts`
    the places that both changed, with both values."""

    detail: str
    current: ProjectState
    conflicts: list[Conflict] = []


class Timecode(Model):
    frame: int
    timecode: str


class FrameCount(Model):
    frames: int


def _new_id(name: str) -> str:
    word = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40] or "film"
    return f"{word}-{uuid.uuid4().hex[:8]}"


def _history(stored: Stored) -> History:
    return History(
        undo=stored.undo[-1].label if stored.undo else None, redo=stored.redo[-1].label if stored.redo else None
    )


def _state(stored: Stored, aside: list[Aside] = []) -> ProjectState:
    project = stored.project
    return ProjectState(
        id=stored.id,
        revision=stored.revision,
        project=project,
        length=film_length(project),
        history=_history(stored),
        misfits=misfits(project),
        numbering=numbering_of(project.settings.rate),
        set_aside=[f"{each.why}." for each in aside if each.why],
    )


def answer_of(outcome: Outcome) -> EditAnswer:
    """What is said of an edit. The edit is written by now: where the drawing of it fails, it is said without."""
    stored = outcome.stored
    answer = EditAnswer(
        revision=stored.revision,
        since=outcome.since,
        token=outcome.token,
        length=film_length(stored.project),
        history=_history(stored),
        change=outcome.change,
        courses={},
        outdated=list(outcome.change.clips),
        misfits=[],
        numbering=numbering_of(stored.project.settings.rate),
    )
    try:
        few, others = redrawn(stored.project, outcome.change)
        drawn = {"courses": courses_of(stored.project, few), "outdated": others, "misfits": misfits(stored.project)}
    except Exception:
        _log.exception("The answer to an edit of %s, which is written, could not be made whole", stored.id)
        return answer.model_copy(update={"notes": ["The change is saved. The timeline could not draw all of it."]})
    return answer.model_copy(update=drawn)


ANSWERS = Answers(lambda outcome: answer_of(outcome).model_dump_json())
"""Of edits, for all who are told of them."""


def _json(text: str) -> Response:
    return Response(text, media_type="application/json")


def _said(outcome: Outcome) -> Response:
    return _json(ANSWERS.of(outcome))


async def stale(request: Request, error: Exception) -> JSONResponse:
    """An edit of a revision that is no longer the newest: the answer has the film as it is now."""
    assert isinstance(error, StaleRevision)
    current = await asyncio.to_thread(_state, error.stored)
    return JSONResponse(
        StaleAnswer(detail=str(error), current=current, conflicts=error.conflicts).model_dump(mode="json"), 409
    )


_STALE: dict[int | str, dict[str, Any]] = {
    409: {"model": StaleAnswer | Problem, "description": "Others changed the same since, or there is nothing to undo."}
}


@router.get("")
def list_projects(context: InContext) -> list[ProjectSummary]:
    return [
        ProjectSummary(
            id=row["id"],
            name=row["name"],
            width=row["width"],
            height=row["height"],
            rate=f"{row['rate_num']}/{row['rate_den']}",
            revision=row["revision"],
        )
        for row in context.store.listed()
    ]


@router.post("", status_code=201)
def make_project(order: ProjectOrder, context: InContext) -> ProjectState:
    """A new project with two empty tracks."""
    tracks = (Track(id="titles", name="Titles"), Track(id="shots", name="Shots"))
    settings = Settings(name=order.name, width=order.width, height=order.height, rate=order.rate)
    return _state(context.store.create(_new_id(order.name), Project(settings=settings, tracks=tracks)))


@router.post("/{project_id}/copy", status_code=201)
def copy_project(project_id: str, context: InContext, order: CopyOrder | None = None) -> ProjectState:
    """A second project that begins as this one stands now, in another frame and at another rate if that is asked
    for."""
    project, order = context.store.load(project_id).project, order or CopyOrder()
    change = ChangeSettings(
        name=order.name or f"{project.settings.name[:190]}, copy",
        width=order.width,
        height=order.height,
        rate=order.rate,
    )
    after = enact(project, change)[0]
    state = _state(context.store.create(_new_id(after.settings.name), after))
    return state.model_copy(update={"notes": no_longer_fits(project, after)})


@router.delete("/{project_id}", status_code=204)
def delete_project(project_id: str, context: InContext) -> None:
    """Take a project off the list; it can be put back."""
    context.store.set_deleted(project_id, True)
    context.exports.cancel_of(project_id)


@router.post("/{project_id}/put-back")
def put_project_back(project_id: str, context: InContext) -> ProjectState:
    context.store.set_deleted(project_id, False)
    return _state(context.store.load(project_id))


@router.get("/{project_id}")
def read_project(project_id: str, context: InContext) -> ProjectState:
    stored = context.store.load(project_id)
    notes = [*noticed(stored.project), *missing_files(stored.project, context.media)]
    context.verifying.look(project_id, stored.project.media.values())
    return _state(stored, context.store.set_aside(project_id)).model_copy(update={"notes": notes})


@router.get("/{project_id}/set-aside")
def read_set_aside(project_id: str, context: InContext) -> list[SetAside]:
    """What could not be read of the film any more, as it was stored."""
    context.store.load(project_id)
    return [SetAside(**each._asdict()) for each in context.store.set_aside(project_id)]


@router.post("/{project_id}/courses")
def draw(project_id: str, order: CoursesOrder, context: InContext) -> Courses:
    """How to draw the clips that are in sight."""
    stored = context.store.load(project_id)
    return Courses(revision=stored.revision, courses=courses_of(stored.project, order.clips))


@router.post("/{project_id}/meetings")
def meet(project_id: str, order: MeetingsOrder, context: InContext) -> list[Meeting]:
    """Where ends of clips in hand stand exactly on something."""
    return meetings(context.store.load(project_id).project, order.clips, order.playhead)


@router.post("/{project_id}/edits", responses=_STALE | UNFITTING, response_model=EditAnswer)
def edit_project(project_id: str, order: EditOrder, context: InContext) -> Response:
    before = context.store.load(project_id).project if isinstance(order.edit, ChangeSettings) else None
    context.strangers.drawings_of(order.edit)
    outcome = context.store.edit(project_id, order.revision, order.edit, order.token, order.gesture, order.sender)
    if before is None:
        return _said(outcome)
    notes = no_longer_fits(before, outcome.stored.project)
    return _json(answer_of(outcome).model_copy(update={"notes": notes}).model_dump_json())


@router.post("/{project_id}/undo", responses=_STALE, response_model=EditAnswer)
def undo(project_id: str, order: HistoryOrder, context: InContext) -> Response:
    return _said(context.store.undo(project_id, order.revision, order.token, order.sender))


@router.post("/{project_id}/redo", responses=_STALE, response_model=EditAnswer)
def redo(project_id: str, order: HistoryOrder, context: InContext) -> Response:
    return _said(context.store.redo(project_id, order.revision, order.token, order.sender))


@router.get("/{project_id}/time")
def read_time(
    project_id: str, typed: Annotated[str, Query(max_length=100)], context: InContext, now: int = 0
) -> Timecode:
    """A time as an editor types it, as a frame within the film."""
    project = context.store.load(project_id).project
    try:
        frame = parse_time(typed, project.settings.rate, now)
    except TimecodeError as error:
        raise EditError(str(error)) from None
    frame = min(max(frame, 0), max(0, film_length(project) - 1))
    return Timecode(frame=frame, timecode=format_timecode(frame, project.settings.rate))


@router.get("/{project_id}/frames")
def read_frames(
    project_id: str, typed: Annotated[str, Query(max_length=100)], context: InContext, now: int = 0
) -> FrameCount:
    """A length or a time as an editor types it (`1s`, `12f`, `2:00`), as a number of frames."""
    try:
        return FrameCount(frames=parse_time(typed, context.store.load(project_id).project.settings.rate, now))
    except TimecodeError as error:
        raise EditError(str(error)) from None
