"""The ensembles that ship, made by the edits an editor would make, and written where the product reads them."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import TYPE_CHECKING, Callable

import typer

from .bench_film import BONE, CELL, COMET, GRADIENTS, HEATH, HONEY, PLUM, SOOT, BenchFilm, picture, sound, words
from .depth_ensembles import DEPTH

if TYPE_CHECKING:
    from ..core.project.model import Media
    from ..core.recipes import Ensemble


def ensembles() -> None:
    """Write the ensembles that ship."""
    from ..core.recipes import write_ensemble

    folder = Path(__file__).parents[1] / "core" / "recipes" / "ensembles"
    for made in build():
        (folder / f"{made.id}.json").write_text(write_ensemble(made))
        typer.echo(f"{made.name}: {len(made.film.clips)} clips, {made.length} frames")


def build() -> "list[Ensemble]":
    """All of them."""
    from ..media.shipped import shipped_sounds

    with tempfile.TemporaryDirectory() as folder:
        sounds = shipped_sounds(Path(folder))
    return [make(sounds) for make in _MAKERS]


def four_in_turn(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import ArrangeClips, ToFrontAndBack

    bench = BenchFilm("Four in turn", sounds)
    tones = (*GRADIENTS, ("#16241c", "#4f7a5a", "#d8e0a8"))
    for number, each in enumerate(tones, 1):
        bench.ground(f"view-{number}", 225, each, angle=30 * number)
    ids = tuple(f"view-{number}" for number in range(1, 5))
    bench.do(
        ArrangeClips(clips=ids, arrangement="grid", margin=24, gutter=16, radius=10, outline=2, shadow=True, apart=3),
        ToFrontAndBack(clip="view-1", frame=50, length=65, way=14, seed="one"),
        ToFrontAndBack(clip="view-4", frame=125, length=65, way=14, seed="four"),
    )
    for number, word in enumerate(("First", "Second", "Third", "Fourth"), 1):
        bench.called(**{f"view_{number}": f"{word} picture"})
    for id in ("one_a_1", "one_b_1"):
        bench.called(**{id: "First picture"})
    for id in ("four_a_1", "four_b_1"):
        bench.called(**{id: "Fourth picture"})
    return bench.kept(
        "four-in-turn",
        "Four in turn",
        "arrangement",
        "Four pictures share the frame; the first and then the last come forward.",
        225,
        0,
        picture("first picture", "view-1", "one-a-1", "one-b-1"),
        picture("second picture", "view-2"),
        picture("third picture", "view-3"),
        picture("fourth picture", "view-4", "four-a-1", "four-b-1"),
    )


def pair_named(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import ArrangeClips

    bench = BenchFilm("Two, side by side", sounds)
    for number, each in enumerate(GRADIENTS[:2], 1):
        bench.ground(f"view-{number}", 150, each, angle=70)
    bench.do(ArrangeClips(clips=("view-1", "view-2"), arrangement="row", gutter=10, apart=5))
    for number, (x, name) in enumerate(
        ((-325, "Ottoline Brask\nhead beekeeper"), (325, "Isko Tamm\nhive carpenter")), 1
    ):
        bench.words(f"name-{number}", name, 14 + 5 * number, 120, x, 248, 44, "edge-up", face="bitter")
    bench.called(view_1="Left picture", view_2="Right picture")
    return bench.kept(
        "pair-named",
        "Two, side by side",
        "arrangement",
        "Two pictures beside each other, each with a name below.",
        45,
        26,
        picture("left picture", "view-1"),
        picture("right picture", "view-2"),
        words("left name", "name-1", "Ottoline Brask\nhead beekeeper"),
        words("right name", "name-2", "Isko Tamm\nhive carpenter"),
    )


def three_and_title(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import ArrangeClips

    bench = BenchFilm("Three and a title", sounds)
    for number, each in enumerate(GRADIENTS, 1):
        bench.ground(f"view-{number}", 160, each, angle=90)
    bench.do(
        ArrangeClips(
            clips=("view-1", "view-2", "view-3"), arrangement="row", margin=40, gutter=14, apart=4, comes="its middle"
        )
    )
    bench.words("title", "The Slow Harvest", 22, 125, 0, 0, 96, "words-rise", face="playfair-display")
    bench.called(view_1="First picture", view_2="Second picture", view_3="Third picture")
    return bench.kept(
        "three-and-title",
        "Three and a title",
        "arrangement",
        "Three tall pictures open from their middles; a title stands across them.",
        52,
        24,
        picture("first picture", "view-1"),
        picture("second picture", "view-2"),
        picture("third picture", "view-3"),
        words("title", "title", "The Slow Harvest"),
    )


def address_strip(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import ArrangeClips

    bench = BenchFilm("Strip for an address", sounds)
    bench.ground("strip", 150, (SOOT, PLUM, HEATH), angle=0)
    bench.ground("view", 150, GRADIENTS[1], angle=60)
    bench.do(ArrangeClips(clips=("view",), arrangement="strip below", share=0.22, shadow=True, length=20))
    bench.words("left", "marrow-lane.example", 12, 130, -330, 282, 40, "edge-up", align="left")
    bench.words("right", "Honey from the heath\nsince nineteen-twelve", 16, 126, 330, 282, 26, "edge-up", weight=400)
    bench.called(strip="Strip", view="Picture")
    return bench.kept(
        "address-strip",
        "Strip for an address",
        "strip",
        "The picture gives way upward; below it stand an address and a line or two.",
        36,
        26,
        picture("picture", "view"),
        words("address", "left", "marrow-lane.example"),
        words("lines", "right", "Honey from the heath\nsince nineteen-twelve"),
    )


def corner_window(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import ArrangeClips

    bench = BenchFilm("Window in a corner", sounds)
    bench.ground("whole", 175, GRADIENTS[0], angle=100)
    bench.ground("window", 150, GRADIENTS[1], angle=20)
    bench.do(
        ArrangeClips(
            clips=("window",), arrangement="inset", corner="upper right", margin=44, share=0.34, radius=14, outline=4,
            shadow=True, comes="its middle",
        )
    )  # fmt: skip
    bench.words("says", "Davit, at the same hour", 20, 120, 378, -42, 28, "edge-up", weight=600)
    bench.called(whole="Picture", window="Window")
    return bench.kept(
        "corner-window",
        "Window in a corner",
        "arrangement",
        "A second picture opens in a corner of the first, with a line under it.",
        45,
        40,
        picture("picture", "whole"),
        picture("window", "window"),
        words("line", "says", "Davit, at the same hour"),
    )


def emblem_build(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import AddStep, AnswerMotion, LeaveAndReturn, SetProperty, Uncover
    from ..core.motion import Key, Moving, Strengths
    from ..core.project.model import Step

    bench = BenchFilm("Cell and stroke", sounds)
    bench.drawing("cell", CELL, 0, 150, width=420, height=364, x=20, y=30, filled=0, stroke=40, line_colour=HONEY)
    bench.drawing("stroke", COMET, 0, 150, width=470, height=196, x=130, y=-90, colour=BONE)
    ways = {"x": ((26, 150.0), (52, -420.0)), "y": ((26, 60.0), (52, 120.0))}
    bench.do(AddStep(clip="stroke", at=0, step=Step(id="pulse", kind="placement"), ready="pulse-in"))
    pulse = bench.film.clips["stroke"].steps[0]
    # It comes once, and leaves by travelling.
    bench.do(*(
        SetProperty(
            clip="stroke", step="pulse", name=name,
            property=prop.model_copy(update={"keys": tuple(k for k in prop.keys if k.counts_from == "head")}),
        )
        for name, prop in pulse.values.items() if prop.state == "moving"
    ))  # fmt: skip
    for name, ((first, begins), (last, ends)) in ways.items():
        keys = (Key(at=first, value=begins, ease=Strengths(start=0.7, end=0.2)), Key(at=last, value=ends))
        bench.do(SetProperty(clip="stroke", step="placement", name=name, property=Moving(keys=keys)))
    bench.do(
        AddStep(clip="stroke", at=1, step=Step(id="shine", kind="glow"), ready="glow-flash"),
        Uncover(clip="cell", by="stroke", edge="middle", held=False),
        LeaveAndReturn(clip="stroke", leaves=54, returns=66, seed="back"),
    )
    back = bench.film.clips["back-b-1"]
    place = next(step for step in back.steps if step.id == "placement")
    for name in ways:
        # It comes back to where it belongs, not to where it went.
        keys = tuple(k.model_copy(update={"value": 0.0}) for k in place.values[name].keys)  # type: ignore[union-attr]
        bench.do(SetProperty(clip=back.id, step="placement", name=name, property=Moving(keys=keys)))
    bench.do(AnswerMotion(clip="cell", to="back-b-1", by="glow", moments=("fastest",), rise=1, fall=22))
    bench.called(cell="Cell", stroke="Stroke", back_b_1="Stroke, back")
    return bench.kept(
        "cell-and-stroke",
        "Cell and stroke",
        "emblem",
        "A stroke pulses in, uncovers a cell as it goes, and drops back into place; the cell glows as it lands.",
        95,
        1,
        picture("cell", "cell"),
        picture("stroke", "stroke", "back-b-1"),
    )


def words_to_emblem(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import GatherClips, TurnInto

    bench = BenchFilm("Words become an emblem", sounds)
    bench.words("words", "MARROW LANE", 0, 75, 0, 0, 104, "tumble-in", face="unbounded", weight=700, colour=HONEY)
    bench.shape("outline", "polygon", 58, 62, width=300, height=260, filled=0, stroke=14, line_colour=HONEY)
    bench.comes("outline", "pulse-in")
    bench.drawing("cell", CELL, 100, 80, width=300, height=260, filled=0, stroke=30, line_colour=HONEY)
    bench.drawing("comet", COMET, 100, 80, width=330, height=138, x=80, y=-84, colour=BONE)
    bench.do(
        GatherClips(clips=("cell", "comet"), group="emblem", name="Emblem"),
        TurnInto(front="outline", back="emblem", group="card", frame=104, length=22, name="Outline and emblem"),
    )
    bench.called(outline="Outline", cell="Cell", comet="Stroke")
    return bench.kept(
        "words-to-emblem",
        "Words become an emblem",
        "emblem",
        "Words tumble in; an outline pulses in as they go, and turns over into the emblem.",
        130,
        1,
        words("words", "words", "MARROW LANE"),
        picture("emblem", "cell"),
    )


def turning_card(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import FitWords, GatherClips, TurnInto

    bench = BenchFilm("Turning card", sounds)
    bench.ground("ground", 150, (SOOT, PLUM, HEATH), angle=90)
    bench.shape("front", "rectangle", 6, 138, width=560, height=340, radius=26, colour=HONEY)
    bench.shape("board", "rectangle", 6, 138, width=560, height=340, radius=26, colour=BONE)
    bench.words("says", "Found at dawn, carried home in a hat", 6, 138, 0, 0, 40, None, colour=SOOT, face="fraunces")
    bench.do(
        FitWords(clip="says", within="board", frame=60, away=44),
        GatherClips(clips=("board", "says"), group="back", name="Back"),
        TurnInto(front="front", back="back", group="card", frame=62, length=24, name="Card"),
    )
    bench.comes("card", "pulse-in", at=1)
    bench.called(ground="Ground", front="Front", board="Board")
    return bench.kept(
        "turning-card",
        "Turning card",
        "card",
        "A board comes in a pulse, turns over, and has words on its other side.",
        80,
        20,
        picture("front", "front"),
        words("words", "says", "Found at dawn, carried home in a hat"),
    )


def end_card(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import GatherClips, SetTransition, TurnInto
    from ..core.project.model import Transition

    bench, length = BenchFilm("End card", sounds), 215
    bench.ground("ground", length, (SOOT, PLUM, HEATH), angle=115)
    bench.drawing(
        "cell", CELL, 8, length - 8, width=240, height=208, x=-300, y=-70, filled=0, stroke=24, line_colour=HONEY
    )
    bench.drawing("comet", COMET, 8, length - 8, width=264, height=110, x=-236, y=-138, colour=BONE)
    bench.do(GatherClips(clips=("cell", "comet"), group="emblem", name="Emblem"))
    bench.comes("emblem", "slide-from-left", arrival=24, departure=14)
    bench.behind_edge("emblem", 150, 1600)
    sides = (("first", HONEY, SOOT, "See part three"), ("second", BONE, SOOT, "Kept for Sunday"))
    for side, board, ink, says in sides:
        bench.shape(
            f"board-{side}", "rectangle", 14, length - 14, x=270, y=-70, width=420, height=112, radius=56, colour=board
        )
        bench.words(f"says-{side}", says, 14, length - 14, 270, -70, 40, None, colour=ink, weight=700)
        bench.do(
            GatherClips(clips=(f"board-{side}", f"says-{side}"), group=f"side-{side}", name=f"Panel, {side} state")
        )
    bench.do(
        TurnInto(front="side-first", back="side-second", group="panel", frame=108, length=16, axis=0, name="Panel")
    )
    bench.comes("panel", "slide-from-right", arrival=24, departure=14, at=1)
    bench.behind_edge("panel", -400, 1140)
    bench.shape(
        "jar", "rectangle", 40, 85, x=270, y=64, width=44, height=52, radius=12, filled=0, stroke=5, line_colour=BONE
    )
    bench.shape("jar-full", "rectangle", 125, length - 125, x=270, y=64, width=44, height=52, radius=12, colour=HONEY,
                stroke=5, line_colour=BONE)  # fmt: skip
    bench.do(
        SetTransition(clip="jar", end="opening", transition=Transition(length=12)),
        SetTransition(clip="jar-full", end="opening", transition=Transition(length=14)),
        SetTransition(clip="jar-full", end="closing", transition=Transition(length=14)),
    )
    bench.words("series", "The Slow Harvest", 44, length - 44, 0, 224, 72, "words-rise", face="playfair-display")
    bench.sound("whoosh", "whoosh", 2, speed=0.5, gain=-6)
    bench.sound("click", "click", 100, gain=-3)
    bench.sound("chime", "chime", 116, length=80, gain=-8, fades=(0, 20))
    bench.sound("bed", "bed", 0, length=length, gain=-10, fades=(12, 40))
    bench.called(ground="Ground", cell="Cell", comet="Stroke", jar="Jar", jar_full="Jar, full")
    bench.called(board_first="Board", board_second="Board", whoosh="Whoosh", click="Click", chime="Chime", bed="Bed")
    return bench.kept(
        "end-card",
        "End card",
        "end card",
        "Emblem and panel slide in from both sides; the panel turns over on a click; below stands the series' name.",
        150,
        20,
        words("series", "series", "The Slow Harvest"),
        words("panel before", "says-first", "See part three"),
        words("panel after", "says-second", "Kept for Sunday"),
        picture("emblem", "cell"),
        picture("icon before", "jar"),
        picture("icon after", "jar-full"),
        picture("ground", "ground"),
        sound("whoosh", "whoosh"),
        sound("click", "click"),
        sound("chime", "chime"),
        sound("bed", "bed"),
    )


_MAKERS: "tuple[Callable[[dict[str, Media]], Ensemble], ...]" = (
    four_in_turn,
    pair_named,
    three_and_title,
    corner_window,
    address_strip,
    emblem_build,
    words_to_emblem,
    turning_card,
    end_card,
    *DEPTH,
)
