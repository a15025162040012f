"""What a shape of an SVG drawing is painted with: its fill, its line and its opacity (SVG 1.1, "Painting")."""

from __future__ import annotations

from typing import Any, Mapping, NamedTuple

import tinycss2
from PIL import ImageColor

_NAMES = (
    "fill",
    "stroke",
    "stroke-width",
    "stroke-linejoin",
    "fill-rule",
    "fill-opacity",
    "stroke-opacity",
    "opacity",
    "color",
    "display",
    "visibility",
)
_LONGEST_STYLE, _LONGEST_NUMBER = 200_000, 100


class SvgPaint(NamedTuple):
    """The properties in force at an element; `rules` are those of the drawing's classes."""

    own: Mapping[str, str]
    rules: Mapping[str, Mapping[str, str]]

    def under(self, element: Any) -> "SvgPaint":
        """The properties at a child: what it does not say is its parent's. Opacities of groups are multiplied."""
        said = {name: element.get(name) for name in _NAMES if element.get(name)}
        for name in (element.get("class") or "").split():
            said |= self.rules.get(name, {})
        said |= _declared(element.get("style") or "")
        inherited = dict(self.own)
        opacity = _number(inherited.get("opacity"), 1.0) * _number(said.get("opacity"), 1.0)
        return SvgPaint({**inherited, **said, "opacity": str(opacity)}, self.rules)

    @property
    def hidden(self) -> bool:
        return self.own.get("display") == "none" or self.own.get("visibility") in ("hidden", "collapse")

    @property
    def even_odd(self) -> bool:
        return self.own.get("fill-rule") == "evenodd"

    @property
    def sharp(self) -> bool:
        return self.own.get("stroke-linejoin") != "round"

    @property
    def fill(self) -> str | None:
        return _colour(self.own.get("fill", "black"), self.own.get("color"))

    @property
    def line(self) -> str | None:
        return _colour(self.own.get("stroke", "none"), self.own.get("color"))

    @property
    def width(self) -> float:
        return max(0.0, _number(self.own.get("stroke-width"), 1.0)) if self.line else 0.0

    @property
    def opacity(self) -> float:
        """Of the whole shape; one that has a fill has the fill's."""
        part = self.own.get("fill-opacity" if self.fill else "stroke-opacity")
        return min(1.0, max(0.0, _number(self.own.get("opacity"), 1.0) * _number(part, 1.0)))


def svg_rules(root: Any) -> dict[str, dict[str, str]]:
    """What the drawing's style sheets say of single classes; other selectors are left out."""
    found: dict[str, dict[str, str]] = {}
    for element in root.iter():
        if isinstance(element.tag, str) and element.tag.rpartition("}")[2] == "style":
            sheet = (element.text or "")[:_LONGEST_STYLE]
            for rule in tinycss2.parse_stylesheet(sheet, skip_comments=True, skip_whitespace=True):
                if rule.type == "qualified-rule":
                    for name in _classes(rule.prelude):
                        found.setdefault(name, {}).update(_declared(tinycss2.serialize(rule.content)))
    return found


def _classes(prelude: list[Any]) -> list[str]:
    """The selectors of a rule that are a single class, by its name."""
    selectors: list[list[Any]] = [[]]
    for token in prelude:
        if token == ",":
            selectors.append([])
        elif token.type not in ("whitespace", "comment"):
            selectors[-1].append(token)
    return [each[1].value for each in selectors if len(each) == 2 and each[0] == "." and each[1].type == "ident"]


def _declared(style: str) -> dict[str, str]:
    pairs = (each.partition(":") for each in style[:_LONGEST_STYLE].split(";"))
    return {name.strip(): value.strip() for name, _, value in pairs if name.strip() in _NAMES and value.strip()}


def _number(written: str | None, otherwise: float) -> float:
    token = tinycss2.parse_one_component_value((written or "")[:_LONGEST_NUMBER])
    if token.type not in ("number", "percentage", "dimension"):
        return otherwise
    return float(token.value) / (100 if token.type == "percentage" else 1)


def _colour(written: str, current: str | None) -> str | None:
    """`#rrggbb`, or None for no paint; a run of colours or a pattern, which can't be told in one, is grey."""
    written = written.strip()
    if written in ("none", "transparent", ""):
        return None
    if written.lower() == "currentcolor":
        return _colour(current, None) if current else "#000000"
    try:
        red, green, blue = ImageColor.getrgb(written)[:3]
    except ValueError:
        return "#808080"
    return f"#{red:02x}{green:02x}{blue:02x}"
