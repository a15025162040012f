"""Finding words in all titles, and replacing them."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..moment.evaluate import evaluate_clip
from ..moment.standing import stand
from ..project.model import MAX_TEXT, Clip, Frozen, Id, Project
from ..project.styled import kept
from .aligning import moved
from .base import EditError, changed, rule
from .copies import place_somewhere
from .lanes import with_clips
from .text import ChangeText, change_text


class ReplaceWords(Frozen):
    """Words replaced wherever titles have them, or in some clips only; held words too."""

    kind: Literal["replace_words"] = "replace_words"
    find: Annotated[str, StringConstraints(min_length=1, max_length=1000)]
    by: Annotated[str, StringConstraints(max_length=1000)]
    clips: Annotated[tuple[Id, ...], Field(max_length=5000)] = ()
    capitals_count: bool = False
    whole_words: bool = False


class AddTitles(Frozen):
    """Several lines become several titles like one that is there: the first line is put on it, the others follow after
    it. All of them stand by their type from then on."""

    kind: Literal["add_titles_like"] = "add_titles_like"
    clip: Id
    texts: Annotated[
        tuple[Annotated[str, StringConstraints(max_length=MAX_TEXT)], ...], Field(min_length=1, max_length=500)
    ]
    seed: Id


def pattern(find: str, capitals_count: bool, whole_words: bool) -> re.Pattern[str]:
    found = re.escape(find)
    return re.compile(rf"(?<!\w){found}(?!\w)" if whole_words else found, 0 if capitals_count else re.IGNORECASE)


@rule(ReplaceWords)
def replace_words(project: Project, edit: ReplaceWords) -> tuple[Project, str]:
    search = pattern(edit.find, edit.capitals_count, edit.whole_words)
    changed_clips, count = [], 0
    for clip in project.clips.values():
        if clip.content.kind != "text" or edit.clips and clip.id not in edit.clips:
            continue
        after, times = _replaced(clip, search, edit.by)
        if times:
            changed_clips.append(after)
            count += times
    if not count:
        raise EditError(f"No title has “{edit.find}”; nothing was changed.")
    return with_clips(project, changed_clips), f"replace “{edit.find}” {count} time{'' if count == 1 else 's'}"


def _replaced(clip: Clip, search: re.Pattern[str], by: str) -> tuple[Clip, int]:
    content = clip.content
    assert content.kind == "text"
    text, count = search.subn(lambda _: by, content.text)
    held = dict(content.held)
    if "text" in held:
        made = []
        for key in held["text"]:
            value, times = search.subn(lambda _: by, str(key.value))
            count += times
            made.append(key.model_copy(update={"value": value}))
        held["text"] = tuple(made)
    if not count:
        return clip, 0
    after = changed(content, text=text, ranges=kept(content.ranges, content.text, text), held=held)
    return clip.model_copy(update={"content": after, "name": " ".join(text.split())[:60] or "Empty title"}), count


def _by_type(project: Project, clip: Clip) -> Clip:
    """The title where it is, measured by its type: titles of a series then stand at one height, whatever they say."""
    if clip.content.kind != "text" or clip.content.measured_by == "type":
        return clip
    by_type = clip.model_copy(update={"content": clip.content.model_copy(update={"measured_by": "type"})})
    size = project.settings.width, project.settings.height
    places = []
    for each in (clip, by_type):
        layer = evaluate_clip(project, each, clip.length // 2)
        places.append((0.0, 0.0) if layer is None else stand(layer.content, *size).matrix.map(0, 0))
    (x, y), (now_x, now_y) = places
    return moved(by_type, x - now_x, y - now_y)


@rule(AddTitles)
def add_titles(project: Project, edit: AddTitles) -> tuple[Project, str]:
    like = project.clips.get(edit.clip)
    if like is None or like.content.kind != "text":
        raise EditError("Choose a title first; the others are made like it. Nothing was changed.")
    project = with_clips(project, [_by_type(project, like)])
    project, _ = change_text(project, ChangeText(clip=like.id, text=edit.texts[0]))
    like = project.clips[like.id]
    own = like.content
    assert own.kind == "text"
    for number, words in enumerate(edit.texts[1:], 1):
        id = f"{edit.seed[:56]}-{number}"
        if id in project.clips:
            raise EditError(f"There is already a clip “{id}”; nothing was added.")
        content = own.model_copy(update={"text": words, "ranges": kept(own.ranges, own.text, words), "held": {}})
        project = place_somewhere(
            project,
            like.model_copy(
                update={
                    "id": id,
                    "head": like.head + number * like.length,
                    "content": content,
                    "name": " ".join(words.split())[:60] or "Empty title",
                }
            ),
        )
    return project, f"{len(edit.texts)} titles from lines"
