"""Whole titles, made by edits from nothing and measured on the frames of their film."""

import av
import cv2
import numpy as np
import pytest
from scipy import ndimage

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import (
    AddClip,
    AddStep,
    AddTitle,
    ChangeText,
    SetProperty,
    SetSpans,
    SetValue,
    TrimClip,
    apply,
)
from idle_comet.core.motion import Key, Linear, Moving, Strengths
from idle_comet.core.project.model import Clip, Plain, Project, Settings, Step, Track
from idle_comet.media.film import Order, render_film
from idle_comet.media.probe import probe

SOFT, LANDING = Strengths(start=0.3, end=0.8), Strengths(start=0, end=0.9)


def eased(u, ease):
    """Progress of strengths a, b by walking the Bézier (0, 0) (a, 0) (1 − b, 1) (1, 1)."""
    t = np.linspace(0, 1, 100_001)
    x = 3 * ease.start * t * (1 - t) ** 2 + 3 * (1 - ease.end) * t**2 * (1 - t) + t**3
    return float(np.interp(u, x, 3 * t**2 * (1 - t) + t**3))


def ends(start, rest, gone, span, ease):
    """Keys from the head and from the tail, so many frames each."""
    return Moving(
        keys=(
            Key(at=0, value=start, ease=ease),
            Key(at=span, value=rest, ease=ease),
            Key(counts_from="tail", at=-span, value=rest, ease=ease),
            Key(counts_from="tail", at=0, value=gone),
        )
    )


def through(first, last):
    return Moving(
        keys=(
            Key(counts_from="proportion", at=0, value=first, ease=Linear()),
            Key(counts_from="proportion", at=1, value=last),
        )
    )


def line(film, id, text, head, length, size, **properties):
    """A title with opacity, focus and travel, made as an editor makes it."""
    for edit in (
        AddTitle(clip=id, frame=head, text=text),
        TrimClip(clip=id, head=head, length=length),
        SetSpans(clip=id, arrival=40, departure=40),
        SetValue(clip=id, step="content", name="size", value=size),
        ChangeText(clip=id, measured_by="ink"),
        AddStep(clip=id, at=0, step=Step(id="focus", kind="focus_blur")),
    ):
        film, _ = apply(film, edit)
    for name, prop in properties.items():
        step = {"radius": "focus", "tracking": "content"}.get(name, "placement")
        film, _ = apply(film, SetProperty(clip=id, step=step, name=name, property=prop))
    return film


@pytest.fixture(scope="module")
def episode():
    """An episode title over eight seconds of dusk: two lines, 12 px up and 12 px down, 100 → 106 %."""
    film = Project(settings=Settings(name="Episode two"), tracks=(Track(id="dusk", name="Dusk"),))
    film, _ = apply(
        film,
        AddClip(clip=Clip(id="dusk", track="dusk", name="Dusk", head=0, length=200, content=Plain(colour="#000000"))),
    )
    film = line(
        film,
        "title",
        "THE SLOW HARVEST",
        25,
        150,
        62,
        opacity=ends(0, 1, 0, 40, SOFT),
        radius=ends(24, 0, 24, 40, SOFT),
        y=through(6, -6),
        scale=through(1, 1.06),
        tracking=Moving(keys=(Key(at=0, value=280),)),
    )
    return line(
        film,
        "second",
        "Episode two: The swarm",
        35,
        140,
        34,
        opacity=ends(0, 0.9, 0, 40, SOFT),
        radius=ends(12, 0, 12, 40, SOFT),
        y=through(70, 82),
    )


def only(film, clip):
    return film.model_copy(update={"clips": {clip: film.clips[clip]}})


def paint(film, frame):
    return Painter(None).paint(plan(evaluate(film, frame), 1280, 720))[..., 0].astype(float)


@pytest.fixture(scope="module")
def exported(episode, tmp_path_factory):
    """The upper line's film, decoded: (frames as luma 16–235, path)."""
    path = tmp_path_factory.mktemp("film") / "film.mp4"
    render_film(only(episode, "title"), None, path, Order(0, 200, 1280, 720, 8))
    with av.open(str(path)) as container:
        return [frame.to_ndarray(format="yuv420p")[:720] for frame in container.decode(video=0)], path


def box(ink, level):
    """The ink's edges to a fraction of a pixel, each where its light crosses half of its full height."""
    sides = []
    for axis in (0, 1):
        profile = np.sort(ink, axis)[-3:].mean(0) if axis == 0 else np.sort(ink, 1)[:, -3:].mean(1)
        lit = np.nonzero(profile >= level / 2)[0]
        first, last = lit[0], lit[-1]
        sides.append(
            (
                first + 1 - profile[first - 1 : first + 1].sum() / level + 0.5,
                last + profile[last : last + 2].sum() / level - 0.5 + 0.0,
            )
        )
    return sides


def shift_between(one, other):
    """How far one picture lies from the other, (down, across) in px: least squares against its slopes."""
    one, other = (ndimage.gaussian_filter(each, 1) for each in (one, other))
    return np.array([((one - other) * slope).sum() / -(slope**2).sum() for slope in np.gradient(other)])


def centre(ink):
    (x0, x1), (y0, y1) = box(ink, ink.max())
    return (x0 + x1) / 2, (y0 + y1) / 2


def test_the_export_is_whole_and_tagged(exported):
    frames, path = exported
    found = probe(path)
    assert (len(frames), found.frames, found.width, found.height, found.rate) == (200, 200, 1280, 720, 25)


def test_the_line_is_optically_centred_and_rises_through_the_clip(exported):
    frames, _ = exported
    for local in (45, 74, 104):
        x, y = centre(frames[25 + local].astype(float) - 16)
        assert x == pytest.approx(640, abs=0.5)
        assert y == pytest.approx(360 + 6 - 12 * local / 149, abs=0.5)


@pytest.mark.parametrize("local", [6, 18, 33, 149 - 22, 149 - 5])
def test_opacity_blur_and_scale_follow_the_closed_form(episode, exported, local):
    arriving = local < 75
    share = eased(local / 40, SOFT) if arriving else 1 - eased((local - 109) / 40, SOFT)
    scale = 1 + 0.06 * local / 149
    film = only(episode, "title")
    # The same words sharp and at rest, made larger by hand and softened by SciPy: focus blur comes before the scale.
    still = film.clips["title"].model_copy(update={"steps": ()})
    sharp = paint(film.model_copy(update={"clips": {"title": still}}), 100)
    soft = ndimage.gaussian_filter(sharp, 24 * (1 - share))
    # OpenCV counts from pixel centres.
    grown = cv2.warpAffine(
        soft,
        np.array([[scale, 0, 639.5 * (1 - scale)], [0, scale, 359.5 * (1 - scale) + 6 - 12 * local / 149]]),
        (1280, 720),
        flags=cv2.INTER_CUBIC,
    )
    seen = (exported[0][25 + local].astype(float) - 16) * 255 / 219
    assert np.abs(shift_between(grown * share, seen)).max() <= 0.1
    # What is left is the rim of resampled letters and a hair of codec noise.
    assert np.abs(ndimage.gaussian_filter(grown * share - seen, 3)).max() <= 10


def test_a_second_less_leaves_both_ends_as_they_were(episode):
    film = only(episode, "second")
    shorter, _ = apply(film, TrimClip(clip="second", head=35, length=115))
    here, there = (evaluate(each, at).layers[0].steps for each, at in ((film, 35 + 139 - 12), (shorter, 35 + 114 - 12)))
    assert here[0].values == there[0].values and here[1].values["opacity"] == there[1].values["opacity"]
    assert evaluate(shorter, 35 + 114).layers[0].steps[1].values["opacity"] == 0
    assert evaluate(shorter, 35 + 114).layers[0].steps[1].values["y"] == 82


def test_two_lines_of_a_strap_rise_each_with_its_own_ease():
    film = Project(settings=Settings(name="Strap"), tracks=(Track(id="names", name="Names"),))
    film = line(
        film, "name", "Ottoline Brask", 0, 120, 46, opacity=ends(0, 1, 0, 16, LANDING), y=ends(40, 0, 40, 16, LANDING)
    )
    film = line(
        film, "role", "head beekeeper", 0, 120, 28, opacity=ends(0, 1, 0, 16, SOFT), y=ends(100, 60, 100, 16, SOFT)
    )
    for id, ease, rest in (("name", LANDING, 0), ("role", SOFT, 60)):
        alone = only(film, id)
        still, faint = centre(paint(alone, 60)), paint(alone, 60).max()
        for frame in (4, 8, 12):
            share = eased(frame / 16, ease)
            ink = paint(alone, frame)
            assert ink.max() == pytest.approx(faint * share, abs=2)
            assert centre(ink)[1] - still[1] == pytest.approx(40 * (1 - share), abs=0.3)


def test_a_preview_does_not_stand_beside_its_export(episode):
    """The small picture's ink stands where the large one's does: no more than 0.05 px apart."""
    film = only(episode, "second")
    for frame in (90, 101):
        large = Painter(None).paint(plan(evaluate(film, frame), 1280, 720))[..., 0].astype(float)
        small = Painter(None).paint(plan(evaluate(film, frame), 640, 360))[..., 0].astype(float)
        halved = large.reshape(360, 2, 640, 2).mean((1, 3))
        assert np.abs(shift_between(small, halved)).max() <= 0.05


def test_small_type_keeps_its_weight_while_it_drifts(episode):
    """Hairlines a pixel thin have the same ink wherever they stand between the pixels."""
    film = only(episode, "second")
    inks = [
        Painter(None).paint(plan(evaluate(film, frame), 640, 360))[..., 0].sum(dtype=float)
        for frame in range(80, 120, 4)
    ]
    assert max(inks) / min(inks) <= 1.01
