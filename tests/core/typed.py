"""Titles for tests of type, and what is seen of them."""

import numpy as np

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import AddStep, AddTitle, TrimClip, apply
from idle_comet.core.motion import Fixed
from idle_comet.core.project.model import Project, Settings, Step, fixed

PAINTER = Painter(None)


def title(words, kind=None, ready=None, length=100, arrival=20, departure=20, size=64, **content):
    """A title alone on black, from frame 0, with one step (or none)."""
    film = Project(settings=Settings(name="T"))
    film, _ = apply(film, AddTitle(clip="t", frame=0, text=words))
    film, _ = apply(film, TrimClip(clip="t", head=0, length=length))
    clip = film.clips["t"]
    asked = {
        name: Fixed(value=value) if name in ("size", "tracking", "weight", "leading", "colour") else value
        for name, value in {"size": size, **content}.items()
    }
    clip = clip.model_copy(
        update={
            "steps": (),
            "arrival": arrival,
            "departure": departure,
            "content": clip.content.model_copy(update={"colour": fixed("#ffffff"), **asked}),
        }
    )
    film = film.model_copy(update={"clips": {"t": clip}})
    if kind:
        film, _ = apply(film, AddStep(clip="t", at=0, step=Step(id="s", kind=kind), ready=ready))
    return film


def edited(film, *edits):
    for edit in edits:
        film, _ = apply(film, edit)
    return film


def frame(film, at, width=1280, height=720):
    """(h, w) luma of what is painted, as exported."""
    return coloured_frame(film, at, width, height)[..., 0]


def coloured_frame(film, at, width=1280, height=720):
    """(h, w, 3) of what is painted, as exported."""
    return PAINTER.paint(plan(evaluate(film, at), width, height))[..., :3].astype(float)


def step(film, **changes):
    """The film with its title's step changed."""
    clip = film.clips["t"]
    steps = tuple(one.model_copy(update=changes) if one.id == "s" else one for one in clip.steps)
    return film.model_copy(update={"clips": {"t": clip.model_copy(update={"steps": steps})}})


def ink_box(pixels, above=8):
    """Left, top, right, bottom of what is lighter than `above`; None for nothing."""
    rows, columns = np.nonzero(pixels.max(1) > above)[0], np.nonzero(pixels.max(0) > above)[0]
    return None if not len(rows) else (columns[0], rows[0], columns[-1] + 1, rows[-1] + 1)
