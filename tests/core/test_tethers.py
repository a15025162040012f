"""Tethers: an edge of a clip or of a mask lies on another clip's edge at every moment."""

import numpy as np
import pytest

from idle_comet.core.edits import EditError, SetMotor, apply
from idle_comet.core.moment.moment import Moment
from idle_comet.core.moment.tethering import extent
from idle_comet.core.motion import Corner, Driven, Outline, Tether
from idle_comet.core.picture import Matrix
from idle_comet.core.project.model import Clip, Mask, Plain, Step, fixed

from .stacked import HEIGHT, WIDTH, film, seen, square
from .test_shutter import straight

MOMENTS = (0, 5, 13.37, 20, 33.5, 49)
"""Of fifty frames, and between them."""


def slider():
    """A square that slides across, grows and turns."""
    return square("slider", "#ffffff", "b", x=straight(-90, 90), scale=straight(0.5, 1.1), rotation=straight(0, 25))


def driven(side, own, **more):
    return Driven(motor=Tether(clip="slider", side=side, own=own, **more))


@pytest.mark.parametrize("own", ["first", "middle", "last"])
@pytest.mark.parametrize("side", ["left", "right", "middle-x", "top", "bottom"])
def test_an_edge_of_a_clip_meets_an_edge_of_another_however_both_move(side, own):
    name = "y" if side in ("top", "bottom") else "x"
    free = {"x": "y", "y": "x"}[name]
    own_moves = {"scale": straight(0.3, 0.7), "rotation": straight(10, -30), free: straight(-20, 30)}
    rider = square("rider", "#ff0000", "a", **own_moves, **{name: driven(side, own, offset=3)})
    project = film(rider, slider())
    for at in MOMENTS:
        moment = Moment(project, at)
        box, wanted = moment.whereabouts("rider").box, moment.whereabouts("slider").at(side) + 3
        low, high = (box.x0, box.x1) if name == "x" else (box.y0, box.y1)
        assert {"first": low, "middle": (low + high) / 2, "last": high}[own] == pytest.approx(wanted, abs=0.02)


@pytest.mark.parametrize("form", ["rectangle", "ellipse", "outline"])
@pytest.mark.parametrize("tumbled", [False, True])
def test_an_edge_of_a_mask_meets_an_edge_of_another_clip_through_all_that_places_it(form, tumbled):
    size = {} if form == "outline" else {"width": straight(60, 100), "height": fixed(50)}
    mask = Mask(
        id="m", form=form, values={"x": driven("right", "first"), "y": fixed(80), "turn": straight(0, 40), **size}
    )
    later = [Step(id="p", kind="placement", values={"scale": straight(0.8, 1.2), "x": fixed(-15)})]
    if tumbled:
        later.append(Step(id="t", kind="tumble", values={"swing": fixed(35), "eye": fixed(700)}))
    held = Clip(
        id="held",
        track="a",
        name="held",
        head=0,
        length=50,
        content=Plain(colour="#00ff00"),
        steps=(Step(id="s", kind="mask", masks=(mask,)), *later),
    )
    project = film(held, slider())
    for at in MOMENTS:
        moment = Moment(project, at)
        names = ("x", "y", "turn", "grow", *(("outline",) if form == "outline" else ("width", "height")))
        values = {name: moment.value("held", "s/m", name) for name in names}
        matrix = moment.whereabouts("held").matrix
        found = extent(form, values, matrix, 0)[0]
        assert found == pytest.approx(moment.whereabouts("slider").at("right"), abs=0.02)


def test_an_object_that_slides_across_uncovers_what_lies_behind_it():
    values = {
        "x": driven("left", "last"),
        "y": fixed(90),
        "width": fixed(640),
        "height": fixed(400),
        "feather": fixed(0),
    }
    mask = Mask(id="m", form="rectangle", values=values)
    behind = Clip(
        id="behind",
        track="c",
        name="behind",
        head=0,
        length=50,
        content=Plain(colour="#0000ff"),
        steps=(Step(id="s", kind="mask", masks=(mask,)),),
    )
    bar = square("slider", "#ffffff", "b", x=straight(-140, 140), size=0.3)
    project = film(bar, behind)
    for at in (6, 20, 41):
        row = seen(project, at)[HEIGHT // 2]
        edge = Moment(project, at).whereabouts("slider").box.x0
        across = np.arange(WIDTH)
        assert (row[across < edge - 1] == (0, 0, 255)).all()
        assert row[int(edge + 3)].tolist() == [255, 255, 255] and (row[across > edge + 56] == 0).all()


def test_only_a_place_brings_an_edge_somewhere_and_a_mask_does_not_look_at_its_own_clip():
    project = film(square("rider", "#ff0000", "a"), slider())
    for motor, name, says in (
        (Tether(clip="slider", side="top", own="first"), "x", "only a place down can"),
        (Tether(clip="slider", side="left", own="first"), "scale", "only a place across can"),
        (Tether(clip="rider", side="left", own="first"), "x", "can't look at its own clip"),
    ):
        with pytest.raises(EditError, match=says):
            apply(project, SetMotor(clip="rider", step="placement", name=name, motor=motor))
    # Where the other is not, it rests.
    later = slider().model_copy(update={"head": 30, "length": 10})
    tethered = square("rider", "#ff0000", "a", x=driven("left", "first"))
    assert Moment(film(tethered, later), 5).value("rider", "placement", "x") == 0


def test_a_masks_extent_is_its_forms():
    values = {"x": 30, "y": 40, "turn": 30, "grow": 0, "width": 80, "height": 20}
    cos, sin = np.cos(np.pi / 6), np.sin(np.pi / 6)
    assert extent("rectangle", values, Matrix(), 0) == pytest.approx(
        (30 - 40 * cos - 10 * sin, 30 + 40 * cos + 10 * sin)
    )
    reach = np.hypot(40 * cos, 10 * sin)
    assert extent("ellipse", values, Matrix(), 0) == pytest.approx((30 - reach, 30 + reach))


@pytest.mark.parametrize("tilted", [False, True])
def test_a_bent_outline_reaches_as_far_as_its_curves_do(tilted):
    ends = (((0.0, -30.0), (40.0, 0.0)), ((0.0, 30.0), (-90.0, 10.0)), ((-20.0, 0.0), (0.0, 15.0)))
    corners = tuple(Corner(at=at, out=out, into=(-out[0], -out[1])) for at, out in ends)
    values = {"x": 160, "y": 90, "turn": 25, "grow": 0, "outline": Outline(corners=corners)}
    matrix = Matrix.tilt(0, 30, 0, 700) if tilted else Matrix.turn(10)
    to = matrix @ Matrix.shift(160, 90) @ Matrix.turn(25)
    share = np.linspace(0, 1, 20001)
    reached = []
    for one, other in zip(corners, (*corners[1:], corners[0])):
        handles = [one.at, np.add(one.at, one.out), np.add(other.at, other.into), other.at]
        weights = ((1 - share) ** 3, 3 * share * (1 - share) ** 2, 3 * share**2 * (1 - share), share**3)
        x, y = (sum(w * h[axis] for w, h in zip(weights, handles)) for axis in (0, 1))
        reached.append([to.map(a, b) for a, b in zip(x[::20], y[::20])])
    wanted = np.concatenate(reached)
    for axis in (0, 1):
        found = extent("outline", values, matrix, axis)
        assert found == pytest.approx((wanted[:, axis].min(), wanted[:, axis].max()), abs=0.02)
        # The corners alone do not reach so far.
        assert min(to.map(*each.at)[axis] for each in corners) > found[0] + 1 or axis
