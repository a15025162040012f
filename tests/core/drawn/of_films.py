"""Edits of tracks, marks, sound, captions and the film itself."""

from hypothesis import strategies as st

from idle_comet.core import edits as e
from idle_comet.core.clock import Rate
from idle_comet.core.contents.caption import SpokenWord
from idle_comet.core.project.model import FilmSound, Media, Track

from .parts import eases, frames, inside, recipes, seed, some_shots, styles, texts, titles, tracks

DRAWN = {
    e.AddMedia: st.builds(
        e.AddMedia,
        media=st.builds(
            Media,
            id=st.sampled_from(["copy", "more"]),
            name=st.just("Jar"),
            kind=st.just("still"),
            hash=st.just("0" * 64),
            path=st.just(f"{'0' * 64}.png"),
            width=st.just(640),
            height=st.just(360),
            frames=st.just(1),
        ),
    ),
    e.AddTrack: st.builds(
        e.AddTrack,
        track=st.sampled_from([Track(id="above", name="Above"), Track(id="more", name="Again")]),
        at=st.integers(0, 4),
    ),
    e.ChangeSettings: st.builds(
        e.ChangeSettings,
        name=st.text(min_size=1, max_size=20),
        width=st.none() | st.just(640),
        rate=st.none() | st.just(Rate(num=30)),
    ),
    e.ChangeTrack: st.builds(
        e.ChangeTrack,
        track=tracks,
        hidden=st.none() | st.booleans(),
        locked=st.none() | st.booleans(),
        name=st.none() | st.just("Up"),
        height=st.none() | st.integers(0, 240),
        muted=st.none() | st.booleans(),
        alone=st.none() | st.booleans(),
        gain=st.none() | st.floats(-96, 24),
        language=st.none() | st.sampled_from(["de", "en-GB"]),
    ),
    e.MoveTrack: st.builds(e.MoveTrack, track=tracks, to=st.integers(0, 3)),
    e.RemoveMarker: st.builds(e.RemoveMarker, marker=st.sampled_from(["m1", "m2"])),
    e.RemoveTrack: st.builds(e.RemoveTrack, track=tracks),
    e.PartSound: st.builds(e.PartSound, clips=some_shots, seed=seed),
    e.SetFades: st.builds(
        e.SetFades,
        clips=st.lists(st.sampled_from(["hum", "hum", "title"]), min_size=1, max_size=2).map(tuple),
        fade_in=st.none() | st.integers(0, 300),
        fade_out=st.none() | st.integers(0, 90),
        fade_in_ease=st.none() | st.just("equal-power") | eases,
    ),
    e.SetKeepsPitch: st.builds(e.SetKeepsPitch, clips=some_shots, keeps=st.booleans()),
    e.AddCaptions: st.builds(
        e.AddCaptions,
        seed=st.sampled_from(["cap", "said"]),
        frame=st.floats(0, 200),
        rides=st.none() | st.sampled_from(["hum", "gone"]),
        cues=st.lists(
            st.builds(
                e.GivenCue,
                begin=st.integers(0, 5000),
                end=st.integers(0, 6000),
                text=texts,
                words=st.lists(
                    st.builds(SpokenWord, text=st.just("bees"), begin=st.floats(0, 1), end=st.floats(1, 2)), max_size=3
                ).map(tuple),
            ),
            min_size=1,
            max_size=4,
        ).map(tuple),
    ),
    e.StyleCaptions: st.builds(
        e.StyleCaptions, track=st.sampled_from(["spoken", "titles", "over", "nowhere"]), recipe=recipes
    ),
    e.DuckSound: st.builds(
        e.DuckSound,
        clip=st.sampled_from(["hum", "hum", "title"]),
        spoken=st.lists(st.tuples(st.floats(0, 10), st.floats(0, 10)), max_size=4).map(tuple),
        by=st.floats(0, 60),
    ),
    e.SetFilmSound: st.builds(
        e.SetFilmSound, sound=st.builds(FilmSound, gain=st.floats(-40, 40), ceiling=st.none() | st.floats(-12, 0))
    ),
    e.SetMuted: st.builds(e.SetMuted, clips=some_shots, muted=st.booleans()),
    e.SetMarker: st.builds(
        e.SetMarker, marker=st.sampled_from(["m1", "m2"]), frame=frames, name=st.none() | st.just("there")
    ),
    e.SetRange: st.builds(e.SetRange, first=st.none() | inside, last=st.none() | frames),
    e.StyleLine: st.builds(e.StyleLine, clip=titles, line=st.integers(0, 2), style=styles, clear=st.booleans()),
    e.StyleRange: st.builds(e.StyleRange, clip=titles, style=styles, clear=st.booleans()),
}
