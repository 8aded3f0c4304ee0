"""The spread of peaks in print: a box only where there are values enough to be spread."""

import pytest

from madidus.report.drawing.graph import Axis, BoxOf, graph_svg

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
