"""Everything the program says can be translated."""

from __future__ import annotations

import ast
import enum
import functools
import json
import os
import re
import subprocess
import sys
import typing
from pathlib import Path

import zealous_crane
from zealous_crane.i18n import LabelledEnum
from zealous_crane.ui.manual import PAGES, page_text

HERE = Path(__file__).parent
sys.path.insert(0, str(HERE.parent / "tools"))
SOURCE = Path(zealous_crane.__file__).parent

JOINED = {"and", "beside", "the"}
"""What joins the names of folds that are made together, and of cuts: such a name is data, as the
folds' own are."""

DEMOS = ("hive-scale", "syrup-tray", "frame-rail", "deep-feeder", "wax-melter-chimney", "hive-roof")
"""Every kind of machine and of verdict; one process for all, which learns the words once."""


@functools.cache
def template() -> str:
    """The template of a translation."""
    import words  # type: ignore[import-not-found]

    return words.template()


def test_every_text_of_the_program_can_be_translated():
    """In the pseudo-language nothing is left untranslated; and a translator finds in the template
    whatever was asked for: choices, names of fields and what an empty field says are worked out
    from data there."""
    setting = {
        **os.environ,
        "ZEALOUS_CRANE_LANGUAGE": "pseudo",
        "QT_QPA_PLATFORM": "offscreen",
        "PYTHONPATH": os.pathsep.join(sys.path),
    }
    ran = subprocess.run(
        [sys.executable, str(HERE / "pseudo.py"), *DEMOS],
        capture_output=True,
        text=True,
        env=setting,
        check=True,
    )
    said = json.loads(ran.stdout)
    left = [
        line
        for line in said["left"]
        if set(re.findall(r"[A-Za-z]+", line.split(" — ")[0])) - JOINED
    ]
    assert not left, "\n".join(left)
    known = {
        json.loads(text) for text in re.findall(r'^msgid(?:_plural)? (".*")$', template(), re.M)
    }
    assert len(said["asked"]) > 1400
    missing = sorted(set(said["asked"]) - known)
    assert not missing


def test_the_command_line_is_read_in_ones_own_language():
    said = subprocess.run(
        [sys.executable, "-m", "zealous_crane.cli", "plan", "--help"],
        capture_output=True,
        text=True,
        check=True,
        env={**os.environ, "ZEALOUS_CRANE_LANGUAGE": "pseudo", "COLUMNS": "200"},
    ).stdout
    assert (
        "⟦Plan the bends: order, clamping, fingers, reach and clearance of every stroke.⟧" in said
    )
    assert "⟦Which part of a work of several.⟧" in said


@functools.cache
def every_call():
    """(Name of the file, node) of everything that is called anywhere in the program."""
    return [
        (path.name, node)
        for path in SOURCE.rglob("*.py")
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.Call)
    ]


def calls():
    for name, node in every_call():
        if isinstance(node.func, ast.Name) and node.func.id in ("tr", "counted"):
            yield name, node


def test_sentences_are_whole_and_their_values_are_put_in_afterwards():
    """A translator gets the sentence as it stands in the source: nothing is joined, formatted or
    chosen within it."""
    found = list(calls())
    assert len(found) > 800
    assert not [
        (name, node.lineno)
        for name, node in found
        if isinstance(node.args[0], ast.JoinedStr | ast.BinOp)
    ]


def test_the_names_in_a_sentence_are_those_that_are_put_in():
    for name, node in every_call():
        if not isinstance(node.func, ast.Attribute) or node.func.attr != "format":
            continue
        said = node.func.value
        if (
            not isinstance(said, ast.Call)
            or not isinstance(said.func, ast.Name)
            or said.func.id != "tr"
        ):
            continue
        if not isinstance(said.args[0], ast.Constant):
            continue
        text = said.args[0].value.replace("{{", "").replace("}}", "")
        wanted = set(re.findall(r"{(\w+)", text))
        assert wanted == {keyword.arg for keyword in node.keywords}, (name, node.lineno, text)


def kinds_in(annotation: object) -> set[type]:
    """Every class that stands anywhere in a type."""
    own = {annotation} if isinstance(annotation, type) else set()
    return own.union(*map(kinds_in, typing.get_args(annotation)))


def test_every_choice_of_a_form_has_words():
    from words import bring_in, models  # type: ignore[import-not-found]

    bring_in()
    found = {
        kind
        for model in models()
        for info in model.model_fields.values()
        for kind in kinds_in(info.annotation)
    }
    enums = {kind for kind in found if issubclass(kind, enum.Enum)}
    assert len(enums) > 15
    assert not {kind for kind in enums if not issubclass(kind, LabelledEnum)}


NO_CHOICE = {"what", "value", "end", "units", "ruler", "sizes_class"}
"""Fields that are a choice in one model and a sentence or a figure in another, or are written with
figures."""


def test_no_choice_stands_in_a_sentence_as_it_stands_in_a_file():
    from words import bring_in, chosen, models  # type: ignore[import-not-found]

    bring_in()
    choices = {
        name
        for model in models()
        for name, info in model.model_fields.items()
        if chosen(info.annotation)
    }
    assert {"film", "measured", "shape", "rule", "form", "by"} <= choices
    found = [
        (name, node.lineno, keyword.arg)
        for name, node in every_call()
        if isinstance(node.func, ast.Attribute) and node.func.attr == "format"
        for keyword in node.keywords
        if isinstance(keyword.value, ast.Attribute)
        and keyword.value.attr in (choices | {"edge"}) - NO_CHOICE
    ]
    # A file's edge that its panel has not is said back as it was written.
    assert [(name, arg) for name, _, arg in found] == [("design.py", "edge")]


def test_the_template_holds_every_sentence():
    text = template()
    for wanted in (
        "Can be made: ",
        "Shear to size; both diagonals must measure the same.",
        "&Save",
        "Inside radius",
    ):
        assert wanted in text, wanted
    assert 'msgid_plural "{count} finger set-ups"' in text
    assert text.count("msgid ") > 1200


def test_nothing_is_said_at_import_and_no_answer_keeps_words():
    """What a plan, a cutting or an inspection keeps is put into words where it is shown."""
    ran = subprocess.run(
        [sys.executable, str(HERE / "kept_words.py"), *DEMOS],
        capture_output=True,
        text=True,
        env={**os.environ, "ZEALOUS_CRANE_LANGUAGE": "pseudo", "QT_QPA_PLATFORM": "offscreen"},
        check=True,
    )
    told = json.loads(ran.stdout)
    assert told == {"import": [], "kept": {}}


def test_every_label_the_manual_names_is_on_the_screen():
    """What stands in *italics* in the manual is the text of something: a menu, a button, a heading,
    a field, each step of a path by itself."""
    labels = {
        plain_label(json.loads(text))
        for text in re.findall(r'^msgid(?:_plural)? (".*")$', template(), re.M)
    }
    named = [
        (name, step)
        for name in PAGES
        for label in re.findall(r"(?<!\*)\*([^*\n]+)\*(?!\*)", page_text(name))
        for step in label.split("→")
    ]
    assert len(named) > 15
    assert not [(name, step) for name, step in named if plain_label(step) not in labels]
    assert plain_label("Hand over") not in labels


def plain_label(text):
    """A label without its signs, its dots and its tags, in small letters."""
    return re.sub(r"<.*?>|[&…▸◂■●▲✓]", "", text).strip().lower()
