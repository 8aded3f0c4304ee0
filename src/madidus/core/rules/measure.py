"""What each kind of rule measures: how far every element stays from the limit, and when it is nearest."""

from collections.abc import Callable
from typing import Any, Literal

from ..model.network import Network
from . import drawing, flows, levels
from .criteria import Criterion
from .measured import Measured, NotMeasured, narrowed
from .scope import in_scope

__all__ = ["SENSE", "UNITS", "Measured", "NotMeasured", "measured"]

UNITS = {
    "surcharge": "m", "cover": "m", "flood_volume": "m3", "flood_depth": "m", "outflow": "m3/s", "volume": "m3",
    "freeboard": "m", "half_drain": "s", "velocity_least": "m/s", "velocity_most": "m/s", "pipe_size": "m of size",
    "gradient": "m/m", "conduit_cover": "m", "invert_depth": "m", "none_smaller": "m of size",
}  # fmt: skip
"""In which the margin of each kind is kept."""

_LEAST = {"surcharge", "cover", "freeboard", "velocity_least", "pipe_size", "gradient", "conduit_cover"}
SENSE: dict[str, Literal["at least", "at most"]] = {kind: "at least" if kind in _LEAST else "at most" for kind in UNITS}

_KINDS: dict[str, Callable[[Any, float, Network], Measured]] = {
    "surcharge": levels.surcharge, "cover": levels.below_cover, "freeboard": levels.freeboard,
    "flood_volume": levels.flood_volume, "flood_depth": levels.flood_depth, "half_drain": levels.half_drain,
    "outflow": flows.outflow, "volume": flows.volume, "velocity_least": flows.velocity_least,
    "velocity_most": flows.velocity_most, "pipe_size": drawing.pipe_size, "gradient": drawing.gradient,
    "conduit_cover": drawing.conduit_cover, "invert_depth": drawing.invert_depth, "none_smaller": drawing.none_smaller,
}  # fmt: skip


def measured(criterion: Criterion, network: Network) -> Measured:
    """What a rule looks at in a network, within its scope.

    Raises
    ------
    NotMeasured
        When there is nothing of the kind in the network or in the scope, or what the scope names is gone.
    """
    look = _KINDS[criterion.kind](criterion.rule, criterion.value, network)
    wanted = in_scope(criterion.rule.scope, look.elements, network, criterion.selections)
    return look if wanted is None else narrowed(look, wanted)
