"""What every rule is: a limit in storms or of the drawing, of which elements it is asked, and what a kind says of
itself.
"""

from abc import abstractmethod
from dataclasses import dataclass
from typing import Any, ClassVar, Literal, Self

from pydantic import Field, model_validator

from ..elements.document import DocumentModel, ElementId, Name, Positive
from .measured import Drawn, Measured

__all__ = ["Demand", "Limit", "LooksAt", "OfDrawing", "OfStorms", "OverPatterns", "RuleBase", "Scope", "Sense", "Start"]

OverPatterns = Literal["mean", "median", "every"]
Sense = Literal["at least", "at most"]
LooksAt = Literal["conduits", "pipes", "nodes", "stores", "place"]
"""What a rule is asked of: all of a kind, or the one outfall or link that it names."""


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


@dataclass(frozen=True)
class Demand:
    """What rules ask of the run of a storm: volumes noted at `marks`, s, and so much time after its inflow, s."""

    marks: tuple[float, ...] = ()
    after: float = 0.0


@dataclass(frozen=True)
class Start:
    """A kind in the sentence that it is read as, and what a new rule of it begins with.

    label : of the kind, in a list. name : of a new rule. before, after : the words about its limit. limit : in the
    rule's unit. storms : of the rains that are run, those of which it is first asked; None without storms.
    """

    label: str
    name: str
    before: str
    after: str
    limit: float
    storms: Literal["commonest", "middle", "rarest"] | None = "rarest"


class RuleBase(DocumentModel):
    """A rule. Each kind says, besides what it measures:

    UNIT : in which its limit and margin are kept. SENSE : whether a limit is a least or a most. LOOKS_AT : what it is
    asked of. START : its sentence. BY_LEVEL : it is broken by water that stands too high, for which there is a cause
    further down. MENDED_BY : what can be made larger to meet it.
    """

    UNIT: ClassVar[str]
    SENSE: ClassVar[Sense]
    LOOKS_AT: ClassVar[LooksAt]
    START: ClassVar[Start]
    BY_LEVEL: ClassVar[bool] = False
    MENDED_BY: ClassVar[tuple[Literal["pipes", "stores"], ...]] = ()

    name: Name
    asked: bool = Field(True, description="false: muted, measured but not judged")
    scope: Scope = Field(default_factory=Scope)

    @classmethod
    def __pydantic_init_subclass__(cls, **kwargs: Any) -> None:
        super().__pydantic_init_subclass__(**kwargs)
        missing = [name for name in ("UNIT", "SENSE", "LOOKS_AT", "START") if not hasattr(cls, name)]
        if "kind" in cls.model_fields and missing:
            raise TypeError(f"{cls.__name__} does not say its {', '.join(missing)}")

    @abstractmethod
    def look(self, limit: float, network: Drawn) -> Measured:
        """What the rule looks at in a network. limit : what is allowed, in the rule's unit.

        Raises
        ------
        NotMeasured
            When there is nothing of the kind in the network, or what the rule names is gone.
        """

    def allowed(self, value: float, unit: str) -> str:
        """A limit in words: 'at most 14.00 L/s'. value, unit : as they are shown."""
        return f"{self.SENSE} {value:.4g} {unit}" if value or self.SENSE == "at least" else "none"

    def demand(self, limit: float) -> Demand:
        """What a limit asks of the run of a storm."""
        return Demand()


class OfStorms(RuleBase):
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


class OfDrawing(RuleBase):
    """A rule about the network as it is drawn, without a storm."""

    limit: float = Field(0.0, ge=0, le=1e6, description="in the SI unit of the rule")
