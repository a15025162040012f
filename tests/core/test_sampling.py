"""Pictures at other sizes and places: evenly sharp, free of false patterns, and never still while they should drift."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.ndimage import map_coordinates

from idle_comet.core.picture import Matrix, Rect, warp_picture
from idle_comet.core.picture.bilinear import bilinear
from idle_comet.core.picture.resample import resampled
from idle_comet.core.picture.sampling import sampled
from idle_comet.core.picture.softening import softened
from idle_comet.core.picture.taps import taps
from idle_comet.core.type import Pose, Setting, lay_out, paint_text


def as_picture(grey):
    return np.dstack([np.clip(grey + 0.5, 0, 255).astype(np.uint8)] * 3 + [np.full(grey.shape, 255, np.uint8)])


def zone_plate(height=360, width=640, finest=0.5):
    """Rings that grow finer outwards, up to `finest` of what the px can hold at the sides."""
    y, x = np.mgrid[0:height, 0:width] - np.array([[[height / 2]], [[width / 2]]]) + 0.5
    return as_picture(127.5 + 127.5 * np.cos(np.pi * finest * (x * x + y * y) / width))


def small_type(height=360, width=640):
    grey = np.zeros((height, width), np.float32)
    layout = lay_out("the swarm left at noon and did not come back", Setting("archivo", 500))
    for row in range(height // 25):
        for column in range(-1, width // 290):
            place = Matrix.shift(8 + 3.7 * (row % 60) + 290 * column, 24.3 + 24.6 * row) @ Matrix.grow(13)
            patch = paint_text(layout, [Pose(None, place)], Rect(0, 0, width, height), (255, 255, 255))
            if not patch.rect.empty:
                grey[patch.y : patch.y + patch.height, patch.x : patch.x + patch.width] += patch.pixels
    return as_picture(grey)


def seen(picture, across, width=640, height=360, exact=True, down=None):
    """The picture scaled about its middle, as the painter samples one that moves."""
    matrix = (
        Matrix.shift(width / 2, height / 2)
        @ Matrix.grow(across, down)
        @ Matrix.shift(-picture.shape[1] / 2, -picture.shape[0] / 2)
    )
    patch = warp_picture(picture, matrix, Rect(0, 0, width, height), True, exact=exact, moves=down is None)
    whole = np.zeros((height, width), np.float64)
    whole[patch.y : patch.y + patch.height, patch.x : patch.x + patch.width] = patch.pixels[..., 0]
    return whole[110:250, 190:450] if down is None else whole


def energy(pixels, apart=1):
    """The mean square of differences one px apart, across and down."""
    return ((pixels[:, apart:] - pixels[:, :-apart]) ** 2).mean() + ((pixels[apart:] - pixels[:-apart]) ** 2).mean()


@pytest.mark.parametrize("picture", [zone_plate(), small_type()], ids=["rings", "type"])
@pytest.mark.parametrize("first, last, frames", [(1.0, 1.04, 100), (1.04, 0.46, 150)], ids=["push", "pull"])
def test_a_slow_zoom_is_evenly_sharp_from_frame_to_frame(picture, first, last, frames):
    scales = np.linspace(first, last, frames + 1)
    # Some pairs of frames all along, and all where a picture is as large as it is, or half as large.
    pairs = [i for i in range(frames) if i % 20 == 0 or any(abs(scales[i] - mark) < 0.006 for mark in (1, 0.53, 0.5))]
    sharp = {
        i: energy(seen(picture, scales[i])) / energy(_oversampled(picture, scales[i]), 4)
        for i in {*pairs, *(i + 1 for i in pairs)}
    }
    assert max(abs(sharp[i + 1] / sharp[i] - 1) for i in pairs) <= 0.02


def _oversampled(picture, scale, times=4):
    """What is seen in the middle (260 × 140 px) of the picture, averaged over each painted px where that is the larger,
    at so many places a px: by the picture's own spectrum, in float64."""
    grey = picture[..., 0].astype(float)
    height, width = grey.shape
    fy, fx = np.fft.fftfreq(height), np.fft.rfftfreq(width)
    y = ((np.arange(140 * times) + 0.5) / times - 70) / scale + height / 2 - 0.5
    x = ((np.arange(260 * times) + 0.5) / times - 130) / scale + grey.shape[1] / 2 - 0.5
    low = max(1.0, 1 / scale)
    rows = np.exp(2j * np.pi * np.outer(y, fy)) * np.sinc(fy * low)
    columns = np.exp(2j * np.pi * np.outer(fx, x)) * np.sinc(fx * low)[:, None]
    # Of a real picture half of the spectrum says all.
    columns *= np.where((fx > 0) & (fx < 0.5), 2, 1)[:, None]
    return (rows @ np.fft.rfft2(grey) @ columns).real / (height * width)


def axis(count, source, scale, begin, exact):
    """The weights of each sample along an axis as a whole matrix, (count, source)."""
    first, weights = taps(count, source, scale, begin, 1 / abs(scale), exact)
    whole = np.zeros((count, source))
    for sample, (start, own) in enumerate(zip(first, weights)):
        whole[sample, start : start + len(own)] = own
    return whole


sides, scales = st.integers(1, 150), st.floats(0.2, 2.5) | st.floats(-2.5, -0.2)


@given(sides, sides, sides, sides, scales, scales, st.floats(-20, 60), st.sampled_from([1, 4]), st.booleans())
def test_any_size_is_the_weighted_mean_of_what_lies_around(high, wide, height, width, across, down, begin, size, exact):
    picture = np.random.default_rng(high).integers(0, 256, (high, wide, size)).astype(np.uint8)
    made = resampled(
        picture if size > 1 else picture[..., 0], width, height, (across, down), (begin, -begin), True, exact
    )
    rows, columns = axis(height, high, down, -begin, exact), axis(width, wide, across, begin, exact)
    tall = np.clip(np.einsum("yh,hwc->ywc", rows, picture), 0, 255)
    wanted = np.clip(np.einsum("xw,ywc->yxc", columns, tall) + 0.5, 0, 255)
    off = np.abs(np.floor(wanted) - made.reshape(height, width, size))
    # What lies at a half may go either way.
    assert (off <= (np.abs(wanted - np.rint(wanted)) < 1e-3)).all()


@pytest.mark.parametrize("exact", [True, False])
@pytest.mark.parametrize("mark", [1 / 2, 1 / 3, 1 / 4, 0.3])
def test_nothing_jumps_where_a_picture_is_a_whole_part_of_its_size(mark, exact):
    picture = small_type(1080, 1920)
    before, after = (energy(seen(picture, mark * by, exact=exact)) for by in (0.999, 1.001))
    assert after / before == pytest.approx(1, abs=0.03 if exact else 0.08)


def test_a_squeeze_of_one_axis_neither_blurs_the_other_nor_makes_false_patterns():
    y, x = np.mgrid[0:400, 0:640]
    fine = as_picture(127.5 + 127.5 * np.cos(2 * np.pi * x * 0.21) * np.cos(2 * np.pi * y * 0.23))
    for axis in (0, 1):
        narrow = seen(fine, *((0.1, 640, 400) if axis else (1.0, 640, 400)), down=1.0 if axis else 0.1)
        inside = narrow[60:340, 290:350] if axis else narrow[184:216, 60:580]
        # The fine waves of the squeezed axis have no px left to be seen in: even grey.
        assert np.ptp(inside) <= 6
    bars = as_picture(127.5 + 127.5 * np.cos(2 * np.pi * y * 0.23))
    narrow = seen(bars, 0.1, 640, 400, down=1.0)[60:340, 295:345]
    assert np.ptp(narrow) >= 250 * 0.97


@pytest.mark.parametrize("scale", [0.4, 1.0, 1.6])
@pytest.mark.parametrize("turn", [0, 3])
def test_a_drift_of_a_fiftieth_px_a_frame_moves_at_every_frame(scale, turn):
    y, x = np.mgrid[0:240, 0:320]
    blob = as_picture(235 * np.exp(-((x - 160) ** 2 + (y - 120) ** 2) / (800 / scale)))
    across = []
    for frame in range(60):
        matrix = (
            Matrix.shift(200 + 0.02 * frame, 140) @ Matrix.turn(turn) @ Matrix.grow(scale) @ Matrix.shift(-160, -120)
        )
        patch = warp_picture(blob, matrix, Rect(0, 0, 400, 280), True)
        grey = patch.pixels[..., 0].astype(float)
        across.append((grey * (np.arange(patch.width) + patch.x + 0.5)).sum() / grey.sum())
    steps = np.diff(across)
    assert steps.min() > 0 and np.abs(np.array(across) - across[0] - 0.02 * np.arange(60)).max() <= 0.02


def test_a_floor_seen_in_perspective_is_calm_in_the_distance_and_sharp_up_close():
    y, x = np.mgrid[0:480, 0:640]
    checks = as_picture(255.0 * (((x // 4) + (y // 4)) % 2))
    floor = Matrix.shift(320, 180) @ Matrix.tilt(72, 0, 0, 420) @ Matrix.shift(-320, -240)
    patch = warp_picture(checks, floor, Rect(0, 0, 640, 360), True)
    grey = np.zeros((360, 640))
    grey[patch.y : patch.y + patch.height, patch.x : patch.x + patch.width] = np.asarray(patch.pixels[..., 0], float)
    rows = [row for row in range(360) if patch.y + 2 <= row < patch.y + patch.height - 2]
    far, near = (grey[rows[0] : rows[0] + 6, 260:380], grey[rows[-1] - 12 : rows[-1], 260:380])
    if floor.scale_at(320, 20) > floor.scale_at(320, 460):
        far, near = near, far
    assert far.std() < 55 < 80 < near.std()


def test_a_large_still_is_sampled_from_copies_that_are_kept():
    from idle_comet.core.remember import Budget

    kept, picture = Budget(64 << 20), small_type(1440, 2560)
    matrix = Matrix.grow(0.11)
    first = warp_picture(picture, matrix, Rect(0, 0, 280, 158), True, kept=kept)
    assert kept.bytes > 0 and np.array_equal(
        warp_picture(picture, matrix, Rect(0, 0, 280, 158), True, kept=kept).pixels, first.pixels
    )
    assert (
        np.abs(first.pixels.astype(int) - warp_picture(picture, matrix, Rect(0, 0, 280, 158), True).pixels).max() == 0
    )


@pytest.mark.parametrize("exact", [True, False])
def test_a_still_with_transparency_seen_at_its_own_size_is_its_own_pixels(exact):
    shown = np.random.default_rng(3).integers(0, 256, (40, 60, 4)).astype(np.uint8)
    shown[..., :3] = np.minimum(shown[..., :3], shown[..., 3:])
    patch = warp_picture(shown, Matrix.shift(20, 10), Rect(0, 0, 100, 80), False, exact=exact)
    assert (patch.x, patch.y) == (20, 10)
    assert np.array_equal(patch.pixels, shown)


@pytest.mark.parametrize("low", [(1.87, 1.87), (1.33, 2.4)])
def test_softened_at_its_own_size_it_is_what_sampling_there_gives(low):
    plane = np.random.default_rng(1).integers(0, 256, (90, 130), np.uint8)
    there = resampled(plane, 130, 90, (1.0, 1.0), (0.0, 0.0), True, True, low).astype(int)
    assert np.abs(softened(plane, low, True) - there).max() <= 1
    four = np.dstack([plane] * 4).copy()
    assert (softened(four, low, True)[..., 2] == softened(plane, low, True)).all()


@given(
    st.integers(1, 40),
    st.integers(1, 30),
    st.sampled_from([1, 4]),
    st.floats(-180, 180),
    st.floats(0.3, 3),
    st.floats(-0.02, 0.02),
    st.floats(-0.02, 0.02),
)
def test_a_placed_picture_lies_in_straight_lines_between_its_px(wide, high, channels, turn, grown, g, h):
    shape = (high, wide) if channels == 1 else (high, wide, 4)
    picture = np.random.default_rng(wide * 64 + high).integers(0, 256, shape).astype(np.uint8)
    matrix = Matrix.shift(24, 18) @ Matrix(1, 0, 0, 1, 0, 0, g, h) @ Matrix.turn(turn) @ Matrix.grow(grown)
    matrix = matrix @ Matrix.shift(-wide / 2, -high / 2)
    found = bilinear(picture, matrix, 50, 38)
    back, (y, x) = matrix.inverse(), np.mgrid[0:38, 0:50] + 0.5
    w = back.g * x + back.h * y + back.i
    seen = w > 1e-3
    w = np.where(seen, w, 1.0)
    at = [(back.b * x + back.d * y + back.f) / w - 0.5, (back.a * x + back.c * y + back.e) / w - 0.5]
    planes = picture.reshape(high, wide, -1).astype(float)
    right = np.dstack([map_coordinates(plane, at, order=1, mode="nearest") for plane in np.moveaxis(planes, 2, 0)])
    far = np.abs(found.reshape(38, 50, -1) - right)[seen]
    # Places are told to some thousandths of a px, of which a step from black to white makes as much of a code value.
    assert far.max(initial=0) <= 0.5 + 0.3


@pytest.mark.parametrize("wave", [0.15, 0.33])
def test_a_turned_picture_is_as_sharp_on_both_sides_of_the_size_it_is_softened_up_to(wave):
    """A wave of so many a seen px, of a picture turned by two degrees and shown ever larger."""
    y, x = np.mgrid[0:500, 0:800] + 0.5

    def passed(scale):
        picture = as_picture(127.5 + 100 * np.sin(2 * np.pi * wave * scale * (0.8 * x + 0.6 * y)))
        place = Matrix.shift(200, 130) @ Matrix.turn(2) @ Matrix.grow(scale) @ Matrix.shift(-400, -250)
        return sampled(picture, place, 400, 260, True, True, moves=True)[30:-30, 30:-30, 0].astype(float).std()

    sharp = [passed(scale) for scale in (0.70, 0.735, 0.768, 0.771, 0.80)]
    assert max(sharp) / min(sharp) < 1.02
