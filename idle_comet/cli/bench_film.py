"""A small film that ensembles are made on, by the edits an editor would make."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ..core.project.model import Media, Project
    from ..core.recipes import Ensemble, Part

HONEY, BONE, SOOT, PLUM, HEATH, SKY = "#e9b44c", "#f6ead2", "#1d1712", "#3a2230", "#6f4a5e", "#8aa0b4"
GRADIENTS = (("#20303c", "#7f9cab", "#e6d6b8"), ("#38220f", "#b06a2c", "#f0cf8a"), ("#2a1a2c", "#7c4a68", "#e5b9a0"))
CELL = "M260 0L130 225L-130 225L-260 0L-130 -225L130 -225Z"
COMET = "M62 330C210 336 360 280 500 150C540 112 612 118 630 168C646 214 600 256 548 252C400 330 230 368 62 330Z"


class BenchFilm:
    """A small film that edits are made on."""

    def __init__(self, name: str, sounds: "dict[str, Media]") -> None:
        from ..core.project.model import Project, Settings

        self.film: Project = Project(settings=Settings(name=name))
        self._sounds = sounds

    def do(self, *edits: object) -> None:
        from ..core.edits import apply

        for edit in edits:
            self.film, _ = apply(self.film, edit)

    def ground(self, id: str, length: int, tones: tuple[str, str, str], **more: object) -> None:
        """A gradient over all of the frame."""
        from ..core.edits import AddGenerated, SetValue

        self.do(AddGenerated(clip=id, frame=0, length=length, pattern="gradient"))
        for name, value in {"first": tones[0], "second": tones[1], "third": tones[2], **more}.items():
            self.do(SetValue(clip=id, step="content", name=name, value=value))

    def words(
        self, id: str, text: str, head: int, length: int, x: float, y: float, size: float, ready: str | None = "rise",
        colour: str = BONE, face: str = "archivo", weight: float = 600, align: str = "centre", tracking: float = 0,
    ) -> None:  # fmt: skip
        from ..core.edits import AddStep, AddTitle, ChangeText, PlaceClip, SetSpans, SetValue, TrimClip
        from ..core.project.model import Step
        from ..core.steps import KINDS

        self.do(
            AddTitle(clip=id, frame=head, text=text),
            TrimClip(clip=id, head=head, length=length),
            ChangeText(clip=id, typeface=face, weight=weight, align=align),
            SetValue(clip=id, step="content", name="size", value=size),
            SetValue(clip=id, step="content", name="colour", value=colour),
            SetValue(clip=id, step="content", name="tracking", value=tracking),
        )
        # What it comes by is its ready-made motion, not the plain fade of a new title.
        bare = self.film.clips[id].model_copy(update={"steps": (Step(id="placement", kind="placement"),)})
        self.film = self.film.model_copy(update={"clips": {**self.film.clips, id: bare}})
        self.do(SetSpans(clip=id, arrival=18, departure=12), PlaceClip(clip=id, frame=0, x=x, y=y))
        if ready:
            kind = next(kind for kind in KINDS.values() if any(each.name == ready for each in kind.ready))
            self.do(AddStep(clip=id, at=0, step=Step(id="comes", kind=kind.kind), ready=ready))

    def shape(self, id: str, form: str, head: int, length: int, **values: object) -> None:
        from ..core.edits import AddShape, SetValue

        geometry = {name: values.pop(name) for name in ("x", "y", "width", "height", "turn") if name in values}
        self.do(AddShape(clip=id, frame=head, length=length, form=form, **geometry))  # type: ignore[arg-type]
        for name, value in values.items():
            self.do(SetValue(clip=id, step="content", name=name, value=value))

    def drawing(self, id: str, outline: str, head: int, length: int, **values: object) -> None:
        """A shape of path data."""
        self.shape(id, "rectangle", head, length, **values)
        content = self.film.clips[id].content.model_copy(update={"choices": {"form": "drawing"}, "drawing": outline})
        self._put(id, content=content)

    def comes(self, id: str, ready: str, arrival: int = 18, departure: int = 12, at: int = 0) -> None:
        """A ready-made motion of its place."""
        from ..core.edits import AddStep, SetSpans
        from ..core.project.model import Step

        self.do(SetSpans(clip=id, arrival=arrival, departure=departure))
        self.do(AddStep(clip=id, at=at, step=Step(id="comes", kind="placement"), ready=ready))

    def behind_edge(self, id: str, left: float, right: float) -> None:
        """Only what lies between two upright lines of the frame is seen of a clip, wherever it is."""
        from ..core.edits import AddMask, AddStep
        from ..core.project.model import Mask, Step, fixed

        place = {"x": (left + right) / 2, "y": 360, "width": right - left, "height": 1600, "feather": 0}
        values = {name: fixed(float(value)) for name, value in place.items()}
        last = len(self.film.clips[id].steps)
        self.do(
            AddStep(clip=id, at=last, step=Step(id="edge", kind="mask")),
            AddMask(clip=id, step="edge", mask=Mask(id="edge", form="rectangle", values=values)),
        )

    def sound(self, id: str, name: str, frame: int, length: int | None = None, speed: float = 1.0, gain: float = 0.0,
              fades: tuple[int, int] = (0, 0)) -> None:  # fmt: skip
        from ..core.edits import AddMedia, AddPicture, SetFades, SetSpeed, SetValue, TrimClip

        media = self._sounds[name]
        self.do(AddMedia(media=media), AddPicture(clip=id, frame=frame, media=media.id))
        if speed != 1:
            self.do(SetSpeed(clip=id, speed=speed))
        if length is not None:
            self.do(TrimClip(clip=id, head=frame, length=min(length, self.film.clips[id].length)))
        if gain:
            self.do(SetValue(clip=id, step="content", name="gain", value=gain))
        if any(fades):
            self.do(SetFades(clips=(id,), fade_in=fades[0], fade_out=fades[1]))

    def _put(self, id: str, **update: object) -> None:
        clip = self.film.clips[id].model_copy(update=update)
        self.film = self.film.model_copy(update={"clips": {**self.film.clips, id: clip}})

    def called(self, **names: str) -> None:
        """Names of clips, by their ids with _ for -."""
        for id, name in names.items():
            self._put(id.replace("_", "-"), name=name)

    def kept(self, id: str, name: str, sort: str, note: str, head: int, tail: int, *parts: "Part") -> "Ensemble":
        from ..core.edits import ensemble_of
        from ..core.project.timeline import timeline_of

        # A track is called by what lies on it.
        first = {clip.track: clip.name for clip in reversed(self.film.clips.values())}
        tracks = tuple(
            track if track.side else track.model_copy(update={"name": first.get(track.id, track.name)})
            for track in self.film.tracks
        )
        self.film = self.film.model_copy(update={"tracks": tracks})
        own = [clip.id for clip in self.film.clips.values() if timeline_of(self.film, clip) is None]
        made = ensemble_of(self.film, own, id, name, sort, note)  # type: ignore[arg-type]
        stretches = head + tail < made.length
        return made.model_copy(
            update={"parts": (*parts, *_colours(made, parts)), "head": head, "tail": tail, "stretches": stretches}
        )


def _colours(made: "Ensemble", parts: "tuple[Part, ...]") -> "list[Part]":
    """Colours that are in more than one place, or that an editor would change first."""
    taken = {place for part in parts for place in part.places}
    found = [part for part in made.parts if part.kind == "colour" and not set(part.places) <= taken]
    return [part.model_copy(update={"name": f"colour {n}"}) for n, part in enumerate(found[:6], 1)]


def words(name: str, clip: str, value: str) -> "Part":
    from ..core.recipes import Part

    return Part(name=name, kind="words", value=value, places=(clip,))


def picture(name: str, *clips: str) -> "Part":
    from ..core.recipes import Part

    return Part(name=name, kind="picture", places=clips)


def sound(name: str, clip: str) -> "Part":
    from ..core.recipes import Part

    return Part(name=name, kind="sound", places=(clip,))
