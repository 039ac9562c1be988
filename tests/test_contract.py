"""The packages and what each may import, read from the source itself."""

from __future__ import annotations

import ast
import re
from functools import cache
from pathlib import Path

import zealous_crane

SOURCE = Path(zealous_crane.__file__).parent
ROOT = SOURCE.parent.parent

FLOORS = (
    {"_typing", "errors", "i18n", "cache"},
    {"units"},
    {"schema"},
    {"metal"},
    {"part"},
    {"job"},
    {"brake"},
    {"flat"},
    {"kernel"},
    {"bending"},
    {"planning", "cutting"},
    {"work", "shop"},
    {"inspection", "workers", "demo", "devices"},
    {"practice", "io"},
    {"api"},
    {"paint"},
    {"paper"},
    {"ui"},
    {"cli"},
)
"""Packages, ground floor first; the table in docs/architecture.md says the same. One imports only
from the floors below its own."""

SAME_FLOOR = {("errors", "i18n")}
"""(package, one of its own floor that it may import)."""

QT = {"paint", "paper", "ui"}
"""Packages that know the window library."""

FLOOR = {package: number for number, packages in enumerate(FLOORS) for package in packages}


@cache
def imports() -> list[tuple[str, str, str, bool]]:
    """(file, its room, imported module, whether at the top of the file) for every import below the
    package."""
    found = []
    for path in sorted(SOURCE.rglob("*.py")):
        relative = path.relative_to(SOURCE)
        room = relative.parts[0].removesuffix(".py")
        package = ["zealous_crane", *relative.with_suffix("").parts[:-1]]
        tree = ast.parse(path.read_text())
        top = set(map(id, tree.body))
        for node in ast.walk(tree):
            names = []
            if isinstance(node, ast.Import):
                names = [alias.name for alias in node.names]
            elif isinstance(node, ast.ImportFrom):
                base = package[: len(package) - node.level + 1] if node.level else []
                stem = ".".join([*base, *([node.module] if node.module else [])])
                names = (
                    [stem]
                    if stem.count(".") > 0 or not node.level
                    else [f"{stem}.{alias.name}" for alias in node.names]
                )
            found += [(str(relative), room, name, id(node) in top) for name in names]
    return found


def package_imports():
    """(file, its package, imported package) of every import of ours."""
    for file, package, name, _ in imports():
        parts = name.split(".")
        ours = parts[0] == "zealous_crane" and len(parts) > 1 and package != "__init__"
        if ours and parts[1] not in (package, "__version__"):
            yield file, package, parts[1]


def test_each_package_imports_only_from_the_floors_below():
    arrows = list(package_imports())
    assert len(arrows) > 500
    wrong = [
        (file, to)
        for file, package, to in arrows
        if FLOOR[to] >= FLOOR[package] and (package, to) not in SAME_FLOOR
    ]
    assert not wrong


def test_no_module_imports_itself_through_others():
    """The imports at the top of the files form no circle."""
    modules = {
        ".".join(("zealous_crane", *path.relative_to(SOURCE).with_suffix("").parts))
        for path in SOURCE.rglob("*.py")
    }
    below = {}
    for file, _, name, top in imports():
        if top and name in modules:
            below.setdefault(
                "zealous_crane." + file.removesuffix(".py").replace("/", "."), set()
            ).add(name)
    done, path = set(), []

    def visit(module):
        assert module not in path, [*path, module]
        if module in done:
            return
        path.append(module)
        for other in below.get(module, ()):
            visit(other)
        done.add(path.pop())

    for module in sorted(below):
        visit(module)
    assert len(done) > 200


KINDS = ("leaf", "press", "hand")
"""Packages of ``bending`` that are a machine each."""


def test_machines_do_not_know_each_other_and_only_their_registry_knows_them():
    seen = set()
    for file, package, name, _ in imports():
        parts = name.split(".")
        if (
            package != "bending"
            or parts[:2] != ["zealous_crane", "bending"]
            or parts[2] not in KINDS
        ):
            continue
        own = file.split("/")[1]
        if own != parts[2]:
            seen.add(own)
    assert seen == {"machines.py"}


def test_remedies_stand_on_the_planner_and_nothing_of_planning_on_them():
    wrong = [
        (file, name)
        for file, package, name, _ in imports()
        if package == "planning" and "remedies" not in file and ".planning.remedies" in name
    ]
    assert not wrong


def test_nobody_asks_what_kind_a_machine_is():
    own = {"brake", *(f"bending/{kind}" for kind in KINDS)}
    kinds = "|".join(KINDS)
    asks = re.compile(
        rf"\b(Leaf|Press|Hand)(Brake|Folder|Stroke|Tooling)\b|\bkind\b[^\n]*[\"'](?:{kinds})[\"']"
    )
    wrong = []
    for path in sorted(SOURCE.rglob("*.py")):
        where = path.relative_to(SOURCE).as_posix()
        if any(where.startswith(room + "/") for room in own) or where in (
            "__init__.py",
            "bending/machines.py",
        ):
            continue
        wrong += [(where, found[0]) for found in asks.finditer(path.read_text())]
    assert not wrong
    assert asks.search('if plan.brake.kind == "leaf"') and asks.search(
        "isinstance(brake, PressBrake)"
    )


def test_there_is_one_way_from_a_job_to_its_flat():
    """Who wants a flat asks ``flat_for``, which takes the brake and its tools into account."""
    own = re.compile(r"\b(develop|check_developable)\b(?!\w)(?=[,(\s)])")
    wrong = []
    for path in sorted(SOURCE.rglob("*.py")):
        where = path.relative_to(SOURCE).as_posix()
        if (
            where.startswith("flat/") or where == "__init__.py"
        ):  # its ``develop`` is the door's, which asks ``flat_for``
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ImportFrom):
                wrong += [
                    (where, alias.name) for alias in node.names if own.match(alias.name + ",")
                ]
            by_door = isinstance(node, ast.Attribute) and ast.unparse(node) == "api.develop"
            if isinstance(node, ast.Attribute) and own.match(node.attr + ",") and not by_door:
                wrong.append((where, node.attr))
    assert not wrong


def test_the_command_line_stands_on_the_door_for_other_programs():
    """What the door answers (flat, plan, cutting) no command asks the packages behind it for."""
    behind = {"flat_for", "make_plan", "worked_out", "advise"}
    nodes = [
        (path.name, node)
        for path in (SOURCE / "cli").glob("*.py")
        for node in ast.walk(ast.parse(path.read_text()))
    ]
    wrong = [
        (file, alias.name)
        for file, node in nodes
        if isinstance(node, ast.ImportFrom)
        for alias in node.names
        if alias.name in behind
    ]
    wrong += [
        (file, "Inspection")
        for file, node in nodes
        if isinstance(node, ast.Call) and ast.unparse(node.func) == "Inspection"
    ]
    assert not wrong


def test_only_the_kernels_door_knows_who_answers():
    inside = re.compile(r"kernel\.(native|plain)|from \.(native|plain)")
    wrong = [
        path.relative_to(SOURCE).as_posix()
        for path in SOURCE.rglob("*.py")
        if inside.search(path.read_text()) and path != SOURCE / "kernel" / "back_end.py"
    ]
    assert wrong == ["paint/depth.py"], "painting's own"


LIBRARIES = {
    "io/atomic.py": "the operating system refuses a name with a nought in it by a ValueError",
    "io/dxf_entities.py": "the reader of drawings fails in many ways on a damaged file",
    "ui/dialogs/printing.py": "a number of a paper this machine does not have",
    "schema/reading.py": "the reader of JSON",
    "shop/book/address.py": "the library's reader of addresses, given a port that is no number",
    "devices/serial_line.py": "a speed the port does not have",
}


def refusals():
    """(file, line, what is caught, the statements tried) for every handler that names
    ``ValueError``."""
    for path in sorted(SOURCE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Try):
                for handler in node.handlers:
                    if handler.type is not None and "ValueError" in ast.unparse(handler.type):
                        yield str(path.relative_to(SOURCE)), handler.lineno, node.body


def test_only_what_a_person_can_mend_is_shown_as_their_mistake():
    """A fault of the program goes to the log: nobody catches ``ValueError`` but around one
    conversion, and nobody raises one."""
    wide = []
    for file, line, body in refusals():
        if file in LIBRARIES:
            continue
        calls = {
            node.func.attr
            if isinstance(node.func, ast.Attribute)
            else getattr(node.func, "id", "?")
            for statement in body
            for node in ast.walk(statement)
            if isinstance(node, ast.Call)
        }
        if len(body) > 1 or not calls & {"float", "int", "loads", "fromisoformat"}:
            wide.append((file, line, sorted(calls)))
    assert wide == []
    raised = [
        path.name
        for path in SOURCE.rglob("*.py")
        if path.name != "errors.py"
        and re.search(r"raise ValueError\b|\(ValueError\):", path.read_text(encoding="utf-8"))
    ]
    assert raised == []


def test_no_import_is_hidden_behind_type_checking_in_the_heart():
    heart = ("kernel", "bending", "planning")
    assert not [
        path.name
        for room in heart
        for path in (SOURCE / room).rglob("*.py")
        if "TYPE_CHECKING" in path.read_text()
    ]


def test_nothing_below_paint_knows_qt():
    assert not [
        (file, name)
        for file, package, name, _ in imports()
        if name.split(".")[0] == "PySide6" and package not in QT
    ]


def test_the_command_line_opens_the_window_only_when_asked():
    above = tuple(f"zealous_crane.{package}" for package in QT)
    assert not [
        name
        for file, package, name, top in imports()
        if package == "cli" and name.startswith(above) and top
    ]


def test_every_package_is_in_the_table_of_the_architecture():
    packages = {
        path.name.removesuffix(".py")
        for path in SOURCE.iterdir()
        if (not path.name.startswith("__")) and (path.is_dir() or path.suffix == ".py")
    }
    assert packages == set(FLOOR)
    text = (ROOT / "docs" / "architecture.md").read_text()
    for package in packages:
        assert f"`{package}`" in text or f"`{package}.py`" in text, package


def test_every_name_in_the_glossary_is_in_the_code():
    code = "\n".join(path.read_text() for path in SOURCE.rglob("*.py"))
    said = 0
    for line in (ROOT / "docs" / "glossary.md").read_text().splitlines():
        if not line.startswith("| ") or line.startswith("| word"):
            continue
        for name in re.findall(r"`([^`]+)`", line.rsplit("|", 2)[1]):
            said += 1
            if "/" in name or name.endswith(".py"):
                assert (SOURCE / name).exists() or (SOURCE / name.split(".")[0]).with_suffix(
                    ".py"
                ).exists(), name
            else:
                assert re.search(rf"\b{re.escape(name.split('.')[-1])}\b", code), name
    assert said > 50
