"""Cutting without a window."""

import json

import pytest
from typer.testing import CliRunner

from zealous_crane.cli.commands import app
from zealous_crane.cutting.piece import CutError, CutFrom
from zealous_crane.io.job_file import read_job, write_work
from zealous_crane.job.job import Job
from zealous_crane.part.kinds.box import HemmedTray, OpenBox
from zealous_crane.shop.settings import ShopSettings, shop_home
from zealous_crane.ui.state.shop_files import write_settings
from zealous_crane.work.fit import Fit, Pairing
from zealous_crane.work.work import Work


def told(*words):
    result = CliRunner().invoke(app, [str(w) for w in words])
    if result.exception is not None and not isinstance(result.exception, SystemExit):
        raise result.exception
    return result.output


@pytest.fixture
def pan(tmp_path):
    """24 × 24 inside, 2 high after a 1/2 hem all round, folded on the line: 29 × 29. Common
    practice, no source."""
    job = Job(
        part=HemmedTray(length="24 in", width="24 in", depth="2 in", hem="1/2 in"),
        thickness="26 ga",
        units="in",
        quantity=4,
    )
    path = tmp_path / "pan.json"
    path.write_text(job.model_dump_json())
    return path


def test_a_work_is_cut_from_stock(pan, tmp_path):
    stock = tmp_path / "stock.json"
    stock.write_text(
        json.dumps(
            {
                "sheet_length": "96 in",
                "sheet_width": "48 in",
                "shear_length": "10 ft",
                "offcuts": [{"length": "30 in", "width": "30 in"}],
            }
        )
    )
    (lot,) = json.loads(told("cut", pan, "--stock", stock, "--json"))["lots"]
    assert lot["bought"] == 1 and sum(s["alike"] * len(s["placed"]) for s in lot["sheets"]) == 4
    said = told("cut", pan, "--stock", stock)
    assert (
        "1 sheet and 1 off-cut, the minimum" in said
        and "1. Square at" in said
        and "Rip at 29" in said
        and "Keep " in said
    )
    stock.write_text('{"sheet_length": -4}')
    with pytest.raises(CutError, match="sheet_length"):
        told("cut", pan, "--stock", stock)


def test_the_piece_in_hand(pan):
    fits = json.loads(told("fits-piece", pan, "--piece", "29x29", "--json"))
    assert fits["fits"] and fits["blank"] == pytest.approx([29 * 25.4] * 2)
    short = json.loads(told("fits-piece", pan, "--piece", "29 x 27 1/2", "--json"))
    greatest = {s["size"]: s["greatest"] for s in short["sizes"]}
    # An inch and a half short: the pan is as much narrower, or its walls are three quarters lower
    # and more than that.
    assert (
        not short["fits"]
        and greatest["Width"] == pytest.approx(22.5 * 25.4)
        and greatest["Depth"] == pytest.approx(1.25 * 25.4)
    )
    assert "up to 22 1/2" in told("fits-piece", pan, "--piece", "29x27.5")
    with pytest.raises(CutError, match="length x width"):
        told("fits-piece", pan, "--piece", "29")


def test_what_a_work_is_cut_from_is_read_with_it(pan, tmp_path):
    work = Work.of(read_job(pan)).model_copy(
        update={"cut_from": CutFrom(sheet_length=30 * 25.4, sheet_width=30 * 25.4)}
    )
    write_work(work, tmp_path / "work.json")
    (lot,) = json.loads(told("cut", tmp_path / "work.json", "--json"))["lots"]
    assert lot["bought"] == 4, "one pan from each of the small sheets the work names"


def test_where_nothing_else_is_said_the_shops_sheet_and_shear_cut(pan, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    write_settings(
        shop_home(), ShopSettings(cut_from=CutFrom(sheet_length=30 * 25.4, sheet_width=60 * 25.4))
    )
    (lot,) = json.loads(told("cut", pan, "--json"))["lots"]
    assert lot["bought"] == 2 and {s["stock"]["length"] for s in lot["sheets"]} == {30 * 25.4}


def test_off_cuts_that_are_alike_stand_in_one_line(tmp_path):
    job = Job(
        part=HemmedTray(length="24 in", width="24 in", depth="2 in", hem="1/2 in"),
        thickness="26 ga",
        units="in",
        quantity=2,
    )
    (tmp_path / "pan.json").write_text(job.model_dump_json())
    stock = tmp_path / "stock.json"
    # Two pans of 29 x 29 from a sheet 58 wide and 40 long: a strip of 11 x 58, or two of 11 x 29.
    stock.write_text(
        json.dumps(
            {
                "sheet_length": "40 in",
                "sheet_width": "58 in",
                "shear_length": "10 ft",
                "keep": "2 in",
            }
        )
    )
    record = json.loads(told("cut", tmp_path / "pan.json", "--stock", stock, "--json"))["lots"][0][
        "sheets"
    ][0]
    lines = [
        line
        for line in told("cut", tmp_path / "pan.json", "--stock", stock).splitlines()
        if "Keep " in line
    ]
    sizes = {(round(o["length"], 2), round(o["width"], 2)) for o in record["offcuts"]}
    assert len(lines) == len(sizes)


def test_a_part_that_waits_for_its_mate_is_named(tmp_path):
    parts = [
        Job(
            name=name,
            part=OpenBox(length=200, width=150, depth=50),
            metal="mild-steel",
            thickness="1 mm",
            units="mm",
        )
        for name in ("box", "drawer")
    ]
    fit = Fit(
        follower=1,
        master=0,
        rule="inside",
        clearance=1,
        sizes=(Pairing(follower="length", master="length", waits=True),),
    )
    work = Work(parts=tuple(parts), fits=(fit,))
    write_work(work, tmp_path / "work.json")
    said = told("cut", tmp_path / "work.json")
    assert (
        work.waiting() == (1,)
        and said.splitlines()[-1] == "Not cut yet, until the other part is measured: drawer."
    )
