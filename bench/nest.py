"""A film whose clips are gathered three groups deep, against the same film flat: evaluated, planned and painted."""

from __future__ import annotations

from idle_comet.core.compose import Painter, evaluate, plan
from idle_comet.core.edits import GatherClips, apply

from .common import close, demo, ms, p50, timed

_DEEP = 3


def run() -> bool:
    flat, _, sources = demo()
    nested = flat
    for number in range(_DEEP):
        own = tuple(
            clip.id
            for clip in nested.clips.values()
            if next(track for track in nested.tracks if track.id == clip.track).within is None
        )
        nested, _ = apply(nested, GatherClips(clips=own, group=f"deep-{number}"))
    painters = {"flat": Painter(sources), "nested": Painter(sources)}
    spent: dict[str, list[float]] = {"flat": [], "nested": []}
    for frame in range(25, 145):
        # They take turns, each first every other time: what the shot's reader has at hand is for both.
        turns = [("flat", flat), ("nested", nested)][:: 1 if frame % 2 else -1]
        for name, film in turns:
            spent[name].append(timed(lambda: painters[name].paint(plan(evaluate(film, frame), 1280, 720))))
    print(f"flat p50 {ms(p50(spent['flat']))}, {_DEEP} groups deep p50 {ms(p50(spent['nested']))}")
    return close("nest", [("nested against flat", p50(spent["nested"]) / p50(spent["flat"]), 1.1)])
