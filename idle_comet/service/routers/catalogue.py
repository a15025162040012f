"""What there is to choose from: typefaces, step kinds, their values."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import BaseModel

from ...core.steps import CONTENT_PARAMETERS, KINDS, MIX, Parameter
from ...core.type import FAMILIES

router = APIRouter(tags=["catalogue"])


class ParameterInfo(BaseModel):
    """A value's gauge: printed ends `low` and `high`, allowed `least` to `most`, all as stored."""

    name: str
    label: str
    unit: str
    default: float
    low: float
    high: float
    least: float
    most: float
    neutral: float
    digits: int
    may_move: bool
    shown_times: float


class KindInfo(BaseModel):
    kind: str
    label: str
    synonyms: list[str]
    says: str
    parameters: list[ParameterInfo]


class FamilyInfo(BaseModel):
    id: str
    name: str
    character: str
    weights: list[int]


class Catalogue(BaseModel):
    steps: list[KindInfo]
    content: dict[str, list[ParameterInfo]]
    mix: ParameterInfo
    families: list[FamilyInfo]


def _infos(parameters: tuple[Parameter, ...]) -> list[ParameterInfo]:
    return [ParameterInfo(**each.describe()) for each in parameters]


@router.get("/catalogue")
def catalogue() -> Catalogue:
    return Catalogue(
        steps=[KindInfo(kind=each.kind, label=each.label, synonyms=list(each.synonyms), says=each.says,
                        parameters=_infos(each.parameters)) for each in KINDS.values()],
        content={kind: _infos(parameters) for kind, parameters in CONTENT_PARAMETERS.items()},
        mix=_infos((MIX,))[0],
        families=[FamilyInfo(id=each.id, name=each.name, character=each.character, weights=list(each.weights))
                  for each in FAMILIES.values()],
    )
