"""An edit made on an older state, done on the newest one.

Everyone works on the state they last heard of. An edit that touches nothing that others have changed since is done on
the newest state; words typed at different places of one text are merged; anything else is refused, with both values.
"""

from __future__ import annotations

from typing import Any

from ..modelled import Model
from ..motion import describe_motor
from ..project.address import NotThere, parameters_at, place_at
from ..project.model import Clip, Project
from ..project.touched import ORDER, Path, Touched, meeting, touched, value_at
from ..project.wording import merged_words
from ..steps import KINDS
from ..wording import in_text
from . import Edit, EditError, Enacted, enact
from .text import ChangeText
from .values import says_value


class Conflict(Model):
    """A place that this edit and somebody else's both change: what it is, what it would be by this edit, and what it is
    by theirs, which was kept. Both are in words; "removed" where there is nothing."""

    what: str
    yours: str
    theirs: str


class Conflicting(ValueError):
    """An edit meets what others have changed since. The document is as they left it."""

    def __init__(self, conflicts: list[Conflict]) -> None:
        first = conflicts[0]
        more = f", and {len(conflicts) - 1} more" if len(conflicts) > 1 else ""
        super().__init__(
            f"{first.what} was changed in another window: yours was {first.yours}, theirs is {first.theirs}{more}. "
            f"Theirs was kept."
        )
        self.conflicts = conflicts


def rebased(project: Project, edit: Edit, theirs: Touched, typed_on: str | None = None) -> Enacted:
    """Do an edit on the newest state, which differs from the one it was made on by what others touched (`theirs`).

    `typed_on` is the text that new words were typed on, where that is known. Raises Conflicting where the edit touches
    what others touched, and EditError as `enact` does.
    """
    edit, merged = _merged(project, edit, theirs, typed_on)
    try:
        done = enact(project, edit)
    except EditError as error:
        # What it was made for may be gone by theirs; the rule's own words say what it misses.
        raise EditError(f"Another window changed the film first. {error}") from None
    met = [path for path in meeting(touched(project, done.change), theirs) if path not in merged]
    # A title is named by its words: these say it already.
    met = [path for path in met if path[2:] != ("name",) or (*path[:2], "content", "text") not in met]
    if met:
        raise Conflicting([_conflict(path, project, done.after) for path in met[:20]])
    return done


def _merged(project: Project, edit: Edit, theirs: Touched, typed_on: str | None) -> tuple[Edit, set[Path]]:
    """New words with what others typed at other places of the same text, and the places that are settled by that."""
    if not isinstance(edit, ChangeText) or edit.text is None or typed_on is None:
        return edit, set()
    content = ("clips", edit.clip, "content")
    clip = project.clips.get(edit.clip)
    if clip is None or clip.content.kind != "text" or (*content, "text") not in theirs or "text" in clip.content.held:
        return edit, set()
    both = merged_words(typed_on, edit.text, clip.content.text)
    if both is None:
        return edit, set()
    settled = {(*content, "text"), (*content, "ranges"), ("clips", edit.clip, "name")}
    return edit.model_copy(update={"text": both}), settled


def _conflict(path: Path, theirs: Project, yours: Project) -> Conflict:
    return Conflict(
        what=_what(path, theirs, yours), yours=_said(path, yours, yours), theirs=_said(path, theirs, theirs)
    )


_WORDS = {
    "head": "Start",
    "length": "Length",
    "track": "Track",
    "text": "Words",
    "arrival": "Arrival",
    "departure": "Departure",
    "media": "Media",
}


def _what(path: Path, *states: Project) -> str:
    """A place in words: "Opacity of “Title”"."""
    if path[0] == "clips" and len(path) > 1:
        clip = next((state.clips[path[1]] for state in states if path[1] in state.clips), None)
        owner = f"“{clip.name}”" if clip is not None else "a clip"
        if len(path) == 2:
            return owner
        return f"{_of_clip(path[2:], clip)} of {owner}"
    names = [name for name in path if name != ORDER]
    if len(names) > 1 and names[0] in ("tracks", "media"):
        part = next((found for state in states if (found := value_at(state, tuple(names[:2]))) is not None), None)
        if part is not None:
            last = "" if len(names) == 2 else f"{names[-1].replace('_', ' ').capitalize()} of "
            return f"{last}“{part.name}”"
    return f"{names[-1].replace('_', ' ').capitalize()} of the film"


def _of_clip(path: Path, clip: Clip | None) -> str:
    if clip is not None and len(path) > 1:
        place = _place(path)
        if place is not None:
            try:
                found = {each.name: each.label for each in parameters_at(clip, place[0])}
                if place[1] in found:
                    return found[place[1]]
            except NotThere:
                pass
        if path[0] == "steps" and len(path) == 2 and path[1] != ORDER:
            kind = next((step.kind for step in clip.steps if step.id == path[1]), None)
            return f"Step “{KINDS[kind].label}”" if kind in KINDS else "A step"
    if path[-1] == ORDER:
        return f"Order of the {path[-2]}"
    return _WORDS.get(path[-1], path[-1].replace("_", " ").capitalize())


def _place(path: Path) -> tuple[str, str] | None:
    """Owner and name of the value that a path within a clip lies in."""
    if path[0] == "content":
        return ("content", path[2] if len(path) > 2 and path[1] == "values" else path[1])
    if path[0] != "steps" or len(path) < 3:
        return None
    if path[2] == "mix":
        return path[1], "mix"
    if path[2] == "values" and len(path) > 3:
        return path[1], path[3]
    if path[2] == "masks" and len(path) > 5 and path[4] == "values":
        return f"{path[1]}/{path[3]}", path[5]
    return None


def _said(path: Path, state: Project, named: Project) -> str:
    """The value at a place, in words."""
    if path[0] == "clips" and len(path) > 3 and path[1] in state.clips:
        clip, place = state.clips[path[1]], _place(path[2:])
        if place is not None:
            try:
                parameter = next((each for each in parameters_at(clip, place[0]) if each.name == place[1]), None)
            except NotThere:
                return "removed"
            if parameter is not None:
                return _property_said(path, clip, place, parameter)
    value = value_at(state, path)
    if value is None:
        return "removed"
    if isinstance(value, bool):
        return "on" if value else "off"
    if isinstance(value, (int, float)):
        return f"{value:g}"
    if isinstance(value, str):
        words = " ".join(value.split())
        return f"“{words[:60]}{'…' if len(words) > 60 else ''}”"
    return getattr(value, "name", None) or "changed"


def _property_said(path: Path, clip: Clip, place: tuple[str, str], parameter: Any) -> str:
    prop = place_at(clip, *place).property
    if prop.state == "moving":
        name = path[path.index("keys") + 1] if "keys" in path[:-1] else None
        key = next((each for each in prop.keys if str(each.id) == name), None)
        if key is None:
            return "removed" if name is not None else f"{len(prop.keys)} keys"
        return _without_label(says_value(parameter, key.value), parameter.label)
    if prop.state == "driven":
        named = value_at(Project.model_construct(clips={clip.id: clip}), path)
        if isinstance(named, (int, float)) and parameter.sort == "number":
            return _without_label(says_value(parameter, named), parameter.label)
        return describe_motor(prop.motor)
    return _without_label(says_value(parameter, prop.value), parameter.label)


def _without_label(words: str, label: str) -> str:
    return words.removeprefix(in_text(label)).strip()
