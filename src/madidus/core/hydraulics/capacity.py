"""Full-bore capacity of pipes, over their silt and with all of their barrels: the one place where it is computed."""

from collections.abc import Sequence

from ..elements import Pipe
from ..elements.sections import Circular
from .sections import Geometry, geometry

__all__ = ["full_bore", "full_bore_of_sizes", "full_bore_velocity"]


def full_bore(pipe: Pipe) -> float | None:
    """Uniform flow of the full pipe without pressure, m3/s: Q = A R^(2/3) S^(1/2) / n of what silt leaves, times its
    barrels. None where the pipe does not fall.
    """
    velocity = full_bore_velocity(pipe)
    return None if velocity is None else velocity * _area(pipe) * pipe.barrels


def full_bore_velocity(pipe: Pipe) -> float | None:
    """Velocity of that flow, m/s. None where the pipe does not fall."""
    if pipe.gradient <= 0.0:
        return None
    shape = _left(pipe)
    radius = float(shape.radius_at(shape.height))
    return float(radius ** (2 / 3) * pipe.gradient**0.5 / pipe.roughness)


def _left(pipe: Pipe) -> Geometry:
    """What silt leaves of the section."""
    shape = geometry(pipe.section)
    return shape.above(pipe.silt) if pipe.silt else shape


def _area(pipe: Pipe) -> float:
    shape = _left(pipe)
    return float(shape.area_at(shape.height))


def full_bore_of_sizes(pipe: Pipe, diameters: Sequence[float]) -> list[float | None]:
    """Full-bore capacity of a pipe if it had other diameters (m), m3/s; None where its silt would leave no room."""
    found: list[float | None] = []
    for diameter in diameters:
        if pipe.silt > 0.8 * diameter:
            found.append(None)
        else:
            found.append(full_bore(pipe.model_copy(update={"section": Circular(diameter=diameter)})))
    return found
