"""Losses of pervious ground, a module for each: its fields and what it leaves of the rain. Whoever adds one writes its
module and names it here.
"""

from typing import Annotated

from pydantic import Field

from .base import DepthOfLoss
from .continuing import ContinuingLoss, initial_continuing
from .curve_number import CurveNumberLoss, curve_number_excess, retention
from .green_ampt import GreenAmptLoss, green_ampt
from .horton import HortonLoss, horton
from .proportional import ProportionalLoss

__all__ = [
    "ContinuingLoss", "CurveNumberLoss", "DepthOfLoss", "GreenAmptLoss", "HortonLoss", "Loss", "ProportionalLoss",
    "curve_number_excess", "green_ampt", "horton", "initial_continuing", "retention",
]  # fmt: skip

Loss = Annotated[
    ProportionalLoss | ContinuingLoss | HortonLoss | GreenAmptLoss | CurveNumberLoss, Field(discriminator="kind")
]
