"""Runoff of every catchment of a network, gathered at its nodes."""

import itertools
from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_matrix

from ..hydraulics.inflow import Inflow
from ..hydraulics.thinning import kept
from ..model.network import Catchment, Network
from ..surface.methods import RainBlocks, RunoffSurface, UnitRunoff, lagged_excess, unit_runoff_of
from ..surface.runoff import Coefficient, Losses, Method, Runoff, UnitHydrograph
from ..surface.stretches import stretches
from ..surface.time_area import mean_intensities
from .gather import add_inflows, pass_inlets

__all__ = [
    "Account",
    "account",
    "counted_area",
    "inflows",
    "kinds_of",
    "running_off",
    "surface_of",
    "time_of",
    "unit_runoff_at",
    "yields",
]

_LEAST, _MOST = 60.0, 86_400.0  # s, as times that are typed
_TENTH = 6.0  # s, a tenth of a minute: computed times are no finer
_MOST_TIMES = 240
_THINNED = 1e-3  # of a hydrograph's peak, that straight lines between fewer times may miss


def time_of(catchment: Catchment, values: Runoff) -> float:
    """Time of concentration in s: computed to a tenth of a minute, typed, or the project's; never under the least."""
    if catchment.timing is not None:
        minutes = sum(stretches(catchment.timing, catchment.area).values())
        time = round(60.0 * minutes / _TENTH) * _TENTH
    else:
        time = values.time_of_entry if catchment.time_of_entry is None else catchment.time_of_entry
    return min(max(time, values.least_time, _LEAST), _MOST)


def surface_of(catchment: Catchment, values: Runoff) -> RunoffSurface:
    """What decides how a catchment runs off: its own values, or else the project's; paved ground grown by creep.

    A computed time of concentration is that of the unit hydrograph too.
    """
    method, entry = catchment.method or values.method, time_of(catchment, values)
    if isinstance(method, UnitHydrograph):
        time = entry if catchment.timing is not None else max(method.concentration, values.least_time)
        method = method if time == method.concentration else method.model_copy(update={"concentration": time})
    return RunoffSurface(method=method, paved=min(1.0, _paved(catchment, values)), entry=entry)


def _paved(catchment: Catchment, values: Runoff) -> float:
    """Paved ground with urban creep, as a share of the catchment's area; more than 1 where it grows beyond it."""
    return catchment.impervious * (1.0 + (values.creep if catchment.creep is None else catchment.creep))


def counted_area(catchment: Catchment, values: Runoff) -> float:
    """Area that runs off, m2: once all of a catchment is paved, creep grows beyond its outline.

    A curve number knows no paved ground, and creep does not change it.
    """
    if isinstance(catchment.method or values.method, UnitHydrograph):
        return catchment.area
    return catchment.area * max(1.0, _paved(catchment, values))


def running_off(catchment: Catchment, values: Runoff) -> float:
    """Share of its area that counts as running off: the greater coefficients of summer and winter; where its method has
    none, paved ground counts whole and green ground not at all.
    """
    ground = surface_of(catchment, values)
    paved, green = 1.0, 0.0
    if isinstance(ground.method, Coefficient):
        both = [values.coefficients(ground.method, season) for season in ("summer", "winter")]
        paved, green = max(p for p, _ in both), max(g for _, g in both)
    return paved * ground.paved + green * (1.0 - ground.paved)


Kinds = list[tuple[RunoffSurface, dict[str, float]]]
"""Kinds of ground that there are, each with its area (m2) by node."""


def kinds_of(network: Network, values: Runoff) -> Kinds:
    """RunoffSurface that is alike in all but its area goes together: few kinds make up all catchments.

    Catchments without a node give nothing and are left out; so are those that run over others, or that others run
    over: each of them is like no other.
    """
    apart = _apart(network)
    written: dict[int, tuple[Method, str]] = {}  # a method is most often the project's own: it is written out once
    alike: dict[tuple[str, float, float], tuple[RunoffSurface, dict[str, float]]] = {}
    for id_, catchment in network.catchments.items():
        if catchment.node is None or id_ in apart:
            continue
        for ground, share in surface_of(catchment, values).parts():
            if share <= 0.0:
                continue
            method = ground.method
            if id(method) not in written:
                written[id(method)] = (method, method.model_dump_json())
            _, areas = alike.setdefault((written[id(method)][1], ground.paved, ground.entry), (ground, {}))
            areas[catchment.node] = areas.get(catchment.node, 0.0) + share * counted_area(catchment, values)
    return [kind for _, kind in sorted(alike.items(), key=lambda item: item[0])]


def yields(kinds: Kinds, values: Runoff, rain: RainBlocks) -> list[tuple[UnitRunoff, dict[str, float]]]:
    """Runoff of a square metre of each kind of ground, with the area of it by node."""
    return [(unit_runoff_of(ground, values, rain), areas) for ground, areas in kinds]


def _apart(network: Network) -> set[str]:
    over = {id_: c.over for id_, c in network.catchments.items() if c.over is not None}
    return {*over, *over.values()}


@dataclass(frozen=True)
class _Rain:
    times: np.ndarray
    intensity: np.ndarray
    season: str


def _with_run_on(rain: RainBlocks, onto: list[tuple[UnitRunoff, float]]) -> RainBlocks:
    """Rain and what runs on, as rain. onto : each yield with its area over that of the ground it runs over."""
    step = float(np.diff(rain.times).min())
    end = max(float(rain.times[-1]), *(float(one.times[-1]) for one, _ in onto))
    edges = rain.times[0] + np.arange(np.ceil((end - rain.times[0]) / step - 1e-9) + 1) * step
    fallen = np.concatenate([[0.0], np.cumsum(rain.intensity * np.diff(rain.times))])  # mm/h s
    gathered = np.interp(edges, rain.times, fallen)
    for one, share in onto:
        times = np.union1d(edges, one.times)
        flow = np.interp(times, one.times, one.flow, left=0.0, right=0.0)
        ran = np.concatenate([[0.0], np.cumsum(0.5 * (flow[1:] + flow[:-1]) * np.diff(times))])
        gathered += np.interp(edges, times, ran) * share * 3.6e6
    return _Rain(edges, np.diff(gathered) / step, rain.season)


def unit_runoff_at(network: Network, id_: str, values: Runoff, rain: RainBlocks) -> UnitRunoff:
    """Runoff of a square metre of a catchment, with what others let run over it."""
    catchment = network.catchments[id_]
    onto = [
        (
            unit_runoff_at(network, other, values, rain),
            counted_area(ground, values) / counted_area(catchment, values),
        )
        for other, ground in network.catchments.items()
        if ground.over == id_
    ]
    return unit_runoff_of(surface_of(catchment, values), values, _with_run_on(rain, onto) if onto else rain)


def _run_over(network: Network, values: Runoff, rain: RainBlocks) -> list[tuple[UnitRunoff, dict[str, float]]]:
    """Runoff of the catchments that others run over, at their nodes."""
    last = [(id_, network.catchments[id_]) for id_ in sorted(_apart(network)) if network.catchments[id_].over is None]
    return [
        (unit_runoff_at(network, id_, values, rain), {c.node: counted_area(c, values)})
        for id_, c in last
        if c.node is not None
    ]


@dataclass(frozen=True)
class Account:
    """Where the rain on a network's catchments goes in a storm, m3. Runoff is what enters nodes.

    fallen = undrained + lost (by kind of ground and loss) + kept (held on the ground when it is no longer followed) +
    ran. undrained : fell on catchments that drain nowhere. lost : by its name.
    """

    fallen: float
    undrained: float
    lost: dict[str, float]
    kept: float
    ran: float


def _lost_by(ground: RunoffSurface) -> str:
    """What takes the rain of a kind of ground that does not run off."""
    method = ground.method
    if isinstance(method, UnitHydrograph):
        return "curve number"
    paved = "paved ground" if ground.paved >= 1.0 else "green ground" if ground.paved <= 0.0 else "ground"
    if isinstance(method, Coefficient):
        return f"runoff coefficient, {paved}"
    if ground.paved >= 1.0:
        return "wetting of paved ground"
    return f"{method.green.kind.replace('_', ' ')} loss, green ground"


def account(network: Network, values: Runoff, rain: RainBlocks) -> Account:
    """The rain of a storm on the catchments of a network, and where it goes; by the same runoff as `inflows`."""
    depth = float((rain.intensity * np.diff(rain.times)).sum()) / 3.6e6  # m
    every = network.catchments.values()
    onto = _apart(network)
    drains = {id_: c.node is not None or c.over is not None for id_, c in network.catchments.items()}
    lost: dict[str, float] = {}
    kept = ran = 0.0

    def take(one: UnitRunoff, area: float, name: str, fallen: float) -> None:
        nonlocal kept, ran
        lost[name] = lost.get(name, 0.0) + max(fallen - one.runoff * area - one.kept * area, 0.0)
        kept += one.kept * area
        ran += one.runoff * area

    for ground, areas in kinds_of(network, values):
        area = sum(areas.values())
        take(unit_runoff_of(ground, values, rain), area, _lost_by(ground), depth * area)
    for id_ in sorted(onto):
        catchment = network.catchments[id_]
        one = unit_runoff_at(network, id_, values, rain)
        # what runs on from others has fallen there; what goes on to the next is no runoff of the network yet
        came = sum(
            unit_runoff_at(network, other, values, rain).runoff * counted_area(c, values)
            for other, c in network.catchments.items() if c.over == id_
        )  # fmt: skip
        area = counted_area(catchment, values)
        take(one, area, _lost_by(surface_of(catchment, values)), depth * area + came)
        if catchment.over is not None:
            ran -= one.runoff * area
    undrained = depth * sum(counted_area(c, values) for id_, c in network.catchments.items() if not drains[id_])
    return Account(depth * sum(counted_area(c, values) for c in every), undrained, lost, kept, ran)


def _grid(rain: RainBlocks, end: float) -> np.ndarray:
    """Times to follow many hydrographs at, where all their own would be too many: close in the rain, then wider."""
    parts = max(1, _MOST_TIMES // (2 * len(rain.intensity)))
    inner = np.interp(np.arange(parts * len(rain.intensity) + 1) / parts, np.arange(len(rain.times)), rain.times)
    last, tail = float(rain.times[-1]), end - float(rain.times[-1])
    if tail <= 0.0:
        return np.asarray(inner)
    after = last + np.geomspace(min(inner[-1] - inner[-2], tail), tail, _MOST_TIMES // 2)
    return np.unique(np.concatenate([inner, after]))


def inflows(
    network: Network, values: Runoff, rain: RainBlocks, began: float = 0.0, kinds: Kinds | None = None
) -> Inflow:
    """Hydrographs at the nodes: runoff, and what enters besides.

    Straight lines join the times at which any of them bends; where those are too many, a grid of times does, with the
    volume of each hydrograph kept; times between which straight lines say the same to 0.1 % of the peak are left out.
    began : s, when the rain begins on the nodes' own clocks. kinds : of the network's
    ground, where they are at hand.
    """
    every = kinds_of(network, values) if kinds is None else kinds
    lagged = [kind for kind in every if isinstance(kind[0].method, Coefficient | Losses)]
    found = yields([kind for kind in every if not isinstance(kind[0].method, Coefficient | Losses)], values, rain)
    found += _run_over(network, values, rain)
    entries = sorted({ground.entry for ground, _ in lagged})
    bends = [rain.times, *(rain.times + entry for entry in entries), *(one.times for one, _ in found)]
    times = np.unique(np.round(np.concatenate(bends), 6))
    finest = max((one.times for one, _ in found), key=len, default=rain.times)
    if times.size > max(_MOST_TIMES, 3 * rain.times.size, 2 * finest.size):
        times = np.union1d(_grid(rain, float(times[-1])), np.round(finest, 6))
    columns = [np.interp(times, one.times, one.flow, left=0.0, right=0.0)[:, None] for one, _ in found]
    volumes, areas = [one.runoff for one, _ in found], [areas for _, areas in found]
    excesses: dict[tuple[int, float], np.ndarray] = {}
    for (method, paved), group in itertools.groupby(lagged, key=lambda kind: (id(kind[0].method), kind[0].paved)):
        alike = list(group)
        if (method, paved) not in excesses:
            excesses[method, paved] = lagged_excess(alike[0][0], values, rain)[0]
        excess = excesses[method, paved]
        windows = np.array([ground.entry for ground, _ in alike])
        rate = excess / np.diff(rain.times) * 3600.0
        columns.append(mean_intensities(rain.times, rate, windows, times) / 3.6e6)
        volumes += [float(excess.sum()) * 1e-3] * len(alike)
        areas += [area for _, area in alike]
    nodes = sorted({node for area in areas for node in area})
    if not nodes:
        none = Inflow(times, np.zeros((len(times), 0)), [], np.zeros(0))
        return pass_inlets(network, add_inflows(network, none, began))
    shapes = np.hstack(columns)
    if times.size > _MOST_TIMES:
        peaks = np.isin(np.arange(times.size), shapes.argmax(axis=0))
        some = kept(times, shapes, _THINNED * shapes.max(axis=0), peaks)
        times, shapes = times[some], shapes[some]
    there = np.trapezoid(shapes, times, axis=0)
    shapes *= np.where(there > 0.0, np.array(volumes) / np.where(there > 0.0, there, 1.0), 0.0)
    column = {node: j for j, node in enumerate(nodes)}
    entries_of = [(column[node], k, area) for k, here in enumerate(areas) for node, area in here.items()]
    where, which, weight = zip(*entries_of, strict=True)
    spread = csr_matrix((weight, (where, which)), shape=(len(nodes), shapes.shape[1]))
    runoff = Inflow(times, np.ascontiguousarray((spread @ shapes.T).T), nodes, np.zeros(len(nodes)))
    return pass_inlets(network, add_inflows(network, runoff, began))
