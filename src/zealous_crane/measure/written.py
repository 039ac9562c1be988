"""What every model a person writes has in common."""

import unicodedata
from typing import Any

from pydantic import BaseModel, ConfigDict, ValidationInfo, field_validator

from .report import PredicateError
from .words import tr

MANY_LINES = ("note",)
"""Fields that may run over several lines."""


class Written(BaseModel):
    """A frozen model checked at the border; an unknown field is an error, not a silent loss. Text is one line of what can be
    printed: names go into drawings and files, where a line end begins something new. What checks it is made when the first one is
    read: most models of a run are never met."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, defer_build=True)

    @classmethod
    def together(cls, record: dict[str, Any], changed: str) -> dict[str, Any]:
        """A record of which a person has just changed one field, with what goes with that field changed too.

        Args:
            record: fields and their values, the changed one among them.
            changed: its name.
        """
        return record

    @field_validator("*")
    @classmethod
    def _printable(cls, value: Any, info: ValidationInfo) -> Any:
        for text in (value,) if isinstance(value, str) else value if isinstance(value, tuple) else ():
            if isinstance(text, str) and not text.isprintable():  # looked at letter by letter only where something is odd
                allowed = "\n\t" if info.field_name in MANY_LINES else ""
                if any(unicodedata.category(c) in ("Cc", "Cs", "Zl", "Zp") and c not in allowed for c in text):
                    raise PredicateError(tr("is text of one line, of letters, figures and signs"))
        return value
