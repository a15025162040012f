"""What there is to choose from: typefaces, step kinds, their values."""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Literal

from fastapi import APIRouter, Response
from pydantic import Field

from ...core.compose.shutter import CEILINGS
from ...core.contents import CONTENT_PARAMETERS, Camera, Light, ModelFile, Shape, choices_of
from ...core.edits import EditError
from ...core.modelled import Model
from ...core.motion import STARTING_POINTS, Ease, EaseError, describe_ease, read_css, write_css
from ...core.motion.ease import trace
from ...core.motion.handheld import SITUATIONS
from ...core.motion.values import Value
from ...core.patterns import PATTERNS
from ...core.picture import MODES, SvgError, read_svg
from ...core.project.mask import MASK_PARAMETERS
from ...core.recipes.looks import LOOKS
from ...core.recipes.moves import MOVES
from ...core.recipes.together import TOGETHER
from ...core.steps import KINDS, MIX, Choice, Parameter
from ...core.type import Family, families
from ...media.apart import Unreadable
from ..context import InContext

router = APIRouter(tags=["catalogue"])


class ParameterInfo(Model):
    """A value's gauge: printed ends `low` and `high`, allowed `least` to `most`, all as stored; `sort` is what it
    is."""

    name: str
    label: str
    unit: str
    default: Value
    low: float
    high: float
    least: float
    most: float
    neutral: float
    digits: int
    may_move: bool
    integrated: bool
    """Whether it may have keys, and no motor and no repeat."""
    shown_times: float
    sort: Literal["number", "colour", "point", "framing", "outline"]
    gentle: float
    when: tuple[str, list[str]] | None
    """A choice and the words of it with which the value counts."""


class EaseInfo(Model):
    """An ease: how it runs, as (progress in, progress out), in words and in CSS."""

    name: str
    ease: Ease
    curve: list[tuple[float, float]]
    says: str
    css: str


class EaseOrder(Model):
    """An ease to be described: itself, or as CSS."""

    ease: Ease | None = None
    css: Annotated[str, Field(max_length=20_000)] | None = None


class ReadyInfo(Model):
    """A motion a step can come with."""

    name: str
    label: str
    synonyms: list[str]


class ChoiceInfo(Model):
    name: str
    label: str
    options: list[str]
    given: bool
    """Whether it does nothing before the step was given a picture."""


class KindInfo(Model):
    kind: str
    label: str
    group: str
    text_only: bool
    makes_bodies: bool
    """Whether it makes ink solid: of words and shapes, and of nothing else."""
    takes: str | None
    masked: bool
    """Whether it can be done to a part of the picture only."""
    synonyms: list[str]
    says: str
    parameters: list[ParameterInfo]
    choices: list[ChoiceInfo]
    ready: list[ReadyInfo]


class FamilyInfo(Model):
    id: str
    name: str
    character: str
    weights: list[int]
    any_weight: bool
    widths: tuple[float, float]
    own: bool


class PatternInfo(Model):
    """A generated picture."""

    kind: str
    label: str
    synonyms: list[str]
    parameters: list[ParameterInfo]
    choices: list[ChoiceInfo]


class LookInfo(Model):
    """Steps without motion that any clip can have put on."""

    id: str
    name: str
    note: str


class TogetherInfo(Model):
    """Several steps that are added as one."""

    id: str
    label: str
    synonyms: list[str]
    group: str


class MoveInfo(Model):
    """A move in one click; one that `points` goes to a picked point."""

    id: str
    label: str
    synonyms: list[str]
    points: bool


class SituationInfo(Model):
    """How and where a camera is held, in words."""

    id: str
    says: str


_CHOSEN = (Shape(), Camera(), Light(), ModelFile(media="none"))
"""Contents of which something is chosen from a few words."""


class Catalogue(Model):
    steps: list[KindInfo]
    content: dict[str, list[ParameterInfo]]
    chosen: dict[str, list[ChoiceInfo]]
    """What is chosen of contents that keep their choices by name, by their kind."""
    patterns: list[PatternInfo]
    mix: ParameterInfo
    masks: dict[str, list[ParameterInfo]]
    """What can be set of a mask, by its form."""
    together: list[TogetherInfo]
    looks: list[LookInfo]
    moves: list[MoveInfo]
    situations: list[SituationInfo]
    modes: list[str]
    """How a clip can be blended with what lies below it."""
    families: list[FamilyInfo]
    eases: list[EaseInfo]
    ceilings: dict[str, int]
    """The most motion-blur samples a frame gets: "exact" as exported, "light" while playing."""


def family_info(each: Family) -> FamilyInfo:
    return FamilyInfo(
        id=each.id,
        name=each.name,
        character=each.character,
        weights=list(each.weights),
        any_weight=each.any_weight,
        widths=each.widths,
        own=each.own,
    )


def _infos(parameters: tuple[Parameter, ...]) -> list[ParameterInfo]:
    return [ParameterInfo(**each.describe()) for each in parameters]


def _choices(choices: tuple[Choice, ...]) -> list[ChoiceInfo]:
    return [
        ChoiceInfo(name=each.name, label=each.label, options=list(each.options), given=each.given) for each in choices
    ]


@router.get("/catalogue", response_model=Catalogue)
def catalogue() -> Response:
    return Response(_written(tuple(families().values())), media_type="application/json")


@lru_cache(maxsize=2)
def _written(typefaces: tuple[Family, ...]) -> str:
    """The catalogue as JSON. Only the typefaces change while the service runs."""
    return Catalogue(
        steps=[
            KindInfo(
                kind=each.kind,
                label=each.label,
                group=each.group,
                text_only=each.text_only,
                makes_bodies=each.makes_bodies,
                takes=each.takes,
                masked=each.can_be_masked,
                synonyms=list(each.synonyms),
                says=each.says,
                parameters=_infos(each.parameters),
                choices=_choices(each.choices),
                ready=[ReadyInfo(name=one.name, label=one.label, synonyms=list(one.synonyms)) for one in each.ready],
            )
            for each in KINDS.values()
        ],
        content={kind: _infos(parameters) for kind, parameters in CONTENT_PARAMETERS.items()},
        chosen={each.kind: _choices(choices_of(each)) for each in _CHOSEN},
        patterns=[
            PatternInfo(
                kind=each.kind,
                label=each.label,
                synonyms=list(each.synonyms),
                parameters=_infos(each.parameters),
                choices=_choices(each.choices),
            )
            for each in PATTERNS.values()
        ],
        mix=_infos((MIX,))[0],
        masks={
            form: _infos(tuple(each for each in parameters if each.sort == "number"))
            for form, parameters in MASK_PARAMETERS.items()
        },
        together=[
            TogetherInfo(id=each.id, label=each.label, synonyms=list(each.synonyms), group=each.group)
            for each in TOGETHER.values()
        ],
        looks=[LookInfo(id=each.id, name=each.name, note=each.note) for each in LOOKS.values()],
        moves=[
            MoveInfo(id=each.id, label=each.label, synonyms=list(each.synonyms), points=each.points)
            for each in MOVES.values()
        ],
        situations=[SituationInfo(id=id, says=each.says) for id, each in SITUATIONS.items()],
        modes=list(MODES),
        families=[family_info(each) for each in typefaces],
        eases=[_describe(name, ease) for name, ease in STARTING_POINTS],
        ceilings={"exact": CEILINGS[True], "light": CEILINGS[False]},
    ).model_dump_json()


def _describe(name: str, ease: Ease) -> EaseInfo:
    return EaseInfo(name=name, ease=ease, curve=list(trace(ease, 60)), says=describe_ease(ease), css=write_css(ease))


class DrawingFile(Model):
    text: Annotated[str, Field(max_length=2_000_000)]


class DrawingPart(Model):
    """A shape of a drawing: its name there, and its outline as SVG path data."""

    name: str
    outline: str


@router.post("/drawing-parts")
def drawing_parts(file: DrawingFile, context: InContext) -> list[DrawingPart]:
    """The shapes of an SVG, to be used as drawings of a step."""
    try:
        found = context.strangers.read(read_svg, file.text)
    except SvgError as error:
        raise EditError(str(error)) from None
    except Unreadable as error:
        raise EditError(f"The drawing can't be used: {error}. Save a simpler one.") from None
    return [DrawingPart(name=each.name, outline=each.outline) for each in found]


@router.post("/ease")
def describe(order: EaseOrder) -> EaseInfo:
    """How an ease runs, and how CSS writes it; or the ease a CSS text stands for."""
    try:
        return _describe("", order.ease or read_css(order.css or ""))
    except EaseError as error:
        raise EditError(str(error)) from None
