"""What every part of the project document shares: strict fields, finite numbers, names."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

__all__ = ["ElementId", "Level", "Name", "Part", "Positive", "Share"]


class Part(BaseModel):
    """A part of the document. Unknown fields are an error, so that a misspelt one is not silently lost."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, validate_assignment=False)


ElementId = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$")]
"""A UUID in its canonical lower-case form."""

Name = Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True)]
Level = Annotated[float, Field(ge=-1000, le=9000, description="m above the project's datum")]
Positive = Annotated[float, Field(gt=0)]
Share = Annotated[float, Field(ge=0, le=1)]
