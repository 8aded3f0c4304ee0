"""What is kept of a storm: one figure for each element and quantity."""

from dataclasses import dataclass
from typing import Any

import numpy as np

__all__ = ["Figures"]


@dataclass(frozen=True)
class Figures:
    """What is kept of a storm. Node and link arrays follow the sorted ids; 10-second means where peaks are judged.

    level : m; level_time : s; flooded : m3 greatest above (or lost over) the cover; outflow : m3/s into an outfall,
    nan elsewhere; left : m3 into an outfall. taken : m3 by which a store's volume rose; entering, leaving : the
    greatest flow into it and out of it, m3/s, without infiltration, and their times, s; half_drain : s from its peak
    until half of that is gone, nan where that was not seen; volume : m3, greatest of each node; infiltrated : m3 into
    the ground from it. marks : s; passed_at : float64[mark, node and link], m3 that has left by outfalls and passed
    links by then. passed : m3 along each link. flow : m3/s, the greater at both ends of a conduit; flow_up, flow_down :
    at its upstream and its downstream end; speed : m/s; clearance : m between the water and the soffit at its least
    (nan for controls), clearance_time : s when that was; surcharged : s during which it stood above it anywhere along
    a conduit, nan for controls. swing : m3/s by which a link's flow turned back twice running.
    energy : J that a link's pumps took, nan where it has none or an efficiency is not given. cells : m, in the cells of
    conduits, as `Reduction.cells_of` says.
    """

    key: str
    level: np.ndarray
    level_time: np.ndarray
    flooded: np.ndarray
    outflow: np.ndarray
    outflow_time: np.ndarray
    left: np.ndarray
    taken: np.ndarray
    entering: np.ndarray
    entering_time: np.ndarray
    leaving: np.ndarray
    leaving_time: np.ndarray
    half_drain: np.ndarray
    volume: np.ndarray
    infiltrated: np.ndarray
    marks: np.ndarray
    passed_at: np.ndarray
    passed: np.ndarray
    flow: np.ndarray
    flow_time: np.ndarray
    flow_up: np.ndarray
    flow_down: np.ndarray
    speed: np.ndarray
    clearance: np.ndarray
    clearance_time: np.ndarray
    surcharged: np.ndarray
    swing: np.ndarray
    energy: np.ndarray
    cells: np.ndarray
    summary: dict[str, Any]
