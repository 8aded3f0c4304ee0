"""Water and energy along conduits as the solver has them: at the middles of cells, run on to both ends.

At an end that water leaves by, its level is that of the node or of the water outside and, where that lies lower, the
critical depth of the flow (no more than the depth that arrives; the depth that arrives at an outfall of normal depth).
At an end that it enters by it is that of the node. Water is never below the bed, nor energy below the water.
"""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from ..constants import GRAVITY
from ..elements import Conduit, FixedLevel, LevelSeries, NormalDepth, Outfall
from ..elements.figures import Figures
from ..hydraulics.layout import Flattened
from ..model.network import Network
from .reduction import Reduction

__all__ = ["Profiles", "Shape", "shape_of"]

_LEAST_SHARE = 1e-3  # of the whole section, of which a velocity is told
_RUNS = 1e-6  # m3/s, below which nothing runs
_FILM = 1e-4  # m, of water that is none


class Shape(NamedTuple):
    """Of a conduit: its section in the grid; beds of its ends and of the middles of its cells, m; wetted areas (m2)
    and critical flows (m3/s) at depths (m).
    """

    section: int
    ends: tuple[float, float]
    beds: np.ndarray
    knots: np.ndarray
    areas: np.ndarray
    critical: np.ndarray

    def leaving(self, depth: np.ndarray, flow: np.ndarray) -> np.ndarray:
        """Depth where water falls free from an end, m. depth : that arrives; flow : out of the conduit, m3/s."""
        return np.asarray(np.minimum(np.maximum(depth, 0.0), np.interp(flow, self.critical, self.knots)))

    def velocity_head(self, depth: np.ndarray, flow: np.ndarray) -> np.ndarray:
        """v²/2g, m, of flows (m3/s) at depths (m)."""
        area = np.maximum(np.interp(depth, self.knots, self.areas), _LEAST_SHARE * self.areas[-1])
        wet = (depth > _FILM) & (np.abs(flow) > _RUNS)
        return np.asarray(np.where(wet, (flow / area) ** 2 / (2.0 * GRAVITY), 0.0))


def shape_of(network: Network, flat: Flattened, id_: str) -> Shape:
    """Shape of a conduit."""
    link, grid, rows = network.links[id_], flat.grid, flat.pipe_rows[id_]
    assert isinstance(link, Conduit)
    floor = link.bed_levels(len(rows))
    section = int(grid.pipe_section[int(np.nonzero(grid.pipe_row == rows[0])[0][0])])
    areas, mean = grid.section_wetted[section, :, 0], grid.section_wetted[section, :, 2]
    knots = np.linspace(0.0, float(grid.section_height[section]), len(areas))
    critical = np.maximum.accumulate(areas * np.sqrt(GRAVITY * np.maximum(mean, 0.0)))
    return Shape(section, (float(floor[0]), float(floor[-1])), 0.5 * (floor[:-1] + floor[1:]), knots, areas, critical)


def _outside(outfall: Outfall) -> float:
    """The highest level of the water outside an outfall, m; none where it is free or at normal depth."""
    tail = outfall.tail_water
    if isinstance(tail, FixedLevel):
        return tail.level
    return max(row.level for row in tail.rows) if isinstance(tail, LevelSeries) else -np.inf


class Profiles:
    """Water and energy along the conduits of a network.

    Columns of a series are named as in `series.Layout`; `needed` says which a conduit asks for.
    """

    def __init__(self, network: Network, flat: Flattened):
        self._network, self._flat = network, flat
        self._shapes: dict[str, Shape] = {}

    def shape(self, id_: str) -> Shape:
        """Shape of a conduit."""
        known = self._shapes.get(id_)
        if known is None:
            known = self._shapes[id_] = shape_of(self._network, self._flat, id_)
        return known

    def chainage(self, id_: str) -> np.ndarray:
        """Where the values stand, m from the upstream end: the end, the middles of cells, the other end."""
        link = self._network.links[id_]
        assert isinstance(link, Conduit)
        count = len(self._flat.pipe_rows[id_])
        return np.array([0.0, *((np.arange(count) + 0.5) * link.length / count), link.length])

    def bed(self, id_: str) -> np.ndarray:
        """Of the conduit at its chainages, m."""
        shape = self.shape(id_)
        return np.array([shape.ends[0], *shape.beds, shape.ends[1]])

    def water(
        self, id_: str, cells: np.ndarray, up: np.ndarray, down: np.ndarray, into: np.ndarray, out: np.ndarray
    ) -> np.ndarray:
        """Levels at the chainages, float64[chainage, ...], m.

        cells : float64[cell, ...], m. up, down : levels of the nodes at its ends. into, out : flows at both ends,
        downstream positive, m3/s.
        """
        link, shape = self._network.links[id_], self.shape(id_)
        below = self._network.nodes[link.downstream]
        bed = shape.beds.reshape(-1, *[1] * (np.ndim(cells) - 1))
        inside = np.maximum(cells, bed)
        first = shape.ends[0] + np.where(into < -_RUNS, shape.leaving(inside[0] - shape.beds[0], -into), 0.0)
        arrives = inside[-1] - shape.beds[-1]
        if isinstance(below, Outfall) and isinstance(below.tail_water, NormalDepth):
            last = shape.ends[1] + arrives
        else:
            last = shape.ends[1] + np.where(out > _RUNS, shape.leaving(arrives, out), 0.0)
            # of a free outfall the level is what leaves by its conduits: of this one it is its own
            tells = not isinstance(below, Outfall) or isinstance(below.tail_water, FixedLevel | LevelSeries)
            last = np.maximum(last, down) if tells else last
        return np.stack([np.maximum(first, up), *inside, last])

    def highest(self, id_: str, reduction: Reduction, figures: Sequence[Figures]) -> np.ndarray:
        """The highest levels at the chainages over some storms, at least one, by what is kept of each; m."""
        link = self._network.links[id_]
        k = reduction.links.index(id_)
        cells = np.array([one.cells[reduction.cells_of[id_]] for one in figures]).T
        up, down = (
            np.array([one.level[reduction.nodes.index(node)] for one in figures])
            for node in (link.upstream, link.downstream)
        )
        outside = self._network.nodes[link.downstream]
        if isinstance(outside, Outfall):  # no figure of a node: the highest that its water stands outside
            down = np.full_like(down, _outside(outside))
        into, out = (np.array([getattr(one, name)[k] for one in figures]) for name in ("flow_up", "flow_down"))
        return np.asarray(self.water(id_, cells, up, down, into, out).max(axis=1))

    def energy(self, id_: str, water: np.ndarray, into: np.ndarray, out: np.ndarray) -> np.ndarray:
        """Levels of the energy line at the chainages, m: the water's and v²/2g, falling along the flow.

        The flow between both ends runs straight from the one to the other. While water gains or loses speed, inertia
        may let the energy rise on its way: the line then stands as high as it will further down.
        """
        shape, along = self.shape(id_), self.chainage(id_)
        tail = [1] * (np.ndim(water) - 1)
        share = (along / along[-1]).reshape(-1, *tail)
        flow = np.asarray(into)[None] * (1.0 - share) + np.asarray(out)[None] * share
        depth = water - self.bed(id_).reshape(-1, *tail)
        found = water + shape.velocity_head(depth, flow)
        down = np.maximum.accumulate(found[::-1], axis=0)[::-1]
        up = np.maximum.accumulate(found, axis=0)
        forward, backward = (flow > _RUNS).all(axis=0), (flow < -_RUNS).all(axis=0)
        return np.asarray(np.where(forward, down, np.where(backward, up, found)))
