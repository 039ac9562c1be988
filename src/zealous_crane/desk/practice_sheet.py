"""The teacher's sheet: an exercise on paper, with or without its answers."""

from __future__ import annotations

from ..measure.words import tr
from ..practice import Exercise, QuestionKind
from ..shop.caution import FIRST
from .flow import Columns, Flow, Picture, Piece, Space, Text
from .page import TEXT, Target, print_pages
from .paint.folded import paint_folded
from .theme import PAPER

LINE = 30
"""Underscores of a line to write on."""


def write_exercise(exercise: Exercise, target: Target, *, answers: bool) -> None:
    """Write an exercise as a PDF.

    Raises:
        FileError: it could not be written.
    """
    # What stands at a machine is told in full below the questions.
    caution = FIRST if exercise.cautions else tr("Gloves for cut edges, none near turning tools.")
    print_pages(exercise.job, target, caution, lambda page: _fill(Flow(page), exercise, answers))


def _fill(flow: Flow, exercise: Exercise, answers: bool) -> None:
    painter = flow.page.painter
    title = tr("{skill}, grade {grade}").format(skill=exercise.skill.words, grade=exercise.grade)
    flow.add(Text(title, size=TEXT * 1.7, strong=True, after=6), Text(exercise.task, size=TEXT * 1.15, after=8))
    lines: list[Piece] = [Text(line, after=3) for line in exercise.given]
    if exercise.table:
        lines += [Space(TEXT * 0.6), *(Text(line, after=3) for line in exercise.table)]
    folded = Picture(TEXT * 14, lambda rect: paint_folded(painter, rect, exercise.blank, PAPER), 12)
    flow.add(Columns(((0.53, tuple(lines)), (0.45, (folded,)))), Space(TEXT * 0.6))
    for number, question in enumerate(exercise.questions, start=1):
        asked: list[Piece] = [Text(f"{number}.  {question.says}", strong=True, after=4)]
        lettered = {option: f"{chr(97 + i)})  {option}" for i, option in enumerate(question.options)}
        asked += [Text(line, left=TEXT * 1.5, after=3) for line in lettered.values()]
        if answers:
            answer = tr("Answer:  {answer}").format(answer=lettered.get(question.answer, question.answer))
            asked.append(Text(answer, strong=True, left=TEXT * 1.5, after=10))
        else:
            rows = 2 if question.kind is QuestionKind.ORDER else 1
            asked += [Space(TEXT * 0.6), Text("\n".join(["_" * LINE * 2] * rows), left=TEXT * 1.5, after=12)]
        flow.add(*asked)
    flow.every([Text(caution, color="faint", after=3) for caution in exercise.cautions])
