"""The session with work of several parts: undo, fits, autosave, and what is refused."""

import pytest

from zealous_crane.demo import demo_job, demo_work
from zealous_crane.io.job_file import read_work, write_work
from zealous_crane.paint.application import application
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.ui.state.autosave import SafetyCopy, read_copy
from zealous_crane.ui.state.session import Session
from zealous_crane.work.fit import Fit, Pairing
from zealous_crane.work.work import Work


@pytest.fixture
def session(qtbot, rack, tmp_path):
    application()
    made = Session(
        demo_work("wax-melter-chimney"), rack, SafetyCopy(tmp_path / "benches" / "bench.json")
    )
    yield made
    made.close()


def widen(session, by):
    part = session.job.part
    return session.change(
        session.job.model_copy(
            update={"part": part.model_copy(update={"length": part.length + by})}
        ),
        "length",
    )


def test_changing_the_master_resizes_every_follower(session):
    before = [p.part.length for p in session.work.parts]
    assert widen(session, 30.0) is None
    after = [p.part.length for p in session.work.parts]
    assert [b - a for a, b in zip(before, after, strict=True)] == pytest.approx([30, 30, 30])
    session.undo()
    assert [p.part.length for p in session.work.parts] == before


def test_a_follower_is_answered_with_its_master(session):
    session.parts.choose(1)
    said = widen(session, 5.0)
    assert "follows from Chimney sleeve" in said
    assert (
        session.change(session.job.model_copy(update={"quantity": 7})) is None
        and session.job.quantity == 7
    )
    assert any("to fit" in str(s.what) for s in session.blank.sums)


def test_a_master_that_leaves_a_follower_nothing_is_refused_whole(session):
    work = session.work
    part = session.job.part
    said = session.change(
        session.job.model_copy(update={"part": part.model_copy(update={"length": 3.0})})
    )
    assert said and session.work is work


def test_choosing_a_part_is_a_step_and_keeps_the_rest(session):
    session.parts.choose(2)
    assert session.at == 2 and session.job.name == "Bottom plate" and session.can_undo
    session.parts.choose(2)
    session.parts.choose(9)
    assert session.at == 2
    session.undo()
    assert session.at == 0 and not session.can_undo


def test_taking_a_part_out_takes_its_fits_and_renumbers_the_rest(session):
    session.parts.choose(1)
    assert session.parts.remove() is None
    assert [p.name for p in session.work.parts] == ["Chimney sleeve", "Bottom plate"]
    assert [(f.follower, f.master) for f in session.work.fits] == [(1, 0)]
    session.parts.choose(0)
    assert session.parts.remove() is None and session.work.fits == ()
    session.undo()
    assert len(session.work.parts) == 2 and len(session.work.fits) == 1


def test_adding_a_part_that_cannot_lie_flat_is_refused(session):
    bad = demo_job().model_copy(update={"radius": 500.0})
    assert "leaves no flat" in session.parts.add(bad) and len(session.work.parts) == 3
    assert session.parts.add(demo_job()) is None and session.at == 3 and session.job == demo_job()


def test_fits_that_go_round_are_refused(session):
    pairs = (Pairing(follower="length", master="length"),)
    ring = (Fit(follower=0, master=1, rule="over", sizes=pairs), *session.work.fits)
    assert "circle" in session.parts.set_fits(ring)
    unknown = (
        Fit(follower=1, master=0, rule="over", sizes=(Pairing(follower="length", master="girth"),)),
    )
    assert "girth" in session.parts.set_fits(unknown)
    assert session.parts.set_fits(()) is None and session.work.fits == ()


def test_work_survives_a_crash(session, qtbot, tmp_path, rack):
    session.parts.choose(1)
    assert session.edit("quantity", quantity=4) is None
    kept = tmp_path / "benches" / "bench.json"
    qtbot.waitUntil(lambda: kept.exists() and read_copy(kept).work == session.work, timeout=60_000)
    assert read_copy(kept).at == 1


def test_one_part_is_saved_as_a_plain_job(qtbot, rack, tmp_path):
    application()
    session = Session(demo_job(), rack)
    session.save(tmp_path / "job.json")
    assert '"zealous-crane-job"' in (tmp_path / "job.json").read_text() and not session.unsaved
    assert session.parts.add(demo_job("deep-feeder")) is None and session.unsaved
    session.save(tmp_path / "job.json")
    assert '"zealous-crane-work"' in (tmp_path / "job.json").read_text()
    session.close()


def test_work_with_a_part_that_cannot_be_made_flat_does_not_open(session, tmp_path):
    bad = demo_job().model_copy(update={"radius": 500.0})
    before = session.work
    with pytest.raises(ValueError, match="leaves no flat"):
        session.start_with(Work(parts=(demo_job(), bad)))
    assert session.work is before
    write_work(Work(parts=(demo_job(), demo_job("deep-feeder"))), tmp_path / "w.json")
    session.start_with(read_work(tmp_path / "w.json"))
    assert len(session.work.parts) == 2 and isinstance(session.job.part, OpenBox)
