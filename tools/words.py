"""The template of a translation: every sentence of the source, with the places it stands in, as a
catalogue to be filled."""

from __future__ import annotations

import ast
import importlib
import json
import pkgutil
import sys
from pathlib import Path
from typing import Any, Literal, get_args, get_origin

import typer

import zealous_crane
from zealous_crane.cli.commands import app, helps
from zealous_crane.i18n import LabelledEnum, word
from zealous_crane.schema.model import InputModel
from zealous_crane.ui.widgets.form import attribute_docs, title

ROOT = Path(__file__).resolve().parent.parent
SOURCE = ROOT / "src" / "zealous_crane"


KEYWORDS = {"tr": 1, "msg": 1, "counted": 2, "counted_msg": 2}
"""Functions whose first arguments are sentences, and how many of them are."""


def bring_in() -> None:
    """Import every file of the program: a choice or a model is known once it is."""
    for found in pkgutil.walk_packages(zealous_crane.__path__, "zealous_crane."):
        if "migrations" not in found.name and not found.name.endswith("__main__"):
            importlib.import_module(found.name)


def literal(node: ast.expr) -> str | None:
    """The text of a call's argument; None where it is worked out."""
    return node.value if isinstance(node, ast.Constant) and isinstance(node.value, str) else None


def sentences() -> dict[tuple[str, ...], list[str]]:
    """Every sentence of the source, one form or two, and where it stands."""
    found: dict[tuple[str, ...], list[str]] = {}
    for path in sorted(SOURCE.rglob("*.py")):
        where = path.relative_to(ROOT).as_posix()
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if (
                not isinstance(node, ast.Call)
                or not isinstance(node.func, ast.Name)
                or node.func.id not in KEYWORDS
            ):
                continue
            texts = [literal(argument) for argument in node.args[: KEYWORDS[node.func.id]]]
            if all(texts):
                found.setdefault(tuple(map(str, texts)), []).append(f"{where}:{node.lineno}")
    return found


def models(kind: type[InputModel] = InputModel) -> list[type[InputModel]]:
    """Every model that may have a form."""
    below = [m for sub in kind.__subclasses__() for m in (sub, *models(sub))]
    return list(dict.fromkeys(below))


def literals(annotation: Any) -> list[str]:
    """Words of data that may be chosen anywhere in a type; one word alone is no choice."""
    if get_origin(annotation) is Literal:
        return (
            [value for value in get_args(annotation) if isinstance(value, str)]
            if len(get_args(annotation)) > 1
            else []
        )
    return [text for inner in get_args(annotation) for text in literals(inner)]


def chosen(annotation: Any) -> bool:
    """True of a type in which one of several words of data may stand."""
    if isinstance(annotation, type) and issubclass(annotation, LabelledEnum):
        return True
    return bool(literals(annotation)) or any(chosen(inner) for inner in get_args(annotation))


def choices(kind: type[LabelledEnum] = LabelledEnum) -> dict[str, list[str]]:
    """Words of every choice that has none of its own."""
    found: dict[str, list[str]] = {}
    for sub in kind.__subclasses__():
        where = f"{sub.__module__}.{sub.__name__}"
        for member in () if "words" in vars(sub) else sub:
            found.setdefault(word(member.value), []).append(where)
    return found


def form_words() -> dict[str, list[str]]:
    """Names and help of every field of a form, what may be chosen and what an empty one says, from
    the models themselves."""
    found: dict[str, list[str]] = {}
    for model in models():
        where = f"{model.__module__}.{model.__name__}"
        for name, info in model.model_fields.items():
            found.setdefault(title(name, info), []).append(where)
            for text in literals(info.annotation):
                found.setdefault(word(text), []).append(where)
            if isinstance(info.json_schema_extra, dict) and "empty" in info.json_schema_extra:
                found.setdefault(str(info.json_schema_extra["empty"]), []).append(where)
        for text in attribute_docs(model).values():
            found.setdefault(text, []).append(where)
        for text in (getattr(model, "label", ""), getattr(model, "about", "")):
            if isinstance(text, str) and text:
                found.setdefault(text, []).append(where)
    return found


def template() -> str:
    """The template, in the format of gettext."""
    bring_in()
    all_ = sentences()
    for owner, name in helps(typer.main.get_command(app)):
        all_.setdefault((getattr(owner, name),), []).append("command line")
    for text, places in (*form_words().items(), *choices().items()):
        all_.setdefault((text,), []).extend(places)
    lines = ['msgid ""', 'msgstr "Content-Type: text/plain; charset=UTF-8\\n"', ""]
    for texts in sorted(all_):
        shown = [json.dumps(text, ensure_ascii=False) for text in texts]
        lines += [f"#: {' '.join(sorted(set(all_[texts]))[:6])}", f"msgid {shown[0]}"]
        lines += (
            ['msgstr ""', ""]
            if len(shown) == 1
            else [f"msgid_plural {shown[1]}", 'msgstr[0] ""', 'msgstr[1] ""', ""]
        )
    return "\n".join(lines)


if __name__ == "__main__":
    sys.stdout.write(template())
