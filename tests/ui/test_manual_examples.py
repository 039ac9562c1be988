"""The manual's examples are what the program says today, and its pictures are there."""

from importlib import resources

import pytest

from zealous_crane import api
from zealous_crane.cutting.summary import setting_words
from zealous_crane.demo import demo_work
from zealous_crane.flat.marking import mark_out
from zealous_crane.flat.ruler import Striking
from zealous_crane.inspection.measures import Stands
from zealous_crane.paper.work_steps import Station, bench_steps
from zealous_crane.ui.dialogs.about import ManualBrowser
from zealous_crane.ui.manual import PAGES, page_text, picture_data
from zealous_crane.units.length import INCH, show_length
from zealous_crane.units.quantities import show_angle


@pytest.fixture(scope="module")
def tray():
    work = demo_work("syrup-tray")
    return work, work.parts[0], api.plan(work.parts[0])


def said(page, *texts):
    for text in texts:
        assert text in page_text(page), (page, text)


def plain(length, units):
    return show_length(length, units)


def test_shape_and_its_no(tray):
    _, job, plan = tray
    part = job.part
    sizes = " × ".join(
        plain(size, job.units).removesuffix('"') for size in (part.length, part.width, part.depth)
    )
    said("shape", sizes, f'"{plan.sentence}"', "3 1/2")
    deeper = part.model_copy(update={"depth": 3.5 * INCH})
    assert not api.plan(job.model_copy(update={"part": deeper})).feasible


def test_the_blank_and_the_settings_of_the_scribe(tray):
    _, job, plan = tray
    length, width = (plain(side, job.units) for side in plan.blank.sheared)
    said("lay-out", f"{length} × {width}")
    marking = mark_out(plan.blank, job.units, Striking.of(job))
    for setting in marking.scribe:
        said("lay-out", plain(setting.setting, job.units))
        said("work", plain(setting.setting, job.units))
    (corner,) = marking.corners
    assert len(corner.members) == 4 and len(marking.scribe) == 2
    said("lay-out", *(plain(hole.size, job.units) for hole in corner.punched))
    assert len(bench_steps(job, plan.blank)) == 6


def test_the_cuts(tray):
    work, job, _ = tray
    (told,) = api.cut(work)
    words = setting_words(told, job.units)
    gauges = [plain(setting.gauge, job.units) for setting in told.settings]
    assert [word.times for word in words] == [1, 2, 6]
    said("cut", *gauges[1:], told.says.split(";")[0])
    said("work", "three settings", *gauges[1:])
    (offcut,) = told.sheets[0].offcuts
    said("cut", f"{plain(offcut.length, job.units)} × {plain(offcut.width, job.units)}")


def test_the_set_up_and_the_stops(tray):
    _, job, plan = tray
    (setup,) = plan.setups
    said(
        "tool-up", " + ".join(plain(w, job.units).removesuffix('"') for w in setup.blocks[0].widths)
    )
    last = plan.strokes[-1]
    low, high = last.verdict.stroke.setting.span
    said("tool-up", plain(high - low, job.units))
    stop, touch = show_angle(last.machine_stop), show_angle(last.contact.angle)
    said("bend", stop, touch, f"back to {show_angle(last.verdict.released)}")
    said("work", "four strokes", stop)
    assert len(plan.strokes) == 4
    assert [show_angle(s.machine_stop) == stop for s in plan.strokes] == [False, False, True, True]


def test_the_size_that_is_off(tray):
    _, job, _ = tray
    inspection = api.inspection_of(job)
    line = next(one for one in inspection.lines if "front wall, inside" in one.measure.says)
    said("check", plain(line.wanted, job.units), "2 17/32")
    assert line.stands(inspection.read(line, "2 17/32")) is Stands.OUT


@pytest.mark.parametrize("page", [page for page in PAGES if page != "kinds"])
def test_every_page_has_a_picture(qapp, page):
    names = [part.split(")", 1)[0] for part in page_text(page).split("(picture:")[1:]]
    assert names
    for name in names:
        assert picture_data(name).startswith(b"\x89PNG"), name


def test_no_picture_is_left_over_and_the_window_shows_them(qapp):
    from PySide6.QtCore import QUrl
    from PySide6.QtGui import QTextDocument

    from zealous_crane.paint.theme import LIGHT

    shown = {
        part.split(")", 1)[0] for page in PAGES for part in page_text(page).split("(picture:")[1:]
    }
    there = {
        file.name.removesuffix(".png")
        for file in (resources.files("zealous_crane.ui.manual") / "pictures").iterdir()
    }
    assert shown == there
    browser = ManualBrowser(LIGHT)
    kind = QTextDocument.ResourceType.ImageResource.value
    for name in shown:
        assert not browser.loadResource(kind, QUrl(f"picture:{name}")).isNull()


def test_the_stations_of_the_manual_are_those_of_the_window():
    for station in Station:
        said("work", f"*{station.value[:1].upper()}{station.value[1:]}*")
