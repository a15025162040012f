"""The demo project: “The Slow Harvest, episode two”."""

from __future__ import annotations

from ..core.clock import Rate
from ..core.motion import Free, Key, Moving, Property, Strengths
from ..core.project.model import (
    Clip,
    Footage,
    Marker,
    Marks,
    Media,
    Project,
    Settings,
    Step,
    Text,
    Track,
    Transition,
    fixed,
)
from ..core.recipes import apply_recipe, shipped_recipes

SOFT = Strengths(start=0.2, end=0.75)


def arriving(
    start: float, rest: float, end: float, arrival: int, departure: int, ease: Strengths = Strengths()
) -> Property:
    """A value that moves to its rest over the arrival and on to its end over the departure."""
    return Moving(
        keys=(
            Key(counts_from="head", at=0, value=start, ease=ease),
            Key(counts_from="head", at=arrival, value=rest, ease=ease),
            Key(counts_from="tail", at=-departure, value=rest, ease=ease),
            Key(counts_from="tail", at=0, value=end, ease=ease),
        )
    )


def _pushing(start: float, end: float) -> Property:
    """A slow scale over the whole clip, whatever its length."""
    return Moving(
        keys=(
            Key(counts_from="proportion", at=0, value=start, ease=Strengths()),
            Key(counts_from="proportion", at=1, value=end),
        )
    )


def title(head: int = 25, length: int = 150) -> Clip:
    """The opening title: opacity, focus and travel over 40 frames in and 30 out."""
    arrival, departure = 40, 30
    return Clip(
        id="title",
        track="titles",
        name="THE SLOW HARVEST",
        head=head,
        length=length,
        arrival=arrival,
        departure=departure,
        content=Text(text="THE SLOW HARVEST", typeface="archivo", weight=600, size=fixed(62), tracking=fixed(280)),
        steps=(
            Step(id="focus", kind="focus_blur", values={"radius": arriving(22, 0, 22, arrival, departure, SOFT)}),
            Step(
                id="placement",
                kind="placement",
                values={
                    "opacity": arriving(0, 1, 0, arrival, departure, SOFT),
                    "y": arriving(36, 0, -24, arrival, departure, SOFT),
                },
            ),
        ),
    )


def _second_line() -> Clip:
    return Clip(
        id="second-line",
        track="second",
        name="Episode two: The swarm",
        head=35,
        length=140,
        arrival=30,
        departure=26,
        content=Text(
            text="Episode two: The swarm", typeface="fraunces", weight=300, size=fixed(34), tracking=fixed(40)
        ),
        steps=(
            Step(id="focus", kind="focus_blur", values={"radius": arriving(12, 0, 10, 30, 26, SOFT)}),
            Step(
                id="placement",
                kind="placement",
                values={"opacity": arriving(0, 0.92, 0, 30, 26, SOFT), "y": arriving(48, 66, 80, 30, 26, SOFT)},
            ),
        ),
    )


def _from_recipe(film: Project, recipe: str, id: str, track: str, text: str, head: int, length: int) -> Clip:
    """A title over the interview, made as an editor makes it: a recipe on its own words."""
    bare = Clip(
        id=id, track=track, name=text, head=head, length=length, rides="shot-ottoline-bench", content=Text(text=text)
    )
    return apply_recipe(film, bare, shipped_recipes()[recipe], {})


def _place_line(film: Project) -> Clip:
    """Where and when, typed into the upper left while the strap is below."""
    line = _from_recipe(film, "ledger", "place-line", "second", "Marrow Lane, first week of heather", 270, 110)
    up = tuple(
        step.model_copy(update={"values": {**step.values, "y": fixed(30)}}) if step.kind == "placement" else step
        for step in line.steps
    )
    return line.model_copy(
        update={"content": line.content.model_copy(update={"stand_y": "top", "size": fixed(26)}), "steps": up}
    )


def _end_line() -> Clip:
    overshoot = Free(x1=0.2, y1=0.9, x2=0.3, y2=1.25)
    return Clip(
        id="end-line",
        track="titles",
        name="Marrow Lane Apiary",
        head=500,
        length=105,
        arrival=24,
        departure=20,
        rides="shot-hands-jars",
        content=Text(
            text="Marrow Lane\nApiary",
            typeface="fraunces",
            weight=600,
            size=fixed(76),
            leading=fixed(1.08),
            colour="#fff1d2",
            align="right",
            stand_x="right",
            stand_y="middle",
        ),
        steps=(
            Step(id="focus", kind="focus_blur", values={"radius": arriving(0, 0, 26, 24, 20)}),
            Step(
                id="placement",
                kind="placement",
                values={
                    "opacity": arriving(0, 1, 0, 24, 20),
                    "x": Moving(keys=(Key(at=0, value=90, ease=overshoot), Key(at=24, value=-20))),
                },
            ),
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
            steps = (
                Step(
                    id="placement",
                    kind="placement",
                    values={"scale": _pushing(1, 1.07), "pivot_x": fixed(50), "pivot_y": fixed(-110)},
                ),
            )
        clips.append(
            Clip(
                id=f"shot-{id}",
                track="shots",
                name=world[id].name,
                head=head,
                length=length,
                content=Footage(media=id, start=float(start)),
                steps=steps,
                opening=Transition(kind="dissolve", length=14, ease=Strengths()) if id == "hands-jars" else None,
            )
        )
        head += length
    film = Project(
        settings=Settings(name="The Slow Harvest, episode two", width=1280, height=720, rate=Rate(num=25)),
        tracks=(
            Track(id="titles", name="Titles"),
            Track(id="second", name="Second lines"),
            Track(id="shots", name="Shots"),
        ),
        media=world,
        marks=Marks(markers=(Marker(id="swarm", frame=213, name="at the bench"),)),
    )
    strap = _from_recipe(film, "marrow-lane", "name", "titles", "Ottoline Brask\nhead beekeeper", 250, 120)
    clips += [title(), _second_line(), strap, _place_line(film), _end_line()]
    return film.model_copy(update={"clips": {clip.id: clip for clip in clips}})
