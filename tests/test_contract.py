"""The rooms and what each may import, read from the source itself."""

from __future__ import annotations

import ast
import re
from functools import cache
from pathlib import Path

import zealous_crane

SOURCE = Path(zealous_crane.__file__).parent
ROOT = SOURCE.parent.parent

BELOW = {
    "measure": set(),
    "metal": {"measure"},
    "allowance": {"measure", "metal"},
    "part": {"measure", "metal"},
    "small_tools": {"measure", "metal"},
    "tool_wishes": {"measure"},
    "job": {"measure", "metal", "allowance", "part", "small_tools", "tool_wishes"},
    "fitting": {"measure", "metal", "part", "job"},
    "joint": {"measure", "part", "job", "blank"},
    "fit": {"measure", "part"},
    "work": {"measure", "part", "job", "fit", "joint", "blank", "fitting", "cut"},
    "blank": {"measure", "metal", "allowance", "part", "job", "small_tools", "brake"},
    "brake": {"measure", "metal", "allowance", "part", "tool_wishes"},
    "plan": {"measure", "metal", "allowance", "part", "job", "blank", "brake", "tool_wishes"},
    "shop": {"measure", "metal", "allowance", "part", "job", "blank", "brake", "plan", "cut", "small_tools"},
    "files": {
        "measure",
        "cut",
        "metal",
        "allowance",
        "part",
        "job",
        "blank",
        "brake",
        "plan",
        "shop",
        "work",
        "fit",
        "fitting",
    },
    "check": {"measure", "metal", "allowance", "part", "job", "blank", "brake", "plan", "fit", "work"},
    "practice": {"measure", "allowance", "part", "job", "blank", "brake", "plan", "check"},
    "devices": {"measure"},
    "demo": {"job", "work"},
    "cut": {"measure", "metal", "part", "job", "blank", "brake"},
}
BELOW["desk"] = set(BELOW)
BELOW["cli"] = set(BELOW)
"""Room to rooms it may import; the table in docs/architecture.md says the same."""


@cache
def imports() -> list[tuple[str, str, str, bool]]:
    """(file, its room, imported module, whether at the top of the file) for every import below the package."""
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
                names = [stem] if stem.count(".") > 0 or not node.level else [f"{stem}.{alias.name}" for alias in node.names]
            found += [(str(relative), room, name, id(node) in top) for name in names]
    return found


def test_each_room_imports_only_what_lies_below_it():
    wrong = []
    for file, room, name, _ in imports():
        parts = name.split(".")
        ours = parts[0] == "zealous_crane" and len(parts) > 1 and room != "__init__" and parts[1] not in (room, "__version__")
        if ours and parts[1] not in BELOW[room]:
            wrong.append((file, name))
    assert not wrong


PLAN = {
    "memory": set(),
    "geometry": {"memory"},
    "stroke/leaf": {"geometry", "stroke", "memory"},
    "stroke/press": {"geometry", "stroke", "memory"},
    "stroke/hand": {"geometry", "stroke", "memory"},
    "stroke": {"geometry", "stroke/leaf", "stroke/press", "stroke/hand", "memory"},
    "order": {"geometry", "stroke", "memory"},
    "result": {"geometry", "stroke", "order"},
    "today": set(),
    "make": {"stroke", "order", "result", "today"},
    "advice": {"stroke", "order", "result", "make", "memory"},
    "asked": set(),
    "run": {"asked", "order", "result", "make", "advice", "memory"},
    "server": {"asked", "run", "memory"},
}
"""Which rooms of plan/ a room may import. The machines stand on the stroke's own floor; only its registry
looks back at them."""

KINDS = ("leaf", "press", "hand")
"""The machines' own rooms."""

DOORS = {"machines"}
"""Files of ``stroke`` that know the machines."""


def plan_arrows():
    """(file, room, room it imports) of every import inside plan/."""
    root = SOURCE / "plan"
    for path in sorted(root.rglob("*.py")):
        here = path.relative_to(root).with_suffix("").parts
        if here == ("__init__",):
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.ImportFrom) or not node.level:
                continue
            package = ("plan", *here[:-1])
            target = (*package[: len(package) - node.level + 1], *(node.module or "").split("."))
            if target[0] == "plan" and len(target) > 1:
                yield "/".join(here), room_of(here), room_of(target[1:])


def room_of(parts):
    """``stroke/leaf`` of ``stroke, leaf, swing``; the first name of all others."""
    if parts[0] == "geometry":
        return "geometry"  # the compiled questions stand within it
    own = parts[0] == "stroke" and parts[1:2] in [(kind,) for kind in KINDS]
    return "/".join(parts[:2]) if own or len(parts) > 2 else parts[0]


def test_the_rooms_of_the_plan_stand_on_each_other():
    arrows = list(plan_arrows())
    assert {room for _, room, _ in arrows} == set(PLAN) - {"memory", "asked", "today"} and len(arrows) > 100
    assert not [(file, to) for file, room, to in arrows if to != room and to not in PLAN[room]]
    assert {file.split("/")[-1] for file, room, to in arrows if room == "stroke" and to.startswith("stroke/")} == DOORS


def test_nobody_asks_what_kind_a_machine_is():
    own = {"brake", *(f"plan/stroke/{kind}" for kind in KINDS)}
    kinds = "|".join(KINDS)
    asks = re.compile(rf"\b(Leaf|Press|Hand)(Brake|Folder|Stroke|Tooling)\b|\bkind\b[^\n]*[\"'](?:{kinds})[\"']")
    wrong = []
    for path in sorted(SOURCE.rglob("*.py")):
        where = path.relative_to(SOURCE).as_posix()
        if any(where.startswith(room + "/") for room in own) or where in ("__init__.py", "plan/stroke/machines.py"):
            continue
        wrong += [(where, found[0]) for found in asks.finditer(path.read_text())]
    assert not wrong
    assert asks.search('if plan.brake.kind == "leaf"') and asks.search("isinstance(brake, PressBrake)")


def test_there_is_one_way_from_a_job_to_its_flat():
    """Who wants a flat asks ``flat_for``, which takes the brake and its tools into account."""
    own = re.compile(r"\b(develop|check_developable)\b(?!\w)(?=[,(\s)])")
    wrong = []
    for path in sorted(SOURCE.rglob("*.py")):
        where = path.relative_to(SOURCE).as_posix()
        if where.startswith("blank/"):
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ImportFrom):
                wrong += [(where, alias.name) for alias in node.names if own.match(alias.name + ",")]
            if isinstance(node, ast.Attribute) and own.match(node.attr + ","):
                wrong.append((where, node.attr))
    assert not wrong


LIBRARIES = {
    "files/atomic.py": "the operating system refuses a name with a nought in it by a ValueError",
    "files/drawing_entities.py": "the reader of drawings fails in many ways on a damaged file",
    "desk/printing.py": "a number of a paper this machine does not have",
    "measure/plain_json.py": "the reader of JSON",
    "shop/book/address.py": "the library's reader of addresses, given a port that is no number",
    "devices/port.py": "a speed the port does not have",
}


def refusals():
    """(file, line, what is caught, the statements tried) for every handler that names ``ValueError``."""
    for path in sorted(SOURCE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Try):
                for handler in node.handlers:
                    if handler.type is not None and "ValueError" in ast.unparse(handler.type):
                        yield str(path.relative_to(SOURCE)), handler.lineno, node.body


def test_only_what_a_person_can_mend_is_shown_as_their_mistake():
    """A fault of the program goes to the log: nobody catches ``ValueError`` but around one conversion, and nobody raises one."""
    wide = []
    for file, line, body in refusals():
        if file in LIBRARIES:
            continue
        calls = {
            node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "?")
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
        if path.name != "input_error.py" and re.search(r"raise ValueError\b|\(ValueError\):", path.read_text(encoding="utf-8"))
    ]
    assert raised == []


def test_no_import_is_hidden_behind_type_checking_in_the_plan():
    assert not [path.name for path in (SOURCE / "plan").rglob("*.py") if "TYPE_CHECKING" in path.read_text()]


def test_nothing_below_the_desk_knows_qt():
    assert not [(file, name) for file, room, name, _ in imports() if name.split(".")[0] == "PySide6" and room != "desk"]


def test_the_command_line_opens_the_desk_only_when_asked():
    assert not [name for file, room, name, top in imports() if room == "cli" and ".desk" in name and top]


def test_every_room_is_in_the_table_of_the_architecture():
    rooms = {
        path.name.removesuffix(".py")
        for path in SOURCE.iterdir()
        if not path.name.startswith("_") and path.suffix in ("", ".py")
    }
    assert rooms == set(BELOW)
    text = (ROOT / "docs" / "architecture.md").read_text()
    for room in rooms:
        assert f"`{room}`" in text or f"`{room}.py`" in text, room


def test_every_name_in_the_glossary_is_in_the_code():
    code = "\n".join(path.read_text() for path in SOURCE.rglob("*.py"))
    said = 0
    for line in (ROOT / "docs" / "glossary.md").read_text().splitlines():
        if not line.startswith("| ") or line.startswith("| word"):
            continue
        for name in re.findall(r"`([^`]+)`", line.rsplit("|", 2)[1]):
            said += 1
            if "/" in name or name.endswith(".py"):
                assert (SOURCE / name).exists() or (SOURCE / name.split(".")[0]).with_suffix(".py").exists(), name
            else:
                assert re.search(rf"\b{re.escape(name.split('.')[-1])}\b", code), name
    assert said > 50
