import json
import re
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.moment.course import course_of
from idle_comet.core.moment.scene import Join
from idle_comet.core.motion import (
    ORDERS,
    Bounce,
    Cascade,
    Driven,
    Fixed,
    Follow,
    Framing,
    Free,
    Hold,
    Jumps,
    Key,
    Linear,
    Moving,
    Oscillation,
    Repeat,
    Spring,
    Steady,
    Strengths,
    Traced,
    Wobble,
)
from idle_comet.core.project.file import read_project_file, write_project_file
from idle_comet.core.project.model import (
    Clip,
    HeldKey,
    Plain,
    Project,
    Settings,
    Shutter,
    Step,
    Styled,
    Text,
    Track,
    Transition,
    Units,
)
from idle_comet.core.project.upgrade import upgraded, upgraded_recipe
from idle_comet.core.steps import KINDS
from idle_comet.core.type import CASES, PIVOTS
from idle_comet.core.type import KINDS as UNITS

ROOT = Path(__file__).parents[2]


def test_the_documented_example_is_a_project_file_and_shows_its_title():
    example = re.search(r"```json\n(.*?)```", (ROOT / "docs" / "project-file.md").read_text(), re.S)[1]
    project, files = read_project_file(example)
    assert files == {} and Painter(None).paint(plan(evaluate(project, 50), 640, 360))[..., 0].max() > 200
    assert read_project_file(write_project_file(project, {}))[0] == project


unit = st.floats(0, 1)
number = st.floats(-1e6, 1e6)
eases = st.one_of(
    st.just(Hold()),
    st.just(Linear()),
    st.builds(Strengths, start=unit, end=unit),
    st.builds(Free, x1=unit, x2=unit, y1=st.floats(-100, 100), y2=st.floats(-100, 100)),
    st.builds(Spring, damping=st.floats(0.05, 4)),
    st.builds(Bounce, bounces=st.integers(1, 12), kept=st.floats(0.05, 0.95)),
    st.builds(Jumps, count=st.integers(1, 1000), at=st.sampled_from(["start", "end"])),
    st.lists(st.tuples(unit, st.floats(-100, 100)), min_size=2, max_size=5).map(
        lambda points: Traced(points=tuple(sorted(points)))
    ),
)
point = st.tuples(number, number)
value = st.one_of(number, number, point, st.sampled_from(["#000000", "#ffffff", "#12fe98"]))
ends = st.sampled_from(["head", "tail", "proportion"])
keys = st.builds(
    Key,
    counts_from=ends,
    at=st.floats(-1e7, 1e7),
    value=value,
    ease=eases,
    into=st.none() | point,
    out=st.none() | point,
)
names = sorted({parameter.name for kind in KINDS.values() for parameter in kind.parameters} | {"nonsense"})
fades = {"fade_in": st.integers(0, 10**7), "fade_out": st.integers(0, 10**7)}
motors = st.one_of(
    st.builds(Steady, start=number, rate=number, **fades),
    st.builds(Wobble, centre=number, amplitude=number, rate=st.floats(0, 60), **fades),
    st.builds(
        Oscillation,
        shape=st.sampled_from(["sine", "triangle", "pulse"]),
        amplitude=number,
        rate=st.floats(0, 60),
        phase=number,
    ),
    st.builds(
        Follow,
        clip=st.sampled_from([None, "c", "gone"]),
        step=st.sampled_from(["s", "content"]),
        name=st.sampled_from([*names, "colour"]),
        gain=number,
        delay=st.floats(-1e6, 1e6),
    ),
)
repeats = st.none() | st.builds(
    Repeat, mode=st.sampled_from(["loop", "mirror"]), times=st.none() | st.integers(2, 10_000)
)
properties = st.one_of(
    st.builds(Fixed, value=value),
    st.builds(Driven, motor=motors, rest=value),
    st.builds(Moving, keys=st.lists(keys, min_size=1, max_size=5).map(tuple), through=st.booleans(), repeat=repeats),
)
held = st.fixed_dictionaries(
    {},
    optional={
        "text": st.lists(
            st.builds(HeldKey, counts_from=ends, at=st.floats(-1e7, 1e7), value=st.text(max_size=9)), max_size=3
        ).map(tuple)
    },
)
cascades = st.builds(
    Cascade,
    unit=st.sampled_from(UNITS),
    order=st.sampled_from(ORDERS),
    by=st.sampled_from(["delay", "fit", "overlap"]),
    delay=st.floats(0, 10_000),
    overlap=unit,
    seed=st.integers(0, 99),
)
units = st.none() | st.builds(
    Units, arrival=cascades, departure=st.none() | cascades, pivot=st.sampled_from(["own", *PIVOTS])
)
choices = st.dictionaries(
    st.sampled_from(sorted({each.name for kind in KINDS.values() for each in kind.choices} | {"nonsense"})),
    st.sampled_from(
        sorted({option for kind in KINDS.values() for each in kind.choices for option in each.options} | {"nonsense"})
    ),
    max_size=4,
)
ranges = st.lists(
    st.builds(
        Styled,
        start=st.integers(0, 30),
        end=st.integers(0, 30),
        typeface=st.none() | st.sampled_from(["bitter", "missing"]),
        size=st.none() | st.floats(0.05, 20),
        colour=st.none() | st.sampled_from(["#12fe98"]),
        shift=st.none() | st.floats(-5, 5),
        case=st.none() | st.sampled_from(CASES),
    ),
    max_size=3,
).map(tuple)
steps = st.lists(
    st.builds(
        Step,
        id=st.just("s"),
        kind=st.sampled_from([*KINDS, "unheard-of"]),
        on=st.booleans(),
        mix=properties,
        since=st.integers(0, 100),
        until=st.integers(0, 100),
        values=st.dictionaries(st.sampled_from(names), properties, max_size=5),
        choices=choices,
        units=units,
    ),
    max_size=3,
)
transitions = st.none() | st.builds(
    Transition,
    kind=st.sampled_from(["dissolve", "dip", "wipe", "ellipse", "rectangle", "slide"]),
    length=st.integers(1, 10**7),
    ease=eases,
    softness=unit,
    towards=st.sampled_from(["left", "right", "up", "down"]),
)
shutters = st.none() | st.builds(
    Shutter, angle=st.floats(0, 360), smear=st.floats(0, 16), sits=st.sampled_from(["before", "on", "after"])
)
contents = st.one_of(
    st.builds(
        Text,
        text=st.text(max_size=20),
        typeface=st.sampled_from(["archivo", "fraunces", "missing"]),
        weight=properties,
        width=properties,
        box=properties,
        box_does=st.sampled_from(["wrap", "justify", "fit"]),
        case=st.sampled_from(CASES),
        ranges=ranges,
        size=properties,
        tracking=properties,
        leading=properties,
        colour=properties,
        held=held,
        align=st.sampled_from(["left", "centre", "right"]),
        stand_y=st.sampled_from(["top", "middle", "bottom"]),
    ),
    st.builds(Plain, colour=properties),
)
clips = st.builds(
    Clip,
    id=st.just("c"),
    track=st.just("t"),
    name=st.just("c"),
    head=st.integers(0, 50),
    length=st.integers(1, 10**7),
    arrival=st.integers(0, 10**7),
    departure=st.integers(0, 10**7),
    content=contents,
    steps=steps.map(tuple),
    skipped=st.sampled_from([0, 0, 3, 10**6]),
    cut_off=st.sampled_from([0, 0, 7]),
    opening=transitions,
    closing=transitions,
    shutter=shutters,
)


def plain(value):
    """A finite number, a point of such, a framing, or a colour."""
    if isinstance(value, Framing):
        return all(plain(each) for each in (value.x, value.y, value.scale, value.roll))
    if isinstance(value, tuple):
        return all(plain(each) for each in value)
    return value is None or isinstance(value, str) or (value == value and abs(value) < 1e7)


@settings(max_examples=100)
@given(clips, st.floats(0, 1))
def test_any_document_the_schema_accepts_can_be_evaluated_drawn_and_painted(clip, moment):
    project = Project(
        settings=Settings(name="f", width=320, height=180), tracks=(Track(id="t", name="T"),), clips={"c": clip}
    )
    frame = clip.head + int(moment * (clip.length - 1))
    scene = evaluate(project, frame)
    for layer in scene.layers:
        for side in (layer.before, layer.after) if isinstance(layer, Join) else (layer,):
            for step in side.steps if side else ():
                assert all(plain(value) for value in step.values.values())
    shares = [share for _, share in course_of(project, clip).presence]
    assert all(0 <= share <= 1 for share in shares)
    assert Painter(None).paint(plan(scene, 64, 36)).shape == (36, 64, 4)


def test_titles_written_before_weights_could_move_are_read():
    """A weight was a whole number, and keys of its own held it."""
    raw = {
        "kind": "text",
        "text": "Swarm",
        "weight": 300,
        "held": {"weight": [{"at": 40, "value": 700}, {"counts_from": "tail", "at": -5, "value": 200}]},
    }
    text = Text.model_validate(upgraded("clip", {"content": raw})["content"])
    style = upgraded("settings", {"type_styles": [{"look": raw}]})["type_styles"][0]["look"]
    assert Text.model_validate(style) == Text.model_validate(upgraded_recipe({"content": raw})["content"]) == text
    assert text.held == {} and [(key.counts_from, key.at, key.value, key.ease.kind) for key in text.weight.keys] == [
        ("head", 0, 300, "hold"),
        ("head", 40, 700, "hold"),
        ("tail", -5, 200, "hold"),
    ]
    assert Text(text="x", weight=450).weight == Fixed(value=450)
    # What was never a form of ours is left as it is, for the model to refuse.
    for odd in (7, "x", [3], {"weight": 1}):
        assert upgraded("clip", {"content": {**raw, "held": {"weight": odd}}})["content"]["held"] == {"weight": odd}


KEPT = sorted((Path(__file__).parent / "kept").glob("*.json"))


@pytest.mark.parametrize("file", KEPT, ids=lambda file: file.stem)
def test_a_file_of_an_earlier_version_opens_with_all_that_is_in_it(file):
    """Written once and never again: what it says must be found in what is read."""
    raw = json.loads(file.read_text(encoding="utf-8"))
    film, files = read_project_file(file.read_text(encoding="utf-8"))
    assert files == raw["files"] and film.clips.keys() == raw["project"]["clips"].keys()
    for id, clip in raw["project"]["clips"].items():
        now = film.clips[id]
        assert (now.head, now.length, now.track, [step.id for step in now.steps]) == (
            clip["head"],
            clip["length"],
            clip["track"],
            [step["id"] for step in clip["steps"]],
        )
        for step, was in zip(now.steps, clip["steps"]):
            assert {name: prop.state for name, prop in step.values.items()} == {
                name: prop["state"] for name, prop in was["values"].items()
            }
    for frame in (0, 20, 47, 61, 100):
        assert evaluate(film, frame).layers
    # And what is written of it today is read again as it is.
    assert read_project_file(write_project_file(film, files)) == (film, files)
