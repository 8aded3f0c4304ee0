"""What a list of projects shows of one: its units, the option in view, and a small picture to know it by."""

from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel

from .project import inputs_of

__all__ = ["Card", "Thumbnail", "card_of"]

_LINES = 300  # links that are drawn, the largest
_NODES = 120  # up to which every node is drawn
_DRAWN = 40  # shapes of the backdrop
_STORES = {"storage", "basin", "stone"}

Place = tuple[float, float]


class Thumbnail(BaseModel):
    """The option in view, coordinates in m. links : both ends. nodes, stores : places. water, buildings : outlines."""

    links: list[tuple[Place, Place]] = []
    nodes: list[Place] = []
    stores: list[Place] = []
    water: list[list[Place]] = []
    buildings: list[list[Place]] = []


class Card(BaseModel):
    """option, name : id and name of the option in view. inputs : digest of what its verdicts depend on.

    options : how many are not retired.
    """

    units: str
    flow_unit: str | None
    option: str
    name: str
    inputs: str
    options: int
    picture: Thumbnail


def card_of(document: Mapping[str, Any]) -> Card:
    """The card of a valid document; its picture shows the largest links alone where there are many."""
    options, shown = document["options"], document["in_view"]
    return Card(
        units=document["units"], flow_unit=document["flow_unit"], option=shown, name=options[shown]["name"],
        inputs=inputs_of(document, shown),
        options=sum(not option["retired"] for option in options.values()), picture=_picture(document),
    )  # fmt: skip


def _picture(document: Mapping[str, Any]) -> Thumbnail:
    network = document["options"][document["in_view"]]["network"]
    place = {id_: (round(node["x"], 1), round(node["y"], 1)) for id_, node in network["nodes"].items()}
    links = sorted(network["links"].values(), key=_size, reverse=True)[:_LINES]
    stores = {id_ for id_, node in network["nodes"].items() if node["kind"] in _STORES}
    shapes: dict[str, list[list[Place]]] = {"water": [], "building": []}
    for shape in document["backdrop"]:
        if shape["kind"] in shapes and len(shapes[shape["kind"]]) < _DRAWN:
            shapes[shape["kind"]].append([(round(x, 1), round(y, 1)) for x, y in shape["points"]])
    return Thumbnail(
        links=[(place[link["upstream"]], place[link["downstream"]]) for link in links],
        nodes=[at for id_, at in place.items() if id_ not in stores] if len(place) <= _NODES else [],
        stores=[place[id_] for id_ in stores][:_NODES],
        water=shapes["water"], buildings=shapes["building"],
    )  # fmt: skip


def _size(link: Mapping[str, Any]) -> float:
    section = link.get("section") or {}
    return float(section.get("diameter") or section.get("height") or section.get("rise") or 0.0)
