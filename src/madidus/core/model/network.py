"""The network: nodes joined by links, and the catchments that drain to nodes."""

from typing import Self

from pydantic import Field, model_validator

from ..elements import Conduit, Inlet, Link, Node
from ..elements.document import DocumentModel, ElementId, Name, Positive, Share
from ..surface.runoff import Method
from ..surface.timing import Timing

__all__ = ["Catchment", "Network"]


class Catchment(DocumentModel):
    """Ground that drains to a node. Fields left empty inherit the project's runoff values."""

    name: Name
    area: Positive = Field(le=1e10, description="m2")
    impervious: Share = Field(1.0, description="share of the area that is paved or roofed")
    node: ElementId | None = Field(None, description="the node that receives the runoff")
    over: ElementId | None = Field(
        None, description="a catchment over which its runoff runs like rain, to arrive at that one's node"
    )
    time_of_entry: float | None = Field(None, ge=60, le=86_400, description="s")
    timing: Timing | None = Field(None, description="the time is computed from this, whatever is typed")
    creep: float | None = Field(None, ge=0, le=1, description="future growth of its paved area")
    method: Method | None = Field(None, description="of runoff; none is the project's")
    polygon: list[tuple[float, float]] = Field(default_factory=list, max_length=5000)


class Network(DocumentModel):
    """Nodes, links and catchments by id. Links refer to nodes by id; every reference must exist."""

    nodes: dict[ElementId, Node] = Field(default_factory=dict)
    links: dict[ElementId, Link] = Field(default_factory=dict)
    catchments: dict[ElementId, Catchment] = Field(default_factory=dict)

    @model_validator(mode="after")
    def _references_exist(self) -> Self:
        for id_, link in self.links.items():
            for end in ("upstream", "downstream"):
                if getattr(link, end) not in self.nodes:
                    raise ValueError(
                        f"{link.kind} {link.name} (links/{id_}), {end}: there is no node {getattr(link, end)}; "
                        "name an existing node or remove the link"
                    )
            if link.upstream == link.downstream:
                raise ValueError(
                    f"{link.kind} {link.name} (links/{id_}), downstream: both ends are the same node; move one end"
                )
        for id_, catchment in self.catchments.items():
            if catchment.node is not None and catchment.node not in self.nodes:
                raise ValueError(
                    f"catchment {catchment.name} (catchments/{id_}), node: there is no node {catchment.node}; "
                    "name an existing node or leave it empty"
                )
            if catchment.over is not None and (catchment.over not in self.catchments or catchment.over == id_):
                raise ValueError(
                    f"catchment {catchment.name} (catchments/{id_}), over: there is no other catchment "
                    f"{catchment.over}; name one or leave it empty"
                )
            below, passed = catchment.over, {id_}
            while below is not None and below in self.catchments:
                if below in passed:
                    raise ValueError(
                        f"catchment {catchment.name} (catchments/{id_}), over: catchments run over each other in a "
                        "circle; let one of them drain to a node"
                    )
                passed.add(below)
                below = self.catchments[below].over
        for id_, node in self.nodes.items():
            if not isinstance(node, Inlet) or node.bypass is None:
                continue
            if node.bypass not in self.nodes or node.bypass == id_:
                raise ValueError(
                    f"inlet {node.name} (nodes/{id_}), bypass: there is no other node {node.bypass}; "
                    "name an existing node or leave it empty"
                )
        return self

    def label(self, element: str) -> str:
        """The user's name of an element, with its kind: 'pipe P1'."""
        found = self.nodes.get(element) or self.links.get(element)
        if found is None:
            return element
        return f"{found.word} {found.name}"

    def course(self, link: Link) -> list[tuple[float, float]]:
        """Corners of a link on the plan from its upstream node to its downstream one, m."""
        a, b = self.nodes[link.upstream], self.nodes[link.downstream]
        bends = link.bends if isinstance(link, Conduit) else []
        return [(a.x, a.y), *bends, (b.x, b.y)]

    def parts(self) -> list[set[str]]:
        """Node ids of each separate network, the largest first."""
        joined: dict[str, set[str]] = {id_: {id_} for id_ in self.nodes}
        for link in self.links.values():
            a, b = joined[link.upstream], joined[link.downstream]
            if a is not b:
                small, large = sorted((a, b), key=len)
                large |= small
                for id_ in small:
                    joined[id_] = large
        parts = {id(part): part for part in joined.values()}
        return sorted(parts.values(), key=lambda part: (-len(part), min(part)))

    def only(self, part: set[str]) -> "Network":
        """The separate network that these nodes are."""
        return Network.model_construct(
            nodes={id_: node for id_, node in self.nodes.items() if id_ in part},
            links={id_: link for id_, link in self.links.items() if link.upstream in part},
            catchments={id_: c for id_, c in self.catchments.items() if c.node in part},
        )
