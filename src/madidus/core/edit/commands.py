"""Edits of a network as they are sent and kept in files: each one step, several together one edit."""

from collections.abc import Sequence
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from ..elements import DRAWN_LINKS, DRAWN_NODES, FlowCurve, Manhole
from ..elements.curve import vortex_rows
from ..elements.document import ElementId, Level
from ..errors import ModelError
from ..model.network import Network
from ..model.project import Project
from ..model.refused import problem_of
from .become import become
from .changed import found, with_elements, with_fields
from .convey import convey
from .draw import draw_catchment, draw_link, draw_node, draw_run
from .levels import How, set_levels, standing_on
from .reshape import join, moved_sides, redraw, reroute, split, turn_round
from .several import move, paste, remove

__all__ = ["EDITS", "Edit", "apply"]

_Point = tuple[float, float]
_Fields = Annotated[dict[str, Any], Field(max_length=200, description="by their paths below the element")]
_Ground = Annotated[float | None, Field(ge=-1000, le=9000, description="level of the ground there where known, m")]
_Ids = Annotated[list[ElementId], Field(min_length=1, max_length=100_000)]
Done = tuple[Network, list[str]]

if TYPE_CHECKING:
    _NodeKind = str
    _LinkKind = str
else:  # whatever kinds there are
    _NodeKind, _LinkKind = Literal[tuple(DRAWN_NODES)], Literal[tuple(DRAWN_LINKS)]


class _Edit(BaseModel):
    """One step. `on` gives the network after it and the ids of what it made."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    def on(self, network: Network, project: Project) -> Done:
        raise NotImplementedError


class SetField(_Edit):
    """A field of an element. With a node's invert goes what stands on it: ends of conduits, bottoms of controls."""

    edit: Literal["set"]
    element: ElementId
    field: str = Field(min_length=1, max_length=200, description="path below the element")
    value: Any

    def on(self, network: Network, project: Project) -> Done:
        given = {self.field: self.value}
        if self.element in network.nodes:
            node = with_fields(network.nodes[self.element], given)
            links = standing_on(network, self.element, node.invert) if self.field == "invert" else {}
            return with_elements(network, nodes={self.element: node}, links=links), []
        if self.element in network.links:
            link = with_fields(network.links[self.element], given)
            return with_elements(network, links={self.element: link}), []
        catchment = with_fields(found(network.catchments, self.element, "element"), given)
        return with_elements(network, catchments={self.element: catchment}), []


class DrawNode(_Edit):
    """A new node at a place."""

    edit: Literal["draw node"]
    drawn: _NodeKind
    x: float
    y: float
    ground: _Ground = None
    fields: _Fields = Field(default_factory=dict)

    def on(self, network: Network, project: Project) -> Done:
        drawn, id_ = draw_node(network, self.drawn, self.x, self.y, self.ground, self.fields)
        node = drawn.nodes[id_]
        if isinstance(node, Manhole) and not {"diameter", "plan_area"} & self.fields.keys():
            ring = project.catalogue.ring_for(project.defaults.diameter, node.cover - node.invert)
            drawn = with_elements(drawn, nodes={id_: with_fields(node, {"diameter": ring})})
        return drawn, [id_]


class DrawLink(_Edit):
    """A new link between two nodes."""

    edit: Literal["draw link"]
    drawn: _LinkKind
    upstream: ElementId
    downstream: ElementId
    fields: _Fields = Field(default_factory=dict)

    def on(self, network: Network, project: Project) -> Done:
        fields = {**project.defaults.of(self.drawn), **self.fields}
        drawn, id_ = draw_link(network, self.drawn, self.upstream, self.downstream, fields)
        return drawn, [id_]


class DrawCatchment(_Edit):
    """A new catchment."""

    edit: Literal["draw catchment"]
    area: float = Field(gt=0, description="m2")
    fields: _Fields = Field(default_factory=dict)

    def on(self, network: Network, project: Project) -> Done:
        drawn, id_ = draw_catchment(network, self.area, self.fields)
        return drawn, [id_]


class DrawRun(_Edit):
    """One step along a run of pipes, to a node or a place; the node where it ends counts as made."""

    edit: Literal["draw run"]
    begins: ElementId | None = None
    to: ElementId | _Point
    ground: _Ground = None
    drawn: Literal["manhole", "outfall"] = Field("manhole", description="what is put where there is no node")

    def on(self, network: Network, project: Project) -> Done:
        own = project.defaults, project.catalogue
        after, at = draw_run(network, *own, self.begins, self.to, self.ground, self.drawn)
        return after, [at]


class Split(_Edit):
    """A node set on a conduit."""

    edit: Literal["split"]
    link: ElementId
    share: float = Field(gt=0, lt=1, description="of the length, from upstream")
    drawn: _NodeKind = "manhole"
    ground: _Ground = None

    def on(self, network: Network, project: Project) -> Done:
        cut, at = split(network, self.link, self.share, self.drawn, self.ground)
        return cut, [at]


class Join(_Edit):
    """A node taken out of a run of pipes."""

    edit: Literal["join"]
    node: ElementId

    def on(self, network: Network, project: Project) -> Done:
        return join(network, self.node), []


class TurnRound(_Edit):
    """A link turned round."""

    edit: Literal["turn round"]
    link: ElementId

    def on(self, network: Network, project: Project) -> Done:
        return turn_round(network, self.link), []


class Reroute(_Edit):
    """One end of a link led to another node."""

    edit: Literal["reroute"]
    link: ElementId
    end: Literal["upstream", "downstream"]
    to: ElementId

    def on(self, network: Network, project: Project) -> Done:
        return reroute(network, self.link, self.end, self.to), []


class Redraw(_Edit):
    """Other bends of a conduit, or another outline of a pond's base or a catchment."""

    edit: Literal["redraw"]
    element: ElementId
    corners: list[_Point] = Field(max_length=5000)

    def on(self, network: Network, project: Project) -> Done:
        return redraw(network, self.element, self.corners), []


class GeneralVortex(_Edit):
    """A flow curve given the general curve of vortex controls by its design head and flow."""

    edit: Literal["general vortex"]
    element: ElementId
    head: float = Field(gt=0, le=100, description="m, design head")
    flow: float = Field(gt=0, le=100, description="m3/s, design flow")

    def on(self, network: Network, project: Project) -> Done:
        control = found(network.links, self.element, "element")
        if not isinstance(control, FlowCurve):
            raise ModelError(network.label(self.element), "kind", "has no curve", "choose a flow curve")
        rows = [row.model_dump() for row in vortex_rows(self.head, self.flow)]
        curve = with_fields(control, {"rows": rows, "general": True})
        return with_elements(network, links={self.element: curve}), []


class ChangeKind(_Edit):
    """An element of another kind where it stands; what both kinds have stays."""

    edit: Literal["change kind"]
    element: ElementId
    drawn: _NodeKind | _LinkKind

    def on(self, network: Network, project: Project) -> Done:
        return become(network, self.element, self.drawn), []


class MoveSides(_Edit):
    """An outline moved outward in parallel: all of its sides, or one."""

    edit: Literal["move sides"]
    element: ElementId
    by: float = Field(ge=-1000, le=1000, description="m, negative inward")
    side: int | None = Field(None, ge=1, le=5000, description="from its corner of this number to the next")

    def on(self, network: Network, project: Project) -> Done:
        return moved_sides(network, self.element, self.by, self.side), []


class LetConvey(_Edit):
    """A pond that conveys: a channel of its volume between its inlets and its outlet."""

    edit: Literal["let convey"]
    element: ElementId
    length: float = Field(gt=0.1, le=10_000, description="m")
    fall: float = Field(0.0, ge=0, le=100, description="m over the length")
    roughness: float = Field(0.035, gt=0, le=1, description="Manning's n, s/m^(1/3)")

    def on(self, network: Network, project: Project) -> Done:
        return convey(network, self.element, self.length, self.fall, self.roughness)


class Move(_Edit):
    """Elements moved on the plan, m."""

    edit: Literal["move"]
    elements: _Ids
    east: float
    north: float

    def on(self, network: Network, project: Project) -> Done:
        return move(network, set(self.elements), self.east, self.north), []


class Remove(_Edit):
    """Elements removed, with the links of removed nodes."""

    edit: Literal["remove"]
    elements: _Ids

    def on(self, network: Network, project: Project) -> Done:
        return remove(network, set(self.elements)), []


class Paste(_Edit):
    """A copied network pasted where it stands."""

    edit: Literal["paste"]
    clip: dict[str, Any] = Field(description="nodes, links and catchments by id, as in a project file")

    def on(self, network: Network, project: Project) -> Done:
        try:
            clip = Network.model_validate(self.clip)
        except ValidationError as error:
            first = error.errors()[0]
            where = "/".join(str(step) for step in first["loc"]) or "elements"
            raise ModelError(
                "clipboard", where, problem_of(error), "copy it again, from a project of this version"
            ) from error
        return paste(network, clip)


class SetLevels(_Edit):
    """A run of conduits given its levels, all of it at once."""

    edit: Literal["set levels"]
    links: Annotated[list[ElementId], Field(min_length=1, max_length=5000, description="one after the other")]
    how: How
    gradient: float = Field(0.01, gt=0, le=1, description="fall per length")
    cover: float = Field(1.0, ge=0, le=20, description="m of ground over the soffits")
    levels: list[tuple[Level, Level]] = Field(default_factory=list, max_length=5000, description="m, of each conduit")

    def on(self, network: Network, project: Project) -> Done:
        return set_levels(network, self.links, self.how, self.gradient, self.cover, self.levels), []


Edit = Annotated[
    SetField | DrawNode | DrawLink | DrawCatchment | DrawRun | Split | Join | TurnRound | Reroute | Redraw
    | ChangeKind | MoveSides | LetConvey | GeneralVortex | Move | Remove | Paste | SetLevels,
    Field(discriminator="edit"),
]  # fmt: skip
EDITS: TypeAdapter[list[Edit]] = TypeAdapter(Annotated[list[Edit], Field(min_length=1, max_length=20_000)])


def apply(project: Project, option: str, edits: Sequence[Edit]) -> tuple[Project, list[str]]:
    """The project after edits of an option's network, one after another, and the ids of what they made.

    Raises
    ------
    ModelError
        When there is no such option or an edit cannot be done: then none of them is.
    """
    if option not in project.options:
        raise ModelError("option", option, "is not in the project", "load the project again")
    old = project.options[option]
    network, made = old.network, list[str]()
    for edit in edits:
        network, new = edit.on(network, project)
        made += new
    options = {**project.options, option: old.model_copy(update={"network": network})}
    return project.model_copy(update={"options": options}), made
