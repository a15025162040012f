"""`./comet sheet`: a contact sheet of every recipe, at three moments over three of the demo's shots."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Optional

import typer

from .opening import saying

if TYPE_CHECKING:
    import numpy as np

    from ..core.project.model import Media, Project
    from ..core.recipes import Recipe

_MOMENTS = (("heath-evening", 0.12), ("ottoline-bench", 0.6), ("hands-jars", 0.6))
"""On its way over the evening, at rest over a busy shot and over a bright one."""

_WIDE, _HIGH, _NAME = 256, 144, 20


def sheet(
    out: Annotated[Path, typer.Option(help="The PNG to write.")],
    words: Annotated[
        Optional[str], typer.Option(help="Words to set instead of each recipe's own; | parts lines.")
    ] = None,
) -> None:
    """A contact sheet of all shipped recipes."""
    import numpy as np

    from ..core.compose import Painter, evaluate, plan
    from ..core.recipes import shipped_recipes
    from ..demo.world import make_world
    from ..media.decode import ShotSources
    from ..setup.home import ROOT

    with saying():
        folder = ROOT / "var" / "demo-media"
        folder.mkdir(parents=True, exist_ok=True)
        media = make_world(folder)
    painter = Painter(ShotSources(lambda id: folder / media[id].path))
    texts = (words.replace("|", "\n"),) if words else ()
    tiles = []
    for recipe in shipped_recipes().values():
        strip = np.zeros((_HIGH + _NAME, _WIDE * len(_MOMENTS), 3), np.uint8)
        for number, (shot, share) in enumerate(_MOMENTS):
            film = _film(recipe, shot, media, texts)
            frame = round(share * (film.clips["t"].length - 1))
            picture = painter.paint(plan(evaluate(film, frame), _WIDE, _HIGH))
            strip[_NAME:, number * _WIDE : (number + 1) * _WIDE] = picture[..., 2::-1]
        _caption(strip, recipe)
        tiles.append(strip)
    half = (len(tiles) + 1) // 2
    columns = [
        np.vstack(part + [np.zeros_like(tiles[0])] * (half - len(part))) for part in (tiles[:half], tiles[half:])
    ]
    whole = np.hstack([columns[0], np.zeros((columns[0].shape[0], 8, 3), np.uint8), columns[1]])
    _write(out, whole)
    typer.echo(f"{len(tiles)} recipes, {len(_MOMENTS)} moments each: {out}")


def pattern_sheet(out: Path) -> None:
    """Every generated picture as it is laid over a film, at three moments over one of the demo's shots."""
    import numpy as np

    from ..core.compose import Painter, evaluate, plan
    from ..core.edits import AddGenerated, apply
    from ..core.patterns import PATTERNS
    from ..demo.world import make_world
    from ..media.decode import ShotSources
    from ..setup.home import ROOT

    folder = ROOT / "var" / "demo-media"
    media = make_world(folder)
    painter = Painter(ShotSources(lambda id: folder / media[id].path))
    tiles = []
    for pattern in PATTERNS.values():
        film, _ = apply(_ground("hands-jars", media), AddGenerated(clip="g", frame=0, length=200, pattern=pattern.kind))
        row = [painter.paint(plan(evaluate(film, frame), _WIDE, _HIGH))[..., 2::-1] for frame in (20, 60, 140)]
        tiles.append(np.vstack([_titled(pattern.label, 3 * _WIDE), np.hstack(row)]))
    half = (len(tiles) + 1) // 2
    whole = np.hstack(
        [np.vstack(tiles[:half]), np.zeros((half * len(tiles[0]), 8, 3), np.uint8), np.vstack(tiles[half:])]
    )
    _write(out, whole)


def _write(out: Path, bgr: np.ndarray) -> None:
    """A sheet in 256 colours: enough to judge by, and half the file."""
    from PIL import Image

    few = Image.fromarray(bgr[..., ::-1]).quantize(256, dither=Image.Dither.NONE)
    few.save(out, optimize=True)


def _ground(shot: str, media: dict[str, Media]) -> Project:
    """A shot that stands still."""
    from ..core.project.model import Clip, Footage, Project, Settings, Track

    clip = Clip(id="shot", track="shots", name="shot", head=0, length=2000, content=Footage(media=shot, speed=0))
    tracks = (Track(id="shots", name="Shots"),)
    return Project(settings=Settings(name="sheet"), tracks=tracks, media=media, clips={"shot": clip})


def _film(recipe: Recipe, shot: str, media: dict[str, Media], texts: tuple[str, ...]) -> Project:
    """One title of a recipe over a shot that stands still."""
    from ..core.edits import AddFromRecipe, apply

    film = _ground(shot, media)
    return apply(film, AddFromRecipe(new="t", frame=0, recipe=recipe, texts=texts))[0]


def _caption(strip: np.ndarray, recipe: Recipe) -> None:
    """The recipe's name, what it is for and its typeface."""
    from ..core.type import families

    family = families().get(recipe.content.typeface)
    text = f"{recipe.name}, {recipe.sort}, {family.name if family else recipe.content.typeface}"
    strip[:_NAME] = _titled(text, strip.shape[1])


def _titled(text: str, width: int) -> np.ndarray:
    """Words on black, set in the product's own type."""
    import numpy as np

    from ..core.picture import Matrix, Rect
    from ..core.type import Pose, Setting, lay_out, paint_text

    strip = np.zeros((_NAME, width, 3), np.uint8)
    layout = lay_out(text, Setting("archivo", 500))
    place = Matrix.shift(4 - 13 * layout.ink.x0, _NAME - 6) @ Matrix.grow(13)
    patch = paint_text(layout, [Pose(None, place)], Rect(0, 0, width, _NAME), (255, 255, 255))
    light = patch.pixels[..., None] * (0.85 / 255)
    strip[patch.y : patch.y + patch.height, patch.x : patch.x + patch.width] = 255 * light
    return strip
