"""A pipe of the next size in which it is made; its inverts stay, its soffit rises."""

from ..elements import Conduit, Pipe
from ..elements.sections import Circular
from ..model.flow_order import lowest_out
from ..model.network import Network
from ..model.project import Project

__all__ = ["pipes_below", "sizes_above", "with_diameter"]

_SAME = 1e-6  # m


def sizes_above(project: Project, pipe: Pipe) -> list[float]:
    """Diameters above a round pipe's own in which its material is made, or any where it has none of the list, m."""
    if not isinstance(pipe.section, Circular):
        return []
    wanted = (pipe.material or "").strip().casefold()
    own = [material for material in project.catalogue.pipes if material.name.casefold() == wanted]
    made = {d for material in own or project.catalogue.pipes for d in material.diameters}
    return sorted(d for d in made if d > pipe.section.diameter + _SAME)


def with_diameter(network: Network, id_: str, diameter: float) -> Network:
    """The network with a round pipe of another diameter."""
    pipe = network.links[id_]
    assert isinstance(pipe, Pipe)
    other = pipe.model_copy(update={"section": Circular(diameter=diameter)})
    return network.model_copy(update={"links": {**network.links, id_: other}})


def pipes_below(network: Network, pipe: str) -> list[str]:
    """The round pipes that follow a pipe downstream, up to a store, a control or an outfall."""
    out, found, at = lowest_out(network), list[str](), network.links[pipe].downstream
    while at in out and out[at] not in found:
        link = network.links[out[at]]
        if not isinstance(link, Conduit):
            break
        if isinstance(link, Pipe) and isinstance(link.section, Circular):
            found.append(out[at])
        at = link.downstream
    return found
