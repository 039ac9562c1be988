"""The teacher's sheet: an exercise on paper, with or without its answers."""

from __future__ import annotations

from PySide6.QtCore import QRectF

from ..measure.words import tr
from ..practice import Exercise, QuestionKind
from .page import TEXT, Page, Target, printed
from .paint.folded import paint_folded
from .theme import PAPER

LINE = 30
"""Underscores of a line to write on."""


def write_exercise(exercise: Exercise, target: Target, *, answers: bool) -> None:
    """Write an exercise as a PDF.

    Raises:
        FileError: it could not be written.
    """
    caution = exercise.cautions[0] if exercise.cautions else tr("Gloves for cut edges, none near turning tools.")
    with printed(exercise.job, target, caution) as page:
        _fill(page, exercise, answers)


def _fill(page: Page, exercise: Exercise, answers: bool) -> None:
    wide = page.rect.width()
    y = page.text(QRectF(0, 0, wide, 200), tr("{skill}, grade {grade}").format(skill=exercise.skill.words, grade=exercise.grade),
                  size=TEXT * 1.7, strong=True) + 6  # fmt: skip
    y += page.text(QRectF(0, y, wide, 400), exercise.task, size=TEXT * 1.15) + 8
    paint_folded(page.painter, QRectF(wide * 0.55, y, wide * 0.45, TEXT * 14), exercise.blank, PAPER)
    top = y
    for line in (*exercise.given, *exercise.table):
        y += page.text(QRectF(0, y, wide * 0.53, 400), line) + 3
    y = max(y, top + TEXT * 14) + 12
    for number, question in enumerate(exercise.questions, start=1):
        y = page.room(y, TEXT * 5)
        y += page.text(QRectF(0, y, wide, 400), f"{number}.  {question.says}", strong=True) + 4
        if question.options:
            row = "      ".join(f"{chr(97 + i)})  {option}" for i, option in enumerate(question.options))
            y += page.text(QRectF(TEXT * 1.5, y, wide - TEXT * 1.5, 400), row) + 4
        if answers:
            y += page.text(QRectF(TEXT * 1.5, y, wide - TEXT * 1.5, 400), question.answer) + 10
        else:
            lines = 2 if question.kind is QuestionKind.ORDER else 1
            y += page.text(QRectF(TEXT * 1.5, y + TEXT * 0.6, wide - TEXT * 1.5, 400), "\n".join(["_" * LINE * 2] * lines)) + 18
    for caution in exercise.cautions:
        y = page.room(y, TEXT * 2)
        y += page.text(QRectF(0, y, wide, 200), caution, color="faint") + 3
