"""Storms and figures made up for tests of what is told from them: a network of outfalls, each with a peak by storm."""

from dataclasses import replace

import numpy as np

from madidus.core.elements.figures import Figures
from madidus.core.model.network import Network
from madidus.core.rainfall.storms import Storm
from madidus.core.verdicts import Criterion, plain

__all__ = ["asked", "changed", "figures_of", "outfalls", "storm_of", "table_of"]


def asked(kind: type, value: float = 0.0, return_period: float = 100.0, **more) -> Criterion:
    """A rule of a kind at one return period."""
    limit = {"return_period": return_period, "value": value}
    return plain(kind(**{"name": "rule", "limits": [limit], **more}))[0]


def changed(criterion: Criterion, **fields) -> Criterion:
    """The criterion with other fields of its rule."""
    return replace(criterion, rule=criterion.rule.model_copy(update=fields))


def outfalls(*names: str) -> Network:
    return Network.model_validate(
        {"nodes": {f"00000000-0000-4000-8000-{k:012d}": {"kind": "outfall", "name": name, "invert": 1.0}
                   for k, name in enumerate(names)}}
    )  # fmt: skip


def storm_of(duration: float, season: str, pattern: bool = True, return_period: float = 100.0, **more) -> Storm:
    return Storm(
        return_period, 0.0, duration, season, 10.0, np.array([0.0, 60.0 * duration]), np.array([1.0]), 10.0,
        pattern=pattern, **more,
    )  # fmt: skip


def figures_of(key: str, nodes: int = 0, **arrays: list[float]) -> Figures:
    """Figures of `nodes` nodes and no link; what is not given is nan, floods 0."""
    count = nodes or len(next(iter(arrays.values())))
    values = {name: np.array(arrays.get(name, [np.nan] * count), float) for name in
              ("level", "level_time", "outflow", "outflow_time", "left")}  # fmt: skip
    links = {
        name: np.zeros(0) for name in Figures.__dataclass_fields__ if name not in {*values, "key", "summary", "flooded"}
    }
    links.update({name: np.array(arrays[name], float) for name in links if name in arrays})
    flooded = np.array(arrays.get("flooded", [0.0] * count), float)
    return Figures(key=key, flooded=flooded, summary={}, **values, **links)


def table_of(peaks: dict[str, dict[float, list[float]]]) -> tuple[list[Storm], dict[str, Figures]]:
    """Storms and figures of peaks of outflow by outfall, duration and pattern."""
    storms, figures = [], {}
    first = next(iter(peaks.values()))
    for duration, own in first.items():
        for k in range(len(own)):
            storm = storm_of(duration, str(k + 1))
            storms.append(storm)
            outflow = [table[duration][k] for table in peaks.values()]
            figures[storm.key] = figures_of(storm.key, outflow=outflow, outflow_time=[60.0] * len(outflow))
    return storms, figures
