"""Units, survey points and coordinate system of a LandXML document: where its things stand, in metres of our grid."""

from collections.abc import Iterator
from xml.etree.ElementTree import Element

import pyproj
from pyproj.exceptions import ProjError

from ..core.errors import ModelError
from ..core.quantities import FOOT, INCH
from .incoming import Remark

__all__ = ["Places"]

_METRES = {
    "millimeter": 1e-3, "centimeter": 1e-2, "decimeter": 0.1, "meter": 1.0, "kilometer": 1e3, "inch": INCH,
    "foot": FOOT, "USSurveyFoot": 1200 / 3937, "mile": 1609.344,
}  # fmt: skip
_SQUARE_METRES = {"squareMeter": 1.0, "hectare": 1e4, "squareFoot": FOOT**2, "acre": 4046.8564224}
_MOST_REFERENCES = 8  # from a point to a point


class Places:
    """length, diameter : m, area : m2 of one of the file's units. grid : the project's coordinate system, if any.

    Raises
    ------
    ModelError
        When a unit is not known.
    """

    def __init__(self, root: Element, grid: str | None):
        units = root.find(".//{*}Units")
        found = next(iter(units), None) if units is not None else None
        given = found.attrib if found is not None else {}
        linear = given.get("linearUnit", "meter")
        self.length = _factor(_METRES, linear, "linearUnit")
        self.diameter = _factor(_METRES, given.get("diameterUnit", linear), "diameterUnit")
        self.area = _factor(_SQUARE_METRES, given.get("areaUnit", "squareMeter"), "areaUnit")
        self.remarks: list[Remark] = []
        self._points: dict[str, Element | None] = {}  # None: several bear the name
        for point in root.iterfind(".//{*}CgPoints/{*}CgPoint"):
            name = point.get("name", "")
            self._points[name] = None if name in self._points else point
        self._turn: pyproj.Transformer | None = None
        self._native = 1.0  # m of a coordinate of the file's system
        system = root.find("{*}CoordinateSystem")
        if system is not None:
            for what in self._read_system(system, grid):
                self.remarks.append(Remark(where="coordinate system", what=what))

    def _read_system(self, system: Element, grid: str | None) -> Iterator[str]:
        """Turn its coordinates into the project's grid where both are known; yields why they stay as they are."""
        code = system.get("epsgCode", "").strip().upper().removeprefix("EPSG:")
        name = (system.get("name") or system.get("desc") or system.get("ogcWktCode") or "without a name")[:80]
        if not code:
            yield f"{name} has no EPSG code: its coordinates stand as they are"
        elif grid is None:
            yield f"EPSG:{code[:12]} is not used, for the project has a local grid: its coordinates stand as they are"
        elif grid != f"EPSG:{code}":
            try:
                source = pyproj.CRS.from_epsg(int(code))
                self._turn = pyproj.Transformer.from_crs(source, grid, always_xy=True)
                self._native = source.axis_info[0].unit_conversion_factor if source.is_projected else self.length
                yield f"EPSG:{code}: its coordinates are turned into {grid}, the project's"
            except (ProjError, ValueError) as error:
                raise ModelError(
                    "file", "CoordinateSystem", f"EPSG:{code[:12]} is not known", "correct its code or remove it"
                ) from error

    def at(self, point: Element | None, what: str) -> tuple[float, float, float | None]:
        """East, north and (where it is said) level of a point, or of the survey point to which it refers.

        Raises
        ------
        ValueError
            When it is missing, refers to no one point, or is no two or three numbers.
        """
        for _ in range(_MOST_REFERENCES):
            if point is None:
                raise ValueError(f"has no place: {what} is missing")
            if point.text and point.text.strip():
                break
            reference = point.get("pntRef")
            if reference is None:
                raise ValueError(f"has no place: {what} is empty")
            if self._points.get(reference) is None:
                many = "several survey points" if reference in self._points else "no survey point"
                raise ValueError(f"has no place: {what} refers to {reference[:40]}, which is the name of {many}")
            point = self._points[reference]
        else:
            raise ValueError(f"has no place: {what} refers in a circle")
        numbers = [float(v) for v in (point.text or "").split()]
        if len(numbers) < 2:
            raise ValueError(f"has no place: {what} is no northing and easting")
        y, x = numbers[0] * self.length, numbers[1] * self.length
        if self._turn is not None:
            x, y = self._turn.transform(x / self._native, y / self._native)
        return x, y, numbers[2] * self.length if len(numbers) > 2 else None


def _factor(known: dict[str, float], unit: str, attribute: str) -> float:
    if unit not in known:
        raise ModelError("file", attribute, f"“{unit[:40]}” is not known", f"use one of {', '.join(known)}")
    return known[unit]
