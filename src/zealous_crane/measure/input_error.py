"""What a person can mend, told apart from a fault of the program.

Everything a person typed, wrote in a file or asked for, and that cannot be used as it stands, is refused by an
:class:`InputError` or, when a model was checked, by pydantic's ``ValidationError``. Code that shows a refusal catches
:data:`INPUT_ERRORS` and nothing wider: any other exception is a fault of this program and goes to the fault log.
"""

from __future__ import annotations

from pydantic import ValidationError


class InputError(ValueError):
    """Something given cannot be used as it stands; the message says what was read and what is allowed.

    It is a ``ValueError`` so that a model's validator may raise it.
    """


class PredicateError(InputError):
    """A complaint that goes on from what it is about: ``must not be negative``."""


INPUT_ERRORS = (InputError, ValidationError)
"""What a person can mend."""
