"""Small faults put into the heart one at a time: does a test see each? What survives is a figure nobody checks, or changes nothing.

    python tools/mutants.py --count 200 --seed 1 [--room blank]

Each fault is made in a copy of the checkout, and the tests of its room are run on that until one fails. The same seed makes the same faults.
"""

from __future__ import annotations

import argparse
import ast
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).resolve().parent.parent
HEART = Path("src/zealous_crane")

ROOMS = {
    "allowance": ("tests/allowance", "tests/blank", "tests/plan/test_goldens.py"),
    "blank": ("tests/blank", "tests/files", "tests/plan/test_goldens.py"),
    "brake": ("tests/brake", "tests/plan/test_goldens.py", "tests/plan"),
    "check": ("tests/check", "tests/test_fits_in_solids.py", "tests/desk/test_checking_stage.py"),
    "cut": ("tests/cut", "tests/files/test_cli_cut.py"),
    "files": ("tests/files", "tests/test_doors.py"),
    "plan": ("tests/plan/test_goldens.py", "tests/plan"),
    "shop": ("tests/shop", "tests/files/test_cli_book.py", "tests/desk/test_book_at_the_brake.py"),
}
"""Rooms of the heart, and the tests that are asked, those that see most first."""

LONGEST = 900.0
"""Seconds; tests that take longer under a fault have seen it."""

SWAPPED: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq, ast.Add: ast.Sub,
    ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.And: ast.Or, ast.Or: ast.And,
}  # fmt: skip


class Fault(NamedTuple):
    """One fault: the file, the line, what was written and what is written now."""

    path: Path
    line: int
    before: str
    after: str
    source: str


def faults_of(path: Path, source: str) -> Iterator[Fault]:
    """Every fault that may be put into a module: an operator swapped, a figure changed, a condition turned round, a minimum for a maximum."""
    tree = ast.parse(source)
    quiet = {id(part) for node in ast.walk(tree) for part in _unseen(node)}
    for number, node in enumerate(ast.walk(tree)):
        if id(node) not in quiet:
            for changed in _changed(node):
                other = copy.deepcopy(tree)
                target = next(n for k, n in enumerate(ast.walk(other)) if k == number)
                before = ast.unparse(target)
                _put(other, target, changed)
                yield Fault(path, getattr(node, "lineno", 0), before, ast.unparse(changed), ast.unparse(other))


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
        yield ast.Compare(node.left, [SWAPPED[type(node.ops[0])](), *node.ops[1:]], node.comparators)  # type: ignore[list-item]
    elif isinstance(node, ast.BinOp) and type(node.op) in SWAPPED:
        yield ast.BinOp(node.left, SWAPPED[type(node.op)](), node.right)  # type: ignore[arg-type]
    elif isinstance(node, ast.BoolOp):
        yield ast.BoolOp(SWAPPED[type(node.op)](), node.values)  # type: ignore[arg-type]
    elif isinstance(node, ast.IfExp):
        yield ast.IfExp(node.test, node.orelse, node.body)
    elif isinstance(node, ast.Constant) and isinstance(node.value, float) and node.value:
        yield ast.Constant(node.value * 1.1)
    elif isinstance(node, ast.Call) and getattr(node.func, "id", "") in ("min", "max"):
        yield ast.Call(ast.Name("max" if node.func.id == "min" else "min"), node.args, node.keywords)  # type: ignore[attr-defined]


def _put(tree: ast.AST, old: ast.AST, new: ast.expr) -> None:
    for node in ast.walk(tree):
        for name, value in ast.iter_fields(node):
            if value is old:
                setattr(node, name, new)
            elif isinstance(value, list):
                setattr(node, name, [new if part is old else part for part in value])


def chosen(rooms: list[str], count: int, seed: int) -> list[tuple[str, Fault]]:
    """So many faults of some rooms, evenly from room to room and from file to file, the same for the same seed."""
    rng, found = random.Random(seed), []
    for k in range(count):
        room = rooms[k % len(rooms)]
        files = sorted((ROOT / HEART / room).rglob("*.py"))
        while True:
            path = rng.choice(files)
            every = list(faults_of(path.relative_to(ROOT), path.read_text(encoding="utf-8")))
            if every:
                found.append((room, rng.choice(every)))
                break
    return found


def seen(fault: Fault, room: str, copy_at: Path) -> bool:
    """True when a test of the room fails under a fault."""
    place = copy_at / fault.path
    before = place.read_text(encoding="utf-8")
    place.write_text(fault.source, encoding="utf-8")
    try:
        for tests in ROOMS[room]:
            ran = subprocess.run(
                [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "-n", "2", tests], cwd=copy_at,
                capture_output=True, timeout=LONGEST, check=False, env={**os.environ, "PYTHONPATH": str(copy_at / "src")},
            )  # fmt: skip
            if ran.returncode not in (0, 5):
                return True
    except subprocess.TimeoutExpired:
        return True
    finally:
        place.write_text(before, encoding="utf-8")
    return False


def main() -> int:
    asked = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    asked.add_argument("--count", type=int, default=200)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--room", choices=sorted(ROOMS), action="append")
    given = asked.parse_args()
    made, killed = Counter[str](), Counter[str]()
    with tempfile.TemporaryDirectory() as folder:
        copy_at = Path(folder) / "checkout"
        shutil.copytree(ROOT, copy_at, ignore=shutil.ignore_patterns(".git", ".venv", "__pycache__", "*.so"))
        for room, fault in chosen(given.room or sorted(ROOMS), given.count, given.seed):
            made[room] += 1
            is_seen = seen(fault, room, copy_at)
            killed[room] += is_seen
            said = (
                f"{'seen' if is_seen else 'NOT SEEN'}  {fault.path}:{fault.line}  {fault.before[:60]}  ->  {fault.after[:60]}"
            )
            print(said, flush=True)
    for room in sorted(made):
        print(f"{room}: {killed[room]} of {made[room]}")
    print(f"in all: {sum(killed.values())} of {sum(made.values())}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
