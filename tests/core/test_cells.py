"""Several pictures in one frame: cells that leave no px over, pictures that fill them at every moment."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import (
    AddStep,
    ArrangeClips,
    ChangeSettings,
    ChangeText,
    EditError,
    GatherClips,
    MakeStrip,
    SetProperty,
    ShowDetail,
    ToFrontAndBack,
    apply,
)
from idle_comet.core.moment.handles import handles_of
from idle_comet.core.moment.standing import stand
from idle_comet.core.motion import Fixed
from idle_comet.core.picture import Matrix, Patch, Rect
from idle_comet.core.project.cells import cells_of, shared_out
from idle_comet.core.project.model import Clip, Footage, Media, Plain, Project, Settings, Step, Track
from idle_comet.core.steps import CELL, Rest, StepContext

COLOURS = ("#ff0000", "#00ff00", "#0000ff", "#ffff00", "#00ffff")


@given(
    st.sampled_from(["row", "column", "grid", "first large"]),
    st.integers(2, 9),
    st.integers(201, 1921),
    st.integers(203, 1081),
    st.integers(0, 12),
)
def test_cells_and_gutters_make_up_the_frame_to_the_px(arrangement, count, width, height, gutter):
    cells = cells_of(arrangement, count, width, height, 0, gutter)
    cover = np.zeros((height, width), np.uint8)
    for cell in cells:
        cover[cell.y : cell.y + cell.height, cell.x : cell.x + cell.width] += 1
    assert cover.max() == 1 and len(cells) == count
    # What is not covered are gutters, as wide as they are asked for.
    if gutter == 0:
        assert cover.min() == 1
    else:
        bare = np.flatnonzero(cover.max(0) == 0)
        runs = np.split(bare, np.flatnonzero(np.diff(bare) > 1) + 1) if len(bare) else []
        assert all(len(run) == gutter for run in runs)
    if arrangement in ("row", "column"):
        sides = [cell.width if arrangement == "row" else cell.height for cell in cells]
        assert max(sides) - min(sides) <= 1


def test_shares_are_exact_and_margins_are_kept():
    assert shared_out(100, [2, 1], 10) == [(0, 60), (70, 30)]
    (inset,) = cells_of("inset", 1, 1280, 720, 20, share=0.25)
    assert inset == (940, 520, 320, 180)
    assert cells_of("quadrant", 1, 1281, 721, corner="upper left")[0][:2] == (0, 0)
    (strip,) = cells_of("strip below", 1, 1280, 720, 0, share=0.25)
    assert strip == (0, 0, 1280, 540)


def test_a_turned_cell_is_cut_alike_in_a_single_row_and_in_the_whole_picture():
    whole = Rect(0, 0, 1280, 720)
    rest = Rest((640, 360), whole, whole, whole, 1280, 720)
    place = {"x": 200, "y": 100, "width": 400, "height": 300, "share": 1.0, "turn": 20, "radius": 60, "shadow": 0}
    values = {**{each.name: each.default for each in CELL.parameters}, **place, "comes": "beyond the edge"}

    def cut(rect):
        x0, y0, x1, y1 = rect.whole()
        picture = Patch(np.full((y1 - y0, x1 - x0, 4), 255, np.float32), x0, y0)
        return CELL.render(picture, values, StepContext(Matrix(), whole, rest)).alpha

    large = cut(Rect(100, 20, 700, 480))
    # Through the round corners, too.
    for row in range(40, 460, 12):
        assert np.abs(cut(Rect(100, row, 700, row + 1))[0] - large[row - 20]).max() < 1e-3


def film(count, width=642, height=362, length=60):
    """So many plain pictures, one after the other on one track."""
    clips = {}
    for number in range(count):
        id = f"p{number}"
        content = Plain(colour=COLOURS[number])
        clips[id] = Clip(id=id, track="a", name=id, head=number * length, length=length, content=content)
    return Project(
        settings=Settings(name="cells", width=width, height=height), tracks=(Track(id="a", name="a"),), clips=clips
    )


def painted(project, frame, sources=None):
    size = project.settings
    return Painter(sources).paint(plan(evaluate(project, frame), size.width, size.height))[..., :3]


def rgb(colour):
    return [int(colour[at : at + 2], 16) for at in (1, 3, 5)]


@pytest.mark.parametrize("arrangement, count", [("row", 3), ("grid", 4), ("first large", 3), ("grid", 5)])
def test_every_px_of_the_frame_is_of_one_picture(arrangement, count):
    ids = tuple(f"p{number}" for number in range(count))
    edit = ArrangeClips(clips=ids, arrangement=arrangement, arrives=False, departs=False)
    project, _ = apply(film(count), edit)
    # They follow each other no more: they are there together.
    assert {(clip.head, clip.length) for clip in project.clips.values()} == {(0, 60)}
    assert len({clip.track for clip in project.clips.values()}) == count
    picture = painted(project, 30)
    wanted = np.zeros_like(picture)
    for number, cell in enumerate(cells_of(arrangement, count, project.settings.width, project.settings.height)):
        wanted[cell.y : cell.y + cell.height, cell.x : cell.x + cell.width] = rgb(COLOURS[number])
    assert (picture == wanted).all()
    # Without arrival and departure the first frame is like any other, so that one cuts against it seamlessly.
    assert (painted(project, 0) == picture).all() and (painted(project, 59) == picture).all()


class Ramp:
    """A shot that says in its colours where each px of it lies."""

    def frame(self, media, index, width, exact):
        x, y = np.meshgrid((np.arange(320) + 0.5) / 320, (np.arange(180) + 0.5) / 180)
        return np.stack([x * 255, y * 255, 0 * x, 0 * x + 255], 2).astype(np.uint8)


def shot(**more):
    media = Media(id="m", name="m", hash="0" * 64, path="m.mp4", width=320, height=180, frames=100)
    clip = Clip(id="s", track="a", name="s", head=0, length=100, content=Footage(media="m"))
    project = Project(
        settings=Settings(name="cells", width=320, height=180, background="#0000ff"),
        tracks=(Track(id="a", name="a"),),
        media={"m": media},
        clips={"s": clip},
    )
    return apply(project, ArrangeClips(clips=("s",), **{"arrangement": "quadrant", **more}))[0]


@pytest.mark.parametrize("detail", [(0, 0), (60, -30), (500, 500)])
@pytest.mark.parametrize("comes", ["the whole frame", "beyond the edge"])
def test_on_its_way_the_picture_fills_its_cell_and_the_detail_is_in_it(detail, comes):
    project = shot(comes=comes)
    for name, value in zip(("detail_x", "detail_y", "zoom"), (*detail, 2.0)):
        project, _ = apply(project, SetProperty(clip="s", step="cell", name=name, property=Fixed(value=value)))
    assert (painted(project, 0, Ramp())[..., 2] == 0).all() or comes != "the whole frame"
    for frame in range(1, 19):
        picture = painted(project, frame, Ramp()).astype(int)
        seen = picture[..., 2] < 250
        rows, columns = np.flatnonzero(seen.any(1)), np.flatnonzero(seen.any(0))
        if len(rows) < 3 or len(columns) < 3:
            continue
        # One rectangle without holes, and no ground within it.
        assert picture[rows[0] + 1 : rows[-1], columns[0] + 1 : columns[-1], 2].max(initial=0) <= 2
    arrived = painted(project, 40, Ramp()).astype(float)
    assert (arrived[:90, :, 2] == 255).all() and (arrived[90:, 160:, 2] <= 2).all()
    # Twice as large as it fills the quadrant: in the cell's middle lies the detail, as far as there is picture.
    at = arrived[133:137, 238:242, :2].mean((0, 1)) / 255 * (320, 180)
    wanted = np.clip(np.array([160 + detail[0], 90 + detail[1]]), (80, 45), (240, 135))
    assert at == pytest.approx(wanted, abs=2)
    # It goes back as it came.
    assert (painted(project, 99, Ramp()) == painted(project, 0, Ramp())).all()


@pytest.mark.parametrize("frame, zoom", [(0, 2.0), (40, 1.4), (9, 3.0)])
def test_a_detail_picked_on_the_picture_comes_into_the_middle_of_its_cell(frame, zoom):
    project = shot()
    # Where it is picked: at the source's (200, 70), as it is seen at this frame.
    seen = painted(project, frame, Ramp()).astype(float)
    off = np.abs(seen[..., 0] / 255 * 320 - 200) + np.abs(seen[..., 1] / 255 * 180 - 70) + 1e3 * (seen[..., 2] > 100)
    y, x = np.unravel_index(off.argmin(), off.shape)
    project, _ = apply(project, ShowDetail(clip="s", frame=frame, at=(x + 0.5, y + 0.5), zoom=zoom))
    middle = painted(project, 40, Ramp()).astype(float)[133:137, 238:242, :2].mean((0, 1)) / 255 * (320, 180)
    assert middle == pytest.approx((200, 70), abs=3)


def test_a_picture_gives_way_to_a_strip_with_words_and_takes_the_frame_back():
    project, _ = apply(film(1, 640, 360, 100), MakeStrip(clip="p0", seed="n", share=0.25, text="Honey", shadow=False))
    whole, strip = painted(project, 0), painted(project, 50)
    assert (whole == rgb(COLOURS[0])).all() and (painted(project, 99) == rgb(COLOURS[0])).all()
    assert (strip[:270] == rgb(COLOURS[0])).all() and not (strip[271:] == rgb(COLOURS[0])).all(-1).any()
    # The words stand in the middle of the strip, and nowhere else.
    lit = np.argwhere(strip[271:].min(-1) > 200)
    assert (lit.min(0) + lit.max(0)) / 2 == pytest.approx((45, 319.5), abs=2.5) and len(lit) > 200
    other, _ = apply(project, ChangeText(clip="n-words", text="Wax"))
    again, _ = apply(other, MakeStrip(clip="p0", seed="n", side="left", share=0.3, shadow=False))
    assert again.clips["n-words"].content.text == "Wax" and len(again.clips) == 3
    aside = painted(again, 50)
    assert (aside[:, 192:] == rgb(COLOURS[0])).all() and not (aside[:, :191] == rgb(COLOURS[0])).all(-1).any()


def test_the_detail_is_in_the_cell_at_every_frame_of_the_way():
    project = shot(arrangement="inset", share=0.3, margin=8)
    for name, value in (("detail_x", 110.0), ("detail_y", -60.0), ("zoom", 3.0)):
        project, _ = apply(project, SetProperty(clip="s", step="cell", name=name, property=Fixed(value=value)))
    for frame in np.arange(0, 19, 0.5):
        layer = evaluate(project, frame).layers[0]
        values, rest = layer.steps[0].values, stand(layer.content, 320, 180).rest()
        x, y = CELL.place(values, rest).map(160 + 110, 90 - 60)
        here = CELL._rect(values, rest)
        assert here.x0 <= x <= here.x1 and here.y0 <= y <= here.y1, frame


@pytest.mark.parametrize("turn", [0, 12, -30])
def test_a_turned_cell_is_a_turned_picture(turn):
    """Against the same cell of a picture that is turned as a whole, by a placement about the cell's middle."""
    project = shot(arrangement="inset", share=0.5, margin=30, radius=10, arrives=False)
    turned, _ = apply(project, SetProperty(clip="s", step="cell", name="turn", property=Fixed(value=turn)))
    x, y, width, height = cells_of("inset", 1, 320, 180, 30, share=0.5)[0]
    pivot = {"pivot_x": x + width / 2 - 160, "pivot_y": y + height / 2 - 90, "rotation": turn}
    step = Step(id="p", kind="placement", values={name: Fixed(value=float(each)) for name, each in pivot.items()})
    other, _ = apply(project, AddStep(clip="s", at=1, step=step))
    off = np.abs(painted(turned, 40, Ramp()).astype(int) - painted(other, 40, Ramp()).astype(int))
    assert np.quantile(off, 0.995) <= 3 and off.mean() < 0.3


def test_a_radius_an_outline_and_a_shadow():
    project = shot(arrangement="inset", share=0.5, margin=20, radius=16, outline=4, shadow=True, arrives=False)
    picture = painted(project, 40, Ramp()).astype(int)
    # The outline lies inside the cell's edge, in its own colour; the corner is round; the shadow darkens the ground.
    assert np.abs(picture[113, 141:143] - (0xFF, 0xF6, 0xE6)).max() <= 2
    assert picture[71, 141, 2] > 200 and picture[168, 220, 2] < 240 and picture[20, 20, 2] == 255


def test_arranged_in_another_way_each_keeps_how_its_edge_looks():
    ids = ("p0", "p1")
    project, _ = apply(film(2), ArrangeClips(clips=ids, arrangement="row", outline=6))
    project, _ = apply(project, SetProperty(clip="p1", step="cell", name="radius", property=Fixed(value=30)))
    project, _ = apply(project, ArrangeClips(clips=ids, arrangement="column"))
    looks = [
        {name: prop.value for name, prop in project.clips[id].steps[-1].values.items() if name in ("radius", "outline")}
        for id in ids
    ]
    assert looks == [{"outline": 6}, {"outline": 6, "radius": 30}]


def test_one_comes_forward_over_the_others_and_goes_back():
    ids = tuple(f"p{number}" for number in range(4))
    project, _ = apply(film(4), ArrangeClips(clips=ids, arrangement="grid", length=4, apart=0, departs=False))
    split, came = painted(project, 10), painted(project, 2)
    for id, frame in (("p0", 12), ("p2", 34)):
        project, _ = apply(project, ToFrontAndBack(clip=id, frame=frame, length=20, way=6, seed=id))
    # A part of each lies on top for as long as it is in front, and no longer.
    assert {id for id in project.clips if id.endswith("-a-1")} == {"p0-a-1", "p2-a-1"}
    for colour, frame in (("#ff0000", 22), ("#0000ff", 44)):
        assert (painted(project, frame) == rgb(colour)).all()
    # It came as it came, and was in its cell before and after.
    assert (painted(project, 2) == came).all()
    for frame in (10, 33, 55):
        assert (painted(project, frame) == split).all()


@pytest.mark.parametrize(
    "order, turns", [("first to last", [0, 1, 2]), ("last to first", [2, 1, 0]), ("from the middle", [1, 0, 2])]
)
def test_who_goes_first_is_there_first(order, turns):
    ids = tuple(f"p{number}" for number in range(3))
    edit = ArrangeClips(clips=ids, arrangement="row", length=6, apart=8, order=order, departs=False)
    project, _ = apply(film(3), edit)
    there = [next(at for at in range(60) if (painted(project, at) == rgb(COLOURS[n])).all(-1).any()) for n in range(3)]
    assert [sorted(there).index(each) for each in there] == turns
    assert np.diff(sorted(there)) == pytest.approx([8, 8])


def test_what_can_not_be_arranged_is_said():
    with pytest.raises(EditError, match="One picture"):
        apply(film(1), ArrangeClips(clips=("p0",), arrangement="grid"))
    with pytest.raises(EditError, match="for one picture"):
        apply(film(2), ArrangeClips(clips=("p0", "p1"), arrangement="half"))
    with pytest.raises(EditError, match="nothing is left"):
        apply(film(2), ArrangeClips(clips=("p0", "p1"), arrangement="row", margin=400))
    with pytest.raises(EditError, match="no cell"):
        apply(film(1), ShowDetail(clip="p0", frame=0, at=(5, 5)))
    with pytest.raises(EditError, match="no cell"):
        apply(film(1), ToFrontAndBack(clip="p0", frame=0, seed="n"))
    placed, _ = apply(film(1), ArrangeClips(clips=("p0",), arrangement="inset"))
    with pytest.raises(EditError, match="takes 40 frames; “p0” has 29 left.*frame 19"):
        apply(placed, ToFrontAndBack(clip="p0", frame=30, seed="n", length=40, way=10))
    shorter, _ = apply(placed, ToFrontAndBack(clip="p0", frame=30, seed="n", length=40, way=10, fits=True))
    assert sorted((clip.head, clip.length) for clip in shorter.clips.values()) == [(0, 30), (30, 29), (59, 1)]


def test_in_another_frame_cells_still_meet():
    ids = tuple(f"p{number}" for number in range(3))
    project, _ = apply(film(3), ArrangeClips(clips=ids, arrangement="row", arrives=False, departs=False))
    project, _ = apply(project, ChangeSettings(width=514, height=770))
    picture = painted(project, 30)
    assert not (picture == 0).all(-1).any()
    assert [int((picture[100] == rgb(colour)).all(-1).sum()) for colour in COLOURS[:3]] == [171, 172, 171]


class White:
    def frame(self, media, index, width, exact):
        return np.full((180, 320, 4), 255, np.uint8)


def shots(count):
    """So many shots in white over black: what is not white is a seam."""
    media = Media(id="m", name="m", hash="0" * 64, path="m.mp4", width=320, height=180, frames=100)
    project = film(count, 1280, 720)
    clips = {id: clip.model_copy(update={"content": Footage(media="m")}) for id, clip in project.clips.items()}
    settings = project.settings.model_copy(update={"background": "#000000"})
    return project.model_copy(update={"settings": settings, "media": {"m": media}, "clips": clips})


@given(
    st.sampled_from([("row", 3), ("column", 4), ("grid", 4), ("first large", 3)]), st.booleans(), st.integers(200, 2000)
)
@settings(max_examples=25)
def test_no_seam_shows_between_cells_at_any_size(arranged, grouped, width):
    arrangement, count = arranged
    ids = tuple(f"p{number}" for number in range(count))
    project = shots(count + 1)
    project, _ = apply(project, ArrangeClips(clips=ids, arrangement=arrangement, arrives=False, departs=False))
    if grouped:
        # All of them in one cell, beside one more.
        project, _ = apply(project, GatherClips(clips=ids, group="g", name="G"))
        pair = ArrangeClips(clips=("g", f"p{count}"), arrangement="column", arrives=False, departs=False)
        project, _ = apply(project, pair)
    height = round(width * 720 / 1280)
    picture = Painter(White()).paint(plan(evaluate(project, 30), width, height))[..., :3]
    # Within a px of the frame's own border its size may be no whole one.
    assert picture[1:-1, 1:-1].min() >= 252


@pytest.mark.parametrize("frame", [6, 40])
def test_a_cell_is_taken_hold_of_where_it_is_wherever_its_picture_is(frame):
    project = shot(arrangement="inset", share=0.4, margin=10)
    handles = handles_of(project, "s", frame)
    (grip,) = [each for each in handles.grips if each.owner == "cell"]
    assert grip.from_corner and grip.edge[0] == pytest.approx((182, 98)) and grip.edge[2] == pytest.approx((310, 170))
    assert grip.sides[0] == pytest.approx((310, 134)) and grip.sides[1] == pytest.approx((246, 170))
