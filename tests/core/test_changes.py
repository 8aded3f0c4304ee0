"""What a search may change of elements: every kind, by its own module."""

import pytest

from madidus.core.edit import draw_link, draw_node
from madidus.core.elements import DRAWN_LINKS, DRAWN_NODES, Conduit, Outfall, Store
from madidus.core.model.network import Network
from madidus.core.search.variables import Variable, changeable, laid


def drawn(kind: str):
    """A network with one element of a kind, and its id."""
    network, above = draw_node(Network(), "tank", 0.0, 0.0)
    network, below = draw_node(network, "outfall", 40.0, 0.0)
    if kind in DRAWN_LINKS:
        return draw_link(network, kind, above, below)
    return draw_node(network, kind, 80.0, 0.0)


FIGURES = [
    (kind, what)
    for drawable in (DRAWN_NODES, DRAWN_LINKS)
    for kind, model in sorted(drawable.items())
    for what in model.CHANGES
]  # fmt: skip


@pytest.mark.parametrize(("kind", "what"), FIGURES)
def test_a_figure_is_read_as_it_was_written_and_nothing_else_moves(kind, what):
    network, id_ = drawn(kind)
    own = next(one for one in changeable(network, id_) if one.what == what)
    asked = own.value + 0.1 if own.even else own.value * 1.25
    found = laid(network, {Variable(id_, what, own.low, own.high): asked})
    before, after = (of.nodes.get(id_) or of.links[id_] for of in (network, found))
    figure = type(before).CHANGES[what]
    if figure.step:  # else times what is drawn
        assert figure.read(after) == pytest.approx(asked, abs=1e-4)
    assert after != before
    assert figure.word
    others = [one for one in changeable(network, id_) if one.what not in (what, "area", "flow")]
    now = {one.what: one.value for one in changeable(found, id_)}
    assert {one.what: one.value for one in others} == pytest.approx({one.what: now[one.what] for one in others})
    assert {k: v for k, v in {**found.nodes, **found.links}.items() if k != id_} == {
        k: v for k, v in {**network.nodes, **network.links}.items() if k != id_
    }


def test_every_store_may_change_its_area_and_no_conduit_or_outfall_anything():
    for kind in (*DRAWN_NODES.values(), *DRAWN_LINKS.values()):
        if issubclass(kind, Store):
            assert {"area", "depth"} <= kind.CHANGES.keys()
        if issubclass(kind, (Outfall, *Conduit.__args__)):
            assert not kind.CHANGES
