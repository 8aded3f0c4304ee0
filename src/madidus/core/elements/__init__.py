"""Elements of a network, a module for each kind: its fields, its storage or its law, its rows for the solver, what is
unusual of it and what schedules tell of it. Whoever adds a kind writes its module and names it here.
"""

from typing import Annotated, get_args

from pydantic import Field

from .basin import Bank, Basin
from .channel import BedPoint, Channel
from .control import LAWS, PARAMETERS, Rows, ScheduleEntry, Unusual
from .curve import BY_CURVE, CurveRow, FlowCurve, look_up
from .gate import SluiceGate
from .head_loss import AngleLoss, FixedLoss, HeadLoss
from .infiltration import Infiltration, infiltrating_wall
from .inflow import Constant, FlowRow, Hydrograph, Inflow, Pattern
from .inlet import USUAL_CAPACITY, Inlet
from .junction import Junction
from .link import Reach
from .manhole import Manhole
from .node import Spot
from .orifice import Orifice
from .outfall import Outfall
from .pipe import Pipe
from .pump import PUMP, Pump, PumpRow, PumpUnit, RisingMain, main_loss, pump_curve, static_lift
from .riser import Riser
from .shaft import Shaft
from .stone import Stone
from .storage import Storage, StorageRow
from .store import Store, held
from .tail_water import FixedLevel, Free, LevelRow, LevelSeries, NormalDepth, TailWater
from .trench import Trench
from .weir import WEIR, Weir

__all__ = [
    "BY_CURVE",
    "DRAWN_LINKS",
    "DRAWN_NODES",
    "LAWS",
    "PARAMETERS",
    "PUMP",
    "USUAL_CAPACITY",
    "WEIR",
    "AngleLoss",
    "Bank",
    "Basin",
    "BedPoint",
    "Cell",
    "Channel",
    "Conduit",
    "Constant",
    "Control",
    "CurveRow",
    "FixedLevel",
    "FixedLoss",
    "FlowCurve",
    "FlowRow",
    "Free",
    "HeadLoss",
    "Hydrograph",
    "Infiltration",
    "Inflow",
    "Inlet",
    "Junction",
    "LevelRow",
    "LevelSeries",
    "Link",
    "Manhole",
    "Node",
    "NormalDepth",
    "Orifice",
    "Outfall",
    "Pattern",
    "Pipe",
    "Pump",
    "PumpRow",
    "PumpUnit",
    "Reach",
    "Riser",
    "RisingMain",
    "Rows",
    "ScheduleEntry",
    "Shaft",
    "SluiceGate",
    "Spot",
    "Stone",
    "Storage",
    "StorageRow",
    "Store",
    "TailWater",
    "Trench",
    "Unusual",
    "Weir",
    "held",
    "infiltrating_wall",
    "look_up",
    "main_loss",
    "pump_curve",
    "static_lift",
]  # fmt: skip

Cell = Manhole | Junction | Inlet | Storage | Basin | Stone
"""Nodes in which water stands."""
Node = Annotated[Cell | Outfall, Field(discriminator="kind")]
Conduit = Pipe | Channel | Trench
Control = Orifice | Weir | Riser | FlowCurve | Pump | SluiceGate
Link = Annotated[Conduit | Control, Field(discriminator="kind")]

DRAWN_NODES = {drawn: kind for kind in (*get_args(Cell), Outfall) for drawn in kind.DRAWN}
DRAWN_LINKS = {drawn: kind for kind in (*get_args(Conduit), *get_args(Control)) for drawn in kind.DRAWN}
"""Kinds of elements by what they can be drawn as."""
