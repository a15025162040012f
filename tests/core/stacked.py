"""Squares and words over each other, and what is seen of them."""

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.project.model import Clip, Plain, Project, Settings, Step, Text, Track, fixed

from .test_shutter import straight

WIDTH, HEIGHT = 320, 180
PAINTER = Painter(None)


def square(id, colour, track="a", head=0, length=50, blend="normal", size=0.5, more=(), **placed):
    """A plain square, half as wide as the frame's height, where its placement says."""
    narrow = Step(id="narrow", kind="stretch", values={"across": fixed(size * HEIGHT / WIDTH), "down": fixed(size)})
    placement = Step(
        id="placement",
        kind="placement",
        values={name: value if hasattr(value, "state") else fixed(value) for name, value in placed.items()},
    )
    return Clip(
        id=id,
        track=track,
        name=id,
        head=head,
        length=length,
        content=Plain(colour=colour),
        blend=blend,
        steps=(narrow, *more, placement),
    )


def film(*clips, tracks="abc", background="#000000"):
    """Clips on tracks a, b, c from the top down."""
    return Project(
        settings=Settings(name="G", width=WIDTH, height=HEIGHT, background=background),
        tracks=tuple(Track(id=name, name=name) for name in tracks),
        clips={clip.id: clip for clip in clips},
    )


def seen(project, at=20, width=WIDTH, height=HEIGHT):
    return PAINTER.paint(plan(evaluate(project, at), width, height))[..., :3].astype(float)


def stack():
    """Words and two squares that move, over each other."""
    words = Clip(
        id="words",
        track="a",
        name="words",
        head=3,
        length=40,
        content=Text(text="swarm", size=fixed(40)),
        steps=(Step(id="placement", kind="placement", values={"x": straight(-30, 30), "rotation": straight(0, 20)}),),
    )
    return film(
        words,
        square("red", "#c03020", "b", x=straight(-40, 40), opacity=0.7),
        square("blue", "#2040c0", "c", head=5, y=straight(20, -20)),
    )


def changed(project, id, **changes):
    return project.model_copy(update={"clips": {**project.clips, id: project.clips[id].model_copy(update=changes)}})
