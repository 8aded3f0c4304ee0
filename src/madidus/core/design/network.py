"""A network as pipes to be sized, and what a design changes of it."""

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from ..elements import Conduit, Outfall, Pipe, Store
from ..elements.geometry import Geometry, geometry
from ..elements.sections import Circular
from ..errors import ModelError
from ..model.flow_order import flow_order, lowest_out
from ..model.network import Network
from ..model.project import Project
from ..quantities import Quantity, said
from ..runoff.catchments import running_off, surface_of
from ..runoff.rational import intensity_of
from .sizing import AIMS, Aim, Crossed, Lock, Sizing, Stretch, size

__all__ = ["Designs", "SizingRequest", "designs", "patch_of"]

_LEVELS = 4  # digits of a level, 0.1 mm
_SAME = 1e-3  # m within which a node's floor lies at its lowest pipe


@dataclass(frozen=True)
class SizingRequest:
    """pipes : ids of those to be sized, empty for all that are round. material : of the catalogue, for all of them;
    empty: each pipe's own. return_period : years, allowance : of the rational method; flows : m3/s by id instead.
    """

    pipes: Collection[str] = ()
    material: str = ""
    return_period: float = 5.0
    allowance: float = 0.0
    flows: Mapping[str, float] | None = None


@dataclass(frozen=True)
class Designs:
    """before : the pipes as they lie, by the same measures. aims : the best of each. notes : what was assumed."""

    before: Sizing
    aims: dict[Aim, Sizing]
    notes: list[str]


def designs(project: Project, asked: SizingRequest) -> Designs:
    """The best designs of a project's pipes by every aim, within the project's rules of sizing.

    Raises
    ------
    ModelError
        As `size`; without rainfall, where it does not reach; where a pipe that is picked is none.
    """
    found = _Reader(project, asked)
    rules, intensity = project.sizing, found.intensity
    lying = [_as_it_lies(one, found.network.links[one.id]) for one in found.stretches]
    return Designs(
        size(lying, rules, "excavation", intensity),
        {aim: size(found.stretches, rules, aim, intensity) for aim in AIMS}, found.notes,
    )  # fmt: skip


def _as_it_lies(one: Stretch, pipe: Any) -> Stretch:
    lock = Lock(pipe.height, pipe.upstream_invert, pipe.downstream_invert)
    return Stretch(**{**one.__dict__, "lock": lock})


class _Reader:
    """The pipes of a project, each after all that drain to it."""

    def __init__(self, project: Project, asked: SizingRequest):
        self._project, self._asked, self.network = project, asked, project.option.network
        self.notes: list[str] = []
        picked = set(asked.pipes)
        for id_ in sorted(picked):
            link = self.network.links.get(id_)
            if not (isinstance(link, Pipe) and isinstance(link.section, Circular)):
                raise ModelError(
                    self.network.label(id_) if id_ in self.network.links else "pipe", "section",
                    "is no round pipe, and round pipes alone are sized", "leave it out",
                )  # fmt: skip
        position = {id_: k for k, id_ in enumerate(flow_order(self.network))}
        pipes = [(id_, link) for id_, link in self.network.links.items() if isinstance(link, Pipe)]
        pipes.sort(key=lambda item: (position[item[1].upstream], item[1].name))
        self._out = lowest_out(self.network)
        place = {id_: k for k, (id_, _) in enumerate(pipes)}
        below = [self._next(id_, place) for id_, _ in pipes]
        areas, entry = self._grounds()
        gathered, own = np.zeros(len(pipes)), [self._out[pipe.upstream] == id_ for id_, pipe in pipes]
        for k, (_, pipe) in enumerate(pipes):
            gathered[k] += areas.get(pipe.upstream, 0.0) if own[k] else 0.0
            at = below[k]
            if at is not None and at > k:
                gathered[at] += gathered[k]
        self.stretches = [
            self._stretch(id_, pipe, below[k], float(gathered[k]), entry.get(pipe.upstream, 0.0) if own[k] else 0.0,
                          not picked or id_ in picked)
            for k, (id_, pipe) in enumerate(pipes)
        ]  # fmt: skip
        rain = project.rain
        shortest = project.sizing.least_time
        of = None if asked.flows is not None else intensity_of(rain, asked.return_period, asked.allowance)
        begins = rain.rainfall.known_from() if rain.rainfall and of is not None else 0.0
        if max(shortest, min((one.entry for one in self.stretches if one.gathered > 0.0), default=np.inf)) < begins:
            self.notes.append(
                f"some times of concentration are shorter than the {begins:.3g} min at which the rainfall begins: "
                "there intensity goes on as its first two durations lead it"
            )
        self.intensity = lambda minutes: (
            np.zeros(minutes.size) if of is None else of(np.maximum(minutes, shortest))
        )  # fmt: skip
        self.notes = sorted(set(self.notes))

    def _next(self, id_: str, place: dict[str, int]) -> int | None:
        """The pipe that takes a pipe's water, through controls and channels, up to a store or an outfall."""
        seen: set[str] = set()
        node = self.network.links[id_].downstream
        while node in self._out and node not in seen:
            if isinstance(self.network.nodes[node], Store):
                self.notes.append(
                    f"below {self.network.nodes[node].name} gathering begins anew: what its controls let out is no "
                    "part of a design flow"
                )
                return None
            seen.add(node)
            link = self._out[node]
            if link in place:
                return place[link]
            node = self.network.links[link].downstream
        return None

    def _grounds(self) -> tuple[dict[str, float], dict[str, float]]:
        """By node: areas times coefficients, m2, and the longest time of entry, min."""
        values, least = self._project.rain.runoff, self._project.sizing.least_time
        areas: dict[str, float] = {}
        entry: dict[str, float] = {}
        for catchment in self.network.catchments.values():
            if catchment.node is not None:
                areas[catchment.node] = areas.get(catchment.node, 0.0) + running_off(catchment, values) * catchment.area
                minutes = max(surface_of(catchment, values).entry / 60.0, least)
                entry[catchment.node] = max(entry.get(catchment.node, 0.0), minutes)
        return areas, entry

    def _stretch(
        self, id_: str, pipe: Pipe, below: int | None, gathered: float, entry: float, free: bool
    ) -> Stretch:  # fmt: skip
        dry = gathered <= 0.0 if self._asked.flows is None else self._asked.flows.get(id_, 0.0) <= 0.0
        if free and dry:
            self.notes.append(f"{pipe.name} has no design flow and stays as it is")
        sized = free and isinstance(pipe.section, Circular) and not dry
        lock = Lock(pipe.height, pipe.upstream_invert, pipe.downstream_invert)
        if sized:
            given = self._project.sizing.locks.get(id_)
            lock = Lock() if given is None else Lock(
                pipe.height if given.diameter else None, pipe.upstream_invert if given.upstream else None,
                pipe.downstream_invert if given.downstream else None,
            )  # fmt: skip
        sizes, roughness = self._sizes(pipe) if sized else ([pipe.height], pipe.roughness)
        carries, runs = zip(*(_full(pipe, d, roughness) for d in sizes), strict=True) if sizes else ((), ())
        end = self.network.nodes[pipe.downstream]
        ends = below is None and isinstance(end, Outfall | Store)
        flow = None if self._asked.flows is None else self._asked.flows.get(id_, 0.0)
        return Stretch(
            id_, pipe.name, pipe.length, (self._ground(pipe, pipe.upstream), self._ground(pipe, pipe.downstream)),
            gathered, tuple(sizes), carries, runs, below, entry, flow, end.invert if ends else -np.inf, lock,
            (isinstance(self.network.nodes[pipe.upstream], Store), isinstance(end, Store)), not sized,
            self._crossings(id_, pipe),
        )  # fmt: skip

    def _crossings(self, id_: str, pipe: Pipe) -> tuple[Crossed, ...]:
        own = [one for one in self._project.sizing.crossings if one.pipe == id_]
        for one in own:
            if one.chainage > pipe.length:
                raise ModelError(
                    f"pipe {pipe.name}", "crossings",
                    said(f"{one.name or 'a service'} crosses beyond its end, at ", Quantity(one.chainage, "m", 1)),
                    "correct its chainage, or give it to the pipe that it crosses",
                )  # fmt: skip
        return tuple(
            Crossed(one.name or "a service", one.chainage, one.top + one.clearance, one.bottom - one.clearance)
            for one in own
        )

    def _sizes(self, pipe: Pipe) -> tuple[list[float], float]:
        """Diameters in which a pipe's material is made, and its roughness."""
        wanted = (self._asked.material or pipe.material or "").strip().casefold()
        for material in self._project.catalogue.pipes:
            if material.name.casefold() == wanted:
                return list(material.diameters), material.roughness if self._asked.material else pipe.roughness
        if self._asked.material:
            raise ModelError(
                "catalogue", "pipes", f"has no material {self._asked.material}", "choose one that is in the list"
            )
        self.notes.append("pipes of no material in the list take the sizes of all of them")
        return sorted({d for material in self._project.catalogue.pipes for d in material.diameters}), pipe.roughness

    def _ground(self, pipe: Pipe, id_: str) -> float:
        node = self.network.nodes[id_]
        if not isinstance(node, Outfall):
            return node.cover
        if node.ground is not None:
            return node.ground
        self.notes.append(f"the ground at {node.name} is not known: as deep as at the pipe's head is taken")
        head = self.network.nodes[pipe.upstream]
        top = head.invert if isinstance(head, Outfall) else head.cover
        return pipe.downstream_invert + top - pipe.upstream_invert


def _full(pipe: Pipe, diameter: float, roughness: float) -> tuple[float, float]:
    """Full flow (m3/s) and velocity (m/s) of a diameter at a gradient of 1, all barrels, over the pipe's silt."""
    if isinstance(pipe.section, Circular):
        area, radius = _round(diameter, pipe.silt if pipe.silt < 0.8 * diameter else 0.0)
    else:
        area, radius = _area_and_radius(geometry(pipe.section).above(pipe.silt))
    velocity = radius ** (2.0 / 3.0) / roughness
    return area * velocity * pipe.barrels, velocity


@lru_cache(maxsize=1000)
def _round(diameter: float, silt: float) -> tuple[float, float]:
    return _area_and_radius(geometry(Circular(diameter=diameter)).above(silt))


def _area_and_radius(shape: Geometry) -> tuple[float, float]:
    """Of the full section, m2 and m."""
    area = float(shape.area_at(shape.height))
    return area, area / float(shape.perimeter_at(shape.height))


def patch_of(project: Project, found: Sizing, asked: SizingRequest) -> list[dict[str, Any]]:
    """The JSON Patch (RFC 6902) of the network that lays the pipes as designed: sizes, levels, floors of nodes."""
    network = project.option.network
    sized = {p.id: p for p in found.pipes if p.id in found.sized}
    patch: list[dict[str, Any]] = []

    def put(path: str, value: float | str) -> None:
        patch.append({"op": "add", "path": path, "value": value})

    rough = {m.name.casefold(): m for m in project.catalogue.pipes}.get(asked.material.casefold())
    for id_, pipe in sized.items():
        link = network.links[id_]
        if not (isinstance(link, Pipe) and isinstance(link.section, Circular)):
            continue
        for field, value in (("upstream_invert", pipe.upstream), ("downstream_invert", pipe.downstream)):
            if abs(getattr(link, field) - value) > 0.5 * 10.0**-_LEVELS:
                put(f"/links/{id_}/{field}", round(value, _LEVELS))
        if link.section.diameter != pipe.diameter:
            put(f"/links/{id_}/section/diameter", pipe.diameter)
        if rough is not None and (link.material, link.roughness) != (rough.name, rough.roughness):
            put(f"/links/{id_}/material", rough.name)
            put(f"/links/{id_}/roughness", rough.roughness)
    for id_, invert in _floors(network, sized).items():
        put(f"/nodes/{id_}/invert", round(invert, _LEVELS))
    return patch


def _floors(network: Network, sized: Mapping[str, Any]) -> dict[str, float]:
    """Inverts of manholes and the like that go with their lowest conduit; one that lay below it stays so much below."""
    before: dict[str, float] = {}
    after: dict[str, float] = {}
    for id_, link in network.links.items():
        if not isinstance(link, Conduit):
            continue
        new = sized.get(id_)
        up, down = link.upstream_invert, link.downstream_invert
        for end, was, now in (
            (link.upstream, up, new.upstream if new else up), (link.downstream, down, new.downstream if new else down),
        ):  # fmt: skip
            before[end], after[end] = min(before.get(end, was), was), min(after.get(end, now), now)
    floors = {}
    for id_, node in network.nodes.items():
        if id_ not in before or isinstance(node, Store):
            continue
        sump = max(before[id_] - node.invert, 0.0)
        if isinstance(node, Outfall) and sump > _SAME:
            continue  # its bed is not its pipe's
        if abs(after[id_] - sump - node.invert) > 0.5 * 10.0**-_LEVELS:
            floors[id_] = after[id_] - sump
    return floors
