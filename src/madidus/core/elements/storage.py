"""A pond or a tank by its depth–area table."""

import itertools
from typing import Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from .changes import Changes, bank, times
from .document import DocumentModel
from .node import Spot
from .store import Store

__all__ = ["Storage", "StorageRow"]


class StorageRow(DocumentModel):
    """A row of a depth–area table."""

    depth: float = Field(ge=0, le=100, description="m above the invert")
    area: float = Field(gt=0, le=1e8, description="m2 of water surface")


def _rows(node: "Storage", areas: float = 1.0, depths: float = 1.0) -> dict[str, Any]:
    rows = [{"depth": round(row.depth * depths, 4), "area": round(row.area * areas, 2)} for row in node.table]
    return {"table": rows}


class Storage(Store):
    """A pond or a tank: a depth–area table up to its bank or roof."""

    DRAWN: ClassVar[dict[str, str]] = {"pond": "P", "tank": "T"}
    CHANGES: ClassVar[Changes] = {
        "area": times("Area", lambda node, factor: _rows(node, areas=factor)),
        "depth": bank(lambda node, depth: _rows(node, depths=depth / float(node.cover - node.invert))),
    }

    kind: Literal["storage"] = "storage"
    form: Literal["pond", "tank"] = "pond"
    table: list[StorageRow] = Field(min_length=1, max_length=200)

    @classmethod
    def start(cls, spot: Spot, drawn: str) -> dict[str, Any]:
        floor, top = (100.0, 200.0) if drawn == "pond" else (50.0, 50.0)
        table = [{"depth": 0.0, "area": floor}, {"depth": round(spot.ground - spot.invert, 3), "area": top}]
        return {**super().start(spot, drawn), "form": drawn, "table": table}

    @model_validator(mode="after")
    def _depths_rise(self) -> Self:
        depths = [row.depth for row in self.table]
        if depths[0] != 0 or any(b <= a for a, b in itertools.pairwise(depths)):
            raise ValueError("depths of the table must start at 0 and rise from row to row; sort or correct them")
        return self

    def areas(self) -> tuple[np.ndarray, np.ndarray]:
        top = self.cover - self.invert
        depths = np.array([row.depth for row in self.table])
        areas = np.array([row.area for row in self.table])
        keep = depths < top - 1e-9
        return np.append(depths[keep], top), np.append(areas[keep], np.interp(top, depths, areas))

    @property
    def word(self) -> str:
        return self.form
