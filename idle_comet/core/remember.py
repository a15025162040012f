"""Results kept for as long as the thing they were made of is the same object."""

from __future__ import annotations

from collections import OrderedDict
from typing import Generic, TypeVar

Owner = TypeVar("Owner")
Result = TypeVar("Result")


class Remembered(Generic[Owner, Result]):
    """The results of the last `most` owners. An owner never changes: an edit makes a new one."""

    def __init__(self, most: int = 4096) -> None:
        self._most = most
        # The owner is held too, so that its identity can't be another's while it is remembered.
        self._kept: OrderedDict[int, tuple[Owner, Result]] = OrderedDict()

    def find(self, owner: Owner) -> Result | None:
        known = self._kept.get(id(owner))
        return known[1] if known and known[0] is owner else None

    def keep(self, owner: Owner, result: Result) -> Result:
        self._kept[id(owner)] = (owner, result)
        while len(self._kept) > self._most:
            try:
                self._kept.popitem(last=False)
            except KeyError:  # another thread was quicker
                break
        return result
