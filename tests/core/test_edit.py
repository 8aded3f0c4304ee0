"""Edits of a network: what belongs to a conduit stays with it, and nothing names what is gone."""

import json
import uuid

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from madidus.core.edit import (
    EDITS,
    apply,
    draw_catchment,
    draw_link,
    draw_node,
    draw_run,
    join,
    move,
    paste,
    redraw,
    remove,
    reroute,
    split,
    turn_round,
)
from madidus.core.edit.become import become
from madidus.core.edit.levels import set_levels
from madidus.core.edit.names import free_name
from madidus.core.elements import DRAWN_LINKS, DRAWN_NODES
from madidus.core.errors import ModelError
from madidus.core.model import parse_project
from madidus.core.model.about import about
from madidus.core.model.catalogue import Catalogue
from madidus.core.model.defaults import Defaults
from madidus.core.model.network import Network


def i(name):
    return str(uuid.uuid5(uuid.NAMESPACE_OID, name))


def manhole(name, x, y=0.0, **more):
    return {"kind": "manhole", "name": name, "x": x, "y": y, "cover": 12.0, "invert": 10.0, **more}


def pipe(name, upstream, downstream, **more):
    return {
        "kind": "pipe", "name": name, "upstream": i(upstream), "downstream": i(downstream), "length": 44.0,
        "upstream_invert": 10.4, "downstream_invert": 10.0, "entry_loss": 0.2, "exit_loss": 0.5, "bend_loss": 0.1,
        "section": {"shape": "circular", "diameter": 0.3}, **more,
    }  # fmt: skip


def network(links, nodes=None, catchments=None):
    """A, B and C at 0, 40 and 80 m, and what else there is."""
    shafts = {"a": manhole("A", 0), "b": manhole("B", 40), "c": manhole("C", 80), **(nodes or {})}
    return Network.model_validate({
        "nodes": {i(key): node for key, node in shafts.items()},
        "links": {i(key): link for key, link in links.items()},
        "catchments": {i(key): catchment for key, catchment in (catchments or {}).items()},
    })  # fmt: skip


def valid(edited):
    """The same network, once it has passed all that a network must."""
    return Network.model_validate(edited.model_dump())


def run_of_two(second=None, **kinds):
    links = {"p": pipe("A–B", "a", "b"), "q": pipe("B–C", "b", "c", downstream_invert=9.5, **(second or {}))}
    return network(links, kinds.get("nodes"), {"r": {"name": "Roof", "area": 100, "node": i("b")}})


def new(before, after, group):
    (id_,) = getattr(after, group).keys() - getattr(before, group).keys()
    return getattr(after, group)[id_]


# --- split ---


def test_a_split_conduit_adds_up_and_keeps_what_belongs_to_its_ends():
    before = network({"p": pipe("A–B", "a", "b", flap=True, silt=0.05)})
    after, at = split(before, i("p"), 0.25)
    head, rest, node = after.links[i("p")], new(before, after, "links"), after.nodes[at]
    assert (node.x, node.y, node.invert, node.name) == (10.0, 0.0, 10.3, "M1")
    assert (head.name, head.upstream, head.downstream) == ("A–M1", i("a"), at)
    assert (head.length, head.upstream_invert, head.downstream_invert) == (11.0, 10.4, 10.3)
    assert (head.entry_loss, head.exit_loss, head.bend_loss, head.flap) == (0.2, None, 0.1, False)
    assert (rest.name, rest.upstream, rest.downstream) == ("M1–B", at, i("b"))
    assert (rest.length, rest.upstream_invert, rest.downstream_invert) == (33.0, 10.3, 10.0)
    assert (rest.entry_loss, rest.exit_loss, rest.bend_loss, rest.flap) == (0.0, 0.5, 0.0, True)
    assert valid(after) == after
    assert before.links[i("p")].length == 44.0


def test_what_has_no_length_is_not_split():
    weir = {"kind": "weir", "name": "W", "upstream": i("a"), "downstream": i("b"), "crest": 11.0, "length": 1.0}
    with pytest.raises(ModelError, match=r"weir W, kind: has no length; choose a pipe, a channel or a trench"):
        split(network({"w": weir}), i("w"), 0.5)


def test_the_bed_of_a_channel_is_shared_out():
    bed = [{"chainage": 11, "level": 10.1}, {"chainage": 33, "level": 10.2}]
    flume = {"shape": "rectangular", "width": 1.0, "height": 0.5}
    before = network({"p": pipe("ditch", "a", "b", kind="channel", section=flume, bed=bed)})
    after, at = split(before, i("p"), 0.5, "junction")
    assert after.nodes[at].invert == 10.15
    assert after.nodes[at].kind == "junction"
    assert [(p.chainage, p.level) for p in after.links[i("p")].bed] == [(11, 10.1)]
    assert [(p.chainage, p.level) for p in new(before, after, "links").bed] == [(11, 10.2)]
    assert after.links[i("p")].name == "ditch"


def test_bends_stay_on_their_side_of_a_cut():
    before = network({"p": pipe("A–B", "a", "b", length=50.0, bends=[(20.0, 15.0)])})
    after, at = split(before, i("p"), 0.75)
    assert (after.nodes[at].x, after.nodes[at].y) == (30.0, 7.5)
    assert after.links[i("p")].bends == [(20.0, 15.0)]
    assert new(before, after, "links").bends == []


@pytest.mark.parametrize("share", [0.001, 0.999])
def test_no_side_of_a_cut_is_without_length(share):
    with pytest.raises(ModelError, match=r"pipe A–B, length: would leave"):
        split(network({"p": pipe("A–B", "a", "b")}), i("p"), share)


# --- join ---


def test_a_node_taken_out_leaves_one_pipe_and_its_catchments_drain_on():
    after = join(run_of_two(), i("b"))
    assert list(after.nodes) == [i("a"), i("c")]
    assert list(after.links) == [i("p")]
    joined = after.links[i("p")]
    assert (joined.name, joined.downstream, joined.length) == ("A–C", i("c"), 88.0)
    assert (joined.downstream_invert, joined.bend_loss, joined.bends) == (9.5, 0.2, [(40.0, 0.0)])
    assert after.catchments[i("r")].node == i("c")
    assert valid(after) == after


def test_above_an_outfall_catchments_drain_to_the_node_above():
    end = {"c": {"kind": "outfall", "name": "C", "x": 80.0, "invert": 9.0}}
    assert join(run_of_two(nodes=end), i("b")).catchments[i("r")].node == i("a")


def test_an_inlet_does_not_send_water_to_a_node_that_was_taken_out():
    gully = {"kind": "inlet", "name": "G", "cover": 12.0, "invert": 11.0, "capacity": 0.1, "bypass": i("b")}
    links = {"p": pipe("A–B", "a", "b"), "q": pipe("B–C", "b", "c")}
    assert join(network(links, {"g": gully}), i("b")).nodes[i("g")].bypass is None


def test_a_straight_run_gets_no_corner_where_the_node_stood():
    two = {"p": pipe("A–B", "a", "b", length=40.0), "q": pipe("B–C", "b", "c", length=40.0)}
    assert join(network(two), i("b")).links[i("p")].bends == []


@pytest.mark.parametrize(
    ("field", "value"),
    [("silt", 0.05), ("roughness", 0.012), ("barrels", 2), ("section", {"shape": "circular", "diameter": 0.45})],
)
def test_pipes_that_differ_are_not_joined(field, value):
    with pytest.raises(ModelError, match=f"manhole B, links: its pipes differ in {field}; give A–B and B–C one"):
        join(run_of_two({field: value}), i("b"))


def test_nodes_that_do_more_than_join_two_pipes_are_not_taken_out():
    two = {"p": pipe("A–B", "a", "b"), "q": pipe("B–C", "b", "c")}
    steady = {"kind": "constant", "flow": 0.01}
    flume = {"kind": "channel", "section": {"shape": "rectangular", "width": 1.0, "height": 0.5}}
    for wrong, why in (
        (network({**two, "s": pipe("S", "c", "b")}), "2 links arrive and 1 leave"),
        (network(two, {"b": manhole("B", 40, inflows=[steady])}), "water enters here"),
        (network({"p": pipe("A–B", "a", "b"), "q": pipe("B–A", "b", "a")}), "lead back to one node"),
        (network({**two, "q": pipe("B–C", "b", "c", **flume)}), "not both pipes"),
    ):
        with pytest.raises(ModelError, match=why):
            join(wrong, i("b"))


@settings(max_examples=60, deadline=None)
@given(st.floats(0.05, 0.95), st.floats(5, 400), st.lists(st.tuples(st.floats(1, 39), st.floats(-20, 20)), max_size=3))
def test_a_pipe_split_and_joined_again_is_as_before(share, length, bends):
    before = network({"p": pipe("A–B", "a", "b", length=round(length, 2), bends=bends, exit_loss=None)})
    cut, at = split(before, i("p"), share)
    joined = valid(join(valid(cut), at))
    old, back = before.links[i("p")], joined.links[i("p")]
    assert (back.length, back.name, back.upstream_invert, back.downstream_invert) == pytest.approx(
        (old.length, old.name, old.upstream_invert, old.downstream_invert)
    )
    assert (back.upstream, back.downstream, back.entry_loss, back.exit_loss, back.bend_loss) == (
        old.upstream, old.downstream, old.entry_loss, old.exit_loss, old.bend_loss,
    )  # fmt: skip
    assert joined.nodes == before.nodes


# --- one link ---


def test_a_link_turned_round_takes_levels_and_losses_along_and_twice_is_as_before():
    before = network({"p": pipe("A–B", "a", "b", bends=[(10.0, 5.0), (20.0, 0.0)])})
    once = turn_round(before, i("p"))
    link = once.links[i("p")]
    assert (link.name, link.upstream, link.upstream_invert, link.downstream_invert) == ("B–A", i("b"), 10.0, 10.4)
    assert (link.entry_loss, link.exit_loss, link.bends) == (0.5, 0.2, [(20.0, 0.0), (10.0, 5.0)])
    assert turn_round(once, i("p")) == before


def test_the_bed_of_a_channel_turns_round_with_it():
    flume = {"shape": "rectangular", "width": 1.0, "height": 0.5}
    bed = [{"chainage": 4, "level": 10.3}]
    before = network({"p": pipe("ditch", "a", "b", kind="channel", section=flume, bed=bed)})
    assert [(p.chainage, p.level) for p in turn_round(before, i("p")).links[i("p")].bed] == [(40.0, 10.3)]


def test_a_rerouted_end_goes_to_the_bottom_of_the_new_node():
    before = network({"p": pipe("A–B", "a", "b", length=40.0)}, {"c": manhole("C", 0, 30, invert=8.0)})
    led = reroute(before, i("p"), "downstream", i("c")).links[i("p")]
    assert (led.name, led.downstream, led.length, led.downstream_invert) == ("A–C", i("c"), 30.0, 8.0)
    # the upper end lies above its node's bottom: it stays where it is
    assert reroute(before, i("p"), "upstream", i("c")).links[i("p")].upstream_invert == 10.4
    with pytest.raises(ModelError, match="both ends would be the same node"):
        reroute(before, i("p"), "downstream", i("a"))


def test_a_length_that_follows_its_course_goes_on_to_and_a_typed_one_stays():
    drawn = network({"p": pipe("P", "a", "b", length=40.0)})
    assert redraw(drawn, i("p"), [(20.0, 15.0)]).links[i("p")].length == 50.0
    typed = redraw(network({"p": pipe("P", "a", "b", length=44.0)}), i("p"), [(20.0, 15.004)]).links[i("p")]
    assert (typed.length, typed.bends) == (44.0, [(20.0, 15.0)])


def test_outlines_are_redrawn():
    pond = {"kind": "basin", "name": "P", "cover": 12, "invert": 10, "base": [(0, 0), (4, 0), (4, 4)]}
    square = [(0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0)]
    grounds = {
        "r": {"name": "Roof", "area": 50.0, "polygon": [(0, 0), (10, 0), (10, 10)]},
        "t": {"name": "Typed", "area": 70.0, "polygon": [(0, 0), (10, 0), (10, 10)]},
    }
    before = network({"p": pipe("P", "a", "b")}, {"pond": pond}, grounds)
    assert redraw(before, i("pond"), square).nodes[i("pond")].base == square
    assert redraw(before, i("r"), square).catchments[i("r")].area == 100.0
    assert redraw(before, i("t"), square).catchments[i("t")].area == 70.0
    with pytest.raises(ModelError, match="manhole A, base: has no outline"):
        redraw(before, i("a"), square)
    with pytest.raises(ModelError, match=r"basin P, .*the base has no area"):
        redraw(before, i("pond"), square[:2])


# --- several ---


def test_what_is_moved_takes_its_pipes_along():
    bend = [(60.0, 15.0)]
    before = network({"p": pipe("A–B", "a", "b", length=40.0), "q": pipe("B–C", "b", "c", length=50.0, bends=bend)},
                     catchments={"r": {"name": "Roof", "area": 1, "polygon": [(0, 0), (1, 0), (1, 1)]}})  # fmt: skip
    one = move(before, {i("a")}, -10.0, 0.0)
    assert (one.nodes[i("a")].x, one.links[i("p")].length) == (-10.0, 50.0)
    assert one.links[i("q")] == before.links[i("q")]
    both = move(before, {i("b"), i("c")}, 5.0, 5.0)
    assert both.links[i("q")].bends == [(65.0, 20.0)]
    assert both.links[i("q")].length == 50.0
    half = move(before, {i("c")}, 5.0, 5.0)
    assert half.links[i("q")].bends == bend
    assert move(before, {i("r")}, 1.0, 0.0).catchments[i("r")].polygon[0] == (1.0, 0.0)


def test_a_removed_node_takes_its_links_and_is_named_no_more():
    gully = {"kind": "inlet", "name": "G", "cover": 12.0, "invert": 11.0, "capacity": 0.1, "bypass": i("b")}
    grounds = {"r": {"name": "Roof", "area": 100, "node": i("b")}, "s": {"name": "Yard", "area": 10, "over": i("r")}}
    before = network(
        {"p": pipe("A–B", "a", "b"), "q": pipe("B–C", "b", "c"), "x": pipe("G–C", "g", "c")}, {"g": gully}, grounds
    )
    after = remove(before, {i("b")})
    assert list(after.nodes) == [i("a"), i("c"), i("g")]
    assert list(after.links) == [i("x")]
    assert (after.nodes[i("g")].bypass, after.catchments[i("r")].node) == (None, None)
    assert after.catchments[i("s")].over == i("r")
    assert valid(after) == after
    assert remove(before, {i("r")}).catchments[i("s")].over is None
    everything = remove(before, {*before.nodes, *before.catchments})
    assert everything == Network()


def test_what_is_pasted_has_ids_and_names_of_its_own():
    before = run_of_two()
    clip = before.only({i("a"), i("b"), i("c")})
    after, ids = paste(before, clip)
    assert len(set(ids)) == len(ids) == 6
    assert not set(ids) & (before.nodes.keys() | before.links.keys() | before.catchments.keys())
    names = {element.name for group in (after.nodes, after.links) for element in group.values()}
    assert {"A2", "B2", "C2", "A2–B2", "B2–C2"} <= names
    copy = next(c for c in after.catchments.values() if c.name == "Roof2")
    assert after.nodes[copy.node].name == "B2"
    assert valid(after) == after


def test_names_of_pasted_nodes_follow_their_order():
    clip = network({}, {"a": manhole("M10", 0), "b": manhole("M2", 1), "c": manhole("M1", 2)})
    after, _ = paste(clip, clip)
    assert [node.name for node in after.nodes.values()] == ["M10", "M2", "M1", "M3", "M4", "M11"]


# --- draw ---


def test_every_kind_of_node_takes_its_levels_from_the_nearest():
    before = network({}, {"b": manhole("B", 40, 0, cover=11.5, invert=9.5)})
    for drawn in DRAWN_NODES:
        after, id_ = draw_node(before, drawn, 39.0, 1.004)
        node = after.nodes[id_]
        assert (node.invert, getattr(node, "cover", None) or node.ground) == (9.5, 11.5)
        assert (node.x, node.y, node.word) == (39.0, 1.0, drawn)
        assert valid(after) == after
    known, id_ = draw_node(before, "manhole", 39.0, 1.0, ground=8.0)
    assert (known.nodes[id_].cover, known.nodes[id_].invert) == (8.0, 6.0)
    first, id_ = draw_node(Network(), "manhole", 0.0, 0.0)
    assert (first.nodes[id_].cover, first.nodes[id_].invert) == (10.0, 8.5)


def test_a_pond_widens_upward_and_a_tank_does_not():
    for drawn, areas in (("pond", [100.0, 200.0]), ("tank", [50.0, 50.0])):
        after, id_ = draw_node(network({}), drawn, 40.0, 5.0)
        assert [(row.depth, row.area) for row in after.nodes[id_].table] == list(zip([0.0, 2.0], areas, strict=True))


def test_every_kind_of_link_is_drawn_between_nodes():
    before = network({}, {"b": manhole("B", 30, 40, invert=9.5)})
    for drawn in DRAWN_LINKS:
        after, id_ = draw_link(before, drawn, i("a"), i("b"))
        link = after.links[id_]
        assert (link.kind, link.upstream, link.downstream) == (drawn, i("a"), i("b"))
        if hasattr(link, "length") and drawn != "weir":
            assert (link.length, link.upstream_invert, link.downstream_invert) == (50.0, 10.0, 9.5)
        assert valid(after) == after
    assert after.links[id_].name == "Gate 1"
    crest, id_ = draw_link(before, "weir", i("a"), i("b"))
    assert crest.links[id_].crest == 11.4
    with pytest.raises(ModelError, match="both ends are the same node"):
        draw_link(before, "pipe", i("a"), i("a"))
    with pytest.raises(ModelError, match="is not in the network"):
        draw_link(before, "pipe", i("a"), i("nobody"))


def test_what_someone_has_said_overrules_start_values_and_must_be_valid():
    before = network({})
    after, id_ = draw_link(before, "pipe", i("a"), i("b"), {"name": "L", "section/diameter": 0.45, "length": 50.0})
    assert (after.links[id_].section.diameter, after.links[id_].length) == (0.45, 50.0)
    with pytest.raises(ModelError) as told:
        draw_link(before, "pipe", i("a"), i("b"), {"section/diameter": -1.0})
    assert told.value.element == "pipe L1"
    assert [one.field for one in about(told.value.field)] == ["diameter"]
    with pytest.raises(ModelError, match=r"manhole M1, .*/colour"):
        draw_node(before, "manhole", 0.0, 0.0, fields={"colour": "red"})


def test_names_are_the_first_free_ones():
    assert free_name({"A1", "A2"}, "A1") == "A3"
    assert free_name(set(), "Head") == "Head2"
    after, id_ = draw_catchment(network({}, catchments={"r": {"name": "Area 1", "area": 1}}), 120.0)
    assert after.catchments[id_].name == "Area 2"


RUN = {"a": manhole("A1", 0, cover=10.0, invert=8.6), "b": manhole("A2", 50, cover=9.8, invert=8.1),
       "c": {"kind": "outfall", "name": "O1", "x": 90, "invert": 7.2, "ground": 9.0}}  # fmt: skip
CLAY = Defaults(gradient=0.01, diameter=0.225, material="clay", roughness=0.012, cover=1.0)


def run(begins, to, ground=None, defaults=CLAY):
    before = network({"p": pipe("A1–A2", "a", "b", length=50.0, upstream_invert=8.6, downstream_invert=8.1)}, RUN)
    after, at = draw_run(before, defaults, Catalogue(), begins and i(begins), to, ground)
    return before, after, at


def test_a_run_begins_with_a_manhole_under_enough_ground():
    before, after, at = run(None, (10.0, 40.0))
    assert (after.nodes[at].cover, after.nodes[at].invert, after.nodes[at].name) == (10.0, 8.775, "M1")
    assert after.links == before.links


def test_a_run_ends_at_an_outfall_that_is_put_there_and_joined():
    before = network({"p": pipe("A1–A2", "a", "b", length=50.0, upstream_invert=8.6, downstream_invert=8.1)}, RUN)
    after, at = draw_run(before, CLAY, Catalogue(), i("b"), (50.0, 30.0), 9.5, "outfall")
    outfall, link = after.nodes[at], new(before, after, "links")
    assert (outfall.kind, outfall.name, outfall.invert, outfall.ground) == ("outfall", "O2", 7.8, 9.5)
    assert (link.upstream, link.downstream, link.downstream_invert) == (i("b"), at, 7.8)
    assert valid(after) == after


def test_a_run_goes_on_by_the_gradient_numbers_on_and_never_draws_a_smaller_pipe():
    before, after, at = run("b", (50.0, 30.0))
    link = new(before, after, "links")
    assert (after.nodes[at].name, after.nodes[at].invert, link.name) == ("A3", 7.8, "A2–A3")
    assert (link.length, link.upstream_invert, link.downstream_invert) == (30.0, 8.1, 7.8)
    assert (link.section.diameter, link.material, link.roughness) == (0.3, "clay", 0.012)
    assert after.nodes[at].diameter == Catalogue().ring_for(0.3, 2.0) == 1.2
    assert Catalogue().ring_for(3.0, 2.0) is None
    assert valid(after) == after


def test_a_run_is_as_long_as_it_is_drawn_wherever_the_site_lies():
    before = network({}, {"a": manhole("A1", 300, -400.0)})
    after, _ = draw_run(before, CLAY, Catalogue(), i("a"), (330.0, -440.0))
    assert new(before, after, "links").length == 50.0


def test_a_run_digs_deeper_where_the_cover_would_be_too_little():
    _, after, at = run("b", (50.0, 30.0), defaults=CLAY.model_copy(update={"cover": 2.0}))
    assert after.nodes[at].invert == 7.5
    _, after, at = run("b", (50.0, 30.0), ground=8.5)
    assert (after.nodes[at].cover, after.nodes[at].invert) == (8.5, 7.2)


def test_a_run_ends_on_a_node_that_is_there_not_below_its_invert():
    before, after, at = run("b", i("c"))
    link = new(before, after, "links")
    assert (at, link.downstream, link.downstream_invert) == (i("c"), i("c"), 7.7)
    assert after.nodes == before.nodes


@pytest.mark.parametrize("begins", [None, "a", "b"])
def test_a_run_follows_what_is_there_without_drawing_another(begins):
    before, after, at = run(begins, i("b"))
    assert (after, at) == (before, i("b"))


# --- commands ---


def project_of(document, **more):
    return parse_project({**document, **more})


SENT = {
    "set": ({"element": "p", "field": "roughness", "value": 0.02}, lambda n, p: with_fields_of(n, "p", roughness=0.02)),
    "draw node": ({"drawn": "tank", "x": 7.0, "y": -9.0, "ground": 11.0, "fields": {"name": "T"}},
                  lambda n, p: draw_node(n, "tank", 7.0, -9.0, 11.0, {"name": "T"})[0]),
    "draw link": ({"drawn": "weir", "upstream": "c", "downstream": "a", "fields": {"length": 3.0}},
                  lambda n, p: draw_link(n, "weir", i("c"), i("a"), {"length": 3.0})[0]),
    "draw catchment": ({"area": 250.0, "fields": {"impervious": 0.3}},
                       lambda n, p: draw_catchment(n, 250.0, {"impervious": 0.3})[0]),
    "draw run": ({"begins": "b", "to": [40.0, -30.0], "ground": 11.5},
                 lambda n, p: draw_run(n, p.defaults, p.catalogue, i("b"), (40.0, -30.0), 11.5)[0]),
    "split": ({"link": "p", "share": 0.25, "drawn": "junction", "ground": 11.7},
              lambda n, p: split(n, i("p"), 0.25, "junction", 11.7)[0]),
    "change kind": ({"element": "b", "drawn": "junction"}, lambda n, p: become(n, i("b"), "junction")),
    "join": ({"node": "b"}, lambda n, p: join(n, i("b"))),
    "turn round": ({"link": "q"}, lambda n, p: turn_round(n, i("q"))),
    "reroute": ({"link": "q", "end": "downstream", "to": "a"}, lambda n, p: reroute(n, i("q"), "downstream", i("a"))),
    "redraw": ({"element": "p", "corners": [[20.0, 15.0]]}, lambda n, p: redraw(n, i("p"), [(20.0, 15.0)])),
    "move": ({"elements": ["a"], "east": 3.0, "north": -4.0}, lambda n, p: move(n, {i("a")}, 3.0, -4.0)),
    "remove": ({"elements": ["p"]}, lambda n, p: remove(n, {i("p")})),
    "paste": ({"clip": {"nodes": {i("z"): manhole("Z", 5, 6)}}},
              lambda n, p: paste(n, Network.model_validate({"nodes": {i("z"): manhole("Z", 5, 6)}}))[0]),
    "set levels": ({"links": ["p", "q"], "how": "cover", "gradient": 0.02, "cover": 1.6},
                   lambda n, p: set_levels(n, [i("p"), i("q")], "cover", 0.02, 1.6)),
}  # fmt: skip


def with_fields_of(net, link, **fields):
    return net.model_copy(update={"links": {**net.links, i(link): net.links[i(link)].model_copy(update=fields)}})


def told(net):
    """A network without its ids, which are new each time."""
    names = {id_: element.name for group in (net.nodes, net.links, net.catchments) for id_, element in group.items()}
    text = net.model_dump_json()
    for id_, name in names.items():
        text = text.replace(id_, f"id of {name}")
    return json.loads(text)


@pytest.mark.parametrize("edit", SENT)
def test_an_edit_that_is_sent_does_what_its_function_does(edit, demo_document):
    fields, done = SENT[edit]
    project, net = parse_project(demo_document), run_of_two()
    option = project.option.model_copy(update={"network": net})
    project = project.model_copy(update={"options": {project.in_view: option}})
    ids = {key: i(value) for key, value in fields.items() if key != "drawn" and value in [*"abcpq"]}
    ids |= {key: [i(one) for one in value] for key, value in fields.items() if key in ("elements", "links")}
    edited, _ = apply(project, project.in_view, EDITS.validate_python([{"edit": edit, **fields, **ids}]))
    assert told(edited.option.network) == told(done(net, project)) != told(net)


def test_every_edit_is_sent():
    assert set(EDITS.json_schema()["items"]["discriminator"]["mapping"]) == {
        *SENT,
        "general vortex",
        "let convey",
        "move sides",
    }  # tested by itself


def test_edits_are_all_done_or_none_and_touch_no_other_option(demo_document):
    project = parse_project(demo_document)
    other = i("other")
    project = project.model_copy(update={"options": {**project.options, other: project.option}})
    pick = next(iter(project.option.network.nodes))
    edits = EDITS.validate_python([
        {"edit": "draw node", "drawn": "pond", "x": 1.0, "y": 2.0, "fields": {"name": "New"}},
        {"edit": "remove", "elements": [pick]},
    ])  # fmt: skip
    edited, made = apply(project, other, edits)
    assert edited.options[project.in_view] is project.option
    assert edited.options[other].network.nodes[made[0]].name == "New"
    assert pick not in edited.options[other].network.nodes
    assert pick in project.options[other].network.nodes
    twice = EDITS.validate_python([{"edit": "remove", "elements": [pick]}, {"edit": "join", "node": pick}])
    with pytest.raises(ModelError, match="is not in the network"):
        apply(project, other, twice)
    with pytest.raises(ModelError, match="is not in the project"):
        apply(project, i("nobody"), edits)


def test_a_field_is_set_wherever_it_lies():
    before = run_of_two()
    document = {"format": "madidus-project", "version": 2, "name": "P",
                "options": {i("o"): {"name": "A", "network": before.model_dump(mode="json")}}}  # fmt: skip
    edits = [
        {"edit": "set", "element": i("p"), "field": "section/diameter", "value": 0.45},
        {"edit": "set", "element": i("a"), "field": "cover", "value": 13.0},
        {"edit": "set", "element": i("r"), "field": "area", "value": 250.0},
    ]
    edited, _ = apply(parse_project(document), i("o"), EDITS.validate_python(edits))
    after = edited.option.network
    assert (after.links[i("p")].section.diameter, after.nodes[i("a")].cover) == (0.45, 13.0)
    assert after.catchments[i("r")].area == 250.0
    assert json.dumps(after.model_dump(mode="json")) != json.dumps(before.model_dump(mode="json"))


def test_what_stands_on_an_invert_goes_with_it_and_nothing_else_does():
    def between(name, up, down, a, b):
        return pipe(name, up, down, upstream_invert=a, downstream_invert=b)

    links = {"p": between("P", "a", "b", 10.0, 9.5), "q": between("Q", "b", "c", 9.5, 9.2),
             "high": between("H", "a", "b", 10.3, 9.9)}  # fmt: skip
    outfall = {"kind": "outfall", "name": "C", "x": 90, "y": 0, "invert": 9.0}
    held = network(links, {"b": manhole("B", 50, invert=9.5), "c": outfall})
    document = {"format": "madidus-project", "version": 2, "name": "P",
                "options": {i("o"): {"name": "A", "network": held.model_dump(mode="json")}}}  # fmt: skip

    def after(*edits):
        steps = [{"edit": "set", "element": i(e), "field": f, "value": v} for e, f, v in edits]
        return apply(parse_project(document), i("o"), EDITS.validate_python(steps))[0].option.network

    lowered = after(("b", "invert", 9.3))
    assert (lowered.links[i("p")].upstream_invert, lowered.links[i("p")].downstream_invert) == (10.0, 9.3)
    assert (lowered.links[i("q")].upstream_invert, lowered.links[i("q")].downstream_invert) == (9.3, 9.2)
    assert lowered.links[i("high")] == held.links[i("high")]
    assert lowered.nodes[i("a")] == held.nodes[i("a")]
    # the pipe into the outfall stood 0.2 m above its invert
    assert after(("c", "invert", 8.0)).links == held.links
    # what is set by itself has its own level, whichever comes first
    for edits in (
        (("q", "upstream_invert", 9.4), ("b", "invert", 9.3)),
        (("b", "invert", 9.3), ("q", "upstream_invert", 9.4)),
    ):
        assert after(*edits).links[i("q")].upstream_invert == 9.4
    assert after(("b", "cover", 13.0)).links == held.links


def test_a_pond_moves_with_its_base_and_a_catchment_takes_what_was_said_of_it():
    pond = {"kind": "basin", "name": "P", "cover": 12, "invert": 10, "base": [(0, 0), (4, 0), (4, 4)]}
    before = network({}, {"pond": pond})
    assert move(before, {i("pond")}, 1.0, 2.0).nodes[i("pond")].base == [(1.0, 2.0), (5.0, 2.0), (5.0, 6.0)]
    after, id_ = draw_catchment(before, 120.0, {"name": "Yard", "impervious": 0.5, "node": i("a")})
    drawn = after.catchments[id_]
    assert (drawn.name, drawn.area, drawn.impervious, drawn.node) == ("Yard", 120.0, 0.5, i("a"))


def test_pasted_nodes_are_numbered_in_their_order_not_in_that_of_the_clip():
    clip = network({}, {"a": manhole("M12", 0), "b": manhole("M9", 1), "c": manhole("M10", 2)})
    after, _ = paste(clip, clip)
    by_place = {node.x: node.name for id_, node in after.nodes.items() if id_ not in clip.nodes}
    assert by_place == {1.0: "M11", 2.0: "M13", 0.0: "M14"}


def test_lengths_are_drawn_to_the_centimetre():
    before = network({}, {"b": manhole("B", 10, 10)})
    after, id_ = draw_link(before, "pipe", i("a"), i("b"))
    assert after.links[id_].length == 14.14


def test_the_projects_defaults_govern_a_pipe_and_a_manhole_that_are_drawn_alone(demo_document):
    project = parse_project(demo_document)
    defaults = project.defaults.model_copy(update={"diameter": 0.375, "material": "clay", "roughness": 0.0125})
    project = project.model_copy(update={"defaults": defaults})
    a, b = sorted(project.option.network.nodes)[:2]
    edits = EDITS.validate_python([
        {"edit": "draw link", "drawn": "pipe", "upstream": a, "downstream": b},
        {"edit": "draw link", "drawn": "pipe", "upstream": b, "downstream": a, "fields": {"section/diameter": 0.6}},
        {"edit": "draw link", "drawn": "channel", "upstream": a, "downstream": b},
        {"edit": "draw node", "drawn": "manhole", "x": 1.0, "y": 2.0, "ground": 12.0},
        {"edit": "draw node", "drawn": "manhole", "x": 1.0, "y": 9.0, "fields": {"diameter": 2.4}},
    ])  # fmt: skip
    after, (own, typed, channel, manhole, wide) = apply(project, project.in_view, edits)
    links, nodes = after.option.network.links, after.option.network.nodes
    assert (links[own].section.diameter, links[own].material, links[own].roughness) == (0.375, "clay", 0.0125)
    assert (links[typed].section.diameter, links[typed].roughness) == (0.6, 0.0125)
    assert links[channel].roughness == 0.03
    depth = nodes[manhole].cover - nodes[manhole].invert
    assert nodes[manhole].diameter == project.catalogue.ring_for(0.375, depth)
    assert nodes[wide].diameter == 2.4
