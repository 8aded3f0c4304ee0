"""The storms of an ensemble with their runoff, kept by what they depend on: an edit of a pipe needs no new runoff."""

import hashlib
from dataclasses import dataclass, replace

from ..hydraulics.inflow import Inflow
from ..model.network import Network
from ..numerics.kept import Kept
from ..rainfall.rain import Rain
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


_kept: Kept[StormRunoff] = Kept(_KEPT)


def storm_runoff(network: Network, rain: Rain, times: float = 1.0) -> StormRunoff:
    """Every storm of the rain with its runoff from the network's catchments, worked out or remembered. Read only.

    times : as much rain in every interval, whatever it was made of.

    Raises
    ------
    ModelError
        When the ensemble or a catchment cannot be computed.
    """
    grounds = Network.model_construct(nodes=network.nodes, links={}, catchments=network.catchments)
    # the same text that makes the key is all that the computation sees: links cannot matter unnoticed
    digest = hashlib.sha256(grounds.model_dump_json().encode())
    digest.update(rain.model_dump_json().encode())
    digest.update(repr(times).encode())
    return _kept.get(digest.hexdigest(), lambda: _made(grounds, rain, times))


def _made(grounds: Network, rain: Rain, times: float) -> StormRunoff:
    interval = rain_interval(grounds, rain)
    storms = ensemble(rain, interval.minutes)
    if times != 1.0:
        storms = [replace(s, depth=s.depth * times, intensity=s.intensity * times) for s in storms]
    kinds = kinds_of(grounds, rain.runoff)
    inflow = {storm.key: inflows(grounds, rain.runoff, storm, kinds=kinds) for storm in storms}
    return StormRunoff(storms, interval, inflow)
