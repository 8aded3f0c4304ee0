"""Catchments: whether they drain somewhere near, and whether their area is that of their outline."""

from collections.abc import Iterator

import shapely

from ..elements import Outfall
from ..ground.receiver import nearest, receiver
from ..ground.terrain import GroundLevel
from ..model.network import Catchment, Network
from ..model.project import Project
from ..quantities import Quantity, said
from .finding import Finding, Fix, setting

__all__ = ["catchments"]

_AREA_SHARE = 0.05  # by which a typed area may differ from its outline's


def catchments(project: Project, ground: GroundLevel) -> Iterator[Finding]:
    """Findings of every catchment. ground : down which the water of one finds its way."""
    network = project.option.network
    for id_, catchment in network.catchments.items():
        outline = _outline(catchment)
        onto = network.catchments.get(catchment.over or "")
        if onto is not None:
            if onto.node != catchment.node:
                yield Finding(
                    "runs-over-elsewhere", "look", id_, "over",
                    f"{catchment.name} runs over {onto.name}, which drains elsewhere than it says itself",
                    "its water follows the one it runs over: name the same node",
                    setting("name the same node", "catchments", id_, "node", onto.node),
                )  # fmt: skip
        elif catchment.node is None:
            yield Finding(
                "catchment-without-node", "look", id_, "node", f"{catchment.name} drains to no node",
                "choose the node that receives it", *_drain(network, id_, outline, ground),
            )  # fmt: skip
        elif isinstance(network.nodes[catchment.node], Outfall):
            yield Finding(
                "catchment-at-outfall", "stops", id_, "node", f"{catchment.name} drains to an outfall",
                "choose a node upstream of it",
            )  # fmt: skip
        elif outline is not None:
            node = network.nodes[catchment.node]
            away = _away(network, outline, catchment.node)
            if away > project.check_limits.max_distance:
                yield Finding(
                    "catchment-far",
                    "look",
                    id_,
                    "node",
                    said(f"{catchment.name} lies ", Quantity(away, "m", 0), f" from {node.name}"),
                    "choose a nearer node, or accept it",
                    *_drain(network, id_, outline, ground),
                )
        if outline is not None:
            drawn = float(shapely.area(outline))
            if drawn > 0.0 and abs(drawn - catchment.area) > _AREA_SHARE * drawn:
                yield Finding(
                    "area-against-outline",
                    "look",
                    id_,
                    "area",
                    said(
                        f"{catchment.name}: typed ",
                        Quantity(catchment.area, "m²", 0),
                        ", outlined ",
                        Quantity(drawn, "m²", 0),
                    ),
                    "type the right area; it overrules the outline",
                    setting(
                        said("take the outlined ", Quantity(drawn, "m²", 1)), "catchments", id_, "area", round(drawn, 2)
                    ),
                )
    if network.nodes and not network.catchments:
        yield Finding("no-catchments", "look", None, "catchments", "nothing drains to the network", "add a catchment")


def _outline(catchment: Catchment) -> shapely.Polygon | None:
    return shapely.Polygon(catchment.polygon) if len(catchment.polygon) >= 3 else None


def _drain(
    network: Network, id_: str, outline: shapely.Polygon | None, ground: GroundLevel
) -> tuple[Fix | None, Fix | None]:
    """Drain to where the water of a catchment runs down the ground, or to the nearest shaft."""
    if outline is None:
        return None, None
    near, down = nearest(network, outline), receiver(network, outline, ground)
    found = []
    for key, how in ((down, ""), (near, ", the nearest")):
        if key is not None and (how == "" or _away(network, outline, key) < _away(network, outline, down)):
            found.append(setting(f"drain it to {network.nodes[key].name}{how}", "catchments", id_, "node", key))
    return (*found, None, None)[0], (*found, None, None)[1]


def _away(network: Network, outline: shapely.Polygon, id_: str | None) -> float:
    node = network.nodes[str(id_)]
    return float(shapely.distance(outline, shapely.points(node.x, node.y)))
