"""The shop's files: what is damaged is kept, and two windows write into one folder."""

import json

import pytest
from PySide6.QtWidgets import QDialog

from zealous_crane.brake.library import shop_rack
from zealous_crane.demo import demo_job, demo_work
from zealous_crane.metal.material import MATERIALS
from zealous_crane.shop.settings import SETTINGS, ShopSettings, read_settings
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.state.shop_files import merged, write_settings
from zealous_crane.ui.window.filing import begun
from zealous_crane.ui.window.window import Window


def test_damaged_settings_are_kept_beside_and_said(tmp_path):
    for number, damaged in enumerate(
        ('{"ways": {"school": ', '{"cut_from": {"sheet_length": -4}}'), start=1
    ):
        (tmp_path / SETTINGS).write_text(damaged)
        usual, said = read_settings(tmp_path)
        assert (
            usual == ShopSettings()
            and "kept beside" in said
            and (tmp_path / SETTINGS).read_text() == damaged
        )
        assert write_settings(tmp_path, usual) is None
        assert read_settings(tmp_path) == (usual, None)
        beside = sorted(path.read_text() for path in tmp_path.glob("*damaged*"))
        assert len(beside) == number and damaged in beside
    # What can be read is written over as before.
    assert write_settings(tmp_path, usual) is None and len(list(tmp_path.iterdir())) == 3
    assert json.loads((tmp_path / SETTINGS).read_text())


@pytest.fixture
def at_one_shop(rack, tmp_path):
    """Makes sessions as two windows have them: one folder of machines and settings."""
    shop = tmp_path / "shop" / "brakes"
    shop.mkdir(parents=True)
    sessions = []

    def made():
        known, said = shop_rack(shop)
        settings, complaint = read_settings(shop.parent)
        assert not said and not complaint
        session = Session(demo_job("hive-stand-angle"), known, shop=shop, settings=settings)
        sessions.append(session)
        return session

    yield made
    for session in sessions:
        session.mark_saved()
        session.close()


def on_disk(session, key):
    return shop_rack(session.shop)[0].find(key)


def test_a_machine_changed_at_two_windows_has_both_changes(at_one_shop):
    one, other = at_one_shop(), at_one_shop()
    brake = one.brake
    assert one.shop_edits.keep_brake(brake.model_copy(update={"name": "Press by the door"})) is None
    # The other window has not heard of it; another of its figures is changed there.
    assert other.brake.name == brake.name
    assert other.shop_edits.keep_brake(brake.model_copy(update={"force": 77.0})) is None
    kept = on_disk(one, brake.key)
    assert (kept.name, kept.force) == ("Press by the door", 77.0) and other.brake == kept
    # Undo takes back what was typed at this window, and nothing of the other's.
    other.undo()
    kept = on_disk(one, brake.key)
    assert (kept.name, kept.force) == ("Press by the door", brake.force)
    other.redo()
    one.undo()
    kept = on_disk(one, brake.key)
    assert (kept.name, kept.force) == (brake.name, 77.0)
    assert one.brake.force == 77.0


def test_settings_and_metals_of_two_windows_are_merged(at_one_shop):
    one, other = at_one_shop(), at_one_shop()
    for session, key in zip((one, other), MATERIALS, strict=False):
        metal = session.settings.copied(key)
        assert session.shop_edits.keep_settings(session.settings.with_metal(metal)) is None
    ways = one.settings.ways.model_copy(update={"tolerance": 0.7})
    assert one.shop_edits.keep_settings(one.settings.model_copy(update={"ways": ways})) is None
    kept = read_settings(one.shop.parent)[0]
    assert len(kept.metals) == 2 and kept.ways.tolerance == 0.7 and kept == one.settings
    # The one that was not touched since hears of it when it is turned to.
    said = []
    other.complained.connect(said.append)
    other.shop_edits.take_others()
    assert other.settings == kept and len(said) == 1
    other.shop_edits.take_others()
    assert len(said) == 1
    other.undo()
    assert len(read_settings(one.shop.parent)[0].metals) == 1
    assert read_settings(one.shop.parent)[0].ways.tolerance == 0.7


def test_where_both_changed_one_figure_the_later_stands(at_one_shop):
    one, other = at_one_shop(), at_one_shop()
    brake = one.brake
    assert one.shop_edits.keep_brake(brake.model_copy(update={"force": 31.0})) is None
    assert other.shop_edits.keep_brake(brake.model_copy(update={"force": 32.0})) is None
    assert on_disk(one, brake.key).force == 32.0


def test_two_machines_begun_under_one_key_are_two(at_one_shop):
    one, other = at_one_shop(), at_one_shop()
    begun = [
        one.brake.model_copy(update={"key": "own-1", "name": name})
        for name in ("By the door", "In the loft")
    ]
    assert (
        one.shop_edits.keep_brake(begun[0]) is None
        and other.shop_edits.keep_brake(begun[1]) is None
    )
    assert {on_disk(one, key).name for key in ("own-1", "own-1-2")} == {
        "By the door",
        "In the loft",
    }
    assert other.brake.name == "In the loft" and other.brake.key == "own-1-2"


def test_a_machine_added_elsewhere_is_there_when_the_window_is_turned_to(at_one_shop, qtbot):
    one, other = at_one_shop(), at_one_shop()
    window = Window(one)
    qtbot.addWidget(window)
    window.show()
    made = other.brake.model_copy(update={"key": "loft-press", "name": "Press in the loft"})
    assert other.shop_edits.keep_brake(made) is None
    dialog = QDialog(window)
    dialog.show()
    dialog.activateWindow()
    qtbot.waitUntil(lambda: not window.isActiveWindow())
    dialog.close()
    window.activateWindow()
    qtbot.waitUntil(lambda: one.rack.find("loft-press") is not None)
    names = [window.header.brake.itemText(i) for i in range(window.header.brake.count())]
    assert "Press in the loft" in names


def test_examples_give_way_to_the_shops_own_machines(at_one_shop):
    one = at_one_shop()
    examples = len(one.rack.in_use)
    assert examples > 3 and not one.rack.own
    made = one.brake.model_copy(update={"key": "loft-press", "name": "Press in the loft"})
    assert one.shop_edits.keep_brake(made) is None
    assert one.rack.in_use == (made,) and one.rack.find("bench-bars-600") is not None
    one.undo()
    assert len(one.rack.in_use) == examples
    one.redo()
    # New work is begun on what the shop has, and no cure leads to a machine it has not.
    work = begun(demo_work("syrup-tray"), one.settings, one.rack, {})
    assert {part.brake for part in work.parts} == {"loft-press"}


@pytest.mark.parametrize(
    ("base", "mine", "theirs", "both"),
    [
        ({"a": 1, "b": 1}, {"a": 2, "b": 1}, {"a": 1, "b": 3}, {"a": 2, "b": 3}),
        ({"a": 1}, {"a": 2}, {"a": 3}, {"a": 2}),
        ([1, 2], [1, 2], [1, 2, 3], [1, 2, 3]),
        ([1, 2], [0, 1, 2], [1, 2, 3], [0, 1, 2]),
        (
            [{"key": "x", "n": 1}],
            [{"key": "x", "n": 1}, {"key": "y", "n": 1}],
            [{"key": "x", "n": 2}, {"key": "z", "n": 1}],
            [{"key": "x", "n": 2}, {"key": "y", "n": 1}, {"key": "z", "n": 1}],
        ),
        (
            [{"key": "x"}, {"key": "y"}],
            [{"key": "y"}],
            [{"key": "x"}, {"key": "y"}, {"key": "z"}],
            [{"key": "y"}, {"key": "z"}],
        ),
        ({"a": None}, {"a": None}, {"a": 4}, {"a": 4}),
        ({"a": 4}, {"a": None}, {"a": 4}, {"a": None}),
    ],
)
def test_plain_values_of_two_windows(base, mine, theirs, both):
    assert merged(base, mine, theirs) == both
