"""Text as a field of the models people write: one line of what can be printed, as names go into drawings and files, where a line end
begins something new; or several such lines."""

from __future__ import annotations

import unicodedata
from typing import Annotated

from .checked import Checked
from .input_error import PredicateError
from .words import tr

_NOT_PRINTED = frozenset(("Cc", "Cs", "Zl", "Zp"))
"""Control characters, halves of pairs, and ends of lines and paragraphs."""


def _printed(text: str, besides: str = "") -> str:
    # Looked at letter by letter only where something is odd.
    if not text.isprintable() and any(unicodedata.category(c) in _NOT_PRINTED and c not in besides for c in text):
        raise PredicateError(tr("is text of one line, of letters, figures and signs"))
    return text


def _printed_lines(text: str) -> str:
    return _printed(text, "\n\t")


ONE_LINE = Checked((_printed,))
"""Mark of a text on one line."""

MANY_LINES = Checked((_printed_lines,))
"""Mark of a text that may run over several lines."""

Line = Annotated[str, ONE_LINE]
"""Text on one line."""
