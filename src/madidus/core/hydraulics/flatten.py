"""From the network of elements to the arrays of the solver."""

import hashlib
import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import ModelError
from ..model.network import FixedLevel, Junction, Manhole, Network, NormalDepth, Orifice, Outfall, Pipe, Storage, Weir
from .constants import GRAVITY, INTERVALS, SOLVER_VERSION
from .controls import ORIFICE, PARAMETERS, WEIR
from .elimination import Elimination, minimum_degree_order, plan
from .layout import CROWN, FLOOR, INITIAL, PRESSED, REFERENCE, SURGE, Flattened, Grid
from .sections import SectionTable, crown_closing, section_table

__all__ = ["flatten"]

_RAMP = 0.1  # m above cover over which the surface widens to the ponded area
_LOWEST = -1e6  # m, below everything

Cell = Manhole | Junction | Storage


def _reject(network: Network) -> None:
    if not network.links:
        raise ModelError("network", "links", "has no pipe or control", "lay a pipe to an outfall")
    if not any(isinstance(node, Outfall) for node in network.nodes.values()):
        raise ModelError("network", "nodes", "has no outfall", "end a pipe at an outfall")
    for node in network.nodes.values():
        if not isinstance(node, Outfall) and node.cover <= node.invert:
            raise ModelError(
                f"{node.kind} {node.name}", "cover", f"{node.cover:.3f} m is not above the invert {node.invert:.3f} m",
                "raise the cover or lower the invert",
            )  # fmt: skip
    for link in network.links.values():
        if not isinstance(link, Pipe):
            continue
        for id_, end, invert in (
            (link.upstream, "upstream", link.upstream_invert), (link.downstream, "downstream", link.downstream_invert),
        ):  # fmt: skip
            node = network.nodes[id_]
            if not isinstance(node, Outfall) and invert < node.invert - 1e-6:
                raise ModelError(
                    f"pipe {link.name}", f"{end}_invert",
                    f"{invert:.3f} m lies below the invert {node.invert:.3f} m of {node.kind} {node.name}",
                    "raise the pipe's end or lower the node's invert",
                )  # fmt: skip


def _node_table(node: Cell) -> np.ndarray:
    """DEPTH, AREA and VOLUME_AT of a node, the ponded area above its cover included."""
    depth = node.cover - node.invert
    if isinstance(node, Storage):
        depths = [row.depth for row in node.table]
        areas = [row.area for row in node.table]
        at_cover = float(np.interp(depth, depths, areas))
        keep = [i for i, y in enumerate(depths) if y < depth - 1e-9]
        depths, areas = [depths[i] for i in keep] + [depth], [areas[i] for i in keep] + [at_cover]
        above = max(at_cover, node.ponded_area)
    else:
        depths, areas, above = [0.0, depth], [node.plan_area, node.plan_area], max(node.ponded_area, node.plan_area)
    if node.flooding == "stored" and above > areas[-1]:
        depths, areas = [*depths, depth + _RAMP], [*areas, above]
    volumes = np.concatenate([[0.0], np.cumsum(0.5 * (np.array(areas[1:]) + areas[:-1]) * np.diff(depths))])
    return np.array([depths, areas, volumes])


@dataclass(frozen=True)
class _Numbering:
    """Which row and which face everything has. Elements go by id, so that a new name changes no result."""

    nodes: list[tuple[str, Cell]]
    outfalls: list[tuple[str, Outfall]]
    pipes: list[tuple[str, Pipe]]
    controls: list[tuple[str, Orifice | Weir]]
    spills: list[tuple[str, Cell]]
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


def _number(network: Network, spacing: float) -> _Numbering:
    nodes = sorted(network.nodes.items())
    links = sorted(network.links.items())
    cell_nodes = [(i, n) for i, n in nodes if not isinstance(n, Outfall)]
    outfalls = [(i, n) for i, n in nodes if isinstance(n, Outfall)]
    pipes = [(i, p) for i, p in links if isinstance(p, Pipe)]
    controls = [(i, c) for i, c in links if not isinstance(c, Pipe)]
    spills = [(i, n) for i, n in cell_nodes if n.flooding == "lost"]

    counts = [max(2, int(np.ceil(p.length / spacing))) for _, p in pipes]
    n = len(cell_nodes) + sum(counts)
    sink = n + len(outfalls)
    number = {id_: k for k, (id_, _) in enumerate(cell_nodes)}
    number.update({id_: n + k for k, (id_, _) in enumerate(outfalls)})
    fresh = iter(range(len(cell_nodes), n))
    chains = [[next(fresh) for _ in range(count)] for count in counts]
    along = [[number[p.upstream], *chain, number[p.downstream]] for (_, p), chain in zip(pipes, chains, strict=True)]
    across = [(number[c.upstream], number[c.downstream]) for _, c in controls]
    across += [(number[id_], sink) for id_, _ in spills]

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
        cell_nodes, outfalls, pipes, controls, spills,
        {id_: row[k] for id_, k in number.items()},
        {id_: [row[k] for k in chain] for (id_, _), chain in zip(pipes, chains, strict=True)},
        pairs, n, plan(n, [(a, b) for a, b in pairs if a < n and b < n]),
    )  # fmt: skip


class _Sections:
    """Tables of the sections in use, each once."""

    def __init__(self) -> None:
        self.tables: list[SectionTable] = []
        self._index: dict[str, int] = {}

    def index(self, pipe: Pipe) -> int:
        key = pipe.section.model_dump_json()
        if key not in self._index:
            self._index[key] = len(self.tables)
            self.tables.append(section_table(pipe.section))
        return self._index[key]

    def arrays(self) -> dict[str, np.ndarray]:
        tables = self.tables or [SectionTable(1.0, np.zeros(2), np.ones(2), np.ones(2), np.zeros(2))]
        return {
            "section_height": np.array([t.height for t in tables]),
            "section_per": np.array([INTERVALS / t.height for t in tables]),
            "section_area": np.array([t.area for t in tables]),
            "section_wetted": np.array([np.stack([t.area, t.radius43, t.mean_depth], axis=1) for t in tables]),
            "section_integral": np.array([t.integral for t in tables]),
        }


def _columns(rows: Sequence[Sequence[float]], count: int) -> np.ndarray:
    """Records as the columns of an array of `count` rows."""
    return np.ascontiguousarray(np.array(rows, dtype=np.float64).reshape(len(rows), count).T)


def _indices(rows: Sequence[Sequence[int]], count: int) -> np.ndarray:
    return np.ascontiguousarray(np.array(rows, dtype=np.int32).reshape(len(rows), count).T)


def _pipe_parts(numbering: _Numbering, network: Network, cell: np.ndarray) -> dict[str, np.ndarray]:
    """Cells, faces and ends of the pipes; fills their columns of `cell`."""
    sections = _Sections()
    pipe_row: list[int] = []
    pipe_section: list[int] = []
    cells: list[tuple[float, ...]] = []
    faces: list[tuple[float, ...]] = []
    face_index: list[tuple[int, int, int]] = []
    ends: list[tuple[float, ...]] = []
    end_index: list[tuple[int, int, int, int]] = []
    inner: list[int] = []
    for id_, pipe in numbering.pipes:
        rows, s = numbering.pipe_rows[id_], sections.index(pipe)
        table = sections.tables[s]
        m, height, full = len(rows), table.height, float(table.area[-1])
        dx = pipe.length / m
        beds = np.linspace(pipe.upstream_invert, pipe.downstream_invert, m + 1)
        first_face, first_cell = len(faces), len(cells)
        rises = [float(d) if d > 0.02 * height else 0.0 for d in np.diff(beds)]
        # the bed falls evenly: all cells of a pipe close alike
        closing, missing, fold = crown_closing(table, rises[0], abs(float(beds[1] - beds[0])) / 2)
        for j, r in enumerate(rows):
            bed = float(min(beds[j], beds[j + 1]) if rises[j] else 0.5 * (beds[j] + beds[j + 1]))
            cells.append((dx, bed, rises[j], closing, missing, fold, full))
            pipe_row.append(r)
            pipe_section.append(s)
            cell[[FLOOR, INITIAL], r] = bed
            cell[[CROWN, PRESSED], r] = bed + closing
            cell[REFERENCE, r] = full * dx
            cell[SURGE, r] = 3e-3 * full * np.sqrt(GRAVITY * height)
        for j in range(m + 1):
            left, right = max(j - 1, 0), min(j, m - 1)
            # downhill the depth of the upwind cell counts, so that uniform flow is exact; uphill the sill of the face
            side = [
                beds[j] if rises[i] else max(0.5 * (beds[i] + beds[i + 1]), beds[j]) for i in (left, right)
            ]  # fmt: skip
            faces.append(((1.0 if 0 < j < m else 2.0) / dx, GRAVITY * pipe.roughness**2, *side))
            face_index.append((s, first_cell + j - 1 if j > 0 else -1, first_cell + j if j < m else -1))
            if 0 < j < m:
                inner.append(first_face + j)
        for j, at, loss in ((0, pipe.upstream, pipe.entry_loss), (m, pipe.downstream, pipe.exit_loss)):
            node, last = network.nodes[at], j == m
            gradient = pipe.gradient if last else -pipe.gradient
            normal = isinstance(node, Outfall) and isinstance(node.tail_water, NormalDepth)
            outward = last and (pipe.flap or (isinstance(node, Outfall) and node.flap))
            drop = max(gradient, 1e-4) * 0.5 * dx if normal else 0.0
            cell_bed = faces[first_face + j][2 if last else 3]
            ends.append((1.0 if last else -1.0, beds[j], cell_bed, loss / dx, drop))
            end_index.append((first_face + j, rows[-1 if last else 0], numbering.row[at], int(outward)))
    return {
        "pipe_row": np.array(pipe_row, dtype=np.int32), "pipe_section": np.array(pipe_section, dtype=np.int32),
        "pipe": _columns(cells, 7), "face": _columns(faces, 4), "face_index": _indices(face_index, 3),
        "inner": np.array(inner, dtype=np.int32), "end": _columns(ends, 5), "end_index": _indices(end_index, 4),
        **sections.arrays(),
    }  # fmt: skip


def _node_parts(numbering: _Numbering, cell: np.ndarray) -> dict[str, np.ndarray]:
    """Tables of the nodes; fills their columns of `cell`, and those of the outfalls."""
    tables = [_node_table(node) for _, node in numbering.nodes]
    for (id_, node), table in zip(numbering.nodes, tables, strict=True):
        r, is_store = numbering.row[id_], isinstance(node, Storage)
        standing = min(node.initial_depth, node.cover - node.invert) if isinstance(node, Storage) else 0.0
        cell[FLOOR, r], cell[INITIAL, r] = node.invert, node.invert + standing
        cell[REFERENCE, r] = (0.1 if is_store else 0.5) * table[1, 0]
    for id_, outfall in numbering.outfalls:
        tail = outfall.tail_water
        level = tail.level if isinstance(tail, FixedLevel) else outfall.invert - 1000.0
        cell[[FLOOR, INITIAL], numbering.row[id_]] = level
    cell[[FLOOR, INITIAL], numbering.sink] = _LOWEST

    # a shaft is under pressure with the pipes that meet there, and takes its error scale from them when it is small
    stores = {numbering.row[id_] for id_, node in numbering.nodes if isinstance(node, Storage)}
    is_pipe = cell[CROWN] < np.inf
    for pair in numbering.pairs[: numbering.first_control]:
        for shaft, neighbour in (pair, pair[::-1]):
            if shaft < numbering.cells and not is_pipe[shaft] and is_pipe[neighbour]:
                cell[REFERENCE, shaft] = max(cell[REFERENCE, shaft], 0.25 * cell[REFERENCE, neighbour])
                if shaft not in stores:
                    cell[PRESSED, shaft] = min(cell[PRESSED, shaft], cell[CROWN, neighbour])
    return {
        "node_row": np.array([numbering.row[id_] for id_, _ in numbering.nodes], dtype=np.int32),
        "node_bed": np.array([node.invert for _, node in numbering.nodes], dtype=np.float64),
        "node_table": np.cumsum([0, *(table.shape[1] for table in tables)], dtype=np.int32),
        "node": np.ascontiguousarray(np.concatenate(tables, axis=1)) if tables else np.zeros((3, 0)),
    }


def _control_parts(numbering: _Numbering, network: Network) -> dict[str, np.ndarray]:
    kinds: list[tuple[int, int]] = []
    parameters: list[tuple[float, ...]] = []
    for _, control in numbering.controls:
        below = network.nodes[control.downstream]
        flap = int(control.flap or (isinstance(below, Outfall) and below.flap))
        if isinstance(control, Orifice):
            width = control.section.width if control.section.shape == "rectangular" else 0.0
            kinds.append((ORIFICE, flap))
            parameters.append((control.invert, control.section.height, width, control.discharge_coefficient))
        else:
            kinds.append((WEIR, flap))
            parameters.append((control.crest, control.length, control.coefficient, 0.0))
    for _, node in numbering.spills:
        # the rim of the shaft, or of a pond's bank, as a broad crest
        kinds.append((WEIR, 0))
        parameters.append((node.cover, 2.0 * np.sqrt(np.pi * _node_table(node)[1, -1]), 1.7, 0.0))
    return {
        "control": _indices(kinds, 2),
        "parameters": np.array(parameters, dtype=np.float64).reshape(len(parameters), PARAMETERS),
    }


def _entries(numbering: _Numbering) -> np.ndarray:
    """Where a[left, right] and a[right, left] of every face stand in the solver's matrix; else a place nobody reads."""
    scheme, n = numbering.scheme, numbering.cells
    place = {
        (i, int(scheme.column[p])): p for i in range(n) for p in range(int(scheme.start[i]), int(scheme.start[i + 1]))
    }
    below = scheme.column.size
    found = np.full((2, len(numbering.pairs)), 2 * below, dtype=np.int32)
    for k, (a, b) in enumerate(numbering.pairs):
        if a < n and b < n:
            p = place[min(a, b), max(a, b)]
            found[:, k] = (p, below + p) if a < b else (below + p, p)
    return found


def flatten(network: Network, spacing: float = 30.0) -> Flattened:
    """Arrays of a network with pipe cells of at most `spacing` m (two at least in every pipe).

    Raises
    ------
    ModelError
        Where the network cannot be computed: no outfall, levels upside down, a pipe below its node.
    """
    _reject(network)
    numbering = _number(network, spacing)
    cell = np.zeros((6, numbering.sink + 1))
    cell[[CROWN, PRESSED, SURGE]] = np.inf
    cell[REFERENCE] = 1.0
    pairs = np.array(numbering.pairs, dtype=np.int32)
    scheme = numbering.scheme
    grid = Grid(
        cells=numbering.cells, cell=cell,
        **_pipe_parts(numbering, network, cell), **_node_parts(numbering, cell), **_control_parts(numbering, network),
        left=np.ascontiguousarray(pairs[:, 0]), right=np.ascontiguousarray(pairs[:, 1]), entry=_entries(numbering),
        start=scheme.start, column=scheme.column, pair_start=scheme.pair_start, target=scheme.target,
    )  # fmt: skip
    digest = hashlib.sha256(f"solver {SOLVER_VERSION}".encode())
    for array in grid[1:]:
        digest.update(np.ascontiguousarray(array).tobytes())
    first, pipe_faces = 0, {}
    for id_, rows in numbering.pipe_rows.items():
        pipe_faces[id_] = (first, first + len(rows))
        first += len(rows) + 1
    return Flattened(
        grid, numbering.row, pipe_faces, numbering.pipe_rows,
        {id_: k for k, (id_, _) in enumerate(numbering.controls, start=first)},
        {id_: k for k, (id_, _) in enumerate(numbering.spills, start=first + len(numbering.controls))},
        [id_ for id_, node in numbering.nodes if isinstance(node, Storage)], digest.hexdigest(),
    )  # fmt: skip
