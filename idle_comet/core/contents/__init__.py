"""Every kind of content, one file each. A kind is registered by standing in these lists."""

from __future__ import annotations

from typing import Annotated, Union

from pydantic import Field

from ..modelled import Frozen
from ..steps import Parameter
from . import plain, text
from .base import MAX_FRAMES, MAX_TEXT, Frames, HeldKey, Id, Name, Shorthand, fixed
from .footage import Footage
from .group import Group
from .plain import Plain
from .still import Still
from .text import CHOICES, Feature, HeldName, Styled, Text, Typeface
from .treatment import Treatment

Content = Annotated[Union[Text, Footage, Still, Plain, Group, Treatment], Field(discriminator="kind")]

CONTENT_PARAMETERS: dict[str, tuple[Parameter, ...]] = {
    "text": text.PARAMETERS,
    "footage": (),
    "still": (),
    "plain": plain.PARAMETERS,
    "group": (),
    "treatment": (),
}

__all__ = [
    "CHOICES",
    "CONTENT_PARAMETERS",
    "Shorthand",
    "Content",
    "Feature",
    "Footage",
    "Frames",
    "Frozen",
    "Group",
    "HeldKey",
    "HeldName",
    "Id",
    "MAX_FRAMES",
    "MAX_TEXT",
    "Name",
    "Plain",
    "Still",
    "Styled",
    "Text",
    "Treatment",
    "Typeface",
    "fixed",
]
