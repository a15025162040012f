"""A picture that is reckoned, not recorded."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..modelled import Frozen
from ..motion import Property

_Word = Annotated[str, StringConstraints(max_length=60)]


class Generated(Frozen):
    """A pattern as large as the frame. Values and choices left out have their default."""

    kind: Literal["generated"] = "generated"
    pattern: _Word
    values: Annotated[dict[_Word, Property], Field(max_length=60)] = {}
    choices: Annotated[dict[_Word, _Word], Field(max_length=20)] = {}
