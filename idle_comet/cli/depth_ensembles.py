"""The ensembles in depth that ship: what stands in space, with its camera and its lights."""

from __future__ import annotations

from typing import TYPE_CHECKING

from .bench_film import BONE, CELL, COMET, HONEY, SOOT, BenchFilm, picture, sound, words

if TYPE_CHECKING:
    from ..core.project.model import Media
    from ..core.recipes import Ensemble


def _steps(bench: BenchFilm, clip: str, *steps: tuple[str, str, dict[str, object]]) -> None:
    """Steps after those a clip has: (id, kind, fixed values and choices)."""
    from ..core.edits import AddStep
    from ..core.project.model import Step, fixed

    for id, kind, given in steps:
        choices = {name: value for name, value in given.items() if isinstance(value, str) and value[:1] != "#"}
        values = {name: fixed(value) for name, value in given.items() if name not in choices}  # type: ignore[arg-type]
        own = len(bench.film.clips[clip].steps)
        bench.do(AddStep(clip=clip, at=own, step=Step(id=id, kind=kind, values=values, choices=choices)))


def _moves(bench: BenchFilm, clip: str, step: str, name: str, *keys: tuple[float, float], frames: bool = False) -> None:
    """A value that goes through keys of (share of the clip, or frame from its head, and value)."""
    from ..core.edits import SetProperty
    from ..core.motion import Key, Moving, Strengths

    ease = Strengths(start=0.3, end=0.6)
    made = tuple(
        Key(counts_from="head" if frames else "proportion", at=at, value=value, ease=ease) for at, value in keys
    )
    bench.do(SetProperty(clip=clip, step=step, name=name, property=Moving(keys=made, through=len(keys) > 2)))


def _sets(bench: BenchFilm, clip: str, **values: object) -> None:
    """Values and choices of a clip's content."""
    from ..core.edits import SetChoice, SetValue

    for name, value in values.items():
        chosen = isinstance(value, str) and value[:1] != "#"
        kind = SetChoice if chosen else SetValue
        bench.do(kind(clip=clip, step="content", name=name, value=value))  # type: ignore[arg-type]


def night_card(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import AddGenerated, AddStep, AddTreatment, SetBlend
    from ..core.project.model import Step

    bench, length = BenchFilm("Night card", sounds), 150
    bench.ground("night", length, ("#10131f", "#241a2c", "#0a0910"), angle=80)
    for id, pattern in (("smoke", "smoke"), ("motes", "particles")):
        bench.do(AddGenerated(clip=id, frame=0, length=length, pattern=pattern))
    _sets(bench, "smoke", density=0.32, opacity=0.34, colour="#8a7fa6", speed=0.5)
    _sets(bench, "motes", count=60, size=5, colour="#ffd9a0", opacity=0.7)
    bench.do(SetBlend(clips=("smoke", "motes"), mode="screen"))
    bench.words("title", "HEATH\nAT NIGHT", 0, length, 0, 0, 150, None, "#f0c987", "unbounded", 800)
    bench.do(AddStep(clip="title", at=0, step=Step(id="comes", kind="past_camera"), ready="past-camera"))
    gold = {"depth": 56.0, "wide": 5.0, "deep": 5.0, "metal": 1.0, "rough": 0.3, "worked": "brushed"}
    gold |= {"around": "studio", "own_light": 0.05}
    _steps(bench, "title", ("solid", "solid", gold))
    _moves(bench, "title", "stand", "swing", (0, -9), (1, 9))
    _steps(bench, "title", ("shines", "glow", {"gain": 0.35, "size": 60.0, "threshold": 0.55, "softness": 0.3}))
    bench.do(AddTreatment(clip="print", frame=0, length=length))
    _steps(
        bench,
        "print",
        ("leak", "light_leak", {"strength": 0.35, "near": "#ff9a4a", "far": "#7a2a6a"}),
        ("dark", "vignette", {"strength": 0.6}),
        ("weave", "gate_weave", {}),
        ("grain", "grain", {"strength": 7.0}),
        ("bars", "letterbox", {}),
    )
    bench.sound("whoosh", "whoosh", 0, gain=-4)
    bench.sound("bed", "bed", 0, length, gain=-14, fades=(12, 30))
    bench.called(night="Night", smoke="Smoke", motes="Motes", title="Title", print="Print", whoosh="Whoosh", bed="Bed")
    return bench.kept(
        "night-card",
        "Night card",
        "in depth",
        "Letters of gold come past the camera and turn a little, in smoke and lamplight, as on an old print.",
        length,
        0,
        words("title", "title", "HEATH\nAT NIGHT"),
        sound("hit", "whoosh"),
        sound("bed", "bed"),
    )


def stage(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import AddCamera, AddLight, AddShape, SetLight

    bench, length = BenchFilm("Words on a stage", sounds), 125
    for id, colour in (("wall", "#a5876a"), ("floor", "#8a7a66")):
        bench.do(AddShape(clip=id, frame=0, length=length, width=4600, height=2400))
        _sets(bench, id, colour=colour)
    _steps(bench, "wall", ("stand", "stand", {"z": 520.0}))
    _steps(bench, "floor", ("stand", "stand", {"y": 150.0, "tilt": 90.0, "z": 0.0}))
    bench.words("title", "HONEY", 0, length, 0, 76, 230, None, BONE, "archivo", 800)
    _steps(bench, "title", ("solid", "solid", {"depth": 70.0, "wide": 4.0, "deep": 4.0, "rough": 0.5}))
    bench.do(
        AddLight(clip="lamp", frame=0, length=length),
        SetLight(clip="lamp", side="above left", onto="title", frame=40),
        AddCamera(clip="eye", frame=0, length=length),
    )
    _sets(bench, "lamp", colour="#ffdcae", strength=1.15, cone=74, feather=0.7, size=130)
    _moves(bench, "title", "stand", "swing", (0, 16), (1, -12))
    _moves(bench, "eye", "content", "y", (0, -60), (1, -420))
    _sets(bench, "eye", aim_y=40)
    bench.called(wall="Wall", floor="Floor", title="Title", lamp="Spot", lamp_dim="Light everywhere", eye="Camera")
    return bench.kept(
        "stage",
        "Words on a stage",
        "in depth",
        "Block letters stand on a floor under a warm spot and throw their shadows; the camera rises before them.",
        30,
        20,
        words("word", "title", "HONEY"),
    )


def screen(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import AddCamera, AddShape, GatherClips

    bench, length = BenchFilm("Screen comes into focus", sounds), 150
    bench.ground("room", length, ("#15181c", "#232a2e", "#0d0f11"), angle=60)
    bench.do(AddShape(clip="board", frame=0, length=length, width=1240, height=690))
    _sets(bench, "board", colour="#f3ead9", radius=22)
    bench.words("head", "Yield by hive", 0, length, -330, -270, 60, None, SOOT, "bitter", 700, "left")
    hives = (("heath", 300, "#c98a2b"), ("lane", 210, "#8a5a3a"), ("orchard", 370, "#5f7a52"), ("well", 150, "#6d7f94"))
    for place, (name, high, colour) in enumerate(hives):
        x = -420 + 280 * place
        bench.do(AddShape(clip=name, frame=0, length=length, x=x, y=190 - high / 2, width=150, height=high))
        _sets(bench, name, colour=colour, radius=8)
        bench.words(f"{name}-says", f"{high / 10:.0f} kg", 0, length, x, 245, 44, None, SOOT, "bitter", 600)
    parts = ("board", "head", *(each for name, _, _ in hives for each in (name, f"{name}-says")))
    bench.do(GatherClips(clips=parts, group="screen", name="Screen"))
    _steps(bench, "screen", ("stand", "stand", {"swing": -30.0, "tilt": 6.0, "z": 420.0}))
    bench.do(AddCamera(clip="eye", frame=0, length=length))
    _sets(bench, "eye", sharp="by the lens", stop=1.2)
    for name, rests, goes in (("z", 0, 360), ("x", 0, 60), ("aim_x", 0, 10), ("focus", 1500, 420)):
        _moves(bench, "eye", "content", name, (40, rests), (110, goes), frames=True)
    bench.called(room="Room", screen="Screen", eye="Camera", head="Heading")
    return bench.kept(
        "screen",
        "Screen comes into focus",
        "in depth",
        "A screen stands turned and blurred; the camera goes in, and its figures come into focus as it stops.",
        112,
        10,
        words("heading", "head", "Yield by hive"),
        *(words(f"figure {n}", f"{name}-says", f"{high / 10:.0f} kg") for n, (name, high, _) in enumerate(hives, 1)),
    )


def poster(sounds: "dict[str, Media]") -> "Ensemble":
    from ..core.edits import AddCamera, AddTreatment, MoveCamera, SetTransition, TrimClip
    from ..core.project.model import Transition

    bench, length = BenchFilm("Poster in depth", sounds), 150
    bench.ground("second", 75, ("#e8b866", "#b5603a", "#5a2c34"), angle=100)
    bench.do(TrimClip(clip="second", head=75, length=75))
    bench.ground("first", 75, ("#2b4654", "#6d97a3", "#e9dcc0"), angle=90)
    for id in ("first", "second"):
        _steps(bench, id, ("stand", "stand", {"z": 900.0, "size": 1.9}))
    bench.shape("ring", "ellipse", 0, length, width=520, height=520, filled=0, stroke=26, line_colour=HONEY)
    bench.drawing("figure", CELL, 0, length, width=330, height=300, colour="#4a3826")
    bench.drawing("mark", COMET, 0, length, width=240, height=140, colour=BONE, y=6)
    bench.shape("frame", "rectangle", 0, length, width=1160, height=640, filled=0, stroke=7, line_colour=BONE)
    _steps(bench, "ring", ("stand", "stand", {"z": 420.0, "y": -40.0, "size": 1.2}))
    tones = ("figure-tones", "colour_grade", {"saturation": 0.35})
    _steps(bench, "figure", tones, ("casts", "shadow", {}), ("stand", "stand", {"z": 120.0, "y": -34.0}))
    _steps(bench, "mark", ("stand", "stand", {"z": 60.0, "y": -34.0}))
    _steps(bench, "frame", ("stand", "stand", {"z": -220.0, "size": 0.86}))
    bench.words("title", "THE SLOW HARVEST", 6, length - 6, 0, 262, 78, "edge-up", BONE, "anton", 400, tracking=120)
    _steps(bench, "title", ("stand", "stand", {"z": 260.0, "y": 4.0, "size": 1.1}))
    bench.do(
        AddCamera(clip="eye", frame=0, length=length),
        MoveCamera(clip="eye", move="push in", amount=0.7),
        SetTransition(clip="second", end="opening", transition=Transition(kind="ellipse", length=24)),
        AddTreatment(clip="leak", frame=60, length=34),
    )
    _steps(bench, "leak", ("burn", "light_leak", {"strength": 0.8}))
    bench.sound("whoosh", "whoosh", 62, gain=-8)
    bench.called(
        first="First scene", second="Second scene", ring="Ring", figure="Figure", mark="Mark", frame="Frame",
        title="Title", eye="Camera", leak="Leak", whoosh="Whoosh",
    )  # fmt: skip
    return bench.kept(
        "poster",
        "Poster in depth",
        "in depth",
        "A figure between a ring and a frame, each at its own distance; the camera goes in, and an iris opens on a "
        "second scene.",
        length,
        0,
        words("title", "title", "THE SLOW HARVEST"),
        picture("first scene", "first"),
        picture("second scene", "second"),
        picture("figure", "figure"),
        sound("whoosh", "whoosh"),
    )


DEPTH = (night_card, stage, screen, poster)
