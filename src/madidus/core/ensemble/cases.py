"""Cases of the ensemble: all in service, and one duty pump of a station out, in turn."""

from dataclasses import dataclass, replace

from ..elements import Pump
from ..model.network import Network
from ..rainfall.storms import Storm

__all__ = ["Case", "Idle", "cases", "in_case"]

Idle = tuple[tuple[str, int], ...]
"""Pumps that do not run: id of their station, and place in it from 0."""


@dataclass(frozen=True)
class Case:
    """What does not run. name, key : empty where all is in service and stand-by pumps stand by."""

    name: str
    key: str
    idle: Idle


def cases(network: Network) -> list[Case]:
    """The usual case first; then those with one duty pump out, whose station's stand-by pumps serve instead."""
    stations = {id_: link for id_, link in sorted(network.links.items()) if isinstance(link, Pump)}
    standby = {id_: [(id_, k) for k, unit in enumerate(p.units) if unit.standby] for id_, p in stations.items()}
    usual = tuple(pump for own in standby.values() for pump in own)
    found = [Case("", "", usual)]
    for id_, station in stations.items():
        others = tuple(pump for other, own in standby.items() if other != id_ for pump in own)
        for k, unit in enumerate(station.units):
            if station.one_out and not unit.standby:
                found.append(Case(f"{station.name}: pump {k + 1} out", f"{id_}.{k + 1}", (*others, (id_, k))))
    return found


def in_case(storm: Storm, case: Case) -> Storm:
    """The storm as it is run in a case."""
    return replace(storm, case=case.name, case_key=case.key)
