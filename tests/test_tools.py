"""The set-up script: what it does when something is missing."""

from __future__ import annotations

import ast
import re
import subprocess
import sys
from pathlib import Path

import pytest

from tool import tool

ROOT = Path(__file__).parent.parent


@pytest.fixture
def crane():
    return tool("crane")


def test_missing_libraries_are_named_by_package(crane, monkeypatch):
    def refuse(name):
        raise OSError(name)

    monkeypatch.setattr(crane.ctypes, "CDLL", refuse)
    missing = crane.missing_libraries()
    assert {"libxcb-cursor0", "libxcb-icccm4", "libxkbcommon-x11-0", "libegl1", "libgl1"} <= set(
        missing
    )


def test_where_it_may_not_install_it_prints_the_exact_line(crane, monkeypatch, capsys):
    monkeypatch.setattr(crane.shutil, "which", lambda name: None)
    assert not crane.install_packages(["libegl1", "libgl1"], "the window (Qt)")
    said = capsys.readouterr().err
    assert "sudo apt-get update && sudo apt-get install -y libegl1 libgl1" in said


def test_a_failed_installation_says_so(crane, monkeypatch, capsys):
    monkeypatch.setattr(crane.shutil, "which", lambda name: "/usr/bin/" + name)
    monkeypatch.setattr(crane.os, "geteuid", lambda: 0)
    monkeypatch.setattr(
        crane.subprocess, "run", lambda *a, **k: subprocess.CompletedProcess(a, 100)
    )
    assert not crane.install_packages(["libegl1"], "the window (Qt)")
    assert "did not work" in capsys.readouterr().err


def test_an_old_python_is_refused(crane, monkeypatch, capsys):
    monkeypatch.setattr(crane.sys, "version_info", (3, 10, 0))
    assert crane.main(["demo"]) == 1
    assert "3.11 or newer" in capsys.readouterr().err


def test_help_and_unknown_commands(crane, capsys):
    assert crane.main([]) == 0 and crane.main(["dance"]) == 2
    assert "demo" in capsys.readouterr().err


def test_the_lock_names_versions_and_no_addresses():
    lines = [
        line
        for line in (ROOT / "lock.txt").read_text().splitlines()
        if line and not line.startswith("#")
    ]
    assert all(re.fullmatch(r"[A-Za-z0-9_.\-]+==[0-9][0-9A-Za-z.]*", line) for line in lines)
    locked = {line.split("==")[0].lower().replace("_", "-") for line in lines}
    import tomllib

    project = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
    needed = [*project["dependencies"], *project["optional-dependencies"]["dev"]]
    assert {re.split(r"[<>=\[]", need)[0].lower() for need in needed} <= locked


def test_the_two_commands_of_the_readme():
    readme = (ROOT / "README.md").read_text()
    assert "./crane demo" in readme and "./crane test" in readme
    for picture in re.findall(r"\((docs/[^)]+\.png)\)", readme):
        assert (ROOT / picture).stat().st_size > 10_000, picture
    assert "./crane test" in (ROOT / ".ci" / "run").read_text()


def test_pictures_without_a_display(tmp_path):
    done = subprocess.run(
        [sys.executable, str(ROOT / "tools" / "pictures.py"), "demo", str(tmp_path / "out")],
        capture_output=True,
        text=True,
        check=True,
        timeout=100,
    )
    made = {path.name for path in (tmp_path / "out").iterdir()}
    assert made == {
        "shape.png",
        "lay-out.png",
        "cut.png",
        "tool-up.png",
        "bend.png",
        "check.png",
        "at-the-brake.png",
        "sheet.pdf",
        "blank.dxf",
        "plan.json",
    }
    assert str(tmp_path / "out") in done.stdout and done.stderr == ""


def test_no_doc_leans_on_what_is_not_here():
    for path in [*ROOT.glob("*.md"), *(ROOT / "docs").glob("*.md")]:
        for target in re.findall(r"\]\((?!http)([^)#]+)", path.read_text()):
            assert (path.parent / target).exists(), (path.name, target)


def test_faults_change_what_a_run_can_show_and_nothing_else(tmp_path):
    source = '''
def clear(room: float, least: float = 0.5) -> bool:
    """Room above the least."""
    return room - least > 0.0 and min(room, 2.0) < 3.0
'''
    mutants = tool("mutants")
    path = tmp_path / "x.py"
    path.write_text(source)
    mutants.ROOT = tmp_path
    found = [mutants._made(Path("x.py"), *fault) for fault in mutants.faults_of(ast.parse(source))]
    assert {(f.before, f.after) for f in found} >= {
        ("room - least", "room + least"),
        ("room - least > 0.0", "room - least >= 0.0"),
        ("min(room, 2.0)", "max(room, 2.0)"),
        (
            "room - least > 0.0 and min(room, 2.0) < 3.0",
            "room - least > 0.0 or min(room, 2.0) < 3.0",
        ),
        ("0.5", "0.55"),
    }
    for fault in found:
        compile(fault.source, "x.py", "exec")
        assert fault.source != source and "Room above the least." in fault.source
        # What only two equal lengths tell is no figure anybody reads.
        assert fault.tie is (fault.before in ("room - least > 0.0", "min(room, 2.0) < 3.0"))
    mutants = tool("mutants")
    # The same seed makes the same faults.
    assert (
        mutants.chosen(["cutting"], 3, 5)
        == mutants.chosen(["cutting"], 3, 5)
        != mutants.chosen(["cutting"], 3, 6)
    )


def test_every_fault_called_harmless_is_still_written_there():
    mutants = tool("mutants")
    for file, before in mutants.harmless():
        path = ROOT / mutants.HEART / file
        parts = {
            ast.unparse(node)
            for node in ast.walk(ast.parse(path.read_text()))
            if isinstance(node, ast.expr)
        }
        assert before in parts, (file, before)
