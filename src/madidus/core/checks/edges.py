"""Whether what is given at the edges of the network lasts as long as the storms."""

from collections.abc import Iterator

from ..errors import ModelError
from ..model.project import Project
from ..rainfall.storms import ensemble
from ..runoff.boundaries import boundaries, longest_rain
from .finding import Finding

__all__ = ["edges"]


def edges(project: Project) -> Iterator[Finding]:
    """Findings of inflows that break off and series of levels that end while it still rains."""
    try:
        rain = longest_rain(ensemble(project.rain))
    except ModelError:
        return  # found by the checks of the ensemble
    network = project.option.network
    for one in boundaries(network, rain):
        if one.short and one.end is not None:
            what = "levels outside are" if one.what == "tail water" else "inflow is"
            yield Finding(
                "boundary-short", "look", one.element,
                "tail_water" if one.what == "tail water" else "inflows",
                f"{network.nodes[one.element].name}: its {what} given for {one.end / 3600:g} h, and the longest storm "
                f"rains for {rain / 3600:g} h; then {one.after}",
                "add rows up to the end of the storms, or accept it",
            )  # fmt: skip
