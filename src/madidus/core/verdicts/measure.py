"""What a criterion looks at in a network, within its scope."""

from ..model.network import Network
from ..rules.measured import Measured, NotMeasured, narrowed
from .criteria import Criterion
from .scope import in_scope

__all__ = ["Measured", "NotMeasured", "measured"]


def measured(criterion: Criterion, network: Network) -> Measured:
    """What a rule looks at in a network, within its scope.

    Raises
    ------
    NotMeasured
        When there is nothing of the kind in the network or in the scope, or what the scope names is gone.
    """
    look = criterion.rule.look(criterion.value, network)
    wanted = in_scope(criterion.rule.scope, look.elements, network, criterion.selections)
    return look if wanted is None else narrowed(look, wanted)
