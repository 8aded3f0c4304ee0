"""A pipe of the next size in which it is made; its inverts stay, its soffit rises."""

from ..elements import Pipe
from ..elements.sections import Circular
from ..model.network import Network
from ..model.project import Project

__all__ = ["larger", "sizes_above"]

_SAME = 1e-6  # m


def sizes_above(project: Project, pipe: Pipe) -> list[float]:
    """Diameters above a round pipe's own in which its material is made, or any where it has none of the list, m."""
    if not isinstance(pipe.section, Circular):
        return []
    wanted = (pipe.material or "").strip().casefold()
    own = [material for material in project.catalogue.pipes if material.name.casefold() == wanted]
    made = {d for material in own or project.catalogue.pipes for d in material.diameters}
    return sorted(d for d in made if d > pipe.section.diameter + _SAME)


def larger(network: Network, id_: str, diameter: float) -> Network:
    """The network with a round pipe of another diameter."""
    pipe = network.links[id_]
    assert isinstance(pipe, Pipe)
    other = pipe.model_copy(update={"section": Circular(diameter=diameter)})
    return network.model_copy(update={"links": {**network.links, id_: other}})
