"""What mixing costs beside real time, track by track; how soon a waveform of an hour is there."""

from __future__ import annotations

import tempfile
import threading
import time
from pathlib import Path

import numpy as np

from idle_comet.core.edits import AddPicture, apply
from idle_comet.core.motion import Key, Moving
from idle_comet.core.project.model import Clip, Media, MediaSound, Project, Settings, Sound, Track, fixed
from idle_comet.core.sound import SOUND_RATE, heard, mixed
from idle_comet.core.sound.mastering import measured
from idle_comet.media.sounding import PEAK, SoundFiles, peaks_between, peaks_path, samples_path
from idle_comet.service.loudness import levels_of
from idle_comet.service.painting import FrameRequest, PainterProcess

from .common import close, demo, in_time, ms, p95

TRACKS, SECONDS = 8, 60


def film(folder: Path, **content) -> tuple[Project, SoundFiles]:
    """A sound on each of some tracks, with a gain that moves, a pan and fades."""
    rng = np.random.default_rng(1)
    samples = (0.1 * rng.standard_normal((SECONDS * 2 * SOUND_RATE, 2))).astype("<f4")
    file = folder / "m.wav"
    samples_path(file).write_bytes(samples.tobytes())
    sound = MediaSound(rate=SOUND_RATE, channels=2, seconds=SECONDS * 2)
    media = Media(
        id="m", name="m", kind="sound", hash="0" * 64, path="m.wav", width=1, height=1, frames=3000, sound=sound
    )
    gain = Moving(keys=(Key(at=0, value=0.0), Key(at=1000, value=-12.0)))
    tracks = tuple(Track(id=f"t{number}", name=f"T{number}", gain=-3) for number in range(TRACKS))
    clips = {
        track.id: Clip(
            id=track.id,
            track=track.id,
            name=track.id,
            head=number,
            length=SECONDS * 25,
            content=Sound(media="m", start=number * 7.0, gain=gain, pan=fixed(0.2), fade_in=50, fade_out=50, **content),
        )
        for number, track in enumerate(tracks)
    }
    project = Project(settings=Settings(name="sound"), tracks=tracks, media={"m": media}, clips=clips)
    return project, SoundFiles(lambda _: file)


def spent(project: Project, sources: SoundFiles, work=mixed) -> float:
    """CPU seconds of mixing a minute, a second at a time as it is played."""
    began = time.process_time()
    for second in range(SECONDS):
        work(project, sources, second * SOUND_RATE, SOUND_RATE)
    return time.process_time() - began


def late_frames(heard_beside: bool) -> tuple[int, float]:
    """Of ten seconds of the demo as played at 640×360: frames later than their moment, and painting's p95; with or
    without its sound being mixed and measured meanwhile, stretch by stretch, as the Desk asks for it."""
    project, folder, _ = demo()
    for id, head in (("bed", 0), ("voice", 20), ("air", 0)):
        project, _ = apply(project, AddPicture(clip=id, frame=head, media=id))
    sources = SoundFiles(lambda media: folder / project.media[media].path)
    painter = PainterProcess(folder)
    painter.paint("demo", 0, project, FrameRequest(0, 640, 360, False, 82))
    over = threading.Event()

    def hear() -> None:
        for first in range(0, 250, 50):
            heard(project, sources, first * 1920, 50 * 1920)
            levels_of(project, sources, first, 50)
            if over.wait(2):
                return

    if heard_beside:
        threading.Thread(target=hear, daemon=True).start()
    late, waits = in_time(
        range(250), lambda number: painter.paint("demo", 0, project, FrameRequest(number, 640, 360, False, 82)).seconds
    )
    over.set()
    painter.stop()
    return late, p95(waits)


def run() -> bool:
    silent, sounding = late_frames(False), late_frames(True)
    print(f"late frames {silent[0]} without sound, {sounding[0]} with it; p95 {ms(silent[1])} and {ms(sounding[1])}")
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        project, sources = film(folder)
        spent(project, sources)
        plain = spent(project, sources) / SECONDS / TRACKS
        whole = spent(project, sources, heard) / SECONDS
        fast, sources_of = film(folder, speed=1.25)
        mixed(fast, sources_of, 0, SOUND_RATE)
        paced = spent(fast, sources_of) / SECONDS / TRACKS
        began = time.process_time()
        measured(project, sources, SECONDS * SOUND_RATE)
        loudness = (time.process_time() - began) / SECONDS
        hour = folder / "hour.wav"
        np.save(peaks_path(hour), np.random.default_rng(2).uniform(-1, 1, (3600 * SOUND_RATE // PEAK, 2)).astype("f4"))
        began = time.perf_counter()
        for begin, end in ((0, 3600), (900, 1800), (1000, 1060)):
            peaks_between(hour, begin, end, 2000)
        drawn = (time.perf_counter() - began) / 3
    print(f"{TRACKS} tracks: {100 * plain:.2f} % of real time a track, {100 * paced:.2f} % at another speed;")
    print(f"with gain and ceiling {100 * whole:.1f} % for the film, measuring it {100 * loudness:.1f} %, all CPU")
    print(f"a waveform of an hour is there in {drawn:.3f} s")
    figures = [
        ("real time a track", 100 * plain, 1.0),
        ("seconds of a waveform", drawn, 1.0),
        ("more frames late with sound", max(0, sounding[0] - silent[0]), 0),
    ]
    return close("sound", figures)
