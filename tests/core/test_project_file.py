import re
from pathlib import Path

from hypothesis import given, settings, strategies as st

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.compose.drawing import draw_clip
from idle_comet.core.motion import Fixed, Free, Hold, Key, Linear, Moving, Strengths
from idle_comet.core.project.file import read_project_file, write_project_file
from idle_comet.core.project.model import Clip, Plain, Project, Settings, Step, Text, Track
from idle_comet.core.steps import KINDS

ROOT = Path(__file__).parents[2]


def test_the_documented_example_is_a_project_file_and_shows_its_title():
    example = re.search(r"```json\n(.*?)```", (ROOT / "docs" / "project-file.md").read_text(), re.S)[1]
    project, files = read_project_file(example)
    assert files == {} and Painter(None).paint(plan(evaluate(project, 50), 640, 360))[..., 0].max() > 200
    assert read_project_file(write_project_file(project, {}))[0] == project


unit = st.floats(0, 1)
number = st.floats(-1e6, 1e6)
eases = st.one_of(st.just(Hold()), st.just(Linear()), st.builds(Strengths, start=unit, end=unit),
                  st.builds(Free, x1=unit, x2=unit, y1=st.floats(-100, 100), y2=st.floats(-100, 100)))
keys = st.builds(Key, counts_from=st.sampled_from(["head", "tail", "proportion"]), at=st.floats(-1e7, 1e7), value=number, ease=eases)
properties = st.one_of(st.builds(Fixed, value=number), st.lists(keys, min_size=1, max_size=5).map(lambda made: Moving(keys=tuple(made))))
names = sorted({parameter.name for kind in KINDS.values() for parameter in kind.parameters} | {"nonsense"})
steps = st.lists(st.builds(Step, id=st.just("s"), kind=st.sampled_from([*KINDS, "unheard-of"]), on=st.booleans(), mix=properties,
                           values=st.dictionaries(st.sampled_from(names), properties, max_size=5)), max_size=3)
contents = st.one_of(
    st.builds(Text, text=st.text(max_size=20), typeface=st.sampled_from(["archivo", "fraunces", "missing"]), weight=st.integers(1, 1000),
              size=properties, tracking=properties, leading=properties, align=st.sampled_from(["left", "centre", "right"]),
              stand_y=st.sampled_from(["top", "middle", "bottom"])),
    st.just(Plain()))
clips = st.builds(Clip, id=st.just("c"), track=st.just("t"), name=st.just("c"), head=st.integers(0, 50), length=st.integers(1, 10**7),
                  arrival=st.integers(0, 10**7), departure=st.integers(0, 10**7), content=contents, steps=steps.map(tuple))


@settings(max_examples=120)
@given(clips, st.floats(0, 1))
def test_any_document_the_schema_accepts_can_be_evaluated_drawn_and_painted(clip, moment):
    project = Project(settings=Settings(name="f", width=320, height=180), tracks=(Track(id="t", name="T"),), clips={"c": clip})
    frame = clip.head + int(moment * (clip.length - 1))
    scene = evaluate(project, frame)
    for layer in scene.layers:
        for step in layer.steps:
            assert all(value == value and abs(value) < 1e7 for value in step.values.values())
    shares = [share for _, share in draw_clip(project, clip).presence]
    assert all(0 <= share <= 1 for share in shares)
    assert Painter(None).paint(plan(scene, 64, 36)).shape == (36, 64, 4)
