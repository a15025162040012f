"""Putting a recipe on a clip's words."""

from __future__ import annotations

from typing import Mapping

from ..motion import Fixed
from ..project.model import Clip, Project, Step, Styled, Text
from ..steps import KINDS
from ..type import family_of
from .model import HEIGHT, RATE, LineStyle, Recipe
from .scaling import scaled_step, scaled_text

Fill = Mapping[str, str | float]


def apply_recipe(project: Project, clip: Clip, recipe: Recipe, fills: Fill, adds: bool = False) -> Clip:
    """The clip with the recipe's look and motion on its own words; with `adds`, only its steps, after the clip's own.

    A fill-in that is not filled has the recipe's own value. Words filled in replace the clip's.
    """
    recipe = _filled(recipe, fills)
    length, time = project.settings.height / HEIGHT, float(project.settings.rate.fraction) / RATE
    steps = tuple(scaled_step(step, length, time) for step in recipe.steps)
    if adds:
        return clip.model_copy(update={"steps": _with(clip.steps, steps)})
    own = clip.content
    if own.kind != "text":
        raise ValueError(f"“{clip.name}” has no words; a recipe goes on a title.")
    words = next(
        (str(fills[each.name]) for each in recipe.fill_ins if each.kind == "words" and each.name in fills), own.text
    )
    content = scaled_text(recipe.content, length, time)
    if recipe.sizes:
        content = content.model_copy(update={"size": Fixed(value=round(_size(recipe, words) * length, 1))})
    content = content.model_copy(
        update={
            "text": words,
            "held": own.held if words == own.text else {},
            "ranges": _ranges(recipe, words),
            "caption": own.caption,
        }
    )
    return clip.model_copy(
        update={
            "content": content,
            "steps": steps,
            "arrival": round(recipe.arrival * time),
            "departure": round(recipe.departure * time),
            "shutter": recipe.shutter,
            "recipe": recipe.id,
            "name": " ".join(words.split())[:60] or "Empty title",
        }
    )


def _with(own: tuple[Step, ...], more: tuple[Step, ...]) -> tuple[Step, ...]:
    used = {step.id for step in own}
    out = list(own)
    for step in more:
        name, number = step.id, 2
        while name in used:
            name, number = f"{step.id[:58]}-{number}", number + 1
        used.add(name)
        out.append(step.model_copy(update={"id": name}))
    return tuple(out[:100])


def _size(recipe: Recipe, words: str) -> float:
    """By the longest line, each counted as large as it is set: the more characters, the smaller."""
    styles = recipe.lines or (LineStyle(),)
    count = max(
        len(line) * (styles[min(number, len(styles) - 1)].size or 1) for number, line in enumerate(words.split("\n"))
    )
    points = sorted(recipe.sizes)
    if count <= points[0][0]:
        return points[0][1]
    for (c0, s0), (c1, s1) in zip(points, points[1:]):
        if count <= c1:
            return s0 + (s1 - s0) * (count - c0) / (c1 - c0)
    return points[-1][1]


def _ranges(recipe: Recipe, words: str) -> tuple[Styled, ...]:
    """The recipe's line styles on these words."""
    if not recipe.lines:
        return ()
    made, begins = [], 0
    for number, line in enumerate(words.split("\n")):
        style = recipe.lines[min(number, len(recipe.lines) - 1)].model_dump(exclude_none=True)
        if style and line:
            made.append(Styled(start=begins, end=begins + len(line), **style))
        begins += len(line) + 1
    return tuple(made)


def _filled(recipe: Recipe, fills: Fill) -> Recipe:
    for each in recipe.fill_ins:
        value = fills.get(each.name)
        if value is not None and each.kind != "words":
            for place in each.places:
                recipe = _put(recipe, place, value)
    return recipe


def _put(recipe: Recipe, place: str, value: str | float) -> Recipe:
    """A fill-in's value at one of its places; a place that is not there is left out."""
    owner, _, name = place.partition(".")
    if owner == "content" and name in Text.model_fields:
        return recipe.model_copy(update={"content": recipe.content.model_copy(update={name: Fixed(value=value)})})
    if owner == "line":
        number, _, field = name.partition(".")
        if number.isdigit() and int(number) < len(recipe.lines):
            lines = list(recipe.lines)
            lines[int(number)] = lines[int(number)].model_copy(update={field: value})
            return recipe.model_copy(update={"lines": tuple(lines)})
        return recipe
    change = (
        (lambda step: {"media": value})
        if name == "media"
        else lambda step: {"values": {**step.values, name: Fixed(value=value)}}
    )
    steps = tuple(step.model_copy(update=change(step)) if step.id == owner else step for step in recipe.steps)
    return recipe.model_copy(update={"steps": steps})


def missing_parts(recipe: Recipe) -> list[str]:
    """What the recipe needs and is not here; it works all the same, with what stands in."""
    found = []
    for face in {recipe.content.typeface, *(line.typeface for line in recipe.lines if line.typeface)}:
        if family_of(face) is None:
            found.append(f"the typeface “{face}” (Archivo stands in)")
    found += [f"the step “{step.kind}” (left out)" for step in recipe.steps if step.kind not in KINDS]
    return found
