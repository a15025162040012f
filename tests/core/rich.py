"""A film with something of everything in it, for tests of the machinery."""

from idle_comet.core import edits as e
from idle_comet.core.contents import FollowedPoint, SoundHit
from idle_comet.core.contents.caption import Caption, SpokenWord
from idle_comet.core.contents.sound import HeardLevel
from idle_comet.core.motion import Corner, Driven, Fixed, Key, Moving, Outline, SoundLevel, Spring, Tether, Wobble
from idle_comet.core.project.model import (
    CaptionTrack,
    Clip,
    Footage,
    HeldKey,
    InToOut,
    Marker,
    Marks,
    Mask,
    Media,
    MediaSound,
    PaletteColour,
    Plain,
    Project,
    SavedEase,
    Settings,
    Step,
    Styled,
    Track,
    Transition,
    Treatment,
)
from idle_comet.core.recipes import apply_recipe, shipped_ensembles, shipped_recipes
from idle_comet.demo.project import title

TEXT = "THE SLOW HARVEST\nEpisode two"
_BOX = Outline(corners=tuple(Corner(at=at) for at in ((-90.0, -60.0), (90.0, -60.0), (80.0, 60.0))))
BENDS = Moving(
    keys=(Key(at=0, value=_BOX), Key(at=12, value=_BOX.scaled(2)), Key(counts_from="tail", at=0, value=_BOX))
)
PATH = Moving(keys=(Key(at=0, value=(-60.0, 20.0)), Key(at=15, value=(10.0, -30.0)), Key(at=29, value=(0.0, 0.0))))


HUM = Media(
    id="hum-file", name="Hum", kind="sound", hash="2" * 64, path=f"{'2' * 64}.wav", width=1, height=1, frames=200,
    sound=MediaSound(rate=44100, channels=1, seconds=8.0),
)  # fmt: skip


HEARD = Caption(
    early=0.01, name="1", marked="<i>THE SLOW HARVEST</i>", words=(SpokenWord(text="The", begin=0.1, end=0.4),)
)


def followed(id, media):
    """A point on its way over fifty frames of a shot."""
    way = range(50)
    return FollowedPoint(
        id=id, name=id, media=media, first=0, sure=(0.9,) * 50,
        x=tuple(len(id) * 40.0 + 5 * n for n in way), y=tuple(300.0 - n for n in way),
    )  # fmt: skip


SVG = "<svg><path id='a' d='M0 0L40 0L20 30Z' fill='red'/><circle cx='50' cy='9' r='8' stroke='blue'/></svg>"


def rich_film(media):
    """Three shots cut together, two of them joined; a title that holds words and travels a path, a strap from a recipe
    and a plain title behind it; a palette, an ease and a type style of the series; markers and a range."""
    clips = {}
    for number, (head, length, start) in enumerate([(0, 20, 4), (20, 16, 10), (36, 14, 0)], 1):
        clips[f"shot-{number}"] = Clip(
            id=f"shot-{number}",
            track="shots",
            name=f"Shot {number}",
            head=head,
            length=length,
            content=Footage(media=media.id, start=start),
            opening=Transition(length=4) if number == 2 else None,
        )
    clips["card"] = Clip(id="card", track="shots", name="Card", head=60, length=30, content=Plain())
    one = title(2, 30)
    focus, place = one.steps
    clips["title"] = one.model_copy(
        update={
            "id": "title",
            "arrival": 8,
            "departure": 6,
            "rides": "shot-1",
            "content": one.content.model_copy(
                update={
                    "text": TEXT,
                    "ranges": (Styled(start=4, end=8, colour="#f0b440"),),
                    "held": {"text": (HeldKey(id=1, at=0, value=TEXT), HeldKey(id=2, at=12, value="BEES"))},
                }
            ),
            "steps": (
                focus,
                place.model_copy(
                    update={"values": {**place.values, "path": PATH, "rotation": Driven(motor=Wobble(amplitude=2))}}
                ),
            ),
        }
    )
    bare = title(40, 44)
    film = Project(
        settings=Settings(
            name="Rich",
            palette=(PaletteColour(id="honey", name="Honey", value="#f0b440"),),
            eases=(SavedEase(name="mine", ease=Spring()),),
        ),
        tracks=(Track(id="titles", name="Titles"), Track(id="more", name="More"), Track(id="shots", name="Shots")),
        media={
            media.id: media.model_copy(update={"sound": HUM.sound}),
            "copy": media.model_copy(update={"id": "copy", "frames": 40}),
        },
        marks=Marks(markers=(Marker(id="m1", frame=20, name="here"),)),
        range=InToOut(first=5, last=60),
    )
    strap = apply_recipe(
        film,
        bare.model_copy(update={"id": "strap"}),
        shipped_recipes()["marrow-lane"],
        {"words": "Wren Hallowes\ncandle maker"},
    )
    plain = title(90, 40).model_copy(update={"id": "plain", "steps": ()})
    film = film.model_copy(update={"clips": {**clips, "strap": strap, "plain": plain}})
    film, _ = e.apply(film, e.SaveTypeStyle(clip="plain", style="calm", name="Calm"))
    film, _ = e.apply(film, e.SplitClips(clips=("card",), frame=70, seed="half"))
    for edit in (
        e.AddTrack(track=Track(id="over", name="Over"), at=0),
        *(
            e.AddClip(clip=title(100 + 30 * number, 30).model_copy(update={"id": f"duo-{name}", "track": "over"}))
            for number, name in enumerate("ab")
        ),
        e.GatherClips(clips=("duo-a", "duo-b"), group="duo"),
        e.AddClip(
            clip=Clip(
                id="wash",
                track="over",
                name="Wash",
                head=4,
                length=60,
                content=Treatment(),
                steps=(
                    Step(id="focus", kind="vignette"),
                    Step(id="soft", kind="focus_blur", values={"radius": Fixed(value=2)}),
                ),
            )
        ),
        e.AddMask(clip="wash", step="soft", mask=Mask(id="pool", form="ellipse")),
        e.AddMask(clip="wash", step="soft", mask=Mask(id="drawn", form="outline", values={"outline": BENDS})),
        e.AddMask(clip="title", step="focus", mask=Mask(id="like", form="clip", clip="shot-2")),
        e.UseMove(clips=("wash",), move="push-slow", at=(-400, 50)),
        e.SaveLook(clip="wash", look="kept", name="Kept"),
        e.AddMedia(media=HUM),
        e.AddPicture(clip="hum", frame=10, media="hum-file", first=5),
        e.SetFades(clips=("hum",), fade_in=8),
        e.SetHits(clip="hum", hits=tuple(SoundHit(at=0.3 + 0.13 * n) for n in range(12))),
        e.AddTrack(track=Track(id="spoken", name="Spoken", captions=CaptionTrack()), at=0),
        e.AddClip(
            clip=title(0, 40).model_copy(
                update={
                    "id": "cue",
                    "track": "spoken",
                    "content": title(0, 40).content.model_copy(update={"caption": HEARD}),
                }
            )
        ),
        e.AddGenerated(clip="mist", frame=150, length=60, pattern="smoke"),
        *(e.SetPoint(clip="shot-3", point=followed(id, media.id)) for id in ("clasp", "lantern")),
        e.MendPoint(clip="shot-3", point="lantern", frame=3, x=500, y=300),
        e.SetMoving(clip="mist", step="content", name="density", moving=True, frame=5),
        e.ArrangeClips(clips=("shot-1",), arrangement="inset"),
        e.AddShape(clip="badge", frame=5, length=80, form="star"),
        e.SetMoving(clip="badge", step="content", name="stroke", moving=True, frame=5),
        e.AddDrawing(group="emblem", frame=0, length=60, svg=SVG),
        e.AddCamera(clip="eye", frame=0, length=200),
        e.MoveCamera(clip="eye", move="orbit"),
        e.AddLight(clip="lamp", frame=0, length=200),
        e.SetChoice(clip="eye", step="content", name="sharp", value="by the lens"),
        e.AddStep(clip="mist", at=0, step=Step(id="stand", kind="stand", values={"z": Fixed(value=300)})),
        e.AddStep(clip="badge", at=0, step=Step(id="stand", kind="stand", values={"z": Fixed(value=-200)})),
        e.AddShape(clip="disc", frame=5, length=80, form="ellipse"),
        e.UseEnsemble(ensemble=shipped_ensembles()["turning-card"], frame=300, seed="kept"),
        e.AddLevel(clip="hum", level=HeardLevel(values=tuple(range(0, 250, 5)))),
        e.SetMotor(clip="plain", step="content", name="leading", motor=SoundLevel(clip="hum", gain=0.3, offset=1)),
        e.SetMotor(clip="plain", step="content", name="size", motor=Tether(clip="card", side="right", gain=0.05)),
    ):
        film, _ = e.apply(film, edit)
    return film
