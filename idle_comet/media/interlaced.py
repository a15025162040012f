"""Interlaced footage: two half pictures of two moments in one frame, made into one picture of one moment."""

from __future__ import annotations

from typing import Iterator

import av
from av.filter import Graph


def is_interlaced(frame: av.VideoFrame) -> bool:
    return bool(frame.interlaced_frame)


def deinterlaced(frames: Iterator[tuple[int, av.VideoFrame]], stream) -> Iterator[tuple[int, av.VideoFrame]]:
    """The same frames with their first field filled in from it and its neighbours (FFmpeg's bwdif), at the same
    times."""
    graph = Graph()
    source, weave, sink = (
        graph.add_buffer(template=stream),
        graph.add("bwdif", "mode=send_frame:parity=auto:deint=all"),
        graph.add("buffersink"),
    )
    source.link_to(weave)
    weave.link_to(sink)
    graph.configure()
    waiting: list[int] = []

    def drawn() -> Iterator[tuple[int, av.VideoFrame]]:
        while True:
            try:
                frame = graph.pull()
            except (av.BlockingIOError, av.EOFError):
                return
            # The filter counts in a time base of its own; its frames come in order.
            yield waiting.pop(0), frame

    for at, frame in frames:
        waiting.append(at)
        graph.push(frame)
        yield from drawn()
    graph.push(None)
    yield from drawn()
