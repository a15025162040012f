"""Generated pictures: what holds for every pattern, and what some of them are by definition."""

import tracemalloc

import cv2
import numpy as np
import pytest

from idle_comet.core.checks.noticed import noticed
from idle_comet.core.edits import AddGenerated, ChangePattern, EditError, SetChoice, SetValue, SplitClips, apply
from idle_comet.core.patterns import PATTERNS, Ground
from idle_comet.core.patterns.lives import chance, lives
from idle_comet.core.picture import Matrix, Rect, lay_spots, noise, sampled_noise
from idle_comet.core.project.model import Generated, Step, fixed

from .stacked import HEIGHT, WIDTH, film, seen

every = pytest.mark.parametrize("pattern", PATTERNS.values(), ids=PATTERNS)


def values(pattern, **more):
    return {
        **{each.name: each.default for each in pattern.parameters},
        **{each.name: each.default for each in pattern.choices},
        # It shines from outside a larger frame than that of these tests.
        **({"origin": (-60.0, -100.0)} if pattern.kind == "rays" else {}),
        **more,
    }


def ground(seconds=0.0, scale=1.0, matrix=None, rate=25):
    matrix = matrix or Matrix.grow(scale)
    wide, high = (round(side * scale) for side in (WIDTH, HEIGHT))
    return Ground(matrix, Rect(0, 0, wide, high), WIDTH, HEIGHT, seconds, seconds * rate)


def made(pattern, *steps, **own):
    project, _ = apply(film(background="#203040"), AddGenerated(clip="g", frame=0, length=400, pattern=pattern.kind))
    clip = project.clips["g"]
    content = clip.content.model_copy(update={"values": {name: fixed(value) for name, value in own.items()}})
    clip = clip.model_copy(update={"content": content, "steps": (*clip.steps, *steps)})
    return project.model_copy(update={"clips": {"g": clip}})


@every
def test_its_pixels_are_what_premultiplied_pixels_can_be(pattern):
    pixels = pattern.paint(values(pattern), ground(1.3))
    assert pixels.dtype == np.float32 and pixels.shape == (HEIGHT, WIDTH, 4) and np.isfinite(pixels).all()
    assert pixels.min() >= -1e-3 and (pixels[..., :3].max(-1) <= pixels[..., 3] + 0.01).all()
    assert pixels[..., 3].max() <= 255.001 and (pixels[..., 3].min() >= 254.99) == pattern.covers
    assert pixels[..., 3].max() > 20


@every
def test_it_is_seeded_and_moves_only_where_it_says_so(pattern):
    one = pattern.paint(values(pattern), ground(1.0))
    assert (one == pattern.paint(values(pattern), ground(1.0))).all()
    if any(each.name == "seed" for each in pattern.parameters):
        assert (one != pattern.paint(values(pattern, seed=7), ground(1.0))).any()
    quick = {each.name: each.high for each in pattern.parameters if each.name in ("speed", "drift")}
    moved = pattern.paint(values(pattern, **quick), ground(2.37))
    assert (moved != pattern.paint(values(pattern, **quick), ground(1.0))).any() == pattern.restless


@every
def test_one_that_repeats_has_no_seam(pattern):
    if not pattern.restless:
        return
    quick = {
        each.name: each.high / 4 for each in pattern.parameters if each.name in ("speed", "drift") and each.high > 0
    }
    own = values(pattern, loop=3.0, **quick, **({"holds": 1} if pattern.kind == "dust" else {}))
    frames = [pattern.paint(own, ground(at / 25)) for at in (0, 1, 2, 74, 75, 76)]
    assert np.abs(frames[0] - frames[4]).max() <= 1 and np.abs(frames[1] - frames[5]).max() <= 1
    steps = [np.abs(a - b).mean() for a, b in zip(frames, frames[1:])]
    # From its last frame to its first it changes as from any frame to the next.
    assert steps[3] <= 2.5 * max(steps[0], steps[1]) + 0.02


@every
def test_the_same_picture_at_half_size_and_through_a_placement(pattern):
    whole = pattern.paint(values(pattern), ground(1.0, 2.0))
    half = cv2.resize(whole, (WIDTH, HEIGHT), interpolation=cv2.INTER_AREA)
    assert np.abs(half - pattern.paint(values(pattern), ground(1.0))).mean() < 2.2
    small = Step(id="p", kind="placement", values={"scale": fixed(0.5), "x": fixed(40)})
    plain = seen(made(pattern), 25, WIDTH // 2, HEIGHT // 2)
    placed = seen(made(pattern, small), 25)
    inside = placed[HEIGHT // 4 + 2 : HEIGHT * 3 // 4 - 2, WIDTH // 4 + 42 : WIDTH * 3 // 4 + 38]
    assert np.abs(inside - plain[2:-2, 2:-2]).mean() < 1.5
    assert np.abs(placed[:, :100] - (0x20, 0x30, 0x40)).max() <= 1


@every
@pytest.mark.parametrize("end", ["least", "most"])
def test_absurd_values_stay_within_memory(pattern, end):
    extreme = {each.name: getattr(each, end) for each in pattern.parameters if each.sort == "number"}
    tilted = Step(id="t", kind="tumble", values={"tilt": fixed(80), "eye": fixed(70)})
    tracemalloc.start()
    seen(made(pattern, tilted, **extreme), 30)
    assert tracemalloc.get_traced_memory()[1] < 400 << 20
    tracemalloc.stop()


@every
def test_a_clip_that_is_cut_goes_on_where_it_was_and_leaves_what_is_below(pattern):
    project = made(pattern)
    cut, _ = apply(project, SplitClips(clips=("g",), frame=60, seed="cut"))
    assert (seen(cut, 75) == seen(project, 75)).all() and (seen(cut, 30) == seen(project, 30)).all()


def test_another_pattern_keeps_what_has_the_same_name_and_what_is_unknown_is_said():
    project = made(PATTERNS["smoke"], density=0.9, seed=5)
    dusty, back = apply(project, ChangePattern(clip="g", pattern="dust"))
    assert dusty.clips["g"].content == Generated(pattern="dust", values={"seed": fixed(5)})
    assert dusty.clips["g"].name == "Dust and hairs" and dusty.clips["g"].blend == "normal"
    assert apply(dusty, back)[0] == project
    for edit, says in (
        (ChangePattern(clip="g", pattern="lava"), "no generated picture “lava”"),
        (SetValue(clip="g", step="content", name="density", value=7.0), "goes from 0 to 100 %"),
        (SetChoice(clip="g", step="content", name="form", value="round"), "no choice “form”"),
    ):
        with pytest.raises(EditError, match=says):
            apply(project, edit)
    round_, _ = apply(made(PATTERNS["gradient"]), SetChoice(clip="g", step="content", name="form", value="round"))
    assert round_.clips["g"].content.choices == {"form": "round"}
    later = project.clips["g"].model_copy(update={"content": Generated(pattern="lava")})
    unknown = project.model_copy(update={"clips": {"g": later}})
    assert any("does not know (lava)" in each for each in noticed(unknown))
    assert (seen(unknown) == (0x20, 0x30, 0x40)).all()


def test_a_gradient_is_its_stops_along_its_line_and_dithers():
    own = values(PATTERNS["gradient"], colours="two", first="#101418", second="#1c2026", angle=0, loop=0)
    row = PATTERNS["gradient"].paint(own, ground())[5]
    share = (np.arange(WIDTH) + 0.5) / WIDTH
    for channel, (first, last) in enumerate(((0x10, 0x1C), (0x14, 0x20), (0x18, 0x26))):
        assert np.abs(row[:, channel] - (first + (last - first) * share)).max() < 0.01
    # Around a point: a quarter turn on, a quarter of the run on.
    conic = PATTERNS["gradient"].paint({**own, "form": "around", "first": "#000000", "second": "#ffffff"}, ground())
    assert conic[HEIGHT - 4, WIDTH // 2, 0] == pytest.approx(255 / 4, abs=1.5)
    assert conic[HEIGHT // 2, 4, 0] == pytest.approx(255 / 2, abs=1.5)


@pytest.mark.parametrize("scale", [0.5, 1, 2.3])
def test_a_grid_covers_the_area_its_lines_have(scale):
    own = values(PATTERNS["grid"], across=20, down=30, width=1.2, strong=1, opacity=1, loop=0)
    cover = PATTERNS["grid"].paint(own, ground(scale=scale))[..., 3].mean() / 255
    assert cover == pytest.approx(1 - (1 - 1.2 / 20) * (1 - 1.2 / 30), rel=0.02)


@pytest.mark.parametrize("radius", [0.2, 0.75, 3.3, 40.25])
def test_a_spot_covers_its_disc_however_small(radius):
    pixels = np.zeros((120, 120, 4), np.float32)
    lay_spots(pixels, np.array([[60.3, 59.6, radius, 0, 0, 200, 100, 50, 0.5]]))
    area = pixels[..., 3].sum() / 255 * 2
    assert area == pytest.approx(np.pi * radius**2, rel=0.02 if radius > 1 else 0.15)
    assert pixels[..., 0].sum() == pytest.approx(pixels[..., 3].sum() * 200 / 255, rel=1e-3)


def test_noise_between_its_places_is_the_noise_itself():
    across, down = np.meshgrid(np.arange(200, dtype=np.float32), np.arange(120, dtype=np.float32))
    for scale, octaves in ((90, 1), (160, 3)):
        found = sampled_noise(across, down, scale, octaves, 0.3, 4)
        exact = noise(across / scale, down / scale, 0.3, octaves, 4)
        assert np.abs(found - exact).max() < 0.02


def test_chances_are_even_and_lives_of_a_loop_end_with_it():
    found = chance(3, 1, np.arange(40000), 2)
    assert np.histogram(found, 10, (0, 1))[0] == pytest.approx(4000, rel=0.06)
    assert abs(np.corrcoef(found, chance(3, 2, np.arange(40000), 2))[0, 1]) < 0.02
    one, again = lives(50, 2.2, 0.4, 6.0, 5), lives(50, 2.2, 6.4, 6.0, 5)
    assert np.abs(one.age - again.age).max() < 1e-9 and (one.lap == again.lap).all()
