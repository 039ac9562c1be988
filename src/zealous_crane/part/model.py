"""What every model a person writes has in common."""

from pydantic import BaseModel, ConfigDict


class Written(BaseModel):
    """A frozen model checked at the border; an unknown field is an error, not a silent loss."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)
