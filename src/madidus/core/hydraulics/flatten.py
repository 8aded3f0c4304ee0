"""From the network of elements to the arrays of the solver."""

import hashlib
import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..constants import GRAVITY
from ..elements import Cell, Conduit, Control, FixedLevel, LevelSeries, NormalDepth, Outfall, Store
from ..elements.document import DocumentModel
from ..elements.geometry import SectionTable
from ..errors import ModelError
from ..model.network import Network
from ..quantities import Quantity, said
from .conduits import Sections, arrivals, contraction, is_still, lost_downstream, lost_upstream
from .control_rows import ControlRows
from .elimination import Elimination, minimum_degree_order, plan
from .ends import end_parts
from .layout import COVER, CROWN, FINE, FLOOR, INITIAL, PRESSED, REFERENCE, SURGE, Flattened, Grid
from .rest import stand_at_tail_waters
from .soffits import soffits_of
from .stores import initial_level, node_table
from .version import SOLVER

__all__ = ["flatten", "reject"]

# Volumes by which the error of a step is measured, as shares: of what a cell of an open conduit holds; of a metre of a
# store's base, or of this much of its area at the cover; of a metre of a shaft, and of the cells beside it. Chosen by
# trial: they set the length of steps alone.
_OF_OPEN, _OF_STORE, _OF_COVER, _OF_SHAFT, _OF_BESIDE = 0.25, 0.04, 0.3, 0.5, 0.25
_SURGE = 3e-3  # of A √(g D), full: a net flow into a cell beyond it means pressure waves; chosen by trial
_LOWEST = -1e6  # m, below everything
# m, last correction of a level; the ledger carries what is left, but a store may take minutes to rise by a millimetre
_TOLERANCE, _TOLERANCE_OF_STORE = 4e-3, 3e-4


def reject(network: Network) -> None:
    """Refuse what cannot be computed.

    Raises
    ------
    ModelError
        No link, no outfall, levels upside down, a conduit below its node, water that would leave an outfall.
    """
    if not network.links:
        raise ModelError("network", "links", "has no pipe or control", "add a pipe to an outfall")
    if not any(isinstance(node, Outfall) for node in network.nodes.values()):
        raise ModelError("network", "nodes", "has no outfall", "end a pipe at an outfall")
    for id_, node in network.nodes.items():
        if not isinstance(node, Outfall) and node.cover <= node.invert:
            raise ModelError(
                network.label(id_),
                "cover",
                said(Quantity(node.cover, "m", 3), " is not above the invert ", Quantity(node.invert, "m", 3)),
                "raise the cover or lower the invert",
            )
        if not isinstance(node, Outfall) and node.spill_level <= node.invert:
            raise ModelError(
                network.label(id_),
                "rim_ground",
                said(Quantity(node.spill_level, "m", 3), " is not above its base ", Quantity(node.invert, "m", 3)),
                "lower the base, build a bank, or move the outline",
            )
    for id_, link in network.links.items():
        if isinstance(network.nodes[link.upstream], Outfall):
            raise ModelError(
                network.label(id_), "upstream", f"begins at outfall {network.nodes[link.upstream].name}",
                "turn it round, or begin it at another node",
            )  # fmt: skip
        if not isinstance(link, Conduit):
            continue
        for end, at, invert in (
            (link.upstream, "upstream", link.upstream_invert), (link.downstream, "downstream", link.downstream_invert),
        ):  # fmt: skip
            node = network.nodes[end]
            if not isinstance(node, Outfall) and invert < node.invert - 1e-6:
                raise ModelError(
                    network.label(id_), f"{at}_invert",
                    said(
                        Quantity(invert, "m", 3), " lies below the invert ", Quantity(node.invert, "m", 3),
                        f" of {network.label(end)}",
                    ),
                    "raise its end or lower the node's invert",
                )  # fmt: skip


@dataclass(frozen=True)
class _Numbering:
    """Which row and which face everything has.

    Elements go by what the solver sees of them, so that neither names nor ids nor their order in a file change a result
    by as much as rounding: where branches fill, that grows to millimetres.
    """

    nodes: list[tuple[str, Cell]]
    outfalls: list[tuple[str, Outfall]]
    pipes: list[tuple[str, Conduit]]
    controls: list[tuple[str, Control]]
    spills: list[tuple[str, Cell]]
    infiltrating: list[tuple[str, np.ndarray, float]]  # id, curve and bed of every cell that loses water to the ground
    row: dict[str, int]  # of a node's id
    pipe_rows: dict[str, list[int]]
    pairs: list[tuple[int, int]]  # left and right row of every face
    cells: int
    scheme: Elimination

    @property
    def sink(self) -> int:
        return self.cells + len(self.outfalls)

    @property
    def first_control(self) -> int:
        return sum(len(rows) + 1 for rows in self.pipe_rows.values())


_NOT_SEEN = {"name", "x", "y", "bends", "base", "rim", "upstream", "downstream"}


def _alike(element: DocumentModel) -> str:
    """The same for elements that the solver cannot tell from each other."""
    return element.model_dump_json(exclude=_NOT_SEEN)


def _number(network: Network, spacing: float, finer: int) -> _Numbering:
    seen = {id_: _alike(node) for id_, node in network.nodes.items()}
    nodes = sorted(network.nodes.items(), key=lambda item: (seen[item[0]], item[0]))
    links = sorted(
        network.links.items(),
        key=lambda item: (_alike(item[1]), seen[item[1].upstream], seen[item[1].downstream], item[0]),
    )
    cell_nodes = [(i, n) for i, n in nodes if not isinstance(n, Outfall)]
    outfalls = [(i, n) for i, n in nodes if isinstance(n, Outfall)]
    pipes = [(i, p) for i, p in links if isinstance(p, Conduit)]
    controls = [(i, c) for i, c in links if not isinstance(c, Conduit)]
    spills = [(i, n) for i, n in cell_nodes if n.flooding == "lost" and not getattr(n, "sealed", False)]

    counts = [finer * max(2, int(np.ceil(p.length / spacing))) for _, p in pipes]
    n = len(cell_nodes) + sum(counts)
    sink = n + len(outfalls)
    number = {id_: k for k, (id_, _) in enumerate(cell_nodes)}
    number.update({id_: n + k for k, (id_, _) in enumerate(outfalls)})
    fresh = iter(range(len(cell_nodes), n))
    chains = [[next(fresh) for _ in range(count)] for count in counts]
    along = [[number[p.upstream], *chain, number[p.downstream]] for (_, p), chain in zip(pipes, chains, strict=True)]
    across = [(number[c.upstream], number[c.downstream]) for _, c in controls]
    across += [(number[id_], sink) for id_, _ in spills]
    infiltrating: list[tuple[str, np.ndarray, float]] = []
    for id_, node in cell_nodes:
        if isinstance(node, Store) and (curve := node.infiltrated()) is not None:
            infiltrating.append((id_, curve, node.invert))
            across.append((number[id_], sink))
    for (id_, pipe), chain in zip(pipes, chains, strict=True):
        curve = pipe.infiltrated(pipe.length / len(chain))
        if curve is not None:
            floor = pipe.bed_levels(len(chain))
            infiltrating += [(id_, curve, float(bed)) for bed in 0.5 * (floor[1:] + floor[:-1])]
            across += [(cell, sink) for cell in chain]

    edges = [*itertools.chain.from_iterable(itertools.pairwise(line) for line in along), *across]
    order = minimum_degree_order(n, [(a, b) for a, b in edges if a < n and b < n])
    row = list(range(sink + 1))
    for k, old in enumerate(order):
        row[old] = k
    # pipes and nodes follow their rows, so that the solver walks through memory and does not leap
    by_row = sorted(range(len(pipes)), key=lambda k: min(row[c] for c in chains[k]))
    pipes, chains, along = [pipes[k] for k in by_row], [chains[k] for k in by_row], [along[k] for k in by_row]
    cell_nodes = sorted(cell_nodes, key=lambda item: row[number[item[0]]])
    pairs = [(row[a], row[b]) for line in along for a, b in itertools.pairwise(line)]
    pairs += [(row[a], row[b]) for a, b in across]
    return _Numbering(
        cell_nodes, outfalls, pipes, controls, spills, infiltrating,
        {id_: row[k] for id_, k in number.items()},
        {id_: [row[k] for k in chain] for (id_, _), chain in zip(pipes, chains, strict=True)},
        pairs, n, plan(n, [(a, b) for a, b in pairs if a < n and b < n]),
    )  # fmt: skip


def _columns(rows: Sequence[Sequence[float]], count: int) -> np.ndarray:
    """Records as the columns of an array of `count` rows."""
    return np.ascontiguousarray(np.array(rows, dtype=np.float64).reshape(len(rows), count).T)


def _indices(rows: Sequence[Sequence[int]], count: int) -> np.ndarray:
    return np.ascontiguousarray(np.array(rows, dtype=np.int32).reshape(len(rows), count).T)


def _storage(table: SectionTable) -> tuple[np.ndarray, np.ndarray]:
    return np.linspace(0.0, table.height, len(table.storage)), table.storage


def _pipe_parts(numbering: _Numbering, network: Network, cell: np.ndarray) -> dict[str, np.ndarray]:
    """Cells, faces and ends of the pipes; fills their columns of `cell`."""
    sections = Sections()
    arriving = arrivals(network)
    pipe_row: list[int] = []
    pipe_section: list[int] = []
    pipe_face: list[int] = []
    cells: list[tuple[float, ...]] = []
    faces: list[tuple[float, ...]] = []
    face_index: list[tuple[int, int, int]] = []
    ends: list[tuple[float, ...]] = []
    jets: list[float] = []
    runs: list[tuple[float, float]] = []
    end_index: list[tuple[int, ...]] = []
    inner: list[int] = []
    for id_, pipe in numbering.pipes:
        rows, s = numbering.pipe_rows[id_], sections.index(pipe)
        table = sections.tables[s]
        m, height, full = len(rows), pipe.height, float(np.interp(pipe.height, *_storage(table)))
        dx = pipe.length / m
        bed_of = pipe.bed_levels(m)
        first_face, first_cell = len(faces), len(cells)
        # the bed falls evenly: all cells of a pipe close alike
        closing, missing, fold = sections.crowns[s].closing(abs(float(bed_of[1] - bed_of[0])) / 2)
        for j, r in enumerate(rows):
            bed = float(0.5 * (bed_of[j] + bed_of[j + 1]))
            cells.append((dx, bed, closing, missing, fold, full))
            pipe_row.append(r)
            pipe_section.append(s)
            pipe_face.append(first_face + j)
            cell[[FLOOR, INITIAL], r] = bed
            cell[[CROWN, PRESSED], r] = bed + closing
            cell[REFERENCE, r] = full * dx * (_OF_OPEN if table.is_open else 1.0)
            if table.is_open:
                cell[COVER, r] = bed + height
            cell[SURGE, r] = _SURGE * full * np.sqrt(GRAVITY * height)
        for j in range(m + 1):
            left, right = max(j - 1, 0), min(j, m - 1)
            # downhill the depth of the upwind cell counts, so that uniform flow is exact; uphill the sill of the face:
            # which way a conduit is drawn makes no difference
            side = [max(0.5 * (bed_of[i] + bed_of[i + 1]), bed_of[j]) for i in (left, right)]
            faces.append(((1.0 if 0 < j < m else 2.0) / dx, GRAVITY * pipe.roughness**2, *side))
            face_index.append((s, first_cell + j - 1 if j > 0 else -1, first_cell + j if j < m else -1))
            if 0 < j < m:
                inner.append(first_face + j)
        upper, lower = lost_upstream(network, pipe, arriving), lost_downstream(network, pipe, arriving)
        for j, at, lost in ((0, pipe.upstream, upper), (m, pipe.downstream, lower)):
            node, last = network.nodes[at], j == m
            gradient = float(bed_of[-2] - bed_of[-1] if last else bed_of[1] - bed_of[0]) / dx
            normal = isinstance(node, Outfall) and isinstance(node.tail_water, NormalDepth)
            outward = last and (pipe.flap or (isinstance(node, Outfall) and node.flap))
            drop = max(gradient, 1e-4) * 0.5 * dx if normal else 0.0
            cell_bed = faces[first_face + j][2 if last else 3]
            ends.append((1.0 if last else -1.0, bed_of[j], cell_bed, *lost, drop, 0.0, 0.0))
            row = rows[-1 if last else 0]
            end_index.append((first_face + j, row, numbering.row[at], int(outward), 0, -1, 0))
            edge = (pipe.exit_loss or 0.0) if last else pipe.entry_loss
            jets.append(0.0 if table.is_open else contraction(edge))
            fall = float(bed_of[0] - bed_of[-1])
            runs.append((pipe.length, fall if last else -fall))
    arrays, face, of_faces = sections.arrays(), _columns(faces, 4), _indices(face_index, 3)
    still = {row for id_, row in numbering.row.items() if is_still(network, id_, arriving)}
    return {
        "pipe_row": np.array(pipe_row, dtype=np.uint32), "pipe_section": np.array(pipe_section, dtype=np.uint32),
        "pipe_face": np.array(pipe_face, dtype=np.uint32),
        "pipe": _columns(cells, 6), "face": face, "face_index": of_faces, "inner": np.array(inner, dtype=np.uint32),
        **end_parts(
            arrays, face, of_faces, _columns(ends, 8), _indices(end_index, 7), still, np.array(jets), _columns(runs, 2)
        ),
        **arrays,
    }  # fmt: skip


def _node_parts(numbering: _Numbering, cell: np.ndarray) -> dict[str, np.ndarray]:
    """Tables of the nodes; fills their columns of `cell`, and those of the outfalls."""
    tables = [node_table(node) for _, node in numbering.nodes]
    for (id_, node), table in zip(numbering.nodes, tables, strict=True):
        r, is_store = numbering.row[id_], isinstance(node, Store)
        cell[[FLOOR, INITIAL, COVER], r] = node.invert, initial_level(node), node.spill_level
        if is_store:
            cell[FINE, r] = 1.0 / _TOLERANCE_OF_STORE
        at_cover = float(np.interp(node.spill_level - node.invert, table[0], table[1]))
        cell[REFERENCE, r] = _OF_STORE * max(table[1, 0], _OF_COVER * at_cover) if is_store else _OF_SHAFT * table[1, 0]
    tides = []
    for id_, outfall in numbering.outfalls:
        tail, level = outfall.tail_water, outfall.invert - 1000.0
        tides.append(np.zeros((2, 0)))
        if isinstance(tail, FixedLevel):
            level = tail.level
        elif isinstance(tail, LevelSeries):
            tides[-1] = np.array([[row.time for row in tail.rows], [row.level for row in tail.rows]])
            level = tail.rows[0].level
        cell[[FLOOR, INITIAL], numbering.row[id_]] = level
    cell[[FLOOR, INITIAL], numbering.sink] = _LOWEST

    # a shaft is under pressure with the pipes that meet there, and takes its error scale from them when it is small
    stores = {numbering.row[id_] for id_, node in numbering.nodes if isinstance(node, Store)}
    is_pipe = np.zeros(cell.shape[1], dtype=bool)
    is_pipe[list(itertools.chain.from_iterable(numbering.pipe_rows.values()))] = True
    for pair in numbering.pairs[: numbering.first_control]:
        for shaft, neighbour in (pair, pair[::-1]):
            if shaft < numbering.cells and not is_pipe[shaft] and is_pipe[neighbour]:
                cell[REFERENCE, shaft] = max(cell[REFERENCE, shaft], _OF_BESIDE * cell[REFERENCE, neighbour])
                if shaft not in stores:
                    cell[PRESSED, shaft] = min(cell[PRESSED, shaft], cell[CROWN, neighbour])
    return {
        "node_row": np.array([numbering.row[id_] for id_, _ in numbering.nodes], dtype=np.uint32),
        "node_bed": np.array([node.invert for _, node in numbering.nodes], dtype=np.float64),
        "node_table": np.cumsum([0, *(table.shape[1] for table in tables)], dtype=np.uint32),
        "node": np.ascontiguousarray(np.concatenate(tables, axis=1)) if tables else np.zeros((3, 0)),
        "tide": np.ascontiguousarray(np.concatenate(tides, axis=1)),
        "tide_start": np.cumsum([0, *(tide.shape[1] for tide in tides)], dtype=np.int32),
    }


def _control_parts(numbering: _Numbering, network: Network) -> dict[str, np.ndarray]:
    rows = ControlRows()
    for _, control in numbering.controls:
        below = network.nodes[control.downstream]
        floors = [network.nodes[control.upstream].invert, *([] if isinstance(below, Outfall) else [below.invert])]
        rows.tapered = control.draws_from < max(floors)
        control.write(rows, control.flap or (isinstance(below, Outfall) and below.flap))
    rows.tapered = False
    for _, node in numbering.spills:
        rows.rim(node.spill_level, 2.0 * np.sqrt(np.pi * node_table(node)[1, -1]))
    for _, curve, bed in numbering.infiltrating:
        rows.infiltrate(curve, bed)
    return rows.arrays()


def _entries(numbering: _Numbering) -> np.ndarray:
    """Where a[left, right] and a[right, left] of every face stand in the solver's matrix; else a place nobody reads."""
    scheme, n = numbering.scheme, numbering.cells
    place = {
        (i, int(scheme.column[p])): p for i in range(n) for p in range(int(scheme.start[i]), int(scheme.start[i + 1]))
    }
    below = scheme.column.size
    found = np.full((2, len(numbering.pairs)), 2 * below, dtype=np.uint32)
    for k, (a, b) in enumerate(numbering.pairs):
        if a < n and b < n:
            p = place[min(a, b), max(a, b)]
            found[:, k] = (p, below + p) if a < b else (below + p, p)
    return found


def flatten(network: Network, spacing: float = 30.0, finer: int = 1) -> Flattened:
    """Arrays of a network with pipe cells of at most `spacing` m (two at least in every pipe), each cut in `finer`.

    Raises
    ------
    ModelError
        Where the network cannot be computed: no outfall, levels upside down, a pipe below its node.
    """
    reject(network)
    numbering = _number(network, spacing, finer)
    cell = np.zeros((8, numbering.sink + 1))
    cell[[CROWN, PRESSED, SURGE, COVER]] = np.inf
    cell[REFERENCE] = 1.0
    cell[FINE] = 1.0 / _TOLERANCE
    pairs = np.array(numbering.pairs, dtype=np.uint32)
    scheme = numbering.scheme
    grid = Grid(
        cells=numbering.cells, cell=cell,
        **_pipe_parts(numbering, network, cell), **_node_parts(numbering, cell), **_control_parts(numbering, network),
        left=np.ascontiguousarray(pairs[:, 0]), right=np.ascontiguousarray(pairs[:, 1]), entry=_entries(numbering),
        start=scheme.start, column=scheme.column, pair_start=scheme.pair_start, target=scheme.target,
    )  # fmt: skip
    at_rest = stand_at_tail_waters(grid)
    digest = hashlib.sha256(f"solver {SOLVER}".encode())
    for array in grid[1:]:
        digest.update(np.ascontiguousarray(array).tobytes())
    first, pipe_faces = 0, {}
    for id_, rows in numbering.pipe_rows.items():
        pipe_faces[id_] = (first, first + len(rows))
        first += len(rows) + 1
    after_spills = first + len(numbering.controls) + len(numbering.spills)
    ground: dict[str, list[int]] = {}
    for face, (id_, _, _) in enumerate(numbering.infiltrating, start=after_spills):
        ground.setdefault(id_, []).append(face)
    return Flattened(
        grid, numbering.row, pipe_faces, numbering.pipe_rows,
        {id_: k for k, (id_, _) in enumerate(numbering.controls, start=first)},
        {id_: k for k, (id_, _) in enumerate(numbering.spills, start=first + len(numbering.controls))},
        ground, [id_ for id_, node in numbering.nodes if isinstance(node, Store)],
        soffits_of(network, numbering.pipe_rows, numbering.row, grid.cells), digest.hexdigest(), at_rest,
    )  # fmt: skip
