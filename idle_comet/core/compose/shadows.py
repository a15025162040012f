"""Shadows that planes and bodies throw on planes.

What a light sees of a thing, on the plane that lies behind it, is its shadow there. So a shadow is planned as a picture
through a camera that stands in the light and looks across the plane; and since a wide light blurs shadows just as a
lens with an opening so wide blurs what it is not set to, that camera is set to the plane, through an opening as wide as
the light.
"""

from __future__ import annotations

import math

from ..moment.scene import Layer, StepNow
from ..moment.standing import stand
from ..picture import Eye, Focus, Matrix, Vector, cross, dot
from ..space import LightNow
from ..steps import STAND, Rest, Stand
from .back import Back
from .graph import Blended, Shadow
from .sight import Inside, Sight


def shadows_on(step: StepNow, rest: Rest, back: Back, sight: Sight, inside: Inside) -> tuple[Shadow, ...]:
    """What throws a shadow on what this step stands up; nothing for other steps."""
    if step.kind != STAND.kind or not step.casters:
        return ()
    assert isinstance(STAND, Stand)
    placed = STAND.place(step.values, rest) or Matrix()
    plane = STAND.plane(step.values, rest)
    seen_of_it = back.window.meets(rest.box.through(back.matrix @ placed).grown(2))
    found: list[Shadow] = []
    for number, light in enumerate(step.values.get("lights") or ()):
        if not light.shadows or light.sort == "everywhere" or seen_of_it.empty:
            continue
        seen = _in_light(light, plane, rest)
        if seen is None:
            continue
        eye, to_plane, far = seen
        # A soft edge is as well seen in half as many px.
        coarse = 2 if eye.focus is not None else 1
        size = Matrix.grow(1 / coarse)
        window = seen_of_it.through(size, 1.0)
        within = sight._replace(view=size @ back.matrix @ placed @ to_plane, window=window, frame=window)
        casters = [each for each in step.casters if _between(each, eye, far, sight)]
        thrown = [inside.clip(_before(each, eye), within) for each in casters]
        children = tuple(each for each in thrown if each is not None)
        if children:
            found.append(Shadow(number, Blended(children, window), coarse))
    return tuple(found)


def _in_light(light: LightNow, plane: tuple[Vector, Vector, Vector], rest: Rest) -> tuple[Eye, Matrix, float] | None:
    """The camera in a light that looks across a plane, the way from its frame to the plane's own px, and how far the
    plane is; None for a light in the plane."""
    origin, across, down = plane
    long = math.sqrt(dot(across, across))
    if long < 1e-9:
        return None
    right, lower = (tuple(each / long for each in axis) for axis in (across, down))
    ahead = cross(right, lower)  # type: ignore[arg-type]
    apart = tuple(a - b for a, b in zip(origin, light.at))
    far = dot(ahead, apart)  # type: ignore[arg-type]
    if far < 0:
        ahead, far = (-ahead[0], -ahead[1], -ahead[2]), -far
    if far < 1e-6:
        return None
    focus = Focus(far, light.size) if light.size > 0 else None
    eye = Eye(light.at, right, lower, ahead, far, focus, far * (1 - 1e-6))  # type: ignore[arg-type]
    x, y = (dot(axis, apart) for axis in (right, lower))  # type: ignore[arg-type]
    to_plane = Matrix.grow(1 / long) @ Matrix.shift(-rest.width / 2 - x, -rest.height / 2 - y)
    return eye, to_plane, far


def _before(layer: Layer, eye: Eye) -> Layer:
    """A layer as a light sees it."""
    steps = tuple(
        step._replace(values={**step.values, "eye": eye, "lights": None}, casters=())
        if step.kind == STAND.kind
        else step
        for step in layer.steps
    )
    return layer._replace(steps=steps, blend="normal")


def _between(layer: Layer, eye: Eye, far: float, sight: Sight) -> bool:
    """Whether the middle of a layer lies between a light and a plane."""
    assert isinstance(STAND, Stand)
    step = next((each for each in layer.steps if each.kind == STAND.kind and each.mix > 0), None)
    if step is None:
        return False
    rest = stand(layer.content, sight.width, sight.height).rest(step.leaving, step.pivot)
    return 1e-3 < eye.depth(STAND.middle(step.values, rest)) < far * (1 - 1e-6)
