"""What can be taken hold of on the picture shows where colours run."""

import numpy as np
import pytest

from idle_comet.core.edits import AddGenerated, apply
from idle_comet.core.moment.handles import handles_of
from idle_comet.core.project.model import Clip, Plain, Step, fixed

from .stacked import film, seen

BLACK, GREY, WHITE = 0, 127.5, 255
COLOURS = {"first": fixed("#000000"), "second": fixed("#ffffff")}


def stepped(kind, values, choices):
    """A plain clip as large as the frame, coloured, then grown and turned."""
    steps = (
        Step(
            id="g", kind=kind, values=COLOURS | {name: fixed(value) for name, value in values.items()}, choices=choices
        ),
        Step(id="p", kind="placement", values={"scale": fixed(0.5), "rotation": fixed(20), "x": fixed(12)}),
    )
    return film(Clip(id="c", track="a", name="c", head=0, length=50, content=Plain(colour="#ffffff"), steps=steps))


def generated(values, choices):
    project, _ = apply(film(), AddGenerated(clip="c", frame=0, length=50, pattern="gradient"))
    clip = project.clips["c"]
    made = COLOURS | {"third": fixed("#000000")} | {name: fixed(value) for name, value in values.items()}
    content = clip.content.model_copy(update={"values": made, "choices": choices})
    turned = Step(id="p", kind="placement", values={"scale": fixed(0.8), "rotation": fixed(-15)})
    return project.model_copy(update={"clips": {"c": clip.model_copy(update={"content": content, "steps": (turned,)})}})


@pytest.mark.parametrize(
    "project, place, there",
    [
        (stepped("gradient", {"angle": 30, "middle": 0.3}, {}), "middle", GREY),
        (stepped("gradient", {"middle": 0.6}, {"form": "round"}), "middle", GREY),
        (stepped("tone_colours", {"angle": -50}, {"along": "the picture", "number": "two"}), None, None),
        (generated({"angle": 60, "second_at": 0.35, "length": 0.8}, {}), "second_at", WHITE),
        (generated({"second_at": 0.7, "length": 0.5}, {"form": "round"}), "second_at", WHITE),
    ],
)
def test_the_line_of_a_run_of_colours_lies_where_its_colours_are(project, place, there):
    (grip,) = [each for each in handles_of(project, "c", 10).grips if each.along]
    line = grip.along
    shown = seen(project, 10)

    def at(point):
        # The frame is painted one px a px.
        x, y = (int(np.clip(round(each - 0.5), 1, side - 2)) for each, side in zip(point, (320, 180)))
        return shown[y - 1 : y + 2, x - 1 : x + 2].mean()

    def between(share):
        return tuple(a + (b - a) * share for a, b in zip(line.start, line.end))

    assert at(between(0.03)) == pytest.approx(BLACK, abs=25)
    if place is None:
        assert at(between(0.5)) == pytest.approx(GREY, abs=3) and at(between(0.75)) == pytest.approx(1.5 * GREY, abs=3)
    else:
        assert at(dict(line.places)[place]) == pytest.approx(there, abs=6)
