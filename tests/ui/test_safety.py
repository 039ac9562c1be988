"""Work is never lost: copies of every window, found again after a crash; files that changed
meanwhile; brakes that are not there."""

from __future__ import annotations

import json
import os
import stat

import pytest
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication, QInputDialog, QMessageBox

from zealous_crane.brake.library import shop_rack
from zealous_crane.demo import demo_job, demo_work
from zealous_crane.io.atomic import FileError, write_atomically
from zealous_crane.io.job_file import read_work, write_job, write_work
from zealous_crane.paint.application import application
from zealous_crane.ui.state.autosave import SafetyCopy, left_behind, read_copy
from zealous_crane.ui.state.session import Session, safety_folder
from zealous_crane.ui.window.filing import Recover, RecoveryDialog
from zealous_crane.ui.window.window import Window
from zealous_crane.work.work import Work


@pytest.fixture
def opened(qtbot, rack, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    application()

    def made(job=None):
        session = Session(job or demo_job(), rack, SafetyCopy.claim(safety_folder()))
        window = Window(session)
        qtbot.addWidget(window, before_close_func=lambda _: session.mark_saved())
        window.show()
        return window

    return made


def crash(window):
    """The window goes down without a word: its lock goes, its copy stays."""
    keeper = window.session.keeper
    keeper.leave()
    os.close(keeper.copy._lock)
    keeper.copy._lock = None
    path, keeper.copy = keeper.copy.path, None
    return path


def test_every_window_keeps_its_own_copy_and_a_live_one_is_not_offered(opened, qtbot):
    one, other = opened(), opened(demo_job("deep-feeder"))
    for window in (one, other):
        window.session.edit("quantity", quantity=5)
    paths = [w.session.keeper.copy.path for w in (one, other)]
    assert paths[0] != paths[1]
    for window, path in zip((one, other), paths, strict=True):
        qtbot.waitUntil(
            lambda w=window, p=path: p.exists() and read_copy(p).work == w.session.work,
            timeout=60_000,
        )
    assert left_behind(safety_folder()) == ([], [])
    crash(one)
    found, said = left_behind(safety_folder())
    assert [f.names for f in found] == [(one.session.job.name,)] and not said
    assert found[0].work.parts[0].quantity == 5


def test_steady_typing_is_kept(opened, qtbot):
    window = opened()
    session, path = window.session, window.session.keeper.copy.path
    for n in range(2, 40):
        session.edit("quantity", quantity=n)
        qtbot.wait(40)
        if path.exists():
            break
    assert path.exists(), "kept while the typing goes on, not after it"


@pytest.mark.parametrize("choice", [Recover.RESTORE, Recover.ASIDE, Recover.DISCARD])
def test_work_found_after_a_crash_is_offered(opened, qtbot, tmp_path, choice):
    first = opened(demo_work("wax-melter-chimney"))
    write_work(first.session.work, tmp_path / "chimney.json")
    first.session.start_with(first.session.work, tmp_path / "chimney.json")
    first.session.parts.choose(1)
    assert first.session.edit("quantity", quantity=4) is None
    path = first.session.keeper.copy.path
    qtbot.waitUntil(
        lambda: path.exists() and read_copy(path).work == first.session.work, timeout=60_000
    )
    work = first.session.work
    crash(first)
    second = opened()
    before = second.session.work
    shown = []

    def answer():
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, RecoveryDialog)
        shown.append(dialog.says.text())
        qtbot.mouseClick(dialog.buttons[choice], Qt.MouseButton.LeftButton)

    QTimer.singleShot(50, answer)
    second.filing.offer_recovery()
    assert (
        all(part.name in shown[0] for part in work.parts)
        and "Written" in shown[0]
        and "chimney.json" in shown[0]
    )
    if choice is Recover.RESTORE:
        assert second.session.work == work and second.session.at == 1
        assert second.session.unsaved and second.session.path == tmp_path / "chimney.json"
        assert not path.exists()
    else:
        assert second.session.work == before and not path.exists()
        aside = (
            list((safety_folder() / "kept aside").glob("*.json")) if choice is Recover.ASIDE else []
        )
        assert len(aside) == (choice is Recover.ASIDE)
    assert left_behind(safety_folder()) == ([], [])


def test_a_copy_that_cannot_be_read_is_kept_as_it_is_and_said(opened, tmp_path, monkeypatch):
    said = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *a: said.append(str(a[2])))
    folder = safety_folder()
    folder.mkdir(parents=True)
    (folder / "bench-old.json").write_text('{"format": "zealous-crane-safety", "work": ')
    opened().filing.offer_recovery()
    (kept,) = (folder / "kept aside").glob("*.json")
    assert kept.read_text().endswith('"work": ') and str(kept) in said[0]


def test_work_on_a_brake_this_shop_does_not_have_opens_with_a_choice(
    opened, qtbot, tmp_path, monkeypatch
):
    window = opened()
    job = demo_job().model_copy(update={"brake": "someone-elses"})
    write_job(job, tmp_path / "job.json")
    asked = []

    def choose(parent, title, text, names, *more):
        asked.append(text)
        return names[1], True

    monkeypatch.setattr(QInputDialog, "getItem", choose)
    assert window.filing.open_file(tmp_path / "job.json")
    assert (
        "someone-elses" in asked[0]
        and window.session.job.brake == window.session.rack.brakes[1].key
        and window.session.unsaved
    )
    monkeypatch.setattr(QInputDialog, "getItem", lambda *a: ("", False))
    before = window.session.work
    assert not window.filing.open_file(tmp_path / "job.json") and window.session.work is before


def test_broken_brake_files_are_said_and_left_out(tmp_path):
    (tmp_path / "a.json").write_text("[" * 100_000)
    (tmp_path / "b.json").write_text('{"kind": "leaf"}')
    (tmp_path / "c.json").mkdir()
    (tmp_path / "d.json").write_bytes(b"\xff\xfe\x00")
    rack, said = shop_rack(tmp_path)
    assert (
        len(said) == 4
        and all(sentence.endswith(".") for sentence in said)
        and len(rack.brakes) >= 4
    )


def test_saving_over_a_file_that_changed_asks_first(opened, qtbot, tmp_path, monkeypatch):
    window, path = opened(), tmp_path / "job.json"
    buttons = QMessageBox.StandardButton
    assert window.filing.save_to(path)
    write_job(demo_job("deep-feeder"), path)
    window.session.edit("quantity", quantity=2)
    asked = []

    def answer(with_):
        monkeypatch.setattr(QMessageBox, "question", lambda *a: (asked.append(str(a[2])), with_)[1])

    answer(buttons.Cancel)
    assert (
        not window.filing.save()
        and read_work(path) == Work.of(demo_job("deep-feeder"))
        and window.session.unsaved
    )
    answer(buttons.Yes)
    assert (
        window.filing.save()
        and read_work(path) == window.session.work
        and not window.session.unsaved
    )
    assert "changed by another" in asked[0]
    window.session.edit("quantity", quantity=3)
    count = len(asked)
    assert window.filing.save() and len(asked) == count, "its own file is not asked about"


# --- writing ------------------------------------------------------------------------------------


def test_writing_goes_through_links_and_keeps_the_mode(tmp_path):
    real, link = tmp_path / "real.json", tmp_path / "link.json"
    real.write_text("old")
    real.chmod(0o640)
    link.symlink_to(real)
    write_atomically(link, b"new")
    assert (
        link.is_symlink()
        and real.read_bytes() == b"new"
        and stat.S_IMODE(real.stat().st_mode) == 0o640
    )


def test_what_is_no_plain_file_is_written_straight_into(tmp_path):
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    handle = os.open(pipe, os.O_RDWR | os.O_NONBLOCK)
    write_atomically(pipe, b"through")
    assert os.read(handle, 100) == b"through" and stat.S_ISFIFO(pipe.stat().st_mode)
    os.close(handle)
    with pytest.raises(FileError, match="folder"):
        write_atomically(tmp_path, b"x")


def test_what_a_crash_left_half_written_is_taken_away_when_it_is_old(tmp_path):
    old, fresh = tmp_path / ".job.json.aaaa.crane-part", tmp_path / ".job.json.bbbb.crane-part"
    for path in (old, fresh, tmp_path / ".other.json.cccc.crane-part"):
        path.write_text("half")
    os.utime(old, (1, 1))
    write_atomically(tmp_path / "job.json", b"{}")
    assert (
        not old.exists() and fresh.exists() and (tmp_path / ".other.json.cccc.crane-part").exists()
    )
    assert json.loads((tmp_path / "job.json").read_text()) == {}


def found_again(opened, qtbot, path):
    """A window that went down with a job of a file on the bench, and the one that comes after
    it."""
    first = opened()
    write_work(first.session.work, path)
    assert first.filing.open_file(path)
    assert first.session.edit("quantity", quantity=7) is None
    copy = first.session.keeper.copy.path
    qtbot.waitUntil(
        lambda: copy.exists() and read_copy(copy).work == first.session.work, timeout=60_000
    )
    crash(first)
    return opened(), copy


def restore(qtbot, window):
    """Press *Restore it* in the dialog that comes."""
    QTimer.singleShot(
        50,
        lambda: qtbot.mouseClick(
            QApplication.activeModalWidget().buttons[Recover.RESTORE], Qt.MouseButton.LeftButton
        ),
    )
    return window.filing.offer_recovery()


def test_a_file_changed_since_the_crash_is_asked_about(opened, qtbot, tmp_path, monkeypatch):
    path = tmp_path / "tray.crane"
    window, _ = found_again(opened, qtbot, path)
    others = Work.of(demo_job("deep-feeder"))
    write_work(others, path)
    said, asked = [], []
    monkeypatch.setattr(window.front, "say", said.append)
    assert restore(qtbot, window) and "was changed since" in said[-1]
    monkeypatch.setattr(
        QMessageBox, "question", lambda *a: asked.append(a[2]) or QMessageBox.StandardButton.Cancel
    )
    assert not window.filing.save() and len(asked) == 1 and read_work(path) == others


def test_the_copy_found_stays_until_the_next_is_on_disk(opened, qtbot, tmp_path, monkeypatch):
    window, copy = found_again(opened, qtbot, tmp_path / "tray.crane")
    said = []
    monkeypatch.setattr(window.front, "say", said.append)

    def full(*_):
        raise FileError("The disk is full.")

    monkeypatch.setattr(SafetyCopy, "write", full)
    assert (
        restore(qtbot, window)
        and window.session.job.quantity == 7
        and said[-1] == "Restored; not saved yet."
    )
    assert copy.exists() and read_copy(copy).work == window.session.work
