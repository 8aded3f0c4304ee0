"""What an option is made of, and where it differs from another one."""

import copy
import json

import pytest

from madidus.core.design.options import bill, differences
from madidus.core.model import parse_project
from madidus.core.model.network import Network
from madidus.core.model.sizing import SizingRules, TrenchRow
from tests.cases.build import identity, network, tank

from .test_usual import DEMOS

RULES = SizingRules(trench=[TrenchRow(beside=0.5)], bedding=0.1, digging=20.0, laying=[{"diameter": 0.3, "rate": 100}])


def small(ground=4.0):
    nodes = {
        "a": {"kind": "manhole", "cover": 5.0, "invert": 3.0}, "t": tank(0.0, 2.5, 40.0),
        "o": {"kind": "outfall", "invert": 2.0, "ground": ground},
    }  # fmt: skip
    section = {"shape": "circular", "diameter": 0.3}
    links = {
        "p": {"kind": "pipe", "upstream": "a", "downstream": "o", "length": 50.0, "upstream_invert": 3.0,
              "downstream_invert": 2.4, "section": section, "barrels": 2},
        "w": {"kind": "weir", "upstream": "t", "downstream": "a", "crest": 2.0, "length": 1.0},
    }  # fmt: skip
    return network(nodes, links)


def test_quantities_are_those_of_a_ruler():
    found = bill(small(), RULES)
    assert found.storage == pytest.approx(100.0)
    assert found.pipes == 100.0  # two barrels
    assert found.by_diameter == [(0.3, 100.0)]
    # (D + beside) × L × mean of the depths, bedding included, in one trench
    assert found.excavation == pytest.approx(0.8 * 50.0 * (2.1 + 1.7) / 2)
    assert found.cost == pytest.approx(100.0 * 100.0 + 20.0 * found.excavation)
    assert found.unknown == []


def test_a_pipe_whose_ground_is_not_known_is_told_and_not_counted():
    found = bill(small(ground=None), RULES)
    assert found.unknown == ["p"]
    assert (found.excavation, found.cost) == (0.0, 0.0)
    assert found.pipes == 100.0


def test_differences_name_the_element_what_became_of_it_and_its_fields():
    base = small()
    document = copy.deepcopy(base.model_dump(mode="json"))
    del document["links"][identity("w")]
    document["links"][identity("p")].update(length=60.0, roughness=0.02)
    document["nodes"][identity("n")] = {**document["nodes"][identity("a")], "name": "n"}
    other = Network.model_validate(document)
    told = {(one.group, one.name): (one.what, one.fields) for one in differences(base, other)}
    assert told == {
        ("links", "w"): ("removed", []), ("links", "p"): ("changed", ["length", "roughness"]),
        ("nodes", "n"): ("added", []),
    }  # fmt: skip
    assert differences(base, base) == []


def test_a_demo_does_not_differ_from_itself():
    document = json.loads((DEMOS / "quillmere_boatyard.madidus.json").read_text(encoding="utf-8"))
    one, two = (parse_project(copy.deepcopy(document)).option.network for _ in range(2))
    assert differences(one, two) == []
