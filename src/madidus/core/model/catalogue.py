"""Lists of parts: pipes by material and size, manholes by the pipes and the depth that they suit."""

import itertools
from typing import Annotated, Self

from pydantic import Field, model_validator

from ..elements.document import DocumentModel, Name, Positive

__all__ = ["Catalogue", "ManholeSize", "PipeMaterial"]

_Diameter = Annotated[float, Field(gt=0.01, le=20, description="m")]


class PipeMaterial(DocumentModel):
    """A material with the roughness that its pipes are given, and the diameters in which they are made."""

    name: Name
    roughness: Positive = Field(le=1, description="Manning's n")
    diameters: list[_Diameter] = Field(min_length=1, max_length=100, description="m, rising")

    @model_validator(mode="after")
    def _rise(self) -> Self:
        if any(b <= a for a, b in itertools.pairwise(self.diameters)):
            raise ValueError(f"pipes of {self.name}: diameters must rise from one to the next; sort or correct them")
        return self


class ManholeSize(DocumentModel):
    """A ring for manholes whose largest pipe and whose depth are no more than these."""

    largest_pipe: _Diameter
    deepest: Positive = Field(le=100, description="m from cover to invert")
    diameter: float = Field(ge=0.25, le=100, description="m")


def _concrete() -> PipeMaterial:
    sizes = [0.15, 0.225, 0.3, 0.375, 0.45, 0.525, 0.6, 0.75, 0.9, 1.05, 1.2, 1.35, 1.5, 1.8, 2.1]
    return PipeMaterial(name="concrete", roughness=0.013, diameters=sizes)


def _clay() -> PipeMaterial:
    return PipeMaterial(name="clay", roughness=0.012, diameters=[0.1, 0.15, 0.225, 0.3, 0.375, 0.45, 0.6])


def _plastic() -> PipeMaterial:
    return PipeMaterial(name="plastic", roughness=0.01, diameters=[0.1, 0.15, 0.225, 0.3, 0.4, 0.5, 0.6, 0.8, 1.0])


def _rings() -> list[ManholeSize]:
    rows = [(0.15, 1.5, 0.6), (0.45, 3.0, 1.2), (0.45, 6.0, 1.35), (0.75, 6.0, 1.5), (0.9, 8.0, 1.8), (1.2, 10.0, 2.1),
            (1.8, 15.0, 3.0)]  # fmt: skip
    return [ManholeSize(largest_pipe=pipe, deepest=depth, diameter=ring) for pipe, depth, ring in rows]


class Catalogue(DocumentModel):
    """What is to be had. Roughness and diameter are kept with each pipe: a later change of the list changes no pipe."""

    pipes: list[PipeMaterial] = Field(
        default_factory=lambda: [_concrete(), _clay(), _plastic()], min_length=1, max_length=50
    )
    manholes: list[ManholeSize] = Field(default_factory=_rings, max_length=100, description="the first that suits")

    def ring_for(self, pipe: float, depth: float) -> float | None:
        """Diameter of a manhole of a depth with pipes up to a size, m; none where the list has no such."""
        fits = (m.diameter for m in self.manholes if pipe <= m.largest_pipe + 1e-6 and depth <= m.deepest + 1e-6)
        return next(fits, None)

    @model_validator(mode="after")
    def _names_differ(self) -> Self:
        names = [material.name.casefold() for material in self.pipes]
        for name in names:
            if names.count(name) > 1:
                raise ValueError(f"pipes of {name} are in the list twice; give each material its own name")
        return self
