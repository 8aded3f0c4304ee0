"""Sights that somebody kept: a stage, an element, a storm and a moment, to be found again by name."""

from typing import Literal

from pydantic import Field

from .base import ElementId, Name, Part

__all__ = ["Sight"]


class Sight(Part):
    """What is looked at, not what is computed: a sight changes no fingerprint."""

    name: Name
    stage: Literal["brief", "network", "rain", "storms", "verdict", "deliver"]
    element: ElementId | None = None
    storm: str | None = Field(None, max_length=200)
    moment: float = Field(0.0, ge=0, le=1e8, description="s")
    rule: int = Field(0, ge=0, le=1000)
