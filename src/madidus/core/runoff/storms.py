"""The storms of an ensemble with their runoff, kept by what they depend on: an edit of a pipe needs no new runoff."""

import hashlib
import threading
from collections import OrderedDict
from dataclasses import dataclass

from ..hydraulics.inflow import Inflow
from ..model.network import Network
from ..model.rain import Rain
from ..rainfall.storms import Storm, ensemble
from .catchments import inflows, kinds_of
from .interval import RainInterval, rain_interval

__all__ = ["StormRunoff", "storm_runoff"]

_KEPT = 2  # ensembles; each may take hundreds of MB


@dataclass(frozen=True)
class StormRunoff:
    """Storms, the interval of those that are made of shapes, and what enters at nodes by a storm's key."""

    storms: list[Storm]
    interval: RainInterval
    inflow: dict[str, Inflow]


_kept: OrderedDict[str, StormRunoff] = OrderedDict()
_lock = threading.Lock()


def storm_runoff(network: Network, rain: Rain) -> StormRunoff:
    """Every storm of the rain with its runoff from the network's catchments, worked out or remembered. Read only.

    Raises
    ------
    ModelError
        When the ensemble or a catchment cannot be computed.
    """
    grounds = Network.model_construct(nodes=network.nodes, links={}, catchments=network.catchments)
    # the same text that makes the key is all that the computation sees: links cannot matter unnoticed
    digest = hashlib.sha256(grounds.model_dump_json().encode())
    digest.update(rain.model_dump_json().encode())
    key = digest.hexdigest()
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return _kept[key]
    interval = rain_interval(grounds, rain)
    storms = ensemble(rain, interval.minutes)
    kinds = kinds_of(grounds, rain.runoff)
    inflow = {storm.key: inflows(grounds, rain.runoff, storm, kinds=kinds) for storm in storms}
    found = StormRunoff(storms, interval, inflow)
    with _lock:
        _kept[key] = found
        while len(_kept) > _KEPT:
            _kept.popitem(last=False)
    return found
