"""Rules about flows, volumes that leave, and velocities."""

import numpy as np

from ..elements import Conduit, FlowCurve, Outfall
from ..model.brief import Outflow, VelocityLeast, VelocityMost, VolumeOut
from ..model.network import Network
from ..results.figures import Figures
from .measured import Measured, NotMeasured, untimed

__all__ = ["outflow", "velocity_least", "velocity_most", "volume"]

_SAME = 1e-6  # s


def _place(id_: str, network: Network) -> tuple[bool, int]:
    """Whether the element that a rule names is a link, and its place among the sorted ids of its sort."""
    node = network.nodes.get(id_)
    if node is None and id_ not in network.links:
        raise NotMeasured("its outfall or link is gone; choose another")
    if node is not None and not isinstance(node, Outfall):
        raise NotMeasured(f"{node.name} is no outfall; choose an outfall or a link")
    return node is None, sorted(network.links if node is None else network.nodes).index(id_)


def outflow(rule: Outflow, limit: float, network: Network) -> Measured:
    """Of the flow by an outfall or a link."""
    of_link, k = _place(rule.element, network)
    flow, time = ("flow", "flow_time") if of_link else ("outflow", "outflow_time")
    most = _most_by_curves(rule.element, network)
    return Measured(
        [rule.element], np.array([limit]), lambda figures: limit - getattr(figures, flow)[k : k + 1],
        lambda figures: np.asarray(getattr(figures, time)[k : k + 1]),
        sure=None if most is None else np.array([limit - most]),
    )  # fmt: skip


def _most_by_curves(id_: str, network: Network) -> float | None:
    """m3/s that a control by its curve, or an outfall that such controls alone lead to, never passes more than."""
    link = network.links.get(id_)
    leading = [link] if link else [one for one in network.links.values() if one.downstream == id_]
    if not leading or not all(isinstance(one, FlowCurve) for one in leading):
        return None
    return sum(one.most for one in leading if isinstance(one, FlowCurve))


def volume(rule: VolumeOut, limit: float, network: Network) -> Measured:
    """Of what has left by an outfall, or passed a link, within a time."""
    of_link, k = _place(rule.element, network)
    column = len(network.nodes) + k if of_link else k

    def spare(figures: Figures) -> np.ndarray:
        at = np.nonzero(np.abs(figures.marks - rule.within) < _SAME)[0]
        passed = figures.passed_at[at[0], column] if at.size else np.nan
        return np.array([limit - passed])

    return Measured(
        [rule.element], np.array([limit]), spare, lambda _: np.array([rule.within]),
        unknown=f"the volume after {rule.within / 3600:g} h is known of the storms that it judges alone",
    )  # fmt: skip


def _conduits(network: Network) -> tuple[list[str], np.ndarray]:
    links = sorted(network.links)
    index = [i for i, id_ in enumerate(links) if isinstance(network.links[id_], Conduit)]
    if not index:
        raise NotMeasured("there is no pipe or channel")
    return [links[i] for i in index], np.array(index)


def velocity_least(_: VelocityLeast, limit: float, network: Network) -> Measured:
    """Of the greatest velocity in each conduit."""
    elements, index = _conduits(network)
    return Measured(
        elements, np.full(len(elements), limit), lambda figures: figures.speed[index] - limit, untimed(len(elements)),
    )  # fmt: skip


def velocity_most(_: VelocityMost, limit: float, network: Network) -> Measured:
    """Of the greatest velocity in each conduit."""
    elements, index = _conduits(network)
    return Measured(
        elements, np.full(len(elements), limit), lambda figures: limit - figures.speed[index], untimed(len(elements)),
    )  # fmt: skip
