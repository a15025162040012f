"""Making a recipe of a clip."""

from __future__ import annotations

from ..motion import Fixed, Property
from ..project.mask import OF_ANOTHER
from ..project.model import Clip, Project, Step, Text
from ..steps import KINDS
from .model import HEIGHT, RATE, FillIn, LineStyle, Recipe, Sort
from .scaling import scaled_step, scaled_text

_STYLE = tuple(LineStyle.model_fields)


def recipe_of(project: Project, clip: Clip, id: str, name: str, sort: Sort, note: str = "") -> Recipe:
    """The clip's look and motion, as far as they need no other clip of its film. Parts that are whole lines become line
    styles; every colour becomes a fill-in."""
    words = clip.content
    if words.kind != "text":
        raise ValueError(f"“{clip.name}” has no words; a recipe is made of a title.")
    length, time = HEIGHT / project.settings.height, RATE / float(project.settings.rate.fraction)
    content = scaled_text(words, length, time).model_copy(
        update={"text": "", "ranges": (), "held": {}, "caption": None, "type_style": None}
    )
    steps = tuple(scaled_step(_by_itself(step), length, time) for step in clip.steps)
    fill_ins = [FillIn(name="words", kind="words", value=words.text[:2000])]
    fill_ins += _colours(words, steps)
    if isinstance(content.size, Fixed) and isinstance(content.size.value, (int, float)):
        fill_ins.append(FillIn(name="size", kind="number", value=content.size.value, places=("content.size",)))
    fill_ins += [
        FillIn(name=f"picture {number}", kind="picture", value=str(step.media), places=(f"{step.id}.media",))
        for number, step in enumerate((step for step in steps if step.media), 1)
    ]
    return Recipe(
        id=id,
        name=name,
        sort=sort,
        note=note,
        content=content,
        lines=_lines(words),
        arrival=round(clip.arrival * time),
        departure=round(clip.departure * time),
        length=round(clip.length * time),
        shutter=clip.shutter,
        steps=steps,
        fill_ins=tuple(fill_ins[:40]),
    )


def _colours(words: Text, steps: tuple[Step, ...]) -> list[FillIn]:
    """One fill-in for every colour that is there, with all places that have it."""
    places: dict[str, list[str]] = {}
    if words.colour.state == "fixed":
        places.setdefault(str(words.colour.value), []).append("content.colour")
    for step in steps:
        for each in KINDS[step.kind].parameters if step.kind in KINDS else ():
            prop = step.values.get(each.name)
            if each.sort == "colour" and prop is not None and prop.state == "fixed":
                places.setdefault(str(prop.value), []).append(f"{step.id}.{each.name}")
    return [
        FillIn(name=f"colour {number}", kind="colour", value=value, places=tuple(found[:40]))
        for number, (value, found) in enumerate(places.items(), 1)
    ][:20]


def _by_itself(step: Step) -> Step:
    """The step without what looks at another clip: another film has none of that id. A mask of another clip is left
    out, a value that goes with one has the value it rests at."""

    def alone(values: dict[str, Property]) -> dict[str, Property]:
        return {name: _resting(prop) for name, prop in values.items()}

    masks = tuple(
        mask.model_copy(update={"values": alone(mask.values)}) for mask in step.masks if mask.form not in OF_ANOTHER
    )
    return step.model_copy(update={"values": alone(step.values), "mix": _resting(step.mix), "masks": masks})


def _resting(prop: Property) -> Property:
    """The value a property rests at, where it goes with another clip; any other as it is."""
    if prop.state != "driven" or prop.motor.kind not in ("follow", "tether", "on_point", "sound_level"):
        return prop
    if prop.motor.kind == "follow" and prop.motor.clip is None:
        return prop
    return Fixed(value=prop.rest)


def _lines(words: Text) -> tuple[LineStyle, ...]:
    """Styles of lines that are set as a whole; parts of lines are of these words alone and stay behind."""
    made, begins = [], 0
    for line in words.text.split("\n")[:50]:
        part = next((each for each in words.ranges if (each.start, each.end) == (begins, begins + len(line))), None)
        made.append(LineStyle(**{name: getattr(part, name) for name in _STYLE}) if part else LineStyle())
        begins += len(line) + 1
    return tuple(made) if any(each != LineStyle() for each in made) else ()
