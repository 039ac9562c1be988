"""The door for other programs: its examples run, its errors are one family, the command line says
the same."""

import csv
import doctest
import importlib
import json
import runpy
import sys
from pathlib import Path

import pytest
import trimesh

import zealous_crane as zc
from command_line import crane
from zealous_crane import api
from zealous_crane.demo import demo_work
from zealous_crane.shop.book.record import BendRecord
from zealous_crane.shop.book.store import Book

ROOT = Path(__file__).parents[2]
EXAMPLES = ROOT / "docs" / "examples"
TRAY = ROOT / "src" / "zealous_crane" / "demo" / "syrup-tray.json"


def run(name, *arguments, monkeypatch, capsys):
    """What a script of docs/examples prints, and its exit code."""
    monkeypatch.setattr(sys, "argv", [name, *map(str, arguments)])
    code = 0
    try:
        runpy.run_path(str(EXAMPLES / name), run_name="__main__")
    except SystemExit as end:
        code = end.code
    return capsys.readouterr().out, code


@pytest.mark.parametrize("module", ["zealous_crane", "zealous_crane.api"])
def test_the_examples_in_the_docstrings_run(module):
    failed, tried = doctest.testmod(importlib.import_module(module))
    assert tried and not failed


def test_every_script_is_tried_here():
    source = Path(__file__).read_text()
    scripts = [path.name for path in EXAMPLES.glob("*.py")]
    assert len(scripts) == 6 and all(f'"{name}"' in source for name in scripts)


def test_blanks_of_a_table(monkeypatch, capsys, tmp_path):
    out, _ = run(
        "blanks_from_csv.py", EXAMPLES / "sizes.csv", monkeypatch=monkeypatch, capsys=capsys
    )
    with (EXAMPLES / "sizes.csv").open() as file:
        rows = list(csv.DictReader(file))
    assert [line.split(":")[0] for line in out.splitlines()] == [row["name"] for row in rows]
    # A box of 8 x 5 x 1 1/2 inches: two walls beside its base each way, by hand, within a bend's
    # gain.
    length, width = map(float, out.splitlines()[0].split(": ")[1].split(" x "))
    assert length == pytest.approx(11 * 25.4, abs=2.0) and width == pytest.approx(8 * 25.4, abs=2.0)
    wrong = tmp_path / "wrong.csv"
    wrong.write_text("name,length,width,depth\nbox,8 in,-5,1\n")
    out, _ = run("blanks_from_csv.py", wrong, monkeypatch=monkeypatch, capsys=capsys)
    assert out.startswith("box: part.open-box.width: ")


def test_the_greatest_wall_goes_and_the_next_does_not(monkeypatch, capsys):
    out, _ = run("greatest_wall.py", "apiary-finger-50", monkeypatch=monkeypatch, capsys=capsys)
    depth = float(out.split()[0])

    def box(deep):
        part = {"kind": "open-box", "length": 250, "width": 180, "depth": deep}
        return zc.new_job(part, thickness="0.8 mm", brake="apiary-finger-50", units="mm")

    assert (
        zc.plan(box(depth - 1), remedies=False).feasible
        and not zc.plan(box(depth + 2), remedies=False).feasible
    )


def test_a_plan_checked(monkeypatch, capsys):
    out, code = run("check_plan.py", TRAY, monkeypatch=monkeypatch, capsys=capsys)
    assert code == 0 and out.count("stop at") == len(zc.plan(zc.read(TRAY).parts[0]).strokes)


def test_a_cutting_list_says_what_the_command_says(monkeypatch, capsys, tmp_path):
    out, _ = run("cutting_list.py", TRAY, monkeypatch=monkeypatch, capsys=capsys)
    assert (
        out.strip()
        and out.splitlines()[0] == crane("cut", TRAY, home=tmp_path).stdout.splitlines()[0]
    )


def test_the_books_springback_plotted(monkeypatch, capsys, tmp_path):
    with Book(tmp_path / "book.db") as book:
        for got in (88.0, 89.0):
            book.add(BendRecord(metal="steel", thickness=1.0, angle=90, stop=92, got=got))
    run(
        "springback_plot.py",
        tmp_path / "book.db",
        tmp_path / "s.svg",
        monkeypatch=monkeypatch,
        capsys=capsys,
    )
    assert (tmp_path / "s.svg").read_text().count("<circle") == 2


def test_a_part_to_gltf(monkeypatch, capsys, tmp_path):
    out, _ = run("part_to_gltf.py", TRAY, tmp_path / "out", monkeypatch=monkeypatch, capsys=capsys)
    extents = trimesh.load(out.strip(), force="mesh").extents
    # Metres in glTF; the demonstration is 14 1/2 x 10 1/4 x 2 1/2 inside.
    assert sorted(extents)[-1] == pytest.approx(14.5 * 0.0254, abs=0.003)


def test_errors_are_one_family_and_tell_the_field():
    with pytest.raises(zc.CraneError) as caught:
        zc.new_job({"kind": "open-box", "length": 100, "width": 100, "depth": "two hands"})
    assert caught.value.field == "part.open-box.depth"
    tray = zc.read(TRAY).parts[0]
    for wrong in (
        lambda: zc.plan(tray, "no such brake"),
        lambda: zc.write(tray, "x.odt"),
        lambda: zc.inspect(tray, {"none": 1.0}),
        lambda: zc.read(ROOT / "README.md"),
    ):
        with pytest.raises(zc.CraneError):
            wrong()
    assert issubclass(api.FieldError, zc.CraneError)


@pytest.mark.parametrize("name", ["syrup-tray", "hive-scale"])
def test_files_come_back(name, tmp_path):
    work = demo_work(name)
    zc.write(work, tmp_path / "work.json")
    assert zc.read(tmp_path / "work.json") == work
    first = work.parts[0]
    zc.write(first, tmp_path / "flat.dxf")
    again = zc.develop(zc.read(tmp_path / "flat.dxf").parts[0])
    assert again.size == pytest.approx(zc.develop(first).size, abs=0.01)


def test_the_command_line_says_what_the_door_says(tmp_path):
    tray = zc.read(TRAY).parts[0]
    told = json.loads(crane("plan", TRAY, "--json", home=tmp_path).stdout)
    plan = zc.plan(tray)
    assert told["verdict"]["feasible"] == plan.feasible
    assert [stroke["name"] for stroke in told["strokes"]] == [
        stroke.name for stroke in plan.strokes
    ]
    assert told["blank"]["size"] == pytest.approx(zc.develop(tray).size, abs=1e-6)
    sizes = json.loads(crane("sizes", TRAY, "--json", "--all", home=tmp_path).stdout)["sizes"]
    assert [one["key"] for one in sizes] == [line.measure.key for line in zc.inspect(tray).sizes]


def test_a_size_measured_off_is_explained():
    tray = zc.read(TRAY).parts[0]
    first = zc.inspect(tray).sizes[0]
    found = zc.inspect(tray, {first.measure.key: first.wanted + 2.0})
    assert [line.measure.key for line in found.out] == [
        first.measure.key
    ] and found.explained.causes
