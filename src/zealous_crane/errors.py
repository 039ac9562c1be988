"""Errors a person can mend, told apart from a fault of the program.

Everything a person typed, wrote in a file or asked for, and that cannot be used as it stands, is
refused by a :class:`CraneError` or, when a model was checked, by pydantic's ``ValidationError``.
Code that shows a refusal catches :data:`INPUT_ERRORS` and nothing wider: any other exception is a
fault of this program and goes to the fault log.
"""

from __future__ import annotations

from pydantic import ValidationError

from .i18n import Phrase


class CraneError(ValueError):
    """Something given cannot be used as it stands; the message says what was read and what is
    allowed.

    It is a ``ValueError`` so that a model's validator may raise it.

    Args:
        message: the sentence; a message kept beyond the moment is read in the language of then.
        field: where in the job, work or file it stands, as ``part.corner.gap``; empty where it is
            about the whole.
        remedy: what to do about it, where that is known apart from the sentence.
    """

    def __init__(self, message: Phrase = "", *, field: str = "", remedy: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.field, self.remedy = field, remedy


class InputError(CraneError):
    """What a person typed or chose cannot be used as it stands."""


class PredicateError(InputError):
    """A complaint that goes on from what it is about: ``must not be negative``."""


INPUT_ERRORS = (CraneError, ValidationError)
"""What a person can mend."""
