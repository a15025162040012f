"""Looks: steps without motion that give any clip, or a treatment over many, a finish."""

from __future__ import annotations

from typing import Any, Mapping

from ..motion import Fixed, Property
from ..project.model import Frozen, Step

_Given = tuple[str, Mapping[str, Any]] | tuple[str, Mapping[str, Any], Mapping[str, str]]


class Look(Frozen):
    id: str
    name: str
    note: str
    steps: tuple[Step, ...]


def _look(id: str, name: str, note: str, *given: _Given) -> Look:
    steps = []
    for number, (kind, values, *choices) in enumerate(given, 1):
        fixed: dict[str, Property] = {key: Fixed(value=value) for key, value in values.items()}
        steps.append(Step(id=f"look-{number}", kind=kind, values=fixed, choices=dict(choices[0]) if choices else {}))
    return Look(id=id, name=name, note=note, steps=tuple(steps))


LOOKS: dict[str, Look] = {
    look.id: look
    for look in (
        _look(
            "evening-gold",
            "Evening gold",
            "Low sun: warm, a little more contrast, the corners fall off.",
            ("colour_grade", {"temperature": 0.3, "contrast": 0.14, "saturation": 1.12}),
            ("lift_gamma_gain", {"lift_blue": 0.03, "gain_red": 1.04}),
            ("vignette", {"strength": 0.32, "size": 0.5}),
        ),
        _look(
            "frost",
            "Frost on the heath",
            "Cold and pale, blacks lifted, hardly a colour left.",
            ("colour_grade", {"temperature": -0.4, "saturation": 0.62, "brightness": 0.03}),
            ("lift_gamma_gain", {"lift": 0.05, "lift_blue": 0.03, "gamma": 1.08}),
        ),
        _look(
            "old-print",
            "Old print",
            "Brown tones, grain, unsteady light.",
            ("tone_colours", {"first": "#1d120c", "second": "#8a6443", "third": "#f4e6c8", "strength": 0.72}),
            ("flicker", {"amount": 0.1, "rate": 7}),
            ("grain", {"strength": 6, "size": 2}),
            ("vignette", {"strength": 0.55, "size": 0.35}),
        ),
        _look(
            "two-jars",
            "Two jars",
            "Dark plum to honey, nothing between.",
            ("tone_colours", {"first": "#22112e", "second": "#ffcf87", "strength": 0.85}, {"number": "two"}),
            ("colour_grade", {"contrast": 0.12}),
        ),
        _look(
            "honey-haze",
            "Honey haze",
            "What is bright spreads warm over the rest.",
            ("glow", {"gain": 0.5, "size": 150, "threshold": 0.55, "tint": 0.35}),
            ("colour_grade", {"temperature": 0.22, "contrast": -0.06}),
        ),
        _look(
            "night-hive",
            "Night at the hives",
            "Day turned into night: four fifths of a stop down, blue, dim at the edges.",
            ("colour_grade", {"exposure": -0.8, "temperature": -0.7, "saturation": 0.55, "contrast": 0.1}),
            ("vignette", {"strength": 0.7, "size": 0.25, "colour": "#02040a"}),
        ),
        _look(
            "pencil-grey",
            "Pencil grey",
            "Black and white with a firm middle and fine grain.",
            ("colour_grade", {"saturation": 0, "contrast": 0.22}),
            ("grain", {"strength": 6, "size": 1.2}),
        ),
        _look(
            "bleached",
            "Left in the sun",
            "Colours bleached, whites hard.",
            ("colour_grade", {"saturation": 0.45, "contrast": 0.34, "exposure": 0.18}),
            ("lift_gamma_gain", {"gain": 1.05, "lift": 0.02}),
        ),
        _look(
            "reverie",
            "Reverie",
            "A soft bloom over everything, edges lost in white.",
            ("glow", {"gain": 0.9, "size": 90, "threshold": 0.3}),
            ("vignette", {"strength": 0.4, "size": 0.45, "colour": "#ffffff"}),
            ("colour_grade", {"contrast": -0.1, "saturation": 0.85}),
        ),
        _look(
            "back-room-screen",
            "Back-room screen",
            "Seen on an old monitor.",
            ("colour_grade", {"saturation": 0.8, "contrast": 0.15, "temperature": -0.15}),
            ("scan_lines", {"strength": 0.32, "apart": 4}),
            ("glow", {"gain": 0.3, "size": 24, "threshold": 0.4}),
            ("vignette", {"strength": 0.5, "roundness": 0.1}),
        ),
        _look(
            "worn-card",
            "Worn card",
            "Rough at every edge, dusty, a little faded.",
            ("displace", {"amount": 2.2, "scale": 8, "contrast": 0.3, "speed": 0}),
            ("colour_grade", {"tint": 0.22, "tone": "#c79a62", "contrast": -0.05}),
            ("grain", {"strength": 7, "size": 2.4}),
        ),
        _look(
            "wide-heath",
            "Wide heath",
            "A wide frame, warm and deeper, with a little grain.",
            ("colour_grade", {"contrast": 0.12, "tint": 0.16, "tone": "#b9854f"}),
            ("grain", {"strength": 3}),
            ("vignette", {"strength": 0.22}),
            ("letterbox", {"ratio": 2.39}),
        ),
        _look(
            "torn-tape",
            "Light through the seam",
            "Warm light leaks in from the sides.",
            ("colour_grade", {"contrast": -0.08, "temperature": 0.12}),
            ("lift_gamma_gain", {"lift": 0.03, "lift_red": 0.03}),
            ("light_leak", {"strength": 0.42}),
        ),
        _look(
            "fair-poster",
            "Fair poster",
            "Five flat colours from dark to light.",
            (
                "tone_colours",
                {"first": "#16202c", "second": "#2f5d62", "third": "#c8643b", "fourth": "#efb661", "fifth": "#fdf3dc"},
                {"number": "five"},
            ),
            ("colour_grade", {"contrast": 0.18}),
        ),
        _look(
            "candle",
            "By one candle",
            "Dark all around, warm and unsteady in the middle.",
            ("colour_grade", {"exposure": -0.7, "temperature": 0.6}),
            ("pool_of_light", {"gain": 1.2, "size": 330, "dark": 0.35, "colour": "#ffb05a"}),
            ("flicker", {"amount": 0.22, "rate": 4}),
        ),
        _look(
            "clean-glass",
            "Clean glass",
            "Nothing but sharper and clearer.",
            ("sharpen", {"amount": 0.55, "radius": 1.4}),
            ("colour_grade", {"contrast": 0.08, "saturation": 1.05}),
        ),
    )
}
"""By id, as they are shown."""
