"""Figures outside what the trade knows: ranges with their sources, which a project may set for itself."""

from collections.abc import Iterator

from ..elements import (
    Conduit,
    Control,
    FixedLevel,
    LevelSeries,
    Manhole,
    Orifice,
    Outfall,
    Pipe,
    Pump,
    Shaft,
    Storage,
    Store,
    Weir,
)
from ..model.check_limits import CheckLimits
from ..model.network import Network
from ..model.project import Project
from ..quantities import Quantity, said
from ..rules.kinds import Outflow
from ..runoff.permit import drained
from ..verdicts import criteria
from .finding import Finding, setting

__all__ = ["usual"]

_HECTARE = 1e4
_CARRIED = 0.05  # m by which a table may end below its bank
_SHAFT = 0.1  # of the largest area: a smaller one at the end is the shaft above a roof
_FAR_BELOW = 2.0  # m under an outfall, from which a tail water does nothing even in a flood


def usual(project: Project) -> Iterator[Finding]:
    """Findings of nodes, pipes, controls, waters outside and rules."""
    network, limits = project.option.network, project.check_limits
    for id_, node in network.nodes.items():
        if isinstance(node, Outfall):
            yield from _tail_water(id_, node, network)
            continue
        yield from _depth(id_, node.name, node.cover - node.invert, isinstance(node, Store), limits)
        if isinstance(node, Shaft) and node.area > limits.shaft_area:
            field = "diameter" if isinstance(node, Manhole) and node.diameter is not None else "plan_area"
            yield Finding(
                "shaft-large", "look", id_, field,
                said(f"{node.name} has a plan area of ", Quantity(node.area, "m²", 0)),
                "type that of its shaft; what holds more is a tank or a pond",
            )  # fmt: skip
        if node.flooding != "lost" and node.ponded_area > limits.ponded_area:
            yield Finding(
                "ponded-large", "look", id_, "ponded_area",
                said(f"{node.name}: a flood spreads over ", Quantity(node.ponded_area, "m²", 0), " at once"),
                "type the ground around the cover; a slope lets it widen as it rises",
            )  # fmt: skip
        if isinstance(node, Storage):
            yield from _table(id_, node)
    for id_, link in network.links.items():
        if isinstance(link, Pipe) and link.silt > limits.silt * link.height:
            yield Finding(
                "silt-deep", "look", id_, "silt",
                said(
                    f"{link.name}: silt of ", Quantity(link.silt * 1000.0, "mm", 0),
                    f" fills {link.silt / link.height:.0%} of its height",
                ),
                "type the depth of silt on the invert; a pipe so full is to be cleaned",
            )  # fmt: skip
        if not isinstance(link, Conduit):
            yield from _control(id_, link, network)
    yield from _permits(project)


def _depth(id_: str, name: str, depth: float, store: bool, limits: CheckLimits) -> Iterator[Finding]:
    if depth > limits.depth:
        yield Finding(
            "deep", "look", id_, "cover",
            said(f"{name} is ", Quantity(depth, "m", 2), f" deep, {'bank' if store else 'cover'} to invert"),
            "look whether cover and invert are on one datum",
        )  # fmt: skip


def _table(id_: str, node: Storage) -> Iterator[Finding]:
    under = node.cover - node.invert - node.table[-1].depth
    carried = node.table[-1].area > _SHAFT * max(row.area for row in node.table)
    if len(node.table) > 1 and under > _CARRIED and carried:
        yield Finding(
            "table-ends-low", "look", id_, "table",
            said(
                f"{node.name}: its table ends ", Quantity(under, "m", 2), " under its bank; above, the last area of ",
                Quantity(node.table[-1].area, "m²", 0), " is carried up",
            ),
            "add the area at the bank, or lower the bank",
        )  # fmt: skip


def _control(id_: str, link: Control, network: Network) -> Iterator[Finding]:
    above, below = network.nodes[link.upstream], network.nodes[link.downstream]
    if isinstance(above, Outfall):
        return
    if not isinstance(link, Pump) and link.acts_from < above.invert - 1e-6:
        assert link.LEVEL is not None
        yield Finding(
            "opening-below-floor", "look", id_, link.LEVEL,
            said(
                f"{link.name} lies ", Quantity(above.invert - link.acts_from, "m", 3),
                f" below the floor of {above.name}",
            ),
            "raise it to the floor, or lower the floor",
            setting(said("raise it to ", Quantity(above.invert, "m", 3)), "links", id_, link.LEVEL, above.invert),
        )  # fmt: skip
    if isinstance(link, Orifice):
        leaving = [other for other in network.links.values() if other.upstream == link.downstream]
        heights = [other.height for other in leaving if isinstance(other, Conduit)]
        if heights and len(heights) == len(leaving) and link.section.height > max(heights):
            yield Finding(
                "opening-large", "look", id_, "section",
                said(
                    f"{link.name}: its opening of ", Quantity(link.section.height * 1000.0, "mm", 0),
                    f" is larger than what leaves {below.name}, ", Quantity(max(heights) * 1000.0, "mm", 0),
                ),
                "type the size of the opening; as it is it throttles nothing",
            )  # fmt: skip
    if isinstance(link, Weir):
        edge = float(4.0 * max(above.areas()[1]) ** 0.5)
        if link.length > edge:
            yield Finding(
                "weir-long", "look", id_, "length",
                said(
                    f"{link.name}: a crest of ", Quantity(link.length, "m", 1),
                    f" is longer than the edge of {above.name}, ", Quantity(edge, "m", 1),
                ),
                "type the length of the crest",
            )  # fmt: skip


def _tail_water(id_: str, outfall: Outfall, network: Network) -> Iterator[Finding]:
    water = outfall.tail_water
    if isinstance(water, FixedLevel):
        highest = water.level
    elif isinstance(water, LevelSeries):
        highest = max(row.level for row in water.rows)
    else:
        return
    part = next(part for part in network.parts() if id_ in part)
    covers = {n.name: n.cover for key in part if not isinstance(n := network.nodes[key], Outfall)}
    if covers and highest >= min(covers.values()):
        name = min(covers, key=lambda key: covers[key])
        drowned = sum(highest >= cover for cover in covers.values())
        yield Finding(
            "tail-water-high", "look", id_, "tail_water",
            said(
                f"{outfall.name}: its tail water of ", Quantity(highest, "m", 2), " stands above ",
                "every cover" if drowned == len(covers) else f"{drowned} covers, {name} the lowest of them",
            ),
            "look whether it is on the network's datum; else a flap keeps it out",
        )  # fmt: skip
    if highest < outfall.invert - _FAR_BELOW:
        yield Finding(
            "tail-water-low", "look", id_, "tail_water",
            said(
                f"{outfall.name}: its tail water stays ", Quantity(outfall.invert - highest, "m", 2),
                " below its invert",
            ),
            "look whether it is on the network's datum; so low it does nothing, and a free outfall says so",
        )  # fmt: skip


def _permits(project: Project) -> Iterator[Finding]:
    network, limits = project.option.network, project.check_limits
    told: set[int] = set()
    for criterion in criteria(project):
        rule = criterion.rule
        if not isinstance(rule, Outflow) or criterion.problem or criterion.place in told:
            continue
        area = drained(network, rule.element)[0]
        if area > 0.0 and criterion.value > limits.unit_outflow * area / _HECTARE:
            told.add(criterion.place)
            yield Finding(
                "permit-large", "look", rule.element, "rules",
                said(
                    f"“{criterion.name}” permits ", Quantity(criterion.value * 1000.0, "L/s", 0), " from ",
                    Quantity(area, "m²", 0), ": ",
                    Quantity(criterion.value * 1000 / area * _HECTARE, "L/s", 0), " for each hectare",
                ),
                "look at its unit; so much is met whatever runs off",
            )  # fmt: skip
