"""What a form says: how the fields of a model are called, what is told of each, what an empty one stands for."""

from __future__ import annotations

import inspect
import re
from functools import lru_cache

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from ..measure import Units, show_length
from ..measure.field import is_length, unwrapped
from ..measure.input_error import INPUT_ERRORS
from ..measure.worded import Worded
from ..measure.words import tr


@lru_cache(maxsize=256)
def attribute_docs(kind: type[BaseModel]) -> dict[str, str]:
    """What the docstrings of a model, and of those it is made from, say of each of its fields."""
    found: dict[str, str] = {}
    for model in reversed(kind.__mro__):
        if issubclass(model, BaseModel) and model.__doc__:
            found.update(_attributes(model.__doc__))
    hints = {name: hint(text) for name, text in found.items() if name in kind.model_fields}
    return {name: tr(said) for name, said in hints.items() if said}


def hint(text: str) -> str:
    """What a docstring says of a field, for whoever fills it in: a field is empty where a program says None, and its unit is the job's, or
    what is typed behind the figure. Where figures stand in it their unit stays."""
    said = re.sub(r"\bNone\b", "empty", text.replace("``", ""))
    unit = r"(?<!\d )\bmm\b(?! \(common| or )"
    said = re.sub(rf"[,;]? ?\(?{unit}\)?(?=[.,;:)]|$)", "", said)
    said = re.sub(rf"{unit} ", "", said)
    return said.lstrip(" ,;") if re.search("[a-z]", said) else ""


def _attributes(doc: str) -> dict[str, str]:
    """The attributes a docstring tells of."""
    found: dict[str, str] = {}
    names: list[str] = []
    for line in inspect.cleandoc(doc).partition("Attributes:")[2].splitlines():
        begins = re.match(r"^    (\w[\w, ]*?): (.*)$", line)
        if begins:
            names = [name.strip() for name in begins[1].split(",")]
            for name in names:
                found[name] = begins[2]
        elif line.startswith("     "):
            for name in names:
                found[name] += " " + line.strip()
    return found


def title(name: str, info: FieldInfo) -> str:
    """How a field is called on the form."""
    return tr(info.title or name.replace("_", " ").capitalize())


def blank_word(info: FieldInfo, otherwise: str = "") -> str:
    """What an empty field says: by what its model names, else what is given, else that the rule decides."""
    extra = info.json_schema_extra
    said = extra.get("empty") if isinstance(extra, dict) else None
    return tr(str(said)) if said else otherwise or tr("by the rule")


def split_list(text: str) -> list[str]:
    """The figures of a list: parted by semicolons, else by commas with a space after them, else by commas. Any other comma is a decimal
    sign.

    >>> split_list("2,5; 3"), split_list("2,5, 3"), split_list("90,60,45")
    (['2,5', '3'], ['2,5', '3'], ['90', '60', '45'])
    """
    parts = text.split(";") if ";" in text else re.split(r",\s+", text) if re.search(r",\s", text) else text.split(",")
    return [part.strip() for part in parts if part.strip()]


def as_usual(model: BaseModel | None) -> bool:
    """True where nothing of a model was chosen otherwise than it begins."""
    try:
        return model is not None and model == type(model)()
    except INPUT_ERRORS:
        return False


def in_short(model: BaseModel, units: Units) -> str:
    """What a group says while it is folded away: its choices and lengths, and that the rest is by the rule."""
    said: list[str] = []
    by_rule = False
    for name, info in type(model).model_fields.items():
        value = getattr(model, name)
        kind, metadata, _ = unwrapped(info.annotation, list(info.metadata))
        if value is None:
            by_rule = True
        elif isinstance(value, Worded):
            said.append(value.words)
        elif kind is float and is_length(metadata) and value:
            said.append(show_length(value, units, pretty=True))
    return ", ".join([*said, *([tr("by the rule")] if by_rule or not said else [])])
