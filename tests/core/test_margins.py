"""States of margins, and what criteria ask when nothing is said."""

import pytest

from madidus.core.model.brief import Freeboard, Outflow, WaterBelowCover
from madidus.core.verdict import Margin


@pytest.mark.parametrize(
    ("margin", "scale", "state"),
    [(0.0002, 0.0042, "tight"), (0.0, 0.011, "tight"), (-0.0003, 0.015, "fails"), (1.62, 2.0, "meets")],
)
def test_equal_to_the_limit_passes(margin, scale, state):
    """Case D3."""
    assert Margin(margin, scale, "x", 0.0).state == state


def test_criteria_have_defaults_that_ask_nothing_odd():
    assert WaterBelowCover(name="a", return_period=30).clearance == 0.0
    assert Freeboard(name="a", return_period=30).clearance == 0.3
    with pytest.raises(ValueError, match="greater than 0"):
        Outflow(name="a", return_period=30, limit=-1, element="00000000-0000-4000-8000-000000000001")
