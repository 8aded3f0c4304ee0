"""Growth factors by depth that ship with the program: a data file for each region, with its source and uncertainty."""

from pathlib import Path

from pydantic import BaseModel

from ..core.rainfall.methods import GrowthRow

__all__ = ["GrowthTable", "growth_tables"]

_FOLDER = Path(__file__).parent / "growth"


class GrowthTable(BaseModel):
    """Factors of 5-year depths of the same duration, by that depth (mm) and return period (years, 5 left out)."""

    name: str
    source: str
    uncertainty: str
    return_periods: list[float]
    growth: list[GrowthRow]


def growth_tables() -> list[GrowthTable]:
    """Every table, by name."""
    texts = [path.read_text(encoding="utf-8") for path in sorted(_FOLDER.glob("*.json"))]
    return [GrowthTable.model_validate_json(text) for text in texts]
