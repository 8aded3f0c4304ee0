"""Solution quality: how far a storm's figures hold, by stated limits."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..elements.figures import Figures
from ..hydraulics.events import Event
from ..hydraulics.layout import Flattened
from ..hydraulics.simulate import LATEST
from .reduction import DEEP_FLOOD, Reduction

__all__ = ["LIMITS", "Beyond", "Swing", "beyond", "swings"]

Kind = Literal["balance", "level", "flow", "flood", "pressure", "curve", "cut off"]

LIMITS: dict[Kind, float] = {
    "balance": 1e-4,  # of all water handled
    "level": 0.02,  # m by which a level oscillates
    "flow": 0.05,  # of the link's own peak that its flow oscillates by
    "flood": DEEP_FLOOD,  # m of water above a cover
    "pressure": 30.0,  # m by which a level stands above the ground: what no cover and no joint would hold
    "curve": 0.0,  # s that a control acts beyond its curve
    "cut off": 0.0,  # s of the storm that were not computed
}
_LEAST_FLOW = 1e-3  # m3/s; what oscillates by less matters nowhere


@dataclass(frozen=True)
class Beyond:
    """A figure beyond its limit, in the units of `LIMITS`. element : id of where it is, None for the whole storm."""

    kind: Kind
    value: float
    limit: float
    element: str | None


def beyond(flat: Flattened, reduction: Reduction, figures: Figures, events: Sequence[Event]) -> list[Beyond]:
    """What of a storm is beyond its limit; empty where nothing is. reduction : that made the figures."""
    s = figures.summary
    found = []

    def note(kind: Kind, value: float, element: str | None) -> None:
        if value > LIMITS[kind]:
            found.append(Beyond(kind, value, LIMITS[kind], element))

    note("balance", abs(float(s["balance_error"])), None)
    row, link = int(s["oscillation_row"]), int(s["link_oscillation_at"])
    note("level", float(s["oscillation"]), (flat.name_of(row) or None) if row >= 0 else None)
    swing = float(s["link_oscillation"])
    if link >= 0 and swing > _LEAST_FLOW:
        note("flow", swing / max(float(figures.flow[link]), _LEAST_FLOW), reduction.links[link])
    stands = np.nan_to_num(figures.level - reduction.open_cover, nan=0.0)
    if stands.size:
        deepest = int(stands.argmax())
        note("flood", float(stands[deepest]), reduction.nodes[deepest])
    above = np.nan_to_num(figures.level - reduction.cover, nan=0.0)
    if above.size:
        highest = int(above.argmax())
        note("pressure", float(above[highest]), reduction.nodes[highest])
    ended = (event for event in events if event.kind == "beyond its curve" and event.begins)
    found += [Beyond("curve", event.time, LIMITS["curve"], event.element) for event in ended]
    if float(s["end_time"]) >= LATEST:
        found.append(Beyond("cut off", LATEST, LIMITS["cut off"], None))
    return found


@dataclass(frozen=True)
class Swing:
    """By how much a link's flow oscillates, m3/s, and what share that is of its own peak. link : id."""

    link: str
    flow: float
    share: float


def swings(reduction: Reduction, figures: Figures) -> list[Swing]:
    """Every link whose flow oscillates by more than matters, the largest share of its own peak first."""
    most = np.maximum(figures.flow, _LEAST_FLOW)
    found = [
        Swing(id_, float(flow), float(flow / peak))
        for id_, flow, peak in zip(reduction.links, figures.swing, most, strict=True) if flow > _LEAST_FLOW
    ]  # fmt: skip
    return sorted(found, key=lambda one: -one.share)
