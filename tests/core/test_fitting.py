"""Sounds put on what moves: their loudest moment where the motion is fastest, has landed, leaves."""

import numpy as np
import pytest

from idle_comet.core.edits import EditError, MoveClips, PutSoundOn, apply, misfits
from idle_comet.core.moment.hits import motion_hits
from idle_comet.core.motion import Key, Linear, Moving, Strengths, ease_progress
from idle_comet.core.project.model import Media, MediaSound, Step
from idle_comet.core.sound import SOUND_RATE, mixed

from .typed import title


def moving(ease, length=100, arrival=20):
    """A title that comes 400 px from the left, and goes down at its end."""
    film = title("HIVES", length=length, arrival=arrival)
    clip = film.clips["t"]
    x = Moving(keys=(Key(at=0, value=-400, ease=ease), Key(at=20, value=0)))
    y = Moving(keys=(Key(counts_from="tail", at=-19, value=0, ease=Linear()), Key(counts_from="tail", at=0, value=300)))
    step = Step(id="place", kind="placement", values={"x": x, "y": y})
    return film.model_copy(update={"clips": {"t": clip.model_copy(update={"steps": (step,)})}})


@pytest.mark.parametrize(
    "ease", [Strengths(start=0.8, end=0.1), Strengths(start=0.5, end=0.5), Strengths(start=0.2, end=0.9)]
)
def test_the_fastest_moment_is_where_the_ease_is_steepest(ease):
    film = moving(ease)
    found = motion_hits(film, film.clips["t"])
    u = np.linspace(0, 1, 20_001)
    way = np.array([ease_progress(ease, each) for each in u])
    steep = np.gradient(way, u)
    assert found["fastest"] == pytest.approx(20 * u[steep >= 0.999 * steep.max()].mean(), abs=0.5)
    assert found["landed"] == pytest.approx(20 * u[np.searchsorted(way, 0.98)], abs=0.4)
    # A departure at one speed is fastest in its middle.
    assert found["leaving"] == pytest.approx(99 - 19 / 2, abs=1.0) and found["gone"] == pytest.approx(99, abs=0.6)


class Knock:
    """Two seconds of silence with one sample in it."""

    def __init__(self, at):
        self.at = round(at * SOUND_RATE)

    def samples(self, media, first, count):
        n = np.arange(first, first + count)
        return np.repeat((n == self.at).astype(np.float32)[:, None], 2, 1)


def with_sound(film, loudest, seconds=2.0):
    sound = MediaSound(rate=48000, channels=2, seconds=seconds, loudest=loudest)
    media = Media(
        id="m", name="Whoosh", kind="sound", hash="0" * 64, path="m.wav", width=1, height=1, frames=50, sound=sound
    )
    return film.model_copy(update={"media": {"m": media}})


@pytest.mark.parametrize("loudest, hit", [(0.317, "fastest"), (0.02, "landed"), (1.9, "fastest")])
@pytest.mark.parametrize("head", [0, 60])
def test_its_loudest_moment_is_heard_at_the_hit_to_the_sample(loudest, hit, head):
    film = with_sound(moving(Strengths(start=0.5, end=0.5)), loudest)
    film, _ = apply(film, MoveClips(heads={"t": head}))
    film, _ = apply(film, PutSoundOn(new="s", media="m", clip="t"))
    sound, at = film.clips["s"], head + motion_hits(film, film.clips["t"])[hit]
    assert sound.rides == "t" and not misfits(film)
    heard = mixed(film, Knock(loudest), 0, 200 * 1920)
    begins_late = at / 25 < loudest
    if begins_late:
        # What would begin before the film begins with it, cut.
        assert sound.head == 0
    assert heard[:, 0].argmax() == pytest.approx(at * 1920, abs=1) and heard.max() == 1
    # It goes where the title goes.
    moved, _ = apply(film, MoveClips(heads={"t": head + 30}))
    assert moved.clips["s"].head == sound.head + 30


def test_what_does_not_move_is_told():
    film = with_sound(title("HIVES", arrival=0, departure=0), 0.3)
    with pytest.raises(EditError, match="has no arrival that moves"):
        apply(film, PutSoundOn(new="s", media="m", clip="t"))
    with pytest.raises(EditError, match="no sound"):
        apply(film, PutSoundOn(new="s", media="n", clip="t"))
