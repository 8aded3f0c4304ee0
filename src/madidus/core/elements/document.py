"""What every part of the project document shares: strict fields, finite numbers, names."""

from typing import Annotated, get_args

from pydantic import BaseModel, ConfigDict, Field, StringConstraints
from pydantic.fields import FieldInfo

__all__ = ["DocumentModel", "ElementId", "Level", "Name", "Positive", "Share", "description_of"]


class DocumentModel(BaseModel):
    """A part of the document. Unknown fields are an error, so that a misspelt one is not silently lost."""

    model_config = ConfigDict(
        extra="forbid", allow_inf_nan=False, validate_assignment=False,
        json_schema_serialization_defaults_required=True,  # a kept document is whole
    )  # fmt: skip


ElementId = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$")]
"""A UUID in its canonical lower-case form."""

Name = Annotated[str, StringConstraints(min_length=1, max_length=80, strip_whitespace=True)]
Level = Annotated[float, Field(ge=-1000, le=9000, description="m above the project's datum")]
Positive = Annotated[float, Field(gt=0)]
Share = Annotated[float, Field(ge=0, le=1)]


def description_of(field: FieldInfo) -> str:
    """What a field is said to be, by itself or by the type that it has; its first word is its unit, if it has one."""
    parts = [field.annotation, *get_args(field.annotation), *field.metadata]
    metadata = [part for each in parts for part in (each, *getattr(each, "__metadata__", ()))]
    return field.description or next((said for part in metadata if (said := getattr(part, "description", None))), "")
