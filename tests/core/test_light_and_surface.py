"""Glow, colour, texture and key against their own definitions, in float64."""

import math

import numpy as np
import pytest
from scipy import ndimage

from idle_comet.core.compose import Painter, evaluate, paint, plan
from idle_comet.core.picture import (
    EVERYWHERE,
    NOWHERE,
    Curve,
    Grading,
    Matrix,
    Patch,
    Rect,
    Sides,
    deepened,
    field_of,
    graded,
    light_of,
    line,
    noise,
    noise_over,
    raised,
    tally,
)
from idle_comet.core.project.model import Clip, Generated, Mask, Step, fixed
from idle_comet.core.steps import KINDS, Rest, StepContext

from .stacked import film

WIDE, HIGH = 240, 160
FRAME = Rect(0, 0, WIDE, HIGH)
LUMA = np.array([0.2126, 0.7152, 0.0722])


def done(kind, pixels, extends=EVERYWHERE, frame=0, opacity=1.0, **values):
    """What a step makes of (h, w, 4) premultiplied code values that fill the frame."""
    step = KINDS[kind]
    given = {each.name: each.default for each in step.parameters} | {each.name: each.default for each in step.choices}
    rest = Rest((WIDE / 2, HIGH / 2), FRAME, FRAME, FRAME, WIDE, HIGH)
    patch = Patch(np.asarray(pixels, np.float32), 0, 0, extends=extends, opacity=opacity)
    made = step.render(
        patch, {**given, "frame": frame, "seconds": frame / 25, **values}, StepContext(Matrix(), FRAME, rest)
    )
    whole = np.zeros((HIGH, WIDE, 4))
    inked = made.pixels if made.colour is None else made.pixels[..., None] * np.array([*made.colour, 255]) / 255
    whole[made.y : made.y + made.height, made.x : made.x + made.width] = inked * made.opacity
    return whole


def plain(*colour):
    return np.tile(np.array([*colour, 255.0]), (HIGH, WIDE, 1))


def photograph(seed=1):
    """Soft colours of all tones."""
    soft = ndimage.gaussian_filter(np.random.default_rng(seed).random((HIGH, WIDE, 3)), (6, 6, 0))
    soft = (soft - soft.min()) / np.ptp(soft)
    return np.dstack([soft * 255, np.full((HIGH, WIDE), 255.0)])


def spot():
    pixels = plain(0, 0, 0)
    pixels[70:90, 110:130, :3] = 150
    return pixels


@pytest.mark.parametrize("gain, size", [(0.5, 10), (1.2, 24)])
def test_a_glow_adds_its_share_of_the_light_that_is_there(gain, size):
    before, after = spot(), done("glow", spot(), gain=gain, size=size, by="add")
    light = [((each[..., :3] / 255) ** 2.4).sum() for each in (before, after)]
    assert light[1] / light[0] == pytest.approx(1 + gain, rel=0.01)
    # It only ever falls off, and far beyond its size there is nothing of it.
    row = after[80, 130:, 0]
    assert (np.diff(row) <= 0.01).all() and row[min(len(row) - 1, 3 * size + 10)] < 3


@pytest.mark.parametrize("size", [8.0, 40.0])
def test_a_glow_ends_nowhere_with_an_edge(size):
    """Light that is too weak to be seen is left away, and no other: encoded, little light is many code values."""
    disc = np.hypot(*np.mgrid[-80:80, -120:120]) < 12
    picture = np.where(disc[..., None], 255.0, 0.0) * np.ones(4)
    lit = done("glow", picture, extends=NOWHERE, size=size, gain=2.0)
    across = lit[HIGH // 2, :, 0]
    outside = across[WIDE // 2 :][12:]
    assert (np.diff(outside) <= 0.01).all() and outside[outside > 0][-1] < 1.5 and outside[0] > 100


def test_a_glow_over_nothing_is_light_with_no_more_colour_than_cover():
    pixels = spot()
    pixels[..., 3] = (pixels[..., 0] > 0) * 255
    made = done("glow", pixels, extends=NOWHERE, size=20, tint=1.0, near="#ffd080", far="#ff6020")
    assert (made[..., :3].max(-1) <= made[..., 3] + 0.01).all() and made[80, 140, 3] > 20
    outside = done("glow", pixels, extends=NOWHERE, size=20, lights="outside only")
    assert np.abs(outside[75:85, 115:125] - pixels[75:85, 115:125]).max() < 0.6
    alone = done("glow", pixels, extends=NOWHERE, size=20, lights="alone")
    assert alone[80, 120, 3] < 255 and alone[80, 140, 3] > 20


def test_colour_follows_its_formulas():
    picture = photograph()
    straight = picture[..., :3] / 255
    brighter = done("colour_grade", picture, exposure=1.0)[..., :3] / 255
    assert np.abs(brighter - np.minimum(1, straight**2.4 * 2) ** (1 / 2.4)).max() < 0.004
    grey = done("colour_grade", picture, saturation=0.0)[..., :3] / 255
    assert np.abs(grey - (straight @ LUMA)[..., None]).max() < 0.003
    vivid = done("colour_grade", picture, saturation=1.5)[..., :3] / 255
    wanted = np.clip(straight * 1.5 - 0.5 * (straight @ LUMA)[..., None], 0, 1)
    assert np.abs(vivid - wanted).max() < 0.003
    warm = done("colour_grade", plain(120, 120, 120), temperature=1.0)[0, 0, :3]
    assert warm[0] / warm[2] == pytest.approx(1.5, rel=0.01) and warm @ LUMA == pytest.approx(120, abs=0.5)
    lifted = done("lift_gamma_gain", picture, lift=0.1, gamma=1.3, gain=0.9)[..., :3] / 255
    assert np.abs(lifted - (0.9 * (straight + 0.1 * (1 - straight))) ** (1 / 1.3)).max() < 0.003


@pytest.mark.parametrize("covers", [True, False])
@pytest.mark.parametrize("count", [1, 4])
@pytest.mark.parametrize("first", range(4))
def test_gradings_in_one_pass_are_those_one_after_the_other(covers, count, first):
    warm, cool = (
        np.eye(3, 4) * [[1.2], [1.0], [0.8]],
        np.array([[0.9, 0.1, 0, 0.05], [0, 1.1, 0, -0.1], [0.2, 0, 0.7, 0]]),
    )
    luma = np.hstack([np.tile(LUMA, (3, 1)), np.zeros((3, 1))])
    even, bent = ((0.0, 0.0), (1.0, 1.0)), ((0.0, 0.3), (0.25, 0.9), (0.5, 0.1), (0.75, 0.1), (1.0, 1.0))
    all_kinds = [
        Grading((Curve(even, 0.6), Curve(even, 1.7), Curve(((0.0, 1.0), (1.0, 0.0)))), warm),
        Grading((Curve(bent), Curve(((0.2, 0.9), (0.9, 0.3)), 2.4), Curve(even, 2.0)), before=luma),
        Grading((Curve(even, 2.0), Curve(even), Curve(bent[1:], 0.5)), cool, warm, share=0.35),
        Grading(after=cool),
    ]
    gradings = (all_kinds[first:] + all_kinds[:first])[:count]
    straight = photograph(7)[..., :3].astype(np.float64) / 255
    cover = np.full((HIGH, WIDE, 1), 255.0)
    if not covers:
        cover[40:90, :, 0], cover[90:, :90, 0] = np.linspace(0.5, 255, WIDE), 0
        # A row may begin with a px that covers all the same.
        cover[20:30, 50:60] = 100
    wanted = straight
    for each in gradings:
        made = wanted
        if each.before is not None:
            made = np.clip(made @ each.before[:, :3].T + each.before[:, 3], 0, 1)
        if each.curves is not None:
            told = [(np.array(curve.points).T, curve.power) for curve in each.curves]
            made = np.stack([np.interp(made[..., c], *points) ** power for c, (points, power) in enumerate(told)], -1)
        if each.after is not None:
            made = np.clip(made @ each.after[:, :3].T + each.after[:, 3], 0, 1)
        wanted = wanted + each.share * (made - wanted)
    given = np.dstack([straight * cover, cover]).astype(np.float32)
    out = graded(Patch(given, 0, 0), gradings).pixels
    assert np.abs(out - np.dstack([wanted * cover, cover])).max() < 0.02


@pytest.mark.parametrize("count", [1, 31, 32, 33, 64, 100])
@pytest.mark.parametrize("depth", [np.uint8, np.float32])
def test_px_are_graded_alike_however_many_there_are(count, depth):
    """The loop goes in strides, of which the last begins before the end."""
    px = photograph(9)[40:41, :count].astype(depth)
    px[0, ::3] //= 2
    gradings = [KINDS[kind].grading(values_of(kind)) for kind in ("colour_grade", "lift_gamma_gain")]
    alone = [graded(Patch(px[:, i : i + 1], 0, 0), gradings).pixels for i in range(count)]
    assert np.abs(graded(Patch(px, 0, 0), gradings).pixels - np.concatenate(alone, 1)).max() < 1e-4


def values_of(kind):
    """Values of a kind of which each changes something."""
    given = {each.name: each.default for each in KINDS[kind].parameters}
    return given | {name: value for name, value in CHANGED.items() if name in given}


CHANGED = {"gamma": 1.7, "contrast": 0.2, "saturation": 0.6, "lift_red": 0.1, "gain": 0.8, "tint": 0.3}


@pytest.mark.parametrize("power", [0.1, 1 / 2.4, 0.9, 1.0, 2.4, 10.0])
@pytest.mark.parametrize("count", [1, 15, 16, 17, 1000])
def test_powers_are_right_to_their_last_digits(power, count):
    given = np.concatenate([[0, 1, -0.5, 1e-4], np.random.default_rng(count).random(1000)])[:count].astype(np.float32)
    wanted = np.where(given > 0, np.abs(given.astype(float)) ** power, 0)
    made = given.copy()
    raised(made, np.float32(power))
    assert np.abs(made - wanted).max() < 8e-6 and (made[given == 1] == 1).all() and (made[given <= 0] == 0).all()


@pytest.mark.parametrize("power", [0.1, 1 / 2.2, 1.7, 2.6, 3.0, 3.1, 8.0])
def test_a_graded_tone_is_raised_to_its_power_however_dark_it_is(power):
    """By two ways of reckoning: powers of up to 3 go in pieces where the machine takes them."""
    tones = np.concatenate([[0, 1], np.geomspace(2.0**-14, 1, 998)]).astype(np.float32)
    px = np.dstack([tones[None] * 255] * 3 + [np.full((1, 1000), 255, np.float32)])
    made = graded(Patch(px, 0, 0), [Grading((line(1, 0, power),) * 3)]).pixels[0, :, 1] / 255
    assert np.abs(made[2:] / tones[2:].astype(float) ** power - 1).max() < 4e-5 and list(made[:2]) == [0, 1]


def test_steps_that_grade_are_folded_into_one_pass_and_make_the_same_picture(monkeypatch):
    passes = []
    monkeypatch.setattr(
        paint, "graded", lambda patch, gradings: passes.append(len(gradings)) or graded(patch, gradings)
    )
    steps = (
        Step(id="a", kind="colour_grade", values={"contrast": fixed(0.3), "saturation": fixed(0.4)}),
        Step(id="b", kind="tone_colours", mix=fixed(0.4)),
        Step(id="c", kind="lift_gamma_gain", values={"gamma": fixed(1.4)}),
        Step(id="m", kind="flicker", masks=(Mask(id="m", form="ellipse", values={"x": fixed(160)}),)),
        Step(id="d", kind="colour_grade", values={"exposure": fixed(-0.5)}),
        Step(id="e", kind="vignette"),
        Step(id="f", kind="colour_grade", values={"exposure": fixed(0.5)}),
    )
    sun = Clip(id="s", track="a", name="s", head=0, length=50, content=Generated(pattern="gradient"), steps=steps)
    scene = plan(evaluate(film(sun), 5), 320, 180)
    folded = Painter(None).paint(scene).astype(int)
    assert sorted(passes) == [1, 1, 3]
    monkeypatch.setattr(paint, "_grading", lambda plan: None)
    assert np.abs(Painter(None).paint(scene) - folded).max() <= 1


def test_tones_take_their_colours_from_first_to_last():
    ramp = plain(0, 0, 0)
    ramp[..., :3] = np.linspace(0, 255, WIDE)[None, :, None]
    toned = done("tone_colours", ramp, number="two", first="#102030", second="#f0e0d0")
    assert (
        np.abs(toned[0, 0, :3] - (0x10, 0x20, 0x30)).max() < 1
        and np.abs(toned[0, -1, :3] - (0xF0, 0xE0, 0xD0)).max() < 1
    )
    assert np.abs(toned[0, WIDE // 2, :3] - 128).max() < 1.5


def test_a_key_takes_its_colour_out_and_the_spill_with_it():
    shot = plain(0, 0xB1, 0x40)
    shot[40:120, 80:160, :3] = (200, 150, 120)
    keyed = done("colour_key", shot)
    assert keyed[..., 3][:30].max() == 0 and keyed[60:100, 100:140, 3].min() == 255
    assert np.abs(keyed[60:100, 100:140, :3] - (200, 150, 120)).max() < 0.5
    spilled = done("colour_key", plain(150, 190, 140), spill=1.0)[0, 0]
    assert spilled[1] / max(spilled[3], 1) * 255 == pytest.approx(145, abs=1)
    # The key is all of the picture: nothing is left, and nothing breaks.
    assert done("colour_key", plain(0, 0xB1, 0x40)).max() == 0


def test_grain_has_the_stated_deviation_is_even_and_never_the_same_twice():
    grey = plain(128, 128, 128)
    frames = [done("grain", grey, strength=8.0, size=1.0, frame=at)[..., 0] - 128 for at in range(6)]
    assert np.std(frames) == pytest.approx(8, rel=0.03) and abs(np.mean(frames)) < 0.15
    # Nothing of it comes again: beside itself it is like no other part of it.
    like = np.fft.ifft2(np.abs(np.fft.fft2(frames[0])) ** 2).real
    like /= like[0, 0]
    near = np.hypot(
        *np.meshgrid(
            np.minimum(np.arange(WIDE), WIDE - np.arange(WIDE)), np.minimum(np.arange(HIGH), HIGH - np.arange(HIGH))
        )
    )
    assert np.abs(like[near > 3]).max() < 0.04
    assert abs(np.corrcoef(frames[0].ravel(), frames[1].ravel())[0, 1]) < 0.03
    assert (done("grain", grey, frame=3) == done("grain", grey, frame=3)).all()


def test_displacement_is_a_remap_by_the_noise():
    picture = photograph()
    made = done("displace", picture, amount=6.0, scale=50.0, speed=0.0, detail=1)
    y, x = np.mgrid[0:HIGH, 0:WIDE] + 0.5
    pushes = [np.clip(noise(x / 50, y / 50, 0.0, 1, seed) * 1.6, -1, 1) * 6 for seed in (1, 5004)]
    wanted = np.stack(
        [
            ndimage.map_coordinates(
                picture[..., c], [y - pushes[1] - 0.5, x - pushes[0] - 0.5], order=1, mode="nearest"
            )
            for c in range(3)
        ],
        axis=-1,
    )
    apart = np.abs(made[8:-8, 8:-8, :3] - wanted[8:-8, 8:-8])
    assert apart.mean() < 0.2 and apart.max() < 2.5


@pytest.mark.parametrize(
    "matrix", [Matrix.grow(1.7, 0.9), Matrix(-0.8, 0, 0, 1.3, 40, -9), Matrix.turn(90), Matrix.turn(20), Matrix(g=1e-4)]
)
@pytest.mark.parametrize("scale, octaves, within", [(7.0, 2, 2e-5), (70.0, 3, 0.02)])
def test_noise_over_an_area_is_the_noise_at_the_places_of_its_px(matrix, scale, octaves, within):
    area = Rect(-13, 5, 190, 131)
    x, y = field_of(area, matrix)
    wanted = noise(x / scale, y / scale, 0.37, octaves, 11)
    made = noise_over(area, matrix, scale, octaves, 0.37, 11, 2)
    assert np.abs(made / 2 - wanted).max() < within
    if matrix.flat:
        # It is the same in whatever part of a picture is painted.
        part = noise_over(Rect(20, 31, 90, 77), matrix, scale, octaves, 0.37, 11, 2)
        assert np.abs(part - made[26:72, 33:103]).max() < 2e-6


def test_a_wave_comes_back_to_itself_after_a_turn_and_moves_rows_by_a_sine():
    picture = photograph()
    assert (done("wave", picture, phase=0.0) == done("wave", picture, phase=360.0)).all()
    bar = plain(0, 0, 0)
    bar[:, 100:140, :3] = 255
    moved = done("wave", bar, amplitude=10.0, length=80.0)[..., 0] / 255
    centre = (moved * (np.arange(WIDE) + 0.5)).sum(1) / moved.sum(1)
    assert np.abs(centre - 120 - 10 * np.sin(2 * np.pi * (np.arange(HIGH) + 0.5) / 80)).max() < 0.02


def test_blocks_hold_the_mean_of_what_they_cover_and_bars_leave_the_ratio():
    picture = photograph()
    blocks = done("pixel_blocks", picture, size=20.0)
    for row, column in ((0, 0), (3, 5), (7, 11)):
        part = slice(row * 20, row * 20 + 20), slice(column * 20, column * 20 + 20)
        assert np.ptp(blocks[part][2:-2, 2:-2, :3], axis=(0, 1)).max() < 0.01
        assert np.abs(blocks[part][10, 10, :3] - picture[part][..., :3].mean((0, 1))).max() < 0.5
    bars = done("letterbox", plain(200, 200, 200), ratio=2.0)
    assert (bars[:20, :, 0] == 0).all() and (bars[20:140, :, 0] == 200).all() and (bars[140:, :, 0] == 0).all()


@pytest.mark.parametrize("length", [5.3, 17.8, 60.0])
def test_a_streak_across_or_down_is_the_mean_over_its_way_and_meets_the_slanted_one(length):
    picture = photograph(3)
    row, places = picture[80, :, 0], np.arange(WIDE)
    ways = (np.arange(2000) + 0.5) / 2000 * length - length / 2
    wanted = np.mean([np.interp(np.clip(places + way, 0, WIDE - 1), places, row) for way in ways], 0)
    across = done("streak_blur", picture, length=length)
    assert np.abs(across[80, :, 0] - wanted).max() < 1e-3
    turned = np.ascontiguousarray(np.rot90(picture[:, :HIGH]))
    down = done("streak_blur", np.pad(turned, ((0, 0), (0, WIDE - HIGH), (0, 0)), "edge"), length=length, angle=90.0)
    along = done("streak_blur", np.pad(picture[:, :HIGH], ((0, 0), (0, WIDE - HIGH), (0, 0)), "edge"), length=length)
    room = slice(math.ceil(length), HIGH - math.ceil(length))
    assert np.abs(np.rot90(down[:, :HIGH], -1)[:, room] - along[:, :HIGH][:, room]).max() < 1e-3
    # One that is only just slanted is made in another way, and is the same at the borders too.
    assert np.abs(done("streak_blur", picture, length=length, angle=0.06) - across).max() < 1.2


def test_a_streak_along_a_line_is_its_box_integral():
    picture = plain(0, 0, 0)
    picture[:, 100:140, :3] = 200
    made = done("streak_blur", picture, length=32.0)[80, :, 0]
    edge = np.concatenate([np.zeros(100 * 10), np.full(40 * 10, 200.0), np.zeros(100 * 10)])
    wanted = ndimage.uniform_filter1d(edge, 320, mode="nearest").reshape(-1, 10).mean(1)
    assert np.abs(made - wanted).max() < 4


def test_a_crop_leaves_its_area_and_scan_lines_take_their_share():
    made = done("crop", plain(100, 100, 100), left=20.5, top=10.0, right=30.0, bottom=0.0)
    assert made[..., 3].sum() / 255 == pytest.approx((WIDE - 50.5) * (HIGH - 10), rel=1e-3)
    soft = done("crop", plain(100, 100, 100), left=20.0, feather=40.0)
    assert soft[80, 40, 3] / 255 == pytest.approx(0.5, abs=0.02)
    lines = done("scan_lines", plain(200, 200, 200), strength=0.5, apart=7.3, width=0.4)
    assert lines[..., 0].mean() == pytest.approx(200 * (1 - 0.5 * 0.4), rel=0.01)


@pytest.mark.parametrize("angle", [0, 30, 115])
def test_a_long_shadow_covers_what_the_shape_passes_over(angle):
    pixels = np.zeros((HIGH, WIDE, 4))
    pixels[60:90, 100:140] = (200, 180, 150, 255)
    made = done("long_shadow", pixels, extends=NOWHERE, length=50.0, angle=angle, strength=1.0)
    turn = np.radians(angle)
    wanted = 40 * 30 + 50 * (abs(np.cos(turn)) * 30 + abs(np.sin(turn)) * 40)
    assert made[..., 3].sum() / 255 == pytest.approx(wanted, rel=0.015)
    assert np.abs(made[65:85, 105:135] - pixels[65:85, 105:135]).max() < 0.5


@pytest.mark.parametrize("kind", ["glow", "light_leak", "colour_grade", "tone_colours", "colour_key", "sharpen"])
def test_next_to_nothing_has_no_colour_and_harms_nobody(kind):
    """Coverage so small that a division by it would be without bounds."""
    pixels = np.zeros((HIGH, WIDE, 4), np.float32)
    pixels[40:80, 60:120] = (1e-30, 2e-38, 1e-42, 1e-41)
    pixels[90:99] = (120, 80, 40, 200)
    changed = {"colour_grade": {"exposure": 1.0}}.get(kind, {})
    made = done(kind, pixels, extends=NOWHERE, **changed)
    assert np.isfinite(made).all() and made.min() >= -0.01 and made.max() <= 255.5


PARTED = [
    (kind, lights)
    for kind, step in KINDS.items()
    for lights in {each.name: each.options for each in step.choices}.get("lights", (None,))
    if step.parted({each.name: each.default for each in step.parameters} | {"lights": lights})
]


@pytest.mark.parametrize("kind, lights", PARTED)
def test_what_lies_below_and_what_is_left_make_the_whole(kind, lights):
    pixels = np.zeros((HIGH, WIDE, 4))
    pixels[40:80, 60:120] = (200, 120, 40, 255)
    pixels[80:84, 60:120] = (100, 60, 20, 128)
    given = {each.name: each.default for each in KINDS[kind].parameters} | ({"lights": lights} if lights else {})
    whole = done(kind, pixels, extends=NOWHERE, **given)
    under, left = KINDS[kind].parted(given)
    below = done(kind, pixels, extends=NOWHERE, **under)
    above = pixels if left is None else done(kind, pixels, extends=NOWHERE, **left)
    assert below[..., 3].max() > 20 and np.abs(below - whole).max() > 20
    assert np.abs(above + below * (1 - above[..., 3:] / 255) - whole).max() < 0.6


def test_tones_are_counted_by_their_parts():
    pixels = np.zeros((10, 20, 4), np.uint8)
    pixels[..., 3] = 255
    pixels[:5, :, 0], pixels[:, :5, 1] = 255, 130
    found = tally(pixels)
    assert found.red[0] == found.red[63] == 0.5 and sum(found.red) == 1
    assert found.green[32] == 0.25 and found.blue[0] == 1
    assert found.light[int(0.2126 * 255 / 4)] == pytest.approx(0.375)
    assert (found.least, found.most) == (1.0, 0.5)


def test_a_picture_that_goes_on_past_one_side_of_the_frame_has_its_light_from_there_too():
    bright = np.zeros((HIGH, WIDE, 4))
    bright[:, : WIDE // 2] = 255
    half = bright[:, : WIDE // 2]
    step = KINDS["glow"]
    given = {each.name: each.default for each in step.parameters} | {each.name: each.default for each in step.choices}
    rest = Rest((WIDE / 2, HIGH / 2), FRAME, FRAME, FRAME, WIDE, HIGH)

    def made(extends):
        patch = Patch(half.astype(np.float32), 0, 0, extends=extends)
        return step.render(patch, {**given, "lights": "alone", "size": 80}, StepContext(Matrix(), FRAME, rest))

    ends, goes_on = made(NOWHERE), made(Sides(left=True, top=True, right=False, bottom=True))
    # In the middle of what goes on there is as much light as where it goes on everywhere.
    at = (80, 6)
    assert goes_on.pixels[at][0] > ends.pixels[at][0] + 5
    everywhere = done("glow", plain(255, 255, 255), lights="alone", size=80)
    assert goes_on.pixels[80, 30, 0] == pytest.approx(everywhere[80, 30, 0], abs=3)


@pytest.mark.parametrize("cover", [255, 140, 0])
def test_eight_bit_pictures_are_graded_and_glow_as_deep_ones(cover):
    pixels = np.rint(photograph(4) * (cover / 255)).astype(np.uint8)
    step = KINDS["colour_grade"]
    given = {each.name: each.default for each in step.parameters} | {each.name: each.default for each in step.choices}
    given |= {"contrast": 0.4, "temperature": 0.3, "saturation": 1.4, "gamma": 0.8}
    rest = Rest((WIDE / 2, HIGH / 2), FRAME, FRAME, FRAME, WIDE, HIGH)
    shallow, deep = (
        step.render(Patch(each, 0, 0, extends=EVERYWHERE), given, StepContext(Matrix(), FRAME, rest)).pixels
        for each in (pixels, pixels.astype(np.float32))
    )
    assert shallow.dtype == np.float32 and np.abs(shallow - deep).max() < 0.02
    lights = [light_of(Patch(each, 0, 0)) for each in (pixels, pixels.astype(np.float32))]
    assert np.abs(lights[0] - lights[1]).max() < 2e-6
    words = light_of(Patch(pixels[..., 0].copy(), 0, 0, (200, 90, 30)))
    inked = deepened(Patch(pixels[..., 0].copy(), 0, 0, (200, 90, 30)))
    assert np.abs(words - light_of(Patch(inked, 0, 0))).max() < 2e-6
