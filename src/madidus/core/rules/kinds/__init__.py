"""Kinds of rules, a module for each: its fields, its unit and sense, its sentence and what it measures. Whoever adds a
kind writes its module and names it here.
"""

from typing import Annotated, get_args

from pydantic import Field

from ..rule import RuleBase
from .conduit_cover import ConduitCover
from .flood_depth import FloodDepth
from .flood_volume import FloodVolume
from .freeboard import Freeboard
from .gradient import Gradient
from .half_drain import HalfDrain
from .invert_depth import InvertDepth
from .none_smaller import NoneSmaller
from .outflow import Outflow
from .pipe_size import PipeSize
from .surcharge import Surcharge
from .surcharge_time import SurchargeTime
from .velocity_least import VelocityLeast
from .velocity_most import VelocityMost
from .volume_out import VolumeOut
from .water_below_cover import WaterBelowCover

__all__ = [
    "KINDS", "ConduitCover", "FloodDepth", "FloodVolume", "Freeboard", "Gradient", "HalfDrain", "InvertDepth",
    "NoneSmaller", "Outflow", "PipeSize", "Rule", "Surcharge", "SurchargeTime", "VelocityLeast", "VelocityMost",
    "VolumeOut", "WaterBelowCover",
]  # fmt: skip

_Kind = (
    Surcharge | SurchargeTime | WaterBelowCover | Freeboard | FloodVolume | FloodDepth | Outflow | VolumeOut | HalfDrain
    | VelocityLeast | VelocityMost | PipeSize | Gradient | ConduitCover | InvertDepth | NoneSmaller
)  # fmt: skip
Rule = Annotated[_Kind, Field(discriminator="kind")]
KINDS: dict[str, type[RuleBase]] = {kind.model_fields["kind"].default: kind for kind in get_args(_Kind)}
"""By name, in the order in which they are offered."""
