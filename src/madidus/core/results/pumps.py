"""What pumps do in storms: how often they start, how long they run, what they lift."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..elements import Pump
from ..hydraulics.events import MOST_EVENTS, decode
from .computed import Computed
from .moments import Span, spans

__all__ = ["PumpResult", "pump_results"]

_HOUR = 3600.0


@dataclass(frozen=True)
class PumpResult:
    """The pumps of a station in `storm` (key), in which they start most often.

    starts : of all its pumps; most_in_hour : of one pump within any hour; running, beyond : s that pumps ran, all
    together, and that their lift lay off their curve; volume : m3; energy : J, None where an efficiency is not given.
    counted : false where more happened in the storm than its log holds: then starts and times are at least these.
    """

    starts: int
    most_in_hour: int
    running: float
    beyond: float
    volume: float
    energy: float | None
    counted: bool
    storm: str


def pump_results(of: Computed, keys: Sequence[str]) -> dict[str, PumpResult]:
    """Of every station by id, over storms that are in, by key."""
    stations = [(k, id_) for k, id_ in enumerate(of.links) if isinstance(of.network.links[id_], Pump)]
    found: dict[str, PumpResult] = {}
    if not stations:
        return found
    for key in keys:
        codes = of.figures[key].summary["events"]
        acted = spans(decode(codes, of.flat), float(of.figures[key].summary["end_time"]))
        for k, id_ in stations:
            own = [span for span in acted if span.element == id_]
            energy = float(of.figures[key].energy[k])
            passed = float(of.figures[key].passed[k])
            one = _station(own, passed, None if np.isnan(energy) else energy, len(codes) < MOST_EVENTS, key)
            best = found.get(id_)
            if best is None or (one.starts, one.running) > (best.starts, best.running):
                found[id_] = one
    return found


def _station(acted: Sequence[Span], volume: float, energy: float | None, counted: bool, storm: str) -> PumpResult:
    runs = [span for span in acted if span.kind.startswith("pump ")]
    begins: dict[str, list[float]] = {}
    for span in runs:
        begins.setdefault(span.kind, []).append(span.begin)
    most = 0
    for times in begins.values():
        at = np.sort(times)
        most = max(most, int((np.searchsorted(at, at + _HOUR, side="left") - np.arange(at.size)).max()))
    beyond = sum(span.end - span.begin for span in acted if span.kind == "beyond its curve")
    running = sum(span.end - span.begin for span in runs)
    return PumpResult(len(runs), most, running, beyond, volume, energy, counted, storm)
