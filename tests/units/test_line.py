"""Text in what people write."""

from __future__ import annotations

import typing
from collections.abc import Iterator

import pytest
from pydantic import TypeAdapter, ValidationError

from zealous_crane.job.job import Job
from zealous_crane.schema.model import Checked, InputModel, TextLine
from zealous_crane.shop.book.record import KINDS, StockRecord
from zealous_crane.shop.settings import ShopSettings
from zealous_crane.work.work import Work

BOX = {
    "format": "zealous-crane-job",
    "part": {"kind": "open-box", "length": 100, "width": 60, "depth": 20},
}


def models(kind: type[InputModel] = InputModel) -> Iterator[type[InputModel]]:
    for found in kind.__subclasses__():
        yield found
        yield from models(found)


def unmarked(annotation: object, marks: tuple[object, ...]) -> bool:
    """True when a text stands anywhere in a type without saying what may be in it."""
    if annotation is str:
        return not any(
            isinstance(mark, Checked) or getattr(mark, "pattern", None) for mark in marks
        )
    if typing.get_origin(annotation) is typing.Literal:
        return False
    if typing.get_origin(annotation) is typing.Annotated:
        plain, *more = typing.get_args(annotation)
        flat = [m for mark in more for m in (getattr(mark, "metadata", None) or (mark,))]
        return unmarked(plain, (*marks, *flat))
    return any(unmarked(inner, marks) for inner in typing.get_args(annotation))


def test_every_text_of_a_model_says_what_may_be_in_it() -> None:
    assert {Work, Job, ShopSettings, *KINDS.values()} <= set(models())
    missing = [
        f"{model.__name__}.{name}"
        for model in models()
        for name, field in model.model_fields.items()
        if unmarked(field.annotation, tuple(field.metadata))
    ]
    # The kind of a machine is one fixed word in every one that is read.
    assert missing == ["Brake.kind"]


@pytest.mark.parametrize(
    "text", ["lid\nDELETE", "lid\r", "lid\x1b[31m", "lid\u2028", "lid\ud800", "li\td"]
)
def test_a_name_is_one_line(text: str) -> None:
    with pytest.raises(ValidationError, match="is text of one line"):
        TypeAdapter(TextLine).validate_python(text)
    with pytest.raises(ValidationError) as refused:
        Job.model_validate({**BOX, "name": text})
    assert refused.value.errors()[0]["loc"] == ("name",)
    with pytest.raises(ValidationError):
        Job.model_validate({**BOX, "order": {"before": [[text, "back"]]}})
    with pytest.raises(ValidationError):
        StockRecord(kind="stock", name=text, metal="galvanized", length=100, width=100)


def test_a_note_runs_over_lines_and_hides_nothing() -> None:
    assert Job.model_validate({**BOX, "note": "two\nlines\tand ½"}).note == "two\nlines\tand ½"
    with pytest.raises(ValidationError, match="of letters, figures and signs"):
        Job.model_validate({**BOX, "note": "bell\x07"})


def test_signs_that_are_printed_stay() -> None:
    for text in ("Ø 12 “ä”", "8½″ × 3⅛″", "蜂箱", "no\u00a0break"):
        assert TypeAdapter(TextLine).validate_python(text) == text
