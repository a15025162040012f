"""Every kind of content, one file each. A kind is registered by standing in these lists."""

from __future__ import annotations

from typing import Annotated, Union

from pydantic import Field

from ..modelled import Frozen
from ..motion import Fixed, Property
from ..patterns import PATTERNS
from ..steps import Choice, Parameter
from . import camera, footage, light, model, plain, shape, sound, text
from .base import MAX_FRAMES, MAX_TEXT, Frames, HeldKey, Id, Name, Shorthand, fixed
from .camera import Camera
from .footage import Footage
from .generated import Generated
from .group import Group
from .light import Light
from .model import ModelFile
from .plain import Plain
from .points import FollowedPoint, HandPlace
from .shape import Shape
from .sound import Sound, SoundHit
from .still import Still
from .text import CHOICES, Feature, HeldName, Styled, Text, Typeface
from .treatment import Treatment

Content = Annotated[
    Union[Text, Footage, Still, Plain, Generated, Shape, Camera, Light, ModelFile, Group, Treatment, Sound],
    Field(discriminator="kind"),
]

CONTENT_PARAMETERS: dict[str, tuple[Parameter, ...]] = {
    "text": text.PARAMETERS,
    "footage": footage.PARAMETERS,
    "still": (),
    "plain": plain.PARAMETERS,
    "generated": (),
    "shape": shape.PARAMETERS,
    "camera": camera.PARAMETERS,
    "light": light.PARAMETERS,
    "model": model.PARAMETERS,
    "group": (),
    "treatment": (),
    "sound": sound.PARAMETERS,
}

_CHOICES: dict[str, tuple[Choice, ...]] = {
    "shape": shape.CHOICES,
    "camera": camera.CHOICES,
    "light": light.CHOICES,
    "model": model.CHOICES,
}

WITH_MEDIA = (Footage, Still, Sound, ModelFile)
"""Contents that show or sound a file of the film: their `media`."""

BY_NAME = (Generated, Shape, Camera, Light, ModelFile)
"""Contents that keep their values and choices in dicts by name, and leave out those that were never set."""


def parameters_of(content: Content) -> tuple[Parameter, ...]:
    """Everything that can be set of a content; of a generated picture what its pattern has."""
    if content.kind == "generated":
        return PATTERNS[content.pattern].parameters if content.pattern in PATTERNS else ()
    return CONTENT_PARAMETERS[content.kind]


def choices_of(content: Content) -> tuple[Choice, ...]:
    """Everything of a content that is chosen from a few words, where it keeps those by name."""
    if content.kind == "generated":
        return PATTERNS[content.pattern].choices if content.pattern in PATTERNS else ()
    return _CHOICES.get(content.kind, ())


def property_in(content: Content, parameter: Parameter) -> Property:
    """One of its values; one never set has its default."""
    if isinstance(content, BY_NAME):
        return content.values.get(parameter.name) or Fixed(value=parameter.default)
    found: Property = getattr(content, parameter.name)
    return found


def with_properties(content: Content, values: dict[str, Property]) -> Content:
    """The content with these values."""
    if isinstance(content, BY_NAME):
        return content.model_copy(update={"values": {**content.values, **values}})
    return content.model_copy(update=dict(values))


__all__ = [
    "BY_NAME",
    "CHOICES",
    "CONTENT_PARAMETERS",
    "Camera",
    "Shorthand",
    "Content",
    "Feature",
    "FollowedPoint",
    "Footage",
    "Frames",
    "Frozen",
    "Generated",
    "Group",
    "HandPlace",
    "HeldKey",
    "HeldName",
    "Id",
    "Light",
    "MAX_FRAMES",
    "MAX_TEXT",
    "Name",
    "ModelFile",
    "Plain",
    "Shape",
    "Sound",
    "SoundHit",
    "Still",
    "Styled",
    "Text",
    "Treatment",
    "WITH_MEDIA",
    "Typeface",
    "choices_of",
    "fixed",
    "parameters_of",
    "property_in",
    "with_properties",
]
