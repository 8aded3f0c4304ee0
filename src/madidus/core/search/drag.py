"""A trial by hand: while something is dragged, the rules by the storms that govern now."""

from collections.abc import Collection, Mapping

from ..elements.figures import Figures
from ..ensemble import Failure, Plan, Submit, run_plan
from ..errors import ModelError
from ..model.network import Network
from ..verdicts import Verdict

__all__ = ["deciding", "follow_drag"]


def deciding(verdicts: Collection[Verdict]) -> set[str]:
    """Keys of the storms that decide rules which are asked."""
    return {key for v in verdicts if v.criterion.asked for key in v.deciding}


def follow_drag(plan: Plan, network: Network, storms: Collection[str], submit: Submit) -> list[Verdict]:
    """Every rule by some storms through a changed network. What they do not show is not judged: another storm may come
    to govern, and a rule is met only once all of its storms are in.

    Raises
    ------
    ModelError
        When nodes or catchments are others (their water would be another), the network cannot be computed, or a storm
        is not.
    """
    if network.nodes.keys() != plan.network.nodes.keys() or network.catchments != plan.network.catchments:
        raise ModelError("trial", "edits", "bring nodes or catchments of their own", "make the edit, and run it")
    tried = plan.tried(network)
    figures: Mapping[str, Figures] = {}
    for result in run_plan(tried, storms, submit):
        if isinstance(result, Failure):
            raise ModelError(f"storm {result.key}", "run", result.problem, "try another size or level")
        figures = {**figures, result.key: result}
    return tried.verdicts(figures, before=storms)
