"""The network flattened into arrays: cells that hold water, faces that pass it, controls, and the elimination plan.

Rows 0 … n−1 of the level vector are cells (two or more for each pipe, one for each manhole, junction, pond or tank),
numbered in elimination order; rows n … are outfalls with a known level.
"""

import hashlib
import itertools
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from ..errors import ModelError
from ..model.network import FixedLevel, Junction, Manhole, Network, NormalDepth, Orifice, Outfall, Pipe, Storage, Weir
from .constants import GRAVITY, SOLVER_VERSION
from .controls import ORIFICE, PARAMETERS, WEIR
from .elimination import minimum_degree_order, plan
from .sections import SectionTable, section_table

__all__ = ["Flattened", "Grid", "flatten"]

_RAMP = 0.1  # m above cover over which the surface widens to the ponded area


class Grid(NamedTuple):
    """What the solver reads. `c` counts cells of one kind, `f` faces, `e` pipe ends, `k` controls."""

    cells: int
    # sections
    section_height: np.ndarray
    section_area: np.ndarray
    section_wetted: np.ndarray  # [section, depth, (area, effective R^(4/3))]
    section_integral: np.ndarray
    # pipe cells
    pipe_row: np.ndarray
    pipe_length: np.ndarray
    pipe_section: np.ndarray
    pipe_bed: np.ndarray  # bed at mid-cell; the lower end's where the cell rises downstream
    pipe_rise: np.ndarray  # bed rise of an adverse cell, else 0
    pipe_closing: np.ndarray  # depth at which the crown begins to close
    pipe_missing: np.ndarray  # area still open there
    pipe_fold: np.ndarray  # e-folding depth of the closing
    pipe_full: np.ndarray
    # node cells
    node_row: np.ndarray
    node_bed: np.ndarray
    node_table: np.ndarray
    table_depth: np.ndarray
    table_area: np.ndarray
    table_volume: np.ndarray
    # cells of both kinds, by row
    floor: np.ndarray
    crown: np.ndarray  # level above which a pipe cell's crown closes; +inf for nodes
    reference: np.ndarray  # volume that scales the error of a cell
    pressed: np.ndarray  # level above which a cell is under pressure: a pipe's crown, a node's lowest soffit
    surge: np.ndarray  # net flow that means pressure waves in such a cell
    # faces of pipes
    face_left: np.ndarray
    face_right: np.ndarray
    face_per_dx: np.ndarray
    face_section: np.ndarray
    face_gn2: np.ndarray
    face_bed_left: np.ndarray
    face_bed_right: np.ndarray
    face_entry: np.ndarray  # [face, 2] places of a[left, right] and a[right, left] in the matrix
    inner: np.ndarray  # faces between cells of one pipe
    end_face: np.ndarray
    end_cell: np.ndarray
    end_node: np.ndarray
    end_sign: np.ndarray  # +1 at a downstream end, −1 at an upstream end
    end_bed: np.ndarray
    end_cell_bed: np.ndarray
    end_loss: np.ndarray
    end_normal: np.ndarray  # drop of a normal-depth outfall over half a cell, else 0
    end_flap: np.ndarray
    face_cell_before: np.ndarray  # pipe cell index on the left, −1 for a node
    face_cell_after: np.ndarray
    # controls
    control_kind: np.ndarray
    control_up: np.ndarray
    control_down: np.ndarray
    control_flap: np.ndarray
    control_parameters: np.ndarray
    control_entry: np.ndarray
    # elimination
    start: np.ndarray
    column: np.ndarray
    pair_start: np.ndarray
    target: np.ndarray
    initial: np.ndarray  # level of every row before the storm


class Flattened(NamedTuple):
    """A grid with the way back from arrays to elements.

    node_row : row of the level vector for every node id. pipe_faces : first and last face of every pipe id.
    pipe_rows : rows of a pipe's cells. control_index : index of every control id. spill_index : of every node that
    loses its flood. storage : ids of ponds and tanks.
    """

    grid: Grid
    node_row: dict[str, int]
    pipe_faces: dict[str, tuple[int, int]]
    pipe_rows: dict[str, list[int]]
    control_index: dict[str, int]
    spill_index: dict[str, int]
    storage: list[str]
    digest: str


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
        for row, end in ((link.upstream, "upstream"), (link.downstream, "downstream")):
            node = network.nodes[row]
            if isinstance(link, Pipe) and not isinstance(node, Outfall):
                invert = link.upstream_invert if end == "upstream" else link.downstream_invert
                if invert < node.invert - 1e-6:
                    raise ModelError(
                        f"pipe {link.name}", f"{end}_invert",
                        f"{invert:.3f} m lies below the invert {node.invert:.3f} m of {node.kind} {node.name}",
                        "raise the pipe's end or lower the node's invert",
                    )  # fmt: skip


def _table(node: Manhole | Junction | Storage) -> tuple[list[float], list[float]]:
    """Depths and areas of a node, the ponded area above its cover included."""
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
    return depths, areas


def _closing(table: SectionTable, rise: float, half_drop: float) -> tuple[float, float, float]:
    """Depth at which the crown begins to close, the area still open there, and the e-folding depth."""
    height = table.height
    wanted = min(max(0.5 * half_drop / height, 0.15), 0.6) * height
    top = height + rise
    depths = np.linspace(0.0, top, 2001)[1:-1]
    grid = np.linspace(0.0, height, len(table.area))
    full = table.area[-1]
    if rise > 0.0:
        integral = lambda y: np.where(  # noqa: E731
            y > height, table.integral[-1] + full * (y - height), np.interp(np.maximum(y, 0.0), grid, table.integral)
        )
        area_at = lambda y: np.where(y >= height, full, np.interp(np.maximum(y, 0.0), grid, table.area))  # noqa: E731
        areas = (integral(depths) - integral(depths - rise)) / rise
        widths = (area_at(depths) - area_at(depths - rise)) / rise
    else:
        areas = np.interp(depths, grid, table.area)
        index = np.minimum((depths / height * (len(grid) - 1)).astype(int), len(grid) - 2)
        widths = np.diff(table.area)[index] / grid[1]
    fold = (full - areas) / np.maximum(widths, 1e-12)
    # the closing starts at the highest depth whose own fold is still as long as wanted
    enough = np.nonzero(fold >= wanted)[0]
    i = int(enough[-1]) if len(enough) else 0
    return float(depths[i]), float(full - areas[i]), float(fold[i])


def flatten(network: Network, spacing: float = 30.0) -> Flattened:
    """Arrays of a network with pipe cells of at most `spacing` m (two at least in every pipe).

    Raises
    ------
    ModelError
        Where the network cannot be computed: no outfall, levels upside down, a pipe below its node.
    """
    _reject(network)
    nodes = sorted(network.nodes.items())  # by id: a new name changes no result
    links = sorted(network.links.items())
    cell_nodes = [(i, n) for i, n in nodes if not isinstance(n, Outfall)]
    outfalls = [(i, n) for i, n in nodes if isinstance(n, Outfall)]
    pipes = [(i, p) for i, p in links if isinstance(p, Pipe)]
    controls = [(i, c) for i, c in links if not isinstance(c, Pipe)]
    spills = [(i, n) for i, n in cell_nodes if n.flooding == "lost"]

    counts = [max(2, int(np.ceil(p.length / spacing))) for _, p in pipes]
    n = len(cell_nodes) + sum(counts)
    number = {id_: k for k, (id_, _) in enumerate(cell_nodes)}
    number.update({id_: n + k for k, (id_, _) in enumerate(outfalls)})
    sink = n + len(outfalls)  # where lost floods go
    first_cell = len(cell_nodes) + np.concatenate([[0], np.cumsum(counts)]).astype(int)

    faces: list[tuple[int, int]] = []
    for k, (_, pipe) in enumerate(pipes):
        chain = [number[pipe.upstream], *range(first_cell[k], first_cell[k] + counts[k]), number[pipe.downstream]]
        faces.extend(itertools.pairwise(chain))
    control_ends = [(number[c.upstream], number[c.downstream]) for _, c in controls]
    control_ends += [(number[id_], sink) for id_, _ in spills]

    order = minimum_degree_order(n, [(a, b) for a, b in [*faces, *control_ends] if a < n and b < n])
    row = np.empty(sink + 1, int)
    row[order] = np.arange(n)
    row[n:] = np.arange(n, sink + 1)
    faces = [(int(row[a]), int(row[b])) for a, b in faces]
    control_ends = [(int(row[a]), int(row[b])) for a, b in control_ends]
    scheme = plan(n, [(a, b) for a, b in [*faces, *control_ends] if a < n and b < n])
    entry_of = {
        (i, int(scheme.column[p])): p for i in range(n) for p in range(int(scheme.start[i]), int(scheme.start[i + 1]))
    }

    tables: list[SectionTable] = []
    table_index: dict[str, int] = {}

    def section_of(pipe: Pipe) -> int:
        key = pipe.section.model_dump_json()
        if key not in table_index:
            table_index[key] = len(tables)
            tables.append(section_table(pipe.section))
        return table_index[key]

    floor, crown = np.zeros(sink + 1), np.full(sink + 1, np.inf)
    reference, surge = np.ones(sink + 1), np.full(sink + 1, np.inf)
    initial = np.zeros(sink + 1)
    cell: dict[str, list[float]] = {
        k: [] for k in ["row", "length", "section", "bed", "rise", "closing", "missing", "fold", "full"]
    }
    face: dict[str, list[float]] = {
        k: [] for k in ["per_dx", "section", "gn2", "bed_left", "bed_right", "before", "after"]
    }
    end: dict[str, list[float]] = {
        k: [] for k in ["face", "cell", "node", "sign", "bed", "cell_bed", "loss", "normal", "flap"]
    }
    inner: list[int] = []
    pipe_faces: dict[str, tuple[int, int]] = {}
    pipe_rows: dict[str, list[int]] = {}
    by_id = network.nodes
    for k, (id_, pipe) in enumerate(pipes):
        m, s = counts[k], section_of(pipe)
        dx = pipe.length / m
        beds = np.linspace(pipe.upstream_invert, pipe.downstream_invert, m + 1)
        first_face = len(face["gn2"])
        pipe_faces[id_] = (first_face, first_face + m)
        rows = [int(row[first_cell[k] + j]) for j in range(m)]
        pipe_rows[id_] = rows
        height, full = tables[s].height, float(tables[s].area[-1])
        first_index = len(cell["row"])
        rises = []
        for j in range(m):
            rise = beds[j + 1] - beds[j]
            rise = float(rise) if rise > 0.02 * height else 0.0
            rises.append(rise)
            closing, missing, fold = _closing(tables[s], rise, abs(float(beds[j + 1] - beds[j])) / 2)
            bed = float(min(beds[j], beds[j + 1])) if rise else float(beds[j] + beds[j + 1]) / 2
            for key, value in zip(cell, (rows[j], dx, s, bed, rise, closing, missing, fold, full), strict=True):
                cell[key].append(value)
            r = rows[j]
            floor[r] = initial[r] = bed
            crown[r] = bed + closing
            reference[r] = full * dx
            surge[r] = 1e-3 * full * np.sqrt(GRAVITY * height)
        for j in range(m + 1):
            at_end = j in (0, m)
            face["per_dx"].append(1.0 / (0.5 * dx if at_end else dx))
            face["section"].append(s)
            face["gn2"].append(GRAVITY * pipe.roughness**2)
            left, right = max(j - 1, 0), min(j, m - 1)
            # downhill the depth of the upwind cell counts, so that uniform flow is exact; uphill the sill of the face
            for side, j_cell in (("bed_left", left), ("bed_right", right)):
                middle = 0.5 * (beds[j_cell] + beds[j_cell + 1])
                face[side].append(beds[j] if rises[j_cell] else max(middle, beds[j]))
            face["before"].append(-1 if j == 0 else first_index + j - 1)
            face["after"].append(-1 if j == m else first_index + j)
            if not at_end:
                inner.append(first_face + j)
                continue
            node = by_id[pipe.upstream if j == 0 else pipe.downstream]
            gradient = pipe.gradient if j == m else -pipe.gradient
            is_normal = isinstance(node, Outfall) and isinstance(node.tail_water, NormalDepth)
            outward_only = j == m and (pipe.flap or (isinstance(node, Outfall) and node.flap))
            nearest = left if j == m else right
            for key, value in zip(
                end,
                (
                    first_face + j, rows[nearest], row[number[pipe.upstream if j == 0 else pipe.downstream]],
                    -1.0 if j == 0 else 1.0, beds[j],
                    face["bed_left" if j == m else "bed_right"][-1],
                    (pipe.entry_loss if j == 0 else pipe.exit_loss) / dx,
                    max(gradient, 1e-4) * 0.5 * dx if is_normal else 0.0, float(outward_only),
                ),
                strict=True,
            ):  # fmt: skip
                end[key].append(value)

    pressed = crown.copy()
    node_plain = np.zeros(n, dtype=bool)
    node_row, node_bed, node_start = [], [], [0]
    depths: list[float] = []
    areas: list[float] = []
    volumes: list[float] = []
    for id_, node in cell_nodes:
        r = int(row[number[id_]])
        y, a = _table(node)
        depths.extend(y)
        areas.extend(a)
        volumes.extend(np.concatenate([[0.0], np.cumsum(0.5 * (np.array(a[1:]) + a[:-1]) * np.diff(y))]).tolist())
        node_row.append(r)
        node_bed.append(node.invert)
        node_start.append(len(depths))
        floor[r] = node.invert
        node_plain[r] = not isinstance(node, Storage)
        standing = min(node.initial_depth, node.cover - node.invert) if isinstance(node, Storage) else 0.0
        initial[r] = node.invert + standing
        reference[r] = (0.1 if isinstance(node, Storage) else 0.5) * a[0]
    for id_, outfall in outfalls:
        r = number[id_]
        tail = outfall.tail_water
        initial[r] = tail.level if isinstance(tail, FixedLevel) else outfall.invert - 1000.0
        floor[r] = initial[r]
    initial[sink] = floor[sink] = -1e6

    kinds, flaps = [], []
    parameters = np.zeros((len(control_ends), PARAMETERS))
    for k, (_, control) in enumerate(controls):
        flaps.append(control.flap or any(isinstance(x := by_id[control.downstream], Outfall) and x.flap for _ in "1"))
        if isinstance(control, Orifice):
            kinds.append(ORIFICE)
            width = control.section.width if control.section.shape == "rectangular" else 0.0
            parameters[k] = control.invert, control.section.height, width, control.discharge_coefficient
        elif isinstance(control, Weir):
            kinds.append(WEIR)
            parameters[k, :3] = control.crest, control.length, control.coefficient
    for k, (_, node) in enumerate(spills, start=len(controls)):
        kinds.append(WEIR)
        flaps.append(False)
        # the rim of the shaft, or of a pond's bank, as a broad crest
        parameters[k, :3] = node.cover, 2.0 * np.sqrt(np.pi * _table(node)[1][-1]), 1.7

    # a shaft is under pressure with the pipes that meet there, and takes its error scale from them when it is small
    is_pipe = crown < np.inf
    for left_row, right_row in faces:
        for shaft, pipe_cell in ((left_row, right_row), (right_row, left_row)):
            if shaft >= n or is_pipe[shaft] or pipe_cell >= n or not is_pipe[pipe_cell]:
                continue
            reference[shaft] = max(reference[shaft], 0.25 * reference[pipe_cell])
            if node_plain[shaft]:
                pressed[shaft] = min(pressed[shaft], crown[pipe_cell])
                surge[shaft] = min(surge[shaft], surge[pipe_cell])

    def ints(values: Sequence[float]) -> np.ndarray:
        return np.array(values, dtype=np.int32)

    def floats(values: Sequence[float]) -> np.ndarray:
        return np.array(values, dtype=np.float64)

    def entries(pairs: list[tuple[int, int]]) -> np.ndarray:
        """Where a[left, right] and a[right, left] stand in the solver's matrix."""
        below = scheme.column.size
        found = np.full((len(pairs), 2), 2 * below, dtype=np.int32)
        for k, (a, b) in enumerate(pairs):
            if a < n and b < n:
                p = entry_of[min(a, b), max(a, b)]
                found[k] = (p, below + p) if a < b else (below + p, p)
        return found

    stack = tables or [SectionTable(1.0, np.zeros(401), np.ones(401), np.zeros(401))]
    grid = Grid(
        cells=n,
        section_height=floats([t.height for t in stack]), section_area=np.array([t.area for t in stack]),
        section_wetted=np.array([np.stack([t.area, t.radius43], axis=1) for t in stack]),
        section_integral=np.array([t.integral for t in stack]),
        pipe_row=ints(cell["row"]), pipe_length=floats(cell["length"]), pipe_section=ints(cell["section"]),
        pipe_bed=floats(cell["bed"]), pipe_rise=floats(cell["rise"]), pipe_closing=floats(cell["closing"]),
        pipe_missing=floats(cell["missing"]), pipe_fold=floats(cell["fold"]), pipe_full=floats(cell["full"]),
        node_row=ints(node_row), node_bed=floats(node_bed), node_table=ints(node_start), table_depth=floats(depths),
        table_area=floats(areas), table_volume=floats(volumes),
        floor=floor, crown=crown, pressed=pressed, reference=reference, surge=surge,
        face_left=ints([a for a, _ in faces]), face_right=ints([b for _, b in faces]),
        face_per_dx=floats(face["per_dx"]), face_section=ints(face["section"]), face_gn2=floats(face["gn2"]),
        face_bed_left=floats(face["bed_left"]), face_bed_right=floats(face["bed_right"]),
        face_entry=entries(faces), inner=ints(inner),
        end_face=ints(end["face"]), end_cell=ints(end["cell"]), end_node=ints(end["node"]),
        end_sign=floats(end["sign"]), end_bed=floats(end["bed"]), end_cell_bed=floats(end["cell_bed"]),
        end_loss=floats(end["loss"]), end_normal=floats(end["normal"]), end_flap=ints(end["flap"]),
        face_cell_before=ints(face["before"]), face_cell_after=ints(face["after"]),
        control_kind=ints(kinds), control_up=ints([a for a, _ in control_ends]),
        control_down=ints([b for _, b in control_ends]), control_flap=ints(flaps),
        control_parameters=parameters, control_entry=entries(control_ends),
        start=scheme.start, column=scheme.column, pair_start=scheme.pair_start, target=scheme.target, initial=initial,
    )  # fmt: skip
    digest = hashlib.sha256(f"solver {SOLVER_VERSION}".encode())
    for array in grid[1:]:
        digest.update(np.ascontiguousarray(array).tobytes())
    return Flattened(
        grid, {id_: int(row[k]) for id_, k in number.items()}, pipe_faces, pipe_rows,
        {id_: k for k, (id_, _) in enumerate(controls)},
        {id_: k for k, (id_, _) in enumerate(spills, start=len(controls))},
        [id_ for id_, node in cell_nodes if isinstance(node, Storage)], digest.hexdigest(),
    )  # fmt: skip
