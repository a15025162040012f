"""Sound files: read into samples at their places, with their peaks; and written again beside a picture."""

import json
import math
import os
import subprocess
import wave
from fractions import Fraction

import av
import numpy as np
import pytest

from idle_comet.core.clock import Rate
from idle_comet.core.edits import SplitClips, apply
from idle_comet.core.motion import Key, Linear, Moving
from idle_comet.core.project.model import Clip, FilmSound, Media, MediaSound, Plain, Project, Settings, Sound, Track
from idle_comet.core.sound import SOUND_RATE, mixed
from idle_comet.media.film import Order, render_film
from idle_comet.media.importing import import_file
from idle_comet.media.probe import MediaError
from idle_comet.media.sounding import SoundFiles, peaks_between, samples_path
from idle_comet.media.soundtrack import wav_head

CODECS = {".wav": "pcm_s24le", ".flac": "flac", ".mp3": "mp3", ".ogg": "flac", ".opus": "libopus", ".m4a": "aac"}


def written(path, codec, rate=44100, layout="stereo", seconds=2.0, hertz=440.0, tone=None):
    """A file with a tone: one that begins after half a second, or the samples that are given."""
    channels = {"mono": 1, "stereo": 2, "5.1": 6}[layout]
    at = np.arange(int(seconds * rate)) / rate
    if tone is None:
        tone = (0.5 * np.sin(2 * np.pi * hertz * at) * (at >= 0.5)).astype(np.float32)
    with av.open(str(path), "w") as out:
        stream = out.add_stream(codec, rate=rate)
        stream.layout = layout
        resampler = av.AudioResampler(stream.codec_context.format, layout, rate)
        frame = av.AudioFrame.from_ndarray(np.tile(tone, (channels, 1)), format="fltp", layout=layout)
        frame.sample_rate, frame.pts, frame.time_base = rate, 0, Fraction(1, rate)
        fifo = av.AudioFifo()
        for each in resampler.resample(frame):
            fifo.write(each)
        size = stream.codec_context.frame_size or 4096
        while (part := fifo.read(size, partial=True)) is not None:
            for packet in stream.encode(part):
                out.mux(packet)
        for packet in stream.encode():
            out.mux(packet)
    return path


@pytest.mark.parametrize("suffix, rate, layout", [
    (".wav", 44100, "stereo"), (".wav", 192000, "mono"), (".flac", 96000, "5.1"), (".mp3", 44100, "stereo"),
    (".ogg", 48000, "stereo"), (".opus", 48000, "mono"), (".m4a", 44100, "stereo"),
])  # fmt: skip
def test_a_sound_is_read_at_its_place(tmp_path, suffix, rate, layout):
    folder = tmp_path / "media"
    folder.mkdir()
    media = import_file(written(tmp_path / f"in{suffix}", CODECS[suffix], rate, layout), f"Hum{suffix}", folder)
    assert media.kind == "sound" and media.sound.rate == (48000 if suffix == ".opus" else rate)
    assert media.sound.seconds == pytest.approx(2.0, abs=0.06)
    found = SoundFiles(lambda _: folder / media.path).samples("m", 0, 2 * SOUND_RATE)
    # It begins where it began, however the file leads in.
    loud = np.abs(found[:, 0]) > 0.1
    assert loud.argmax() / SOUND_RATE == pytest.approx(0.5, abs=0.004)
    middle = found[SOUND_RATE : SOUND_RATE + 4800, 0]
    at = np.arange(SOUND_RATE, SOUND_RATE + 4800) / SOUND_RATE
    part = np.stack([np.sin(2 * np.pi * 440 * at), np.cos(2 * np.pi * 440 * at)], 1)
    (sine, cosine), *_ = np.linalg.lstsq(part, middle, rcond=None)
    assert math.hypot(sine, cosine) > 0.3 and np.abs(middle - part @ (sine, cosine)).max() < 0.02
    low, high = peaks_between(folder / media.path, np.linspace(0, 2, 9)).T
    assert np.abs(low[0]) < 0.02 and high[5] > 0.3 and low[5] < -0.3


def test_more_channels_than_loudspeakers_are_heard_all_the_same(tmp_path):
    """192 kHz, 32 channels: the odd ones left, the even ones right."""
    rate, count = 192_000, 32
    tone = 12_000 * np.sin(2 * np.pi * 440 * np.arange(rate) / rate)
    samples = np.zeros((rate, count), "<i2")
    samples[:, 0::2] = tone[:, None]
    with wave.open(str(tmp_path / "in.wav"), "wb") as out:
        out.setnchannels(count)
        out.setsampwidth(2)
        out.setframerate(rate)
        out.writeframes(samples.tobytes())
    folder = tmp_path / "media"
    folder.mkdir()
    media = import_file(tmp_path / "in.wav", "Many.wav", folder)
    assert (media.sound.rate, media.sound.channels) == (rate, count)
    found = SoundFiles(lambda _: folder / media.path).samples("m", 4800, 4800)
    assert np.abs(found[:, 0]).max() == pytest.approx(12_000 / 32_768, abs=0.01) and np.abs(found[:, 1]).max() < 1e-4


@pytest.mark.parametrize("name, data, why", [
    ("words.wav", b"These are words and no sound at all, whatever the name says.", "not a WAV sound"),
    ("empty.mp3", b"", "is empty"),
    ("broken.mp3", b"ID3\x04\x00\x00\x00\x00\x00\x00" + b"\xff" * 3000, "not added"),
    ("broken.flac", b"fLaC" + bytes(400), "not added"),
])  # fmt: skip
def test_what_is_no_sound_is_refused_and_leaves_nothing(tmp_path, name, data, why):
    folder = tmp_path / "media"
    folder.mkdir()
    (tmp_path / "in").write_bytes(data)
    with pytest.raises(MediaError, match=why):
        import_file(tmp_path / "in", name, folder)
    assert list(folder.iterdir()) == []


@pytest.mark.parametrize("sort, codec", [("aac", "aac"), ("pcm", "pcm_s24le")])
def test_a_film_with_sound_begins_and_ends_with_its_picture(tmp_path, sort, codec):
    """Two segments and a part of a third, read again by ffprobe and by decoding."""
    folder = tmp_path / "media"
    folder.mkdir()
    media = import_file(written(tmp_path / "in.wav", "pcm_s24le", 48000, seconds=6), "Hum.wav", folder)
    media = Media.model_validate(media.model_dump() | {"id": "m"})
    project = Project(
        settings=Settings(name="f", width=64, height=36),
        tracks=(Track(id="p", name="p"), Track(id="s", name="s")),
        media={"m": media},
        clips={
            "p": Clip(id="p", track="p", name="p", head=0, length=125, content=Plain(colour="#808080")),
            "s": Clip(id="s", track="s", name="s", head=20, length=100, content=Sound(media="m")),
        },
    )
    order = Order(0, 125, 64, 36, 30, sort)
    out = tmp_path / f"film.{order.container}"
    render_film(project, None, out, order, sounds=SoundFiles(lambda id: folder / media.path))
    told = subprocess.run(
        ["ffprobe", "-v", "error", "-show_streams", "-of", "json", str(out)], capture_output=True, text=True
    )
    video, audio = json.loads(told.stdout)["streams"]
    assert audio["codec_name"] == codec and audio["channels"] == 2 and float(audio["start_time"]) == 0
    assert float(audio["duration"]) == pytest.approx(float(video["duration"]), abs=0.03) and video["nb_frames"] == "125"
    again = import_file(out, out.name, folder)
    heard = SoundFiles(lambda id: folder / again.path).samples("x", 0, 5 * SOUND_RATE)[:, 0]
    if sort == "pcm":
        # Nothing is lost but what 24 bits can't hold.
        mix = mixed(project, SoundFiles(lambda id: folder / media.path), 0, 5 * SOUND_RATE)[:, 0]
        assert np.abs(heard - mix).max() < 2**-22
    # The tone begins half a second into a sound that begins at frame 20.
    assert (np.abs(heard) > 0.1).argmax() / SOUND_RATE == pytest.approx(20 / 25 + 0.5, abs=0.002)
    last = SOUND_RATE * 5 - 1 - (np.abs(heard[::-1]) > 0.1).argmax()
    assert last / SOUND_RATE == pytest.approx(120 / 25, abs=0.004)
    assert again.sound.seconds == pytest.approx(5.0, abs=0.03)


def test_flash_and_click_stay_together_over_four_minutes(tmp_path):
    """A white frame and a click at the beginning and after four minutes, apart in the file by less than a frame."""
    folder = tmp_path / "media"
    folder.mkdir()
    click = np.zeros(SOUND_RATE // 5, np.int16)
    click[:48] = 20000
    with wave.open(str(tmp_path / "click.wav"), "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(2)
        out.setframerate(SOUND_RATE)
        out.writeframes(click.tobytes())
    media = import_file(tmp_path / "click.wav", "Click.wav", folder).model_copy(update={"id": "m"})
    rate, places = 2, (4, 4 + 240 * 2)
    clips = {}
    for at in places:
        clips[f"p{at}"] = Clip(id=f"p{at}", track="p", name="p", head=at, length=1, content=Plain(colour="#ffffff"))
        clips[f"s{at}"] = Clip(id=f"s{at}", track="s", name="s", head=at, length=1, content=Sound(media="m"))
    project = Project(
        settings=Settings(name="f", width=16, height=16, rate=Rate(num=rate)),
        tracks=(Track(id="p", name="p"), Track(id="s", name="s")),
        media={"m": media},
        clips=clips,
    )
    out = tmp_path / "film.mp4"
    sounds = SoundFiles(lambda id: folder / media.path)
    render_film(project, None, out, Order(0, places[1] + 5, 16, 16, 30), sounds=sounds)
    with av.open(str(out)) as film:
        flashes = [frame.time for frame in film.decode(video=0) if np.frombuffer(frame.planes[0], np.uint8)[0] > 128]
    again = import_file(out, "film.mp4", folder)
    samples = SoundFiles(lambda id: folder / again.path).samples("x", 0, (places[1] + 5) * SOUND_RATE // rate)[:, 0]
    loud = np.flatnonzero(np.abs(samples) > 0.2) / SOUND_RATE
    clicks = [loud[0], loud[loud > 120][0]]
    assert len(flashes) == 2 and np.array(clicks) == pytest.approx(np.array(flashes), abs=0.01)


@pytest.mark.parametrize("pace", [0.25, 0.4, 0.5, 0.8, 1.25, 2.0, 4.0])
def test_at_another_speed_the_pitch_can_stay_as_it_is(tmp_path, monkeypatch, pace):
    """A tone keeps its height and lasts as long as it should; clicks lie where their moments went and are heard once,
    where one part is faded into the next, too."""
    monkeypatch.setattr("idle_comet.media.stretching._PART", 3 * SOUND_RATE)
    at = np.arange(6 * SOUND_RATE) / SOUND_RATE
    tone = 0.1 * np.sin(2 * np.pi * 440 * at)
    clicks = (0.8, 2.1, 3.0, 4.4)
    for click in clicks:
        begin = int(click * SOUND_RATE)
        tone[begin : begin + 96] += 0.7 * np.hanning(96)
    file = tmp_path / "m.wav"
    samples_path(file).write_bytes(np.stack([tone, tone], 1).astype("<f4").tobytes())
    sounds = SoundFiles(lambda _: file)
    found = sounds.stretched("m", pace, 0, round(7 * SOUND_RATE / pace))[:, 0]
    heard = np.flatnonzero(np.abs(found) > 0.05)
    assert heard[-1] / SOUND_RATE == pytest.approx(6 / pace, abs=0.05)
    for click in clicks:
        first = int((click - 0.2) / pace * SOUND_RATE)
        near = np.abs(found[first : int((click + 0.2) / pace * SOUND_RATE)])
        peak = near.argmax()
        assert (first + peak) / SOUND_RATE == pytest.approx((click + 0.001) / pace, abs=0.005)
        apart = np.flatnonzero(near - 0.11 > (near[peak] - 0.11) / 2)
        assert np.abs(apart - peak).max() < 0.01 * SOUND_RATE * max(1, 0.5 / pace)
    part = found[int(1.0 / pace * SOUND_RATE) : int(2.0 / pace * SOUND_RATE)]
    loudest = np.abs(np.fft.rfft(part * np.hanning(len(part)))).argmax()
    assert loudest * SOUND_RATE / len(part) == pytest.approx(440, abs=3)
    # From anywhere it is the same.
    assert (sounds.stretched("m", pace, 5000, 300)[:, 0] == found[5000:5300]).all()


@pytest.mark.parametrize("keeps_pitch", [False, True])
def test_a_sound_whose_speed_moves_is_heard_when_its_moment_is_seen(tmp_path, keeps_pitch):
    """From 100 % to 25 % within two seconds: clicks lie where the integral of the speed says, the tone keeps its level,
    and its height where it should."""
    at = np.arange(12 * SOUND_RATE) / SOUND_RATE
    sound = 0.1 * np.sin(2 * np.pi * 440 * at)
    clicks = np.array([0.5, 1.3, 1.9, 2.2, 2.6])
    for click in clicks:
        begin = int(click * SOUND_RATE)
        sound[begin - 48 : begin + 48] += 0.7 * np.hanning(96)
    file = tmp_path / "m.wav"
    samples_path(file).write_bytes(np.stack([sound, sound], 1).astype("<f4").tobytes())
    speed = Moving(keys=(Key(at=25, value=1, ease=Linear()), Key(at=75, value=0.25)))
    clip = Clip(
        id="s", track="s", name="s", head=10, length=150, content=Sound(media="m", speed=speed, keeps_pitch=keeps_pitch)
    )
    media = Media(id="m", name="m", kind="sound", hash="0" * 64, path="m.wav", width=1, height=1, frames=300,
                  sound=MediaSound(rate=SOUND_RATE, channels=2, seconds=12))  # fmt: skip
    project = Project(
        settings=Settings(name="f", width=64, height=36),
        tracks=(Track(id="s", name="s"),),
        media={"m": media},
        clips={"s": clip},
    )
    heard = mixed(project, SoundFiles(lambda _: file), 0, 7 * SOUND_RATE)[:, 0]
    for click in clicks:
        # From the first key on s = t − 0.1875 t², until it is at a quarter.
        ramp = (1 - math.sqrt(max(0.0, 1 - 0.75 * (click - 1)))) / 0.375
        own = click if click < 1 else 1 + ramp if click < 2.25 else 3 + (click - 2.25) / 0.25
        first = int((0.4 + own - 0.1) * SOUND_RATE)
        peak = np.abs(heard[first : first + SOUND_RATE // 5]).argmax()
        assert (first + peak) / SOUND_RATE == pytest.approx(0.4 + own, abs=0.006)
    late = heard[int(5.0 * SOUND_RATE) : int(6.2 * SOUND_RATE)]
    loudest = np.abs(np.fft.rfft(late * np.hanning(len(late)))).argmax()
    assert loudest * SOUND_RATE / len(late) == pytest.approx(440 if keeps_pitch else 110, abs=3)
    # No hole and no swell where parts meet.
    quiet = heard[int(5.0 * SOUND_RATE) : int(6.2 * SOUND_RATE)].reshape(-1, 1200)
    levels = np.sqrt((quiet**2).mean(1)) * math.sqrt(2)
    assert levels.min() > 0.05 and levels.max() < 0.15
    # Asked for in parts it is the same.
    parts = [mixed(project, SoundFiles(lambda _: file), first, 7000)[:, 0] for first in range(0, 7 * SOUND_RATE, 7000)]
    assert np.abs(np.concatenate(parts)[: len(heard)] - heard).max() < 1e-9


@pytest.mark.parametrize("seconds", [60, 7 * 3600])
def test_a_wav_of_any_length_says_how_long_it_is(tmp_path, seconds):
    """Past 4 GB it is an RF64 file: FFmpeg reads both. Its samples are a hole in the file."""
    count = seconds * 48_000
    path = tmp_path / "film.wav"
    head = wav_head(count)
    path.write_bytes(head)
    os.truncate(path, len(head) + 4 * count)
    with av.open(str(path)) as film:
        (stream,) = film.streams.audio
        assert float(stream.duration * stream.time_base) == pytest.approx(seconds, abs=1e-3)
        assert (stream.rate, stream.channels) == (48_000, 2)


@pytest.mark.parametrize("law", ["0 dB", "-3 dB", "-4.5 dB", "-6 dB"])
def test_a_mono_sound_is_as_loud_on_each_side_as_the_film_s_pan_law_says(tmp_path, law):
    folder = tmp_path / "media"
    folder.mkdir()
    levels = {}
    for layout in ("mono", "stereo"):
        media = import_file(written(tmp_path / f"{layout}.wav", "pcm_s24le", 48000, layout), f"{layout}.wav", folder)
        clip = Clip(id="s", track="s", name="s", head=0, length=50, content=Sound(media="m"))
        project = Project(
            settings=Settings(name="f", sound=FilmSound(pan_law=law)),
            tracks=(Track(id="s", name="s"),),
            media={"m": media},
            clips={"s": clip},
        )
        heard = mixed(project, SoundFiles(lambda _: folder / media.path), SOUND_RATE, 4800)
        levels[layout] = np.abs(heard).max(0)
    assert levels["stereo"] == pytest.approx([0.5, 0.5], abs=1e-3)
    decibels = 20 * np.log10(levels["mono"] / levels["stereo"])
    assert decibels == pytest.approx([float(law.split()[0])] * 2, abs=0.02)


def test_the_halves_of_a_cut_sound_are_heard_as_the_whole(tmp_path):
    """Its gain and its side move across the cut."""
    at = np.arange(4 * SOUND_RATE) / SOUND_RATE
    file = tmp_path / "m.wav"
    samples_path(file).write_bytes(np.stack([np.sin(2000 * at)] * 2, 1).astype("<f4").tobytes())
    ramp = tuple(Key(at=place, value=value, ease=Linear()) for place, value in ((0, -30.0), (40, 0.0), (79, -20.0)))
    pan = tuple(Key(at=place, value=value, ease=Linear()) for place, value in ((0, -1.0), (79, 1.0)))
    content = Sound(media="m", gain=Moving(keys=ramp), pan=Moving(keys=pan), fade_in=6, fade_out=9)
    clip = Clip(id="s", track="s", name="s", head=3, length=80, content=content)
    media = Media(
        id="m", name="m", kind="sound", hash="1" * 64, path="m.wav", width=1, height=1, frames=100,
        sound=MediaSound(rate=48000, channels=2, seconds=4.0),
    )  # fmt: skip
    film = Project(
        settings=Settings(name="f"), tracks=(Track(id="s", name="s"),), media={"m": media}, clips={"s": clip}
    )
    sounds = SoundFiles(lambda _: file)
    whole = mixed(film, sounds, 0, 4 * SOUND_RATE)
    for frame in (5, 31, 43, 80):
        cut, _ = apply(film, SplitClips(clips=("s",), frame=frame, seed="cut"))
        assert np.abs(mixed(cut, sounds, 0, 4 * SOUND_RATE) - whole).max() < 1e-9
