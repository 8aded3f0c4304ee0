"""Ponds that convey: the volume of the level pool, its answer where it is short and smooth, and a slope where it is not."""

import numpy as np
import pytest

from madidus.core.edit import EDITS, apply
from madidus.core.edit.convey import convey
from madidus.core.elements import Channel, Junction
from madidus.core.ensemble import make_plan
from madidus.core.errors import ModelError
from madidus.core.search.variables import volume_of

from .searched import HEAD, ORIFICE, PIPE, TANK, tank_project


def ponded(area=120.0, bank=240.0):
    project = tank_project(area, 0.1)
    pond = project.option.network.nodes[TANK]
    pond.form, pond.table[1].area = "pond", bank
    return project


def run(project, key="30-60-winter"):
    plan = make_plan(project)
    return plan, plan.reduction.figures(key, plan.simulate(key))


def conveyed(project, **fields):
    asked = {"length": 40.0, "fall": 0.0, "roughness": 0.02, **fields}
    network, (head, channel) = convey(project.option.network, TANK, *asked.values())
    option = project.option.model_copy(update={"network": network})
    return project.model_copy(update={"options": {project.in_view: option}}), head, channel


def level(plan, figures, id_):
    return float(figures.level[plan.nodes.index(id_)])


def test_it_holds_what_the_pool_held_and_links_lead_through_it():
    project = ponded()
    after, head, id_ = conveyed(project)
    network, channel = after.option.network, after.option.network.links[id_]
    assert isinstance(channel, Channel)
    assert isinstance(network.nodes[TANK], Junction)
    s = channel.section
    area = s.height * (s.base_width + s.left_slope * s.height)
    assert area * channel.length == pytest.approx(volume_of(project.option.network, [TANK])[0], rel=1e-3)
    assert network.links[PIPE].downstream == head
    assert network.links[ORIFICE].upstream == TANK
    assert (channel.upstream, channel.downstream) == (head, TANK)
    assert network.nodes[head].cover == network.nodes[TANK].cover == project.option.network.nodes[TANK].cover
    assert HEAD in network.nodes


def test_short_and_level_it_answers_as_the_level_pool():
    project = ponded()
    plan, pool = run(project)
    after, head, _ = conveyed(project)
    other, channel = run(after)
    assert level(other, channel, TANK) == pytest.approx(level(plan, pool, TANK), abs=0.02)
    out = next(k for k, id_ in enumerate(plan.links) if id_ == ORIFICE)
    own = next(k for k, id_ in enumerate(other.links) if id_ == ORIFICE)
    assert channel.flow[own] == pytest.approx(pool.flow[out], rel=0.01)
    assert level(other, channel, head) == pytest.approx(level(other, channel, TANK), abs=0.02)


def test_long_narrow_and_rough_it_stands_higher_at_its_head_than_at_its_outlet():
    after, head, _ = conveyed(ponded(60.0, 75.0), length=300.0, roughness=0.1)
    plan, figures = run(after, "30-30-winter")
    assert level(plan, figures, head) > level(plan, figures, TANK) + 0.05
    fallen, head, _ = conveyed(ponded(60.0, 75.0), length=300.0, roughness=0.1, fall=1.0)
    plan, figures = run(fallen, "30-30-winter")
    assert level(plan, figures, head) - 1.0 < level(plan, figures, TANK)
    assert np.isfinite(figures.level).any()


@pytest.mark.parametrize(
    ("change", "asked", "said"),
    [
        ({"form": "tank"}, {}, "is no pond"),
        ({"initial_depth": 0.5}, {}, "permanent water"),
        ({}, {"fall": 2.5}, "above its bank"),
        ({}, {"fall": 1.9}, None),
    ],
)
def test_what_cannot_convey_is_refused(change, asked, said):
    project = ponded()
    for field, value in change.items():
        setattr(project.option.network.nodes[TANK], field, value)
    if said is None:
        conveyed(project, **asked)
        project.option.network.links[PIPE].downstream_invert = 1.5
        said = "lifts its head above P"
    with pytest.raises(ModelError, match=said):
        conveyed(project, **asked)


def test_what_narrows_upward_is_refused():
    with pytest.raises(ModelError, match="narrower at its bank"):
        conveyed(ponded(240.0, 120.0))


def test_it_is_an_edit_that_may_be_sent():
    project = ponded()
    sent = [{"edit": "let convey", "element": TANK, "length": 40.0, "roughness": 0.02}]
    edited, made = apply(project, project.in_view, EDITS.validate_python(sent))
    own, _, _ = conveyed(project)
    head, channel = (edited.option.network.links[made[1]].upstream, edited.option.network.links[made[1]])
    assert head == made[0]
    assert channel.section == next(
        link.section for link in own.option.network.links.values() if isinstance(link, Channel)
    )
