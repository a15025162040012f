"""Hits: found where a synthetic track is known to have them, and nowhere else."""

import math

import numpy as np
import pytest

from idle_comet.core.clock import Rate
from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.contents import SoundHit
from idle_comet.core.edits import AddKey, EditError, MoveKey, SetHits, SetMarker, TypeByHits, apply
from idle_comet.core.moment.meeting import targets
from idle_comet.core.project.model import Clip, Project, Settings, Sound, Text, Track, fixed
from idle_comet.core.sound.hits import find_hits

RATE = 48_000


def track(seed, count=60, below=0.0, held=0.0):
    """(n, 2) samples with strokes at known moments: clicks, plucked strings and knocks of several levels, over noise
    and a held tone that swells."""
    rng = np.random.default_rng(seed)
    times = 0.3 + np.cumsum(rng.uniform(0.11, 0.5, count))
    samples = np.zeros(int((times[-1] + 1) * RATE))
    for number, when in enumerate(times):
        at = np.arange(int(0.35 * RATE)) / RATE
        hertz = rng.uniform(150, 1800)
        stroke = [
            rng.standard_normal(len(at)) * np.exp(-at / 0.008),
            sum(np.sin(2 * np.pi * hertz * k * at) / k for k in (1, 2, 3)) * np.exp(-at / 0.09),
            np.sin(2 * np.pi * 0.3 * hertz * at) * np.exp(-at / 0.03)
            + 0.3 * rng.standard_normal(len(at)) * np.exp(-at / 0.004),
        ][number % 3]
        begin = round(when * RATE)
        samples[begin : begin + len(at)] += rng.uniform(0.15, 0.6) * stroke / np.abs(stroke).max()
    at = np.arange(len(samples)) / RATE
    samples += below * rng.standard_normal(len(samples))
    samples += held * np.sin(2 * np.pi * 220 * at) * (0.6 + 0.4 * np.sin(2 * np.pi * 0.7 * at))
    return np.stack([samples, samples], 1), times


@pytest.mark.parametrize("seed, below, held", [(1, 0, 0), (2, 0.002, 0), (3, 0.001, 0.05)])
def test_of_known_hits_nearly_all_are_found_and_next_to_nothing_else(seed, below, held):
    samples, times = track(seed, below=below, held=held)
    found = np.array([each.seconds for each in find_hits(samples)])
    near = np.abs(times[:, None] - found[None]).min(1)
    assert (near <= 0.010).mean() >= 0.95
    false = np.abs(found[:, None] - times[None]).min(1) > 0.010
    assert false.mean() <= 0.05


def test_silence_a_held_tone_and_a_moment_have_no_hits():
    assert find_hits(np.zeros((RATE, 2))) == []
    assert find_hits(np.zeros((100, 2))) == []
    at = np.arange(4 * RATE) / RATE
    tone = np.repeat((0.3 * np.sin(2 * np.pi * 300 * at) * np.clip(at / 2, 0, 1))[:, None], 2, 1)
    assert len([each for each in find_hits(tone) if 0.5 < each.seconds < 3.9]) == 0


def typed_by(hits, text="HEATH", head=30, length=80, rate=25):
    """A title typed by hits at seconds of a sound that begins at frame 20 of the film, from its frame 10 on."""
    sound = Clip(id="s", track="b", name="s", head=20, length=200, content=Sound(media="m", start=10.0))
    words = Clip(id="t", track="a", name="t", head=head, length=length, content=Text(text=text, size=fixed(60)))
    project = Project(
        settings=Settings(name="f", width=640, height=360, rate=Rate(num=rate)),
        tracks=(Track(id="a", name="a"), Track(id="b", name="b")),
        clips={"s": sound, "t": words},
    )
    project, _ = apply(project, SetHits(clip="s", hits=tuple(SoundHit(at=at) for at in hits)))
    return apply(project, TypeByHits(clip="t", sound="s"))[0]


def there(project, frame):
    """How many letters are seen at a frame of the film."""
    (layer,) = [each for each in evaluate(project, frame).layers if each.clip == "t"]
    letters = layer.steps[0]
    shown = letters.values["shown"] * len(project.clips["t"].content.text.replace("\n", ""))
    return round(shown)


def test_a_letter_is_there_from_the_frame_of_its_hit_on():
    hits = [0.4 + 0.5 + 0.163 * n for n in range(5)]
    project = typed_by(hits)
    # The sound plays from its tenth frame on at frame 20 of the film.
    frames = [math.floor(20 + at * 25 - 10) for at in hits]
    for number, frame in enumerate(frames, 1):
        assert there(project, frame) == number and there(project, frame - 1) == number - 1
    # The frames as they are painted say so too.
    painter = Painter(None)
    pictures = [painter.paint(plan(evaluate(project, at), 640, 360)) for at in range(frames[0] - 1, frames[-1] + 2)]
    ink = [int((picture[..., 0] > 128).sum()) for picture in pictures]
    grown = [at for at, (one, other) in enumerate(zip(ink, ink[1:]), frames[0]) if other > one + 20]
    assert grown == frames


def test_fewer_hits_than_letters_and_more_both_make_sense():
    few = typed_by([1.2, 1.6], text="HEATHER")
    assert [there(few, at) for at in (35, 40, 45, 50, 60)] == [0, 4, 4, 7, 7]
    many = typed_by([1.2 + 0.08 * n for n in range(20)], text="BEE")
    assert [there(many, at) for at in (39, 40, 42, 44, 70)] == [0, 1, 2, 3, 3]
    with pytest.raises(EditError, match="No hit"):
        typed_by([9.9])


def test_what_is_typed_at_a_hit_is_what_is_seen_as_one_letter():
    """A family of seven code points, a letter with two marks, and a flag of two letters, as much as a plain letter."""
    hits = [1.2 + 0.2 * n for n in range(5)]
    project = typed_by(
        hits, text="a\U0001f468\u200d\U0001f469\u200d\U0001f467\u200d\U0001f466e\u0301\u0323\U0001f1e8\U0001f1edb"
    )
    keys = project.clips["t"].steps[0].values["shown"].keys
    assert [(round(key.at), round(key.value * 5, 6)) for key in keys] == [
        (0, 0),
        *((10 + 5 * n, n + 1) for n in range(5)),
    ]
    pictures = [Painter(None).paint(plan(evaluate(project, 40 + 5 * n), 640, 360)) for n in range(5)]
    reach = [int(np.flatnonzero((picture[..., :3].max(2) > 128).any(0)).max()) for picture in pictures]
    # Each hit brings one more of them, and all of it.
    assert all(later > earlier + 8 for earlier, later in zip(reach, reach[1:]))


def test_ends_keys_and_markers_are_drawn_to_hits():
    project = typed_by([1.2, 2.0])
    met = [each.what for each in targets(project, {"t"}, 39.5, 40.5, None)]
    assert "hit of s" in met
    marked, _ = apply(project, SetMarker(marker="m", frame=38, snap=3))
    assert marked.marks.markers[0].frame == 40
    far, _ = apply(marked, SetMarker(marker="m", frame=36, snap=3))
    assert far.marks.markers[0].frame == 36
    # A key of the title two frames from the second hit; its own other keys do not draw it.
    project, _ = apply(project, AddKey(clip="t", step="typed", name="shown", frame=12))
    key = next(key.id for key in project.clips["t"].steps[0].values["shown"].keys if round(key.at) == 12)
    where = {"clip": "t", "step": "typed", "name": "shown", "key": key}
    moved, _ = apply(project, MoveKey(**where, frame=27, snap=3))
    assert 27 in [round(key.at) for key in moved.clips["t"].steps[0].values["shown"].keys]
    shifted, _ = apply(project, SetHits(clip="s", hits=(SoundHit(at=1.8),)))
    drawn, _ = apply(shifted, MoveKey(**where, frame=27, snap=3))
    assert 25 in [round(key.at) for key in drawn.clips["t"].steps[0].values["shown"].keys]
