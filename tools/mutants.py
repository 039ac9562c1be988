"""Small faults put into the heart one at a time: does a test see each? What survives is a figure
nobody checks, or changes nothing.

    python tools/mutants.py --count 200 --seed 1 [--room blank] [--reach FILE]

Which tests run which lines is found out once, with all tests sound (a quarter of an hour; kept in
FILE for the next run). Each fault is then made in a copy of the checkout, and the tests that run
its line are run until one fails, the quickest first. The same seed makes the same faults.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any, NamedTuple

import coverage
from reach import TIMES

ROOT = Path(__file__).resolve().parent.parent
HEART = Path("src/zealous_crane")
ROOMS = (
    "bending",
    "brake",
    "cutting",
    "flat",
    "inspection",
    "io",
    "kernel",
    "metal",
    "planning",
    "shop",
)
TESTS = (
    *(f"tests/{room}" for room in ROOMS),
    "tests/work",
    "tests/test_doors.py",
    "tests/test_both_sides.py",
    "tests/test_unseen_figures.py",
    "tests/ui/test_checking_stage.py",
    "tests/ui/test_book_at_the_brake.py",
    "tests/ui/test_cutting_stage.py",
    "tests/ui/test_own_brake.py",
    "tests/ui/test_brake_work.py",
)
"""Tests whose reach is found out: the rooms' own, and those that hold the doors against each
other."""

BUDGET = 60.0
"""Seconds of tests a fault is given, the quickest first: what none of them sees counts as not
seen."""

LONGEST = 240.0
"""Seconds; tests that take so much longer under a fault have seen it."""

TIES = (ast.Lt, ast.LtE, ast.Gt, ast.GtE)
"""Comparisons that differ only where two figures are the same."""

SWAPPED: dict[type[ast.AST], Any] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
    ast.And: ast.Or,
    ast.Or: ast.And,
}


def harmless() -> frozenset[tuple[str, str]]:
    """(file below the package, what is written there) of faults that nobody could read."""
    lines = (ROOT / "tools" / "harmless.txt").read_text(encoding="utf-8").splitlines()
    fields = [line.split(" | ") for line in lines if line and not line.startswith("#")]
    return frozenset((file, before) for file, before, _ in fields)


class Fault(NamedTuple):
    """One fault: the file, the line of its statement, what was written and what is written now, the
    whole source with it, and whether only two figures that are the same to the last bit tell it:
    such a fault is harmless where they are lengths, angles or forces.
    """

    path: Path
    line: int
    before: str
    after: str
    source: str
    tie: bool = False


def faults_of(tree: ast.AST) -> list[tuple[int, ast.expr]]:
    """Every fault that may be put into a module, by the number of its node: an operator swapped, a
    figure changed, a condition turned round, a minimum for a maximum.
    """
    quiet = {id(part) for node in ast.walk(tree) for part in _unseen(node)}
    return [
        (k, changed)
        for k, node in enumerate(ast.walk(tree))
        if id(node) not in quiet
        for changed in _changed(node)
    ]


def _made(path: Path, number: int, changed: ast.expr) -> Fault:
    tree = ast.parse((ROOT / path).read_text(encoding="utf-8"))
    target = next(n for k, n in enumerate(ast.walk(tree)) if k == number)
    statements = [
        n
        for n in ast.walk(tree)
        if isinstance(n, ast.stmt) and any(part is target for part in ast.walk(n))
    ]
    before = ast.unparse(target)
    _put(tree, target, changed)
    return Fault(
        path,
        max(n.lineno for n in statements),
        before,
        ast.unparse(changed),
        ast.unparse(tree),
        _tie(target),
    )


def _tie(node: ast.AST) -> bool:
    """True for a comparison of figures that are no counts."""
    if not isinstance(node, ast.Compare) or not isinstance(node.ops[0], TIES):
        return False
    sides = (node.left, *node.comparators)
    counted = any(
        isinstance(side, ast.Call) and getattr(side.func, "id", "") == "len" for side in sides
    )
    return not counted and not any(
        isinstance(side, ast.Constant) and isinstance(side.value, int) for side in sides
    )


def _unseen(node: ast.AST) -> Iterator[ast.AST]:
    """What no run can show: annotations, docstrings, words."""
    for name in ("annotation", "returns", "decorator_list"):
        found = getattr(node, name, None)
        for part in found if isinstance(found, list) else [found]:
            if isinstance(part, ast.AST):
                yield from ast.walk(part)
    if isinstance(node, ast.Call) and getattr(node.func, "id", "") in ("tr", "counted"):
        yield from ast.walk(node)


def _changed(node: ast.AST) -> Iterator[ast.expr]:
    if isinstance(node, ast.Compare) and type(node.ops[0]) in SWAPPED:
        yield ast.Compare(
            node.left, [SWAPPED[type(node.ops[0])](), *node.ops[1:]], node.comparators
        )
    elif isinstance(node, ast.BinOp) and type(node.op) in SWAPPED:
        yield ast.BinOp(node.left, SWAPPED[type(node.op)](), node.right)
    elif isinstance(node, ast.BoolOp):
        yield ast.BoolOp(SWAPPED[type(node.op)](), node.values)
    elif isinstance(node, ast.IfExp):
        yield ast.IfExp(node.test, node.orelse, node.body)
    elif isinstance(node, ast.Constant) and isinstance(node.value, float) and node.value:
        yield ast.Constant(node.value * 1.1)
    elif isinstance(node, ast.Call) and getattr(node.func, "id", "") in ("min", "max"):
        yield ast.Call(
            ast.Name("max" if getattr(node.func, "id", "") == "min" else "min"),
            node.args,
            node.keywords,
        )


def _put(tree: ast.AST, old: ast.AST, new: ast.expr) -> None:
    for node in ast.walk(tree):
        for name, value in ast.iter_fields(node):
            if value is old:
                setattr(node, name, new)
            elif isinstance(value, list):
                setattr(node, name, [new if part is old else part for part in value])


def chosen(rooms: list[str], count: int, seed: int) -> list[tuple[str, Fault]]:
    """So many faults of some rooms, evenly from room to room and from file to file, the same for
    the same seed."""
    rng, found = random.Random(seed), []
    for k in range(count):
        room = rooms[k % len(rooms)]
        files = sorted((ROOT / HEART / room).rglob("*.py"))
        while True:
            path = rng.choice(files)
            every = faults_of(ast.parse(path.read_text(encoding="utf-8")))
            if every:
                made = room, _made(path.relative_to(ROOT), *rng.choice(every))
                if made not in found:
                    found.append(made)
                    break
    return found


class Reach:
    """Which tests run which lines, and how long each takes.

    Args:
        where: the file it is kept in; made when it is not there.
        copy_at: the copy of the checkout.
    """

    def __init__(self, where: Path, copy_at: Path) -> None:
        if not where.exists():
            _tests(copy_at, ["-p", "reach", *TESTS], {"REACH": str(where)})
        self._data = coverage.CoverageData(str(where))
        self._data.read()
        times = where.with_suffix(TIMES).read_text(encoding="utf-8").splitlines()
        self._seconds = {
            test: float(seconds) for seconds, test in (line.split(" ", 1) for line in times)
        }
        self._files = {
            Path(name[name.index(str(HEART)) :]): name for name in self._data.measured_files()
        }

    def tests(self, fault: Fault) -> list[str]:
        """Tests that run a fault's line, the quickest first; for a line that runs as its module is
        brought in, all that run its module."""
        lines = self._data.contexts_by_lineno(self._files.get(fault.path, ""))
        found = {test for test in lines.get(fault.line, ()) if test}
        if not found:
            found = {test for tests in lines.values() for test in tests if test}
        ranked, spent = sorted(found, key=lambda test: self._seconds.get(test, 0.0)), 0.0
        kept: list[str] = []
        for test in ranked:
            spent += self._seconds.get(test, 0.0)
            if kept and spent > BUDGET:
                break
            kept.append(test)
        return kept


def _tests(copy_at: Path, asked: list[str], extra: dict[str, str] | None = None) -> bool:
    """Run tests in the copy of the checkout; True when one failed, or they did not come to an
    end."""
    path = os.pathsep.join((str(copy_at / "src"), str(copy_at / "tools")))
    try:
        ran = subprocess.run(
            [sys.executable, "-m", "pytest", "-q", "-p", "no:cacheprovider", *asked],
            cwd=copy_at,
            capture_output=True,
            timeout=LONGEST if extra is None else None,
            check=False,
            env={**os.environ, "PYTHONPATH": path, **(extra or {})},
        )
    except subprocess.TimeoutExpired:
        return True
    return ran.returncode not in (0, 5)


def seen(fault: Fault, tests: list[str], copy_at: Path) -> bool:
    """True when one of some tests fails under a fault."""
    if not tests:
        return False
    place, named = copy_at / fault.path, copy_at / "asked.txt"
    before = place.read_text(encoding="utf-8")
    place.write_text(fault.source, encoding="utf-8")
    named.write_text("\n".join(tests), encoding="utf-8")
    try:
        return _tests(copy_at, ["-x", f"@{named}"])
    finally:
        place.write_text(before, encoding="utf-8")


def main() -> int:
    asked = argparse.ArgumentParser(
        description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter
    )
    asked.add_argument("--count", type=int, default=200)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--room", choices=ROOMS, action="append")
    asked.add_argument("--reach", type=Path, help="where the reach of the tests is kept")
    given = asked.parse_args()
    made, killed, apart, known = Counter[str](), Counter[str](), 0, harmless()
    with tempfile.TemporaryDirectory() as folder:
        copy_at = Path(folder) / "checkout"
        shutil.copytree(
            ROOT, copy_at, ignore=shutil.ignore_patterns(".git", ".venv", "__pycache__", "build")
        )
        reach = Reach(given.reach or Path(folder) / "reach", copy_at)
        for room, fault in chosen(given.room or list(ROOMS), given.count, given.seed):
            tests = reach.tests(fault)
            is_seen = seen(fault, tests, copy_at)
            where = str(fault.path.relative_to(HEART))
            word = "seen" if is_seen else "a tie" if fault.tie else "NOT SEEN"
            if not is_seen and (where, fault.before) in known:
                word = "harmless"
            if word in ("a tie", "harmless"):
                apart += 1
            else:
                made[room] += 1
                killed[room] += is_seen
            what = f"{fault.path}:{fault.line}  {fault.before[:60]}  ->  {fault.after[:60]}"
            print(f"{word}  {what}  ({len(tests)} tests)", flush=True)
        if _tests(copy_at, ["-x", "tests/units"]):
            print("The tests fail without a fault too: what was said is worth nothing.")
            return 1
    for room in sorted(made):
        print(f"{room}: {killed[room]} of {made[room]}")
    print(
        f"in all: {sum(killed.values())} of {sum(made.values())}, and {apart} that change "
        f"nothing anybody reads"
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())
