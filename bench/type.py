"""Type in motion: a 40-letter cascade against the same letters at rest, and a long credits roll against what is seen of
it."""

from __future__ import annotations

import statistics
import time

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import AddStep, AddTitle, TrimClip, apply
from idle_comet.core.project.model import Clip, Project, Settings, Shutter, Step, fixed
from idle_comet.service.painting import ready  # noqa: F401  measured as a painting process has it

from .common import close, ms

_LETTERS = "THE SLOW HARVEST OF HEATHER HONEY IN AUTUMN DAYS"
_WORDS = ("swarm", "heather", "comb", "smoker", "wax", "frame", "skep", "brood", "nectar", "drone")


def run() -> bool:
    assert len(_LETTERS.replace(" ", "")) == 40
    still = _title(_LETTERS, None, 200)
    moving = _title(_LETTERS, ("placement", "letters-grow"), 200)
    smeared = _with(moving, shutter=Shutter(angle=180))
    frames = range(4, 60)
    rest, cascade, blurred = _medians((still, moving, smeared), frames)
    print(
        f"40 letters at 1280×720: at rest {ms(rest)}, growing one by one {ms(cascade)} ({cascade / rest:.2f}×), "
        f"with motion blur {ms(blurred)} ({blurred / rest:.2f}×)"
    )

    lines = [" ".join(_WORDS[(row * 3 + word) % 10] for word in range(4)) for row in range(100)]
    roll = _title("\n".join(lines), ("placement", None), 500)
    roll = apply(roll, AddStep(clip="t", at=0, step=Step(id="roll", kind="roll"), ready="roll"))[0]
    # Of 100 lines about a dozen are in the frame at once: the same roll of only so many is what is visible of it.
    seen = _title("\n".join(lines[:13]), ("placement", None), 500)
    middle = range(200, 300, 4)
    whole, part = _medians((roll, seen), middle)
    print(f"400 words rolling: {ms(whole)}; the 13 lines in sight alone {ms(part)} ({whole / part:.2f}×)")
    return close(
        "type",
        [("cascade", cascade / rest, 1.5), ("with motion blur", blurred / rest, 4.0), ("roll", whole / part, 1.5)],
    )


def _title(words: str, step: tuple[str, str | None] | None, length: int) -> Project:
    film, _ = apply(Project(settings=Settings(name="type")), AddTitle(clip="t", frame=0, text=words))
    film, _ = apply(film, TrimClip(clip="t", head=0, length=length))
    film = _with(film, steps=(), content=film.clips["t"].content.model_copy(update={"size": fixed(44)}))
    return apply(film, AddStep(clip="t", at=0, step=Step(id="s", kind=step[0]), ready=step[1]))[0] if step else film


def _with(film: Project, **changes) -> Project:
    clip: Clip = film.clips["t"].model_copy(update=changes)
    return film.model_copy(update={"clips": {"t": clip}})


def _medians(films, frames) -> list[float]:
    """Seconds a frame of each film, evaluated, planned and painted by a painter that remembers nothing; the films by
    turns, so that what else the machine does meets all of them."""
    spent: list[list[float]] = [[] for _ in films]
    for frame in [*frames, *frames]:
        for film, own in zip(films, spent):
            painter = Painter(None)
            began = time.perf_counter()
            painter.paint(plan(evaluate(film, frame), 1280, 720))
            own.append(time.perf_counter() - began)
    return [statistics.median(own) for own in spent]
