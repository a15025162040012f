"""Long sounds are not kept as samples, and any part of them is heard as when all was decoded."""

import os

import av
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_comet.core.sound import SOUND_RATE
from idle_comet.media import long_sound, sounding
from idle_comet.media.apart import Apart
from idle_comet.media.long_sound import decode_apart, marks_path
from idle_comet.media.probe import MediaError
from idle_comet.media.samples import decoded, origin_of
from idle_comet.media.sounding import SoundFiles, peaks_between, peaks_path, read_sound, samples_path

from .test_sounding import written

SECONDS = 45
KINDS = {
    "wave": (".wav", "pcm_s16le", 44100, "stereo"),
    "flac": (".flac", "flac", 96000, "stereo"),
    "mp3": (".mp3", "mp3", 44100, "stereo"),
    "aac": (".m4a", "aac", 44100, "stereo"),
    "opus": (".webm", "libopus", 48000, "mono"),
    "speech": (".mp3", "mp3", 22050, "mono"),
}


@pytest.fixture
def counts_as_long(monkeypatch):
    monkeypatch.setattr(sounding, "LONG", 20.0)


@pytest.fixture(scope="module")
def files(tmp_path_factory):
    folder, made = tmp_path_factory.mktemp("long"), {}

    def file(kind):
        if kind not in made:
            suffix, codec, rate, layout = KINDS[kind]
            at = np.arange(SECONDS * rate) / rate
            # A sweep that never repeats, with a click each half second.
            tone = 0.4 * np.sin(2 * np.pi * (200 * at + 60 * at * at)) + 0.4 * (at % 0.5 < 0.002)
            made[kind] = written(folder / f"{kind}{suffix}", codec, rate, layout, tone=tone.astype(np.float32))
        return made[kind]

    return file


def from_the_start(file):
    with av.open(str(file)) as container:
        stream = container.streams.audio[0]
        return np.concatenate(list(decoded(container, stream, origin_of(container, stream))))


@pytest.mark.parametrize("kind", KINDS)
def test_any_part_of_a_long_sound_is_what_decoding_all_gives(counts_as_long, files, kind):
    file = files(kind)
    found, whole = read_sound(file), from_the_start(file)
    assert marks_path(file).exists() and not samples_path(file).exists()
    assert marks_path(file).stat().st_size + peaks_path(file).stat().st_size < 0.04 * whole.nbytes
    assert found.seconds == len(whole) / SOUND_RATE
    heard = SoundFiles(lambda _: file)

    @settings(max_examples=12, deadline=None)
    @given(first=st.integers(-5000, len(whole) + 1000), count=st.integers(1, 12 * SOUND_RATE))
    def parts(first, count):
        part = np.zeros((count, 2), np.float32)
        begin, end = max(0, first), min(len(whole), first + count)
        if begin < end:
            part[begin - first : end - first] = whole[begin:end]
        off = np.abs(heard.samples("m", first, count) - part)
        # AAC fills some bands with noise, another one each time.
        assert off.max() <= (0.03 if kind == "aac" else 1e-3) and np.sqrt(np.mean(off**2)) <= 5e-3

    parts()
    edges = np.array([30.0, 30.001, 30.002])
    fine = peaks_between(file, edges)[0]
    part = whole[30 * SOUND_RATE : 30 * SOUND_RATE + 48]
    assert fine == pytest.approx((part.min(), part.max()), abs=1e-3)


def test_a_long_sound_at_another_speed_is_that_of_its_samples(counts_as_long, files, monkeypatch):
    file = files("wave")
    read_sound(file)
    long = SoundFiles(lambda _: file).stretched("m", 1.5, 10 * SOUND_RATE, SOUND_RATE)
    monkeypatch.setattr(sounding, "LONG", 1e6)
    short = file.with_name("short.wav")
    short.write_bytes(file.read_bytes())
    read_sound(short)
    assert samples_path(short).exists()
    kept = SoundFiles(lambda _: short).stretched("m", 1.5, 10 * SOUND_RATE, SOUND_RATE)
    assert np.abs(long - kept).max() <= 5e-3


def test_one_whose_parts_do_not_come_out_the_same_is_kept_as_samples(counts_as_long, files, tmp_path, monkeypatch):
    file = tmp_path / "odd.mp3"
    file.write_bytes(files("mp3").read_bytes())
    monkeypatch.setattr(long_sound, "_EARLIER", -30.0)
    read_sound(file)
    assert samples_path(file).exists() and not marks_path(file).exists()
    assert np.abs(SoundFiles(lambda _: file).samples("m", 0, SOUND_RATE) - from_the_start(file)[:SOUND_RATE]).max() == 0


def test_a_part_that_can_not_be_decoded_any_more_is_said(counts_as_long, files, tmp_path):
    file = tmp_path / "gone.wav"
    file.write_bytes(files("wave").read_bytes())
    read_sound(file)
    file.write_bytes(b"no sound")
    with pytest.raises(MediaError, match="part of its sound"):
        SoundFiles(lambda _: file).samples("m", 0, 10)


def test_parts_are_decoded_by_a_process_apart_where_one_is_named(counts_as_long, files):
    file = files("flac")
    read_sound(file)
    here = SoundFiles(lambda _: file).samples("m", 0, SOUND_RATE)
    with Apart(60) as reader:
        decode_apart(reader.do)
        try:
            long_sound._held.clear()
            assert (SoundFiles(lambda _: file).samples("m", 0, SOUND_RATE) == here).all()
            long_sound._held.clear()
            with pytest.raises(MediaError, match="no reader survives"):
                reader.do = lambda *work: Apart.do(reader, os._exit, 1)
                decode_apart(reader.do)
                SoundFiles(lambda _: file).samples("m", 0, SOUND_RATE)
        finally:
            decode_apart(None)
