"""The rating curve of a control by itself: what it passes at each head, free of tail water."""

from dataclasses import dataclass

import numpy as np

from ..elements import Conduit, Outfall, Pump, pump_curve
from ..errors import ModelError
from ..model.network import Network
from .controls import control_flow
from .flatten import flatten

__all__ = ["RatingCurve", "rating_curve"]

_POINTS = 81


@dataclass(frozen=True)
class RatingCurve:
    """head : m above the level where the control begins to act, or the static lift of a pump; flow : m3/s."""

    head: list[float]
    flow: list[float]
    of: str


def rating_curve(network: Network, id_: str) -> RatingCurve:
    """Rating curve of a control up to the cover of the node that it leaves.

    Raises
    ------
    ModelError
        When there is no such control.
    """
    control = network.links.get(id_)
    if control is None or isinstance(control, Conduit):
        raise ModelError("network", "links", f"there is no control {id_}", "choose an orifice, weir, riser or pump")
    if isinstance(control, Pump):
        lift, flow, _ = pump_curve(control.units, control.main)
        return RatingCurve(lift.tolist(), flow.tolist(), "static lift")
    at = control.acts_from
    node = network.nodes[control.upstream]
    cover = at + 1.0 if isinstance(node, Outfall) else max(node.cover, at + 0.1)
    above = {"kind": "manhole", "name": "above", "invert": at - 1.0, "cover": cover + 1.0}
    alone = Network.model_validate(
        {
            "nodes": {
                control.upstream: above,
                control.downstream: {"kind": "outfall", "name": "below", "invert": at - 1.0},
            },
            "links": {id_: control.model_dump()},
        }
    )
    grid = flatten(alone).grid
    heads = np.linspace(0.0, cover - at, _POINTS)
    return RatingCurve(heads.tolist(), [float(control_flow(grid, 0, 0, at + h, -1e6)[0]) for h in heads], "head")
