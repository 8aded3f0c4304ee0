"""Full-bore capacity against Manning's formula by hand: silt and barrels count, wherever it is shown."""

import numpy as np
import pytest

from madidus.core.elements import Channel, Pipe, Trench

ENDS = {
    "name": "P",
    "upstream": "0" * 8 + "-0000-4000-8000-" + "0" * 12,
    "downstream": "1" * 8 + "-0000-4000-8000-" + "0" * 12,
}


def pipe(**more):
    given = {**ENDS, "length": 100.0, "upstream_invert": 10.4, "downstream_invert": 10.0, "roughness": 0.013,
             "section": {"shape": "circular", "diameter": 0.75}}  # fmt: skip
    return Pipe.model_validate(given | more)


def manning(area, perimeter, n=0.013, gradient=0.004):
    return area * (area / perimeter) ** (2 / 3) * gradient**0.5 / n


def test_a_round_pipe():
    area = np.pi * 0.75**2 / 4
    assert pipe().full_flow() == pytest.approx(manning(area, np.pi * 0.75), rel=2e-3)
    assert pipe().full_velocity() == pytest.approx(manning(area, np.pi * 0.75) / area, rel=2e-3)


def test_silt_takes_area_and_leaves_a_flat_bed():
    """A box with 0.2 m of silt is a box that is 0.2 m lower."""
    box = {"shape": "rectangular", "width": 1.2, "height": 0.8}
    assert pipe(section=box, silt=0.2).full_flow() == pytest.approx(manning(1.2 * 0.6, 2 * 1.8), rel=1e-3)
    # half of a circle over silt to its middle
    half = manning(np.pi * 0.75**2 / 8, np.pi * 0.75 / 2 + 0.75)
    assert pipe(silt=0.375).full_flow() == pytest.approx(half, rel=5e-3)
    assert pipe(silt=0.05).full_flow() < pipe().full_flow()


def test_barrels_add_up_and_leave_the_velocity():
    assert pipe(barrels=3).full_flow() == pytest.approx(3 * pipe().full_flow())
    assert pipe(barrels=3).full_velocity() == pytest.approx(pipe().full_velocity(), rel=1e-12)


@pytest.mark.parametrize("upper", [10.0, 9.9])
def test_a_pipe_that_does_not_fall_has_none(upper):
    assert pipe(upstream_invert=upper).full_flow() is None
    assert pipe(upstream_invert=upper).full_velocity() is None


def test_other_sizes_keep_silt_and_barrels():
    own = pipe(silt=0.2, barrels=2)
    assert own.with_diameter(0.225) is None  # silt would leave no room
    assert own.with_diameter(0.75) == own
    assert own.with_diameter(0.9).full_flow() > own.full_flow()


def test_the_greatest_flow_of_a_round_pipe_is_below_its_crown():
    """7.6 % more than full, at 0.94 of the diameter (Chow, Open-Channel Hydraulics, 1959)."""
    assert pipe(barrels=2).greatest_flow() == pytest.approx(1.076 * pipe(barrels=2).full_flow(), rel=3e-3)
    assert pipe().uniform_flow(0.938 * 0.75) == pytest.approx(pipe().greatest_flow(), rel=1e-3)


def test_a_channel_to_its_banks():
    ditch = Channel.model_validate(
        {**ENDS, "length": 100.0, "upstream_invert": 10.4, "downstream_invert": 10.0, "roughness": 0.03,
         "section": {"shape": "trapezoidal", "base_width": 0.5, "left_slope": 2.0, "right_slope": 1.0, "height": 0.6}}
    )  # fmt: skip
    area, perimeter = 0.6 * (0.5 + 0.9), 0.5 + 0.6 * (5**0.5 + 2**0.5)
    assert ditch.full_flow() == pytest.approx(manning(area, perimeter, n=0.03), rel=2e-3)
    assert ditch.full_velocity() == pytest.approx(manning(area, perimeter, n=0.03) / area, rel=2e-3)


def test_stone_has_no_full_bore_capacity():
    trench = Trench.model_validate(
        {**ENDS, "length": 100.0, "upstream_invert": 10.4, "downstream_invert": 10.0, "width": 0.6, "height": 1.0,
         "porosity": 0.4, "pipe": {"shape": "circular", "diameter": 0.15}}
    )  # fmt: skip
    assert (trench.full_flow(), trench.greatest_flow(), trench.full_velocity()) == (None, None, None)
