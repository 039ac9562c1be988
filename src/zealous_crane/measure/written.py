"""What every model a person writes has in common."""

from typing import Any

from pydantic import BaseModel, ConfigDict


class Written(BaseModel):
    """A frozen model checked at the border; an unknown field is an error, not a silent loss. Its text is marked as one
    line or as several (:mod:`.line`). What checks it is made when the first one is read: most models of a run are never met.
    Those that nearly every job holds, and that are made on their own too, say ``defer_build=False``: else it is made twice."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, defer_build=True)

    @classmethod
    def together(cls, record: dict[str, Any], changed: str) -> dict[str, Any]:
        """A record of which a person has just changed one field, with what goes with that field changed too.

        Args:
            record: fields and their values, the changed one among them.
            changed: its name.
        """
        return record
