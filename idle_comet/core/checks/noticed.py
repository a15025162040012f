"""What of a document this program can't do as it says: each said in a sentence, none of it lost."""

from __future__ import annotations

from typing import Any, Iterable, Iterator

from ..contents import parameters_of, property_in
from ..moment.joins import opening_of
from ..motion import Property
from ..patterns import PATTERNS
from ..project.model import Clip, Project, Step
from ..project.source import spare_frames
from ..steps import KINDS, Parameter
from ..type import STAND_IN, family_of
from ..wording import in_text

MOST = 100
"""Sentences; a document with more faults than these is best opened where it was made."""


def noticed(project: Project) -> list[str]:
    """Unknown step kinds, values, choices and typefaces, values out of range, pictures that are not there, and
    transitions without the frames they need; by clip, in order of time."""
    found: list[str] = []
    for clip in sorted(project.clips.values(), key=lambda each: (each.head, each.id)):
        for sentence in _of_clip(project, clip):
            if sentence not in found:
                found.append(sentence)
        if len(found) >= MOST:
            return [*found[:MOST], "There is more of this kind."]
    return found


def _of_clip(project: Project, clip: Clip) -> Iterator[str]:
    content = clip.content
    if content.kind == "sound" and content.media not in project.media:
        yield f"The sound of “{clip.name}” ({content.media}) is not in this film; nothing of it is heard."
    if content.kind in ("footage", "still", "model") and content.media not in project.media:
        yield f"The picture of “{clip.name}” ({content.media}) is not in this film; it is shown as missing."
    if content.kind == "generated" and content.pattern not in PATTERNS:
        yield f"“{clip.name}” is of a kind this version does not know ({content.pattern}); nothing of it is seen."
    for parameter in parameters_of(content):
        yield from _range(clip, parameter, property_in(content, parameter), content.kind)
    if content.kind == "text":
        named = {
            content.typeface,
            *(each.typeface for each in content.ranges if each.typeface),
            *(key.value for key in content.held.get("typeface", ())),
        }
        for typeface in sorted(str(each) for each in named):
            if family_of(typeface) is None:
                yield (
                    f"The typeface “{typeface}” of “{clip.name}” is not here; {STAND_IN.capitalize()} stands in for it."
                )
    for step in clip.steps:
        yield from _of_step(project, clip, step)
    joining = opening_of(project, clip)
    if clip.opening is not None and joining is not None and joining.before is not None:
        for side, other, needed in (
            (1, joining.before, joining.length // 2),
            (0, clip, joining.length - joining.length // 2),
        ):
            spare = spare_frames(project, other)
            if spare is not None and spare[side] < needed:
                end = "after its end" if side else "before its head"
                yield (
                    f"The {clip.opening.kind} into “{clip.name}” wants {needed} frames of “{other.name}” {end}, and "
                    f"there "
                    f"{'is' if spare[side] == 1 else 'are'} {spare[side]}; its {'last' if side else 'first'} frame "
                    f"stands still for the rest."
                )


def _of_step(project: Project, clip: Clip, step: Step) -> Iterator[str]:
    kind = KINDS.get(step.kind)
    if kind is None:
        yield f"“{clip.name}” has a step that is not known here (“{step.kind}”); it is kept, and does nothing."
        return
    parameters = {each.name: each for each in kind.parameters}
    for name, prop in step.values.items():
        if name not in parameters:
            yield f"{kind.label} of “{clip.name}” has no value “{name}”; it is kept, and does nothing."
        else:
            yield from _range(clip, parameters[name], prop, kind.label)
    choices = {each.name: each for each in kind.choices}
    for name, chosen in step.choices.items():
        if name not in choices:
            yield f"{kind.label} of “{clip.name}” has no choice “{name}”; it is kept, and does nothing."
        elif chosen not in choices[name].options:
            yield (
                f"{kind.label} of “{clip.name}” can't be “{chosen}” ({in_text(choices[name].label)}); it is taken "
                f"as “{choices[name].default}”."
            )
    if step.media is not None and step.media not in project.media:
        yield (
            f"The picture that {in_text(kind.label)} of “{clip.name}” uses ({step.media}) is not in this film; "
            f"the step does nothing."
        )


def _range(clip: Clip, parameter: Parameter, prop: Property, owner: str) -> Iterator[str]:
    values: Iterable[Any] = (
        (prop.value,) if prop.state == "fixed" else (key.value for key in prop.keys) if prop.state == "moving" else ()
    )
    for value in values:
        if not parameter.fits(value):
            yield (
                f"{parameter.label} of “{clip.name}” is a {parameter.sort}; {value!r} is taken as "
                f"{parameter.default!r}."
            )
            return
        numbers = value if parameter.sort == "point" else (value,) if parameter.sort == "number" else ()
        over = next((each for each in numbers if not parameter.least <= each <= parameter.most), None)
        if over is not None:
            times = parameter.shown_times
            yield (
                f"{parameter.label} of “{clip.name}” ({owner}) is {over * times:g}; it goes from "
                f"{parameter.least * times:g} to "
                f"{parameter.most * times:g} {parameter.unit} and is held there.".replace("  ", " ")
            )
            return
