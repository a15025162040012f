"""What is heard of a film: every sound at its place, its level, its fades."""

import math
from fractions import Fraction

import numpy as np
import pytest
from scipy import signal

from idle_comet.core.clock import Rate
from idle_comet.core.compose import evaluate
from idle_comet.core.edits import (
    AddPicture,
    ChangeTrack,
    EditError,
    GatherClips,
    PartSound,
    SetFades,
    SetKeepsPitch,
    SetMuted,
    SetSpeed,
    SplitClips,
    TrimClip,
    apply,
)
from idle_comet.core.motion import Key, Linear, Moving
from idle_comet.core.project.model import (
    Clip,
    Footage,
    Media,
    MediaSound,
    Project,
    Settings,
    Sound,
    Track,
    Transition,
    fixed,
)
from idle_comet.core.sound import SOUND_RATE, heard_at, mixed
from idle_comet.core.sound.mixing import faded, samples_of

TONE = 997.0


class Tones:
    """A tone left and another right, from the first sample of any media on, for as many seconds as it lasts."""

    def __init__(self, seconds=20.0):
        self.last = int(seconds * SOUND_RATE)

    def samples(self, media, first, count):
        n = np.arange(first, first + count)
        there = ((n >= 0) & (n < self.last))[:, None]
        return (tone(n) * there).astype(np.float32)

    def stretched(self, media, pace, first, count):
        return self.samples(media, first, count)


def tone(n, pace=1.0):
    at = n * pace / SOUND_RATE
    return np.stack([0.5 * np.sin(2 * np.pi * TONE * at), 0.25 * np.cos(2 * np.pi * 440 * at)], 1)


def film(*clips, rate=25, den=1):
    sound = MediaSound(rate=44100, channels=2, seconds=20)
    media = Media(id="m", name="m", kind="sound", hash="0" * 64, path="m.wav", width=1, height=1, frames=500)
    shot = Media(id="v", name="v", hash="1" * 64, path="v.mp4", width=64, height=36, frames=500)
    return Project(
        settings=Settings(name="f", width=320, height=180, rate=Rate(num=rate, den=den)),
        tracks=(Track(id="a", name="a"), Track(id="b", name="b")),
        media={each.id: each.model_copy(update={"sound": sound}) for each in (media, shot)},
        clips={clip.id: clip for clip in clips},
    )


def sound(id="s", head=10, length=100, track="a", **content):
    return Clip(id=id, track=track, name=id, head=head, length=length, content=Sound(media="m", **content))


def level(part, whole):
    """How far below a signal an error lies, dB."""
    return 20 * math.log10(np.sqrt((part**2).mean()) / np.sqrt((whole**2).mean()) + 1e-30)


@pytest.mark.parametrize("rate, den", [(25, 1), (24000, 1001), (60, 1)])
def test_a_sound_begins_on_its_frame_to_the_sample(rate, den):
    project = film(sound(start=12.0), rate=rate, den=den)
    begins, source = (samples_of(frames, Fraction(rate, den)) for frames in (10, 12))
    out = mixed(project, Tones(), 0, begins + 5000)
    assert np.abs(out[:begins]).max() == 0
    assert np.abs(out[begins:] - tone(np.arange(5000) + source)).max() < 1e-7
    # The same wherever one begins to mix.
    assert (mixed(project, Tones(), begins + 777, 900) == out[begins + 777 : begins + 1677]).all()
    ends = samples_of(110, Fraction(rate, den))
    assert np.abs(mixed(project, Tones(), ends, 100)).max() == 0


@pytest.mark.parametrize("pace", [0.5, 0.97, 1.5, 3.7])
def test_at_another_speed_it_is_the_tone_of_another_pitch(pace):
    project = film(sound(start=50.0, speed=pace))
    out = mixed(project, Tones(), 20 * 1920, 4800)
    wanted = tone((np.arange(4800) + 10 * 1920) + 50 * 1920 / pace, pace)
    assert level(out - wanted, wanted) < -80


def test_what_a_faster_sound_can_no_longer_hold_is_not_folded_back():
    class High(Tones):
        def samples(self, media, first, count):
            return np.repeat(np.sin(2 * np.pi * 15_000 * np.arange(first, first + count) / SOUND_RATE)[:, None], 2, 1)

    out = mixed(film(sound(speed=2.0)), High(), 20 * 1920, 9600)
    # SciPy's own resampling agrees: 30 kHz is more than 48 kHz hold.
    there = signal.resample_poly(High().samples("m", 0, 19200)[:, 0], 1, 2)[2000:-2000]
    assert np.abs(out).max() < 1e-4 and np.abs(there).max() < 1e-2


def test_gain_fades_and_pan_are_their_closed_forms():
    keys = (Key(at=0, value=0, ease=Linear()), Key(at=50, value=-20))
    project = film(sound(gain=Moving(keys=keys), pan=fixed(0.5), fade_in=10, fade_out=20))
    n = np.arange(100 * 1920)
    out = mixed(project, Tones(), 10 * 1920, len(n))
    frame = n / 1920
    whole = np.floor(frame)
    at = [10 ** (-20 * np.clip(each / 50, 0, 1) / 20) for each in (frame, whole, whole + 1)]
    fade = np.sin(np.clip(frame / 10, 0, 1) * np.pi / 2) * np.sin(np.clip((100 - frame) / 20, 0, 1) * np.pi / 2)
    wanted = tone(n) * (fade * at[0])[:, None] * [math.cos(0.5 * math.pi / 2), 1]
    assert np.abs(out - wanted).max() < 1e-6
    # Two that cross over one fade have one power.
    over = np.linspace(0, 10, 50)
    up, down = (
        faded(over, length, Sound(media="m", **fade))
        for length, fade in ((90, {"fade_in": 10}), (10, {"fade_out": 10}))
    )
    assert up**2 + down**2 == pytest.approx(np.ones(50))
    # Along an ease it is that ease.
    eased, _ = apply(project, SetFades(clips=("s",), fade_in_ease=Linear()))
    assert faded(over, 90, eased.clips["s"].content) == pytest.approx(over / 10)


def test_all_that_is_heard_is_heard_together_and_nothing_else():
    shot = Clip(id="v", track="b", name="v", head=0, length=200, content=Footage(media="v", start=5.0))
    project = film(sound(), shot)
    assert [each.clip.id for each in heard_at(project)] == ["v", "s"]
    both = mixed(project, Tones(), 20 * 1920, 1000)
    wanted = tone(np.arange(1000) + 10 * 1920) + tone(np.arange(1000) + 25 * 1920)
    assert np.abs(both - wanted).max() < 1e-6
    muted, _ = apply(project, SetMuted(clips=("v",), muted=True))
    assert [each.clip.id for each in heard_at(muted)] == ["s"]
    alone = film(sound(), sound("t", track="b").model_copy(update={"seen": "alone"}))
    assert [each.clip.id for each in heard_at(alone)] == ["t"]
    hidden = project.model_copy(update={"tracks": (Track(id="a", name="a", hidden=True), Track(id="b", name="b"))})
    assert [each.clip.id for each in heard_at(hidden)] == ["v"]
    # A sound is not seen, and one heard alone hides no picture.
    solo, _ = apply(film(shot), AddPicture(clip="s", frame=0, media="m"))
    solo = solo.model_copy(update={"clips": {**solo.clips, "s": solo.clips["s"].model_copy(update={"seen": "alone"})}})
    assert [layer.clip for layer in evaluate(solo, 30).layers] == ["v"]
    assert solo.tracks[-1].name == "Sound" and solo.clips["s"].track == solo.tracks[-1].id


def test_cut_trimmed_parted_and_gathered_it_sounds_as_before():
    shot = Clip(id="v", track="b", name="v", head=10, length=100, content=Footage(media="v", start=5.0))
    project = film(shot)
    before = mixed(project, Tones(), 0, 120 * 1920)
    cut, _ = apply(project, SplitClips(clips=("v",), frame=60, seed="cut"))
    parted, _ = apply(cut, PartSound(clips=("v", "cut-1"), seed="own"))
    assert parted.clips["own-1"].rides == "v" and parted.clips["v"].content.muted
    assert [each.clip.id for each in heard_at(parted)] == ["own-1", "own-2"]
    gathered, _ = apply(parted, GatherClips(clips=("own-1", "own-2"), group="g"))
    for each in (cut, parted, gathered):
        assert np.abs(mixed(each, Tones(), 0, 120 * 1920) - before).max() < 1e-9
    # A group at half its speed is heard at half its speed, here with the pitch going with it.
    low, _ = apply(gathered, SetKeepsPitch(clips=("own-1", "own-2"), keeps=False))
    slow, _ = apply(low, SetSpeed(clip="g", speed=0.5, keep="length"))
    out = mixed(slow, Tones(), 30 * 1920, 2000)
    wanted = tone(np.arange(2000) + 20 * 1920 + 10 * 1920, 0.5)
    assert level(out - wanted, wanted) < -80
    trimmed, _ = apply(project, TrimClip(clip="v", head=30, length=50))
    assert np.abs(mixed(trimmed, Tones(), 30 * 1920, 50 * 1920) - before[30 * 1920 : 80 * 1920]).max() < 1e-9


@pytest.mark.parametrize("at", [14, 60, 95])
def test_a_faded_sound_that_is_cut_goes_on_as_it_was_and_is_faded_anew(at):
    """Within its first fade, between the two, within the last."""
    project = film(sound(fade_in=10, fade_out=20))
    before = mixed(project, Tones(), 0, 120 * 1920)
    cut, _ = apply(project, SplitClips(clips=("s",), frame=at, seed="cut"))
    again, _ = apply(cut, SplitClips(clips=("cut-1",), frame=at + 3, seed="more"))
    for each in (cut, again):
        assert np.abs(mixed(each, Tones(), 0, 120 * 1920) - before).max() < 1e-9
    anew, _ = apply(cut, SetFades(clips=("cut-1",), fade_in=5))
    assert np.abs(mixed(anew, Tones(), at * 1920, 1)).max() == 0


def test_a_sound_dropped_on_an_empty_track_lies_there():
    project, _ = apply(film(), AddPicture(clip="s", frame=0, media="m", track="a"))
    assert project.clips["s"].track == "a" and len(project.tracks) == 2


def test_what_does_not_fit_is_refused():
    project = film(sound())
    for edit, why in (
        (SetFades(clips=("s",), fade_in=300), "so long a fade"),
        (SetSpeed(clip="s", speed=-1), "10 % to 1000 %"),
        (TrimClip(clip="s", head=0, length=5000), "earlier frames"),
        (PartSound(clips=("s",), seed="x"), "no sound of its own"),
        (AddPicture(clip="n", frame=0, media="m", first=9000), "nothing to place"),
    ):
        with pytest.raises(EditError, match=why):
            apply(project, edit)


@pytest.mark.parametrize("kind", [Footage, Sound])
def test_under_a_dissolve_two_sounds_cross_with_one_power(kind):
    media = "v" if kind is Footage else "m"
    one = Clip(id="one", track="a", name="one", head=0, length=50, content=kind(media=media, start=20.0))
    other = one.model_copy(
        update={"id": "other", "head": 50, "opening": Transition(length=20), "content": kind(media=media, start=100.0)}
    )
    project = film(one, other)
    samples = np.arange(70 * 1920)
    out = mixed(project, Tones(), 0, len(samples))
    u = np.clip((samples / 1920 - 40) / 20, 0, 1)[:, None]
    wanted = tone(samples + 20 * 1920) * np.cos(u * np.pi / 2) + tone(samples + 50 * 1920) * np.sin(u * np.pi / 2)
    assert np.abs(out - wanted).max() < 1e-6


def test_tracks_have_a_gain_are_muted_and_heard_alone():
    shot = Clip(id="v", track="b", name="v", head=0, length=200, content=Footage(media="v", start=5.0))
    project = film(sound(), shot)
    softer, _ = apply(project, ChangeTrack(track="b", gain=-6))
    out = mixed(softer, Tones(), 20 * 1920, 1000)
    wanted = tone(np.arange(1000) + 10 * 1920) + tone(np.arange(1000) + 25 * 1920) * 10 ** (-6 / 20)
    assert np.abs(out - wanted).max() < 1e-6
    for change, left in (({"muted": True}, ["s"]), ({"alone": True}, ["v"]), ({"gain": -96}, ["s"])):
        changed, _ = apply(project, ChangeTrack(track="b", **change))
        assert [each.clip.id for each in heard_at(changed)] == left
        assert [layer.clip for layer in evaluate(changed, 30).layers] == ["v"]


def test_a_cut_sound_keeps_its_fades_in_time_when_its_cut_is_trimmed():
    project, _ = apply(film(sound(head=0, fade_in=20)), SplitClips(clips=("s",), frame=8, seed="c"))
    whole = mixed(film(sound(head=0, fade_in=20)), Tones(), 0, 60 * 1920)
    for head in (4, 8, 12):
        trimmed, _ = apply(project, TrimClip(clip="s", head=0, length=min(8, head)))
        trimmed, _ = apply(trimmed, TrimClip(clip="c-1", head=head, length=100 - head))
        out = mixed(trimmed, Tones(), head * 1920, 30 * 1920)
        assert np.abs(out - whole[head * 1920 : (head + 30) * 1920]).max() < 1e-6
