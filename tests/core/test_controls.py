"""Flow laws: values against the textbook, derivatives against differences, no steps between regimes."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from madidus.core.hydraulics.controls import ORIFICE, WEIR, control_flow

ROUND = np.array([10.0, 0.2, 0.0, 0.6])
SLOT = np.array([10.0, 0.3, 0.5, 0.6])
CREST = np.array([10.0, 2.0, 1.8, 0.0])
LAWS = [(ORIFICE, ROUND), (ORIFICE, SLOT), (WEIR, CREST)]
levels = st.floats(9.5, 12.0)


def test_full_free_orifice():
    flow, _, _ = control_flow(ORIFICE, 0, 11.1, 5.0, ROUND)
    assert flow == pytest.approx(0.6 * np.pi * 0.01 * (2 * 9.81 * 1.0) ** 0.5, rel=1e-4)


def test_drowned_orifice_depends_on_the_difference():
    a, b = control_flow(ORIFICE, 0, 12.0, 11.0, ROUND)[0], control_flow(ORIFICE, 0, 14.0, 13.0, ROUND)[0]
    assert a == pytest.approx(b, rel=1e-9)


def test_free_weir():
    assert control_flow(WEIR, 0, 10.5, 9.0, CREST)[0] == pytest.approx(1.8 * 2 * 0.5**1.5)


def test_drowned_weir():
    """Villemonte at a tail of half the head."""
    expected = 1.8 * 2 * (1 - 0.5**1.5) ** 0.385
    assert control_flow(WEIR, 0, 11.0, 10.5, CREST)[0] == pytest.approx(expected)


def test_a_flap_lets_nothing_back():
    assert control_flow(ORIFICE, 1, 10.5, 11.0, ROUND) == (0.0, 0.0, 0.0)
    assert control_flow(ORIFICE, 0, 10.5, 11.0, ROUND)[0] < 0


@given(up=levels, down=levels, law=st.sampled_from(LAWS))
def test_derivatives_and_signs(up, down, law):
    kind, parameters = law
    flow, d_up, d_down = control_flow(kind, 0, up, down, parameters)
    assert d_up >= 0 >= d_down
    assert flow == pytest.approx(-control_flow(kind, 0, down, up, parameters)[0])
    if abs(up - down) > 1e-3:
        assert flow * (up - down) >= 0
    h = 1e-7
    numeric = (
        control_flow(kind, 0, up + h, down, parameters)[0] - control_flow(kind, 0, up - h, down, parameters)[0]
    ) / (2 * h)
    kinks = [10.2, 10.3, 10.0, down]
    if all(abs(up - k) > 1e-4 for k in kinks) and abs(0.5 * (up + 10.0) - down) > 1e-4:
        assert d_up == pytest.approx(numeric, rel=1e-3, abs=1e-5)
