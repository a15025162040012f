"""Edits of every kind as Hypothesis draws them, for the film of rich.py.

Ids and indexes are drawn from what the film has and a little beyond, so that some edits fit and some do not.
"""

from hypothesis import strategies as st

from idle_comet.core import edits as e
from idle_comet.core.clock import Rate
from idle_comet.core.contents import SoundHit
from idle_comet.core.contents.caption import SpokenWord
from idle_comet.core.contents.sound import HeardLevel
from idle_comet.core.motion import (
    Bounce,
    Cascade,
    Fixed,
    Follow,
    Free,
    Jumps,
    Key,
    Moving,
    Oscillation,
    Repeat,
    Spring,
    Steady,
    Strengths,
    Wobble,
)
from idle_comet.core.project.model import (
    FilmSound,
    KeptLook,
    Mask,
    Media,
    PaletteColour,
    Shutter,
    Step,
    Styled,
    Track,
    Transition,
)
from idle_comet.core.recipes import shipped_ensembles, shipped_recipes
from idle_comet.demo.project import title

from .rich import BENDS, SVG, followed

ids = st.sampled_from(
    [
        "title",
        "strap",
        "plain",
        "shot-1",
        "shot-2",
        "shot-3",
        "card",
        "duo",
        "duo-a",
        "wash",
        "mist",
        "hum",
        "badge",
        "emblem",
        "gone",
    ]
)
titles = st.sampled_from(["title", "title", "strap", "plain", "shot-1"])
some = st.lists(ids, min_size=1, max_size=4, unique=True).map(tuple)
some_titles = st.lists(titles, min_size=1, max_size=3, unique=True).map(tuple)
some_shots = st.lists(st.sampled_from(["shot-2", "hum", "title"]), min_size=1, max_size=2, unique=True).map(tuple)
new = st.sampled_from(["new", "newer", "title"])
seed = st.sampled_from(["n", "n-1"])
tracks = st.sampled_from(["titles", "more", "shots", "nowhere"])
frames = st.integers(0, 130)
inside = st.integers(0, 40)
length = st.integers(1, 60)
number = st.floats(-300, 300)
texts = st.text(max_size=30) | st.sampled_from(["", "Ágota\nहिन्दी", "مرحبا", "👩‍🌾 bees"])
steps = st.sampled_from(["focus", "placement", "placement", "reveal", "backing", "rule", "place", "content", "none"])
eases = st.one_of(
    st.builds(Strengths, start=st.floats(0, 1), end=st.floats(0, 1)),
    st.builds(Free, x1=st.floats(0, 1), y1=st.floats(-3, 3), x2=st.floats(0, 1), y2=st.floats(-3, 3)),
    st.sampled_from([Spring(), Bounce(), Jumps(count=3)]),
)
moving = st.lists(st.tuples(inside, st.floats(0, 1), eases), min_size=1, max_size=4, unique_by=lambda key: key[0]).map(
    lambda keys: Moving(
        keys=tuple(Key(at=at, value=value, ease=ease) for at, value, ease in sorted(keys, key=lambda key: key[0]))
    )
)
where = {
    "clip": st.sampled_from(["title", "title", "title", "strap", "gone"]),
    "step": st.sampled_from(["placement", "placement", "placement", "focus", "focus/like", "place", "content"]),
    "name": st.sampled_from(["opacity", "y", "path", "rotation", "radius", "size", "strength", "nothing"]),
}
some_keys = st.lists(
    st.builds(
        e.KeyRef,
        clip=st.sampled_from(["title", "title", "strap"]),
        step=st.just("placement"),
        name=st.sampled_from(["opacity", "y", "path"]),
        index=st.integers(0, 3),
    ),
    min_size=1,
    max_size=4,
    unique=True,
).map(tuple)
cascades = st.builds(
    Cascade,
    unit=st.sampled_from(["all", "line", "word", "letter"]),
    order=st.sampled_from(["forward", "random", "from the middle"]),
    by=st.sampled_from(["delay", "fit", "overlap", "times"]),
    times=st.lists(st.floats(0, 30), max_size=3).map(tuple),
    delay=st.floats(0, 40),
)
recipes = st.sampled_from(list(shipped_recipes().values()))
styles = st.tuples(st.integers(0, 20), st.integers(1, 12)).flatmap(
    lambda at: st.builds(
        Styled,
        start=st.just(at[0]),
        end=st.just(sum(at)),
        colour=st.none() | st.just("#d98e32"),
        size=st.none() | st.floats(0.2, 3),
        typeface=st.none() | st.just("fraunces"),
    )
)
copied = st.lists(
    st.builds(
        e.CopiedKey,
        step=st.just("placement"),
        step_kind=st.none() | st.just("placement"),
        name=st.sampled_from(["opacity", "y"]),
        after=st.integers(0, 20),
        value=st.floats(0, 1),
        ease=eases,
    ),
    min_size=1,
    max_size=3,
).map(tuple)
clips = st.sampled_from(["new", "newer", "plain"]).flatmap(
    lambda id: st.builds(
        lambda head, track: title(head, 30).model_copy(update={"id": id, "track": track}), frames, tracks
    )
)

looks = st.builds(
    KeptLook,
    id=st.sampled_from(["nothing", "far", "old-print"]),
    name=st.just("Far"),
    steps=st.sampled_from(
        [
            (Step(id="a", kind="vignette"), Step(id="b", kind="picture_fill", media="elsewhere")),
            (Step(id="a", kind="placement"),),
        ]
    ),
)
points = st.sampled_from(["clasp", "clasp", "lantern", "gone"])
pointed = {"clip": st.sampled_from(["shot-3", "shot-3", "title"]), "point": points}
masked = {"clip": st.sampled_from(["title", "wash", "wash"]), "step": st.sampled_from(["soft", "soft", "focus"])}

DRAWN = {
    e.AddMask: st.builds(
        e.AddMask,
        **masked,
        mask=st.builds(
            Mask,
            id=st.sampled_from(["new", "pool"]),
            form=st.sampled_from(["ellipse", "rectangle", "clip"]),
            clip=st.none() | ids,
        ),
    ),
    e.ChangeMask: st.builds(
        e.ChangeMask,
        **masked,
        mask=st.sampled_from(["pool", "like"]),
        form=st.none() | st.sampled_from(["rectangle", "clip"]),
        looks_at=st.none() | ids,
        by=st.none() | st.just("brightness"),
        invert=st.none() | st.booleans(),
    ),
    e.DrawMask: st.builds(
        e.DrawMask,
        **masked,
        mask=st.sampled_from(["new", "pool"]),
        outline=st.just(BENDS.keys[0].value),
        frame=frames,
        joined=st.sampled_from(["add", "subtract"]),
    ),
    e.ChangeCorner: st.builds(
        e.ChangeCorner,
        clip=st.just("wash"),
        step=st.sampled_from(["soft/drawn", "soft/drawn", "soft/pool", "soft"]),
        index=st.integers(0, 4),
        does=st.sampled_from(["part", "remove", "round", "sharp"]),
    ),
    e.SetMaskRun: st.builds(e.SetMaskRun, **masked, first=st.sampled_from([None, "soft", "focus", "gone"])),
    e.RemoveMask: st.builds(e.RemoveMask, **masked, mask=st.sampled_from(["pool", "like"])),
    e.GatherClips: st.builds(e.GatherClips, clips=some, group=st.sampled_from(["new", "trio", "duo"])),
    e.TakeApart: st.builds(e.TakeApart, clip=st.sampled_from(["duo", "duo", "title"])),
    e.SetBlend: st.builds(e.SetBlend, clips=some, mode=st.sampled_from(["multiply", "screen", "normal"])),
    e.AddClip: st.builds(e.AddClip, clip=clips),
    e.AddFromRecipe: st.builds(
        e.AddFromRecipe, new=new, frame=frames, recipe=recipes, texts=st.lists(texts, max_size=3).map(tuple)
    ),
    e.AddKey: st.builds(e.AddKey, **where, frame=inside),
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
    e.AddPicture: st.builds(
        e.AddPicture,
        clip=new,
        frame=frames,
        media=st.none() | st.sampled_from(["copy", "nothing"]),
        track=st.none() | tracks,
        first=st.integers(0, 30),
    ),
    e.UseLook: st.builds(
        e.UseLook,
        clips=st.lists(ids, min_size=1, max_size=3).map(tuple),
        look=st.none() | st.sampled_from(["old-print", "clean-glass", "nothing"]),
        brought=st.none() | looks,
    ),
    e.UseMove: st.builds(
        e.UseMove,
        clips=st.lists(ids, min_size=1, max_size=3).map(tuple),
        move=st.none() | st.sampled_from(["push-quick", "drift-left", "breathe", "whip-in", "reveal-out", "nothing"]),
        amount=st.floats(0, 4),
        at=st.none() | st.tuples(st.floats(-500, 2000), st.floats(-500, 2000)),
        frame=st.floats(0, 100),
        alternate=st.booleans(),
    ),
    e.ChangeMove: st.builds(
        e.ChangeMove,
        clip=st.sampled_from(["wash", "wash", "shot-1"]),
        step=st.sampled_from(["move", "move", "soft"]),
        head=st.none() | st.integers(0, 60),
        tail=st.none() | st.integers(0, 60),
        strength=st.none() | st.floats(0, 1),
        zoom=st.none() | st.sampled_from(["ratio", "linear"]),
    ),
    e.FillMove: st.builds(
        e.FillMove, clip=st.sampled_from(["wash", "wash", "shot-1"]), step=st.just("move"), by=st.just("shift")
    ),
    e.AddTreatment: st.builds(e.AddTreatment, clip=new, frame=frames, length=st.integers(1, 200)),
    e.AddGenerated: st.builds(
        e.AddGenerated,
        clip=new,
        frame=frames,
        length=st.integers(1, 200),
        pattern=st.sampled_from(["grid", "paper", "lava"]),
        track=st.none() | tracks,
    ),
    e.AddShape: st.builds(
        e.AddShape,
        clip=new,
        frame=frames,
        length=st.integers(1, 200),
        form=st.sampled_from(["rectangle", "line", "outline"]),
        x=number,
        width=st.floats(0, 2000),
    ),
    e.FitShape: st.builds(
        e.FitShape,
        clip=st.sampled_from(["badge", "badge", "title"]),
        to=st.sampled_from(["title", "shot-1", "badge", "hum", "emblem-1"]),
        frame=inside,
        away=st.floats(-10, 100),
    ),
    e.FitWords: st.builds(
        e.FitWords,
        clip=st.sampled_from(["title", "cue", "badge"]),
        within=st.sampled_from(["badge", "badge", "title"]),
        frame=st.integers(6, 30),
        away=st.floats(0, 100),
    ),
    e.BecomeShape: st.builds(
        e.BecomeShape,
        clip=st.sampled_from(["badge", "badge", "emblem-1", "title"]),
        frame=frames,
        length=st.integers(1, 60),
        form=st.none() | st.sampled_from(["ellipse", "polygon", "line"]),
        like=st.none() | st.sampled_from(["emblem-1", "badge"]),
    ),
    e.AddDrawing: st.builds(
        e.AddDrawing,
        group=st.sampled_from(["new", "emblem"]),
        frame=frames,
        length=length,
        svg=st.sampled_from([SVG, "<svg/>"]),
    ),
    e.TurnInto: st.builds(
        e.TurnInto,
        front=st.sampled_from(["badge", "badge", "title", "hum"]),
        back=st.sampled_from(["cue", "cue", "shot-1", "mist"]),
        group=st.sampled_from(["new", "newer", "duo"]),
        frame=st.none() | inside,
        length=st.integers(2, 12),
        half_turns=st.integers(1, 3),
        ease=eases,
    ),
    e.Uncover: st.builds(
        e.Uncover,
        clip=st.sampled_from(["badge", "badge", "shot-1", "duo"]),
        by=st.sampled_from(["title", "title", "badge", "wash"]),
        edge=st.sampled_from(["middle", "leading", "trailing"]),
        offset=number,
    ),
    e.AnswerMotion: st.builds(
        e.AnswerMotion,
        clip=st.sampled_from(["badge", "emblem", "shot-1", "hum"]),
        to=st.sampled_from(["title", "title", "plain", "badge"]),
        by=st.sampled_from(["glow", "light", "size"]),
        moments=st.sampled_from([("landed",), ("fastest", "gone")]),
        rise=st.integers(0, 5),
        fall=st.integers(1, 20),
    ),
    e.LeaveAndReturn: st.builds(
        e.LeaveAndReturn,
        clip=st.sampled_from(["badge", "title", "mist"]),
        leaves=st.integers(6, 40),
        returns=st.integers(20, 80),
        ready=st.sampled_from(["drop-settle", "rise", "nothing"]),
        seed=seed,
    ),
    e.UseEnsemble: st.builds(
        e.UseEnsemble,
        ensemble=st.sampled_from([shipped_ensembles()["end-card"], shipped_ensembles()["cell-and-stroke"]]),
        frame=frames,
        seed=seed,
        length=st.none() | st.integers(100, 300),
        fills=st.sampled_from([{}, {"series": "Bees"}, {"cell": "gone"}]),
    ),
    e.FillEnsemble: st.builds(
        e.FillEnsemble,
        ensemble=st.just(shipped_ensembles()["turning-card"]),
        seed=st.sampled_from(["kept", "kept", "n"]),
        fills=st.sampled_from([{"words": "Wax"}, {"front": "heath-evening"}, {"colour 1": "#123456"}, {"x": "1"}]),
    ),
    e.MakeStrip: st.builds(
        e.MakeStrip,
        clip=st.sampled_from(["shot-1", "shot-2", "mist", "title"]),
        seed=seed,
        side=st.sampled_from(["below", "left", "right"]),
        share=st.floats(0.08, 0.7),
        text=texts,
        ground=st.sampled_from(["plain", "moving"]),
        length=st.integers(1, 40),
    ),
    e.ShowDetail: st.builds(
        e.ShowDetail,
        clip=st.sampled_from(["shot-1", "shot-1", "shot-2"]),
        frame=st.integers(0, 15),
        at=st.tuples(number, number),
        zoom=st.floats(0.1, 4),
    ),
    e.AddCamera: st.builds(e.AddCamera, clip=new, frame=frames, length=st.integers(1, 200)),
    e.AddLight: st.builds(
        e.AddLight, clip=new, frame=frames, length=length, sort=st.sampled_from(["spot", "point", "everywhere"])
    ),
    e.SetLight: st.builds(
        e.SetLight,
        clip=st.sampled_from(["lamp", "lamp-dim", "title"]),
        side=st.sampled_from(["above left", "before", "behind", None]),
        onto=st.none() | ids,
        frame=frames,
    ),
    e.MoveCamera: st.builds(
        e.MoveCamera,
        clip=st.sampled_from(["eye", "eye", "title"]),
        move=st.sampled_from(["push in", "orbit", "dolly with zoom", "slide"]),
        amount=st.floats(-2, 2),
    ),
    e.FocusOn: st.builds(
        e.FocusOn,
        clip=st.sampled_from(["eye", "eye", "title"]),
        frame=st.integers(140, 201),
        at=st.tuples(st.floats(0, 1280), st.floats(0, 720)),
        pulls=st.sampled_from([0, 0, 12, 400]),
    ),
    e.StandTo: st.builds(
        e.StandTo,
        clip=st.sampled_from(["disc", "disc", "badge", "eye"]),
        other=st.sampled_from(["badge", "badge", "title"]),
        where=st.sampled_from(["behind", "in front of"]),
        frame=st.integers(0, 90),
        gap=st.floats(0, 2000),
        keeps=st.booleans(),
    ),
    e.FillFrame: st.builds(e.FillFrame, clip=st.sampled_from(["mist", "mist", "badge"]), frame=st.integers(0, 50)),
    e.ChangePattern: st.builds(
        e.ChangePattern,
        clip=st.sampled_from(["mist", "mist", "title"]),
        pattern=st.sampled_from(["gradient", "dust", "lava"]),
    ),
    e.AddTogether: st.builds(
        e.AddTogether,
        clip=titles,
        name=st.sampled_from(["glitch-in", "weathered", "nothing"]),
        at=st.integers(0, 3),
        seed=seed,
    ),
    e.SaveLook: st.builds(
        e.SaveLook,
        clip=st.sampled_from(["wash", "wash", "shot-1"]),
        look=st.sampled_from(["mine", "dusk"]),
        name=st.just("M"),
    ),
    e.RemoveLook: st.builds(e.RemoveLook, look=st.sampled_from(["kept", "kept", "dusk"])),
    e.LayPictures: st.builds(
        e.LayPictures,
        seed=seed,
        frame=frames,
        media=st.lists(st.sampled_from(["copy", "copy", "nothing"]), min_size=1, max_size=3).map(tuple),
    ),
    e.AddSecondLine: st.builds(e.AddSecondLine, clip=titles, new=new, later=st.integers(0, 60), text=texts),
    e.AddStep: st.builds(
        e.AddStep,
        clip=ids,
        at=st.integers(0, 4),
        step=st.sampled_from(
            [
                Step(id="more", kind="focus_blur"),
                Step(id="push", kind="placement"),
                Step(id="type", kind="typing"),
                Step(id="odd", kind="nothing"),
            ]
        ),
        ready=st.none() | st.sampled_from(["push", "rise", "typing-human"]),
    ),
    e.AddTitle: st.builds(e.AddTitle, clip=new, frame=frames, text=texts),
    e.AddTitles: st.builds(
        e.AddTitles, clip=titles, texts=st.lists(texts, min_size=1, max_size=4).map(tuple), seed=seed
    ),
    e.AddTrack: st.builds(
        e.AddTrack,
        track=st.sampled_from([Track(id="above", name="Above"), Track(id="more", name="Again")]),
        at=st.integers(0, 4),
    ),
    e.AlignClips: st.builds(
        e.AlignClips,
        clips=some,
        side=st.sampled_from(["left", "centre", "right", "top", "middle", "bottom"]),
        to=st.sampled_from(["frame", "safe", "last"]),
        frame=frames,
    ),
    e.AlignKeys: st.builds(e.AlignKeys, keys=some_keys, frame=frames),
    e.BakeMotion: st.builds(
        e.BakeMotion,
        clip=titles,
        step=st.just("placement"),
        name=st.sampled_from(["rotation", "path", "y"]),
        every=st.integers(1, 40),
    ),
    e.CarryOver: st.builds(
        e.CarryOver,
        source=titles,
        clips=some,
        what=st.sampled_from(["look", "motion", "both"]),
        step=st.none() | st.sampled_from(["soft", "placement", "focus"]),
    ),
    e.ChangeFit: st.builds(e.ChangeFit, clip=ids, fit=st.sampled_from(["fill", "fit", "own"])),
    e.ChangeSettings: st.builds(
        e.ChangeSettings,
        name=st.text(min_size=1, max_size=20),
        width=st.none() | st.just(640),
        rate=st.none() | st.just(Rate(num=30)),
    ),
    e.ChangeText: st.builds(
        e.ChangeText,
        clip=titles,
        text=st.none() | texts,
        weight=st.none() | st.floats(100, 900),
        case=st.none() | st.sampled_from(["upper", "small"]),
        frame=st.none() | inside,
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
    e.DistributeClips: st.builds(
        e.DistributeClips,
        clips=st.permutations(["title", "strap", "plain", "card"]).map(lambda all: tuple(all[:3])),
        along=st.sampled_from(["across", "down"]),
        frame=frames,
    ),
    e.DistributeKeys: st.builds(e.DistributeKeys, keys=some_keys),
    e.DuplicateClips: st.builds(e.DuplicateClips, clips=some, seed=seed),
    e.EaseKeys: st.builds(e.EaseKeys, keys=some_keys, ease=eases),
    e.ForgetEase: st.builds(e.ForgetEase, name=st.sampled_from(["mine", "yours"])),
    e.GiveStep: st.builds(
        e.GiveStep,
        clip=st.sampled_from(["strap", "title"]),
        step=st.sampled_from(["rule", "rule", "focus"]),
        drawing=st.none() | st.sampled_from(["M0 0H10V10Z", "nonsense"]),
        media=st.none() | st.just("copy"),
    ),
    e.HoldStill: st.builds(
        e.HoldStill, **pointed, second=st.none() | points, frame=inside, smooth=st.sampled_from([0, 0.5])
    ),
    e.HoldToPoint: st.builds(
        e.HoldToPoint,
        clips=some,
        shot=st.sampled_from(["shot-3", "shot-3", "title", None]),
        point=points,
        second=st.none() | points,
        at=frames,
    ),
    e.LeavePoint: st.builds(e.LeavePoint, **pointed, frame=st.sampled_from([3, 3, 4])),
    e.MendPoint: st.builds(e.MendPoint, **pointed, frame=st.integers(0, 16), x=number, y=number),
    e.NamePoint: st.builds(e.NamePoint, **pointed, name=st.just("Hat")),
    e.RemovePoint: st.builds(e.RemovePoint, **pointed),
    e.SetPoint: st.builds(
        lambda clip, id, media: e.SetPoint(clip=clip, point=followed(id, media)),
        pointed["clip"],
        points,
        st.sampled_from(["heath-evening", "copy"]),
    ),
    e.HoldChoice: st.builds(
        e.HoldChoice,
        clip=titles,
        name=st.sampled_from(["text", "typeface", "align"]),
        frame=inside,
        value=st.sampled_from(["", "SWARM", "fraunces", "left"]),
    ),
    e.KeyPlacement: st.builds(e.KeyPlacement, clip=titles, step=steps, frame=inside),
    e.MakeWhole: st.builds(e.MakeWhole, clips=some),
    e.MirrorArrival: st.builds(e.MirrorArrival, clips=some_titles, step=st.none() | steps),
    e.MoveClips: st.builds(
        e.MoveClips,
        heads=st.dictionaries(ids, frames, min_size=1, max_size=3),
        tracks=st.dictionaries(ids, tracks, max_size=2),
        snap=st.floats(0, 6),
        playhead=st.none() | frames,
    ),
    e.MoveKey: st.builds(e.MoveKey, **where, index=st.integers(0, 3), frame=inside),
    e.MoveStep: st.builds(e.MoveStep, clip=titles, step=steps, to=st.integers(0, 5)),
    e.MoveTrack: st.builds(e.MoveTrack, track=tracks, to=st.integers(0, 3)),
    e.PasteClips: st.builds(
        e.PasteClips,
        clips=st.lists(clips, min_size=1, max_size=2, unique_by=lambda clip: clip.id).map(tuple),
        frame=frames,
        seed=seed,
    ),
    e.PasteKeys: st.builds(e.PasteKeys, clips=some_titles, keys=copied, frame=frames),
    e.PlaceClip: st.builds(
        e.PlaceClip,
        clip=ids,
        frame=inside,
        x=st.none() | number,
        y=number,
        scale=st.none() | st.floats(-1, 4),
        rotation=st.none() | number,
        snap=st.floats(0, 50),
    ),
    e.RecountKeys: st.builds(
        e.RecountKeys, keys=some_keys, counts_from=st.sampled_from(["head", "tail", "proportion"])
    ),
    e.RemoveClips: st.builds(e.RemoveClips, clips=some, close=st.booleans()),
    e.RemoveHeld: st.builds(
        e.RemoveHeld, clip=titles, name=st.sampled_from(["text", "typeface"]), index=st.integers(0, 2)
    ),
    e.RemoveKeys: st.builds(e.RemoveKeys, keys=some_keys),
    e.RemoveMarker: st.builds(e.RemoveMarker, marker=st.sampled_from(["m1", "m2"])),
    e.RemovePaletteColour: st.builds(e.RemovePaletteColour, colour=st.sampled_from(["honey", "wax"])),
    e.RemoveStep: st.builds(e.RemoveStep, clip=titles, step=steps),
    e.RemoveTrack: st.builds(e.RemoveTrack, track=tracks),
    e.RemoveTypeStyle: st.builds(e.RemoveTypeStyle, style=st.sampled_from(["calm", "loud"])),
    e.ReplaceShot: st.builds(e.ReplaceShot, clip=ids, media=st.just("copy"), later=st.integers(-5, 5)),
    e.ReplaceWords: st.builds(
        e.ReplaceWords,
        find=st.sampled_from(["E", "harvest", "candle", "none"]),
        by=st.sampled_from(["", "ee", "ﬁne"]),
        capitals_count=st.booleans(),
        whole_words=st.booleans(),
    ),
    e.Reset: st.builds(e.Reset, clips=some),
    e.RideWith: st.builds(e.RideWith, clips=some, shot=st.none() | ids),
    e.SaveEase: st.builds(e.SaveEase, name=st.sampled_from(["mine", "yours"]), ease=eases),
    e.SaveTypeStyle: st.builds(
        e.SaveTypeStyle, clip=titles, style=st.sampled_from(["calm", "loud"]), name=st.just("Style")
    ),
    e.SetChoice: st.builds(
        e.SetChoice,
        clip=st.sampled_from(["strap", "title", "mist"]),
        step=st.sampled_from(["reveal", "backing", "rule", "content"]),
        name=st.sampled_from(["towards", "grows", "stands", "form"]),
        value=st.sampled_from(["left", "up", "apart", "sideways"]),
    ),
    e.PartSound: st.builds(e.PartSound, clips=some_shots, seed=seed),
    e.SetHits: st.builds(
        e.SetHits,
        clip=st.sampled_from(["hum", "hum", "title"]),
        hits=st.lists(st.floats(0, 8).map(lambda at: SoundHit(at=at)), max_size=6).map(tuple),
    ),
    e.TypeByHits: st.builds(
        e.TypeByHits, clip=st.sampled_from(["title", "strap", "shot-1"]), sound=st.sampled_from(["hum", "hum", "title"])
    ),
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
    e.AddLevel: st.builds(
        e.AddLevel,
        clip=st.sampled_from(["hum", "hum", "title"]),
        level=st.builds(
            HeardLevel, low=st.sampled_from([20.0, 80.0]), values=st.lists(st.integers(0, 255), max_size=20).map(tuple)
        ),
    ),
    e.DuckSound: st.builds(
        e.DuckSound,
        clip=st.sampled_from(["hum", "hum", "title"]),
        spoken=st.lists(st.tuples(st.floats(0, 10), st.floats(0, 10)), max_size=4).map(tuple),
        by=st.floats(0, 60),
    ),
    e.CascadeByHits: st.builds(
        e.CascadeByHits,
        clip=st.sampled_from(["title", "title", "shot-1"]),
        step=st.sampled_from(["placement", "focus", "none"]),
        sound=st.sampled_from(["hum", "hum", "title"]),
        unit=st.sampled_from(["word", "letter"]),
        on=st.sampled_from(["begins", "lands"]),
    ),
    e.PulseByHits: st.builds(
        e.PulseByHits,
        **where,
        sound=st.sampled_from(["hum", "hum", "title"]),
        peak=st.floats(0, 2) | st.just("#d98e32"),
        rise=st.integers(0, 4),
        fall=st.integers(1, 20),
    ),
    e.ArrangeClips: st.builds(
        e.ArrangeClips,
        clips=some,
        arrangement=st.sampled_from(["inset", "half", "strip below", "row", "grid", "first large"]),
        margin=st.floats(0, 500),
        gutter=st.integers(0, 40),
        shadow=st.booleans(),
        arrives=st.booleans(),
        departs=st.booleans(),
        length=st.integers(1, 60),
    ),
    e.ToFrontAndBack: st.builds(
        e.ToFrontAndBack,
        clip=st.sampled_from(["shot-1", "shot-1", "title"]),
        frame=frames,
        seed=seed,
        length=st.integers(2, 12),
    ),
    e.PutSoundOn: st.builds(
        e.PutSoundOn,
        new=new,
        media=st.sampled_from(["hum-file", "hum-file", "copy"]),
        clip=titles,
        at=st.none() | st.sampled_from(["fastest", "landed", "leaving", "gone"]),
    ),
    e.SetFilmSound: st.builds(
        e.SetFilmSound, sound=st.builds(FilmSound, gain=st.floats(-40, 40), ceiling=st.none() | st.floats(-12, 0))
    ),
    e.SetMuted: st.builds(e.SetMuted, clips=some_shots, muted=st.booleans()),
    e.SetMarker: st.builds(
        e.SetMarker, marker=st.sampled_from(["m1", "m2"]), frame=frames, name=st.none() | st.just("there")
    ),
    e.SetMotor: st.builds(
        e.SetMotor,
        **where,
        motor=st.none()
        | st.sampled_from(
            [
                Wobble(amplitude=2),
                Oscillation(),
                Steady(),
                Follow(step="placement", name="opacity"),
                Follow(step="focus", name="radius", gain=-2),
            ]
        ),
    ),
    e.SetMoving: st.builds(e.SetMoving, **where, moving=st.booleans(), frame=inside),
    e.SetPaletteColour: st.builds(
        e.SetPaletteColour,
        colour=st.builds(
            PaletteColour,
            id=st.sampled_from(["honey", "wax"]),
            name=st.just("C"),
            value=st.sampled_from(["#112233", "#445566"]),
        ),
    ),
    e.SetProperty: st.builds(e.SetProperty, **where, property=moving | st.just(Fixed(value=0.5))),
    e.SetRange: st.builds(e.SetRange, first=st.none() | inside, last=st.none() | frames),
    e.SetRepeat: st.builds(
        e.SetRepeat,
        clip=titles,
        step=st.just("placement"),
        name=st.sampled_from(["opacity", "y", "x"]),
        repeat=st.none() | st.just(Repeat(mode="mirror", times=2)) | st.just(Repeat(mode="loop")),
    ),
    e.SetSeen: st.builds(e.SetSeen, clips=some, seen=st.sampled_from(["shown", "hidden", "alone"])),
    e.SetShutter: st.builds(
        e.SetShutter, clips=st.just(()) | some, shutter=st.none() | st.builds(Shutter, angle=st.floats(0, 360))
    ),
    e.SetSpanEase: st.builds(
        e.SetSpanEase,
        clip=st.sampled_from(["strap", "strap", "title", "plain"]),
        span=st.sampled_from(["arrival", "departure"]),
        ease=eases,
    ),
    e.SetSpans: st.builds(e.SetSpans, clip=titles, arrival=st.none() | inside, departure=st.none() | inside),
    e.SetSpeed: st.builds(
        e.SetSpeed,
        clip=ids,
        speed=st.sampled_from([0, 0.5, 1, 2, -1, 0.3]),
        keep=st.sampled_from(["part", "length"]),
        frame=st.integers(0, 20),
    ),
    e.SetStepTimes: st.builds(
        e.SetStepTimes, clip=titles, step=steps, since=st.none() | inside, until=st.none() | inside
    ),
    e.SetTangents: st.builds(
        e.SetTangents,
        clip=st.just("title"),
        step=st.just("placement"),
        name=st.sampled_from(["path", "y"]),
        index=st.integers(0, 3),
        into=st.none() | st.just((-5, 1)),
        out=st.none() | st.just((3, 4)),
    ),
    e.SetThrough: st.builds(
        e.SetThrough,
        clip=titles,
        step=st.just("placement"),
        name=st.sampled_from(["opacity", "y", "path"]),
        through=st.booleans(),
    ),
    e.SetTransition: st.builds(
        e.SetTransition,
        clip=ids,
        end=st.sampled_from(["opening", "closing"]),
        transition=st.none()
        | st.builds(Transition, kind=st.sampled_from(["dissolve", "wipe", "slide"]), length=length),
    ),
    e.SetUnits: st.builds(
        e.SetUnits,
        clip=titles,
        step=steps,
        arrival=st.none() | cascades,
        departure=st.none() | cascades,
        as_arrival=st.booleans(),
        pivot=st.none() | st.sampled_from(["centre", "baseline-left"]),
    ),
    e.SetValue: st.builds(e.SetValue, **where, value=number, frame=inside),
    e.ShiftKeys: st.builds(e.ShiftKeys, keys=some_keys, by=st.integers(-10, 10)),
    e.SlipClip: st.builds(e.SlipClip, clip=ids, start=st.floats(0, 40)),
    e.Slower: st.builds(e.Slower, clips=some_titles),
    e.Soften: st.builds(e.Soften, clips=some_titles),
    e.SplitClips: st.builds(e.SplitClips, clips=some, frame=frames, seed=seed),
    e.StretchClips: st.builds(e.StretchClips, clips=some, by=st.integers(-20, 20)),
    e.StretchKeys: st.builds(e.StretchKeys, keys=some_keys, about=inside, factor=st.floats(0.3, 2)),
    e.Stronger: st.builds(e.Stronger, clips=some_titles),
    e.StyleLine: st.builds(e.StyleLine, clip=titles, line=st.integers(0, 2), style=styles, clear=st.booleans()),
    e.StyleRange: st.builds(e.StyleRange, clip=titles, style=styles, clear=st.booleans()),
    e.SwitchStep: st.builds(e.SwitchStep, clip=titles, step=steps, on=st.booleans()),
    e.TrimClip: st.builds(e.TrimClip, clip=ids, head=frames, length=length, ripple=st.booleans(), snap=st.floats(0, 4)),
    e.UsePaletteColour: st.builds(
        e.UsePaletteColour,
        clips=some_titles,
        step=st.sampled_from(["content", "backing"]),
        name=st.just("colour"),
        colour=st.sampled_from(["honey", "wax"]),
    ),
    e.UseRecipe: st.builds(e.UseRecipe, clips=some_titles, recipe=recipes, adds=st.booleans()),
    e.UseTypeStyle: st.builds(e.UseTypeStyle, clips=some_titles, style=st.none() | st.sampled_from(["calm", "loud"])),
}
any_edit = st.one_of(*DRAWN.values())
DRAWN[e.Several] = st.builds(
    e.Several, label=st.just("some"), edits=st.lists(any_edit, min_size=1, max_size=3).map(tuple)
)
