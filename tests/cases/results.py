"""Reference cases of reading results: statistics of patterns and verdicts."""

from collections.abc import Callable
from typing import Any

import numpy as np

from madidus.core.statistics import Statistic, critical, representative, spread
from madidus.core.verdict import Margin, node_state

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
        found[f"{name}: pattern just above the mean"] = int(representative(here, one.mean))
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
    return "fail" if Margin(value, 1.0, "", 0.0).state == "fails" else "pass"


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


CASES: dict[str, Callable[[Found], Found]] = {"D1": patterns, "D2": nodes, "D3": verdicts}
