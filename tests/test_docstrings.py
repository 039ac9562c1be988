"""Names and docstrings, read from the source: one class one name, and every argument explained."""

import ast
import re
from collections import defaultdict
from pathlib import Path

import zealous_crane

SOURCE = Path(zealous_crane.__file__).parent

MANY = 3
"""Parameters from which on each is explained."""


def functions(node, owner=None):
    """(class or None, function) for everything public in a module or class."""
    for child in node.body:
        if isinstance(child, ast.ClassDef) and not child.name.startswith("_"):
            yield from functions(child, child.name)
        elif isinstance(child, ast.FunctionDef) and not child.name.startswith("_"):
            yield owner, child


def parameters(function):
    given = function.args
    every = [*given.posonlyargs, *given.args, *given.kwonlyargs, given.vararg, given.kwarg]
    return [one.arg for one in every if one is not None and one.arg not in ("self", "cls")]


def public_functions():
    """(where, parameters, docstring); commands are left out: their options carry their own help."""
    for path in sorted(SOURCE.rglob("*.py")):
        if path.relative_to(SOURCE).parts[0] == "cli":
            continue
        for owner, function in functions(ast.parse(path.read_text())):
            where = f"{path.relative_to(SOURCE)}:{owner or ''}.{function.name}"
            yield where, parameters(function), ast.get_docstring(function) or ""


def test_every_argument_of_a_public_function_with_three_or_more_is_explained():
    seen, silent = 0, []
    for where, names, said in public_functions():
        # What a base class explains is not explained again.
        if len(names) < MANY or said.startswith("See :") or not said:
            continue
        seen += 1
        if "Args:" not in said:
            silent.append(where)
    assert seen > 200 and silent == []


def test_what_is_explained_is_an_argument():
    wrong = []
    for where, names, said in public_functions():
        section = re.search(r"^Args:\n((?:    .*\n?|\n)*)", said, re.MULTILINE)
        if section is None:
            continue
        for named in re.findall(r"^    (\*{0,2}\w[\w, ]*):", section[1], re.MULTILINE):
            wrong += [
                (where, one)
                for one in re.split(r", | and ", named.replace("*", ""))
                if one not in names
            ]
    assert wrong == []


def test_no_class_name_stands_for_two_things():
    owners = defaultdict(set)
    for path in SOURCE.rglob("*.py"):
        for node in ast.parse(path.read_text()).body:
            if isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
                owners[node.name].add(path.relative_to(SOURCE).as_posix())
    assert len(owners) > 400
    assert {name: files for name, files in owners.items() if len(files) > 1} == {}


def test_what_a_docstring_refers_to_is_there():
    defined = set()
    for path in SOURCE.rglob("*.py"):
        defined |= {path.stem, path.parent.name}
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.ClassDef | ast.FunctionDef):
                defined.add(node.name)
            elif isinstance(node, ast.Name):
                defined.add(node.id)
            elif isinstance(node, ast.Attribute):
                defined.add(node.attr)
    refer = re.compile(r":(?:class|meth|attr|func|data|mod|exc):`~?([\w.]+)`")
    referred = [
        (path.name, part)
        for path in SOURCE.rglob("*.py")
        for found in refer.findall(path.read_text())
        for part in found.split(".")
        if part
    ]
    assert len(referred) > 200
    assert [one for one in referred if one[1] not in defined] == []
