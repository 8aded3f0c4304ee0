"""Times of concentration from what a catchment says of its lie."""

from .concentration import airport, bransby, channel_velocity, curve_number_lag, kirpich, shallow_velocity, sheet_flow
from .timing import Airport, Bransby, Kirpich, Lag, Timing

__all__ = ["stretches"]


def stretches(timing: Timing, area: float) -> dict[str, float]:
    """Minutes by stretch of the flow path, or of the whole by a formula. area : m2 of the catchment."""
    if isinstance(timing, Kirpich):
        return {"whole": kirpich(timing.length, timing.slope)}
    if isinstance(timing, Lag):
        return {"whole": curve_number_lag(timing.length, timing.slope, timing.curve_number) / 0.6}
    if isinstance(timing, Airport):
        return {"whole": airport(timing.length, timing.slope, timing.coefficient)}
    if isinstance(timing, Bransby):
        return {"whole": bransby(timing.length, timing.slope, area)}
    found = {}
    if timing.sheet is not None:
        sheet = timing.sheet
        found["sheet"] = sheet_flow(sheet.length, sheet.slope, sheet.roughness, sheet.rain)
    if timing.shallow is not None:
        found["shallow"] = timing.shallow.length / shallow_velocity(timing.shallow.slope, timing.shallow.surface) / 60.0
    if timing.channel is not None:
        channel = timing.channel
        speed = channel_velocity(channel.area, channel.perimeter, channel.slope, channel.roughness)
        found["channel"] = channel.length / speed / 60.0
    return found
