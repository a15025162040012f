"""The demo project, and the files it needs."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

from ..core.clock import Rate
from ..core.motion import Key, Moving, Property, Strengths
from ..core.project.model import Clip, Footage, Media, Project, Settings, Step, Text, Track, fixed
from ..media.encode import FilmWriter
from ..media.probe import probe
from ..media.proxy import make_proxy
from .heath import Heath

HEATH_SECONDS = 8
RATE = Fraction(25)


def make_heath(folder: Path, width: int = 1280, height: int = 720, seconds: float = HEATH_SECONDS) -> Media:
    """Paint the heath shot into a media folder; the file is named by its content's hash."""
    unfinished = folder / ".heath.mp4"
    heath = Heath(width, height)
    with FilmWriter(unfinished, width, height, RATE, crf=16, keys_every=12) as film:
        for frame in range(int(seconds * RATE)):
            film.write(heath.frame(float(frame / RATE)))
    found = probe(unfinished)
    path = folder / f"{found.hash}.mp4"
    unfinished.rename(path)
    make_proxy(path)
    return Media(id="heath-evening", name="Heath, evening", hash=found.hash, path=path.name, width=found.width,
                 height=found.height, rate=Rate(num=found.rate.numerator, den=found.rate.denominator), frames=found.frames)


def arriving(start: float, rest: float, end: float, arrival: int, departure: int, ease: Strengths = Strengths()) -> Property:
    """A value that moves to its rest over the arrival and on to its end over the departure."""
    return Moving(keys=(
        Key(counts_from="head", at=0, value=start, ease=ease),
        Key(counts_from="head", at=arrival, value=rest, ease=ease),
        Key(counts_from="tail", at=-departure, value=rest, ease=ease),
        Key(counts_from="tail", at=0, value=end, ease=ease),
    ))


def harvest(heath: Media) -> Project:
    """“The Slow Harvest, episode two”: one title over one shot."""
    arrival, departure = 40, 30
    soft = Strengths(start=0.2, end=0.75)
    title = Clip(
        id="title", track="titles", name="THE SLOW HARVEST", head=25, length=150, arrival=arrival, departure=departure,
        content=Text(text="THE SLOW HARVEST", typeface="archivo", weight=600, size=fixed(62), tracking=fixed(280)),
        steps=(
            Step(id="focus", kind="focus_blur",
                 values={"radius": arriving(22, 0, 22, arrival, departure, soft)}),
            Step(id="placement", kind="placement", values={
                "opacity": arriving(0, 1, 0, arrival, departure, soft),
                "y": arriving(36, 0, -24, arrival, departure, soft),
            }),
        ),
    )
    shot = Clip(id="shot", track="shots", name=heath.name, head=0, length=int(HEATH_SECONDS * RATE), content=Footage(media=heath.id))
    return Project(
        settings=Settings(name="The Slow Harvest, episode two", width=1280, height=720, rate=Rate(num=25)),
        tracks=(Track(id="titles", name="Titles"), Track(id="shots", name="Shots")),
        media={heath.id: heath}, clips={title.id: title, shot.id: shot},
    )
