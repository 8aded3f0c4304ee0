"""Times of concentration of catchments, coefficients of their own, and the rational method over a network."""

import math

import pytest

from madidus.core.elements import Manhole, Outfall, Pipe, Storage, Weir
from madidus.core.elements.sections import Circular
from madidus.core.errors import ModelError
from madidus.core.model.network import Catchment, Network
from madidus.core.model.project import Option, Project
from madidus.core.rainfall.methods import IntensityFormula
from madidus.core.rainfall.rain import Rain
from madidus.core.runoff.catchments import surface_of, time_of
from madidus.core.runoff.rational import preliminary
from madidus.core.surface.runoff import Coefficient, Losses, Runoff, UnitHydrograph
from madidus.core.surface.stretches import stretches
from madidus.core.surface.timing import Airport, Bransby, ChannelFlow, FlowPath, Kirpich, Lag, ShallowFlow, SheetFlow
from tests.core.generated import identity

FORMULA = IntensityFormula(rows=[{"return_period": 10, "a": 1500, "b": 12, "c": 0.85}])


def ground(**fields) -> Catchment:
    return Catchment(name="A", area=10_000, **fields)


@pytest.mark.parametrize(
    ("timing", "minutes"),
    [
        (Kirpich(length=1000, slope=0.01), 0.0195 * 1000**0.77 * 0.01**-0.385),
        # 500 ft at 2 %, C = 0.7: 1.8 · 0.4 · 22.36 / 1.26
        (Airport(length=152.4, slope=0.02, coefficient=0.7), 12.78),
        # 1.5 km, 0.8 km2, 12 m/km: 58.5 · 1.5 / (0.978 · 1.644)
        (Bransby(length=1500, slope=0.012), 54.59),
        (Lag(length=500, slope=0.03, curve_number=80), None),
    ],
)
def test_formulas_by_hand(timing, minutes):
    found = sum(stretches(timing, 0.8e6).values())
    if minutes is None:  # lag over 0.6
        s = 1000 / 80 - 10
        minutes = 60 * (500 / 0.3048) ** 0.8 * (s + 1) ** 0.7 / (1900 * math.sqrt(3)) / 0.6
    assert found == pytest.approx(minutes, rel=2e-3)


def test_a_flow_path_is_the_sum_of_its_stretches():
    sheet, shallow = SheetFlow(length=30), ShallowFlow(length=100, slope=0.04, surface="paved")
    channel = ChannelFlow(length=300, slope=0.01, roughness=0.03, area=1.0, perimeter=3.0)
    found = stretches(FlowPath(sheet=sheet, shallow=shallow, channel=channel), 1.0)
    assert list(found) == ["sheet", "shallow", "channel"]
    assert found["shallow"] == pytest.approx(100 / (20.3282 * 0.2 * 0.3048) / 60)
    assert found["channel"] == pytest.approx(300 / ((1 / 3) ** (2 / 3) * 0.1 / 0.03) / 60)
    with pytest.raises(ValueError, match="no stretch"):
        FlowPath()


def test_a_time_is_computed_typed_or_the_projects_and_never_under_the_least():
    values = Runoff(time_of_entry=400, least_time=360)
    assert time_of(ground(), values) == 400
    assert time_of(ground(time_of_entry=120), values) == 360
    computed = ground(time_of_entry=120, timing=Kirpich(length=1000, slope=0.01))
    assert time_of(computed, values) == pytest.approx(60 * 0.0195 * 1000**0.77 * 0.01**-0.385, abs=3)
    assert time_of(computed, values) % 6 == 0  # a tenth of a minute
    assert time_of(ground(timing=Airport(length=1, slope=0.5, coefficient=1)), Runoff(least_time=0)) == 60


def test_a_computed_time_is_the_unit_hydrographs_too():
    own = UnitHydrograph(concentration=900)
    assert surface_of(ground(method=own), Runoff()).method.concentration == 900
    timed = surface_of(ground(method=own, timing=Kirpich(length=1000, slope=0.01)), Runoff())
    assert timed.method.concentration == pytest.approx(timed.entry)
    assert surface_of(ground(method=own), Runoff(least_time=1200)).method.concentration == 1200


def test_a_catchment_may_have_coefficients_and_creep_of_its_own():
    values = Runoff(winter_paved=0.84, winter_green=0.1, creep=0.1)
    assert values.coefficients(Coefficient(winter_paved=0.95), "winter") == (0.95, 0.1)
    assert values.coefficients(Coefficient(summer_green=0.2), "all year") == (values.summer_paved, 0.2)
    assert surface_of(ground(impervious=0.5), values).paved == pytest.approx(0.55)
    assert surface_of(ground(impervious=0.5, creep=0.4), values).paved == pytest.approx(0.7)


def line(*, last: str = "outfall", extra: dict | None = None) -> Project:
    """Two pipes of known full-bore speed in a row, a catchment at each head."""
    nodes = {
        identity("1"): Manhole(name="1", x=0, y=0, cover=12, invert=10.0),
        identity("2"): Manhole(name="2", x=60, y=0, cover=12, invert=9.4),
        identity("3"): Outfall(name="3", x=160, y=0, invert=8.4) if last == "outfall"
        else Storage(name="3", x=160, y=0, cover=12, invert=8.4, table=[{"depth": 0, "area": 50}, {"depth": 3, "area": 50}]),
    }  # fmt: skip
    pipe = lambda name, a, b, up, down, length, d: Pipe(  # noqa: E731
        name=name, upstream=identity(a), downstream=identity(b), upstream_invert=up, downstream_invert=down,
        length=length, section=Circular(diameter=d), roughness=0.012,
    )  # fmt: skip
    links = {
        identity("a"): pipe("a", "1", "2", 10.0, 9.4, 60, 0.3),
        identity("b"): pipe("b", "2", "3", 9.4, 8.4, 100, 0.45),
        **(extra or {}),
    }
    catchments = {
        identity("A"): Catchment(name="A", area=4000, impervious=0.5, node=identity("1"), time_of_entry=480),
        identity("B"): Catchment(name="B", area=9000, impervious=1.0, node=identity("2"), time_of_entry=300),
    }
    values = Runoff(summer_paved=0.75, winter_paved=0.9, winter_green=0.3)
    network = Network(nodes=nodes, links=links, catchments=catchments)
    return Project(
        name="line", options={identity("o"): Option(name="A", network=network)},
        rain=Rain(rainfall=FORMULA, runoff=values),
    )  # fmt: skip


def test_flows_gather_down_a_line_at_the_longest_time_that_arrives():
    first, second = preliminary(line(), 10, 0.2)
    intensity = lambda t: 1.2 * 1500 / (t + 12) ** 0.85  # noqa: E731
    assert first.gathered == pytest.approx(4000 * (0.5 * 0.9 + 0.5 * 0.3))
    assert first.concentration == 8
    assert first.flow == pytest.approx(first.gathered * intensity(8) / 3.6e6)
    speed = (0.3 / 4) ** (2 / 3) * 0.1 / 0.012
    assert first.speed == pytest.approx(speed, rel=1e-3)
    assert first.full == pytest.approx(speed * math.pi * 0.09 / 4, rel=2e-3)
    arrives = 8 + 60 / first.speed / 60
    assert second.concentration == pytest.approx(arrives)
    assert second.gathered == pytest.approx(first.gathered + 9000 * 0.9)
    assert second.flow == pytest.approx(second.gathered * intensity(arrives) / 3.6e6)


def test_where_a_method_has_no_coefficients_paved_ground_counts_whole():
    project = line()
    project.rain.runoff.method = Losses()
    assert preliminary(project, 10, 0.0)[0].gathered == pytest.approx(2000)


def test_below_a_store_gathering_begins_anew_and_a_circle_is_named():
    weir = {identity("w"): Weir(name="w", upstream=identity("3"), downstream=identity("4"), crest=10, length=1)}
    project = line(last="store")
    network = project.option.network
    network.nodes[identity("4")] = Outfall(name="4", x=200, y=0, invert=8)
    network.links.update(weir)
    assert [one.conduit for one in preliminary(project, 10, 0.0)] == [identity("a"), identity("b")]
    back = network.links[identity("b")].model_copy(
        update={"name": "back", "upstream": identity("2"), "downstream": identity("1"), "upstream_invert": 9.0}
    )
    network.links[identity("c")] = back
    with pytest.raises(ModelError, match="circle"):
        preliminary(project, 10, 0.0)


def test_without_rain_there_is_no_flow_and_that_is_told():
    project = line()
    with pytest.raises(ModelError, match="no row for 5 years"):
        preliminary(project, 5, 0.0)
    project.rain.rainfall = None
    with pytest.raises(ModelError, match="is empty"):
        preliminary(project, 10, 0.0)
