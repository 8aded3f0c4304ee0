"""Rain is cut so finely that no peak of runoff hangs on it: shapes × methods against much finer rain."""

import numpy as np
import pytest

from madidus.core.hydraulics.thinning import kept
from madidus.core.model.network import Network
from madidus.core.rainfall.methods import IntensityFormula
from madidus.core.rainfall.rain import Rain
from madidus.core.rainfall.shapes import Block, Cumulative, MassCurve
from madidus.core.rainfall.shapes.mass_curves import HOURS, MASS_CURVES
from madidus.core.rainfall.storms import LONGEST, ensemble
from madidus.core.runoff.interval import answer_time, rain_interval
from madidus.core.surface.losses import GreenAmptLoss, HortonLoss
from madidus.core.surface.methods import RunoffSurface, unit_runoff_of
from madidus.core.surface.runoff import Coefficient, Losses, Overland, Runoff, UnitHydrograph

FORMULA = IntensityFormula(rows=[{"return_period": 10, "a": 1500, "b": 12, "c": 0.85}])
SHAPES = {
    "flat bell": {"kind": "bell", "a": 0.06, "b": 1.026},
    "bell": {"kind": "bell", "a": 0.1, "b": 0.815},
    "triangle": {"kind": "triangle", "peak": 0.4},
    "alternating": {"kind": "alternating"},
    "chicago": {"kind": "chicago", "peak": 0.4},
    "given": {"kind": "curve", "points": [{"time": t, "depth": d} for t, d in
                                          ((0, 0), (0.41, 0.2), (0.43, 0.55), (0.44, 0.7), (1, 1))]},
    **{f"type {name}": {"kind": "mass", "type": name} for name in MASS_CURVES},
}  # fmt: skip
GROUNDS = {
    "coefficient": RunoffSurface(Coefficient(), 1.0, 300.0),
    "losses": RunoffSurface(Losses(green=HortonLoss()), 0.3, 360.0),
    "ponding": RunoffSurface(Losses(green=GreenAmptLoss()), 0.0, 300.0),
    "unit hydrograph": RunoffSurface(UnitHydrograph(curve_number=98, concentration=300), 1.0, 0.0),
    "reservoir": RunoffSurface(Overland(), 1.0, 0.0),
    "plane": RunoffSurface(Overland(form="plane", length=30), 1.0, 0.0),
}


def storm_of(shape, duration, interval):
    season = {"name": "all year", "shape": shape}
    rain = Rain(
        rainfall=FORMULA,
        ensemble={"durations": [duration], "probabilities": [{"return_period": 10}], "seasons": [season]},
    )
    return ensemble(rain, interval)[0]


def peak(shape, duration, ground, interval):
    return unit_runoff_of(ground, Runoff(), storm_of(shape, duration, interval)).flow.max()


@pytest.mark.parametrize("ground", GROUNDS)
@pytest.mark.parametrize("shape", SHAPES)
def test_finer_rain_changes_no_peak_by_one_percent(shape, ground):
    asked = rain_interval(Network(), Rain(rainfall=FORMULA), [GROUNDS[ground]]).minutes
    for duration in (1440,) if "type" in shape else (30, 1440):
        there = peak(SHAPES[shape], duration, GROUNDS[ground], asked)
        assert there == pytest.approx(peak(SHAPES[shape], duration, GROUNDS[ground], asked / 5), rel=0.01)


@pytest.mark.parametrize("shape", ["alternating", "chicago"])
def test_a_nested_day_peaks_like_its_shortest_duration(shape):
    ground = GROUNDS["coefficient"]
    asked = rain_interval(Network(), Rain(rainfall=FORMULA), [ground]).minutes
    short, day = (peak(SHAPES[shape], duration, ground, asked) for duration in (15, 1440))
    assert day == pytest.approx(short, rel=0.01)


def test_an_acre_under_curve_two_has_the_peak_of_tenths_of_an_hour():
    """1 acre, curve number 98, 5 min, 6 in: 7.84 ft3/s by the same method in steps of 0.1 h; 4.59 by half hours."""
    depth, acre, foot = 6 * 25.4, 4046.856, 0.3048
    table = {"kind": "table", "durations": [60, 1440], "return_periods": [10], "depths": [[depth / 2, depth]]}
    block = {
        "durations": [1440],
        "probabilities": [{"return_period": 10}],
        "seasons": [{"name": "all year", "shape": {"kind": "mass", "type": "II"}}],
    }
    method = UnitHydrograph(curve_number=98, concentration=300)
    (storm,) = ensemble(Rain(rainfall=table, ensemble=block), 1.0)
    found = unit_runoff_of(RunoffSurface(method, 1.0, 0.0), Runoff(), storm).flow.max() * acre / foot**3
    assert 7.8 < found < 8.3  # finer than 0.1 h is a little higher


@pytest.mark.parametrize(("name", "hours"), [
    ("II", {11.5: 0.2830, 11.7: 0.3544, 11.9: 0.5679, 12.0: 0.6630, 12.1: 0.6820, 12.5: 0.7350}),
    ("III", {11.5: 0.298, 12.0: 0.5, 12.5: 0.702}), ("IA", {7.0: 0.268, 8.0: 0.425, 9.0: 0.52}),
    ("I", {9.5: 0.303, 10.0: 0.515, 12.0: 0.682}),
])  # fmt: skip
def test_mass_curves_pass_through_their_tables_and_never_fall(name, hours):
    curve = MASS_CURVES[name]
    assert len(curve) == len(HOURS)
    assert (curve[0], curve[-1]) == (0.0, pytest.approx(1.0))
    assert (np.diff(curve) > 0.0).all()
    for hour, share in hours.items():
        assert curve[round(hour * 10)] == pytest.approx(share, abs=1e-9)
    if name == "II":
        assert np.diff(curve).max() == pytest.approx(0.1371)


def test_intervals_are_never_longer_than_asked_nor_fewer_than_a_storm_needs():
    for shape in (MassCurve(), Cumulative(points=SHAPES["given"]["points"])):
        assert 1440 / shape.steps(1440, 0.7) <= 0.7
    assert MassCurve().steps(1440, 60) == 480  # 5 min at most, whole parts of 6 min
    assert Block().steps(1440, 0.2) == 49
    assert Cumulative(points=SHAPES["given"]["points"]).steps(14_400, 0.2) <= 7201


def catchments(**more):
    return Network.model_validate(
        {"nodes": {"00000000-0000-4000-8000-000000000001": {"kind": "manhole", "name": "M", "invert": 0, "cover": 2}},
         "catchments": {f"00000000-0000-4000-8000-0000000000{k:02d}": {"name": name, "area": 100, **values}
                        for k, (name, values) in enumerate(more.items())}}
    )  # fmt: skip


def test_the_quickest_catchment_that_drains_decides_unless_it_was_set():
    node = {"node": "00000000-0000-4000-8000-000000000001"}
    network = catchments(
        slow={**node, "time_of_entry": 900}, quick={**node, "time_of_entry": 240}, loose={"time_of_entry": 60}
    )
    found = rain_interval(network, Rain())
    assert (found.minutes, found.quickest, found.answer) == (pytest.approx(0.8), "quick", 240.0)
    assert rain_interval(network, Rain(interval=3)).minutes == 3
    assert rain_interval(catchments(), Rain()).minutes == LONGEST
    hour = rain_interval(catchments(only={**node, "time_of_entry": 3600}), Rain())
    assert hour.minutes == LONGEST


def test_a_surface_answers_in_the_time_of_its_plane():
    """(L / (α i^⅔))^⅗, doubled by a length of 2^(5/3)."""
    one, longer = (
        answer_time(RunoffSurface(Overland(length=length), 1.0, 0.0)) for length in (100, 100 * 2 ** (5 / 3))
    )
    assert longer == pytest.approx(2 * one)
    assert answer_time(RunoffSurface(Overland(length=1), 1.0, 0.0)) == 60.0


def test_thinned_times_keep_peaks_and_miss_nothing_by_more_than_the_tolerance():
    times = np.linspace(0, 3600, 2000)
    columns = np.array([np.sin(times / 500) + 1, np.exp(-((times - 1000) ** 2) / 2e4), np.zeros(2000)]).T
    some = kept(
        times, columns, 1e-3 * np.maximum(columns.max(axis=0), 1e-12), np.isin(np.arange(2000), columns.argmax(axis=0))
    )
    assert some[0]
    assert some[-1]
    assert some.sum() < 200
    for column in columns.T:
        again = np.interp(times, times[some], column[some])
        assert abs(again - column).max() <= 1e-3 * max(column.max(), 1e-12) * 1.001
        assert again.max() == column.max()
