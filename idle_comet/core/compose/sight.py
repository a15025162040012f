"""From where a picture is looked at while it is planned."""

from __future__ import annotations

from typing import NamedTuple, Protocol

from ..moment.scene import Layer, Scene
from ..picture import Matrix, Rect
from .graph import Blended, Picture, Seen


class Sight(NamedTuple):
    """`view` leads from px of the project's frame (`width` × `height`) to the painted picture, `window` is what is
    needed of it, `frame` what can be seen of it in the end. `exact` asks for the export's own sampling. What fills the
    frame and goes on past its edges `spreads` nowhere when it is blurred. All that is seen `moves` with what it is
    in."""

    width: int
    height: int
    view: Matrix
    window: Rect
    frame: Rect
    exact: bool
    spreads: bool = True
    moves: bool = False

    @property
    def span(self) -> float:
        """The longer side of the frame, in px of the painted picture."""
        return max(self.frame.x1 - self.frame.x0, self.frame.y1 - self.frame.y0)


class Inside(Protocol):
    """Plans what other pictures a clip's picture is made of: what a group holds, what lies below a treatment, and
    another clip that a mask looks at."""

    def scene(self, scene: Scene, sight: Sight) -> Blended: ...

    def below(self, sight: Sight) -> Picture: ...

    def clip(self, layer: Layer, sight: Sight) -> Seen | None: ...
