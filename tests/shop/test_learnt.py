"""What is learnt, against simulated shops whose truth is known."""

import numpy as np
import pytest

from shop_season import MACHINES, METALS, Shop, handbook
from zealous_crane.shop.book import BendRecord
from zealous_crane.shop.learnt import Place, learn


def places():
    return [Place(metal, t, machine) for metal, t in METALS for machine in MACHINES]


def test_nine_bends_of_ten_lie_within_the_stated_interval_and_five_bends_halve_the_rules_error():
    """200 shops: intervals stated at 90 % hold 85 to 95 %; the error of the stop after five bends is half the rule's or less."""
    inside, rule_error, learnt_error = [], [], []
    for seed in range(200):
        shop = Shop(seed)
        asked = places()[seed % 6]
        bends = [shop.bend(asked) for _ in range(5)]
        # The other brake was used a little, with the same metal and with another.
        bends += [shop.bend(p) for p in places() if p != asked for _ in range(seed % 3)]
        found = learn(bends, asked, handbook)
        low, high = found.within
        inside += [low <= shop.bend(asked).springback <= high for _ in range(5)]
        rule_error.append(abs(handbook(asked) - shop.truth(asked)))
        learnt_error.append(abs(found.mean - shop.truth(asked)))
    assert 0.85 <= np.mean(inside) <= 0.95, np.mean(inside)
    assert np.mean(learnt_error) <= np.mean(rule_error) / 2, (np.mean(learnt_error), np.mean(rule_error))


def test_what_is_known_from_one_brake_helps_the_next():
    gain = []
    for seed in range(120):
        shop = Shop(1000 + seed)
        here, there = Place("stainless", 0.9, MACHINES[1]), Place("stainless", 0.9, MACHINES[0])
        bends = [shop.bend(there) for _ in range(12)]
        found = learn(bends, here, handbook)
        assert found.here == 0 and found.near == 12
        gain.append(abs(found.mean - shop.truth(here)) - abs(handbook(here) - shop.truth(here)))
    assert np.mean(gain) < -0.2


def test_few_bends_lean_on_the_handbook_and_many_stand_alone():
    place = Place("galvanized", 0.55, MACHINES[0])

    def bends(count):
        return [
            BendRecord(metal="galvanized", thickness=0.55, machine=MACHINES[0], angle=90, stop=96, got=90) for _ in range(count)
        ]

    means = [learn(bends(n), place, handbook).mean for n in (0, 1, 3, 10, 60)]
    assert means == sorted(means) and means[0] == 2.0 and means[1] < 5.9 and means[-1] == pytest.approx(6.0, abs=0.05)
    sds = [learn(bends(n), place, handbook).sd for n in (0, 1, 3, 10, 60)]
    assert sds == sorted(sds, reverse=True)


def test_one_slip_does_not_move_it():
    shop = Shop(5, slips=0.0)
    place = places()[0]
    bends = [shop.bend(place) for _ in range(9)]
    clean = learn(bends, place, handbook).mean
    slip = bends[0].model_copy(update={"got": bends[0].got - 12.0})
    assert abs(learn([slip, *bends[1:]], place, handbook).mean - clean) < 0.25
    # A plain mean would have moved by more than a degree.
    assert abs(np.mean([b.springback for b in [slip, *bends[1:]]]) - np.mean([b.springback for b in bends])) > 1.0


def test_angles_other_than_ninety_count_by_their_share():
    place = places()[0]
    half = [BendRecord(metal=place.metal, thickness=place.thickness, machine=place.machine, angle=45, stop=47, got=45)] * 200
    full = [BendRecord(metal=place.metal, thickness=place.thickness, machine=place.machine, angle=90, stop=94, got=90)] * 200
    assert learn(half, place, handbook).mean == pytest.approx(learn(full, place, handbook).mean, abs=0.05)
    assert learn(half[:3], place, handbook).sd > learn(full[:3], place, handbook).sd, "a shallow bend tells less"
    found = learn(full, place, handbook)
    assert found.stop(45) - 45 == pytest.approx((found.stop(90) - 90) / 2)


def test_it_opens_into_its_records():
    shop = Shop(3)
    here, other = places()[0], places()[5]
    bends = [shop.bend(here), shop.bend(other), shop.bend(here)]
    found = learn(bends, here, handbook)
    assert found.here == 2 and found.ids[:2] == (bends[0].id, bends[2].id) and "2 bends here" in found.text()
    unread = bends[0].model_copy(update={"got": None})
    assert learn([unread], here, handbook).here == 0
