"""What a picture covers, as far as that is told without painting it."""

from __future__ import annotations

from ..moment.scene import FootageNow, GeneratedNow, ModelNow, ShapeNow, TextNow
from ..moment.standing import content_size
from ..picture import Rect, covered_by
from ..steps import KINDS
from .generated import covers
from .graph import Picture, Seen, Source, Stepped, digest_of


def hides_all_below(seen: Seen, window: Rect) -> bool:
    """Whether a picture covers all of a window and lets nothing through."""
    if seen.opacity < 1 or seen.mode != "normal":
        return False
    picture = seen.picture
    while isinstance(picture, Stepped):
        if not KINDS[picture.plan.step.kind].keeps_cover(picture.plan.step.values):
            return False
        picture = picture.child
    # Edges are carried on past the frame, so that what covers it covers it after a blur too.
    box = _opaque(picture)
    return box is not None and isinstance(picture, Source) and covered_by(box, picture.matrix, window)


def cover_of(picture: Picture) -> bytes:
    """16 bytes that name what a picture covers: two that have the same cover the same px by as much, though they may
    show something else. So a shot in a cell that stays where it is has the same at every frame."""
    names: object = picture.digest
    box = _opaque(picture)
    if box is not None and isinstance(picture, Source):
        names = (
            ("all of", picture.window, picture.frame)
            if covered_by(box, picture.matrix, picture.window)
            else ("a part of", picture.window, picture.frame, box, picture.matrix, picture.exact, picture.moves)
        )
    elif isinstance(picture, Stepped) and KINDS[picture.plan.step.kind].covers_by_cover and not picture.plan.masks:
        names = (cover_of(picture.child), picture.plan.names())
    return digest_of(names)


def _opaque(picture: Picture) -> Rect | None:
    """The own bounds of a content that covers all of them; None of anything else."""
    content = picture.content if isinstance(picture, Source) else None
    if content is None or isinstance(content, (TextNow, ShapeNow, ModelNow)):
        return None
    if isinstance(content, FootageNow) and content.alpha or isinstance(content, GeneratedNow) and not covers(content):
        return None
    return Rect(0, 0, *content_size(content))
