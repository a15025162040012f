"""The power is cut before every write, sync and name that files get: what was acknowledged is there, and whole.

A disk that is as unkind as it may be: of a file there is what was last synced, of a folder the names it had when it was
last synced, or those that it had at the end. (What the database keeps is tried by killing it, in `test_durability`.)
"""

import asyncio
import os
import re
from pathlib import Path
from types import SimpleNamespace

import httpx2 as httpx
import pytest

from idle_comet.core.edits import ChangeSettings
from idle_comet.core.type import family_of
from idle_comet.media.faces import use_faces
from idle_comet.service.app import create_app
from idle_comet.service.guard import LOOPBACK
from idle_comet.service.routers import media as media_router
from idle_comet.store.projects import ProjectStore
from tests.faults import Faults
from tests.service.test_every_fault import FILM, Here, png, shot, wav

FONT = next(Path(family_of("archivo").files[0]).parent.glob("*.ttf"))
PACKAGE = Path(media_router.__file__).parents[3]
__all__ = ["shot"]


class Cuts(Faults):
    """Calls `cut` with what the disk would hold, at every step: a list of {path in the folder: what is in the file}."""

    def __init__(self, folder, cut):
        super().__init__(folder=folder)
        self.cut, self.kept, self.named = cut, {}, {}

    def disk(self, name, *paths):
        if not any(os.path.abspath(each).startswith(self._folder) for each in paths):
            return
        here = {os.stat(folder).st_ino: held(folder) for folder, _, _ in os.walk(self._folder)}
        self.cut([dict(self.image(self.named)), dict(self.image(here))])
        if name == "os.fsync":
            number = os.stat(paths[0]).st_ino
            if os.path.isdir(paths[0]):
                self.named[number] = held(paths[0])
            else:
                self.kept[number] = Path(paths[0]).read_bytes()

    def image(self, names, folder=None, path=""):
        for name, (number, is_folder) in names.get(folder or os.stat(self._folder).st_ino, {}).items():
            if is_folder:
                yield from self.image(names, number, f"{path}{name}/")
            else:
                yield path + name, self.kept.get(number, b"")


def held(folder):
    return {each.name: (each.inode(), each.is_dir()) for each in os.scandir(folder)}


def test_what_was_acknowledged_outlives_a_power_cut(tmp_path, database, monkeypatch, shot):
    store = ProjectStore(database)
    store.create("film", FILM)
    app = create_app(None, None, LOOPBACK)
    app.state.context = SimpleNamespace(store=store, media=tmp_path)
    monkeypatch.setattr(media_router, "Apart", Here)
    use_faces(tmp_path)
    cuts, fonts = [], []

    def cut(images):
        media = ProjectStore(database).load("film").project.media.values()
        cuts.append(len(media))
        for image in images:
            for item in media:
                assert len(image.get(item.path, b"")) == item.size, (item.path, "is not whole after a power cut")
            for font in fonts:
                files = [data for path, data in image.items() if path.startswith(f"faces/{font}/")]
                assert len(files) == 2 and all(files), (font, "is not whole after a power cut")

    async def use():
        transport = httpx.ASGITransport(app)
        async with httpx.AsyncClient(transport=transport, base_url="http://127.0.0.1/api") as client:
            for number in range(2):
                for files in (
                    [("shot.mp4", shot + bytes(number))],
                    [("hum.wav", wav())],
                    [("one.png", png(20 + number)), ("two.png", png(60 + number))],
                    [(f"a{each}.png", png(90 + number + each)) for each in range(3)],
                ):
                    answer = await client.post("/projects/film/media", files=[("files", each) for each in files])
                    assert answer.status_code == 200 and answer.json()["added"]
                    stored = store.load("film")
                    store.edit("film", stored.revision, ChangeSettings(name=f"T {number}"), f"token-{len(cuts)}")
            answer = await client.post("/typefaces", files=[("files", ("own.ttf", FONT.read_bytes()))])
            assert answer.status_code == 200, answer.text
            fonts.append(answer.json()["id"])
            await client.post("/projects/film/media", files=[("files", ("last.png", png(7)))])

    recorder = Cuts(tmp_path, cut)
    try:
        with recorder.watched(monkeypatch):
            asyncio.run(use())
        recorder.disk("the end", str(tmp_path))
    finally:
        use_faces(tmp_path.with_name("none"))
    assert len(cuts) >= 50 and cuts[-1] >= 10


@pytest.mark.parametrize("room", ["core", "media", "service", "store", "cli"])
def test_names_are_given_in_one_place(room):
    """What gives a file its name elsewhere would not see to it that the file is on the disk."""
    for file in (PACKAGE / room).rglob("*.py"):
        assert not re.search(r"os\.(replace|rename)\(|\.rename\(", file.read_text()), file
