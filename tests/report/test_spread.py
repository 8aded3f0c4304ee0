"""The spread of peaks in print: a box only where there are values enough to be spread."""

import pytest

from madidus.report.drawing.graph import Axis, BoxOf, graph_svg

from .made import tank_run

FIVE = (1.0, 2.0, 3.0, 4.0, 5.0)


@pytest.mark.parametrize(
    ("few", "circles", "boxed"), [((), 1, True), ((1.0, 5.0), 2, False), ((1.0, 2.0, 3.0, 5.0), 4, False)]
)
def test_fewer_than_five_values_are_dots(few, circles, boxed):
    def drawn(*own):
        svg = graph_svg(174.0, 70.0, Axis("x", ((0.0, "60"),)), Axis("y"), [], list(own), "t")
        return svg.count("<circle"), svg.count("<p")  # boxes are outlines

    empty = drawn(BoxOf(0.0, FIVE, 3.0, (1.0,)))
    got = drawn(BoxOf(0.0, FIVE, 3.0, few))
    assert got[0] == circles
    assert (got[1] > empty[1]) == boxed


@pytest.mark.parametrize(
    ("volume", "told"),
    [(0.0, "0.0 m³"), (1e-7, "under 0.0001 m³"), (0.0004, "0.0004 m³"), (0.0376, "0.04 m³"), (1.44, "1.4 m³")],
)
def test_what_floods_is_never_told_as_nothing(volume, told):
    assert tank_run().volume(volume) == told
