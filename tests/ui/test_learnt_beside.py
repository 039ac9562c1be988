"""A thick book is gone through beside the window: what was known holds until the answer is
there."""

import threading

import pytest

from shop_season import METALS, Shop
from zealous_crane.brake.library import shipped_rack
from zealous_crane.metal.material import MATERIALS
from zealous_crane.shop.hierarchical_fit import BendContext
from zealous_crane.shop.springback import handbook, learn
from zealous_crane.ui.state import bookkeeper
from zealous_crane.ui.state.bookkeeper import BESIDE, BookKeeper


@pytest.fixture
def thick(qtbot):
    """A keeper with more bends than are gone through at once, of one place and a few others."""
    rack = shipped_rack()
    keeper = BookKeeper(None)
    shop = Shop(3)
    metal, thickness = METALS[0]
    place = BendContext(metal, thickness, rack.brakes[0].key)
    others = [BendContext(m, t, rack.brakes[1].key) for m, t in METALS]
    keeper.bends = [shop.bend(place) for _ in range(12)] + [
        shop.bend(others[k % len(others)]) for k in range(BESIDE)
    ]
    yield keeper, place, rack, shop
    keeper.close()


def test_a_thick_book_is_learnt_from_beside_the_window(qtbot, thick, monkeypatch):
    keeper, place, rack, shop = thick
    threads = []
    monkeypatch.setattr(
        bookkeeper,
        "learn",
        lambda records, *more: (
            threads.append((threading.current_thread().name, len(records))) or learn(records, *more)
        ),
    )
    rule = handbook(rack, MATERIALS)
    with qtbot.waitSignal(keeper.changed):
        first = keeper.learnt(place, rack, MATERIALS, whole=False)
        # Nothing is known yet: the rule holds, as before the book is read.
        assert first == learn([], place, rule)
    found = keeper.learnt(place, rack, MATERIALS, whole=False)
    assert found == learn(keeper.bends, place, rule) and found.here == 12
    assert [count for name, count in threads if name.startswith("MainThread")] == [0]
    assert any(name.startswith("learning") and count > BESIDE for name, count in threads)
    # A bend more: what was known holds until that is counted too.
    more = shop.bend(place)
    keeper.note(more)
    assert keeper.learnt(place, rack, MATERIALS, whole=False) == found
    qtbot.waitUntil(lambda: keeper.learnt(place, rack, MATERIALS, whole=False).here == 13)
    assert keeper.learnt(place, rack, MATERIALS, whole=False) == learn(keeper.bends, place, rule)


def test_what_is_written_into_a_job_counts_every_record(thick):
    keeper, place, rack, _ = thick
    assert keeper.learnt(place, rack, MATERIALS).here == 12
