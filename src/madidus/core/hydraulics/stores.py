"""What nodes hold: depth–area tables of shafts and stores, floods above their covers included."""

import numpy as np

from ..elements import Cell, Manhole, Node, Outfall, Store

__all__ = ["initial_level", "node_table"]

_RAMP = 0.1  # m above cover over which the surface widens to the ponded area
_STANDPIPE = 0.01  # of the plan area, in which water rises above a sealed cover
_CONE_TOP = 2.0  # m above cover up to which a cone is followed


def node_table(node: Cell) -> np.ndarray:
    """Depths, areas and volumes of a node, the water above its cover included: float64[3, row]."""
    depths, areas = node.areas()
    top, at_cover = depths[-1], areas[-1]
    if isinstance(node, Manhole) and node.sealed:
        depths, areas = np.append(depths, top + 1e-3), np.append(areas, _STANDPIPE * at_cover)
    elif node.flooding == "stored":
        spread = max(node.ponded_area, at_cover)
        if spread > at_cover:
            depths, areas = np.append(depths, top + _RAMP), np.append(areas, spread)
        if node.ponded_side_slope > 0.0:
            up = np.linspace(0.0, _CONE_TOP, 21)[1:]
            radius = np.sqrt(spread / np.pi) + node.ponded_side_slope * up
            depths, areas = np.append(depths, top + _RAMP + up), np.append(areas, np.pi * radius**2)
    volumes = np.append(0.0, np.cumsum(0.5 * (areas[1:] + areas[:-1]) * np.diff(depths)))
    return np.array([depths, areas, volumes])


def initial_level(node: Node) -> float:
    """Level before the storm: permanent water of a store, else the invert."""
    assert not isinstance(node, Outfall)
    return node.invert + (min(node.initial_depth, node.spill_level - node.invert) if isinstance(node, Store) else 0.0)
