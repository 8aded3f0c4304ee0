"""Cross-sections of pipes and channels, as dimensions. Their geometry is in `geometry`."""

import itertools
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..quantities import Quantity, Said, said
from .document import DocumentModel

__all__ = [
    "Arch",
    "Circular",
    "ClosedSection",
    "Egg",
    "Irregular",
    "OpenSection",
    "Opening",
    "Rectangular",
    "Section",
    "Trapezoidal",
    "WidthTable",
]  # fmt: skip

Dimension = Annotated[float, Field(gt=0.01, le=200, description="m")]


class Circular(DocumentModel):
    """A circle."""

    shape: Literal["circular"] = "circular"
    diameter: float = Field(gt=0.01, le=20, description="m")

    @property
    def height(self) -> float:
        return self.diameter


class Rectangular(DocumentModel):
    """A box, or a flume when it is a channel's."""

    shape: Literal["rectangular"] = "rectangular"
    width: Dimension
    height: float = Field(gt=0.01, le=20, description="m")


class Egg(DocumentModel):
    """The old egg: height 1.5 times the width, crown and invert of radius width/2 and width/4, sides of 1.5 widths."""

    shape: Literal["egg"] = "egg"
    height: float = Field(gt=0.01, le=20, description="m")

    @property
    def width(self) -> float:
        return self.height / 1.5


class Arch(DocumentModel):
    """Flat base, upright walls, semi-elliptical roof of height `rise`; a semicircle when rise is half the width."""

    shape: Literal["arch"] = "arch"
    width: Dimension
    height: float = Field(gt=0.01, le=20, description="m")
    rise: float = Field(gt=0.0, le=20, description="m of the roof above its springing")

    @model_validator(mode="after")
    def _roof_fits(self) -> Self:
        if self.rise > self.height:
            raise ValueError("rise of the roof is more than the height; lower the rise or raise the height")
        return self


class Trapezoidal(DocumentModel):
    """A level bed between two slopes, which may differ."""

    shape: Literal["trapezoidal"] = "trapezoidal"
    base_width: float = Field(ge=0, le=200, description="m")
    left_slope: float = Field(ge=0, le=20, description="horizontal per vertical")
    right_slope: float = Field(ge=0, le=20, description="horizontal per vertical")
    height: float = Field(gt=0.01, le=20, description="m from bed to bank")

    @model_validator(mode="after")
    def _has_width(self) -> Self:
        if self.base_width + self.left_slope + self.right_slope <= 0.0:
            raise ValueError("has no width; give a base width or a side slope")
        return self


class Station(DocumentModel):
    offset: float = Field(ge=-1e5, le=1e5, description="m across the channel")
    elevation: float = Field(ge=-1000, le=9000, description="m; only differences count, the lowest is the invert")


class Irregular(DocumentModel):
    """A surveyed channel: station and elevation from the left bank to the right one."""

    shape: Literal["irregular"] = "irregular"
    stations: list[Station] = Field(min_length=3, max_length=500)

    @model_validator(mode="after")
    def _runs_across(self) -> Self:
        offsets = [s.offset for s in self.stations]
        if any(b < a for a, b in itertools.pairwise(offsets)) or offsets[-1] <= offsets[0]:
            raise ValueError("offsets of the stations must not fall from one to the next; sort or correct them")
        if self.height <= 0.01:
            raise ValueError("the banks are not above the bed; correct the elevations of the first and last station")
        return self

    @property
    def height(self) -> float:
        """From the lowest station to the lower of both banks."""
        elevations = [s.elevation for s in self.stations]
        return min(elevations[0], elevations[-1]) - min(elevations)


class WidthRow(DocumentModel):
    depth: float = Field(ge=0, le=20, description="m above the invert")
    width: float = Field(ge=0, le=200, description="m")


class WidthTable(DocumentModel):
    """A symmetrical section by depth and width. Closed by its last row, open when it is a channel's."""

    shape: Literal["widths"] = "widths"
    rows: list[WidthRow] = Field(min_length=2, max_length=200)

    @model_validator(mode="after")
    def _depths_rise(self) -> Self:
        depths = [row.depth for row in self.rows]
        if depths[0] != 0 or any(b <= a for a, b in itertools.pairwise(depths)):
            raise ValueError("depths of the section must start at 0 and rise from row to row; sort or correct them")
        if any(row.width <= 0 for row in self.rows[1:-1]) or self.rows[0].width + self.rows[1].width <= 0:
            raise ValueError("a width within the section is 0; correct it")
        return self

    @property
    def height(self) -> float:
        return self.rows[-1].depth


ClosedSection = Annotated[Circular | Rectangular | Egg | Arch | WidthTable, Field(discriminator="shape")]
OpenSection = Annotated[Trapezoidal | Rectangular | Irregular | WidthTable, Field(discriminator="shape")]
Opening = Annotated[Circular | Rectangular, Field(discriminator="shape")]
Section = Circular | Rectangular | Egg | Arch | Trapezoidal | Irregular | WidthTable


def size_of(section: Section) -> Said:
    """Dimensions, as a schedule prints them: in mm without the unit."""
    if isinstance(section, Circular):
        return said("Ø", _mm(section.diameter))
    if isinstance(section, WidthTable):
        width = max(row.width for row in section.rows)
    elif isinstance(section, Trapezoidal):
        width = section.base_width
    elif isinstance(section, Irregular):
        width = section.stations[-1].offset - section.stations[0].offset
    else:
        width = section.width
    return said(f"{section.shape} ", _mm(width), " × ", _mm(section.height))


def _mm(metres: float) -> Quantity:
    return Quantity(metres * 1000.0, "mm", 0, bare=True)
