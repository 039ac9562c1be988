"""A bend is a series of hits: each teaches, and the next stop follows from them and from what the
book knows."""

import random

import numpy as np
import pytest

from zealous_crane.shop.book.record import (
    BendRecord,
    Hit,
    ReadingCondition,
    hits_text,
    read_hits,
    springback_at_90,
)
from zealous_crane.shop.hierarchical_fit import BendContext
from zealous_crane.shop.springback import Expected, after_hits, expected_springback, learn

PLACE = BendContext("mild-steel", 1.5, "a-brake", "")


def test_hits_are_written_so_that_a_person_can_read_them():
    hits = (
        Hit(92, 88.4, 88.4),
        Hit(93.6, 89.5, 90.5),
        Hit(95, 94, 94, ReadingCondition.HELD),
        Hit(95, 90, 90, ReadingCondition.BY_HAND),
    )
    assert (
        hits_text(hits) == "92>88.4 93.6>89.5/90.5 95>94~ 95>90h"
        and read_hits(hits_text(hits)) == hits
    )
    with pytest.raises(ValueError, match="is no hit"):
        read_hits("92-88")


def test_each_hit_teaches_and_what_was_not_let_go_or_done_by_hand_teaches_nothing():
    # 6° of springback at 90°: stopped at 90 it stands at 84.375, stopped at 96 at 90. By hand: stop
    # / (1 + 6 / 90).
    true = (Hit(90, 84.375, 84.375), Hit(96, 90, 90))
    assert springback_at_90(true)[0] == pytest.approx(6.0)
    false = (
        *true,
        Hit(96, 96, 96, ReadingCondition.HELD),
        Hit(96, 95, 95, ReadingCondition.BY_HAND),
        Hit(20, 2, 2),
    )
    assert springback_at_90(false) == springback_at_90(true)
    assert springback_at_90((Hit(96, 95, 95, ReadingCondition.BY_HAND),)) is None
    shallow, deep = springback_at_90((Hit(4.5, 4.2, 4.2),)), springback_at_90((Hit(96, 90, 90),))
    assert shallow[1] < 0.01 < deep[1] == 1.0, "four degrees tell next to nothing"


def bend(hits, **fields):
    last = hits[-1]
    return BendRecord(
        metal=PLACE.metal,
        thickness=PLACE.thickness,
        machine=PLACE.machine,
        angle=90.0,
        stop=last.stop,
        got=last.got,
        hits=hits_text(hits),
        **fields,
    )


def test_a_record_is_hit_again_and_a_reading_taken_back():
    first = bend([Hit(92, 86, 86)])
    second = first.with_hit(Hit(96, 90, 90.4))
    assert (
        second.replaces == first.id
        and (second.stop, second.got) == (96, 90.2)
        and len(second.every_hit) == 2
    )
    back = second.without_last_hit()
    assert back.replaces == second.id and back.every_hit == first.every_hit and not back.struck
    assert back.without_last_hit().struck, "its only reading taken back, the record is struck out"
    old = BendRecord(metal="m", thickness=1, angle=90, stop=94, got=90)
    assert old.every_hit == (Hit(94, 90, 90),), (
        "books written before bends had hits read as one each"
    )


def test_the_next_stop_follows_this_part_more_than_the_book():
    prior = Expected(2.0, 1.6)
    now = after_hits(prior, [Hit(92, 86, 86)])
    assert now.mean == pytest.approx((92 - 86) * 90 / 86, abs=0.15) and now.sd < 0.3
    assert after_hits(prior, [Hit(92, 86, 86, ReadingCondition.HELD)]) == prior.__class__(
        prior.mean, pytest.approx(prior.sd), prior.known
    )
    assert after_hits(Expected(2.0, 0.2), [Hit(5, 3.5, 3.5)]).mean == pytest.approx(2.0, abs=0.1), (
        "a shallow reading moves little"
    )


class Simulated:
    """A shop that does what the page says: stop where it is told, measure, bend again where it is
    told to, book all of it."""

    def __init__(self, truth: float, noise: float, seed: int) -> None:
        self.truth, self.noise, self.rng, self.records = truth, noise, random.Random(seed), []

    def part(self) -> int:
        """Bend one part; how many hits it took."""
        learnt = learn(self.records, PLACE, lambda place: 2.0)
        prior = expected_springback(learnt, 2.0, 90.0)
        own = self.truth + self.rng.gauss(0, self.noise / 2)
        hits: list[Hit] = []
        stop = round(prior.stop(90.0), 1)
        while len(hits) < 6:
            stands = stop / (1 + own / 90)
            read = round(stands + self.rng.gauss(0, self.noise / 2), 1)
            hits.append(Hit(stop, read, read))
            if read > 90 - 1.0:
                break
            stop = round(max(after_hits(prior, hits).stop(90.0), stop + (90 - read) / 2), 1)
        self.records.append(bend(hits, part=len(self.records) + 1))
        return len(hits)


@pytest.mark.parametrize("noise", [0.0, 0.25, 0.5])
def test_a_shop_that_does_what_the_page_says_learns_the_truth(noise):
    off, again = [], []
    for number, truth in enumerate(np.linspace(0.5, 8.0, 16)):
        shop = Simulated(float(truth), noise, 100 * number + int(10 * noise))
        hits = [shop.part() for _ in range(15)]
        off.append(abs(learn(shop.records[:3], PLACE, lambda place: 2.0).mean - truth))
        again.append(sum(count > 1 for count in hits[5:]))
    assert max(off) < 0.5, off
    assert max(again) <= 2 and np.mean(again) < 0.5, again


def test_noting_only_the_first_stop_would_teach_half_the_truth():
    """What was wrong before: the second reading kept with the stop of the first."""
    right = [bend([Hit(92, 86.1, 86.1), Hit(96.4, 90.2, 90.2)]) for _ in range(10)]
    wrong = [
        BendRecord(
            metal=PLACE.metal, thickness=1.5, machine=PLACE.machine, angle=90, stop=92, got=got
        )
        for got in (86.1, 90.2) * 10
    ]
    truth = 6.17
    assert (
        abs(learn(right, PLACE, lambda p: 2.0).mean - truth)
        < 0.2
        < abs(learn(wrong, PLACE, lambda p: 2.0).mean - truth)
    )
