"""Masks: where a step is done."""

import numpy as np
import pytest

from idle_comet.core.edits import AddMask, ChangeCorner, DrawMask, EditError, SetMaskRun, SetProperty, TrimClip, apply
from idle_comet.core.motion import Cascade, Corner, Fixed, Outline
from idle_comet.core.project.model import Clip, Mask, Plain, Step, Text, Units, fixed

from .stacked import HEIGHT, WIDTH, changed, film, seen, square, stack
from .test_shutter import straight


@pytest.mark.parametrize("form, area", [("ellipse", np.pi / 4 * 90 * 60), ("rectangle", 90 * 60)])
@pytest.mark.parametrize("feather", [0, 30])
def test_a_step_is_done_by_the_share_of_its_mask(form, area, feather):
    white = film(
        Clip(
            id="w",
            track="a",
            name="w",
            head=0,
            length=50,
            content=Plain(colour="#ffffff"),
            steps=(
                Step(
                    id="g", kind="gradient", values={"first": Fixed(value="#000000"), "second": Fixed(value="#000000")}
                ),
            ),
        )
    )
    values = {"x": fixed(160), "y": fixed(90), "width": fixed(90), "height": fixed(60), "feather": fixed(feather)}
    masked, _ = apply(white, AddMask(clip="w", step="g", mask=Mask(id="m", form=form, values=values)))
    share = 1 - seen(masked)[..., 0] / 255
    # A feather f that falls as 3t² − 2t³ rounds a form by its curvature: over a whole turn that is πf²/20 more of it. A
    # rectangle falls across and down each by itself, and keeps its area.
    rounder = np.pi * feather**2 / 20 if form == "ellipse" else 0
    assert share.sum() == pytest.approx(area + rounder, rel=0.012)
    assert share[90, 160] == 1 and share[5, 5] == 0
    turned, _ = apply(masked, SetProperty(clip="w", step="g/m", name="strength", property=Fixed(value=0.25)))
    # A weak mask lets through what it would hold back.
    assert np.abs((1 - seen(turned)[..., 0] / 255) - (0.75 + 0.25 * share)).max() <= 2 / 255
    # Half of the feather lies to each side of the edge, in the middle of each side.
    assert share[90, 160 + 45 : 160 + 46].mean() == pytest.approx(0.5, abs=0.06 if feather else 0.51)


def outline_of(form):
    """The same form of 90 × 60 px as an outline, an ellipse by the usual four curves (within 0.03 % of it)."""
    if form == "rectangle":
        return Outline(
            corners=tuple(Corner(at=at) for at in ((-45.0, -30.0), (45.0, -30.0), (45.0, 30.0), (-45.0, 30.0)))
        )
    k = 0.5522847
    ends = (
        ((45.0, 0.0), (0.0, 30 * k)),
        ((0.0, 30.0), (-45 * k, 0.0)),
        ((-45.0, 0.0), (0.0, -30 * k)),
        ((0.0, -30.0), (45 * k, 0.0)),
    )
    return Outline(corners=tuple(Corner(at=at, out=out, into=(-out[0], -out[1])) for at, out in ends))


@pytest.mark.parametrize("form", ["rectangle", "ellipse"])
@pytest.mark.parametrize("feather", [0, 24])
def test_a_mask_drawn_as_an_outline_is_the_form_it_draws(form, feather):
    white = square("w", "#ffffff", "a").model_copy(
        update={"steps": (Step(id="f", kind="placement", values={"opacity": fixed(0)}),)}
    )
    place = {"x": fixed(160), "y": fixed(90), "turn": fixed(30), "feather": fixed(feather)}
    size = {"width": fixed(90), "height": fixed(60)}
    masks = (
        Mask(id="m", form=form, values=place | size),
        Mask(id="m", form="outline", values=place | {"outline": Fixed(value=outline_of(form))}),
    )
    own, drawn = (seen(apply(film(white), AddMask(clip="w", step="f", mask=mask))[0])[..., 0] / 255 for mask in masks)
    # The way to an ellipse is taken to first order, that to a drawn edge from its px; soft corners of a rectangle fall
    # across and down each by itself, those of a drawn form by their distance.
    assert np.abs(own - drawn).max() <= (0.12 if feather and form == "ellipse" else 0.3)
    assert np.abs(own - drawn).mean() <= 0.003


def test_a_mask_may_be_another_clips_shape_or_brightness_seen_or_not():
    pane = square("pane", "#404040", "b", x=40).model_copy(update={"seen": "hidden"})
    words = Clip(
        id="w",
        track="a",
        name="w",
        head=0,
        length=50,
        content=Plain(colour="#ffffff"),
        steps=(Step(id="fade", kind="placement", values={"opacity": fixed(0)}),),
    )
    own = film(words, pane)
    for by, inside in (("shape", 0.0), ("brightness", 1 - 0x40 / 255)):
        masked, _ = apply(own, AddMask(clip="w", step="fade", mask=Mask(id="m", form="clip", clip="pane", by=by)))
        row = seen(masked)[HEIGHT // 2, :, 0] / 255
        # Without the step it is white all over; where the pane is, it is faded.
        assert (
            row[200] == pytest.approx(inside, abs=0.01)
            and row[100] == 1
            and row[160 : 161 + 80].sum() < row[0:80].sum() + 80
        )
    away, _ = apply(masked, TrimClip(clip="pane", head=0, length=10))
    assert seen(away)[HEIGHT // 2, 200, 0] == 255  # a clip that is not there lets nothing through


def test_a_mask_in_a_cascade_and_over_words_stays_where_it_is():
    words = Clip(
        id="w",
        track="a",
        name="w",
        head=0,
        length=50,
        content=Text(text="one two", size=fixed(50)),
        steps=(Step(id="soft", kind="focus_blur", values={"radius": fixed(6)}),),
    )
    mask = Mask(
        id="m",
        form="rectangle",
        values={"x": fixed(80), "y": fixed(90), "width": fixed(160), "height": fixed(180), "feather": fixed(0)},
    )
    own = film(words)
    sharp, soft = seen(changed(own, "w", steps=())), seen(own)
    masked, _ = apply(own, AddMask(clip="w", step="soft", mask=mask))
    half = seen(masked)
    assert np.abs(half[:, :158] - soft[:, :158]).max() <= 1 and np.abs(half[:, 162:] - sharp[:, 162:]).max() <= 1


def test_masks_that_have_no_place_are_refused_in_words():
    own = stack()
    for mask, says in (
        (Mask(id="m", form="clip"), "looks at no clip yet"),
        (Mask(id="m", form="clip", clip="red"), "its own clip"),
        (Mask(id="m", form="clip", clip="gone"), "no clip “gone”"),
    ):
        with pytest.raises(EditError, match=says):
            apply(own, AddMask(clip="red", step="placement", mask=mask))


# How masks are joined, and what they hold for


def let_through(*masks, kind="placement", content="#ffffff"):
    """The share that some masks of a white plain let through: where they do, it is faded away."""
    faded = Step(id="f", kind="placement", values={"opacity": fixed(0)}, masks=masks)
    clip = square("w", content, "a").model_copy(update={"steps": (faded,)})
    return 1 - seen(film(clip))[..., 0] / 255


def form(id, x, joined="intersect", form="rectangle", **values):
    values = {"x": x, "y": 90, "width": 100, "height": 60, "feather": 0} | values
    return Mask(id=id, form=form, joined=joined, values={name: fixed(value) for name, value in values.items()})


@pytest.mark.parametrize(
    "joined, area", [("intersect", 60 * 60), ("add", (200 - 60) * 60), ("subtract", (100 - 60) * 60)]
)
@pytest.mark.parametrize("inverted", [False, True])
def test_masks_are_joined_in_their_order(joined, area, inverted):
    first, second = form("a", 100), form("b", 140, joined)
    if inverted:
        # Outside of everything else, joined the other way round, is the same.
        second = second.model_copy(
            update={"invert": True, "joined": {"subtract": "intersect", "intersect": "subtract"}.get(joined, joined)}
        )
        area = area if joined != "add" else WIDTH * HEIGHT - 40 * 60
    assert let_through(first, second).sum() == pytest.approx(area, rel=0.002)
    # One that is added at half its opacity adds half; the first is added to nothing.
    half = second.model_copy(update={"values": {**second.values, "strength": fixed(0.5)}})
    if not inverted:
        one = let_through(first).sum()
        assert let_through(first, half).sum() == pytest.approx((one + area) / 2, rel=0.004)
    assert let_through(form("a", 100, "add")).sum() == pytest.approx(6000, rel=0.002)


@pytest.mark.parametrize("grow", [-12, 15])
def test_masks_grow_by_the_same_way_everywhere(grow):
    wide, high = 100 + 2 * grow, 60 + 2 * grow
    assert let_through(form("a", 160, grow=grow)).sum() == pytest.approx(wide * high, rel=0.002)
    ellipse = let_through(form("a", 160, form="ellipse", grow=grow)).sum()
    assert ellipse == pytest.approx(np.pi / 4 * wide * high, rel=0.004)
    # A drawn outline grows by rounding its corners (Steiner: A + P·d + πd²), and shrinks sharp.
    corners = tuple(Corner(at=at) for at in ((-50.0, -30.0), (50.0, -30.0), (50.0, 30.0), (-50.0, 30.0)))
    drawn = form("a", 160, form="outline", grow=grow).model_copy()
    drawn = drawn.model_copy(update={"values": {**drawn.values, "outline": Fixed(value=Outline(corners=corners))}})
    area = 6000 + 320 * grow + np.pi * grow**2 if grow > 0 else wide * high
    assert let_through(drawn).sum() == pytest.approx(area, rel=0.01)


@pytest.mark.parametrize("outward, begins, ends", [(0, 90, 110), (1, 110, 130), (0.25, 95, 115)])
def test_the_feather_lies_as_far_outside_as_is_said(outward, begins, ends):
    row = let_through(form("a", 60, feather=20, outward=outward))[90]
    # The right edge lies at 110; the share falls from where it begins to where it ends.
    share = np.clip((ends - (np.arange(WIDTH) + 0.5)) / (ends - begins), 0, 1)
    wanted = share**2 * (3 - 2 * share)
    assert np.abs(row[60:] - wanted[60:]).max() <= 1.5 / 255


def test_another_clips_shape_grows_and_softens_beyond_the_area_it_is_asked_for():
    pane = square("pane", "#404040", "b").model_copy(update={"seen": "hidden"})
    mask = Mask(id="m", form="clip", clip="pane", values={"grow": fixed(10), "feather": fixed(8)})
    faded = Step(id="f", kind="placement", values={"opacity": fixed(0)}, masks=(mask,))
    white = square("w", "#ffffff", "a").model_copy(update={"steps": (faded,)})
    share = 1 - seen(film(white, pane))[HEIGHT // 2, :, 0] / 255
    # The pane is 90 px wide around the middle; grown by 10 px its edges lie 55 px from it.
    across = np.abs(np.arange(WIDTH) + 0.5 - WIDTH / 2)
    even = np.clip(0.5 - (across - 55) / 8, 0, 1)
    assert np.abs(share - even**2 * (3 - 2 * even)).max() <= 0.1


SOFT = Step(id="soft", kind="focus_blur", values={"radius": fixed(5)})
TINT = Step(id="tint", kind="gradient", values={"first": Fixed(value="#00ff00"), "second": Fixed(value="#00ff00")})
MOVE = Step(id="move", kind="placement", values={"x": fixed(30), "rotation": fixed(15)})


@pytest.mark.parametrize("cascade", [False, True])
def test_masks_of_a_run_choose_between_the_picture_before_all_of_it_and_after(cascade):
    words = stack().clips["words"]
    move = (
        MOVE.model_copy(
            update={"units": Units(arrival=Cascade(unit="letter", delay=2)), "values": {"y": straight(-40, 10)}}
        )
        if cascade
        else MOVE
    )
    mask = form("m", 80, width=160, height=400)
    run = TINT.model_copy(update={"masks": (mask,), "masked_from": "move"})

    def shown(*steps):
        return seen(film(words.model_copy(update={"steps": steps})))

    without, done, masked = shown(), shown(move, SOFT, TINT), shown(move, SOFT, run)
    # The mask's edge lies at 160.
    assert np.abs(masked[:, :158] - done[:, :158]).max() <= 2
    assert np.abs(masked[:, 162:] - without[:, 162:]).max() <= 2
    assert np.abs(without - done).max() > 50
    # A run that begins with a step that is gone, or comes later, is the step alone.
    alone = shown(move, SOFT, TINT.model_copy(update={"masks": (mask,)}))
    for first in ("gone", "tint"):
        assert (shown(move, SOFT, run.model_copy(update={"masked_from": first})) == alone).all()


@pytest.mark.parametrize("joined", ["intersect", "add", "subtract"])
def test_a_mask_over_the_whole_clip_shows_what_its_masks_let_through(joined):
    masks = (form("a", 100, feather=20), form("b", 140, joined, feather=10, strength=0.7))
    clip = square("w", "#ffffff", "a").model_copy(update={"steps": (Step(id="m", kind="mask", masks=masks),)})
    shown = seen(film(clip))[..., 0] / 255
    assert np.abs(shown - let_through(*masks)).max() <= 1.5 / 255
    assert (seen(film(clip.model_copy(update={"steps": (Step(id="m", kind="mask"),)}))) == 255).all()


def test_a_run_is_set_by_an_edit_and_begins_before_its_step():
    own = film(square("w", "#ffffff", "a").model_copy(update={"steps": (SOFT, TINT)}))
    held, back = apply(own, SetMaskRun(clip="w", step="tint", first="soft"))
    assert held.clips["w"].steps[1].masked_from == "soft" and apply(held, back)[0] == own
    with pytest.raises(EditError, match="begins with a step before"):
        apply(own, SetMaskRun(clip="w", step="soft", first="tint"))


# Drawn by hand


def test_an_outline_drawn_on_the_picture_lies_where_it_was_drawn_however_the_clip_is_placed():
    corners = tuple(Corner(at=at) for at in ((100.0, 50.0), (220.0, 60.0), (200.0, 130.0), (90.0, 120.0)))
    tilted = Step(id="t", kind="tumble", values={"tilt": fixed(35), "eye": fixed(900)})
    clip = square("w", "#ffffff", "a").model_copy(update={"steps": (Step(id="m", kind="mask"), MOVE, tilted)})
    drawn, _ = apply(film(clip), DrawMask(clip="w", step="m", mask="d", outline=Outline(corners=corners)))
    still, _ = apply(drawn, SetProperty(clip="w", step="m/d", name="feather", property=fixed(0)))
    shown = seen(still)[..., 0] / 255
    x, y = np.array([each.at for each in corners]).T
    assert shown.sum() == pytest.approx(abs(x @ np.roll(y, 1) - y @ np.roll(x, 1)) / 2, rel=0.004)  # shoelace
    assert shown[60:115, 105:195].min() > 0.99 and shown[:48].max() == 0 and shown[:, 225:].max() == 0


def test_corners_are_parted_bent_and_taken_away():
    corners = tuple(Corner(at=at) for at in ((-50.0, -30.0), (50.0, -30.0), (50.0, 30.0), (-50.0, 30.0)))
    own = Mask(id="m", form="outline", values={"outline": Fixed(value=Outline(corners=corners))})
    film_of = film(
        square("w", "#ffffff", "a").model_copy(update={"steps": (SOFT.model_copy(update={"masks": (own,)}),)})
    )

    def after(project, *acts):
        for does, corner in acts:
            project, _ = apply(project, ChangeCorner(clip="w", step="soft/m", corner=corner, does=does))
        return project, project.clips["w"].steps[0].masks[0].values["outline"].value.corners

    parted, found = after(film_of, ("part", 4))
    assert found[4].at == (-50.0, 0.0) and [each.id for each in found] == [1, 2, 3, 4, 5]
    assert after(parted, ("remove", 5))[1] == Outline(corners=corners).corners
    assert after(film_of, ("round", 1), ("sharp", 1))[1] == Outline(corners=corners).corners
    assert after(film_of, ("round", 2))[1][1].out == pytest.approx((100 / 6, 60 / 6))
    three, _ = after(film_of, ("remove", 1))
    with pytest.raises(EditError, match="needs three corners"):
        after(three, ("remove", 2))
