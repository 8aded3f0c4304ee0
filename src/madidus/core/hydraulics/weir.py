"""Weir with a level crest and sloping sides, free or drowned, flowing either way.

Q = C L H^1.5 + 0.8 C z H^2.5, z the slope of each side: a V-notch has L = 0 (8/15 to 2/3 is 0.8); drowned by the factor
s^0.385, s = 1 − (tail/head)^1.5 (Villemonte, 1947), made linear where s is small so that flow starts from rest with a
finite slope.
"""

from .compiled import kernel

__all__ = ["over_crest", "weir_flow"]

# columns of the parameter row
CREST, LENGTH, COEFFICIENT, SIDE = 0, 1, 2, 3


@kernel
def weir_flow(level_up, level_down, parameters):  # type: ignore[no-untyped-def]
    """Flow in m3/s and its derivatives by both levels in m2/s; negative when the downstream level is higher."""
    level = parameters[CREST]
    crest = parameters[COEFFICIENT] * parameters[LENGTH]
    sides = 0.8 * parameters[COEFFICIENT] * parameters[SIDE]
    if level_down > level_up:
        flow, d_up, d_down = over_crest(level_down, level_up, level, crest, sides)
        return -flow, -d_down, -d_up
    return over_crest(level_up, level_down, level, crest, sides)


@kernel
def over_crest(high, low, level, crest, sides):  # type: ignore[no-untyped-def]
    """Flow over a crest at `level` from the higher side: crest H^1.5 + sides H^2.5, drowned by the lower one."""
    head = high - level
    if head <= 0.0:
        return 0.0, 0.0, 0.0
    root = head**0.5
    flow, slope = (crest + sides * head) * head * root, (1.5 * crest + 2.5 * sides * head) * root
    tail = low - level
    if tail <= 0.0:
        return flow, slope, 0.0
    ratio = tail / head
    share = 1.0 - ratio * ratio**0.5
    least = min(0.5, 0.0075 / head)
    if share > least:
        factor = share**0.385
        by_share = 0.385 * factor / share
    else:
        by_share = least ** (0.385 - 1.0)
        factor = share * by_share
    share_by_tail = -1.5 * ratio**0.5 / head
    d_down = flow * by_share * share_by_tail
    return flow * factor, slope * factor - d_down * ratio, d_down
