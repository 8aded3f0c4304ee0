"""Small laws of LandXML that a change might break unseen: each has its own word for what is wrong."""

import pytest

from madidus.core.errors import ModelError
from madidus.exchange.landxml import read_landxml
from madidus.exchange.landxml_sections import other_laws, section_of, unused
from tests.exchange.test_landxml import document, invert, network_of, pipe, remarks


@pytest.mark.parametrize(
    ("tag", "sizes", "missing"),
    [
        ("CircPipe", {}, "diameter"), ("RectPipe", {"width": "3"}, "height"), ("RectPipe", {"height": "3"}, "width"),
        ("EggPipe", {"width": "3"}, "height"), ("ElliPipe", {"height": "3"}, "span"),
        ("Channel", {"height": "3", "widthTop": "4"}, "widthBottom"),
    ],
)  # fmt: skip
def test_a_size_that_is_missing_is_named(tag, sizes, missing):
    with pytest.raises(KeyError, match=missing):
        section_of(tag, sizes, 1e-3)


@pytest.mark.parametrize("bad", ["0", "-300", "nan", "wide"])
def test_a_size_that_is_none_is_refused(bad):
    with pytest.raises(ValueError, match=r"size above zero|could not convert"):
        section_of("CircPipe", {"diameter": bad}, 1e-3)


def test_sizes_are_in_the_units_of_the_file():
    assert section_of("CircPipe", {"diameter": "12"}, 0.0254)["diameter"] == pytest.approx(0.3048)
    box = section_of("RectPipe", {"width": "4", "height": "2"}, 0.3048)
    assert (box["width"], box["height"]) == pytest.approx((1.2192, 0.6096))


def test_an_egg_that_rounding_alone_parts_from_the_old_one_is_the_old_one():
    assert section_of("EggPipe", {"height": "900", "width": "604"}, 1e-3)["shape"] == "egg"
    assert section_of("EggPipe", {"height": "900", "width": "608"}, 1e-3)["shape"] == "widths"


def test_laws_of_roughness_and_what_is_unused():
    of = {"diameter": "3", "hazenWilliams": "130", "darcyWeisbach": "0.02", "thickness": "40"}
    assert other_laws(of) == "Hazen–Williams C 130, Darcy–Weisbach f 0.02"
    assert other_laws({"mannings": "0.013"}) == ""
    assert unused("CircPipe", of) == ["thickness"]
    assert unused("CircPipe", {**of, "mannings": "0.013"}) == ["darcyWeisbach", "hazenWilliams", "thickness"]


@pytest.mark.parametrize(("unit", "metres"), [("foot", 0.3048), ("USSurveyFoot", 1200 / 3937), ("kilometer", 1000.0)])
def test_levels_and_places_are_turned_into_metres(unit, metres):
    content = document(network_of(pipe(), upper=invert(10, "out"))).replace(b'"meter"', f'"{unit}"'.encode())
    node = read_landxml(content).nodes["B"]
    assert (node["x"], node["cover"]) == pytest.approx((100 * metres, 11 * metres))


def test_a_unit_that_is_not_known_is_refused_by_its_name():
    for old, new, said in ((b'"meter"', b'"rod"', "linearUnit"), (b'"squareMeter"', b'"rood"', "areaUnit")):
        with pytest.raises(ModelError, match=said):
            read_landxml(document(network_of()).replace(old, new))


def test_a_pipe_without_a_length_has_that_between_its_centres_and_says_so():
    incoming = read_landxml(document(network_of(pipe().replace(' length="98"', ""))))
    assert incoming.links["P"]["length"] == pytest.approx(100.0)
    assert any(where == "pipe P" and "no length" in what for where, what in remarks(incoming))


def test_networks_of_one_name_or_none_are_told_apart():
    same = network_of(pipe(), name="N") + network_of(pipe(), name="N") + network_of(pipe(), name="")
    assert set(read_landxml(document(same)).links) == {"N: P", "N 2: P", "network 3: P"}
