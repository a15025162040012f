"""Edits of steps, their values, keys, masks and times."""

from hypothesis import strategies as st

from idle_comet.core import edits as e
from idle_comet.core.contents import SoundHit
from idle_comet.core.contents.sound import HeardLevel
from idle_comet.core.motion import Fixed, Follow, Oscillation, Repeat, Steady, Wobble
from idle_comet.core.project.model import Mask, Shutter, Step

from ..rich import BENDS, followed
from .parts import (
    cascades,
    copied,
    eases,
    frames,
    ids,
    inside,
    masked,
    moving,
    number,
    pointed,
    points,
    some,
    some_keys,
    some_titles,
    steps,
    texts,
    titles,
    where,
)

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
        corner=st.integers(1, 5),
        does=st.sampled_from(["part", "remove", "round", "sharp"]),
    ),
    e.MoveCorner: st.builds(
        e.MoveCorner,
        clip=st.just("wash"),
        step=st.sampled_from(["soft/drawn", "soft/drawn", "soft/pool"]),
        corner=st.integers(1, 5),
        frame=frames,
        at=st.none() | st.just((12.0, -8.0)),
        out=st.none() | st.just((4.0, 4.0)),
    ),
    e.SetMaskRun: st.builds(e.SetMaskRun, **masked, first=st.sampled_from([None, "soft", "focus", "gone"])),
    e.RemoveMask: st.builds(e.RemoveMask, **masked, mask=st.sampled_from(["pool", "like"])),
    e.AddKey: st.builds(e.AddKey, **where, frame=inside),
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
    e.AlignKeys: st.builds(e.AlignKeys, keys=some_keys, frame=frames),
    e.BakeMotion: st.builds(
        e.BakeMotion,
        clip=titles,
        step=st.just("placement"),
        name=st.sampled_from(["rotation", "path", "y"]),
        every=st.integers(1, 40),
    ),
    e.ChangeText: st.builds(
        e.ChangeText,
        clip=titles,
        text=st.none() | texts,
        weight=st.none() | st.floats(100, 900),
        case=st.none() | st.sampled_from(["upper", "small"]),
        frame=st.none() | inside,
    ),
    e.DistributeKeys: st.builds(e.DistributeKeys, keys=some_keys),
    e.EaseKeys: st.builds(e.EaseKeys, keys=some_keys, ease=eases),
    e.ForgetEase: st.builds(e.ForgetEase, name=st.sampled_from(["mine", "yours"])),
    e.GiveStep: st.builds(
        e.GiveStep,
        clip=st.sampled_from(["strap", "title"]),
        step=st.sampled_from(["rule", "rule", "focus"]),
        drawing=st.none() | st.sampled_from(["M0 0H10V10Z", "nonsense"]),
        media=st.none() | st.just("copy"),
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
    e.MirrorArrival: st.builds(e.MirrorArrival, clips=some_titles, step=st.none() | steps),
    e.MoveKey: st.builds(e.MoveKey, **where, key=st.integers(1, 4), frame=inside),
    e.MoveStep: st.builds(e.MoveStep, clip=titles, step=steps, to=st.integers(0, 5)),
    e.PlaceKeys: st.builds(
        e.PlaceKeys,
        keys=st.lists(
            st.builds(
                e.KeyAt,
                clip=st.sampled_from(["title", "title", "strap"]),
                step=st.just("placement"),
                name=st.sampled_from(["opacity", "y", "path"]),
                key=st.integers(1, 4),
                frame=inside,
            ),
            min_size=1,
            max_size=3,
        ).map(tuple),
    ),
    e.PasteKeys: st.builds(e.PasteKeys, clips=some_titles, keys=copied, frame=frames),
    e.RecountKeys: st.builds(
        e.RecountKeys, keys=some_keys, counts_from=st.sampled_from(["head", "tail", "proportion"])
    ),
    e.RemoveHeld: st.builds(
        e.RemoveHeld, clip=titles, name=st.sampled_from(["text", "typeface"]), key=st.integers(1, 3)
    ),
    e.RemoveKeys: st.builds(e.RemoveKeys, keys=some_keys),
    e.RemoveStep: st.builds(e.RemoveStep, clip=titles, step=steps),
    e.SaveEase: st.builds(e.SaveEase, name=st.sampled_from(["mine", "yours"]), ease=eases),
    e.SetChoice: st.builds(
        e.SetChoice,
        clip=st.sampled_from(["strap", "title", "mist"]),
        step=st.sampled_from(["reveal", "backing", "rule", "content"]),
        name=st.sampled_from(["towards", "grows", "stands", "form"]),
        value=st.sampled_from(["left", "up", "apart", "sideways"]),
    ),
    e.SetHits: st.builds(
        e.SetHits,
        clip=st.sampled_from(["hum", "hum", "title"]),
        hits=st.lists(st.floats(0, 8).map(lambda at: SoundHit(at=at)), max_size=6).map(tuple),
    ),
    e.TapHits: st.builds(
        e.TapHits,
        clip=st.sampled_from(["hum", "hum", "title"]),
        frames=st.lists(st.floats(0, 200), min_size=1, max_size=6).map(tuple),
    ),
    e.TypeByHits: st.builds(
        e.TypeByHits, clip=st.sampled_from(["title", "strap", "shot-1"]), sound=st.sampled_from(["hum", "hum", "title"])
    ),
    e.AddLevel: st.builds(
        e.AddLevel,
        clip=st.sampled_from(["hum", "hum", "title"]),
        level=st.builds(
            HeardLevel, low=st.sampled_from([20.0, 80.0]), values=st.lists(st.integers(0, 255), max_size=20).map(tuple)
        ),
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
    e.SetProperty: st.builds(e.SetProperty, **where, property=moving | st.just(Fixed(value=0.5))),
    e.SetRepeat: st.builds(
        e.SetRepeat,
        clip=titles,
        step=st.just("placement"),
        name=st.sampled_from(["opacity", "y", "x"]),
        repeat=st.none() | st.just(Repeat(mode="mirror", times=2)) | st.just(Repeat(mode="loop")),
    ),
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
    e.SetStepTimes: st.builds(
        e.SetStepTimes, clip=titles, step=steps, since=st.none() | inside, until=st.none() | inside
    ),
    e.SetTangents: st.builds(
        e.SetTangents,
        clip=st.just("title"),
        step=st.just("placement"),
        name=st.sampled_from(["path", "y"]),
        key=st.integers(1, 4),
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
    e.Slower: st.builds(e.Slower, clips=some_titles),
    e.Soften: st.builds(e.Soften, clips=some_titles),
    e.StretchKeys: st.builds(e.StretchKeys, keys=some_keys, about=inside, factor=st.floats(0.3, 2)),
    e.Stronger: st.builds(e.Stronger, clips=some_titles),
    e.SwitchStep: st.builds(e.SwitchStep, clip=titles, step=steps, on=st.booleans()),
}
