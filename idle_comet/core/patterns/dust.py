"""Dust: specks and hairs on the film, others every few frames."""

from __future__ import annotations

import math

import numpy as np

from ..picture import lay_spots, parse_colour
from ..steps import Parameter, colour, share, whole
from .kind import LOOP, Ground, Pattern, Values
from .lives import chance, onto

_BEADS = 40
"""Spots in a row that make a hair."""


class Dust(Pattern):
    """What is there stays for so many frames; then something else is."""

    kind = "dust"
    label = "Dust and hairs"
    synonyms = ("specks", "dirt", "film damage", "scratches", "old film")
    restless = True
    over_all = True
    parameters = (
        whole("specks", "Specks", 24, 0, 200),
        whole("hairs", "Hairs", 2, 0, 20),
        Parameter("size", "Size", "px", 3.2, 0.5, 12, 0.1, 200, neutral=3.2, digits=1),
        Parameter("holds", "Holds", "f", 2, 1, 25, 1, 1000, neutral=2, may_move=False),
        share("opacity", "Opacity", 0.75, 0.0),
        colour("colour", "Colour", "#f4efe4"),
        whole("seed", "Seed", 1, 1, 999),
        LOOP,
    )

    def paint(self, values: Values, ground: Ground) -> np.ndarray:
        pixels = np.zeros((*ground.shape, 4), np.float32)
        turn = ground.frame // max(1.0, values["holds"])
        if values["loop"] > 0 and ground.seconds > 0:
            # As many turns as fit into the time after which it repeats.
            fits = max(1, round(values["loop"] * ground.frame / ground.seconds / max(1.0, values["holds"])))
            turn %= fits
        seed, lap = int(values["seed"]), int(turn)
        colour_ = parse_colour(values["colour"])
        specks, hairs = int(values["specks"]), int(values["hairs"])
        n = np.arange(specks)
        spots = np.zeros((specks + hairs * _BEADS, 9))
        if specks:
            # Most are small; the number differs from turn to turn.
            there = chance(seed, 1, n, lap) < 0.35 + 0.65 * chance(seed, 2, np.zeros(1), lap)
            spots[:specks, 0] = chance(seed, 3, n, lap) * ground.wide
            spots[:specks, 1] = chance(seed, 4, n, lap) * ground.high
            spots[:specks, 2] = values["size"] * (0.35 + 1.3 * chance(seed, 5, n, lap) ** 4)
            spots[:specks, 3] = 0.3 + 0.5 * chance(seed, 6, n, lap)
            spots[:specks, 8] = values["opacity"] * (0.4 + 0.6 * chance(seed, 7, n, lap)) * there
        for hair in range(hairs):
            one = np.array([1000 + hair])
            if chance(seed, 8, one, lap)[0] > 0.6:
                continue
            row = slice(specks + hair * _BEADS, specks + (hair + 1) * _BEADS)
            along = np.arange(_BEADS) / (_BEADS - 1)
            turned = 2 * math.pi * chance(seed, 9, one, lap)[0]
            bend = (chance(seed, 10, one, lap)[0] - 0.5) * 5
            long = values["size"] * (10 + 14 * chance(seed, 11, one, lap)[0])
            angle = turned + bend * along
            spots[row, 0] = chance(seed, 12, one, lap)[0] * ground.wide + np.cumsum(np.cos(angle)) * long / _BEADS
            spots[row, 1] = chance(seed, 13, one, lap)[0] * ground.high + np.cumsum(np.sin(angle)) * long / _BEADS
            spots[row, 2] = values["size"] * 0.34
            spots[row, 3] = 0.5
            spots[row, 8] = values["opacity"] * 0.75
        spots[:, 5:8] = colour_
        lay_spots(pixels, onto(spots, ground))
        return pixels
