"""What the pages keep, without the pages: the bends of a plan, a measured part, the parts of a work
and the shop."""

import pytest

from shared_plans import plan_of
from zealous_crane import api
from zealous_crane.brake.library import shop_rack
from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.shop.book.record import ReadingCondition
from zealous_crane.shop.settings import read_settings
from zealous_crane.ui.state.autosave import SafetyCopy
from zealous_crane.ui.state.bench import Bench
from zealous_crane.ui.state.bent import Bent, UnlikelyReadingError, WrongWayError, read_ends
from zealous_crane.ui.state.history import HistoryStep
from zealous_crane.ui.state.measured_part import MeasuredPart
from zealous_crane.ui.state.part_edits import PartEdits
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.state.shop_edits import ShopEdits
from zealous_crane.ui.state.shop_files import ShopFolder
from zealous_crane.units.quantities import AngleError
from zealous_crane.work.duct_fitting import DuctFitting


@pytest.fixture
def session(qtbot, rack, tmp_path):
    made = Session(
        demo_job(),
        rack,
        SafetyCopy(tmp_path / "benches" / "bench.json"),
        tmp_path / "data" / "zealous-crane" / "brakes",
    )
    yield made
    made.close()


@pytest.fixture
def at_work(session):
    """What was bent of the plan on the bench, the plan, and its first bend that springs back."""
    plan = plan_of(session.job, session.rack[session.job.brake])
    stroke = next(s for s in plan.strokes if not s.verdict.flattens)
    return Bent(session), plan, stroke


# --- bent ----------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "angles"),
    [
        ("88 1/2", [88.5]),
        ("89/91", [89.0, 91.0]),
        ("89 left 91 right", [89.0, 91.0]),
        ("right 91, left 89", [89.0, 91.0]),
        ("88,5°/ 87 1/4", [88.5, 87.25]),
    ],
)
def test_one_angle_or_that_of_either_end(text, angles):
    assert read_ends(text) == angles


@pytest.mark.parametrize("text", ["89/90/91", "89 left", "left 89 left 91", "about 90"])
def test_what_is_neither_is_refused(text):
    with pytest.raises(AngleError):
        read_ends(text)


def test_a_reading_far_off_is_asked_about_once(at_work):
    bent, plan, stroke = at_work
    with pytest.raises(UnlikelyReadingError):
        bent.take(plan, stroke, [40.0], "40")
    assert bent.turn(stroke).is_new, "nothing was booked"
    with pytest.raises(UnlikelyReadingError):
        bent.take(plan, stroke, [41.0], "41")
    bent.take(plan, stroke, [41.0], "41")
    assert bent.turn(stroke).record.got == 41.0


def test_the_last_reading_is_taken_back_and_the_stop_is_as_before(at_work):
    bent, plan, stroke = at_work
    advised = bent.next_stop(plan, stroke)
    bent.take(plan, stroke, [advised - 7.0])
    assert bent.next_stop(plan, stroke) > advised, "it came back by 7°, so it goes farther"
    bent.take_back(plan, stroke)
    assert bent.turn(stroke).record is None and bent.next_stop(plan, stroke) == advised


def test_what_was_read_in_the_clamp_is_not_springback(at_work):
    bent, plan, stroke = at_work
    bent.turn(stroke).reading = ReadingCondition.HELD
    bent.take(plan, stroke, [bent.next_stop(plan, stroke)])
    turn = bent.turn(stroke)
    assert turn.answer is None and not turn.is_done
    assert turn.record.springback is None


def test_stops_and_readings_that_cannot_be(at_work):
    bent, plan, stroke = at_work
    with pytest.raises(WrongWayError):
        bent.read(plan, "-12")
    for text in ("0", "191", "189"):
        with pytest.raises(AngleError):
            bent.stopped_at(plan, stroke, text)
    bent.stopped_at(plan, stroke, "91")
    assert bent.machine_stop(plan, stroke) == pytest.approx(91.0)
    bent.stopped_at(plan, stroke, " ")
    assert bent.turn(stroke).stop is None


# --- a measured part -----------------------------------------------------------------------------


def test_a_size_is_written_once_and_goes_with_its_part(session):
    noted = []
    session.book.note = noted.append
    measured, job = MeasuredPart(session.book), session.job
    measured.inspection = api.inspection_of(job)
    line = measured.lines[0]
    assert measured.take(line, line.wanted + 0.3, job)
    assert not measured.take(line, line.wanted + 0.3, job), "the same once more"
    measured.next_part()
    assert measured.part == 2 and measured.got == {} and len(measured.before) == 1
    assert measured.take(line, line.wanted + 0.3, job), "the next part may measure the same"
    assert [(r.part, r.got) for r in noted] == [
        (1, line.wanted + 0.3),
        (2, line.wanted + 0.3),
    ]
    measured.next_text = "stop a degree earlier"
    assert measured.begin("another flat", "the same part") == (True, True)
    assert measured.part == 1 and not measured.before and measured.next_text == ""
    assert measured.begin("a third flat", "the same part") == (True, False)


# --- the parts of a work -------------------------------------------------------------------------


def test_parts_are_chosen_added_and_removed_down_to_the_last(session):
    parts, bench = PartEdits(session), session
    assert parts.choose(1) is None and parts.choose(-1) is None and bench.at == 0
    assert parts.remove(), "the only part stays"
    other = demo_job(next(key for key in DEMOS if len(demo_work(key).parts) == 1))
    assert parts.add(other) is None
    assert bench.at == 1 and bench.job.part == other.part
    assert parts.blank_of(0).folds and parts.choose(0) is None and bench.at == 0
    assert parts.remove() is None and len(bench.work.parts) == 1
    session.undo()
    assert len(bench.work.parts) == 2


def test_a_fitting_made_again_keeps_a_part_on_the_bench(session):
    parts = PartEdits(session)
    fitting = DuctFitting(length=300, width=250, small_length=200, small_width=150, height=300)
    assert parts.set_fitting(fitting) is None
    assert session.work.fitting == fitting and len(session.work.parts) > 1
    assert parts.choose(len(session.work.parts) - 1) is None
    capped = fitting.model_copy(update={"cap": "first"})
    assert parts.set_fitting(capped) is None
    assert 0 < session.at < len(session.work.parts)
    with_cap = len(session.work.parts)
    assert parts.choose(with_cap - 1) is None and parts.set_fitting(fitting) is None
    assert session.at == len(session.work.parts) - 1 < with_cap - 1


# --- the shop ------------------------------------------------------------------------------------


@pytest.fixture
def shop(qtbot, rack, tmp_path):
    """A bench, the edits of its shop, and the folder of its brakes."""
    folder = tmp_path / "zealous-crane" / "brakes"
    bench = Bench(HistoryStep(demo_work(next(iter(DEMOS))), 0, rack))
    return bench, ShopEdits(bench, ShopFolder(folder, rack, bench.settings)), folder


def test_a_changed_brake_is_in_the_shop_and_its_file_read_again(shop):
    bench, edits, folder = shop
    before = bench.rack[bench.job.brake]
    changed = before.model_copy(update={"key": "own-1", "bed_length": before.bed_length - 10})
    assert edits.keep_brake(changed) is None
    assert bench.job.brake == "own-1" and bench.rack["own-1"] == changed
    read, complaints = shop_rack(folder)
    assert read["own-1"] == changed and not complaints
    bench.history.move(-1)
    assert bench.job.brake == before.key


def test_a_brake_that_is_out_of_use_is_offered_no_more(shop):
    bench, edits, _ = shop
    other = next(b.key for b in bench.rack.in_use if b.key != bench.job.brake)
    assert edits.retire(other, retired=True) is None
    assert other not in [b.key for b in bench.rack.in_use]
    assert edits.retire(other, retired=False) is None
    assert other in [b.key for b in bench.rack.in_use]


def test_parts_that_stand_as_the_shop_said_follow_its_settings(shop):
    bench, edits, folder = shop
    ways = bench.settings.ways.model_copy(update={"tolerance": 2.5})
    assert edits.keep_settings(bench.settings) is None and not bench.can_undo
    assert edits.keep_settings(bench.settings.model_copy(update={"ways": ways})) is None
    assert bench.settings.ways.tolerance == 2.5 and bench.history.steps_back == 1
    settings, complaint = read_settings(folder.parent)
    assert settings == bench.settings and not complaint


def test_what_another_window_wrote_is_taken_in_and_said(shop):
    bench, edits, folder = shop
    bench.edit("", quantity=bench.job.quantity + 1)
    told = []
    bench.complained.connect(told.append)
    edits.take_others()
    assert not told
    other = bench.rack[bench.job.brake].model_copy(update={"key": "own-7", "name": "The other"})
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "own-7.json").write_text(other.model_dump_json())
    edits.take_others()
    assert len(told) == 1 and bench.rack.find("own-7") == other
    bench.history.move(-1)
    assert bench.rack.find("own-7") == other, "undo takes back what was typed here"
