"""What was worked out is kept, counted in bytes, within one budget for the whole process."""

from __future__ import annotations

import functools
import sys
import threading
import weakref
from dataclasses import fields, is_dataclass
from typing import Any, Callable, Generic, Hashable, ParamSpec, TypeVar

import numpy as np
from cachetools import LRUCache
from pydantic import BaseModel

Owner = TypeVar("Owner")
Result = TypeVar("Result")
P = ParamSpec("P")

_LOOKED_AT = 6
"""Of a long row so many members are weighed, the rest is taken to be like them."""


def weigh(thing: Any, depth: int = 0) -> int:
    """Roughly how many bytes a result holds. What only a few results share (typefaces) weighs nothing here."""
    size = sys.getsizeof(thing, 64)
    if isinstance(thing, (str, bytes, int, float, bool, type(None))) or depth > 8:
        return size
    if isinstance(thing, np.ndarray):
        return size + (thing.nbytes if thing.base is not None else 0)
    if isinstance(thing, BaseModel):
        return size + sum(weigh(value, depth + 1) for value in thing.__dict__.values())
    if isinstance(thing, dict):
        return size + _row(list(thing.values()), depth) + _row(list(thing), depth)
    if isinstance(thing, (tuple, list, frozenset, set)):
        return size + _row(list(thing), depth)
    if is_dataclass(thing):
        return size + sum(weigh(getattr(thing, each.name), depth + 1) for each in fields(thing))
    return size


def _row(members: list[Any], depth: int) -> int:
    if len(members) <= _LOOKED_AT:
        return sum(weigh(each, depth + 1) for each in members)
    some = members[:: max(1, len(members) // _LOOKED_AT)]
    return sum(weigh(each, depth + 1) for each in some) * len(members) // len(some)


class Budget:
    """Results under keys, the least used given up first when they hold more than `most` bytes together.

    Safe for threads: two may work out the same at once, and the later result stays.
    """

    def __init__(self, most: int) -> None:
        self._kept: LRUCache[Hashable, tuple[Any, int]] = LRUCache(most, getsizeof=lambda kept: kept[1])
        # What is given up may take others with it, in the same thread.
        self._lock = threading.RLock()

    @property
    def bytes(self) -> int:
        return int(self._kept.currsize)

    def find(self, key: Hashable) -> Any:
        """The result kept under a key, or None."""
        with self._lock:
            known = self._kept.get(key)
        return None if known is None else known[0]

    def keep(self, key: Hashable, result: Any, size: int) -> None:
        """Keep a result that is not None. One larger than the budget itself is not kept."""
        with self._lock:
            self.drop(key)
            if size <= self._kept.maxsize:
                self._kept[key] = (result, size)

    def drop(self, key: Hashable) -> None:
        """Give up what is kept under a key, if anything is."""
        with self._lock:
            self._kept.pop(key, None)


BUDGET = Budget(64 << 20)
"""Layouts, courses, outlines and the like of this process."""


FIELDS = Budget(32 << 20)
"""Shares of every px of an area. A step that moves makes another at every frame, which must not push out layouts."""


def kept(work: Callable[P, Result]) -> Callable[P, Result]:
    """A function of hashable arguments whose results are kept in the budget."""
    return _kept_in(BUDGET, work)


def kept_field(work: Callable[P, Result]) -> Callable[P, Result]:
    """The same of one that makes something of every px of an area."""
    return _kept_in(FIELDS, work)


def _kept_in(budget: Budget, work: Callable[P, Result]) -> Callable[P, Result]:
    @functools.wraps(work)
    def keeping(*args: P.args, **named: P.kwargs) -> Result:
        key = (work, args, tuple(named.items()))
        known = budget.find(key)
        if known is None:
            known = work(*args, **named)
            budget.keep(key, known, weigh(known) + weigh(args))
        return known

    return keeping


class Remembered(Generic[Owner, Result]):
    """Results kept for as long as what they were made of is there. An owner never changes: an edit makes a new one."""

    def find(self, owner: Owner) -> Result | None:
        known = BUDGET.find((self, id(owner)))
        # The same identity may be another's by now.
        return known[1] if known and known[0]() is owner else None

    def keep(self, owner: Owner, result: Result) -> Result:
        key = (self, id(owner))
        drop = BUDGET.drop
        BUDGET.keep(key, (weakref.ref(owner, lambda _: drop(key)), result), weigh(result) + 200)
        return result
