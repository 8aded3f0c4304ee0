"""Shapes of storms in time, a module for each: its fields and how it spreads the depth. Whoever adds one writes its
module and names it here.
"""

from typing import Annotated

from pydantic import Field

from .alternating import Alternating
from .base import Depths
from .bell import Bell
from .block import Block
from .chicago import Chicago
from .cumulative import Cumulative
from .mass_curve import MassCurve
from .triangle import Triangle

__all__ = [
    "Alternating", "Bell", "Block", "Chicago", "Cumulative", "Depths", "MassCurve", "Shape", "Triangle",
]  # fmt: skip

Shape = Annotated[Bell | Block | Triangle | Alternating | Chicago | MassCurve | Cumulative, Field(discriminator="kind")]
