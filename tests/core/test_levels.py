"""Levels of a run set for all of it at once."""

import itertools

import pytest

from madidus.core.constants import GRAVITY
from madidus.core.edit import set_levels
from madidus.core.errors import ModelError
from madidus.core.model.network import Network
from tests.cases.build import identity, network

PATH = [identity(name) for name in ("ab", "bc", "cd")]


def run(**more) -> Network:
    nodes = {
        name: {"kind": "manhole", "x": 50.0 * k, "y": 0, "cover": cover, "invert": invert}
        for k, (name, cover, invert) in enumerate([("a", 12.0, 10.0), ("b", 11.8, 9.8), ("c", 10.6, 9.5)])
    }
    nodes["d"] = {"kind": "outfall", "x": 150.0, "y": 0, "invert": 9.0}
    if more:
        nodes["b"] |= more

    def pipe(a: str, b: str, up: float, down: float, d: float) -> dict:
        return {
            "kind": "pipe", "upstream": a, "downstream": b, "length": 50.0, "roughness": 0.013,
            "upstream_invert": up, "downstream_invert": down, "section": {"shape": "circular", "diameter": d},
        }  # fmt: skip

    return network(nodes, {
        "ab": pipe("a", "b", 10.0, 9.8, 0.3), "bc": pipe("b", "c", 9.8, 9.5, 0.45), "cd": pipe("c", "d", 9.5, 9.0, 0.45),
    })  # fmt: skip


def shaped(net: Network, how, path=PATH, **given) -> Network:
    return Network.model_validate(set_levels(net, path, how, **given).model_dump())


def levels(net: Network) -> list[float]:
    return [level for id_ in PATH for level in (net.links[id_].upstream_invert, net.links[id_].downstream_invert)]


def test_one_gradient_from_the_head():
    after = shaped(run(), "gradient", gradient=0.008)
    assert levels(after) == pytest.approx([10.0, 9.6, 9.6, 9.2, 9.2, 8.8])
    assert after.nodes[identity("b")].invert == 9.6
    assert after.nodes[identity("d")].invert == 9.0  # an outfall keeps its own


def test_a_part_of_the_run_leaves_the_rest():
    after = shaped(run(), "gradient", path=PATH[:1], gradient=0.002)
    assert levels(after) == pytest.approx([10.0, 9.9, 9.8, 9.5, 9.5, 9.0])
    assert after.nodes[identity("b")].invert == 9.8  # the lower pipe is still the lowest


def test_soffits_meet_and_gradients_stay():
    after = shaped(run(), "soffits")
    links = [after.links[id_] for id_ in PATH]
    for above, below in itertools.pairwise(links):
        assert above.downstream_invert + above.height == pytest.approx(below.upstream_invert + below.height)
    assert [link.gradient for link in links] == pytest.approx([0.004, 0.006, 0.01])


def test_cover_is_kept_and_no_pipe_is_flatter_than_asked():
    after = shaped(run(), "cover", gradient=0.004, cover=1.0)
    for id_ in PATH:
        link = after.links[id_]
        assert link.gradient >= 0.004 - 1e-5
        for node_, invert in ((link.upstream, link.upstream_invert), (link.downstream, link.downstream_invert)):
            node = after.nodes[node_]
            if node.kind == "manhole":
                assert node.cover - invert - link.height >= 1.0 - 1e-9
    c = after.links[PATH[1]]
    assert c.downstream_invert == pytest.approx(10.6 - 1.0 - 0.45)  # where the ground dips, cover decides


def test_a_manholes_loss_raises_what_arrives():
    after = shaped(run(head_loss={"kind": "fixed", "coefficient": 0.5}), "losses")
    up, down = after.links[PATH[0]], after.links[PATH[1]]
    velocity = (0.45 / 4) ** (2 / 3) * 0.006**0.5 / 0.013
    assert up.downstream_invert - down.upstream_invert == pytest.approx(0.5 * velocity**2 / (2 * GRAVITY), abs=6e-4)
    assert up.gradient == pytest.approx(0.004)
    assert down.upstream_invert == 9.8  # the foot of the run is held


def test_levels_are_set_and_the_bottom_follows_only_where_it_was_at_a_pipe():
    net = run()
    after = shaped(net, "levels", path=PATH[1:2], levels=[(9.9, 9.4)])
    assert levels(after)[2:4] == [9.9, 9.4]
    assert after.nodes[identity("b")].invert == 9.8  # the upper pipe's end is still there
    assert after.nodes[identity("c")].invert == 9.4
    assert after.nodes[identity("a")] == net.nodes[identity("a")]
    with pytest.raises(ModelError, match="give two for each"):
        set_levels(net, PATH, "levels", levels=[(1.0, 0.0)])


@pytest.mark.parametrize(
    ("path", "why"),
    [
        ([PATH[0], PATH[2]], "does not begin where"),
        ([identity("nobody")], "is no conduit"),
        ([], "there are none"),
    ],
)
def test_what_is_no_run_is_refused(path, why):
    with pytest.raises(ModelError, match=why):
        set_levels(run(), path, "gradient")
