"""The brief: the rules that must be shown to be met. Each says what is allowed, in which storms, of which elements."""

from pydantic import Field

from ..elements.document import DocumentModel
from .kinds import Rule

__all__ = ["Brief"]


class Brief(DocumentModel):
    """The rules, in the order in which they are read."""

    author: str = Field("", max_length=200)
    client: str = Field("", max_length=200)
    rules: list[Rule] = Field(default_factory=list, max_length=100)
