"""Motion by the hits of a sound, and by how loud it is: to the frame, and against closed forms."""

import numpy as np
import pytest

from idle_comet.core.contents import SoundHit
from idle_comet.core.edits import (
    AddLevel,
    AddStep,
    CascadeByHits,
    DuckSound,
    EditError,
    MoveClips,
    PulseByHits,
    SetMotor,
    SplitClips,
    apply,
)
from idle_comet.core.moment.moment import Moment
from idle_comet.core.motion import SoundLevel
from idle_comet.core.project.model import Clip, Media, MediaSound, Sound, Step, Track
from idle_comet.core.sound import SOUND_RATE, mixed
from idle_comet.core.sound.levels import heard_level
from idle_comet.core.sound.speech import speech

from .test_sound import Tones
from .typed import coloured_frame, edited, title

HITS = (0.48, 0.8, 1.52, 2.04)


def film(words="one two three", hits=HITS, **more):
    made = title(words, "sweep", "sweep", length=100, arrival=10, **more)
    sound = MediaSound(rate=48000, channels=2, seconds=8)
    media = Media(
        id="m", name="m", kind="sound", hash="0" * 64, path="m.wav", width=1, height=1, frames=200, sound=sound
    )
    kept = tuple(SoundHit(at=at) for at in hits)
    clip = Clip(id="s", track="x", name="beat", head=0, length=150, content=Sound(media="m", hits=kept))
    return made.model_copy(
        update={
            "tracks": (*made.tracks, Track(id="x", name="X")),
            "media": {"m": media},
            "clips": {**made.clips, "s": clip},
        }
    )


def columns(project, count):
    """Columns of the picture that each of so many words takes up at rest."""
    seen = np.flatnonzero(coloured_frame(project, 80, 640, 360).max((0, 2)) > 60)
    runs = np.split(seen, np.flatnonzero(np.diff(seen) > 6) + 1)
    assert len(runs) == count
    return runs


def appears(project, count, at):
    """Whether anything of each of so many words is seen."""
    picture = coloured_frame(project, at, 640, 360).max((0, 2))
    return [bool((picture[run] > 60).any()) for run in columns(project, count)]


@pytest.mark.parametrize("head", [0, 7])
def test_words_come_with_their_hits_to_the_frame(head):
    project = edited(film("one  two  three"), MoveClips(heads={"t": head}))
    project = edited(project, CascadeByHits(clip="t", step="s", sound="s", unit="word", on="begins"))
    frames = [12, 20, 38]
    for number, frame in enumerate(frames):
        # The sweep shows nothing in the frame in which it begins, and something in the next.
        assert appears(project, 3, frame)[number] is False
        assert appears(project, 3, frame + 2)[number] is True
    landed = edited(project, CascadeByHits(clip="t", step="s", sound="s", unit="word", on="lands"))
    # Landing on its hit, the second word is all there in that frame.
    there = np.abs(coloured_frame(landed, 20, 640, 360) - coloured_frame(landed, 80, 640, 360)).max((0, 2))
    assert there[columns(landed, 3)[1]].max() < 40


def test_more_words_than_hits_come_several_at_once_and_more_hits_are_left_over():
    few = edited(film("one  two  three  four", hits=HITS[:2]), CascadeByHits(clip="t", step="s", sound="s"))
    assert few.clips["t"].steps[0].units.arrival.times == pytest.approx((12, 12, 20, 20))
    many = edited(film("one  two"), CascadeByHits(clip="t", step="s", sound="s"))
    assert many.clips["t"].steps[0].units.arrival.times == pytest.approx((12, 20))
    with pytest.raises(EditError, match="No hit"):
        apply(film(hits=()), CascadeByHits(clip="t", step="s", sound="s"))


def test_a_value_pulses_with_the_hits():
    project = edited(film(), AddStep(clip="t", at=1, step=Step(id="p", kind="placement")))
    pulse = PulseByHits(clip="t", step="p", name="scale", sound="s", peak=1.5, rise=1, fall=10)
    project = edited(project, pulse)
    at = [Moment(project, frame).value("t", "p", "scale") for frame in range(100)]
    assert [at[frame] for frame in (0, 11, 12, 22, 30, 38, 48, 51, 61)] == pytest.approx(
        [1, 1, 1.5, at[22], 1, 1.5, 1, 1.5, 1], abs=1e-6
    )
    # The second hit comes eight frames after the first: it falls as far as there is time.
    assert at[19] == pytest.approx(1 + 0.5 * 0.3, abs=1e-6) and at[20] == 1.5
    assert all(1 <= each <= 1.5 for each in at)
    cut = edited(project, SplitClips(clips=("t",), frame=30, seed="c"))
    assert Moment(cut, 38).value("c-1", "p", "scale") == pytest.approx(1.5)


def test_a_level_is_the_root_of_the_mean_square_and_its_smoothing_an_exponential():
    n = np.arange(2 * SOUND_RATE)
    low = 0.5 * np.sin(2 * np.pi * 100 * n / SOUND_RATE) * (n < SOUND_RATE)
    high = 0.25 * np.sin(2 * np.pi * 4000 * n / SOUND_RATE)
    samples = np.repeat((low + high)[:, None], 2, 1)
    whole, bass = heard_level(samples), heard_level(samples, 40, 300)
    assert whole.values[25] / 255 == pytest.approx(1, abs=0.02)
    assert whole.values[75] / 255 == pytest.approx(0.25 / np.hypot(0.5, 0.25), abs=0.02)
    assert bass.values[25] > 250 and bass.values[75] < 3
    project = edited(
        film(), AddLevel(clip="s", level=bass), AddStep(clip="t", at=1, step=Step(id="p", kind="placement"))
    )
    motor = SoundLevel(clip="s", attack=0, release=0.2, gain=0.4, offset=1)
    project = edited(project, SetMotor(clip="t", step="p", name="scale", motor=motor))
    value = lambda frame: Moment(project, frame).value("t", "p", "scale")  # noqa: E731
    assert value(12) == pytest.approx(1.4, abs=0.01)
    # From one second on it falls by e within 0.2 s.
    fell = [(value(frame) - 1) / 0.4 for frame in (30, 35)]
    assert fell[1] / fell[0] == pytest.approx(np.exp(-1), abs=0.03)
    with pytest.raises(EditError, match="not measured"):
        apply(project, SetMotor(clip="t", step="p", name="x", motor=SoundLevel(clip="s", band=3)))


def test_speech_is_where_it_is_loud_against_its_own_quiet():
    rng = np.random.default_rng(1)
    n = np.arange(6 * SOUND_RATE)
    voice = np.sin(2 * np.pi * 400 * n / SOUND_RATE) * (0.6 + 0.4 * np.sin(2 * np.pi * 5 * n / SOUND_RATE))
    spoken = ((n > SOUND_RATE) & (n < 2.5 * SOUND_RATE)) | ((n > 4 * SOUND_RATE) & (n < 5 * SOUND_RATE))
    samples = np.repeat((0.3 * voice * spoken + 0.003 * rng.standard_normal(len(n)))[:, None], 2, 1)
    found = np.array(speech(samples))
    assert found == pytest.approx(np.array([[1, 2.5], [4, 5]]), abs=0.12)
    assert speech(np.zeros((SOUND_RATE, 2))) == []


def test_a_bed_goes_down_while_somebody_speaks_and_comes_back():
    project = edited(film(), DuckSound(clip="s", spoken=((1.0, 2.0), (2.5, 3.0)), by=12, down=0.2, back=0.8))
    heard = mixed(project, Tones(), 0, 5 * SOUND_RATE)[:, 0]
    plain = mixed(film(), Tones(), 0, 5 * SOUND_RATE)[:, 0]

    def level(at):
        part = slice(int((at - 0.02) * SOUND_RATE), int((at + 0.02) * SOUND_RATE))
        return 20 * np.log10(np.sqrt((heard[part] ** 2).mean() / (plain[part] ** 2).mean()))

    assert [level(at) for at in (0.5, 1.1, 1.9, 2.3, 2.9, 4.0)] == pytest.approx([0, -12, -12, -12, -12, 0], abs=0.2)
    # Again with another amount it is that amount, not both.
    twice = edited(project, DuckSound(clip="s", spoken=((1.0, 2.0),), by=6))
    assert min(key.value for key in twice.clips["s"].content.gain.keys) == -6
    with pytest.raises(EditError, match="Nobody speaks"):
        apply(film(), DuckSound(clip="s", spoken=((50.0, 51.0),)))
