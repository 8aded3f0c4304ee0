"""When a figure of a file and one that is here are the same."""

import math
from typing import Any

__all__ = ["equal", "same", "without_rounding"]

Fields = dict[str, Any]
_ROUNDED = 2e-3  # of a plan area, by which a diameter in whole millimetres may miss it
_SAME = 1e-9  # relative difference of two numbers that are the same
# m or m2: what is nearer is the same, since files round. Openings and crests of controls are set out finer than that.
_MILLIMETRE = 1e-3 * (1.0 - 1e-6)
_PLACES = ("x", "y", "cover", "invert", "ground", "length", "upstream_invert", "downstream_invert", "polygon", "course")
_NEAR = {**dict.fromkeys(_PLACES, _MILLIMETRE), "section": 0.5e-3, "area": 0.1}


def equal(a: Any, b: Any, within: float = 0.0) -> bool:
    """Whether two values are the same, numbers but for the last bits, or to `within` of each other."""
    if isinstance(a, dict) and isinstance(b, dict):
        return a.keys() == b.keys() and all(equal(a[k], b[k], within) for k in a)
    if isinstance(a, list) and isinstance(b, list):
        return len(a) == len(b) and all(equal(x, y, within) for x, y in zip(a, b, strict=True))
    numbers = all(isinstance(v, int | float) and not isinstance(v, bool) for v in (a, b))
    return math.isclose(a, b, rel_tol=_SAME, abs_tol=max(within, 1e-12)) if numbers else bool(a == b)


def same(field: str, a: Any, b: Any) -> bool:
    """Whether two values of a field of an element are the same: places and levels to 1 mm, areas to 0.1 m2."""
    return equal(a, b, _NEAR.get(field, 0.0))


def without_rounding(now: Fields, fields: Fields) -> Fields:
    """The fields of a file without a size of a shaft that is the one here, told by its diameter and rounded."""
    if "diameter" not in fields or "plan_area" not in now or fields["diameter"] is None:
        return fields
    area = now["plan_area"] if now.get("diameter") is None else math.pi / 4.0 * now["diameter"] ** 2
    if not math.isclose(math.pi / 4.0 * fields["diameter"] ** 2, area, rel_tol=_ROUNDED):
        return fields
    return {name: value for name, value in fields.items() if name != "diameter"}
