"""Orifices. In a wall: partly full, full or drowned, flowing either way.

Q = Cd A(y) sqrt(2 g H): y the depth over the orifice's invert up to its height, A the opened area, H the head above the
centre of the flowing opening or above the tail water, whichever is higher. For a full, free orifice this is the
textbook law with the head to the centre; for a partly full rectangular one it is a weir with C = Cd sqrt(g).

In a floor, or a riser's open top: the lesser of a weir around the rim and Cd A sqrt(2 g H), H the difference of levels.
"""

import numpy as np

from .compiled import kernel
from .constants import GRAVITY
from .weir import over_crest

__all__ = ["floor_flow", "orifice_flow"]

# columns of the parameter row
INVERT, HEIGHT, WIDTH, COEFFICIENT = 0, 1, 2, 3  # width 0: circular
LEVEL, RIM, AREA = 0, 1, 2  # of a floor opening: C times its perimeter, Cd times its area
_SMOOTHING = 1e-5  # m of head below which the square root is made linear


@kernel
def orifice_flow(level_up, level_down, parameters):  # type: ignore[no-untyped-def]
    """Flow in m3/s and its derivatives by both levels in m2/s; negative when the downstream level is higher."""
    if level_down > level_up:
        flow, d_up, d_down = _forward(level_down, level_up, parameters)
        return -flow, -d_down, -d_up
    return _forward(level_up, level_down, parameters)


@kernel
def _forward(high, low, parameters):  # type: ignore[no-untyped-def]
    invert, height, width = parameters[INVERT], parameters[HEIGHT], parameters[WIDTH]
    y = high - invert
    if y <= 0.0:
        return 0.0, 0.0, 0.0
    opened = min(y, height)
    if width > 0.0:
        area, breadth = width * opened, width
    else:
        angle = 2.0 * np.arccos(1.0 - 2.0 * opened / height)
        area = height * height / 8.0 * (angle - np.sin(angle))
        breadth = 2.0 * np.sqrt(opened * (height - opened))
    if y >= height:
        breadth = 0.0
    centre = invert + 0.5 * opened
    tail = max(centre, low)
    head = max(high - tail, 0.0)
    root = np.sqrt(head + _SMOOTHING)
    speed = parameters[COEFFICIENT] * np.sqrt(2.0 * GRAVITY)
    by_head = speed * area * (1.0 / root - 0.5 * head / root**3)
    by_area = speed * breadth * head / root
    flow = speed * area * head / root
    if low > centre:
        return flow, by_area + by_head, -by_head
    centre_rise = 0.5 if y < height else 0.0
    return flow, by_area + by_head * (1.0 - centre_rise), 0.0


@kernel
def floor_flow(level_up, level_down, parameters):  # type: ignore[no-untyped-def]
    """Flow through a level opening, in m3/s, and its derivatives in m2/s; upwards when the lower level is higher."""
    if level_down > level_up:
        flow, d_up, d_down = _through_floor(level_down, level_up, parameters)
        return -flow, -d_down, -d_up
    return _through_floor(level_up, level_down, parameters)


@kernel
def _through_floor(high, low, parameters):  # type: ignore[no-untyped-def]
    level = parameters[LEVEL]
    head = high - max(low, level)
    if head <= 0.0:
        return 0.0, 0.0, 0.0
    rim, rim_up, rim_down = over_crest(high, low, level, parameters[RIM], 0.0)
    root = np.sqrt(head + _SMOOTHING)
    full = parameters[AREA] * np.sqrt(2.0 * GRAVITY)
    flow, slope = full * head / root, full * (1.0 / root - 0.5 * head / root**3)
    if rim < flow:
        return rim, rim_up, rim_down
    return flow, slope, -slope if low > level else 0.0
