"""The rational method over a network: a first flow for each conduit, for sizing. It is no simulation."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..elements import Conduit, Store
from ..errors import ModelError
from ..model.flow_order import flow_order, lowest_out
from ..model.project import Project
from ..rainfall.areal import areal_factor
from ..rainfall.rain import Rain
from ..surface.concentration import Reach, rational
from .catchments import counted_area, running_off, surface_of

__all__ = ["Preliminary", "intensity_of", "preliminary"]

_SLOWEST = 0.3  # m/s, of travel in conduits that are level or fall backwards


@dataclass(frozen=True)
class Preliminary:
    """gathered : m2, areas times coefficients. concentration : min; intensity : mm/h; flow, full : m3/s. extended :
    the intensity is of a shorter time than the rainfall data hold, and goes on as their first two durations lead it.

    full : of all barrels, None where the conduit does not fall. speed : m/s, with which water is taken to travel.
    """

    conduit: str
    gathered: float
    concentration: float
    intensity: float
    flow: float
    full: float | None
    speed: float
    extended: bool


def intensity_of(rain: Rain, return_period: float, allowance: float) -> Callable[[np.ndarray], np.ndarray]:
    """Mean intensity (mm/h) over so many minutes: point rain × areal factor × (1 + allowance).

    Raises
    ------
    ModelError
        Without rainfall, or where it does not reach the return period.
    """
    if rain.rainfall is None:
        raise ModelError("rain", "rainfall", "is empty", "paste a depth table or type an intensity formula")
    depths = rain.rainfall.curve(return_period)

    def intensity(minutes: np.ndarray) -> np.ndarray:
        areal = np.array([areal_factor(rain.areal, float(t)) for t in minutes])
        return np.asarray(depths(minutes) / minutes * 60.0 * areal * (1.0 + allowance))

    return intensity


def preliminary(project: Project, return_period: float, allowance: float) -> list[Preliminary]:
    """Design flow of every conduit, in the order of the flow.

    Coefficients are the greater of summer's and winter's; where a method has none, paved ground counts whole and green
    ground not at all. Where a node has several ways out, all goes by the lowest. Below a store, which holds water
    back, gathering begins anew.

    Raises
    ------
    ModelError
        Without rainfall, where it does not reach, or where links run in a circle.
    """
    network = project.option.network
    of = intensity_of(project.rain, return_period, allowance)

    def intensity(minutes: float) -> float:
        return float(of(np.array([minutes]))[0])

    position = {id_: k for k, id_ in enumerate(flow_order(network))}
    order = sorted(network.links, key=lambda id_: (position[network.links[id_].upstream], network.links[id_].name))
    place = {id_: k for k, id_ in enumerate(order)}
    out = lowest_out(network)
    surfaces, entry = _grounds(project)
    reaches, speeds, fulls = [], [], []
    for k, id_ in enumerate(order):
        link = network.links[id_]
        speed, full, length = _SLOWEST, None, 0.0
        if isinstance(link, Conduit):
            length = link.length
            full, speed = link.full_flow(), link.full_velocity() or _SLOWEST
        stored = isinstance(network.nodes[link.downstream], Store)
        below = None if stored else place.get(out.get(link.downstream, ""))
        if below is not None and below <= k:
            raise ModelError(
                network.label(id_), "downstream", "runs in a circle with links above it", "turn one of them round"
            )
        head = link.upstream if out[link.upstream] == id_ else ""
        reaches.append(Reach(surfaces.get(head, []), entry.get(head, 0.0), length / speed / 60.0, below))
        speeds.append(speed)
        fulls.append(full)
    begins = project.rain.rainfall.known_from() if project.rain.rainfall else 0.0
    return [
        Preliminary(
            id_,
            one.gathered,
            one.concentration,
            one.intensity,
            one.flow,
            full,
            speed,
            one.gathered > 0.0 and one.concentration < begins * (1 - 1e-9),
        )  # fmt: skip
        for id_, one, full, speed in zip(order, rational(reaches, intensity), fulls, speeds, strict=True)
        if isinstance(network.links[id_], Conduit)
    ]


def _grounds(project: Project) -> tuple[dict[str, list[tuple[float, float]]], dict[str, float]]:
    """By node: coefficients with areas (m2), and the longest time of concentration (min) of its catchments."""
    values = project.rain.runoff
    surfaces: dict[str, list[tuple[float, float]]] = {}
    entry: dict[str, float] = {}
    for catchment in project.option.network.catchments.values():
        if catchment.node is None:
            continue
        ground = (running_off(catchment, values), counted_area(catchment, values))
        surfaces.setdefault(catchment.node, []).append(ground)
        minutes = surface_of(catchment, values).entry / 60.0
        entry[catchment.node] = max(entry.get(catchment.node, 0.0), minutes)
    return surfaces, entry
