"""Small networks for reference cases, and runs of them."""

import uuid

import numpy as np

from madidus.core.constants import GRAVITY
from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.inflow import Inflow
from madidus.core.hydraulics.layout import BED, FLOOR, INITIAL, LENGTH, Flattened
from madidus.core.hydraulics.simulate import StormRun, simulate
from madidus.core.hydraulics.work import SPEED
from madidus.core.model.network import Network


def identity(name: str) -> str:
    return str(uuid.uuid5(uuid.NAMESPACE_OID, name))


def network(nodes: dict, links: dict) -> Network:
    """Nodes and links by name; links name their ends."""
    return Network(
        nodes={identity(name): {"name": name, **fields} for name, fields in nodes.items()},
        links={
            identity(name): {
                "name": name, **fields, "upstream": identity(fields["upstream"]),
                "downstream": identity(fields["downstream"]),
            }
            for name, fields in links.items()
        },
    )  # fmt: skip


def tank(floor: float, top: float, area: float, depth: float = 0.0) -> dict:
    return {
        "kind": "storage", "form": "tank", "invert": floor, "cover": top, "initial_depth": depth, "ponded_area": 1.0,
        "table": [{"depth": 0, "area": area}, {"depth": top - floor, "area": area}],
    }  # fmt: skip


class Run:
    """A run with series every `interval` s, read by element names."""

    def __init__(
        self, net: Network, inflow: dict[str, list[tuple[float, float]]], until: float, interval: float, **more
    ):
        self.net = net
        self.flat: Flattened = flatten(net, **{k: more.pop(k) for k in ("spacing",) if k in more})
        for element, level in more.pop("full", {}).items():
            id_ = identity(element)
            rows = self.flat.pipe_rows.get(id_, [self.flat.node_row.get(id_, -1)])
            self.flat.grid.cell[INITIAL, rows] = level
        if more.pop("empty", False):
            self.flat.grid.cell[INITIAL, : self.flat.grid.cells] = self.flat.grid.cell[FLOOR, : self.flat.grid.cells]
        times = np.unique([t for points in inflow.values() for t, _ in points]) if inflow else np.array([0.0, until])
        # a time that a hydrograph gives twice is a jump
        doubled = {t for p in inflow.values() for t in {t for t, _ in p} if sum(s == t for s, _ in p) > 1}
        times = np.sort(np.concatenate([times, sorted(doubled)]))
        columns = []
        for points in inflow.values():
            values = np.interp(times, [t for t, _ in points], [q for _, q in points], right=0.0)
            for t in doubled:
                first = int(np.searchsorted(times, t))
                pair = [q for s, q in points if s == t]
                values[first], values[first + 1] = pair[0], pair[-1]
            columns.append(values)
        flow = np.array(columns).T if columns else np.zeros((len(times), 0))
        self.result: StormRun = simulate(
            self.flat, Inflow(times, flow, [identity(n) for n in inflow], np.zeros(len(inflow))), until=until,
            frames=int(until / interval) + 1, interval=interval, **more,
        )  # fmt: skip
        self.time = self.result.series.time

    def level(self, node: str) -> np.ndarray:
        return self.result.series.level[:, self.flat.node_row[identity(node)]]

    def flow(self, link: str, end: int = -1) -> np.ndarray:
        """Flow of a control, or at a face of a conduit: `end` counts from its upstream end, −1 is the last."""
        id_ = identity(link)
        if id_ in self.flat.pipe_faces:
            first, last = self.flat.pipe_faces[id_]
            return self.result.series.flow[:, last if end < 0 else first + end]
        return self.result.series.flow[:, self.flat.control_face[id_]]

    def crest(self, conduit: str) -> float:
        """Time at which the flow out of a conduit was greatest, s."""
        return float(self.result.peaks.flow.when[self.flat.pipe_faces[identity(conduit)][1]])

    def passed(self, conduit: str, face: int) -> float:
        """Volume that passed a face of a conduit, m3; faces count from its upstream end."""
        return float(self.result.peaks.passed[self.flat.pipe_faces[identity(conduit)][0] + face])

    def levels(self, conduit: str) -> np.ndarray:
        """Level in every cell of a conduit at the end, from upstream."""
        return np.array([self.result.series.level[-1, r] for r in self.flat.pipe_rows[identity(conduit)]])

    def depths(self, conduit: str) -> np.ndarray:
        """Depth in every cell of a conduit at the end, from upstream."""
        grid = self.flat.grid
        rows = self.flat.pipe_rows[identity(conduit)]
        cells = [int(np.nonzero(grid.pipe_row == r)[0][0]) for r in rows]
        return self.levels(conduit) - grid.pipe[BED, cells]

    def profile(self, conduit: str) -> tuple[np.ndarray, np.ndarray]:
        """Distances of the cells above the downstream end, and their mean depths over the last ten minutes, from
        downstream.
        """
        rows, grid = self.flat.pipe_rows[identity(conduit)], self.flat.grid
        first = int(np.nonzero(grid.pipe_row == rows[0])[0][0])
        late = self.time >= self.time[-1] - 600.0
        depths = self.result.series.level[late][:, rows].mean(axis=0) - grid.pipe[BED, first : first + len(rows)]
        return (np.arange(len(rows)) + 0.5) * grid.pipe[LENGTH, first], depths[::-1]

    def speeds(self, conduit: str) -> np.ndarray:
        """Velocity at every face of a conduit at the end, from upstream."""
        first, last = self.flat.pipe_faces[identity(conduit)]
        return self.result.end.face[SPEED, first : last + 1]

    def start(self, conduit: str, heads: float = 1.0) -> float:
        """Level at which the grade line of a conduit begins at the end: what enters takes `heads` velocity heads."""
        node = next(c.upstream for id_, c in self.net.links.items() if id_ == identity(conduit))
        level = self.result.series.level[-1, self.flat.node_row[node]]
        return float(level - heads * self.speeds(conduit)[0] ** 2 / (2 * GRAVITY))

    def peak_time(self, node: str) -> float:
        return float(self.result.peaks.level.when[self.flat.node_row[identity(node)]])

    def volume(self, node: str) -> float:
        """Greatest volume that a node held, m3."""
        return float(self.result.peaks.volume[self.flat.node_row[identity(node)]])

    def at(self, values: np.ndarray, time: float) -> float:
        return float(np.interp(time, self.time, values))
