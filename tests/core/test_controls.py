"""Flow laws: values against the textbook, derivatives against differences, no steps between regimes."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from madidus.core.elements import PARAMETERS, PumpUnit, RisingMain
from madidus.core.elements.curve import vortex_rows
from madidus.core.elements.pump import main_loss, pump_curve
from madidus.core.hydraulics.control_rows import ControlRows
from madidus.core.hydraulics.controls import control_flow
from madidus.core.hydraulics.flatten import flatten
from tests.cases.build import Run, identity, network, tank

CURVE = [{"head": h, "flow": q} for h, q in ((0, 0), (0.1, 0.006), (0.35, 0.0145), (0.7, 0.0105), (2.0, 0.017))]
UNIT = {"on": 12.0, "off": 10.8, "curve": [{"flow": q, "head": h} for q, h in ((0, 8), (0.01, 7), (0.02, 4))]}
LAWS = {
    "round": {"kind": "orifice", "invert": 10, "section": {"shape": "circular", "diameter": 0.2}},
    "slot": {"kind": "orifice", "invert": 10, "section": {"shape": "rectangular", "width": 0.5, "height": 0.3}},
    "floor": {"kind": "orifice", "position": "bottom", "invert": 10, "section": {"shape": "circular", "diameter": 0.2}},
    "sharp": {"kind": "weir", "crest": 10, "length": 2},
    "notch": {"kind": "weir", "form": "v_notch", "crest": 10, "length": 0, "side_slope": 1.0},
    "sloping": {"kind": "weir", "form": "trapezoidal", "crest": 10, "length": 1, "side_slope": 0.25},
    "riser": {"kind": "riser", "crest": 10, "diameter": 0.6},
    "gate": {"kind": "gate", "sill": 10, "width": 1.5, "opening": 0.3},
    "vortex": {"kind": "curve", "invert": 10, "rows": CURVE},
    "pump": {"kind": "pump", "units": [UNIT, {**UNIT, "on": 12.3}]},
    "flapped": {"kind": "orifice", "invert": 10, "flap": True, "section": {"shape": "circular", "diameter": 0.2}},
}
NET = network(
    {"a": {"kind": "manhole", "cover": 15, "invert": 9}, "b": {"kind": "manhole", "cover": 15, "invert": 9},
     "out": {"kind": "outfall", "invert": 9}},
    {"last": {"kind": "weir", "upstream": "b", "downstream": "out", "crest": 9, "length": 1},
     **{name: {**law, "upstream": "a", "downstream": "b"} for name, law in LAWS.items()}},
)  # fmt: skip
FLAT = flatten(NET)
EITHER_WAY = [name for name in LAWS if name not in ("vortex", "pump", "flapped")]
levels = st.floats(9.5, 12.5)


def flow_of(name, up, down, state=0):
    k = FLAT.control_face[identity(name)] - FLAT.grid.face.shape[1]
    return control_flow(FLAT.grid, k, state, up, down)


def running(name):
    """State of a control that does something: one of the pumps runs."""
    return 1 if name == "pump" else 0


def test_a_gate_that_the_water_does_not_touch_is_a_broad_crest():
    crest = (2 / 3) ** 1.5 * 9.81**0.5
    assert flow_of("gate", 10.2, 9.0)[0] == pytest.approx(crest * 1.5 * 0.2**1.5)
    under = 0.61 * 0.3 * 2.0 * (2 * 9.81 / (2.0 + 0.61 * 0.3)) ** 0.5
    assert flow_of("gate", 12.0, 9.0)[0] == pytest.approx(1.5 * under)


def test_full_free_orifice():
    assert flow_of("round", 11.1, 5.0)[0] == pytest.approx(0.6 * np.pi * 0.01 * (2 * 9.81 * 1.0) ** 0.5, rel=1e-4)


def test_drowned_orifice_depends_on_the_difference():
    assert flow_of("round", 12.0, 11.0)[0] == pytest.approx(flow_of("round", 14.0, 13.0)[0], rel=1e-9)


def test_an_opening_in_a_floor_is_a_weir_until_it_drowns():
    assert flow_of("floor", 10.02, 5.0)[0] == pytest.approx(1.7 * np.pi * 0.2 * 0.02**1.5, rel=1e-3)
    assert flow_of("floor", 11.0, 5.0)[0] == pytest.approx(0.6 * np.pi * 0.01 * (2 * 9.81) ** 0.5, rel=1e-4)
    assert flow_of("riser", 10.05, 5.0)[0] == pytest.approx(1.7 * np.pi * 0.6 * 0.05**1.5, rel=1e-4)


def test_free_weirs():
    assert flow_of("sharp", 10.5, 9.0)[0] == pytest.approx(1.8 * 2 * 0.5**1.5)
    # a right-angled notch with C = 1.8: 8/15 sqrt(2g) Cd H^2.5 with Cd = 1.8 / (2/3 sqrt(2g))
    discharge = 1.8 / (2 / 3 * (2 * 9.81) ** 0.5)
    assert flow_of("notch", 10.3, 9.0)[0] == pytest.approx(8 / 15 * (2 * 9.81) ** 0.5 * discharge * 0.3**2.5)
    parts = 1.8 * 0.5**1.5 + 0.8 * 1.8 * 0.25 * 0.5**2.5
    assert flow_of("sloping", 10.5, 9.0)[0] == pytest.approx(parts)


def test_drowned_weir():
    """Villemonte at a tail of half the head."""
    assert flow_of("sharp", 11.0, 10.5)[0] == pytest.approx(1.8 * 2 * (1 - 0.5**1.5) ** 0.385)


def test_a_flap_lets_nothing_back():
    assert flow_of("flapped", 10.5, 11.0) == (0.0, 0.0, 0.0)
    assert flow_of("round", 10.5, 11.0)[0] < 0


def test_a_curve_is_read_between_its_points_and_held_beyond():
    assert flow_of("vortex", 10.05, 9.0)[0] == pytest.approx(0.003)
    assert flow_of("vortex", 10.525, 9.0)[0] == pytest.approx(0.0125)
    assert flow_of("vortex", 14.0, 9.0)[0] == pytest.approx(0.017)
    assert flow_of("vortex", 11.0, 10.9)[0] == pytest.approx(0.006)  # drowned: the difference counts
    assert flow_of("vortex", 10.5, 11.0)[0] == 0.0


def test_two_pumps_at_one_head_give_twice_the_flow():
    one, two = flow_of("pump", 10.0, 15.0, state=1)[0], flow_of("pump", 10.0, 15.0, state=3)[0]
    assert flow_of("pump", 10.0, 15.0, state=0)[0] == 0.0
    assert one == pytest.approx(0.01 + 0.01 * (7 - 5) / 3, rel=1e-3)
    assert two == pytest.approx(2 * one)


def test_a_pump_works_where_its_curve_meets_the_main():
    unit, main = PumpUnit.model_validate(UNIT), RisingMain(length=100, diameter=0.1, minor_loss=4)
    lift, flow, _ = pump_curve([unit], main)
    for h, q in zip(lift, flow, strict=True):
        head = np.interp(q, [0, 0.01, 0.02], [8, 7, 4])
        if 0.0 < q < 0.02:
            assert h + main_loss(main, q) == pytest.approx(head, abs=1e-6)


def test_losses_of_a_main_against_published_figures():
    main = RisingMain(length=1000, diameter=0.3, hazen_williams=130)
    assert main_loss(main, 0.1) == pytest.approx(10.67 * 1000 * 0.1**1.852 / (130**1.852 * 0.3**4.8704))
    # smooth turbulent flow at Re = 1e5: factor 0.0180 (Moody chart)
    speed = 1e5 * 1.3e-6 / 0.3
    smooth = RisingMain(length=1000, diameter=0.3, law="darcy_weisbach", sand_roughness=0.0)
    expected = 0.0180 * 1000 / 0.3 * speed**2 / (2 * 9.81)
    assert main_loss(smooth, speed * np.pi / 4 * 0.09) == pytest.approx(expected, rel=0.01)
    # laminar: 64/Re
    slow = 1000 * 1.3e-6 / 0.3
    assert main_loss(smooth, slow * np.pi / 4 * 0.09) == pytest.approx(0.064 * 1000 / 0.3 * slow**2 / (2 * 9.81))


@settings(max_examples=300, deadline=None)
@given(up=levels, down=levels, name=st.sampled_from(list(LAWS)))
def test_derivatives_and_signs(up, down, name):
    flow, d_up, d_down = flow_of(name, up, down, running(name))
    assert d_up >= 0 >= d_down
    if name in EITHER_WAY:
        assert flow == pytest.approx(-flow_of(name, down, up)[0])
        if abs(up - down) > 1e-3:
            assert flow * (up - down) >= 0
    if abs(up - down) < 1e-3:
        return  # flow begins like a root: no difference is fine enough to compare
    h = 1e-7
    sides = [(flow_of(name, up + s * h, down, running(name))[0] - flow) / (s * h) for s in (-1, 1)]
    # at a kink (edge, rim, bend of a curve) the slope is one of its sides; where a curve falls it is 0
    assert any(d_up == pytest.approx(max(side, 0.0), rel=1e-3, abs=1e-4) for side in sides)


@settings(max_examples=200, deadline=None)
@given(up=levels, down=levels, name=st.sampled_from(list(LAWS)))
def test_no_law_jumps(up, down, name):
    """A discontinuity collapses the step; the steepest law here moves 5 m3/s per m of level, or like its root."""
    for other in ((up + 1e-6, down), (up, down + 1e-6)):
        assert abs(flow_of(name, *other, running(name))[0] - flow_of(name, up, down, running(name))[0]) < 1e-3


@pytest.mark.parametrize(
    "law",
    [
        {"kind": "orifice", "invert": -0.4, "section": {"shape": "circular", "diameter": 0.2}},
        {"kind": "pump", "units": [{"on": 0.5, "off": -0.5, "curve": [{"flow": 0.0, "head": 60}, {"flow": 0.03, "head": 20}]}]},
        {"kind": "gate", "sill": -0.3, "width": 0.5, "opening": 0.1},
        {"kind": "curve", "invert": -0.2, "rows": CURVE},
    ],
    ids=lambda law: law["kind"],
)  # fmt: skip
def test_nothing_draws_more_from_a_store_than_it_holds(law):
    """Below the floor a law by levels alone would go on drawing: the store then owed what ran out of it."""
    nodes = {"pond": tank(0.0, 5.0, 100.0), "out": {"kind": "outfall", "invert": -6}}
    net = network(nodes, {"outlet": {**law, "upstream": "pond", "downstream": "out"}})
    run = Run(net, {"pond": [(0, 0.0), (1200, 0.05), (4800, 0.0)]}, 60_000.0, 60.0).result
    assert run.balance.entered == pytest.approx(120.0)
    assert run.balance.after > -1e-6
    assert run.balance.left == pytest.approx(120.0, abs=1.0)
    assert abs(run.balance.error) < 1e-9


@pytest.mark.parametrize("area", [1.2, 40.0, 900.0])
def test_a_control_never_passes_more_than_its_curve(area):
    """Above a bend the tangent of the rising limb shows more than the curve ever passes: 0.502 L/s through 0.500."""
    rows = [row.model_dump() for row in vortex_rows(1.0, 0.0005)]
    most = max(row["flow"] for row in rows)
    net = network(
        {"s": tank(10.0, 12.0, area), "out": {"kind": "outfall", "invert": 9.0}},
        {"v": {"kind": "curve", "upstream": "s", "downstream": "out", "invert": 10.0, "rows": rows}},
    )
    for peak in np.geomspace(0.2, 3.0, 12):
        top = peak * area * 0.4 / 1800.0
        run = Run(net, {"s": [(0, 0.0), (900, top), (1800, 0.0)]}, 7200.0, 20.0)
        flows = run.result.peaks.flow
        face, out = run.flat.control_face[identity("v")], -2
        for kept in (flows.top, flows.steady):
            assert kept[face] <= most
            assert kept[out] <= most
        heads = run.level("s") - 10.0
        curve = np.interp(heads, [row["head"] for row in rows], [row["flow"] for row in rows])
        rising = heads < 0.3
        assert np.all(run.flow("v")[rising] <= curve[rising] + 2e-6)
        assert run.flow("v").max() <= most
        assert abs(run.result.balance.error) < 1e-13


def test_a_control_with_more_parameters_than_a_row_holds_is_refused():
    rows = ControlRows()
    rows.row(0, False, *range(PARAMETERS))
    with pytest.raises(ValueError, match="5 parameters, a row holds 4"):
        rows.row(0, False, 1.0, 2.0, 3.0, 4.0, 5.0)
