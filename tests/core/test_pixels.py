from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.compose.laying import laid
from idle_comet.core.edits import ChangeText, SetProperty, SetValue, TrimClip, apply
from idle_comet.core.motion import Key, Linear, Moving
from idle_comet.core.picture import (
    EVERYWHERE,
    Matrix,
    Patch,
    Rect,
    blur_patch,
    gaussian_blur,
    over,
    paint_rectangle,
    to_i420,
    warp_picture,
)
from idle_comet.core.project.model import Step, fixed
from idle_comet.core.type import Pose, Setting, lay_out, paint_text


def smooth_noise(height, width, channels, seed=3):
    rng = np.random.default_rng(seed)
    noise = ndimage.gaussian_filter(rng.random((height, width, channels)), (4, 4, 0))
    noise = (noise - noise.min()) / np.ptp(noise)
    return (noise * 255).astype(np.uint8)


@pytest.mark.parametrize("sigma", [0.5, 1.7, 5.9, 6.1, 13, 30, 60])
def test_blur_is_the_gaussian(sigma):
    sharp = np.zeros((420, 520), np.uint8)
    sharp[180:240, 160:360] = 255
    sharp[200:210, 300:420] = 120
    wanted = ndimage.gaussian_filter(sharp.astype(float), sigma, mode="constant", truncate=5)
    assert np.abs(gaussian_blur(sharp, sigma) - wanted).max() <= 3


@pytest.mark.parametrize("matrix", [Matrix.turn(17.3), Matrix.turn(90), Matrix(0.9, 0.2, -0.7, 1.1, 0, 0)])
def test_a_plane_covers_its_exact_area_of_every_px(matrix):
    outline, to = Rect(0, 0, 1, 1), Matrix.shift(40.3, 30.7) @ matrix @ Matrix.grow(33.1, 21.4)
    made = paint_rectangle(outline, to, Rect(0, 0, 120, 90), (255, 255, 255))
    fine = 32
    back = to.inverse()
    y, x = (np.mgrid[0 : made.height * fine, 0 : made.width * fine] + 0.5) / fine
    u, v = back.map(x + made.x, y + made.y)
    inside = ((u >= 0) & (u < 1) & (v >= 0) & (v < 1)).reshape(made.height, fine, made.width, fine).mean((1, 3))
    cover = made.alpha / 255
    assert np.abs(cover - inside).max() < 2 / fine and cover.sum() == pytest.approx(to.scale**2)


def test_blur_swells_smoothly_with_its_radius():
    sharp = np.zeros((240, 240), np.uint8)
    sharp[100:140, 80:160] = 255
    centre = [float(gaussian_blur(sharp, sigma)[120, 120]) for sigma in np.arange(4, 26, 0.1)]
    steps = np.diff(centre)
    assert steps.max() <= 0 + 1 and np.abs(steps).max() <= 4


def test_a_blurred_patch_keeps_its_light_and_grows_to_hold_it():
    mask = np.full((20, 30), 255, np.uint8)
    soft = blur_patch(Patch(mask, 5, 7, colour=(255, 255, 255)), 9)
    assert soft.pixels.sum() == pytest.approx(mask.sum(), rel=0.01)
    x = (soft.pixels.sum(0) * (np.arange(soft.width) + soft.x + 0.5)).sum() / soft.pixels.sum()
    assert x == pytest.approx(5 + 15, abs=0.02)
    cut = blur_patch(Patch(mask, 5, 7, colour=(255, 255, 255)), 9, Rect(0, 0, 25, 20))
    whole = soft.pixels[0 - soft.y : 20 - soft.y, 0 - soft.x : 25 - soft.x]
    assert np.abs(cut.pixels[: 20 - cut.y, : 25 - cut.x] - whole[cut.y :, cut.x :]).max() <= 0.1


def test_blur_does_not_darken_the_edge_of_a_picture_that_fills_the_frame():
    grey = np.full((60, 80, 4), 200, np.uint8)
    soft = blur_patch(Patch(grey, 0, 0, extends=EVERYWHERE), 12)
    assert soft.pixels.min() >= 199 and soft.rect == Rect(0, 0, 80, 60)


@given(st.integers(-30, 90), st.integers(-30, 70), st.floats(0, 1), st.booleans(), st.integers(0, 99))
def test_over_is_the_w3c_formula(x, y, opacity, flat, seed):
    rng = np.random.default_rng(seed)
    frame = rng.integers(0, 256, (60, 80, 4)).astype(np.uint8)
    alpha = rng.integers(0, 256, (25, 40)).astype(np.uint8)
    colour = (200, 30, 90)
    straight = np.broadcast_to(np.array(colour), (25, 40, 3)) if flat else rng.integers(0, 256, (25, 40, 3))
    source = np.dstack([straight * (alpha[..., None] / 255), alpha]).round().astype(np.uint8)
    wanted = frame.astype(float)
    x0, y0, x1, y1 = max(0, x), max(0, y), min(80, x + 40), min(60, y + 25)
    if x0 < x1 and y0 < y1:
        part = source[y0 - y : y1 - y, x0 - x : x1 - x] * opacity
        wanted[y0:y1, x0:x1] = part + wanted[y0:y1, x0:x1] * (1 - part[..., 3:] / 255)
    over(frame, Patch(alpha if flat else source, x, y, colour=colour if flat else None, opacity=opacity))
    assert np.abs(frame - wanted).max() <= 1.01


@given(st.integers(-30, 90), st.integers(-30, 70), st.floats(0.01, 1), st.sampled_from(["flat", "deep", "bytes"]))
def test_what_lies_alone_on_a_frame_is_rounded_as_if_more_lay_on_it(x, y, opacity, sort):
    rng = np.random.default_rng(abs(x) + 100 * abs(y))
    ground = Patch(rng.integers(0, 256, (60, 80, 4)).astype(np.uint8), 0, 0, extends=EVERYWHERE)
    pixels = (rng.random((25, 40, 4)) * 255).astype(np.float32 if sort == "deep" else np.uint8)
    patch = Patch(pixels[..., 0].copy() if sort == "flat" else pixels, x, y, opacity=opacity)
    patch = replace(patch, colour=(200, 30, 90)) if sort == "flat" else patch
    unseen = Patch(np.zeros((60, 80), np.uint8), 0, 0, colour=(0, 0, 0))
    alone, among = (
        laid([(replace(each, pixels=each.pixels.copy()), "normal") for each in patches], 80, 60, (0, 0, 0)).astype(int)
        for patches in ((ground, patch), (ground, patch, unseen))
    )
    assert np.abs(alone - among).max() <= 1 and (alone != among).mean() < 0.001


def centroid(mask):
    rows, columns = np.indices(mask.shape)
    return (mask * (columns + 0.5)).sum() / mask.sum(), (mask * (rows + 0.5)).sum() / mask.sum()


def test_text_drifts_without_a_single_step():
    layout = lay_out("THE SLOW HARVEST", Setting("archivo", 600))
    across = []
    for frame in range(100):
        patch = paint_text(
            layout,
            [Pose(None, Matrix.shift(320 + 0.02 * frame, 60.3) @ Matrix.grow(40))],
            Rect(0, 0, 640, 120),
            (255, 255, 255),
        )
        across.append(centroid(patch.pixels.astype(float))[0] + patch.x)
    drift = np.array(across) - across[0]
    assert np.all(np.diff(drift) > 0)
    assert np.abs(drift - 0.02 * np.arange(100)).max() <= 0.02


def test_footage_drifts_without_a_single_step():
    rows, columns = np.indices((240, 320))
    blob = (235 * np.exp(-((columns - 160) ** 2 + (rows - 120) ** 2) / 800)).astype(np.uint8)
    picture = np.dstack([blob] * 3 + [np.full_like(blob, 255)])
    across = []
    for frame in range(100):
        patch = warp_picture(picture, Matrix.shift(0.02 * frame, 0) @ Matrix.grow(1.1), Rect(0, 0, 352, 264), True)
        across.append(centroid(patch.pixels[..., 0].astype(float))[0] + patch.x)
    drift = np.array(across) - across[0]
    assert np.all(np.diff(drift) > 0)
    assert np.abs(drift - 0.02 * np.arange(100)).max() <= 0.02


def test_an_enlarged_picture_has_no_dark_rim_and_a_small_one_a_clean_edge():
    white = np.full((50, 60, 4), 255, np.uint8)
    large = warp_picture(white, Matrix.shift(-3.3, -2.1) @ Matrix.grow(1.7), Rect(0, 0, 90, 80), True)
    assert large.extends and large.pixels.min() == 255
    small = warp_picture(white, Matrix.shift(10.25, 5) @ Matrix.grow(0.5), Rect(0, 0, 90, 80), True)
    assert small.pixels[..., 3].sum() / 255 == pytest.approx(30 * 25, rel=0.002)
    assert small.pixels[4, 0, 3] == pytest.approx(0.75 * 255, abs=3)  # a quarter of this pixel is outside


def test_rec709_matrix():
    for rgb, wanted in (
        ((255, 255, 255), (235, 128, 128)),
        ((0, 0, 0), (16, 128, 128)),
        ((255, 0, 0), (63, 102, 240)),
        ((0, 255, 0), (173, 42, 26)),
        ((0, 0, 255), (32, 240, 118)),
        ((191, 191, 0), (168, 44, 136)),
    ):
        picture = np.full((4, 6, 4), 255, np.uint8)
        picture[..., :3] = rgb
        assert [int(plane[1, 1]) for plane in to_i420(picture)] == pytest.approx(wanted, abs=1)


def only_title(film):
    """The demo's title over black."""
    return film.model_copy(update={"clips": {"title": film.clips["title"]}})


def paint(film, frame, width=1280, height=720):
    return Painter(None).paint(plan(evaluate(film, frame), width, height))


def strengths(u, a, b):
    """Progress of an ease by walking its Bézier: P1 = (a, 0), P2 = (1 − b, 1)."""
    t = np.linspace(0, 1, 200_001)
    x = 3 * a * t * (1 - t) ** 2 + 3 * (1 - b) * t**2 * (1 - t) + t**3
    return float(np.interp(u, x, 3 * t**2 * (1 - t) + t**3))


@pytest.mark.parametrize("local, arriving", [(8, True), (20, True), (34, True), (149 - 24, False), (149 - 9, False)])
def test_opacity_travel_and_blur_follow_the_closed_form_on_pixels(film, local, arriving):
    film = only_title(film)
    title = film.clips["title"]
    share = strengths(local / 40 if arriving else (149 - local) / 30, 0.2, 0.75)
    if not arriving:
        # The departure has the same ease run forwards: from rest to gone.
        share = 1 - strengths((local - 119) / 30, 0.2, 0.75)
    # Opacity: with the blur off, a letter's solid inside is colour × opacity.
    sharp, _ = apply(film, SetValue(clip="title", step="content", name="size", value=300))
    sharp = sharp.model_copy(
        update={"clips": {"title": sharp.clips["title"].model_copy(update={"steps": title.steps[1:]})}}
    )
    assert paint(sharp, 25 + local)[..., 0].max() == pytest.approx(255 * share, abs=1)
    # Travel: the ink's centre against the resting one.
    rest_y = centroid(paint(film, 25 + 80)[..., 0].astype(float))[1]
    seen = paint(film, 25 + local)[..., 0].astype(float)
    wanted = (1 - share) * (36 if arriving else -24)
    assert centroid(seen)[1] - rest_y == pytest.approx(wanted, abs=0.3)
    # Blur: against SciPy's Gaussian of the sharp, unfaded title at the same place.
    moved = Step(id="placement", kind="placement", values={"y": fixed(wanted)})
    plain = film.model_copy(update={"clips": {"title": title.model_copy(update={"steps": (moved,)})}})
    soft = ndimage.gaussian_filter(paint(plain, 25 + 80)[..., 0].astype(float), 22 * (1 - share)) * share
    assert np.abs(soft - seen).max() <= 4


def test_a_trimmed_title_departs_complete_on_its_last_frame_and_arrives_as_before(film):
    film = only_title(film)
    trimmed, _ = apply(film, TrimClip(clip="title", head=25, length=125))
    for local in (0, 10, 25, 39):
        assert np.array_equal(paint(trimmed, 25 + local), paint(film, 25 + local))
    for back in (1, 8, 29):
        assert np.array_equal(paint(trimmed, 25 + 125 - 1 - back), paint(film, 25 + 150 - 1 - back))
    last, beyond = evaluate(trimmed, 25 + 124), evaluate(trimmed, 25 + 125)
    assert last.layers[0].steps[1].values["opacity"] == 0 and not beyond.layers


def test_the_title_is_optically_centred(film):
    x, y = centroid_box(paint(only_title(film), 100)[..., 0])
    assert (x, y) == pytest.approx((640, 360), abs=0.5)


def centroid_box(ink):
    rows, columns = np.nonzero(ink > 100)
    return (columns.min() + columns.max() + 1) / 2, (rows.min() + rows.max() + 1) / 2


def test_a_small_preview_is_the_export_made_small(film, sources):
    painter = Painter(sources)
    for frame in (40, 100):
        large = painter.paint(plan(evaluate(film, frame), 1280, 720))[..., :3].astype(float)
        small = painter.paint(plan(evaluate(film, frame), 640, 360))[..., :3].astype(float)
        mean = large.reshape(360, 2, 640, 2, 3).mean((1, 3))
        assert 10 * np.log10(255**2 / ((mean - small) ** 2).mean()) >= 40


def test_a_turned_and_scaled_title_keeps_its_pivot(film):
    film = only_title(film)
    x, y = (value - middle for value, middle in zip(centroid(paint(film, 100)[..., 0].astype(float)), (640, 360)))
    for name, value in (("rotation", 37), ("scale", 0.8)):
        film, _ = apply(film, SetValue(clip="title", step="placement", name=name, value=value))
    cos, sin = 0.8 * np.cos(np.radians(37)), 0.8 * np.sin(np.radians(37))
    seen = centroid(paint(film, 100)[..., 0].astype(float))
    # Antialiasing weighs upright and slanted stems a little differently, hence not closer.
    assert seen == pytest.approx((640 + cos * x - sin * y, 360 + sin * x + cos * y), abs=0.4)


@pytest.mark.parametrize("scale", [0, -1])
def test_a_scale_of_nothing_draws_nothing_and_a_negative_one_mirrors(film, scale):
    film = only_title(film)
    plain = paint(film, 100)
    after, _ = apply(film, SetValue(clip="title", step="placement", name="scale", value=scale))
    picture = paint(after, 100)
    if scale == 0:
        assert picture[..., :3].max() == 0
    else:
        assert np.abs(picture[::-1, ::-1].astype(int) - plain).mean() < 0.2


@settings(max_examples=25)
@given(st.text(max_size=40), st.floats(0, 1))
def test_any_words_can_be_painted(film, words, moment):
    film = only_title(film)
    try:
        film, _ = apply(film, ChangeText(clip="title", text=words))
    except ValueError:
        assert "\x00" in words
        return
    picture = paint(film, 25 + round(149 * moment), 320, 180)
    assert picture.shape == (180, 320, 4) and picture[..., 3].min() == 255


def test_ten_thousand_characters_and_a_huge_blur_stay_within_reason(film):
    film = only_title(film)
    film, _ = apply(film, ChangeText(clip="title", text="harvest\n" * 1250))
    film, _ = apply(
        film,
        SetProperty(
            clip="title", step="focus", name="radius", property=Moving(keys=(Key(at=0, value=1000, ease=Linear()),))
        ),
    )
    assert paint(film, 100).shape == (720, 1280, 4)
