"""Captions on a track of their own: from a file, or from words that were heard."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..captions.cues import Cue
from ..contents.caption import Caption, SpokenWord
from ..motion import Fixed, number
from ..project.model import MAX_FRAMES, MAX_TEXT, CaptionTrack, Clip, Frozen, Id, Name, Project, Text, Track
from ..recipes.apply import apply_recipe
from ..recipes.model import Recipe
from ..recipes.shelf import shipped_recipes
from ..steps import BY_HAND
from .base import EditError, clip_of, rule
from .copies import Seed
from .lanes import with_clips
from .tracks import track_of

PLAIN = "plain-speech"
"""The recipe that captions have unless another is wanted."""

_Milliseconds = Annotated[int, Field(ge=0, le=360_000_000)]


class GivenCue(Frozen):
    """A caption: times in milliseconds from the moment the captions begin; for the rest see `Caption`."""

    begin: _Milliseconds
    end: _Milliseconds
    text: Annotated[str, StringConstraints(max_length=MAX_TEXT)]
    name: Annotated[str, StringConstraints(max_length=500)] = ""
    settings: Annotated[str, StringConstraints(max_length=500)] = ""
    marked: Annotated[str, StringConstraints(max_length=4000)] = ""
    before: Annotated[str, StringConstraints(max_length=20_000)] = ""
    words: Annotated[tuple[SpokenWord, ...], Field(max_length=400)] = ()

    @classmethod
    def of(cls, cue: Cue) -> "GivenCue":
        return cls.model_validate({**cue._asdict(), "text": cue.text[:MAX_TEXT], "before": cue.before[:20_000],
                                   "name": cue.name[:500], "settings": cue.settings[:500]})  # fmt: skip


class AddCaptions(Frozen):
    """Captions as titles on a new track above all others; those that are shown while others are lie on one more above
    it. They begin at a frame of the film, fractions and all, and ride with a clip where one is named. Their clips are
    called `seed`-1, `seed`-2 and so on."""

    kind: Literal["add_captions"] = "add_captions"
    name: Name = "Captions"
    captions: CaptionTrack = CaptionTrack()
    cues: Annotated[tuple[GivenCue, ...], Field(min_length=1, max_length=5000)]
    seed: Seed
    frame: Annotated[float, Field(ge=0, le=MAX_FRAMES, allow_inf_nan=False)] = 0.0
    rides: Id | None = None
    recipe: Recipe | None = None
    """How they are set; None is the plain one."""


class StyleCaptions(Frozen):
    """A recipe on all captions of a track."""

    kind: Literal["style_captions"] = "style_captions"
    track: Id
    recipe: Recipe


@rule(AddCaptions)
def add_captions(project: Project, edit: AddCaptions) -> tuple[Project, str]:
    if edit.rides is not None:
        clip_of(project, edit.rides)
    recipe = edit.recipe or shipped_recipes()[PLAIN]
    rate = float(project.settings.rate.fraction)
    lanes: list[list[Clip]] = []
    for place, cue in enumerate(sorted(edit.cues, key=lambda cue: (cue.begin, cue.end)), 1):
        id = f"{edit.seed}-{place}"
        if id in project.clips:
            raise EditError(f"There is already a clip “{id}”; nothing was added.")
        clip = _clip(project, edit, recipe, cue, id, rate)
        for lane in lanes:
            last = lane[-1]
            if clip.head >= last.end:
                break
            # What follows at once may begin a part of a frame before the frame it is given.
            if clip.head == last.end - 1 and clip.length > 1 and _begin(clip, rate) >= _end(last, rate) - 1e-6:
                clip = _begun_at(clip, last.end, rate)
                break
        else:
            lane = []
            lanes.append(lane)
        lane.append(clip)
    if len(project.tracks) + len(lanes) > 500 or len(project.clips) + len(edit.cues) > 20_000:
        raise EditError("So many captions and tracks are more than a film holds; nothing was added.")
    ids = {track.id for track in project.tracks}
    made: list[Clip] = []
    for row, lane in enumerate(lanes, 1):
        id = next(name for n in range(1000) if (name := f"captions-{n + 1}") not in ids)
        ids.add(id)
        name = edit.name if row == 1 else f"{edit.name[:190]} {row}"
        captions = edit.captions if row == 1 else edit.captions.model_copy(update={"head": "", "foot": ""})
        project = project.model_copy(update={"tracks": (Track(id=id, name=name, captions=captions), *project.tracks)})
        made += [clip.model_copy(update={"track": id}) for clip in lane]
    return with_clips(project, made), f"add {len(edit.cues)} captions" if len(edit.cues) > 1 else "add a caption"


def _clip(project: Project, edit: AddCaptions, recipe: Recipe, cue: GivenCue, id: str, rate: float) -> Clip:
    begin, end = (edit.frame + milliseconds * rate / 1000 for milliseconds in (cue.begin, max(cue.begin, cue.end)))
    if end > MAX_FRAMES:
        raise EditError(f"“{cue.text[:40]}” would lie beyond the longest film; nothing was added.")
    # The nearest frames; its own times are kept beside them.
    head = round(begin)
    last = max(head + 1, round(end))
    bare = Clip(id=id, track="none", name="caption", head=head, length=last - head, rides=edit.rides,
                content=Text(text=cue.text))  # fmt: skip
    clip = _raised(project, apply_recipe(project, bare, recipe, {}), edit.captions.language, None)
    caption = Caption(
        early=round((begin - head) / rate, 6),
        late=round((end - last) / rate, 6),
        name=cue.name,
        settings=cue.settings,
        marked=cue.marked,
        before=cue.before,
        words=_from_head(cue.words, (begin - head) / rate),
    )
    assert clip.content.kind == "text"
    return clip.model_copy(update={"content": clip.content.model_copy(update={"caption": caption})})


_ROOM = 2.9
"""Lines of type that the captions of one language take up."""


def _raised(project: Project, clip: Clip, language: str, track: str | None) -> Clip:
    """A caption above those of the languages that were there before: whose tracks lie below its own."""
    below = [each for each in project.tracks if each.captions is not None]
    ids = [each.id for each in below]
    below = below[ids.index(track) + 1 :] if track in ids else below
    others = {each.captions.language for each in below if each.captions is not None} - {language}
    content = clip.content
    if not others or not isinstance(content, Text) or content.stand_y != "bottom" or content.size.state != "fixed":
        return clip
    up = _ROOM * number(content.size.value) * len(others)
    steps = []
    for step in clip.steps:
        y = step.values.get("y", Fixed(value=0.0))
        if step.kind == BY_HAND.kind and y.state == "fixed":
            step = step.model_copy(update={"values": {**step.values, "y": Fixed(value=round(number(y.value) - up, 1))}})
        steps.append(step)
    return clip.model_copy(update={"steps": tuple(steps)})


def _from_head(words: tuple[SpokenWord, ...], later: float) -> tuple[SpokenWord, ...]:
    return tuple(
        word.model_copy(update={"begin": round(word.begin + later, 6), "end": round(word.end + later, 6)})
        for word in words
    )


def _caption(clip: Clip) -> Caption:
    return (clip.content.caption if isinstance(clip.content, Text) else None) or Caption()


def _begin(clip: Clip, rate: float) -> float:
    return clip.head / rate + _caption(clip).early


def _end(clip: Clip, rate: float) -> float:
    return clip.end / rate + _caption(clip).late


def _begun_at(clip: Clip, head: int, rate: float) -> Clip:
    """A caption that begins on another frame, with its own times as they were."""
    by = (head - clip.head) / rate
    own = _caption(clip)
    caption = own.model_copy(update={"early": own.early - by, "words": _from_head(own.words, -by)})
    content = clip.content.model_copy(update={"caption": caption})
    return clip.model_copy(update={"head": head, "length": clip.end - head, "content": content})


@rule(StyleCaptions)
def style_captions(project: Project, edit: StyleCaptions) -> tuple[Project, str]:
    track = track_of(project, edit.track)
    own = [clip for clip in project.clips.values() if clip.track == track.id and clip.content.kind == "text"]
    if not own:
        raise EditError(f"There are no words on “{track.name}”; nothing was changed.")
    language = track.captions.language if track.captions else ""
    made = [_raised(project, apply_recipe(project, clip, edit.recipe, {}), language, track.id) for clip in own]
    return with_clips(project, made), f"{track.name} set as {edit.recipe.name}"
