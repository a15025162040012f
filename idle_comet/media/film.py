"""Rendering frames of a project, one or many, to files. The one path for export and command line.

A film is rendered in segments of fixed length that begin with a whole picture, then joined
without encoding again. Segments already there are kept, so that a film that was interrupted
goes on where it was and comes out the same.
"""

from __future__ import annotations

import os
import shutil
import time
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Callable

import av
import numpy as np

from ..core.compose import Painter, Sources, evaluate, plan
from ..core.project.model import Project
from ..core.sound import SoundSources
from ..core.sound.mixing import samples_of
from ..disk import put
from .encode import FilmWriter
from .probe import MediaError, probe
from .soundtrack import SoundFormat, SoundTrack, blocks, has_sound, wav_head, wav_part
from .transparent import (
    ALPHA_FORMATS,
    AlphaKind,
    AlphaWriter,
    FilmFormat,
    LosslessWriter,
    PngWriter,
    count_of,
    lossless,
)

SEGMENT = 50
"""Frames in a segment."""


@dataclass(frozen=True, slots=True)
class Order:
    """A film to be made: frames [first, first + frames), px, the encoder's crf, and how its sound is written: as AAC in
    MP4, or as PCM of 24 bits in QuickTime.

    In a `format` other than H.264 it is painted over nothing (or over a plain `ground`), its colours as they are
    ("straight") or multiplied by their alpha."""

    first: int
    frames: int
    width: int
    height: int
    crf: float = 16
    sound: SoundFormat = "aac"
    format: FilmFormat = "h264"
    alpha: AlphaKind = "straight"
    ground: str | None = None
    draft: bool = False
    """Whether it is painted as light pictures are, to be judged and not to be shown."""

    def as_draft(self) -> "Order":
        """The same in draft quality, half as wide and as high."""
        half = [max(16, 2 * round(side / 4)) for side in (self.width, self.height)]
        return replace(self, width=half[0], height=half[1], draft=True)

    @property
    def preset(self) -> str:
        """The encoder's preset: a draft takes the quicker one."""
        return "superfast" if self.draft else "veryfast"

    @property
    def container(self) -> str:
        return "mov" if self.sound == "pcm" else "mp4"

    @property
    def suffix(self) -> str:
        return f".{self.container}" if self.format == "h264" else ALPHA_FORMATS[self.format].suffix

    @property
    def segments(self) -> range:
        return range(-(-self.frames // SEGMENT))

    def span(self, segment: int) -> range:
        """The film's frame numbers of a segment."""
        begin = self.first + segment * SEGMENT
        return range(begin, min(begin + SEGMENT, self.first + self.frames))


def paint_frame(
    painter: Painter, project: Project, frame: int, width: int, height: int, exact: bool = True
) -> np.ndarray:
    """One frame at a size, (height, width, 4) uint8."""
    return painter.paint(plan(evaluate(project, frame), width, height, exact))


def paint_clear(painter: Painter, project: Project, frame: int, order: Order) -> np.ndarray:
    """One frame of a film with transparency, (height, width, 4) uint8 premultiplied."""
    scene = evaluate(project, frame)._replace(background=order.ground)
    return painter.paint(plan(scene, order.width, order.height, not order.draft))


def segment_path(folder: Path, segment: int, order: Order | None = None) -> Path:
    return folder / f"{segment:06d}.{'mkv' if order is not None and order.format != 'h264' else 'mp4'}"


def render_segment(
    project: Project,
    painter: Painter,
    order: Order,
    segment: int,
    folder: Path,
    threads: int,
    progress: Callable[[int], None] = lambda more: None,
) -> None:
    """Render one segment into its folder unless it is there; `progress` is told of frames as they are done."""
    target, span = segment_path(folder, segment, order), order.span(segment)
    if target.exists():
        progress(len(span))
        return
    unfinished = target.with_suffix(f".{os.getpid()}.part")
    if order.format != "h264":
        with LosslessWriter(unfinished, order.width, order.height, project.settings.rate.fraction) as kept:
            for frame in span:
                kept.write(paint_clear(painter, project, frame, order))
                progress(1)
        put(unfinished, target)
        return
    with FilmWriter(
        unfinished, order.width, order.height, project.settings.rate.fraction, order.crf, order.preset, threads
    ) as film:
        for frame in span:
            film.write(paint_frame(painter, project, frame, order.width, order.height, not order.draft))
            progress(1)
    put(unfinished, target)


_LOOKED_AT = (1 / 6, 1 / 2, 5 / 6)
"""Where in a film frames are painted to tell how long all of it takes."""


def seconds_a_frame(project: Project, painter: Painter, order: Order, folder: Path, most: float = 8.0) -> float:
    """How long a frame of an order takes to be painted and written, in one process, by frames of it that are. Each is
    painted after the one before it, as they are when all are made. No new one is begun after `most` seconds."""
    began, spent = time.monotonic(), []
    unfinished = folder / f".{os.getpid()}.estimate.mp4"
    size, rate = (order.width, order.height), project.settings.rate.fraction
    try:
        with FilmWriter(unfinished, *size, rate, order.crf, order.preset, threads=1) as film:
            for share in _LOOKED_AT:
                frame = order.first + min(order.frames - 1, round(share * order.frames))
                paint_frame(painter, project, max(order.first, frame - 1), *size, not order.draft)
                at = time.monotonic()
                film.write(paint_frame(painter, project, frame, *size, not order.draft))
                spent.append(time.monotonic() - at)
                if time.monotonic() - began > most:
                    break
        return sum(spent) / len(spent)
    finally:
        unfinished.unlink(missing_ok=True)


def concatenate(
    folder: Path, order: Order, path: Path, project: Project | None = None, sounds: SoundSources | None = None
) -> None:
    """Join all segments into the film at `path`: beside its place first, checked, then renamed. Where the project is
    told, with what is heard of it."""
    unfinished = path.with_name(f".{path.name}.part")
    if order.format != "h264":
        assert project is not None
        return _clear(folder, order, path, unfinished, project, sounds)
    try:
        with av.open(str(unfinished), "w", format=order.container, options={"movflags": "+faststart"}) as out:
            stream, track, done = None, None, 0
            for segment in order.segments:
                with av.open(str(segment_path(folder, segment))) as part:
                    source = part.streams.video[0]
                    if stream is None:
                        stream = out.add_stream_from_template(source)
                        stream.time_base = source.time_base
                        if project is not None and sounds is not None and has_sound(project, order.first, order.frames):
                            track = SoundTrack(out, project, sounds, order.sound)
                    shift = round(done / source.average_rate / source.time_base)
                    for packet in part.demux(source):
                        if packet.dts is None:
                            continue
                        packet.pts += shift
                        packet.dts += shift
                        packet.stream = stream
                        out.mux(packet)
                    span = order.span(segment)
                    done += len(span)
                    if track is not None:
                        track.add(span.start, len(span))
            if track is not None:
                track.end()
        found = probe(unfinished)
        if (found.frames, found.width, found.height) != (order.frames, order.width, order.height):
            raise MediaError(
                f"The film came out wrong ({found.frames} frames of {found.width}×{found.height}); it was not kept."
            )
        put(unfinished, path)
    finally:
        unfinished.unlink(missing_ok=True)


def _clear(
    folder: Path, order: Order, path: Path, unfinished: Path, project: Project, sounds: SoundSources | None
) -> None:
    """All segments of a film with transparency, written in its format."""
    form, rate = ALPHA_FORMATS[order.format], project.settings.rate.fraction
    heard = sounds if sounds is not None and has_sound(project, order.first, order.frames) else None
    try:
        if order.format == "png":
            with PngWriter(unfinished, order.first, order.alpha) as pictures:
                for segment in order.segments:
                    for rgba in lossless(segment_path(folder, segment, order)):
                        pictures.write(rgba)
                if heard is not None:
                    count = samples_of(order.first + order.frames, rate) - samples_of(order.first, rate)
                    parts = (wav_part(block) for block in blocks(project, heard, order.first, order.frames))
                    pictures.sound(wav_head(count) + b"".join(parts))
            found, size = count_of(unfinished), (order.width, order.height)
        else:
            with av.open(str(unfinished), "w", format=form.container) as out:
                writer = AlphaWriter(out, form, order.width, order.height, rate, order.alpha)
                track = SoundTrack(out, project, heard, form.sound) if heard is not None else None
                for segment in order.segments:
                    for rgba in lossless(segment_path(folder, segment, order)):
                        writer.write(rgba)
                    if track is not None:
                        span = order.span(segment)
                        track.add(span.start, len(span))
                writer.end()
                if track is not None:
                    track.end()
            told = probe(unfinished)
            found, size = told.frames, (told.width, told.height)
        if (found, *size) != (order.frames, order.width, order.height):
            raise MediaError(f"The film came out wrong ({found} frames of {size[0]}×{size[1]}); it was not kept.")
        put(unfinished, path)
    finally:
        unfinished.unlink(missing_ok=True)


def render_film(
    project: Project,
    sources: Sources,
    path: Path,
    order: Order,
    progress: Callable[[int], None] = lambda done: None,
    sounds: SoundSources | None = None,
) -> None:
    """Render a whole film in this process, with its sound where `sounds` are given; `progress` is told how many frames
    are done."""
    folder = path.with_name(f".{path.name}.segments")
    folder.mkdir(parents=True, exist_ok=True)
    painter, done = Painter(sources), 0

    def more(frames: int) -> None:
        nonlocal done
        done += frames
        progress(done)

    try:
        for segment in order.segments:
            render_segment(project, painter, order, segment, folder, 0, more)
        concatenate(folder, order, path, project, sounds)
    finally:
        shutil.rmtree(folder, ignore_errors=True)
