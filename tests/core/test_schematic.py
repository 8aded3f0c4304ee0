"""A network from tables without coordinates: laid out along its flow, by one undoable remedy."""

import copy
import itertools

import jsonpatch

from madidus.core.checks import check
from madidus.core.elements import Conduit
from madidus.core.ground.schematic import places_along_flow
from madidus.core.model import parse_project

from .generated import tree
from .test_checks import DEMO


def stacked():
    document = copy.deepcopy(DEMO)
    for node in document["options"][document["in_view"]]["network"]["nodes"].values():
        node.update(x=0.0, y=0.0)
    return document


def test_every_node_has_a_place_of_its_own_and_the_water_runs_east():
    network = parse_project(stacked()).option.network
    places = places_along_flow(network)
    assert set(places) == set(network.nodes)
    assert len(set(places.values())) == len(places)
    for link in network.links.values():
        (x, _), (down, _) = places[link.upstream], places[link.downstream]
        assert x < down


def test_the_longest_way_is_straight_and_as_long_as_its_conduits():
    network = parse_project(stacked()).option.network
    places = places_along_flow(network)
    outfall = next(id_ for id_, n in network.nodes.items() if n.kind == "outfall")
    _, y = places[outfall]
    straight = [id_ for id_, (_, north) in places.items() if north == y]
    assert len(straight) > 5
    for a, b in itertools.pairwise(sorted(straight, key=lambda id_: places[id_])):
        link = next(one for one in network.links.values() if (one.upstream, one.downstream) == (a, b))
        if isinstance(link, Conduit) and link.length >= 10.0:
            assert abs(places[b][0] - places[a][0] - link.length) < 0.02


def test_the_checks_offer_it_once_and_it_mends_itself():
    document = stacked()
    (found,) = [f for f in check(parse_project(document)) if f.check == "no-places"]
    assert "all 49 nodes lie at one point" in found.why
    base = f"/options/{document['in_view']}/network"
    patch = [{**change, "path": base + change["path"]} for change in found.fix.patch]
    mended = parse_project(jsonpatch.apply_patch(document, patch))
    assert "no-places" not in {f.check for f in check(mended)}
    assert "no-places" not in {f.check for f in check(parse_project(DEMO))}


def test_short_branches_lie_beside_their_run_and_no_way_down_crosses_another():
    network = tree(300)
    places = places_along_flow(network)
    assert len(set(places.values())) == len(places)
    xs, ys = zip(*places.values(), strict=True)
    lanes = sorted(set(ys))
    # a lane for each run would be some hundred of them
    assert len(lanes) < 20
    assert max(ys) - min(ys) < 0.5 * (max(xs) - min(xs))
    along = [(places[link.upstream], places[link.downstream]) for link in network.links.values()]
    level = [(a, b) for a, b in along if a[1] == b[1]]
    slanting = [(a, b) for a, b in along if a[1] != b[1]]
    crossings = sum(
        1 for a, b in slanting for c, d in level if min(a[1], b[1]) < c[1] < max(a[1], b[1]) and c[0] < b[0] < d[0]
    )
    assert crossings <= 0.05 * len(along)
