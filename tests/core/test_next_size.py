"""A size larger never raises the level upstream, in a tree without controls."""

import numpy as np
import pytest

from madidus.core.elements import Outfall, Pipe
from madidus.core.ensemble import make_plan
from madidus.core.model.flow_order import reaching
from madidus.core.model.network import Network
from madidus.core.model.project import Project
from madidus.core.search.next_size import pipes_below, sizes_above, with_diameter
from tests.core.generated import identity, rain, tree

_NOISE = 2e-3  # m: levels of peaks by finite steps


def bare(pipes: int, seed: int) -> Project:
    """A tree of pipes alone that ends freely where its pond was."""
    network = tree(pipes, seed)
    pond = network.nodes[identity("pond")]
    nodes = {id_: node for id_, node in network.nodes.items() if id_ not in (identity("pond"), identity("out"))}
    nodes[identity("pond")] = Outfall(name="Out", invert=pond.invert, x=pond.x, y=pond.y)
    links = {id_: link for id_, link in network.links.items() if isinstance(link, Pipe)}
    own = Network(nodes=nodes, links=links, catchments=network.catchments)
    return Project.model_validate(
        {
            "name": "bare", "rain": rain().model_dump(), "options": {identity("A"): {"name": "A", "network": own}},
            "order": [identity("A")], "in_view": identity("A"),
        }
    )  # fmt: skip


@pytest.mark.parametrize("seed", range(1, 9))
def test_a_size_larger_never_raises_the_level_upstream(seed):
    project = bare(14, seed)
    plan, rng = make_plan(project), np.random.default_rng(seed)
    key = "100+40-15-winter" if seed % 2 else "30-30-summer"
    before = plan.reduction.figures(key, plan.simulate(key)).level
    for id_ in rng.choice(sorted(plan.network.links), 4, replace=False):
        pipe = plan.network.links[str(id_)]
        for diameter in sizes_above(project, pipe)[:2]:
            tried = plan.tried(with_diameter(plan.network, str(id_), diameter))
            after = tried.reduction.figures(key, tried.simulate(key)).level
            above = [plan.nodes.index(node) for node in reaching(plan.network, pipe.upstream)]
            rise = np.nanmax(after[above] - before[above])
            assert rise < _NOISE, (pipe.name, diameter, rise)


def test_pipes_below_follow_the_water_to_the_end():
    network = bare(14, 3).option.network
    for id_, pipe in network.links.items():
        below, at = pipes_below(network, id_), pipe.downstream
        for one in below:
            assert network.links[one].upstream == at
            at = network.links[one].downstream
        assert at == identity("pond")
