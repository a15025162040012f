"""Colour key: one colour of the picture is taken out."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..picture import LUMA, NOWHERE, Patch, deepened, parse_colour
from .kind import Rest, StepContext, StepKind, Values
from .parameter import Parameter, colour, share


class ColourKey(StepKind):
    """A px is gone where its hue and colourfulness are nearer to the key's than the tolerance, whole again a softness
    later; they are Cb and Cr of BT.709, of encoded values.

    Spill is what a px has more of the key's strongest channel than the mean of the other two.
    """

    kind = "colour_key"
    label = "Colour key"
    group = "colour"
    synonyms = ("green screen", "blue screen", "chroma key", "remove background", "matte")
    says = "{colour}, {tolerance} %"
    parameters = (
        share("amount", "Amount", 1.0, 0.0),
        colour("colour", "Key", "#00b140"),
        Parameter("tolerance", "Tolerance", "%", 0.18, 0, 0.6, 0, 1, neutral=0.18, shown_times=100),
        Parameter("softness", "Softness", "%", 0.1, 0, 0.4, 0, 1, neutral=0.1, shown_times=100),
        share("spill", "Spill taken out", 0.8, 0.8),
    )

    def notes(self, values: Values, moving: frozenset[str], rest: Rest, text: str, seconds: float) -> list[str]:
        grey = float(np.linalg.norm(_colourfulness(np.asarray(parse_colour(values["colour"]), np.float32) / 255)))
        if values["amount"] > 0 and grey <= values["tolerance"]:
            return ["The key takes greys with it, and so most of the picture; lower its tolerance, or pick its colour."]
        return []

    def changes_pixels(self, values: Values) -> bool:
        return values["amount"] > 0

    def render(self, patch: Patch, values: Values, context: StepContext) -> Patch:
        if patch.rect.empty:
            return patch
        pixels = deepened(patch)
        cover = pixels[..., 3:]
        straight = pixels[..., :3] / np.maximum(cover, 1e-3)
        key = np.asarray(parse_colour(values["colour"]), np.float32) / 255
        far = np.linalg.norm(_colourfulness(straight) - _colourfulness(key), axis=-1)
        kept = np.clip((far - values["tolerance"]) / max(1 / 255, values["softness"]), 0, 1)
        kept = (1 - values["amount"] * (1 - kept)).astype(np.float32)[..., None]
        strongest = int(np.argmax(key))
        others = [c for c in range(3) if c != strongest]
        most = (straight[..., others[0]] + straight[..., others[1]]) / 2
        spilled = np.maximum(straight[..., strongest] - most, 0) * np.float32(values["spill"] * values["amount"])
        straight[..., strongest] -= spilled
        out = np.concatenate([np.clip(straight, 0, 1) * cover, cover], axis=-1) * kept
        return replace(patch, pixels=np.ascontiguousarray(out), colour=None, extends=NOWHERE)


def _colourfulness(colour: np.ndarray) -> np.ndarray:
    """(…, 2): Cb and Cr of encoded colours 0..1, each -½..½."""
    luma = colour @ np.asarray(LUMA, np.float32)
    blue, red = (colour[..., 2] - luma) / (2 * (1 - LUMA[2])), (colour[..., 0] - luma) / (2 * (1 - LUMA[0]))
    return np.stack([blue, red], axis=-1)
