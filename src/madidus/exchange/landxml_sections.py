"""Sections and roughness of pipes as LandXML 1.2 has them: circle, box, egg, ellipse and open channel."""

from collections.abc import Mapping

import numpy as np

from ..core.elements.geometry import egg_width
from .incoming import Fields

__all__ = ["SHAPES", "other_laws", "section_of", "unused"]

SHAPES = {"CircPipe": "pipe", "RectPipe": "pipe", "EggPipe": "pipe", "ElliPipe": "pipe", "Channel": "channel"}
"""Kind of link by the form of its section."""

_SIZES = {
    "CircPipe": {"diameter"}, "RectPipe": {"width", "height"}, "EggPipe": {"width", "height"},
    "ElliPipe": {"span", "height"}, "Channel": {"widthTop", "widthBottom", "height"},
}  # fmt: skip
_LAWS = {
    "hazenWilliams": "Hazen–Williams C", "darcyWeisbach": "Darcy–Weisbach f", "colebrookWhite": "Colebrook–White k",
    "kutter": "Kutter n",
}  # fmt: skip
_OLD_EGG = 1e-2  # relative difference of a width from two thirds of the height that rounding explains
_ROWS = 60


def section_of(tag: str, of: Mapping[str, str], unit: float) -> Fields:
    """The section of a form with its attributes. unit : m of one of the file's diameters.

    An egg of another width than two thirds of its height is the old egg drawn out sideways, and an ellipse has no form
    of its own here: both become tables of widths.

    Raises
    ------
    KeyError
        When a size is missing.
    ValueError
        When one is no number, not above zero, or a channel is narrower at its banks than at its bed.
    """
    sizes = {
        name: float(of[name]) * unit for name in _SIZES[tag] if name in of or not (tag == "EggPipe" and name == "width")
    }
    if any(not size > 0.0 for name, size in sizes.items() if name != "widthBottom"):
        raise ValueError(f"has a {tag} without a size above zero")
    if tag == "CircPipe":
        return {"shape": "circular", "diameter": sizes["diameter"]}
    height = sizes["height"]
    if tag == "RectPipe":
        return {"shape": "rectangular", "width": sizes["width"], "height": height}
    if tag == "Channel":
        bed, top = sizes["widthBottom"], sizes["widthTop"]
        if bed < 0.0 or top < bed:
            raise ValueError("is a channel narrower at its banks than at its bed")
        slope = (top - bed) / 2.0 / height
        return {
            "shape": "trapezoidal", "base_width": bed, "left_slope": slope, "right_slope": slope, "height": height
        }  # fmt: skip
    depth = 0.5 * height * (1.0 - np.cos(np.linspace(0.0, np.pi, _ROWS + 1)))
    if tag == "ElliPipe":
        width = 2.0 * sizes["span"] * np.sqrt(np.maximum(depth / height * (1.0 - depth / height), 0.0))
    else:
        old = height / 1.5
        given = sizes.get("width", old)
        if abs(given - old) <= _OLD_EGG * old:
            return {"shape": "egg", "height": height}
        width = egg_width(depth, old) * (given / old)
    width[[0, -1]] = 0.0
    return {
        "shape": "widths",
        "rows": [{"depth": float(d), "width": float(w)} for d, w in zip(depth, width, strict=True)],
    }


def other_laws(of: Mapping[str, str]) -> str:
    """What is said of roughness by other laws than Manning's; empty where nothing is."""
    return ", ".join(f"{word} {of[law][:20]}" for law, word in _LAWS.items() if law in of)


def unused(tag: str, of: Mapping[str, str]) -> list[str]:
    """Attributes of a form of which nothing is made here and nothing else is told."""
    told = _SIZES[tag] | {"mannings", "material"} | (_LAWS.keys() if "mannings" not in of else set())
    return sorted(set(of) - told)
