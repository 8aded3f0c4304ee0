"""Growth factors that ship with the program are whole, say where they come from, and hold the reference case's rows."""

import pytest

from madidus.core.rainfall.methods import RatioDepths
from madidus.exchange.growth import growth_tables


@pytest.mark.parametrize("table", growth_tables(), ids=lambda table: table.name)
def test_a_table_is_sound_and_says_where_it_comes_from(table):
    rain = RatioDepths(depth=20, ratio=0.4, return_periods=table.return_periods, growth=table.growth)
    assert table.source
    assert table.uncertainty
    for row in rain.growth:
        assert row.factors == sorted(row.factors)
    for minutes in (15, 60, 360, 1440):
        depths = [rain.depth_at(minutes, t) for t in (1, 2, 5, 10, 30, 100)]
        assert depths == sorted(depths)


def test_the_rows_of_the_reference_case():
    rows = {row.depth: row.factors for row in growth_tables()[0].growth}
    assert rows[20] == [0.64, 0.81, 1.24, 1.45, 1.73, 2.03]
    assert rows[30] == [0.68, 0.83, 1.22, 1.42, 1.7, 1.97]
