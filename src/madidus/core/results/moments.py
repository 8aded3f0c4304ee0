"""Moments of a storm: what was active when, how deep and how long floods were, when stores were half drained."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..elements import Outfall
from ..elements.figures import Figures
from ..hydraulics.events import Event
from ..model.network import Network
from .series import Layout, StormSeries

__all__ = ["Flood", "Span", "floods", "half_drained", "spans"]

_DRAINED = 0.5  # of the rise above what stood before


@dataclass(frozen=True)
class Span:
    """Something acted at an element from `begin` to `end`, s. over : whether it had ended when the storm's run did."""

    element: str
    kind: str
    begin: float
    end: float
    over: bool


@dataclass(frozen=True)
class Flood:
    """A node that flooded.

    volume : m3, the most that stood above the cover or, where floods are lost, all that ran away. returned : m3 of it
    that was back in the network by the end; lost : m3. deepest : m above the cover, at `time`, s. lasted : s in all.
    """

    element: str
    volume: float
    returned: float
    lost: float
    deepest: float
    time: float
    lasted: float
    begin: float


def spans(events: Sequence[Event], end_time: float) -> list[Span]:
    """Events paired by element and kind, in order of their beginning."""
    open_: dict[tuple[str, str], float] = {}
    found = []
    for event in events:
        key = (event.element, event.kind)
        if event.begins:
            open_.setdefault(key, event.time)
        elif key in open_:
            found.append(Span(*key, open_.pop(key), event.time, over=True))
    found += [Span(*key, begin, end_time, over=False) for key, begin in open_.items()]
    return sorted(found, key=lambda span: span.begin)


def floods(
    network: Network, nodes: list[str], layout: Layout, figures: Figures, series: StormSeries, acted: Sequence[Span]
) -> list[Flood]:
    """Nodes that flooded in a storm, the largest volume first. nodes : ids in the order of the figures."""
    found = []
    for i, id_ in enumerate(nodes):
        node = network.nodes[id_]
        own = [span for span in acted if span.element == id_ and span.kind == "flood"]
        if isinstance(node, Outfall) or not (own or figures.flooded[i] > 0.0):
            continue
        volume = float(figures.flooded[i])
        lost = volume if node.flooding == "lost" else 0.0
        standing = 0.0
        if not lost:
            held = layout.derive(id_, "volume", series.values[layout.needed(id_, "volume")])
            standing = max(0.0, float(held[-1]) - layout.volume_at_cover(id_))
        found.append(
            Flood(
                id_,
                volume,
                max(0.0, volume - lost - standing),
                lost,
                deepest=max(0.0, float(figures.level[i] - node.spill_level)),
                time=float(figures.level_time[i]),
                lasted=sum(span.end - span.begin for span in own),
                begin=own[0].begin if own else float(figures.level_time[i]),
            )  # fmt: skip
        )
    return sorted(found, key=lambda flood: -flood.volume)


def half_drained(layout: Layout, stores: Sequence[str], series: StormSeries) -> dict[str, float | None]:
    """When each store (ids) is back to half of its rise, s: interpolated between frames; None while it is not yet."""
    found: dict[str, float | None] = {}
    for id_ in stores:
        held = layout.derive(id_, "volume", series.values[layout.needed(id_, "volume")]).astype(float)
        peak = int(held.argmax())
        half = held[0] + _DRAINED * (held[peak] - held[0])
        below = np.nonzero(held[peak:] <= half)[0]
        if held[peak] <= held[0] or not below.size:
            found[id_] = None
            continue
        k = peak + int(below[0])
        share = (held[k - 1] - half) / max(held[k - 1] - held[k], 1e-12)
        found[id_] = float(series.time[k - 1] + share * (series.time[k] - series.time[k - 1]))
    return found
