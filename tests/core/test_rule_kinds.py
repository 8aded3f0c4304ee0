"""Every kind of rule says all of itself, and its sense is that of what it measures."""

from typing import Literal

import numpy as np
import pytest
from pydantic import ValidationError

from madidus.core.elements import Conduit, Outfall, Pipe, Store
from madidus.core.rules import KINDS, Brief, OfStorms
from madidus.core.rules.kinds import Gradient, NoneSmaller, Surcharge, VolumeOut
from madidus.core.rules.rule import OfDrawing, Start

from .test_single_change import demo


@pytest.fixture(scope="module")
def site():
    """The boatyard's network, and the figures of its storms."""
    _project, plan, figures = demo()
    return plan.network, list(figures.values())


def rule_of(kind, network, value):
    fields = {"name": "r"}
    if KINDS[kind].LOOKS_AT == "place":
        fields["element"] = next(id_ for id_, node in network.nodes.items() if isinstance(node, Outfall))
    if issubclass(KINDS[kind], OfStorms):
        return KINDS[kind](limits=[{"return_period": 30, "value": value}], **fields)
    return KINDS[kind](limit=value, **fields)


@pytest.mark.parametrize("kind", KINDS)
def test_a_stricter_limit_leaves_less_at_every_element(site, kind):
    network, storms = site
    loose, strict = (2.0, 1.0) if KINDS[kind].SENSE == "at most" else (1.0, 2.0)
    easy, hard = (rule_of(kind, network, value).look(value, network) for value in (loose, strict))
    seen = 0
    for figures in storms:
        left, less = easy.spare(figures), hard.spare(figures)
        known = ~np.isnan(left) & ~np.isnan(less)
        seen += int(known.sum())
        np.testing.assert_allclose((left - less)[known], 1.0)
    assert seen or issubclass(KINDS[kind], VolumeOut)  # no run noted the volume


@pytest.mark.parametrize("kind", KINDS)
def test_it_is_asked_of_what_it_says(site, kind):
    network, _ = site
    looked = rule_of(kind, network, 1.0).look(1.0, network).elements
    every = {"conduits": Conduit, "pipes": Pipe, "stores": Store}
    at = KINDS[kind].LOOKS_AT
    if at == "place":
        assert len(looked) == 1
        return
    own = network.nodes if at in ("nodes", "stores") else network.links
    wanted = {
        id_ for id_, one in own.items() if isinstance(one, every.get(at, object)) and not isinstance(one, Outfall)
    }
    assert looked == sorted(looked)
    assert set(looked) <= wanted
    assert set(looked) == wanted or issubclass(KINDS[kind], NoneSmaller)


def test_a_brief_takes_every_kind_by_its_name():
    kinds = {entry["properties"]["kind"]["const"] for entry in Brief.model_json_schema()["$defs"].values()
             if "patterns" in entry.get("properties", {}) or "limit" in entry.get("properties", {})}  # fmt: skip
    assert kinds == set(KINDS)
    assert len(kinds) == 16


def test_a_kind_that_keeps_its_sense_to_itself_is_refused():
    """Else a limit of at least so much would be judged as one of at most."""
    with pytest.raises(TypeError, match="Odd does not say its SENSE"):

        class Odd(OfDrawing):
            UNIT = "m"
            LOOKS_AT = "pipes"
            START = Start("odd", "Odd", "At least", "odd is", 1.0, None)

            kind: Literal["odd"] = "odd"


def test_limits_in_words():
    thrice = [{"return_period": 30}]
    assert Surcharge(name="r", limits=thrice).allowed(0.0, "m") == "not above soffit"
    assert Surcharge(name="r", limits=thrice).allowed(0.3, "m") == "at least 0.300 m below soffit"
    assert Gradient(name="r", limit=1 / 300).allowed(1 / 300, "m/m") == "at least 1:300"
    assert NoneSmaller(name="r").allowed(0.0, "mm") == "none smaller"
    volume = VolumeOut(name="r", limits=thrice, element="00000000-0000-4000-8000-000000000001", within=7200)
    assert volume.allowed(120.0, "m3") == "at most 120 m3 within 2 h"
    assert volume.demand(120.0).marks == (7200,)
    with pytest.raises(ValidationError, match="two are for 30 years"):
        Surcharge(name="r", limits=thrice * 2)
