"""Runoff by every method: no water is made or lost, and methods meet where they must."""

from dataclasses import dataclass

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from madidus.core.model.network import Catchment
from madidus.core.runoff.catchments import account, counted_area, inflows, kinds_of, surface_of, yields
from madidus.core.surface.losses import ContinuingLoss, CurveNumberLoss, GreenAmptLoss, HortonLoss, ProportionalLoss
from madidus.core.surface.methods import RunoffSurface, unit_runoff_of
from madidus.core.surface.runoff import Coefficient, Losses, Overland, Runoff, UnitHydrograph
from tests.cases.build import identity, network

LOSSES = [ProportionalLoss(), ContinuingLoss(), HortonLoss(recovery=0.5), GreenAmptLoss(), CurveNumberLoss()]
METHODS = [
    Coefficient(), UnitHydrograph(), UnitHydrograph(peak_factor=300, concentration=3000),
    *(Losses(green=loss) for loss in LOSSES), *(Overland(green=loss) for loss in LOSSES),
    Overland(form="plane"), Overland(form="plane", paved_over_green=0.6), Overland(paved_over_green=1.0),
]  # fmt: skip


@dataclass
class Blocks:
    times: np.ndarray
    intensity: np.ndarray
    season: str = "winter"


def storm(*intensity: float, step: float = 300.0) -> Blocks:
    return Blocks(np.arange(len(intensity) + 1) * step, np.array(intensity, float))


@pytest.mark.parametrize("method", METHODS, ids=lambda m: m.model_dump_json()[:70])
@settings(max_examples=15, deadline=None)
@given(st.lists(st.floats(0, 150), min_size=2, max_size=12), st.floats(0, 1), st.floats(60, 3000))
def test_rain_is_runoff_losses_and_what_is_left(method, intensity, paved, entry):
    rain = storm(*intensity)
    found = unit_runoff_of(RunoffSurface(method, paved, entry), Runoff(winter_green=0.3), rain)
    fallen = sum(intensity) * 300 / 3.6e6
    assert found.rain == pytest.approx(fallen, rel=1e-12, abs=1e-15)
    assert found.runoff + found.lost + found.kept == pytest.approx(fallen, rel=1e-9, abs=1e-12)
    assert min(found.lost, found.kept, found.flow.min()) > -1e-12
    assert (np.diff(found.times) > 0).all()


def test_a_surface_as_a_reservoir_empties_by_the_power_of_its_depth():
    """After the rain q = c d^(5/3) and d' = −q, so that q^(−2/5) rises evenly with time, whatever c is."""
    method = Overland(paved_store=0, slope=0.005, length=60.0)
    found = unit_runoff_of(RunoffSurface(method, 1.0, 300.0), Runoff(), storm(60, 60))
    after = (found.times > 1.5 * 3600.0) & (found.times < 3.0 * 3600.0)
    rise = np.diff(found.flow[after] ** -0.4) / np.diff(found.times[after])
    assert len(rise) > 5
    assert rise == pytest.approx(rise.mean(), rel=1e-2)


@pytest.mark.parametrize("paved", [0.985, 0.995, 1 - 1e-12])
def test_paved_water_over_hardly_any_green_neither_hangs_nor_is_lost(paved):
    """Led onto a vanishing strip, a yard's rain would be metres of water an hour."""
    method = Overland(form="plane", paved_over_green=1.0, slope=1.0, length=1.0)
    rain = storm(127, 0, 0.7)
    found = unit_runoff_of(RunoffSurface(method, paved, 300.0), Runoff(), rain)
    assert found.runoff + found.lost + found.kept == pytest.approx(found.rain, rel=1e-9)
    apart = unit_runoff_of(
        RunoffSurface(method.model_copy(update={"paved_over_green": 0.0}), paved, 300.0), Runoff(), rain
    )
    if paved > 0.99:
        assert found.runoff == apart.runoff
    else:
        assert found.runoff < apart.runoff


@pytest.mark.parametrize("method", [*METHODS[:9], Overland()], ids=lambda m: m.model_dump_json()[:50])
def test_a_catchment_is_the_sum_of_its_parts(method):
    rain = storm(10, 40, 90, 30, 5)
    values = Runoff(winter_green=0.2)
    whole = RunoffSurface(method, 0.35, 600.0)
    at = np.linspace(0, 9000, 400)

    def flow(ground: RunoffSurface) -> np.ndarray:
        one = unit_runoff_of(ground, values, rain)
        return np.interp(at, one.times, one.flow, right=0.0)

    parts = sum(share * flow(ground) for ground, share in whole.parts())
    assert parts == pytest.approx(flow(whole), rel=1e-6, abs=1e-3 * flow(whole).max())


@pytest.mark.parametrize("loss", LOSSES, ids=lambda loss: loss.kind)
def test_more_rain_leaves_more_and_no_loss_makes_water(loss):
    light, heavy = storm(5, 20, 30, 10), storm(10, 40, 60, 20)
    few, many = (loss.excess(rain.times, rain.intensity) for rain in (light, heavy))
    assert (few >= 0).all()
    assert (few <= light.intensity / 12 + 1e-12).all()
    assert many.sum() >= few.sum()


def test_ground_without_losses_gives_all_its_rain_by_every_method():
    rain = storm(20, 60, 30)
    none = ProportionalLoss(share=0)
    for method in (Losses(paved_loss=0, green=none), UnitHydrograph(curve_number=100),
                   Overland(paved_store=0, green_store=0, green=none)):  # fmt: skip
        found = unit_runoff_of(RunoffSurface(method, 0.5, 300.0), Runoff(), rain)
        assert found.runoff + found.kept == pytest.approx(found.rain, rel=1e-9)
        assert found.kept < 0.02 * found.rain


def test_roof_water_led_over_green_ground_is_partly_lost_there():
    rain = storm(20, 60, 30)
    straight, led = (
        unit_runoff_of(RunoffSurface(Overland(paved_over_green=share), 0.5, 300.0), Runoff(), rain)
        for share in (0.0, 1.0)
    )
    assert led.runoff < straight.runoff
    assert led.lost > straight.lost


def test_a_catchment_of_its_own_method_stands_beside_the_projects():
    own = UnitHydrograph(curve_number=90, concentration=600)
    catchments = [
        Catchment(name="a", area=1000, node=identity("m"), impervious=0.6),
        Catchment(name="b", area=2000, node=identity("m"), method=own),
        Catchment(name="c", area=3000),
    ]
    net = network({"m": {"kind": "manhole", "x": 0, "y": 0, "cover": 12, "invert": 10}}, {})
    net = net.model_copy(update={"catchments": {identity(c.name): c for c in catchments}})
    rain, values = storm(10, 50, 20), Runoff()
    assert surface_of(catchments[1], values).method == own
    total = inflows(net, values, rain)
    volume = float(np.trapezoid(total.flow[:, 0], total.times))
    parts = sum(one.runoff * sum(areas.values()) for one, areas in yields(kinds_of(net, values), values, rain))
    alone = sum(c.area * unit_runoff_of(surface_of(c, values), values, rain).runoff for c in catchments[:2])
    assert parts == pytest.approx(alone, rel=1e-9)
    assert volume == pytest.approx(alone, rel=1e-9)


@pytest.mark.parametrize(
    "method",
    [Coefficient(), Losses(green=LOSSES[1]), UnitHydrograph(curve_number=95), Overland(length=8.0)],
    ids=lambda m: m.kind,
)
def test_many_times_of_entry_keep_volumes_to_rounding_and_peaks_to_a_per_cent(method):
    """Two hundred times of entry, or of concentration, bend at too many places: a grid of times stands for them."""
    count = 200
    nodes = {f"n{k}": {"kind": "manhole", "cover": 3, "invert": 1} for k in range(count)}
    rain = storm(5, 12, 30, 80, 120, 60, 25, 10, 5, step=60.0)
    values = Runoff(winter_green=0.3, method=method)

    def own(k: int):
        many = method.kind == "unit_hydrograph"
        return method.model_copy(update={"concentration": 240.0 + 7 * k}) if many else None

    def catchment(k: int) -> Catchment:
        return Catchment(
            name=str(k), area=500 + k, impervious=0.6, node=identity(f"n{k}"), time_of_entry=120 + 7 * k, method=own(k)
        )  # fmt: skip

    net = network(nodes, {})
    for k in range(count):
        net.catchments[identity(f"c{k}")] = catchment(k)
    many = inflows(net, values, rain)
    assert many.times.size < 700
    for k in (0, 57, 199):
        alone = network({f"n{k}": nodes[f"n{k}"]}, {})
        alone.catchments[identity(f"c{k}")] = catchment(k)
        exact = inflows(alone, values, rain)
        column = many.flow[:, many.nodes.index(identity(f"n{k}"))]
        assert np.trapezoid(column, many.times) == pytest.approx(np.trapezoid(exact.flow[:, 0], exact.times), rel=1e-12)
        assert column.max() == pytest.approx(exact.flow.max(), rel=0.01)


@pytest.mark.parametrize(
    ("impervious", "creep", "counts", "paved"),
    [(1.0, 0.1, 1100.0, 1.0), (0.95, 0.1, 1045.0, 1.0), (0.5, 0.1, 1000.0, 0.55), (1.0, 0.0, 1000.0, 1.0)],
)
@pytest.mark.parametrize("method", [Coefficient(), Losses(), Overland(), Overland(form="plane", paved_over_green=0.5)])
def test_creep_grows_paved_ground_beyond_an_outline_that_is_all_paved(method, impervious, creep, counts, paved):
    catchment = Catchment(name="C", area=1000.0, impervious=impervious, node=identity("a"))
    values = Runoff(method=method, creep=creep)
    assert counted_area(catchment, values) == pytest.approx(counts)
    assert surface_of(catchment, values).paved == pytest.approx(paved)
    rain = Blocks(np.array([0.0, 600.0, 1200.0]), np.array([30.0, 60.0]))
    net = network(
        {"a": {"kind": "manhole", "cover": 2.0, "invert": 0.0}, "o": {"kind": "outfall", "invert": -1.0}}, {}
    ).model_copy(update={"catchments": {identity("c"): catchment}})
    grown = net.model_copy(
        update={"catchments": {identity("c"): catchment.model_copy(update={"area": counts, "impervious": paved})}}
    )
    own, same = inflows(net, values, rain), inflows(grown, values.model_copy(update={"creep": 0.0}), rain)
    assert own.flow == pytest.approx(same.flow, rel=1e-9)
    told = account(net, values, rain)
    assert told.fallen == pytest.approx(counts * 0.015)
    assert told.fallen == pytest.approx(sum(told.lost.values()) + told.kept + told.ran)


def test_a_curve_number_knows_no_paved_ground_and_says_that_creep_is_idle():
    catchment = Catchment(name="C", area=1000.0, impervious=1.0, node=identity("a"), creep=0.2)
    assert counted_area(catchment, Runoff(method=UnitHydrograph())) == 1000.0
