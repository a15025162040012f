"""An edit through the service at 20 and at 2,000 clips: validate, apply, write, answer; CPU of the service, without the
commit's wait."""

from __future__ import annotations

import tempfile
import time
from pathlib import Path

from starlette.testclient import TestClient

from idle_comet.core.edits import SetValue
from idle_comet.core.project.model import Project, Settings, Track
from idle_comet.demo.project import title
from idle_comet.service.app import create_app
from idle_comet.service.context import Context
from idle_comet.service.painting import FrameRequest
from idle_comet.service.painting.pool import PainterProcess
from idle_comet.setup.mariadb import MariaDB
from idle_comet.store.database import Database
from idle_comet.store.projects import ProjectStore

from .common import close, ms, p50, p95

FEW, MANY = 20, 2000


class _Still:
    """Painters and exports that have nothing to do here."""

    def start(self) -> None: ...

    def stop(self) -> None: ...


def _film(count: int) -> Project:
    tracks = tuple(Track(id=f"t{i}", name=f"Track {i}") for i in range(8))
    clips = {}
    for number in range(count):
        clip = title(number // 8 * 160, 150).model_copy(update={"id": f"c{number}", "track": f"t{number % 8}"})
        clips[clip.id] = clip
    return Project(settings=Settings(name=f"{count} clips"), tracks=tracks, clips=clips)


def _edits(number: int) -> list[tuple[str, dict]]:
    clip = f"c{number % FEW}"
    head = number % FEW // 8 * 160
    return [
        ("move", {"kind": "move_clips", "heads": {clip: head + number % 9}, "snap": 3}),
        ("trim", {"kind": "trim_clip", "clip": clip, "head": head + number % 9, "length": 140 + number % 5}),
        (
            "value",
            {"kind": "set_value", "clip": clip, "step": "placement", "name": "y", "value": number % 50, "frame": 70},
        ),
        ("words", {"kind": "change_text", "clip": clip, "text": f"THE SLOW HARVEST {number % 7}"}),
        ("back", {"kind": "trim_clip", "clip": clip, "head": head, "length": 150}),
    ]


def run() -> bool:
    with tempfile.TemporaryDirectory() as place:
        server = MariaDB(Path(place) / "database").start()
        database = Database(server.address.connect)
        database.migrate()
        store = ProjectStore(database)
        revisions = {count: store.create(f"film-{count}", _film(count)).revision for count in (FEW, MANY)}
        spent: dict[str, dict[int, list[float]]] = {}
        app = create_app(
            Context(store, _Still(), _Still(), _Still(), _Still(), Path(place), _Still()),
            None,
            frozenset({"testserver"}),
        )
        with TestClient(app) as client:
            for number in range(40):
                for name, edit in _edits(number):
                    for count in (FEW, MANY):
                        order = {"revision": revisions[count], "edit": edit}
                        began = time.process_time()
                        answer = client.post(f"/api/projects/film-{count}/edits", json=order)
                        took = time.process_time() - began
                        assert answer.status_code == 200, answer.text
                        revisions[count] = answer.json()["revision"]
                        if number:
                            spent.setdefault(name, {}).setdefault(count, []).append(took)
        pictures = _to_pictures(store, Path(place))
        database.close()
        server.stop()
    ratios = []
    for name, by_count in spent.items():
        few, many = by_count[FEW], by_count[MANY]
        print(
            f"{name:6} {FEW} clips p50 {ms(p50(few))} p95 {ms(p95(few))}, {MANY} clips p50 {ms(p50(many))} p95 "
            f"{ms(p95(many))}"
        )
        ratios.append(p50(many) / p50(few))
    print(f"edit to picture {FEW} clips p50 {ms(p50(pictures[FEW]))}, {MANY} clips p50 {ms(p50(pictures[MANY]))}")
    return close("edit", [("worst ratio", max(ratios), 3), ("to picture", p50(pictures[MANY]) / p50(pictures[FEW]), 2)])


def _to_pictures(store: ProjectStore, media: Path) -> dict[int, list[float]]:
    """Seconds from an edit to the new picture: written, told to a painting process, painted. The films take turns, so
    that whatever slows the machine meets both."""
    painters = {count: PainterProcess(media) for count in (FEW, MANY)}
    spent: dict[int, list[float]] = {count: [] for count in painters}
    request = FrameRequest(70, 640, 360, False, 82)
    try:
        for number in range(40):
            for count, painter in painters.items():
                film = f"film-{count}"
                before = store.load(film)
                edit = SetValue(clip="c3", step="placement", name="y", value=number, frame=70)
                began = time.perf_counter()
                after = store.edit(film, before.revision, edit, f"picture-{film}-{number}").stored
                painter.paint(film, after.revision, after.project, request)
                spent[count].append(time.perf_counter() - began)
    finally:
        for painter in painters.values():
            painter.stop()
    # The first tells the process all of the film.
    return {count: each[5:] for count, each in spent.items()}
