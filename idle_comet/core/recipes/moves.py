"""Moves in one click: framings over a whole clip, to be changed by hand afterwards."""

from __future__ import annotations

from typing import Callable, Literal, NamedTuple

from ..motion import Ease, Framing, Key, Linear, Moving, Repeat, Strengths, about

Point = tuple[float, float]


class Ground(NamedTuple):
    """What a move is made for: a frame of this size in px, at so many frames a second; how strong it shall be, 1 as it
    was thought of; and the point of the picture it goes to, in px from the middle of the frame."""

    width: float
    height: float
    rate: float
    amount: float
    at: Point


class OneMove(NamedTuple):
    """`makes` gives the framings over the clip. With `points` it goes to a picked point; without one, to the middle."""

    id: str
    label: str
    synonyms: tuple[str, ...]
    makes: Callable[[Ground], Moving]
    points: bool = False


_SOFT, _FIRM = Strengths(start=0.35, end=0.45), Strengths(start=0.7, end=0.75)
_LANDS = Strengths(start=0.0, end=0.85)


def _through(first: Framing, last: Framing, ease: Ease = _SOFT) -> Moving:
    """From the clip's first frame to its last, however long it is."""
    return Moving(keys=(Key(at=0, value=first, ease=ease), Key(counts_from="tail", at=0, value=last)))


def _arrives(ground: Ground, seconds: float, first: Framing, last: Framing, ease: Ease) -> Moving:
    return Moving(keys=(Key(at=0, value=first, ease=ease), Key(at=float(round(seconds * ground.rate)), value=last)))


def _to(ground: Ground, scale: float, roll: float = 0.0) -> Framing:
    """Larger by a share that the amount makes stronger, about the picked point."""
    return about(ground.at, Framing(), scale**ground.amount, roll * ground.amount)


def _push(scale: float, ease: Ease) -> Callable[[Ground], Moving]:
    return lambda ground: _through(Framing(), _to(ground, scale), ease)


def _pull(scale: float, ease: Ease) -> Callable[[Ground], Moving]:
    return lambda ground: _through(_to(ground, scale), Framing(), ease)


def _drift(across: int, down: int) -> Callable[[Ground], Moving]:
    """From one end of the room that a larger picture leaves to the other."""

    def makes(ground: Ground) -> Moving:
        scale = 1.1**ground.amount
        room = 0.48 * (1 - 1 / scale)
        x, y = across * room * ground.width, down * room * ground.height
        return _through(Framing(x=-x, y=-y, scale=scale), Framing(x=x, y=y, scale=scale), Strengths(start=0.2, end=0.2))

    return makes


def _roll(way: Literal[-1, 1]) -> Callable[[Ground], Moving]:
    def makes(ground: Ground) -> Moving:
        turn = 1.5 * way * ground.amount
        return _through(Framing(roll=-turn), Framing(roll=turn))

    return makes


def _breathe(ground: Ground) -> Moving:
    """Out and back about every six seconds; a breath is mirrored, so that it never jumps."""
    half = float(round(3 * ground.rate))
    keys = (Key(at=0, value=Framing(scale=1.012), ease=_SOFT), Key(at=half, value=_to(ground, 1.045), ease=_SOFT))
    return Moving(keys=keys, repeat=Repeat(mode="mirror"))


def _whip(ground: Ground) -> Moving:
    away = Framing(x=-0.19 * ground.width * min(1.0, ground.amount), scale=1.65)
    return _arrives(ground, 0.36, away, Framing(scale=1.04), _LANDS)


def _settle(ground: Ground) -> Moving:
    return _arrives(ground, 1.4, _to(ground, 1.14, 1.2), _to(ground, 1.02), _LANDS)


def _roll_and_push(ground: Ground) -> Moving:
    return _through(Framing(roll=-0.8 * ground.amount), _to(ground, 1.09, 0.8), Linear())


MOVES: dict[str, OneMove] = {
    move.id: move
    for move in (
        OneMove("push-slow", "Slow push in", ("creep in", "closer"), _push(1.08, Strengths(start=0.2, end=0.3))),
        OneMove("push-quick", "Quick push in", ("punch in", "crash", "emphasis"), _push(1.35, _FIRM)),
        OneMove("pull-slow", "Slow pull out", ("creep out", "away"), _pull(1.08, Strengths(start=0.3, end=0.2))),
        OneMove("pull-quick", "Quick pull out", ("step back",), _pull(1.35, _FIRM)),
        OneMove("push-point", "Push in to a point", ("to a face", "to a sign", "detail"), _push(1.6, _SOFT), True),
        OneMove(
            "turn-point",
            "Push in and turn, to a point",
            ("spiral", "to a face", "tilt the picture"),
            lambda ground: _through(Framing(), _to(ground, 1.4, 4.0), _SOFT),
            True,
        ),
        OneMove("drift-left", "Drift left", ("pan left",), _drift(-1, 0)),
        OneMove("drift-right", "Drift right", ("pan right",), _drift(1, 0)),
        OneMove("drift-up", "Drift up", ("tilt up",), _drift(0, -1)),
        OneMove("drift-down", "Drift down", ("tilt down",), _drift(0, 1)),
        OneMove("roll-left", "Roll left", ("turn anticlockwise", "lean"), _roll(-1)),
        OneMove("roll-right", "Roll right", ("turn clockwise", "lean"), _roll(1)),
        OneMove("breathe", "Breathe", ("in and out", "pulse slowly", "alive"), _breathe),
        OneMove("whip-in", "Whip in", ("swish pan", "fast arrival"), _whip),
        OneMove("settle", "Settle", ("come to rest", "land"), _settle),
        OneMove("reveal-out", "Reveal out", ("from a detail", "pull out to the whole"), _pull(2.4, _SOFT), True),
        OneMove("roll-and-push", "Slow roll and push", ("for titles", "drifting title"), _roll_and_push),
    )
}
