"""Items of a run that edits name: each has a number of its own, which stays with it wherever it goes in the run."""

from __future__ import annotations

from typing import Annotated, Iterable, TypeVar

from pydantic import Field

from ..modelled import Frozen

ItemId = Annotated[int, Field(ge=1, le=1_000_000_000)]
"""What names an item within its run."""


class Numbered(Frozen):
    """An item of a run. `id` is 0 until the run gives it a number."""

    id: Annotated[int, Field(ge=0, le=1_000_000_000)] = 0


Item = TypeVar("Item", bound=Numbered)


def numbered(items: tuple[Item, ...]) -> tuple[Item, ...]:
    """The items, each with a number that no other has: those without one, and repeats, get the next free numbers."""
    ids = [item.id for item in items]
    if len(set(ids)) == len(ids) and 0 not in ids:
        return items
    taken: set[int] = set()
    free = max(ids, default=0) + 1
    made = []
    for item in items:
        if item.id == 0 or item.id in taken:
            item = item.model_copy(update={"id": free})
            free += 1
        taken.add(item.id)
        made.append(item)
    return tuple(made)


def places_of(items: tuple[Item, ...], ids: Iterable[int]) -> dict[int, int]:
    """Where in the run each of these numbers stands. Raises KeyError for one that is not there."""
    known = {item.id: place for place, item in enumerate(items)}
    return {id: known[id] for id in ids}
