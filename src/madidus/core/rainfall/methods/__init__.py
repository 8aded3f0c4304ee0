"""Ways to the depth of rain, a module for each: its fields and the depth of a duration and a return period. Whoever
adds one writes its module and names it here.
"""

from typing import Annotated

from pydantic import Field

from .base import Minutes, RainfallBase
from .formula import IntensityFormula, IntensityRow, fit_formula
from .ratio import GrowthRow, RatioDepths, ratio_curve
from .table import DepthTable

__all__ = [
    "DepthTable", "GrowthRow", "IntensityFormula", "IntensityRow", "Minutes", "Rainfall", "RainfallBase", "RatioDepths",
    "fit_formula", "ratio_curve",
]  # fmt: skip

Rainfall = Annotated[DepthTable | IntensityFormula | RatioDepths, Field(discriminator="kind")]
