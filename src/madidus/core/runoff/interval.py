"""How finely rain must be cut: a fraction of the time in which the quickest ground answers."""

from collections.abc import Iterable
from dataclasses import dataclass

from ..model.network import Catchment, Network
from ..rainfall.rain import Rain
from ..rainfall.storms import LONGEST
from ..surface.methods import RunoffSurface
from ..surface.runoff import Overland, Runoff, UnitHydrograph
from .catchments import surface_of

__all__ = ["SHARE", "RainInterval", "answer_time", "rain_interval"]

SHARE = 0.2
"""Of the quickest answer, that an interval of rain may last: the peak of runoff is then within 1 % of a finer one."""
_LEAST = 60.0  # s, as times of entry
_RISE = 0.6  # of the time of concentration, in which a unit hydrograph peaks
_INTENSITY = 300.0 / 3.6e6  # m/s, of a heavy burst, for which a surface's answer is reckoned


@dataclass(frozen=True)
class RainInterval:
    """minutes : longest interval of a storm. quickest : name of the catchment that asks for it, answer : its time in s;
    empty where it was set, or where nothing drains.
    """

    minutes: float
    quickest: str = ""
    answer: float = 0.0


def answer_time(ground: RunoffSurface) -> float:
    """Seconds in which ground answers to rain: time of entry, to the peak of its unit hydrograph, to equilibrium.

    Of a plane (and of a reservoir alike), (L / (√S/n i^⅔))^⅗ on its smoother part at 300 mm/h.
    """
    method = ground.method
    if isinstance(method, UnitHydrograph):
        return float(_RISE * method.concentration)
    if isinstance(method, Overland):
        roughness = method.paved_roughness if ground.paved > 0.0 else method.green_roughness
        wave = method.slope**0.5 / roughness * _INTENSITY ** (2.0 / 3.0)
        return float(max((method.length / wave) ** 0.6, _LEAST))
    return float(ground.entry)


def rain_interval(network: Network, rain: Rain, further: Iterable[RunoffSurface] = ()) -> RainInterval:
    """The longest interval of a project's storms. further : ground besides that of the network's catchments."""
    if rain.interval is not None:
        return RainInterval(rain.interval)
    found = [(answer_time(ground), "") for ground in further]
    found += [(time, catchment.name) for time, catchment in _answers(network, rain.runoff)]
    if not found:
        return RainInterval(LONGEST)
    time, name = min(found)
    return RainInterval(min(SHARE * time / 60.0, LONGEST), name, time)


def _answers(network: Network, values: Runoff) -> list[tuple[float, Catchment]]:
    return [
        (answer_time(surface_of(c, values)), c) for c in network.catchments.values()
        if (c.node is not None or c.over is not None) and c.area > 0.0
    ]  # fmt: skip
