"""Full-bore capacity against Manning's formula by hand: silt and barrels count, wherever it is shown."""

import numpy as np
import pytest

from madidus.core.elements import Pipe
from madidus.core.hydraulics.capacity import full_bore, full_bore_of_sizes, full_bore_velocity

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
    assert full_bore(pipe()) == pytest.approx(manning(area, np.pi * 0.75), rel=2e-3)
    assert full_bore_velocity(pipe()) == pytest.approx(manning(area, np.pi * 0.75) / area, rel=2e-3)


def test_silt_takes_area_and_leaves_a_flat_bed():
    """A box with 0.2 m of silt is a box that is 0.2 m lower."""
    box = {"shape": "rectangular", "width": 1.2, "height": 0.8}
    assert full_bore(pipe(section=box, silt=0.2)) == pytest.approx(manning(1.2 * 0.6, 2 * 1.8), rel=1e-3)
    # half of a circle over silt to its middle
    half = manning(np.pi * 0.75**2 / 8, np.pi * 0.75 / 2 + 0.75)
    assert full_bore(pipe(silt=0.375)) == pytest.approx(half, rel=5e-3)
    assert full_bore(pipe(silt=0.05)) < full_bore(pipe())


def test_barrels_add_up_and_leave_the_velocity():
    assert full_bore(pipe(barrels=3)) == pytest.approx(3 * full_bore(pipe()))
    assert full_bore_velocity(pipe(barrels=3)) == full_bore_velocity(pipe())


@pytest.mark.parametrize("upper", [10.0, 9.9])
def test_a_pipe_that_does_not_fall_has_none(upper):
    assert full_bore(pipe(upstream_invert=upper)) is None
    assert full_bore_velocity(pipe(upstream_invert=upper)) is None


def test_other_sizes_keep_silt_and_barrels():
    own = pipe(silt=0.2, barrels=2)
    found = full_bore_of_sizes(own, [0.225, 0.75, 0.9])
    assert found[0] is None  # silt would leave no room
    assert found[1] == full_bore(own)
    assert found[2] > found[1]
