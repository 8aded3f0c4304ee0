"""Losses of water that passes a shaft, besides those of its pipes."""

from typing import Annotated, Literal

from pydantic import Field

from .document import DocumentModel

__all__ = ["AngleLoss", "FixedLoss", "HeadLoss"]


class FixedLoss(DocumentModel):
    """A coefficient that is typed."""

    kind: Literal["fixed"] = "fixed"
    coefficient: float = Field(ge=0, le=20, description="K of velocity heads in the outgoing pipe")


class AngleLoss(DocumentModel):
    """By the angle between incoming and outgoing pipe and the ratio of manhole to outgoing pipe (HEC-22, K0)."""

    kind: Literal["angle"] = "angle"


HeadLoss = Annotated[FixedLoss | AngleLoss, Field(discriminator="kind")]
