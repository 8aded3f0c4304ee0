"""A junction."""

from typing import ClassVar, Literal

from pydantic import Field

from .shaft import Shaft

__all__ = ["Junction"]


class Junction(Shaft):
    """Pipes joined without a shaft worth storing in."""

    DRAWN: ClassVar[dict[str, str]] = {"junction": "J"}

    kind: Literal["junction"] = "junction"
    plan_area: float = Field(0.3, ge=0.05, le=10_000, description="m2")

    @property
    def area(self) -> float:
        return self.plan_area
