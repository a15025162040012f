"""What is kept between frames and edits, and how much of it."""

import gc
import tracemalloc

from hypothesis import given
from hypothesis import strategies as st

from idle_comet.core.remember import BUDGET, Budget, Remembered, weigh
from idle_comet.core.type import Setting, lay_out


class Thing:
    """Something that results are kept for."""


def test_what_is_remembered_belongs_to_one_object_only():
    kept: Remembered = Remembered()
    one, twin = Thing(), Thing()
    assert kept.keep(one, "one") == "one" and kept.find(one) == "one" and kept.find(twin) is None
    kept.keep(twin, "twin")
    assert kept.find(one) == "one" and kept.find(twin) == "twin"
    before, number = BUDGET.bytes, id(twin)
    del twin
    gc.collect()
    assert BUDGET.bytes < before and BUDGET.find((kept, number)) is None and kept.find(one) == "one"


@given(st.lists(st.tuples(st.integers(0, 9), st.integers(1, 60)), max_size=40))
def test_what_is_kept_never_holds_more_than_its_budget(asked):
    budget, sizes = Budget(100), {}
    for key, size in asked:
        budget.keep(key, size, size)
        sizes.pop(key, None)
        sizes[key] = size
        while sum(sizes.values()) > 100:
            sizes.pop(next(iter(sizes)))
        assert budget.bytes == sum(sizes.values()) <= 100
        assert {each: budget._kept[each][0] for each in sizes} == sizes and len(budget._kept) == len(sizes)


def test_words_typed_for_an_hour_leave_nothing_behind(monkeypatch):
    """A long text typed on and on: what the process keeps of it stays within the budget."""
    monkeypatch.setattr(BUDGET, "_kept", Budget(16 << 20)._kept)
    for number in range(15):
        lay_out(f"{'harvest ' * 120}{number}", Setting("archivo"))
    assert 12 << 20 <= BUDGET.bytes <= 16 << 20
    layout = lay_out("harvest " * 120, Setting("archivo"))
    tracemalloc.start()
    again = lay_out.__wrapped__("harvest " * 119 + "x", Setting("archivo"))
    held = tracemalloc.get_traced_memory()[0]
    tracemalloc.stop()
    assert again.lines and held / 3 <= weigh(layout) <= 3 * held, "a layout is weighed as what it holds"
