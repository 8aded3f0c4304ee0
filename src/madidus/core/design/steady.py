"""Steady flow: the profile that given inflows and tail water settle to, and the most that keeps a criterion.

The profile is where the unsteady equations come to rest, so that sub- and supercritical reaches and the jumps between
them need no special treatment.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..constants import GRAVITY
from ..elements import Channel, Conduit, Outfall, Pipe, TailWater
from ..errors import ModelError
from ..hydraulics.flatten import flatten
from ..hydraulics.inflow import Inflow
from ..hydraulics.layout import Flattened
from ..hydraulics.simulate import StormRun, settle, simulate
from ..model.network import Network
from ..quantities import Quantity, said
from ..results.profile import Profiles

__all__ = ["Capacity", "Keep", "Profile", "Reach", "capacity", "steady"]

Keep = Literal["below soffit", "below cover"]
_SPACING = 10.0  # m
_MEAN = 600.0  # s
_FINE = 1.0 / 500.0  # of the multiple, to which a capacity is found
_MOST = 1e6  # times the pattern
_MOST_INFLOW = 1e4  # m3/s, as inflows of nodes
_LEAST_FLOOD = 1e-6  # m3/s


@dataclass(frozen=True)
class Reach:
    """A conduit's profile from upstream, at mid-cells. jumps : m from upstream, where depth rises through critical.

    level_up, level_down : of the water at its ends, m. full : m3/s, of the full pipe without pressure; most : the
    greatest uniform flow below the soffit or bank (of a
    circle 1.076 times full); 0 where the conduit does not fall.
    """

    chainage: list[float]
    bed: list[float]
    level: list[float]
    speed: list[float]
    froude: list[float]
    jumps: list[float]
    level_up: float
    level_down: float
    full: float
    most: float


@dataclass(frozen=True)
class Profile:
    """Steady levels at nodes (m), flows of links (m3/s), outflows (m3/s) and the profile of every conduit, by id.

    floods : m3/s that run over covers and banks of nodes, away from the network; over_bank : m by which the water
    stands above the banks of open conduits.
    """

    level: dict[str, float]
    flow: dict[str, float]
    outflow: dict[str, float]
    reaches: dict[str, Reach]
    floods: dict[str, float]
    over_bank: dict[str, float]


@dataclass(frozen=True)
class Capacity:
    """The largest multiple of a pattern of inflows that keeps a criterion, and the element that sets it."""

    multiple: float
    flow: float
    element: str


def _with_tail(network: Network, tail: TailWater | None) -> Network:
    if tail is None:
        return network
    nodes = {
        id_: node.model_copy(update={"tail_water": tail}) if isinstance(node, Outfall) else node
        for id_, node in network.nodes.items()
    }
    return network.model_copy(update={"nodes": nodes})


def _spilling(network: Network) -> Network:
    """The network whose floods run away: a steady flow would pile them up without end."""
    nodes = {
        id_: node if isinstance(node, Outfall) else node.model_copy(update={"flooding": "lost"})
        for id_, node in network.nodes.items()
    }
    return network.model_copy(update={"nodes": nodes})


def _check(network: Network, inflows: Mapping[str, float]) -> None:
    for id_, flow in inflows.items():
        if id_ not in network.nodes or isinstance(network.nodes[id_], Outfall):
            raise ModelError(
                network.label(id_), "inflow", "is no node that takes inflow", "name a node above an outfall"
            )
        if not np.isfinite(flow) or flow < 0.0:
            raise ModelError(network.label(id_), "inflow", f"{flow} m³/s is negative", "type a flow of 0 or more")
        if flow > _MOST_INFLOW:
            raise ModelError(
                network.label(id_),
                "inflow",
                said(Quantity(flow * 1e3, "L/s"), " is beyond any drain"),
                said("type ", Quantity(_MOST_INFLOW * 1e3, "L/s"), " at most"),
            )
    if not any(flow > 0.0 for flow in inflows.values()):
        raise ModelError("network", "inflow", "nothing flows in", "give at least one node an inflow")


def _levels(run: StormRun) -> np.ndarray:
    """Mean levels over the run: at a jump the water never quite rests."""
    return np.asarray(run.series.level.mean(axis=0))


def _reach(flat: Flattened, run: StormRun, id_: str, conduit: Conduit, profiles: Profiles) -> Reach:
    rows, levels = flat.pipe_rows[id_], _levels(run)
    floor = conduit.bed_levels(len(rows))
    middle = 0.5 * (floor[1:] + floor[:-1])
    first, last = flat.pipe_faces[id_]
    flow = run.peaks.passed[first : last + 1] / _MEAN
    level = levels[rows]
    up, down = levels[flat.node_row[conduit.upstream]], levels[flat.node_row[conduit.downstream]]
    water = profiles.water(id_, level, up, down, flow[0], flow[-1])
    cell = int(np.nonzero(flat.grid.pipe_row == rows[0])[0][0])
    section = flat.grid.pipe_section[cell]
    areas, mean_depths = flat.grid.section_wetted[section, :, 0], flat.grid.section_wetted[section, :, 2]
    knots = np.linspace(0.0, flat.grid.section_height[section], len(mean_depths))
    mean = np.maximum(np.interp(level - middle, knots, mean_depths), 1e-6)
    speed = 0.5 * (flow[1:] + flow[:-1]) / np.maximum(np.interp(level - middle, knots, areas), 1e-6)
    froude = np.abs(speed) / np.sqrt(GRAVITY * mean)
    chainage = (np.arange(len(rows)) + 0.5) * conduit.length / len(rows)
    falls = np.nonzero((froude[:-1] > 1.0) & (froude[1:] <= 1.0))[0]
    share = (froude[falls] - 1.0) / (froude[falls] - froude[falls + 1])
    jumps = chainage[falls] + share * (chainage[falls + 1] - chainage[falls])
    full, most = conduit.full_flow() or 0.0, conduit.greatest_flow() or 0.0
    return Reach(
        chainage.tolist(),
        middle.tolist(),
        level.tolist(),
        speed.tolist(),
        froude.tolist(),
        jumps.tolist(),
        float(water[0]),
        float(water[-1]),
        full,
        most,
    )


def steady(
    network: Network, inflows: Mapping[str, float], tail: TailWater | None = None, spacing: float = _SPACING
) -> Profile:
    """The profile that inflows (m3/s, by node id) settle to; `tail` replaces the tail water of every outfall.

    Raises
    ------
    ModelError
        Where the network cannot be computed, or an inflow is impossible.
    """
    _check(network, inflows)
    flat = flatten(_spilling(_with_tail(network, tail)), spacing)
    inflow = Inflow.steady(dict(inflows))
    # levels and flows are means over ten minutes more; so the flows balance to rounding
    run = simulate(flat, inflow, start=settle(flat, inflow).end, until=_MEAN, frames=61, interval=_MEAN / 60.0)
    levels = _levels(run)
    level = {
        id_: float(levels[flat.node_row[id_]])
        for id_, node in network.nodes.items() if not isinstance(node, Outfall)
    }  # fmt: skip
    flows = run.peaks.passed / _MEAN
    flow = {id_: float(flows[last]) for id_, (_, last) in flat.pipe_faces.items()}
    flow.update({id_: float(flows[face]) for id_, face in flat.control_face.items()})
    faces = flat.grid.left.size
    outflow = {
        id_: float(flows[faces + flat.node_row[id_] - flat.grid.cells])
        for id_, node in network.nodes.items() if isinstance(node, Outfall)
    }  # fmt: skip
    profiles = Profiles(_with_tail(network, tail), flat)
    reaches = {
        id_: _reach(flat, run, id_, link, profiles) for id_, link in network.links.items() if isinstance(link, Conduit)
    }
    floods = {id_: float(flows[face]) for id_, face in flat.spill_face.items() if flows[face] > _LEAST_FLOOD}
    over_bank = {}
    for id_, reach in reaches.items():
        link = network.links[id_]
        if isinstance(link, Channel):
            over = max(z - b for z, b in zip(reach.level, reach.bed, strict=True)) - link.height
            if over > 0.0:
                over_bank[id_] = over
    return Profile(level, flow, outflow, reaches, floods, over_bank)


def _nearest(network: Network, profile: Profile, keep: Keep) -> tuple[float, str]:
    """Least distance between water and limit, m, and the element where it is; negative where the limit is passed."""
    if keep == "below cover":
        clearance = {
            id_: node.spill_level - profile.level[id_]
            for id_, node in network.nodes.items()
            if not isinstance(node, Outfall)
        }
    else:
        clearance = {
            id_: pipe.height - pipe.sediment - max(z - b for z, b in zip(reach.level, reach.bed, strict=True))
            for id_, reach in profile.reaches.items()
            if isinstance(pipe := network.links[id_], Pipe)
        }
    if not clearance:
        raise ModelError("network", "links", f"has nothing that could stay {keep}", "choose another criterion")
    nearest = min(clearance, key=lambda id_: clearance[id_])
    return clearance[nearest], nearest


def capacity(
    network: Network, pattern: Mapping[str, float], keep: Keep, tail: TailWater | None = None,
    spacing: float = _SPACING,
) -> Capacity:  # fmt: skip
    """Find the largest multiple of a pattern of inflows (m3/s, by node id) that keeps the water below a limit.

    By doubling and halving, to a part in 500; the profile at each trial is that of `steady`.

    Raises
    ------
    ModelError
        Where the network cannot be computed, or no flow at all keeps the criterion.
    """
    _check(network, pattern)

    def trial(multiple: float) -> tuple[float, str]:
        profile = steady(network, {id_: multiple * flow for id_, flow in pattern.items()}, tail, spacing)
        return _nearest(network, profile, keep)

    low, high = 0.0, 1.0
    clearance, element = trial(high)
    while clearance >= 0.0:
        low, high = high, 2.0 * high
        if high > _MOST:
            raise ModelError("network", "inflow", "any flow keeps the criterion", "choose another criterion")
        clearance, element = trial(high)
    while high - low > _FINE * high:
        if high < 1.0 / _MOST:
            raise ModelError(network.label(element), keep, "is not kept by any flow", "lower the tail water")
        middle = 0.5 * (low + high)
        clearance, at = trial(middle)
        if clearance >= 0.0:
            low = middle
        else:
            high, element = middle, at
    return Capacity(low, low * sum(pattern.values()), element)
