"""The flattened network: cells that hold water, faces that pass it, and the names of the columns in their arrays.

Rows 0 … n−1 of the level vector are cells (two or more for each pipe, one for each manhole, junction, pond or tank),
numbered in elimination order; rows n … are outfalls with a known level, and last the sink of lost floods. Faces are
those of the pipes first (in each pipe from its upstream end down), then the controls.

Arrays are few and wide because compiled code receives each of them at every call. Indices are unsigned where none is
−1: compiled code then asks of none whether it counts from the end.
"""

from typing import NamedTuple

import numpy as np

from .soffits import Soffits

__all__ = ["Flattened", "Grid", "held_at"]

# rows of Grid.pipe, by pipe cell
LENGTH, BED, CLOSING, MISSING, FOLD, FULL = range(6)
# rows of Grid.node, by row of a node's table
DEPTH, AREA, VOLUME_AT = range(3)
# rows of Grid.cell, by row of the level vector
FLOOR, CROWN, REFERENCE, PRESSED, SURGE, INITIAL, COVER, FINE = range(8)
# rows of Grid.face and Grid.face_index, by face of a pipe
PER_DX, GN2, BED_LEFT, BED_RIGHT = range(4)
SECTION, BEFORE, AFTER = range(3)
# rows of Grid.end and Grid.end_index, by end of a pipe
SIGN, END_BED, CELL_BED, LOST_IN, LOST_OUT, NORMAL, EXIT_PER, STREAM_PER = range(8)
FACE, CELL, NODE, OUTWARD, ENTRY, STREAM, MIXES = range(7)
# rows of Grid.control, by control; TAPERED 1 where it lies below a floor, and ceases with the water over it
KIND, FLAP, CURVE, TAPERED = range(4)


class Grid(NamedTuple):
    """What the solver reads.

    pipe : LENGTH; BED at mid-cell; CLOSING depth at which the crown begins to close, MISSING area still open there,
    FOLD e-folding depth; FULL area.
    cell : FLOOR lowest level; CROWN level at which a pipe cell begins to close, +inf for nodes; REFERENCE volume that
    scales the error of a step; PRESSED level above which a cell is under pressure (a pipe's crown, a node's lowest
    one); SURGE net flow that means pressure waves in a pipe cell; INITIAL level; COVER
    above which a node floods or an open conduit is over its bank, else +inf; FINE 1/m, of the level to which Newton's
    iteration is carried.
    face : PER_DX 1/m; GN2 g n²; BED_LEFT, BED_RIGHT bed for the upwind depth. face_index : SECTION; BEFORE and AFTER
    pipe cell on either side, −1 for a node.
    end : SIGN +1 at a downstream end, −1 at an upstream one; END_BED, CELL_BED; LOST_IN velocity heads by which the
    level falls from the node to the start of the conduit when water enters it, without the one that sets in motion
    what rests in the node; LOST_OUT the same out of it (−1: wholly regained); NORMAL drop of a normal-depth outfall
    over half a cell, else 0; EXIT_PER intervals per m of its row in `exit`, STREAM_PER per m3/s of that in `stream`.
    end_index : FACE; CELL and NODE rows; OUTWARD 1 where a flap lets nothing in; ENTRY first of its two rows in
    `entry_bound`; STREAM end whose stream a benched node carries straight into this one, else −1; MIXES 1 where other
    conduits may bring a part of what enters in motion.
    """

    cells: int
    # sections, over depth/height
    section_height: np.ndarray  # float64[section]
    section_per: np.ndarray  # float64[section], intervals of the tables per m
    section_area: np.ndarray  # float64[section, INTERVALS + 1], what the section holds
    section_wetted: np.ndarray  # float64[section, INTERVALS + 1, 3], flowing area, effective R^(4/3), mean depth
    # cells
    pipe_row: np.ndarray
    pipe_section: np.ndarray
    pipe_face: np.ndarray  # face on the upstream side; that on the downstream side follows it
    pipe: np.ndarray
    node_row: np.ndarray
    node_bed: np.ndarray
    node_table: np.ndarray  # first row of the node's table in `node`
    node: np.ndarray
    cell: np.ndarray
    # faces
    left: np.ndarray  # rows on both sides, pipes' faces and controls
    right: np.ndarray
    entry: np.ndarray  # [2, face] places of a[left, right] and a[right, left] in the matrix
    face: np.ndarray
    face_index: np.ndarray
    inner: np.ndarray  # faces between cells of one pipe
    end: np.ndarray
    end_index: np.ndarray
    exit: np.ndarray  # float64[end, END_INTERVALS + 1], squares of velocities, see `ends`
    entry_bound: np.ndarray  # float64[2 entry, END_INTERVALS + 1], the same: all arrives in motion, or nothing does
    entry_per: np.ndarray  # float64[2 entry], intervals of its rows per m
    stream: np.ndarray  # float64[end, END_INTERVALS + 1], momentum over density of what arrives, m4/s2, over its flow
    control: np.ndarray
    parameters: np.ndarray  # float64[control, PARAMETERS]
    switch: np.ndarray  # float64[unit, 2], levels at which pumps start and stop
    switch_index: np.ndarray  # [unit, 2], control and bit of its state
    power: np.ndarray  # int64[2, station], control, and its first curve of power (W); of those whose energy is counted
    curve: np.ndarray  # float64[2, point], head and flow of all curves
    curve_start: np.ndarray  # first point of each curve, and the end
    tide: np.ndarray  # float64[2, point], time and level of the waters outside
    tide_start: np.ndarray  # first point of each outfall, and the end
    # elimination
    start: np.ndarray
    column: np.ndarray
    pair_start: np.ndarray
    target: np.ndarray


class Flattened(NamedTuple):
    """A grid with the way back from arrays to elements.

    node_row : row of the level vector for every node id. pipe_faces : first and last face of every pipe id.
    pipe_rows : rows of a conduit's cells. control_face : face of every control id. spill_face : of every node that
    loses its flood. infiltration_faces : of every store or conduit that infiltrates. storage : ids of what stores.
    soffits : of conduits, in the order of their faces.
    digest : of all that the solver sees. at_rest : nothing moves before a storm; else waters of different levels meet.
    """

    grid: Grid
    node_row: dict[str, int]
    pipe_faces: dict[str, tuple[int, int]]
    pipe_rows: dict[str, list[int]]
    control_face: dict[str, int]
    spill_face: dict[str, int]
    infiltration_faces: dict[str, list[int]]
    storage: list[str]
    soffits: Soffits
    digest: str
    at_rest: bool

    def name_of(self, row: int) -> str:
        """Id of the element that a row of the level vector belongs to; empty for the sink."""
        for id_, node_row in self.node_row.items():
            if node_row == row:
                return id_
        return next((id_ for id_, rows in self.pipe_rows.items() if row in rows), "")


def held_at(table: np.ndarray, depth: np.ndarray) -> np.ndarray:
    """What a node holds at depths (m), m3, as the solver has it: area is linear between rows, constant above the last.

    table : float64[3, row], a node's part of `Grid.node`.
    """
    k = np.clip(np.searchsorted(table[DEPTH], depth, side="right") - 1, 0, None)
    after = np.minimum(k + 1, table.shape[1] - 1)
    x, step = np.maximum(depth - table[DEPTH, k], 0.0), table[DEPTH, after] - table[DEPTH, k]
    slope = (table[AREA, after] - table[AREA, k]) / np.where(step > 0.0, step, 1.0)
    return np.asarray(table[VOLUME_AT, k] + (table[AREA, k] + 0.5 * slope * x) * x)
