"""What every model of the program is made of."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Model(BaseModel):
    """Described as it is answered: fields with defaults may be left out of what is sent, but are always in
    an answer."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)


class Frozen(Model):
    """A part of a document. It never changes: an edit makes a new one. Fields it does not have are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid")
