"""Runs reduced to the figures that are kept of a storm."""

import numpy as np

from ..elements import Conduit, Outfall
from ..elements.figures import Figures
from ..hydraulics.layout import Flattened, held_at
from ..hydraulics.simulate import StormRun
from ..model.network import Network

__all__ = ["DEEP_FLOOD", "Reduction"]

DEEP_FLOOD = 0.5
"""m of water standing above a cover, from which a flood would not stay where the model holds it."""


class Reduction:
    """Reduces runs on one network to figures; looks up once where everything stands in the solver's arrays.

    nodes, links : sorted ids, the order of the figures. cells_of : of each conduit, its own of the figures of cells,
    from upstream. cover : float64[node], m above which water stands above the ground, nan of outfalls; open_cover : the
    same in the open, nan of sealed manholes too.
    """

    def __init__(self, network: Network, flat: Flattened):
        self.nodes, self.links = sorted(network.nodes), sorted(network.links)
        grid, faces = flat.grid, flat.grid.left.size
        nodes = [network.nodes[id_] for id_ in self.nodes]
        rows = np.array([flat.node_row[id_] for id_ in self.nodes])
        self._outfalls = np.nonzero([isinstance(node, Outfall) for node in nodes])[0]
        self._cells = np.nonzero([not isinstance(node, Outfall) for node in nodes])[0]
        self._outfall_flow = faces + rows[self._outfalls] - grid.cells
        self._row = rows[self._cells]
        self._spills = np.array([i for i, id_ in enumerate(self.nodes) if id_ in flat.spill_face], dtype=int)
        self._spill_face = np.array([flat.spill_face[self.nodes[i]] for i in self._spills], dtype=int)
        at = {id_: i for i, id_ in enumerate(self.nodes)}
        self._stores = np.array([at[id_] for id_ in flat.storage], dtype=int)
        self._soaks = [(at[id_], faces) for id_, faces in flat.infiltration_faces.items() if id_ in at]
        self.cover = np.array([np.nan if isinstance(n, Outfall) else n.spill_level for n in nodes], float)
        sealed = np.array([getattr(n, "sealed", False) for n in nodes], bool)
        self.open_cover = np.where(sealed, np.nan, self.cover)
        table_of = {int(row): k for k, row in enumerate(grid.node_row)}
        cover, held = [], []
        for i in self._cells:
            node = nodes[i]
            assert not isinstance(node, Outfall)
            k = table_of[int(rows[i])]
            table = grid.node[:, grid.node_table[k] : grid.node_table[k + 1]]
            cover.append(node.spill_level)
            held.append(held_at(table, np.array(node.spill_level - node.invert)))
        self._cover, self._held_at_cover = np.array(cover), np.array(held)

        pipes = [(i, link) for i, id_ in enumerate(self.links) if isinstance(link := network.links[id_], Conduit)]
        pipes.sort(key=lambda item: flat.pipe_faces[self.links[item[0]]])  # faces of pipes stand side by side
        self._pipes = np.array([i for i, _ in pipes], dtype=int)
        spans = [flat.pipe_faces[self.links[i]] for i in self._pipes]
        self._face = np.array([flat.control_face.get(id_, -1) for id_ in self.links], dtype=int)
        self._face[self._pipes] = [last for _, last in spans]
        self._face_starts = np.array([first for first, _ in spans], dtype=int)
        link_at = {id_: i for i, id_ in enumerate(self.links)}
        by_control = {face - grid.face.shape[1]: id_ for id_, face in flat.control_face.items()}
        self._stations = np.array([link_at[by_control[int(k)]] for k in grid.power[0]], dtype=int)
        self._first_face = self._face.copy()
        self._first_face[self._pipes] = self._face_starts
        self._soffits = flat.soffits
        # of the conduits by id, each from upstream
        rows_of = [(id_, flat.pipe_rows[id_]) for id_ in self.links if id_ in flat.pipe_rows]
        self._cell_rows = np.array([row for _, own in rows_of for row in own], dtype=int)
        ends = np.cumsum([0, *(len(own) for _, own in rows_of)])
        self.cells_of = {id_: slice(int(a), int(b)) for (id_, _), a, b in zip(rows_of, ends, ends[1:], strict=False)}

    def figures(self, key: str, run: StormRun) -> Figures:
        """Reduce a run to the figures that are kept."""
        peaks, n, m = run.peaks, len(self.nodes), len(self.links)
        level, level_time, outflow, outflow_time, left = (np.full(n, np.nan) for _ in range(5))
        outflow[self._outfalls] = peaks.flow.steady[self._outfall_flow]
        outflow_time[self._outfalls] = peaks.flow.when[self._outfall_flow]
        left[self._outfalls] = peaks.passed[self._outfall_flow]
        level[self._cells] = peaks.level.steady[self._row]
        level_time[self._cells] = peaks.level.when[self._row]
        flooded = np.zeros(n)
        above = np.maximum(0.0, peaks.volume[self._row] - self._held_at_cover)
        flooded[self._cells] = np.where(peaks.level.steady[self._row] > self._cover, above, 0.0)
        flooded[self._spills] = peaks.passed[self._spill_face]

        taken, half_drain, volume, infiltrated = (np.full(n, np.nan) for _ in range(4))
        tally = run.tally
        taken[self._stores] = tally.peak - tally.rest
        entering, entering_time, leaving, leaving_time = (np.full(n, np.nan) for _ in range(4))
        entering[self._stores], entering_time[self._stores] = tally.entering
        leaving[self._stores], leaving_time[self._stores] = tally.leaving
        half_drain[self._stores] = tally.half - peaks.level.when[tally.stores]
        volume[self._cells] = peaks.volume[self._row]
        for i, own in self._soaks:
            infiltrated[i] = peaks.passed[own].sum()
        passed_at = np.full((tally.marks.size, n + m), np.nan)
        passed_at[:, self._outfalls] = tally.passed[:, self._outfall_flow]
        passed_at[:, n:] = tally.passed[:, self._face]

        speed, clearance, clearance_time, surcharged = (np.full(m, np.nan) for _ in range(4))
        if self._pipes.size:
            speed[self._pipes] = np.maximum.reduceat(peaks.speed, self._face_starts)
            places = self._soffits
            gaps = places.level - peaks.level.steady[places.row]
            times = peaks.level.when[places.row]
            least = np.minimum.reduceat(gaps, places.start[:-1])
            counts = np.diff(places.start)
            clearance[self._pipes] = least
            # the earliest of the places where the least is found
            first = np.where(gaps == np.repeat(least, counts), times, np.inf)
            clearance_time[self._pipes] = np.minimum.reduceat(first, places.start[:-1])
            surcharged[self._pipes] = tally.surcharged
        down, up = peaks.flow.steady[self._face], peaks.flow.steady[self._first_face]
        times = (peaks.flow.when[self._face], peaks.flow.when[self._first_face])
        energy = np.full(m, np.nan)
        energy[self._stations] = tally.energy
        swaying, swing = peaks.level.oscillation.copy(), peaks.flow.oscillation[self._face]
        # where a void of a conduit closes, its pressure sways for a while: it counts as far as its peak sways
        inside = peaks.level.top[self._cell_rows] - peaks.level.steady[self._cell_rows]
        swaying[self._cell_rows] = np.minimum(swaying[self._cell_rows], np.maximum(inside, 0.0))
        summary = {
            "before": run.balance.before, "entered": run.balance.entered, "left": run.balance.left,
            "lost": run.balance.lost, "infiltrated": run.balance.infiltrated, "after": run.balance.after,
            "stored": run.balance.after - run.balance.before, "balance_error": run.balance.error,
            "end_time": run.end_time, "steps": run.steps, "rejected": run.rejected, "iterations": run.iterations,
            "smallest_step": run.smallest_step, "smallest_at": run.smallest_at, "smallest_row": run.smallest_row,
            "events": run.events, "link_oscillation": float(swing.max(initial=0.0)),
            "link_oscillation_at": int(swing.argmax()) if swing.size else -1,
            "oscillation": float(swaying.max(initial=0.0)),
            "oscillation_row": int(swaying.argmax()) if swaying.size else -1,
        }  # fmt: skip
        return Figures(
            key, level, level_time, flooded, outflow, outflow_time, left, taken, entering, entering_time, leaving,
            leaving_time, half_drain, volume, infiltrated,
            marks=tally.marks, passed_at=passed_at, passed=peaks.passed[self._face],
            flow=np.maximum(down, up), flow_time=np.where(up > down, times[1], times[0]), flow_up=up, flow_down=down,
            speed=speed, clearance=clearance, clearance_time=clearance_time, surcharged=surcharged, swing=swing,
            energy=energy, cells=peaks.level.steady[self._cell_rows],
            summary=summary,
        )  # fmt: skip
