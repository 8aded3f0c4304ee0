"""Reference cases of reading results: statistics of patterns and verdicts."""

from collections.abc import Callable
from typing import Any

import numpy as np

from madidus.core.results.patterns import Statistic, representative
from madidus.core.results.states import node_state
from madidus.core.results.statistics import critical, spread
from madidus.core.rules.kinds import Outflow
from madidus.core.verdicts import Margin, Verdict, judge, overall

from ..core.told import asked, outfalls, table_of

__all__ = ["CASES"]

Found = dict[str, Any]


def _by_duration(table: dict[int, list[float]]) -> dict[float, dict[str, float]]:
    """Peaks by duration and pattern; a pattern's key is its number."""
    return {
        float(duration): {str(k): peak for k, peak in enumerate(peaks, start=1)} for duration, peaks in table.items()
    }


def patterns(inputs: Found) -> Found:
    peaks = _by_duration(inputs["peaks_m3s_by_duration_min"])
    found: Found = {}
    for duration, here in peaks.items():
        one, name = spread(np.array(list(here.values()))), f"{duration:g} min"
        found[f"{name}: mean"] = one.mean
        found[f"{name}: median"] = one.median
        found[f"{name}: lower quartile, upper quartile"] = list(one.quartiles)
        found[f"{name}: minimum, maximum"] = [one.lowest, one.highest]
        found[f"{name}: whisker ends"] = list(one.whiskers)
        # in the order of the patterns, as the case lists them
        found[f"{name}: outliers"] = [peak for peak in here.values() if peak in one.outliers]
        found[f"{name}: pattern just above the mean"] = int(list(here)[representative([*here.values()])])
        found[f"{name}: sample standard deviation (n-1)"] = one.deviation
    worst = critical(peaks, "mean")
    found["critical duration by highest mean"] = worst.duration
    found["highest mean"] = worst.value
    found["representative pattern (just above the mean) of that duration"] = int(worst.storm)
    found["its peak"] = worst.peak
    middle = critical(peaks, "median")
    found["critical duration by highest median"] = middle.duration
    found["highest median"] = middle.value
    return found


def nodes(inputs: Found) -> Found:
    found: Found = {}
    for name, table in inputs["max_levels_m_by_node"].items():
        peaks = _by_duration(table)
        statistic: Statistic = "mean"
        worst, single = critical(peaks, statistic), critical(peaks, "highest")
        found[f"{name}: critical duration (highest mean)"] = worst.duration
        found[f"{name}: highest mean level"] = worst.value
        found[f"{name}: representative pattern (just above the mean)"] = int(worst.storm)
        found[f"{name}: its level"] = worst.peak
        found[f"{name}: highest single level, its duration and pattern"] = [
            single.value, single.duration, int(single.storm),
        ]  # fmt: skip
    return found


def _passes(value: float) -> str:
    return "fail" if Margin(value, 1.0, "", 0.0).exceeded else "pass"


def verdicts(inputs: Found) -> Found:
    found: Found = {}
    for event in inputs["discharge"]:
        name = event["event"]
        rate = event["permitted_peak_m3s"] - event["peak_m3s"]
        volume = event["permitted_volume_6h_m3"] - event["volume_6h_m3"]
        found[f"{name}: rate"] = _passes(rate)
        found[f"{name}: volume"] = _passes(volume)
        found[f"{name}: rate margin (permitted - peak)"] = rate
        found[f"{name}: overall"] = "fail" if "fail" in (_passes(rate), _passes(volume)) else "pass"
    for store in inputs["storages"]:
        spare = store["bank_level_m"] - store["greatest_level_m"]
        found[f"{store['id']}: freeboard"] = spare
        found[f"{store['id']}: freeboard verdict"] = _passes(spare - inputs["required_freeboard_m"])
    for node in inputs["nodes"]:
        level, cover = node["greatest_level_m"], node["cover_level_m"]
        found[f"{node['id']}: margin to cover"] = cover - level
        found[f"{node['id']}: status"] = node_state(
            level, cover, node["highest_soffit_m"], node["flood_volume_m3"], inputs["flood_risk_margin_m"]
        )
    return found


def over_patterns(inputs: Found) -> Found:
    """Case F7: the rule is judged as the product judges it, on figures that hold the case's peaks."""
    table = inputs["peaks_m3s_by_element_and_duration_min"]
    network, (storms, figures) = outfalls(*table), table_of(table)
    ids = dict(zip(table, network.nodes, strict=True))

    def judged(how: str, there: Found) -> dict[str, Verdict]:
        rules = [
            asked(Outflow, limit, name=name, element=ids[name], patterns=how)
            for name, limit in inputs["limits_m3s"].items()
        ]
        return dict(zip(table, judge(rules, network, storms, there), strict=True))

    def network_says(verdicts: dict[str, Verdict]) -> str:
        return overall(verdicts.values()).state

    by_key = {storm.key: storm for storm in storms}
    words = {"mean": "mean", "median": "median", "every": "maximum"}
    found: Found = {}
    for how, word in words.items():
        verdicts = judged(how, figures)
        found[f"network verdict by {word}"] = network_says(verdicts)
        for name, v in verdicts.items():
            storm, value = by_key[v.storm], v.criterion.value - v.governing.value
            statistic = word if how != "every" else "maximum"
            found[f"{name}: governing duration by {word}"] = storm.duration
            found[f"{name}: {statistic} at that duration"] = value
            found[f"{name}: verdict by {word}"] = v.state
            found[f"{name}: margin by {word} (limit - value)"] = v.governing.value
            if how == "every":
                found[f"{name}: pattern with the maximum"] = int(storm.season)
            else:
                found[f"{name}: pattern just above the mean, duration governing by {word}"] = int(storm.season)
                found[f"{name}: its peak ({word})"] = v.criterion.value - v.margins[v.storm].value
    for n, lacking in enumerate(inputs["incomplete"], start=1):
        gone = {
            (float(duration), str(k))
            for duration, ks in lacking["missing_patterns_by_duration_min"].items()
            for k in ks
        }
        there = {key: f for key, f in figures.items() if (by_key[key].duration, by_key[key].season) not in gone}
        by = {how: judged(how, there) for how in words}
        found[f"incomplete table {n}: network verdict by mean"] = network_says(by["mean"])
        for name in table:
            title, (mean, median) = f"incomplete table {n}, {name}", (by["mean"][name], by["median"][name])
            found[f"{title}: verdict by mean and median"] = mean.state if mean.state == median.state else "they differ"
            found[f"{title}: verdict by maximum"] = by["every"][name].state
            found[f"{title}: missing storms"] = mean.due - mean.seen
            found[f"{title}: storms present"] = mean.seen
    return found


CASES: dict[str, Callable[[Found], Found]] = {
    "D1": patterns, "D2": nodes, "D3": verdicts, "F7": over_patterns,
}  # fmt: skip
