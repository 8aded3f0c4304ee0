"""What results show that is worth a look: deep floods, stores that stay empty, controls that nothing reaches."""

from collections.abc import Iterator

import numpy as np

from ..elements import Pump
from ..model.network import Network
from ..quantities import Quantity, said
from ..results.reduction import DEEP_FLOOD
from ..results.whole_run import BeyondLimit, WholeRun
from .devices import lifts_nothing
from .finding import Finding

__all__ = ["after_run"]


_FEW = 5  # others, from which there is something usual
_OFF = 5.0  # times, or a fifth of, the middle of the others


def _unit_flows(network: Network, seen: WholeRun) -> Iterator[Finding]:
    """Runoff of each paved hectare against that of the others: a time, an area or a method in another unit."""
    if len(seen.unit) <= _FEW:
        return
    middle = float(np.median(list(seen.unit.values())))
    for id_, flow in seen.unit.items():
        if not middle / _OFF <= flow <= _OFF * middle:
            yield Finding(
                "unit-flow-off", "look", id_, "node",
                said(
                    f"{network.nodes[id_].name}: from each paved hectare that drains here ",
                    Quantity(flow * 1000.0, "L/s", 0),
                    " run off at most, and elsewhere ", Quantity(middle * 1000.0, "L/s", 0),
                ),
                "look at the areas, times of entry and methods of its catchments",
            )  # fmt: skip


def after_run(network: Network, seen: WholeRun) -> Iterator[Finding]:
    """Remarks on elements, the deepest flood first."""
    for id_, (deep, storm) in sorted(seen.deepest.items(), key=lambda item: -item[1][0]):
        if deep > DEEP_FLOOD:
            yield Finding(
                "flood-deep", "look", id_, "ponded_area",
                said(
                    f"{network.nodes[id_].name}: water stands ", Quantity(deep, "m", 2), f" above its cover in {storm}"
                ),
                "give it the area and slope of the ground, say that it is lost, or relieve the network",
            )  # fmt: skip
    yield from _unit_flows(network, seen)
    for id_, share in seen.unused.items():
        yield Finding(
            "store-unused", "look", id_, "table",
            f"{network.nodes[id_].name}: no storm takes more than {share:.0%} of it",
            "let its outlet hold back, or leave it out",
        )  # fmt: skip
    for id_ in seen.idle:
        link = network.links[id_]
        if isinstance(link, Pump) and lifts_nothing(link, network) is not None:
            continue  # it was reached, and lifted nothing: said of the pump itself
        yield Finding(
            "control-idle", "look", id_, "upstream", f"{network.links[id_].name}: no storm reaches it",
            "look at its level; an overflow for what is rarer still is to be accepted",
        )  # fmt: skip
    for kind, doubt in seen.beyond.items():
        yield _doubt(kind, doubt, network)


_DOUBTS: dict[str, tuple[str, str]] = {
    "balance": ("water is missing from the balance", "compute them on finer cells, and look where levels jump"),
    "level": ("a level oscillates by more than figures may", "look at short or steep conduits there"),
    "flow": ("a flow oscillates by more than figures may", "look at short or steep conduits there"),
    "flood": ("water stands deep above a cover", "see where that flood would go"),
    "pressure": (
        "a level stands higher above the ground than any cover or joint would hold",
        "water is forced through too small a way: look at sizes, levels and flaps below, or let the cover open",
    ),
    "curve": ("a control acts beyond its curve", "extend its curve: beyond the last point its flow is held"),
    "cut off": ("the run was cut off before the storm was over", "let its stores drain, or say when a storm ends"),
}


def _doubt(kind: str, doubt: BeyondLimit, network: Network) -> Finding:
    """What the Storms stage marks as to be checked, of all storms at once."""
    said_of, remedy = _DOUBTS[kind]
    where = f", most at {network.label(doubt.element)}" if doubt.element else ""
    storms = f"{doubt.count} storms" if doubt.count > 1 else "one storm"
    return Finding(
        f"storms-{kind.replace(' ', '-')}", "look", doubt.element, "storms",
        f"to be checked in {storms}: {said_of}{where}, in {doubt.storm}", remedy,
    )  # fmt: skip
