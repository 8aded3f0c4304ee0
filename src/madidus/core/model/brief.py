"""The brief: the rules that must be shown to be met. Each says what is allowed, in which storms, of which elements."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..elements.document import DocumentModel, ElementId, Name, Positive
from .permit import Greenfield, PerHectare, PreDevelopment

__all__ = [
    "Brief", "ConduitCover", "FloodDepth", "FloodVolume", "Freeboard", "Gradient", "HalfDrain", "InvertDepth", "Limit",
    "NoneSmaller", "OfDrawing", "OfStorms", "Outflow", "OverPatterns", "PipeSize", "Rule", "Scope", "Surcharge",
    "VelocityLeast", "VelocityMost", "VolumeOut", "WaterBelowCover",
]  # fmt: skip

OverPatterns = Literal["mean", "median", "every"]


class Limit(DocumentModel):
    """What a rule allows in the storms of one return period."""

    return_period: Positive = Field(description="years; storms of this return period are judged")
    allowance: float = Field(0.0, ge=0, le=2, description="climate change allowance as a fraction, 0.4 = +40 %")
    duration: float | None = Field(None, gt=0, le=20_160, description="min; none: storms of every duration")
    value: float = Field(0.0, ge=0, le=1e9, description="in the SI unit of the rule")


class Scope(DocumentModel):
    """Of which elements a rule is asked. What it names by id or by name must exist where the rule is judged."""

    of: Literal["all", "all but", "elements", "selection", "network"] = Field(
        "all", description="all of its kind; all but the named ones; the named ones; those of a kept selection; "
        "those of the separate network that the named element belongs to",
    )  # fmt: skip
    elements: list[ElementId] = Field(default_factory=list, max_length=20_000)
    selection: str = Field("", max_length=120, description="name of a kept selection")
    reason: str = Field("", max_length=500, description="why some are left out; the report prints it")

    @model_validator(mode="after")
    def _names_what_it_is_of(self) -> Self:
        if self.of in ("all but", "elements", "network") and not self.elements:
            raise ValueError(f"scope, elements: “{self.of}” names none; pick some, or choose all")
        if self.of == "network" and len(self.elements) > 1:
            raise ValueError("scope, elements: a network is named by one of its elements; keep one")
        if self.of == "selection" and not self.selection:
            raise ValueError("scope, selection: is not named; choose a kept selection, or choose all")
        return self


class _Rule(DocumentModel):
    name: Name
    asked: bool = Field(True, description="false: muted, measured but not judged")
    scope: Scope = Field(default_factory=Scope)


class OfStorms(_Rule):
    """A rule about what happens in storms, with a limit for each return period that it names."""

    limits: list[Limit] = Field(min_length=1, max_length=20)
    patterns: OverPatterns = Field(
        "mean",
        description="how temporal patterns of one duration are judged: by the highest mean or median over the "
        "durations, or every pattern for itself; fewer than three of a duration count each for itself",
    )

    @model_validator(mode="after")
    def _each_once(self) -> Self:
        storms = [(limit.return_period, limit.allowance, limit.duration) for limit in self.limits]
        for k, storm in enumerate(storms):
            if storm in storms[:k]:
                raise ValueError(f"limits: two are for {storm[0]:g} years; give each its own return period")
        return self


class Surcharge(OfStorms):
    """Water stays a distance below the soffit of conduits, m."""

    kind: Literal["surcharge"] = "surcharge"


class WaterBelowCover(OfStorms):
    """Water stays a distance below the cover of nodes: 0 m is 'no flooding', 0.3 m a near-flood margin."""

    kind: Literal["cover"] = "cover"


class FloodVolume(OfStorms):
    """At most this volume stands above (or is lost over) the cover of a node, m3."""

    kind: Literal["flood_volume"] = "flood_volume"


class FloodDepth(OfStorms):
    """A flood stands at most this deep over the cover of a node, m."""

    kind: Literal["flood_depth"] = "flood_depth"


class Outflow(OfStorms):
    """At most this flow leaves by an outfall or passes a link, m3/s. `by` says which way to that is in use."""

    kind: Literal["outflow"] = "outflow"
    element: ElementId = Field(description="the outfall or link")
    by: Literal["typed", "hectare", "formula", "model"] = "typed"
    hectare: PerHectare = Field(default_factory=PerHectare)
    formula: Greenfield = Field(default_factory=Greenfield)
    model: PreDevelopment = Field(default_factory=PreDevelopment)

    @model_validator(mode="after")
    def _permits_something(self) -> Self:
        if any(limit.value <= 0.0 for limit in self.limits):
            raise ValueError("limits: a permitted rate must be greater than 0; type one")
        return self


class VolumeOut(OfStorms):
    """At most this volume leaves by an outfall or passes a link within a time from the beginning of the storm, m3."""

    kind: Literal["volume"] = "volume"
    element: ElementId = Field(description="the outfall or link")
    within: float = Field(86_400.0, ge=60, le=1_209_600, description="s from the beginning of the storm")


class Freeboard(OfStorms):
    """Water stays a distance below the bank of ponds and tanks, m."""

    kind: Literal["freeboard"] = "freeboard"


class HalfDrain(OfStorms):
    """A pond or tank has given back half of what it took, within a time from its peak, s."""

    kind: Literal["half_drain"] = "half_drain"


class VelocityLeast(OfStorms):
    """Water runs at least once so fast in a conduit that it carries silt away, m/s."""

    kind: Literal["velocity_least"] = "velocity_least"


class VelocityMost(OfStorms):
    """Water never runs faster than this in a conduit, m/s."""

    kind: Literal["velocity_most"] = "velocity_most"


class OfDrawing(_Rule):
    """A rule about the network as it is drawn, without a storm."""

    limit: float = Field(0.0, ge=0, le=1e6, description="in the SI unit of the rule")


class PipeSize(OfDrawing):
    """Pipes are at least this high, m."""

    kind: Literal["pipe_size"] = "pipe_size"


class Gradient(OfDrawing):
    """Conduits fall at least so much over their length, m/m."""

    kind: Literal["gradient"] = "gradient"


class ConduitCover(OfDrawing):
    """At least so much ground lies over the soffit of a pipe at its ends, m."""

    kind: Literal["conduit_cover"] = "conduit_cover"


class InvertDepth(OfDrawing):
    """The invert of a node lies at most so deep below its cover, m."""

    kind: Literal["invert_depth"] = "invert_depth"


class NoneSmaller(OfDrawing):
    """No pipe is by more than this smaller than one that arrives above it, m."""

    kind: Literal["none_smaller"] = "none_smaller"


Rule = Annotated[
    Surcharge | WaterBelowCover | FloodVolume | FloodDepth | Outflow | VolumeOut | Freeboard | HalfDrain
    | VelocityLeast | VelocityMost | PipeSize | Gradient | ConduitCover | InvertDepth | NoneSmaller,
    Field(discriminator="kind"),
]  # fmt: skip


class Brief(DocumentModel):
    """The rules, in the order in which they are read."""

    author: str = Field("", max_length=200)
    client: str = Field("", max_length=200)
    rules: list[Rule] = Field(default_factory=list, max_length=100)
