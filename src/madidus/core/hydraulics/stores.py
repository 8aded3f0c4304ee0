"""What nodes hold: depth–area tables of shafts and stores, and what soaks away from them."""

import numpy as np

from ..model.nodes import Basin, Infiltration, Inlet, Junction, Manhole, Node, Outfall, Stone, Storage, Store

__all__ = ["Cell", "ground_curve", "initial_level", "node_table", "soaking_wall"]

_RAMP = 0.1  # m above cover over which the surface widens to the ponded area
_STANDPIPE = 0.01  # of the plan area, in which water rises above a sealed cover
_CONE_TOP = 2.0  # m above cover up to which a cone is followed
_TAPER = 0.002  # m of depth over which infiltration begins
_LEAST_AREA = 0.01  # m2
_JUMP = 5e-4  # m above and below the top of level stone, over which the area changes to that of the cover layer

Cell = Manhole | Junction | Inlet | Storage | Basin | Stone


def _stone_areas(stone: Stone, depth: np.ndarray) -> np.ndarray:
    """Voids per m of level: those of the stone where level water stands in it, those of the cover layer over it."""
    if stone.base_slope == 0.0:
        wet, over = np.full_like(depth, stone.length), np.where(depth > stone.stone_depth, stone.length, 0.0)
    else:
        wet = np.minimum(depth / stone.base_slope, stone.length)
        over = np.clip((depth - stone.stone_depth) / stone.base_slope, 0.0, stone.length)
    return np.asarray(stone.width * (stone.porosity * (wet - over) + stone.cover_porosity * over))


def _up_to_cover(node: Cell) -> tuple[np.ndarray, np.ndarray]:
    """Depths and plan areas from the invert to the cover."""
    top = node.cover - node.invert
    if isinstance(node, Storage):
        depths = np.array([row.depth for row in node.table])
        areas = np.array([row.area for row in node.table])
        keep = depths < top - 1e-9
        return np.append(depths[keep], top), np.append(areas[keep], np.interp(top, depths, areas))
    if isinstance(node, Basin):
        area, perimeter, corners = node.outline
        depths = np.linspace(0.0, top, 41)
        outward = node.side_slope * depths
        return depths, area + perimeter * outward + corners * outward**2
    if isinstance(node, Stone):
        rise = node.base_slope * node.length
        marks = [0.0, rise, node.stone_depth, node.stone_depth + rise]
        if rise == 0.0:  # the area jumps where the stone ends
            marks = [0.0, node.stone_depth - _JUMP, node.stone_depth + _JUMP]
        depths = np.unique(np.clip(marks, 0.0, top))
        depths = np.append(depths[depths < top - 1e-9], top)
        return depths, np.maximum(_stone_areas(node, depths), _LEAST_AREA)
    return np.array([0.0, top]), np.full(2, node.area)


def node_table(node: Cell) -> np.ndarray:
    """Depths, areas and volumes of a node, the water above its cover included: float64[3, row]."""
    depths, areas = _up_to_cover(node)
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


def _tapered(depths: np.ndarray, wetted: np.ndarray, infiltration: Infiltration) -> np.ndarray:
    """Curve of depth and outflow; over the first 2 mm of depth it rises from nothing."""
    flows = infiltration.rate / infiltration.safety_factor * wetted
    start = np.interp(_TAPER, depths, flows)
    keep = depths > _TAPER
    return np.array([[0.0, _TAPER, *depths[keep]], [0.0, start, *flows[keep]]])


def soaking_wall(depths: np.ndarray, base: np.ndarray, sides: np.ndarray, infiltration: Infiltration) -> np.ndarray:
    """Depth–outflow curve from the wetted base and sides (m2) at each depth."""
    wetted = {"base": base, "sides": sides, "both": base + sides}[infiltration.through]
    return _tapered(depths, wetted, infiltration)


def ground_curve(store: Store) -> np.ndarray | None:
    """Depth and outflow into the ground, float64[2, row]; None where nothing soaks away.

    The base is that of the empty store (under stone on a slope, what is wet of it); the sides are those of a level
    rectangle, of the mitred outline, or of a square of the same area.
    """
    if store.infiltration is None:
        return None
    assert isinstance(store, Storage | Basin | Stone)
    depths = np.linspace(0.0, store.cover - store.invert, 61)
    if isinstance(store, Stone):
        wet = np.minimum(depths / store.base_slope, store.length) if store.base_slope else np.full(61, store.length)
        deep = np.minimum(depths, store.stone_depth)  # no water soaks away through the sides of the cover layer
        mean = np.minimum(depths - 0.5 * store.base_slope * wet, deep)  # over the wet part of the base
        far = np.minimum(np.maximum(depths - store.base_slope * store.length, 0.0), deep)
        base, sides = wet * store.width, 2.0 * wet * mean + store.width * (deep + far)
    else:
        known, areas = _up_to_cover(store)
        area = np.interp(depths, known, areas)
        around = 4.0 * np.sqrt(area)
        if isinstance(store, Basin):
            _, perimeter, corners = store.outline
            around = perimeter + 2.0 * corners * store.side_slope * depths
        up, out = np.diff(depths), np.diff(area)
        mean = 0.5 * (around[1:] + around[:-1])
        base, sides = np.full(61, areas[0]), np.append(0.0, np.cumsum(np.hypot(mean * up, out)))
    return soaking_wall(depths, base, sides, store.infiltration)


def initial_level(node: Node) -> float:
    """Level before the storm: standing water of a store, else the invert."""
    assert not isinstance(node, Outfall)
    return node.invert + (min(node.initial_depth, node.cover - node.invert) if isinstance(node, Store) else 0.0)
