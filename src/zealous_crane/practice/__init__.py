"""Learning the work: exercises set and marked by the same development, engine and model that plan and check parts."""

from .exercise import Exercise, Mark, Question, QuestionKind, Skill
from .make import exercise, grades

__all__ = ["Exercise", "Mark", "Question", "QuestionKind", "Skill", "exercise", "grades"]
