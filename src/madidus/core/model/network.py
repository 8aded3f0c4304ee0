"""The network: nodes joined by links, and the catchments that drain to nodes."""

import itertools
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .base import ElementId, Level, Name, Part, Positive, Share

__all__ = [
    "Catchment", "Circular", "FixedLevel", "Free", "Junction", "Link", "Manhole", "Network", "Node",
    "NormalDepth", "Orifice", "Outfall", "Pipe", "Rectangular", "Section", "Storage", "TailWater", "Weir",
]  # fmt: skip


class _Placed(Part):
    name: Name
    x: float = Field(0.0, ge=-1e7, le=1e7, description="m east in the project's grid")
    y: float = Field(0.0, ge=-1e8, le=1e8, description="m north in the project's grid")


class _Flooding(_Placed):
    flooding: Literal["stored", "lost"] = Field(
        "stored", description="water above cover stands on the ponded area and returns, or leaves for good"
    )
    ponded_area: float = Field(50.0, ge=0.05, le=1e6, description="m2 on which water above the cover stands")


class Manhole(_Flooding):
    """A shaft from invert to cover."""

    kind: Literal["manhole"] = "manhole"
    cover: Level
    invert: Level
    plan_area: float = Field(1.131, ge=0.05, le=10_000, description="m2; 1.131 is a 1200 mm ring")


class Junction(_Flooding):
    """Pipes joined without a shaft worth storing in."""

    kind: Literal["junction"] = "junction"
    cover: Level
    invert: Level
    plan_area: float = Field(0.3, ge=0.05, le=10_000, description="m2")


class StorageRow(Part):
    depth: float = Field(ge=0, le=100, description="m above the invert")
    area: float = Field(gt=0, le=1e8, description="m2 of water surface")


class Storage(_Flooding):
    """A pond or a tank: a depth–area table up to its bank or roof."""

    kind: Literal["storage"] = "storage"
    form: Literal["pond", "tank"] = "pond"
    invert: Level
    cover: Level = Field(description="m above datum: the bank of a pond, the cover of a tank")
    table: list[StorageRow] = Field(min_length=1, max_length=200)
    initial_depth: float = Field(0.0, ge=0, le=100, description="m of standing water before the storm")

    @model_validator(mode="after")
    def _depths_rise(self) -> Self:
        depths = [row.depth for row in self.table]
        if depths[0] != 0 or any(b <= a for a, b in itertools.pairwise(depths)):
            raise ValueError("depths of the table must start at 0 and rise from row to row; sort or correct them")
        return self


class Free(Part):
    kind: Literal["free"] = "free"


class NormalDepth(Part):
    kind: Literal["normal"] = "normal"


class FixedLevel(Part):
    kind: Literal["fixed"] = "fixed"
    level: Level


TailWater = Annotated[Free | NormalDepth | FixedLevel, Field(discriminator="kind")]


class Outfall(_Placed):
    """Where water leaves: the tail water decides what it meets there."""

    kind: Literal["outfall"] = "outfall"
    invert: Level
    ground: Level | None = None
    tail_water: TailWater = Field(default_factory=Free)
    flap: bool = Field(False, description="a flap lets nothing back in")


Node = Annotated[Manhole | Junction | Storage | Outfall, Field(discriminator="kind")]


class Circular(Part):
    shape: Literal["circular"] = "circular"
    diameter: float = Field(gt=0.01, le=20, description="m")

    @property
    def height(self) -> float:
        return self.diameter


class Rectangular(Part):
    shape: Literal["rectangular"] = "rectangular"
    width: float = Field(gt=0.01, le=200, description="m")
    height: float = Field(gt=0.01, le=20, description="m")


Section = Annotated[Circular | Rectangular, Field(discriminator="shape")]


class _Link(Part):
    name: Name
    upstream: ElementId
    downstream: ElementId
    flap: bool = Field(False, description="a flap lets nothing flow from downstream to upstream")


class Pipe(_Link):
    """A conduit of one section and one gradient."""

    kind: Literal["pipe"] = "pipe"
    section: Section
    length: float = Field(gt=0, le=100_000, description="m; overrules the drawn length")
    upstream_invert: Level
    downstream_invert: Level
    roughness: float = Field(0.013, gt=0, le=1, description="Manning's n, s/m^(1/3)")
    entry_loss: float = Field(0.0, ge=0, le=100, description="K of velocity heads at the upstream end")
    exit_loss: float = Field(0.0, ge=0, le=100, description="K of velocity heads at the downstream end")

    @property
    def gradient(self) -> float:
        return (self.upstream_invert - self.downstream_invert) / self.length


class Orifice(_Link):
    """A side orifice: circular, or rectangular where a width is given."""

    kind: Literal["orifice"] = "orifice"
    invert: Level
    section: Section
    discharge_coefficient: float = Field(0.6, gt=0, le=1.5)


class Weir(_Link):
    """A sharp-crested weir: Q = C L H^1.5."""

    kind: Literal["weir"] = "weir"
    crest: Level
    length: float = Field(gt=0, le=10_000, description="m")
    coefficient: float = Field(1.8, gt=0, le=3, description="C, m^0.5/s")


Link = Annotated[Pipe | Orifice | Weir, Field(discriminator="kind")]


class Catchment(Part):
    """Ground that drains to a node. Fields left empty inherit the project's runoff values."""

    name: Name
    area: Positive = Field(le=1e10, description="m2")
    impervious: Share = Field(1.0, description="share of the area that is paved or roofed")
    node: ElementId | None = Field(None, description="the node that receives the runoff")
    time_of_entry: float | None = Field(None, ge=60, le=86_400, description="s")
    polygon: list[tuple[float, float]] = Field(default_factory=list, max_length=5000)


class Network(Part):
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
        return self

    def label(self, element: str) -> str:
        """The user's name of an element, with its kind: 'pipe P1'."""
        found = self.nodes.get(element) or self.links.get(element)
        return f"{getattr(found, 'form', found.kind)} {found.name}" if found else element
