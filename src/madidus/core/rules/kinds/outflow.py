"""A permitted discharge."""

from typing import Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ...elements import FlowCurve
from ...elements.document import ElementId
from ..measured import Drawn, Measured, place
from ..permit import Greenfield, PerHectare, PreDevelopment
from ..rule import OfStorms, Start

__all__ = ["Outflow"]


class Outflow(OfStorms):
    """At most this flow leaves by an outfall or passes a link, m3/s. `by` says which way to that is in use."""

    UNIT = "m3/s"
    SENSE = "at most"
    LOOKS_AT = "place"
    START = Start("outflow", "Outflow", "At most", "leaves by", 0.01)
    MENDED_BY = ("stores",)

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

    def look(self, limit: float, network: Drawn) -> Measured:
        """Of the flow by an outfall or a link."""
        of_link, k = place(self.element, network)
        flow, time = ("flow", "flow_time") if of_link else ("outflow", "outflow_time")
        most = _most_by_curves(self.element, network)
        return Measured(
            [self.element], np.array([limit]), lambda figures: limit - getattr(figures, flow)[k : k + 1],
            lambda figures: np.asarray(getattr(figures, time)[k : k + 1]),
            sure=None if most is None else np.array([limit - most]),
        )  # fmt: skip


def _most_by_curves(id_: str, network: Drawn) -> float | None:
    """m3/s that a control by its curve, or an outfall that such controls alone lead to, never passes more than."""
    link = network.links.get(id_)
    leading = [link] if link else [one for one in network.links.values() if one.downstream == id_]
    if not leading or not all(isinstance(one, FlowCurve) for one in leading):
        return None
    return sum(one.most for one in leading if isinstance(one, FlowCurve))
