"""Shapes: what they cover, where they stand, what they become, and drawings taken apart."""

import math

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import (
    AddDrawing,
    AddShape,
    AddTitle,
    BecomeShape,
    EditError,
    FitShape,
    FitWords,
    SetChoice,
    SetProperty,
    SetValue,
)
from idle_comet.core.moment.shaped import outline_of
from idle_comet.core.moment.whereabouts import whereabouts_of
from idle_comet.core.motion import Key, Moving
from idle_comet.core.motion.outlines import curves_of
from idle_comet.core.picture import Matrix, Patch, Rect, bezier_path, paint_box, paint_path, rounded
from idle_comet.core.project.model import Project, Settings

from .typed import coloured_frame, edited, frame, ink_box, title

EMPTY = Project(settings=Settings(name="S"))


def shape(form, film=EMPTY, clip="s", **more):
    asked = {"x": 60, "y": -40, "width": 300, "height": 200, **more}
    made = edited(film, AddShape(clip=clip, frame=0, length=100, form=form, **asked))
    return edited(made, SetValue(clip=clip, step="content", name="colour", value="#ffffff"))


def valued(film, clip="s", **values):
    return edited(
        film, *(SetValue(clip=clip, step="content", name=name, value=value) for name, value in values.items())
    )


def area(film, at=10):
    return frame(film, at).sum() / 255


def standing(film, clip="s", at=10):
    layer = next(each for each in evaluate(film, at).layers if each.clip == clip)
    return whereabouts_of(layer, 1280, 720).box


@pytest.mark.parametrize(
    "form, values, covers",
    [
        ("rectangle", {}, 300 * 200),
        ("rectangle", {"radius": 50}, 300 * 200 - (4 - math.pi) * 50**2),
        ("rectangle", {"turn": 33}, 300 * 200),
        ("rectangle", {"filled": 0, "stroke": 10}, 310 * 210 - 290 * 190),
        ("ellipse", {}, math.pi * 150 * 100),
        ("polygon", {"sides": 4}, 300 * 200),
        ("polygon", {}, 300 * 200 * 0.75),
        # Two equal triangles through one another: n r sin(π/n) of a box that is √3 × 2.
        ("star", {"depth": 1 - math.sqrt(1 / 3)}, 300 * 200 / 2),
        ("line", {"stroke": 12, "turn": 20}, 300 * 12),
    ],
)
def test_a_shape_covers_what_its_formula_says_and_stands_where_it_inks(form, values, covers):
    film = valued(shape(form), line_colour="#ffffff", **values)
    assert area(film) == pytest.approx(covers, rel=0.002)
    box = standing(film)
    if form != "line":
        assert ink_box(frame(film, 10)) == pytest.approx(tuple(box), abs=1.01)
        assert ((box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2) == pytest.approx((700, 320), abs=1e-3)


@given(st.lists(st.floats(-60, 60), min_size=4, max_size=4), st.floats(-2, 2), st.floats(0.1, 3), st.floats(-9, 9))
def test_an_upright_box_covers_what_its_outline_does(edges, across, down, moved):
    box = Rect(min(edges[:2]), min(edges[2:]), max(edges[:2]), max(edges[2:]))
    matrix, window = Matrix.shift(moved, 3.25) @ Matrix.grow(across, down), Rect(-30, -20, 50, 40)

    def seen(patch: Patch) -> np.ndarray:
        whole = np.zeros((60, 80), np.float32)
        whole[patch.y + 20 : patch.y + 20 + patch.height, patch.x + 30 : patch.x + 30 + patch.width] = patch.pixels
        return whole

    drawn = paint_path(rounded(box, 0), matrix, window, (9, 9, 9))
    assert np.abs(seen(paint_box(box, 0, matrix, window, (9, 9, 9))) - seen(drawn)).max() < 0.02


def test_a_line_that_is_drawn_is_as_long_as_its_share_of_all_of_its_form():
    film = valued(shape("rectangle"), filled=0, stroke=4, line_colour="#ffffff")
    whole = area(film)
    for share in (0.0, 0.25, 0.6):
        assert area(valued(film, drawn=share)) == pytest.approx(whole * share, rel=0.02, abs=0.1)


@pytest.mark.parametrize("turn", [0, 90, 37])
def test_a_fill_runs_from_the_first_colour_to_the_second_across_the_shape(turn):
    film = valued(shape("rectangle", x=0, y=0), colour="#000000", second="#ffffff", angle=turn)
    film = edited(film, SetChoice(clip="s", step="content", name="shading", value="straight"))
    pixels = frame(film, 10)
    cos, sin = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    long = 300 * abs(cos) + 200 * abs(sin)
    for x, y in ((-100, -60), (0.5, 0.5), (120, 80), (-140, 90)):
        share = 0.5 + (x * cos + y * sin) / long
        assert pixels[int(360 + y), int(640 + x)] == pytest.approx(255 * share, abs=2)


def test_one_becomes_another_without_a_jump_and_ends_as_that():
    film = shape("star")
    turning = edited(film, BecomeShape(clip="s", frame=20, length=30, form="ellipse"))
    assert np.abs(frame(turning, 20) - frame(film, 10)).max() <= 2
    off = np.abs(frame(turning, 50) - frame(shape("ellipse"), 10))
    assert (off > 8).sum() < 8, "but for a few px of the edge, which is flattened in other places"
    areas = [area(turning, at) for at in range(20, 51)]
    # From one to the other on a way that never turns back.
    assert all(later >= earlier - 1 for earlier, later in zip(areas, areas[1:]))
    again = edited(turning, BecomeShape(clip="s", frame=60, length=20, form="rectangle"))
    assert np.abs(frame(again, 35) - frame(turning, 35)).max() == 0
    assert area(again, 80) == pytest.approx(300 * 200, rel=0.002), "it still has its width and height"


def test_one_becomes_like_another_in_form_place_and_colour():
    film = valued(shape("polygon", clip="goal", x=-300, y=100, width=120, height=160), clip="goal", colour="#2060c0")
    film = edited(shape("rectangle", film), BecomeShape(clip="s", frame=10, length=20, like="goal"))
    alone = film.model_copy(update={"clips": {"s": film.clips["s"]}})
    goal = film.model_copy(update={"clips": {"goal": film.clips["goal"]}})
    assert np.abs(coloured_frame(alone, 30) - coloured_frame(goal, 30)).max() <= 3
    assert ink_box(frame(alone, 10)) == (550, 220, 850, 420)


def test_keys_of_its_departure_stay_while_it_becomes_like_another():
    leaves = Moving(keys=(Key(counts_from="tail", at=-15, value=60), Key(counts_from="tail", at=0, value=900)))
    film = edited(shape("rectangle"), SetProperty(clip="s", step="content", name="x", property=leaves))
    film = shape("ellipse", film, clip="goal", x=-200)
    became = edited(film, BecomeShape(clip="s", frame=10, length=20, like="goal"))
    alone = became.model_copy(update={"clips": {"s": became.clips["s"]}})

    def middle(film, at):
        box = standing(film, at=at)
        return (box.x0 + box.x1) / 2

    assert middle(alone, 5) == pytest.approx(700) and middle(alone, 30) == pytest.approx(440)
    assert middle(alone, 99) == pytest.approx(middle(film, 99), abs=0.5) and middle(film, 99) > 1300


@pytest.mark.parametrize("form", ["rectangle", "ellipse", "polygon", "star"])
def test_the_outline_of_a_form_is_the_form(form):
    film = valued(shape(form), **({"radius": 40} if form == "rectangle" else {}))
    path = bezier_path(curves_of(outline_of(evaluate(film, 10).layers[0].content)))
    bounds = path.computeTightBounds()
    box = standing(film)
    assert (bounds.width(), bounds.height()) == pytest.approx((box.x1 - box.x0, box.y1 - box.y0), abs=0.05)


def test_a_shape_is_laid_around_what_a_title_inks():
    film = edited(title("Marrow Lane", "placement"), SetValue(clip="t", step="s", name="x", value=-150))
    ink = ink_box(frame(film, 50))
    film = edited(shape("rectangle", film, clip="r"), FitShape(clip="r", to="t", frame=50, away=12))
    box = standing(film, "r", 50)
    assert tuple(box) == pytest.approx((ink[0] - 12, ink[1] - 12, ink[2] + 12, ink[3] + 12), abs=1.01)


@pytest.mark.parametrize("form", ["rectangle", "ellipse"])
def test_words_fit_into_a_shape_and_no_larger_would(form):
    film = edited(shape(form, x=200, y=90), AddTitle(clip="t", frame=0, text="Honey from the heath since 1912"))
    film = edited(film, FitWords(clip="t", within="s", frame=50, away=10))
    box, ink = standing(film, "s", 50), standing(film, "t", 50)
    assert ink.x0 >= box.x0 + 10 and ink.x1 <= box.x1 - 10 and ink.y0 >= box.y0 + 10 and ink.y1 <= box.y1 - 10
    assert ((ink.x0 + ink.x1) / 2, (ink.y0 + ink.y1) / 2) == pytest.approx((840, 450), abs=0.1)
    if form == "ellipse":
        corners = [(x - 840, y - 450) for x in (ink.x0, ink.x1) for y in (ink.y0, ink.y1)]
        assert all((x / 150) ** 2 + (y / 100) ** 2 <= 1 for x, y in corners), "inside of the curve, too"
    else:
        larger = valued(film, "t", size=film.clips["t"].content.size.value * 1.06)
        grown = standing(larger, "t", 50)
        assert grown.x1 - grown.x0 > 280 or grown.y1 - grown.y0 > 0.9 * 180


DRAWING = """<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 160"><style>.ring { fill: #e8c07a }</style>
<g transform="translate(20 10) scale(1.2)" stroke="#ffffff" stroke-width="3">
<path class="ring" id="ring" fill-rule="evenodd" d="M60 0L110 28V85L60 113L10 85V28Z M60 30L85 45V70L60 85L35 70V45Z"/>
<circle cx="60" cy="57" r="12" style="fill: tomato; stroke: none" opacity="0.6"/></g>
<rect x="5" y="120" width="60" height="18" rx="6" fill="rgb(40,120,200)"/>
<path d="M150 20C190 30 190 70 150 90S110 140 170 150" fill="none" stroke="#70c090" stroke-width="5"/>
<ellipse cx="100" cy="80" rx="9" ry="4" display="none"/><script>alert(1)</script></svg>"""


def test_a_drawing_taken_apart_looks_as_the_browser_draws_it(page):
    film = edited(EMPTY, AddDrawing(group="g", frame=0, length=50, svg=DRAWING))
    names = [film.clips[f"g-{number}"].name for number in range(1, 5)]
    assert names == ["ring", "circle 2", "rect 3", "path 4"] and "g-5" not in film.clips
    ours = coloured_frame(film, 10)
    boxes = [standing(film.model_copy(update={"tracks": _of(film, "g")}), f"g-{n}") for n in range(1, 5)]
    assert len({tuple(box) for box in boxes}) == 4
    # As large as the whole of it lies in our frame: 60 % of its height, or of its width.
    page.set_content(f"<body style='margin:0;background:#000'>{DRAWING}")
    bounds = page.evaluate(
        "() => { const shown = [...document.querySelectorAll('path, circle, rect')].map(e => {"
        "const b = e.getBoundingClientRect(); return [b.left, b.top, b.right, b.bottom] });"
        "return [0, 1, 2, 3].map(i => (i < 2 ? Math.min : Math.max)(...shown.map(b => b[i]))) }"
    )
    # The browser's own bounds leave lines out, as ours do.
    svg = page.evaluate("() => document.querySelector('svg').getBoundingClientRect().width")
    by = 0.6 * 720 / (bounds[3] - bounds[1])
    page.set_viewport_size({"width": 1280, "height": 720})
    middle = ((bounds[0] + bounds[2]) / 2, (bounds[1] + bounds[3]) / 2)
    page.set_content(
        f"<body style='margin:0;background:#000'><div style='position:absolute;left:{640 - middle[0] * by}px;"
        f"top:{360 - middle[1] * by}px;width:{svg}px;transform:scale({by});transform-origin:0 0'>{DRAWING}</div>"
    )
    theirs = _picture(page.screenshot())
    # Nothing lies more than a px elsewhere, and nothing has another colour.
    around = np.ones((3, 3), np.uint8)
    strays = (ours < cv2.erode(theirs, around) - 12) | (ours > cv2.dilate(theirs, around) + 12)
    assert strays.sum() < 20 and (theirs.max(-1) > 0).sum() > 100_000


def _of(film, group):
    return tuple(track.model_copy(update={"within": None}) for track in film.tracks if track.within == group)


def _picture(png):
    return cv2.imdecode(np.frombuffer(png, np.uint8), cv2.IMREAD_COLOR)[..., ::-1].astype(float)


MANY = "".join(f"<rect width='9' height='9' fill='#0000{number:02x}'/>" for number in range(99))


@pytest.mark.parametrize(
    "edit, why",
    [
        (AddDrawing(group="g", frame=0, length=50, svg="<svg><text>a</text></svg>"), "no shapes"),
        (AddDrawing(group="g", frame=0, length=50, svg="<svg><path d='M0 0L9 9Z' fill='none'/></svg>"), "none of its"),
        (AddDrawing(group="g", frame=0, length=50, svg=f"<svg>{MANY}</svg>"), "99 shapes"),
        (FitShape(clip="s", to="s", frame=10), "to itself"),
        (FitShape(clip="s", to="t", frame=120), "not seen at this frame"),
        (FitWords(clip="s", within="s", frame=10), "no words"),
        (FitWords(clip="t", within="s", frame=10, away=99), "no room"),
        (FitWords(clip="moving", within="s", frame=10), "The size of “Comb” moves"),
        (BecomeShape(clip="s", frame=90, form="star"), "not there for 20 frames"),
        (BecomeShape(clip="s", frame=10), "Say either"),
        (BecomeShape(clip="s", frame=10, form="line"), "no inside"),
        (BecomeShape(clip="t", frame=10, form="star"), "no shape"),
    ],
)
def test_what_makes_no_sense_is_said_and_changes_nothing(edit, why):
    grows = Moving(keys=(Key(at=0, value=20), Key(at=40, value=60)))
    film = edited(
        shape("rectangle"),
        AddTitle(clip="t", frame=0, text="Bees"),
        AddTitle(clip="moving", frame=0, text="Comb"),
        SetProperty(clip="moving", step="content", name="size", property=grows),
    )
    with pytest.raises(EditError, match=why):
        edited(film, edit)


def test_neighbours_coloured_alike_are_one_clip_where_there_would_be_too_many():
    many = "".join(
        f"<rect x='{10 * n}' width='9' height='9' fill='{'red' if n < 50 else 'blue'}'/>" for n in range(100)
    )
    film = edited(EMPTY, AddDrawing(group="g", frame=0, length=50, svg=f"<svg>{many}</svg>"))
    assert len(film.clips) == 3
    assert ink_box(coloured_frame(film, 10).max(-1))[2] - 256 == pytest.approx(768, abs=2)


def test_an_outline_that_crosses_itself_is_painted_and_comes_back():
    bow = {"corners": [{"at": at} for at in ((-100, -60), (100, 60), (100, -60), (-100, 60))]}
    drawn = AddShape(clip="s", frame=0, length=100, form="outline", outline=bow)
    film = edited(EMPTY, drawn, BecomeShape(clip="s", frame=5, length=20, form="ellipse"))
    assert Painter(None).paint(plan(evaluate(film, 15), 320, 180)).max() == 255
