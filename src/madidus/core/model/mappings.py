"""How foreign files were read last time: which column, layer, block, structure or pipe network stands for what."""

from typing import Annotated

from pydantic import Field, StringConstraints

from ..elements.document import DocumentModel
from .layers import FileDigest

__all__ = ["ColumnUse", "Mappings", "TableMapping"]

_Word = Annotated[str, StringConstraints(max_length=200)]


class ColumnUse(DocumentModel):
    """What a column holds: a field of the element, and the unit of its figures; an empty unit is ours."""

    field: _Word
    unit: _Word = ""


class TableMapping(DocumentModel):
    """A table known by its headings. kind : of its rows' elements; empty leaves the table out."""

    headings: list[_Word] = Field(max_length=500)
    kind: _Word
    columns: dict[_Word, ColumnUse] = Field(default_factory=dict)


class Mappings(DocumentModel):
    """layers, blocks : of drawings, to kinds of element. structures : of LandXML, by type or by type and part. An empty
    kind is left out.

    network_types : of LandXML, storm where a type of pipe network is storm drainage; empty leaves it out.

    files : SHA-256 of what was imported last, by name: later changes on either side are told apart by it.
    """

    tables: list[TableMapping] = Field(default_factory=list, max_length=100)
    layers: dict[_Word, _Word] = Field(default_factory=dict, max_length=1000)
    blocks: dict[_Word, _Word] = Field(default_factory=dict, max_length=1000)
    structures: dict[_Word, _Word] = Field(default_factory=dict, max_length=500)
    network_types: dict[_Word, _Word] = Field(default_factory=dict, max_length=50)
    files: dict[_Word, FileDigest] = Field(default_factory=dict, max_length=100)
