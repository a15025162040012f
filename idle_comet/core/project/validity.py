"""What must hold of every document, whoever made it: each part validates, is written and reads again, and parts fit
together.

Edits check what they touch; this checks what came out, so that no edit can leave a document that does not open again.
"""

from __future__ import annotations

from typing import Iterable

from pydantic import BaseModel, ValidationError
from pydantic_core import PydanticSerializationError

from .difference import Difference, difference
from .model import MAX_FRAMES, Project, Settings
from .timeline import overlap

_TAGS = ("kind", "state")
"""Fields that say which member of a union a part is; pydantic names them in an error's place."""


DEEPEST = 20
"""Groups within groups."""


class Invalid(ValueError):
    """What does not hold, as a sentence without its full stop."""


def check_part(part: BaseModel, owner: str) -> None:
    """Raises Invalid unless the part is written and reads back as it is."""
    try:
        text = part.model_dump_json()
    except (PydanticSerializationError, UnicodeError):
        raise Invalid(f"{owner} holds characters that can't be written (half of a pair)") from None
    # A backslash that is itself escaped begins no escape.
    if "\\u0000" in text.replace("\\\\", ""):
        raise Invalid(f"{owner} holds a character that ends all text (NUL)")
    try:
        again = type(part).model_validate_json(text)
    except ValidationError as error:
        raise Invalid(said(error, owner)) from None
    if again != part:
        raise Invalid(f"{owner} would not be the same when it is read again")


def check_changed(project: Project, change: Difference) -> None:
    """Raises Invalid where a changed part, or how it stands among the others, does not hold."""
    if change.settings is not None:
        check_part(change.settings, "The film")
    if change.marks is not None:
        check_part(change.marks, "What is marked on the ruler")
    if change.range is not None:
        check_part(change.range, "The range")
    for id, item in change.media.items():
        if id != item.id:
            raise Invalid(f"The picture “{id}” calls itself “{item.id}”")
        check_part(item, f"“{item.name}”")
    for track in change.tracks or ():
        check_part(track, f"The track “{track.name}”")
    for clip in change.clips.values():
        check_part(clip, f"“{clip.name}”")
    if change.tracks is not None and len({track.id for track in project.tracks}) < len(project.tracks):
        raise Invalid("Two tracks would have one id")
    for name, most in (("tracks", 500), ("clips", 20_000), ("media", 20_000)):
        if len(getattr(project, name)) > most:
            raise Invalid(f"The film would have more than {most:,} {name}")
    check_places(project, change.clips if change.tracks is None else project.clips)
    if any(track.within for track in project.tracks):
        check_groups(project)


def check_whole(project: Project) -> None:
    """Raises Invalid unless all of a document holds, wherever it comes from."""
    check_changed(project, difference(Project(settings=Settings(name="-")), project))


def check_places(project: Project, ids: Iterable[str]) -> None:
    """Raises Invalid where one of these clips is not what its id says, is on no track, or lies over another."""
    known = {track.id: track.name for track in project.tracks}
    ids = list(ids)
    for id in ids:
        clip = project.clips[id]
        if clip.id != id:
            raise Invalid(f"The clip “{id}” calls itself “{clip.id}”")
        if clip.track not in known:
            raise Invalid(f"“{clip.name}” lies on a track that is not there ({clip.track})")
        if clip.end > MAX_FRAMES:
            raise Invalid(f"“{clip.name}” would end past frame {MAX_FRAMES:,}, the last a film can have")
        steps = [step.id for step in clip.steps]
        if len(set(steps)) < len(steps):
            twice = next(step for step in steps if steps.count(step) > 1)
            raise Invalid(f"“{clip.name}” would have two steps of one id ({twice})")
    over = overlap(project, ids)
    if over:
        raise Invalid(f"“{over[1].name}” would lie over “{over[0].name}” on the track “{known[over[0].track]}”")


def check_groups(project: Project) -> None:
    """Raises Invalid where a track belongs to no group, or a group would hold itself, or they go too deep."""
    within = {track.id: track.within for track in project.tracks}
    for track in project.tracks:
        at, depth = track.within, 0
        while at is not None:
            clip = project.clips.get(at)
            if clip is None or clip.content.kind != "group":
                raise Invalid(f"The track “{track.name}” belongs to a group that is not there ({at})")
            depth += 1
            if depth > DEEPEST:
                raise Invalid(f"“{clip.name}” would hold itself, or groups would go more than {DEEPEST} deep")
            at = within.get(clip.track)


def said(error: ValidationError, owner: str) -> str:
    """The first thing a part does not fit in, in words."""
    first = error.errors(include_url=False)[0]
    limits, kind = first.get("ctx") or {}, first["type"]
    where = _where(first["loc"])
    what = f"{where} of {owner}" if where else owner
    if kind == "too_long":
        return f"{what}: at most {limits['max_length']:,} entries go in"
    if kind == "string_too_long":
        return f"{what}: at most {limits['max_length']:,} characters go in"
    if kind in ("less_than_equal", "greater_than_equal", "less_than", "greater_than"):
        bound = next(iter(limits.values()))
        return f"{what} lies {'above' if kind.startswith('less') else 'below'} {bound:,}, where it ends"
    return f"{what} can't be so ({first['msg']})"


def _where(place: tuple[int | str, ...]) -> str:
    """A part's place, from the inside out: "keys of opacity of step 2"."""
    words: list[str] = []
    before = None
    for part in place:
        if isinstance(part, int):
            if before == "steps":
                words[-1:] = [f"step {part + 1}"]
        elif (
            part
            not in (
                "values",
                "content",
                "text",
                "moving",
                "fixed",
                "driven",
                "footage",
                "still",
                "plain",
                "generated",
                "shape",
                "camera",
                "light",
                "model",
                "group",
                "treatment",
                "float",
                "int",
            )
            and not part.startswith("constrained-")
            and "[" not in part
        ):
            words.append(part.replace("_", " "))
        elif part == "text" and before == "text":
            words.append("words")
        before = part
    return " of ".join(reversed(words))
