"""The ensembles that ship, made by the edits an editor would make, and written where the product reads them."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import TYPE_CHECKING, Callable

import typer

if TYPE_CHECKING:
    from ..core.project.model import Media, Project
    from ..core.recipes import Ensemble, Part

_HONEY, _BONE, _SOOT, _PLUM, _HEATH, _SKY = "#e9b44c", "#f6ead2", "#1d1712", "#3a2230", "#6f4a5e", "#8aa0b4"
_GRADIENTS = (("#20303c", "#7f9cab", "#e6d6b8"), ("#38220f", "#b06a2c", "#f0cf8a"), ("#2a1a2c", "#7c4a68", "#e5b9a0"))


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


class _Bench:
    """A small film that edits are made on."""

    def __init__(self, name: str, sounds: "dict[str, Media]") -> None:
        from ..core.project.model import Project, Settings

        self.film: Project = Project(settings=Settings(name=name))
        self._sounds = sounds

    def do(self, *edits: object) -> None:
        from ..core.edits import apply

        for edit in edits:
            self.film, _ = apply(self.film, edit)

    def ground(self, id: str, length: int, tones: tuple[str, str, str], **more: object) -> None:
        """A gradient over all of the frame."""
        from ..core.edits import AddGenerated, SetValue

        self.do(AddGenerated(clip=id, frame=0, length=length, pattern="gradient"))
        for name, value in {"first": tones[0], "second": tones[1], "third": tones[2], **more}.items():
            self.do(SetValue(clip=id, step="content", name=name, value=value))

    def words(
        self, id: str, text: str, head: int, length: int, x: float, y: float, size: float, ready: str | None = "rise",
        colour: str = _BONE, face: str = "archivo", weight: float = 600, align: str = "centre", tracking: float = 0,
    ) -> None:  # fmt: skip
        from ..core.edits import AddStep, AddTitle, ChangeText, PlaceClip, SetSpans, SetValue, TrimClip
        from ..core.project.model import Step
        from ..core.steps import KINDS

        self.do(
            AddTitle(clip=id, frame=head, text=text),
            TrimClip(clip=id, head=head, length=length),
            ChangeText(clip=id, typeface=face, weight=weight, align=align),
            SetValue(clip=id, step="content", name="size", value=size),
            SetValue(clip=id, step="content", name="colour", value=colour),
            SetValue(clip=id, step="content", name="tracking", value=tracking),
        )
        # What it comes by is its ready-made motion, not the plain fade of a new title.
        bare = self.film.clips[id].model_copy(update={"steps": (Step(id="placement", kind="placement"),)})
        self.film = self.film.model_copy(update={"clips": {**self.film.clips, id: bare}})
        self.do(SetSpans(clip=id, arrival=18, departure=12), PlaceClip(clip=id, frame=0, x=x, y=y))
        if ready:
            kind = next(kind for kind in KINDS.values() if any(each.name == ready for each in kind.ready))
            self.do(AddStep(clip=id, at=0, step=Step(id="comes", kind=kind.kind), ready=ready))

    def shape(self, id: str, form: str, head: int, length: int, **values: object) -> None:
        from ..core.edits import AddShape, SetValue

        geometry = {name: values.pop(name) for name in ("x", "y", "width", "height", "turn") if name in values}
        self.do(AddShape(clip=id, frame=head, length=length, form=form, **geometry))  # type: ignore[arg-type]
        for name, value in values.items():
            self.do(SetValue(clip=id, step="content", name=name, value=value))

    def drawing(self, id: str, outline: str, head: int, length: int, **values: object) -> None:
        """A shape of path data."""
        self.shape(id, "rectangle", head, length, **values)
        content = self.film.clips[id].content.model_copy(update={"choices": {"form": "drawing"}, "drawing": outline})
        self._put(id, content=content)

    def comes(self, id: str, ready: str, arrival: int = 18, departure: int = 12, at: int = 0) -> None:
        """A ready-made motion of its place."""
        from ..core.edits import AddStep, SetSpans
        from ..core.project.model import Step

        self.do(SetSpans(clip=id, arrival=arrival, departure=departure))
        self.do(AddStep(clip=id, at=at, step=Step(id="comes", kind="placement"), ready=ready))

    def behind_edge(self, id: str, left: float, right: float) -> None:
        """Only what lies between two upright lines of the frame is seen of a clip, wherever it is."""
        from ..core.edits import AddMask, AddStep
        from ..core.project.model import Mask, Step, fixed

        place = {"x": (left + right) / 2, "y": 360, "width": right - left, "height": 1600, "feather": 0}
        values = {name: fixed(float(value)) for name, value in place.items()}
        last = len(self.film.clips[id].steps)
        self.do(
            AddStep(clip=id, at=last, step=Step(id="edge", kind="mask")),
            AddMask(clip=id, step="edge", mask=Mask(id="edge", form="rectangle", values=values)),
        )

    def sound(self, id: str, name: str, frame: int, length: int | None = None, speed: float = 1.0, gain: float = 0.0,
              fades: tuple[int, int] = (0, 0)) -> None:  # fmt: skip
        from ..core.edits import AddMedia, AddPicture, SetFades, SetSpeed, SetValue, TrimClip

        media = self._sounds[name]
        self.do(AddMedia(media=media), AddPicture(clip=id, frame=frame, media=media.id))
        if speed != 1:
            self.do(SetSpeed(clip=id, speed=speed))
        if length is not None:
            self.do(TrimClip(clip=id, head=frame, length=min(length, self.film.clips[id].length)))
        if gain:
            self.do(SetValue(clip=id, step="content", name="gain", value=gain))
        if any(fades):
            self.do(SetFades(clips=(id,), fade_in=fades[0], fade_out=fades[1]))

    def _put(self, id: str, **update: object) -> None:
        clip = self.film.clips[id].model_copy(update=update)
        self.film = self.film.model_copy(update={"clips": {**self.film.clips, id: clip}})

    def called(self, **names: str) -> None:
        """Names of clips, by their ids with _ for -."""
        for id, name in names.items():
            self._put(id.replace("_", "-"), name=name)

    def kept(self, id: str, name: str, sort: str, note: str, head: int, tail: int, *parts: "Part") -> "Ensemble":
        from ..core.edits import ensemble_of
        from ..core.moment.timeline import timeline_of

        # A track is called by what lies on it.
        first = {clip.track: clip.name for clip in reversed(self.film.clips.values())}
        tracks = tuple(
            track if track.side else track.model_copy(update={"name": first.get(track.id, track.name)})
            for track in self.film.tracks
        )
        self.film = self.film.model_copy(update={"tracks": tracks})
        own = [clip.id for clip in self.film.clips.values() if timeline_of(self.film, clip) is None]
        made = ensemble_of(self.film, own, id, name, sort, note)  # type: ignore[arg-type]
        stretches = head + tail < made.length
        return made.model_copy(
            update={"parts": (*parts, *_colours(made, parts)), "head": head, "tail": tail, "stretches": stretches}
        )


def _colours(made: "Ensemble", parts: "tuple[Part, ...]") -> "list[Part]":
    """Colours that are in more than one place, or that an editor would change first."""
    taken = {place for part in parts for place in part.places}
    found = [part for part in made.parts if part.kind == "colour" and not set(part.places) <= taken]
    return [part.model_copy(update={"name": f"colour {n}"}) for n, part in enumerate(found[:6], 1)]


def _words(name: str, clip: str, value: str) -> "Part":
    from ..core.recipes import Part

    return Part(name=name, kind="words", value=value, places=(clip,))


def _picture(name: str, *clips: str) -> "Part":
    from ..core.recipes import Part

    return Part(name=name, kind="picture", places=clips)


def _sound(name: str, clip: str) -> "Part":
    from ..core.recipes import Part

    return Part(name=name, kind="sound", places=(clip,))


def four_in_turn(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import ArrangeClips, ToFrontAndBack

    bench = _Bench("Four in turn", sounds)
    tones = (*_GRADIENTS, ("#16241c", "#4f7a5a", "#d8e0a8"))
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
        _picture("first picture", "view-1", "one-a-1", "one-b-1"),
        _picture("second picture", "view-2"),
        _picture("third picture", "view-3"),
        _picture("fourth picture", "view-4", "four-a-1", "four-b-1"),
    )


def pair_named(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import ArrangeClips

    bench = _Bench("Two, side by side", sounds)
    for number, each in enumerate(_GRADIENTS[:2], 1):
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
        _picture("left picture", "view-1"),
        _picture("right picture", "view-2"),
        _words("left name", "name-1", "Ottoline Brask\nhead beekeeper"),
        _words("right name", "name-2", "Isko Tamm\nhive carpenter"),
    )


def three_and_title(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import ArrangeClips

    bench = _Bench("Three and a title", sounds)
    for number, each in enumerate(_GRADIENTS, 1):
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
        _picture("first picture", "view-1"),
        _picture("second picture", "view-2"),
        _picture("third picture", "view-3"),
        _words("title", "title", "The Slow Harvest"),
    )


def address_strip(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import ArrangeClips

    bench = _Bench("Strip for an address", sounds)
    bench.ground("strip", 150, (_SOOT, _PLUM, _HEATH), angle=0)
    bench.ground("view", 150, _GRADIENTS[1], angle=60)
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
        _picture("picture", "view"),
        _words("address", "left", "marrow-lane.example"),
        _words("lines", "right", "Honey from the heath\nsince nineteen-twelve"),
    )


def corner_window(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import ArrangeClips

    bench = _Bench("Window in a corner", sounds)
    bench.ground("whole", 175, _GRADIENTS[0], angle=100)
    bench.ground("window", 150, _GRADIENTS[1], angle=20)
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
        _picture("picture", "whole"),
        _picture("window", "window"),
        _words("line", "says", "Davit, at the same hour"),
    )


_CELL = "M260 0L130 225L-130 225L-260 0L-130 -225L130 -225Z"
_COMET = "M62 330C210 336 360 280 500 150C540 112 612 118 630 168C646 214 600 256 548 252C400 330 230 368 62 330Z"


def emblem_build(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import AddStep, AnswerMotion, LeaveAndReturn, SetProperty, Uncover
    from ..core.motion import Key, Moving, Strengths
    from ..core.project.model import Step

    bench = _Bench("Cell and stroke", sounds)
    bench.drawing("cell", _CELL, 0, 150, width=420, height=364, x=20, y=30, filled=0, stroke=40, line_colour=_HONEY)
    bench.drawing("stroke", _COMET, 0, 150, width=470, height=196, x=130, y=-90, colour=_BONE)
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
        Uncover(clip="cell", by="stroke", edge="middle"),
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
        _picture("cell", "cell"),
        _picture("stroke", "stroke", "back-b-1"),
    )


def words_to_emblem(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import GatherClips, TurnInto

    bench = _Bench("Words become an emblem", sounds)
    bench.words("words", "MARROW LANE", 0, 75, 0, 0, 104, "tumble-in", face="unbounded", weight=700, colour=_HONEY)
    bench.shape("outline", "polygon", 58, 62, width=300, height=260, filled=0, stroke=14, line_colour=_HONEY)
    bench.comes("outline", "pulse-in")
    bench.drawing("cell", _CELL, 100, 80, width=300, height=260, filled=0, stroke=30, line_colour=_HONEY)
    bench.drawing("comet", _COMET, 100, 80, width=330, height=138, x=80, y=-84, colour=_BONE)
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
        _words("words", "words", "MARROW LANE"),
        _picture("emblem", "cell"),
    )


def turning_card(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import FitWords, GatherClips, TurnInto

    bench = _Bench("Turning card", sounds)
    bench.ground("ground", 150, (_SOOT, _PLUM, _HEATH), angle=90)
    bench.shape("front", "rectangle", 6, 138, width=560, height=340, radius=26, colour=_HONEY)
    bench.shape("board", "rectangle", 6, 138, width=560, height=340, radius=26, colour=_BONE)
    bench.words("says", "Found at dawn, carried home in a hat", 6, 138, 0, 0, 40, None, colour=_SOOT, face="fraunces")
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
        _picture("front", "front"),
        _words("words", "says", "Found at dawn, carried home in a hat"),
    )


def end_card(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import GatherClips, SetTransition, TurnInto
    from ..core.project.model import Transition

    bench, length = _Bench("End card", sounds), 215
    bench.ground("ground", length, (_SOOT, _PLUM, _HEATH), angle=115)
    bench.drawing(
        "cell", _CELL, 8, length - 8, width=240, height=208, x=-300, y=-70, filled=0, stroke=24, line_colour=_HONEY
    )
    bench.drawing("comet", _COMET, 8, length - 8, width=264, height=110, x=-236, y=-138, colour=_BONE)
    bench.do(GatherClips(clips=("cell", "comet"), group="emblem", name="Emblem"))
    bench.comes("emblem", "slide-from-left", arrival=24, departure=14)
    bench.behind_edge("emblem", 150, 1600)
    sides = (("first", _HONEY, _SOOT, "See part three"), ("second", _BONE, _SOOT, "Kept for Sunday"))
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
        "jar", "rectangle", 40, 85, x=270, y=64, width=44, height=52, radius=12, filled=0, stroke=5, line_colour=_BONE
    )
    bench.shape("jar-full", "rectangle", 125, length - 125, x=270, y=64, width=44, height=52, radius=12, colour=_HONEY,
                stroke=5, line_colour=_BONE)  # fmt: skip
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
        _words("series", "series", "The Slow Harvest"),
        _words("panel before", "says-first", "See part three"),
        _words("panel after", "says-second", "Kept for Sunday"),
        _picture("emblem", "cell"),
        _picture("icon before", "jar"),
        _picture("icon after", "jar-full"),
        _picture("ground", "ground"),
        _sound("whoosh", "whoosh"),
        _sound("click", "click"),
        _sound("chime", "chime"),
        _sound("bed", "bed"),
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
)
