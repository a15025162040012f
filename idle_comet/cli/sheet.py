"""`./comet sheet`: a contact sheet of every recipe, six moments each, over the demo's own shots."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Optional

import typer

from .opening import saying

_MOMENTS = (0.04, 0.1, 0.2, 0.36, 0.6, 0.96)
_WIDE, _HIGH, _NAME = 160, 90, 14


def sheet(
    out: Annotated[Path, typer.Option(help="The PNG to write.")],
    words: Annotated[
        Optional[str], typer.Option(help="Words to set instead of each recipe's own; | parts lines.")
    ] = None,
) -> None:
    """A contact sheet of all shipped recipes."""
    import cv2
    import numpy as np

    from ..core.compose import Painter, evaluate, plan
    from ..core.edits import AddFromRecipe, apply
    from ..core.project.model import Clip, Footage, Project, Settings, Track
    from ..core.recipes import shipped_recipes
    from ..demo.world import make_world
    from ..media.decode import ShotSources
    from ..setup.home import ROOT

    with saying():
        folder = ROOT / "var" / "demo-media"
        folder.mkdir(parents=True, exist_ok=True)
        media = make_world(folder)
    painter = Painter(ShotSources(lambda id: folder / media[id].path))
    shots = {
        "title": "heath-evening",
        "chapter": "heath-evening",
        "quote": "heath-evening",
        "credits": "heath-evening",
        "strap": "ottoline-bench",
        "counter": "hands-jars",
        "end card": "hands-jars",
    }
    tiles = []
    for recipe in shipped_recipes().values():
        ground = Clip(
            id="shot",
            track="shots",
            name="shot",
            head=0,
            length=2000,
            content=Footage(media=shots[recipe.sort], speed=0),
        )
        film = Project(
            settings=Settings(name="sheet"),
            tracks=(Track(id="shots", name="Shots"),),
            media=media,
            clips={"shot": ground},
        )
        film, _ = apply(
            film, AddFromRecipe(new="t", frame=0, recipe=recipe, texts=(words.replace("|", "\n"),) if words else ())
        )
        length = film.clips["t"].length
        row = [
            painter.paint(plan(evaluate(film, round(share * (length - 1))), _WIDE, _HIGH))[..., 2::-1]
            for share in _MOMENTS
        ]
        strip = np.zeros((_HIGH + _NAME, _WIDE * len(row), 3), np.uint8)
        strip[_NAME:] = np.hstack(row)
        cv2.putText(
            strip,
            f"{recipe.name}, {recipe.sort}, {recipe.content.typeface}",
            (3, _NAME - 4),
            cv2.FONT_HERSHEY_SIMPLEX,
            0.36,
            (216, 228, 236),
            1,
            cv2.LINE_AA,
        )
        tiles.append(strip)
    half = (len(tiles) + 1) // 2
    columns = [
        np.vstack(part + [np.zeros_like(tiles[0])] * (half - len(part))) for part in (tiles[:half], tiles[half:])
    ]
    cv2.imwrite(
        str(out),
        np.hstack([columns[0], np.zeros((columns[0].shape[0], 8, 3), np.uint8), columns[1]]),
        [cv2.IMWRITE_PNG_COMPRESSION, 9],
    )
    typer.echo(f"{len(tiles)} recipes, {len(_MOMENTS)} moments each: {out}")
