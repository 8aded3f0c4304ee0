"""Rain to begin with, where none is known yet: made up, of no place, and told as such until it is replaced."""

from ..quantities import Units
from .rain import Rain

__all__ = ["START_SOURCE", "start_rain"]

START_SOURCE = "start values of no place: replace them by the rainfall of the site"
_INCH = 25.4


def start_rain(units: str) -> Rain:
    """Depths of a temperate place with six durations in two seasons; in US customary units of a day with a mass curve.

    units : of the project, metric or us.
    """
    if Units(units, None).turns("m"):
        depths = {2: 3.1, 10: 4.6, 100: 7.2}
        return Rain.model_validate({
            "rainfall": {"kind": "table", "source": START_SOURCE, "durations": [1440], "return_periods": list(depths),
                         "depths": [[inches * _INCH] for inches in depths.values()]},
            "ensemble": {"durations": [1440], "probabilities": [{"return_period": t} for t in depths],
                         "seasons": [{"name": "all year", "shape": {"kind": "mass", "type": "II"}}]},
            "runoff": {"method": {"kind": "unit_hydrograph", "curve_number": 80, "concentration": 600.0}},
        })  # fmt: skip
    durations = [15, 30, 60, 120, 360, 1440]
    rows = {2: [9, 12, 16, 20, 28, 42], 30: [19, 25, 32, 39, 52, 72], 100: [25, 33, 42, 51, 67, 90]}
    seasons = [
        {"name": "summer", "shape": {"kind": "bell", "a": 0.1, "b": 0.815}},
        {"name": "winter", "shape": {"kind": "bell", "a": 0.06, "b": 1.026}},
    ]
    return Rain.model_validate({
        "rainfall": {"kind": "table", "source": START_SOURCE, "durations": durations, "return_periods": list(rows),
                     "depths": list(rows.values())},
        "ensemble": {"durations": durations, "probabilities": [{"return_period": t} for t in rows], "seasons": seasons},
    })  # fmt: skip
