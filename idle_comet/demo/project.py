"""The demo project: “The Slow Harvest, episode two”."""

from __future__ import annotations

from ..core.clock import Rate
from ..core.motion import Free, Key, Moving, Property, Strengths
from ..core.project.model import Clip, Footage, Marker, Marks, Media, Project, Settings, Shutter, Step, Text, Track, Transition, fixed

SOFT = Strengths(start=0.2, end=0.75)


def arriving(start: float, rest: float, end: float, arrival: int, departure: int, ease: Strengths = Strengths()) -> Property:
    """A value that moves to its rest over the arrival and on to its end over the departure."""
    return Moving(keys=(
        Key(counts_from="head", at=0, value=start, ease=ease),
        Key(counts_from="head", at=arrival, value=rest, ease=ease),
        Key(counts_from="tail", at=-departure, value=rest, ease=ease),
        Key(counts_from="tail", at=0, value=end, ease=ease),
    ))


def _pushing(start: float, end: float) -> Property:
    """A slow scale over the whole clip, whatever its length."""
    return Moving(keys=(Key(counts_from="proportion", at=0, value=start, ease=Strengths()),
                        Key(counts_from="proportion", at=1, value=end)))


def title(head: int = 25, length: int = 150) -> Clip:
    """The opening title: opacity, focus and travel over 40 frames in and 30 out."""
    arrival, departure = 40, 30
    return Clip(
        id="title", track="titles", name="THE SLOW HARVEST", head=head, length=length, arrival=arrival, departure=departure,
        content=Text(text="THE SLOW HARVEST", typeface="archivo", weight=600, size=fixed(62), tracking=fixed(280)),
        steps=(
            Step(id="focus", kind="focus_blur", values={"radius": arriving(22, 0, 22, arrival, departure, SOFT)}),
            Step(id="placement", kind="placement", values={
                "opacity": arriving(0, 1, 0, arrival, departure, SOFT),
                "y": arriving(36, 0, -24, arrival, departure, SOFT),
            }),
        ),
    )


def _second_line() -> Clip:
    return Clip(
        id="second-line", track="second", name="Episode two: The swarm", head=35, length=140, arrival=30, departure=26,
        content=Text(text="Episode two: The swarm", typeface="fraunces", weight=300, size=fixed(34), tracking=fixed(40)),
        steps=(
            Step(id="focus", kind="focus_blur", values={"radius": arriving(12, 0, 10, 30, 26, SOFT)}),
            Step(id="placement", kind="placement", values={
                "opacity": arriving(0, 0.92, 0, 30, 26, SOFT),
                "y": arriving(48, 66, 80, 30, 26, SOFT),
            }),
        ),
    )


def _strap(id: str, track: str, text: str, head: int, weight: int, size: float, down: float, rise: float) -> Clip:
    """One line of a name strap, low on the left."""
    landing = Strengths(start=0, end=0.9)
    return Clip(
        id=id, track=track, name=text, head=head, length=120, arrival=16, departure=12, rides="shot-ottoline-bench", shutter=Shutter(),
        content=Text(text=text, weight=weight, size=fixed(size), tracking=fixed(10), align="left", stand_x="left", stand_y="bottom",
                     measured_by="type"),
        steps=(Step(id="placement", kind="placement", values={
            "opacity": arriving(0, 1, 0, 16, 12, landing),
            "y": arriving(down + rise, down, down + rise / 2, 16, 12, landing),
            "x": fixed(20),
        }),),
    )


def _end_line() -> Clip:
    overshoot = Free(x1=0.2, y1=0.9, x2=0.3, y2=1.25)
    return Clip(
        id="end-line", track="titles", name="Marrow Lane Apiary", head=500, length=105, arrival=24, departure=20, rides="shot-hands-jars",
        content=Text(text="Marrow Lane\nApiary", typeface="fraunces", weight=600, size=fixed(76), leading=fixed(1.08), colour="#fff1d2",
                     align="right", stand_x="right", stand_y="middle"),
        steps=(
            Step(id="focus", kind="focus_blur", values={"radius": arriving(0, 0, 26, 24, 20)}),
            Step(id="placement", kind="placement", values={
                "opacity": arriving(0, 1, 0, 24, 20),
                "x": Moving(keys=(Key(at=0, value=90, ease=overshoot), Key(at=24, value=-20))),
            }),
        ),
    )


def harvest(world: dict[str, Media]) -> Project:
    """Three shots cut together, a title on the first, a name strap on the second, an end line on the third."""
    # Each shot keeps some frames to spare, so that a transition has what it needs.
    shots = [("heath-evening", 213, 0), ("ottoline-bench", 209, 8), ("hands-jars", 190, 10)]
    clips, head = [], 0
    for id, length, start in shots:
        steps = ()
        if id == "ottoline-bench":
            steps = (Step(id="placement", kind="placement", values={"scale": _pushing(1, 1.07), "pivot_x": fixed(50), "pivot_y": fixed(-110)}),)
        clips.append(Clip(id=f"shot-{id}", track="shots", name=world[id].name, head=head, length=length,
                          content=Footage(media=id, start=float(start)), steps=steps,
                          opening=Transition(kind="dissolve", length=14, ease=Strengths()) if id == "hands-jars" else None))
        head += length
    clips += [
        title(), _second_line(),
        _strap("name", "titles", "Ottoline Brask", 250, 700, 46, -64, 40), _strap("role", "second", "head beekeeper", 256, 400, 28, -24, -22),
        _end_line(),
    ]
    return Project(
        settings=Settings(name="The Slow Harvest, episode two", width=1280, height=720, rate=Rate(num=25)),
        tracks=(Track(id="titles", name="Titles"), Track(id="second", name="Second lines"), Track(id="shots", name="Shots")),
        media=world, clips={clip.id: clip for clip in clips}, marks=Marks(markers=(Marker(id="swarm", frame=213, name="at the bench"),)),
    )
