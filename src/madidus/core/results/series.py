"""What is kept of a storm over time, and what is derived from it: depths, speeds, fill, volumes."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..elements import Conduit, Free, NormalDepth, Outfall, Store
from ..errors import ModelError
from ..hydraulics.layout import Flattened, held_at
from ..hydraulics.record import taken
from ..hydraulics.simulate import StormRun
from ..model.network import Network
from .profile import Profiles, Shape

__all__ = ["Layout", "Quantity", "StormSeries", "recorded"]

_FILM = 1e-4  # m, of water that is none
_LEAST_SHARE = 1e-3  # of the whole section

Quantity = Literal["level", "depth", "volume", "fill", "flow", "speed", "entering", "leaving"]


@dataclass(frozen=True)
class StormSeries:
    """A storm over time, straight between frames that follow the water.

    time : float64[frame], s, from 0. values : float32[column, frame], columns as in `Layout.columns`. scale : of the
    tolerances of `hydraulics.record`; more than 1 where there was no room for finer frames.
    """

    time: np.ndarray
    values: np.ndarray
    scale: float = 1.0


def recorded(run: StormRun, faces: np.ndarray) -> StormSeries:
    """What a run recorded of the rows and faces that it followed. faces : those that it followed."""
    time, values = taken(run.record, run.peaks.flow.steady[faces])
    return StormSeries(time, values, float(run.record.scale[0]))


class Layout:
    """Which series of a network are kept, in which order, and what follows from them.

    columns : `level:` of each node, m; `head:` and `foot:`, the level in the first and last cell of each conduit, m;
    `cell:` of those between, m, in their order; `flow:` of each link at its downstream end, m3/s; `into:` of each
    conduit at its upstream end; each followed by the id. follow : rows and faces of the solver that they are taken
    from. profiles : what stands along conduits.
    """

    def __init__(self, network: Network, flat: Flattened):
        self._network, self._flat = network, flat
        nodes, links = sorted(network.nodes), sorted(network.links)
        conduits = [id_ for id_ in links if id_ in flat.pipe_faces]
        self.profiles = Profiles(network, flat)
        between = [(id_, k) for id_ in conduits for k in range(1, len(flat.pipe_rows[id_]) - 1)]
        self.columns = [
            *(f"level:{id_}" for id_ in nodes), *(f"head:{id_}" for id_ in conduits),
            *(f"foot:{id_}" for id_ in conduits), *(f"cell:{id_}:{k}" for id_, k in between),
            *(f"flow:{id_}" for id_ in links),
            *(f"into:{id_}" for id_ in conduits),
        ]  # fmt: skip
        self._place = {name: k for k, name in enumerate(self.columns)}
        rows = [flat.node_row[id_] for id_ in nodes] + [flat.pipe_rows[id_][0] for id_ in conduits]
        rows += [flat.pipe_rows[id_][-1] for id_ in conduits]
        rows += [flat.pipe_rows[id_][k] for id_, k in between]
        faces = [flat.pipe_faces[i][1] if i in flat.pipe_faces else flat.control_face[i] for i in links]
        faces += [flat.pipe_faces[id_][0] for id_ in conduits]
        self.follow = np.array(rows, np.int64), np.array(faces, np.int64)

    def take(self, run: StormRun) -> StormSeries:
        """The series of a run that followed the layout's rows and faces."""
        return self.whole(recorded(run, self.follow[1]))

    def whole(self, series: StormSeries) -> StormSeries:
        """What was recorded of the layout's rows and faces, with what follows from it: levels at free outfalls."""
        values = series.values
        for id_, node in self._network.nodes.items():
            if isinstance(node, Outfall) and isinstance(node.tail_water, Free | NormalDepth):
                values[self._place[f"level:{id_}"]] = self._leaving(id_, node, values)
        return series

    def _leaving(self, id_: str, outfall: Outfall, values: np.ndarray) -> np.ndarray:
        """Level of the water where it leaves by a free or normal-depth outfall, m: the highest of its conduits.

        The depth of the last cell, no more than the critical one where it falls free; the invert while nothing runs.
        """
        level = np.full(values.shape[1], outfall.invert)
        for link_id, link in self._network.links.items():
            if link.downstream != id_ or not isinstance(link, Conduit):
                continue
            shape = self.profiles.shape(link_id)
            depth = values[self._place[f"foot:{link_id}"]] - shape.beds[-1]
            if isinstance(outfall.tail_water, Free):
                depth = shape.leaving(depth, np.maximum(values[self._place[f"flow:{link_id}"]], 0.0))
            level = np.maximum(level, np.where(depth > _FILM, shape.ends[1] + depth, outfall.invert))
        return level

    def has(self, element: str, quantity: Quantity) -> bool:
        """Whether an element has a quantity."""
        return bool(self._names(element, quantity))

    def needed(self, element: str, quantity: Quantity) -> list[int]:
        """Places of the columns from which a quantity of an element follows, for `derive`.

        Raises
        ------
        ModelError
            Where the element has no such quantity.
        """
        names = self._names(element, quantity)
        if not names:
            label = self._network.label(element)
            raise ModelError(label, quantity, "is not a figure of this element", "choose another one")
        return [self._place[name] for name in names]

    def _names(self, element: str, quantity: Quantity) -> list[str]:
        node, link = self._network.nodes.get(element), self._network.links.get(element)
        if isinstance(node, Outfall):
            into = [id_ for id_, other in self._network.links.items() if other.downstream == element]
            return [f"flow:{id_}" for id_ in into] if quantity == "flow" else []
        if isinstance(node, Store) and quantity in ("entering", "leaving"):
            return [*self._joined(element)]
        if node is not None:
            return [f"level:{element}"] if quantity in ("level", "depth", "volume", "fill") else []
        if link is not None and quantity == "flow":
            return [f"flow:{element}"]
        if isinstance(link, Conduit) and quantity in ("level", "depth"):
            return [f"foot:{element}"]
        if isinstance(link, Conduit) and quantity in ("fill", "speed"):
            return [f"head:{element}", f"foot:{element}", f"flow:{element}"]
        return []

    def _joined(self, store: str) -> dict[str, float]:
        """Columns of the flows at a store's own end of its links: 1 where they lead into it, −1 out of it."""
        joined = {f"flow:{id_}": 1.0 for id_, link in self._network.links.items() if link.downstream == store}
        for id_, link in self._network.links.items():
            if link.upstream == store:
                joined[f"into:{id_}" if isinstance(link, Conduit) else f"flow:{id_}"] = -1.0
        return joined or {f"level:{store}": 0.0}

    def derive(self, element: str, quantity: Quantity, values: np.ndarray) -> np.ndarray:
        """A quantity of an element over time. values : float[needed column, frame].

        level : m; at the foot of a conduit. depth : m above the invert there. volume : m3 held by a node and above its
        cover. fill : of a conduit its mean depth over its height, of a node its volume over that at the cover. flow :
        m3/s at the downstream end, all of it of an outfall. speed : m/s, flow over the mean wetted area of both ends.
        entering, leaving : m3/s through the links of a store; what runs off into it is no series, and `Plan.trace` adds
        it.
        """
        node, link = self._network.nodes.get(element), self._network.links.get(element)
        if quantity == "flow":
            return np.asarray(values.sum(axis=0))
        if quantity == "level":
            return np.asarray(values[0])
        if quantity in ("entering", "leaving"):
            into = values * np.array(list(self._joined(element).values()))[:, None]
            return np.asarray(np.maximum(into if quantity == "entering" else -into, 0.0).sum(axis=0))
        if node is not None:
            assert not isinstance(node, Outfall)
            if quantity == "depth":
                return np.asarray(np.maximum(values[0] - node.invert, 0.0))
            held = held_at(self._table(element), values[0] - node.invert)
            return np.asarray(held if quantity == "volume" else held / max(self.volume_at_cover(element), 1e-9))
        assert isinstance(link, Conduit)
        shape = self.profiles.shape(element)
        if quantity == "depth":
            return np.asarray(np.maximum(values[0] - shape.beds[-1], 0.0))
        depths = np.maximum(values[:2] - shape.beds[[0, -1], None], 0.0)
        if quantity == "fill":
            return np.asarray(np.minimum(depths, shape.knots[-1]).mean(axis=0) / shape.knots[-1])
        return _speed(depths[0], depths[1], values[2], shape)

    def speeds(self, values: np.ndarray) -> dict[str, np.ndarray]:
        """Speed in every conduit by id, m/s. values : of every column."""
        alike: dict[int, list[str]] = {}
        for id_ in sorted(self._flat.pipe_faces):
            alike.setdefault(self.profiles.shape(id_).section, []).append(id_)
        found: dict[str, np.ndarray] = {}
        for ids in alike.values():
            shapes = [self.profiles.shape(id_) for id_ in ids]
            columns = np.array([self.needed(id_, "speed") for id_ in ids])
            head, foot, flow = (values[columns[:, k]] for k in range(3))
            ends = np.array([shape.beds[[0, -1]] for shape in shapes])
            speed = _speed(head - ends[:, :1], foot - ends[:, 1:], flow, shapes[0])
            found.update(zip(ids, speed, strict=True))
        return found

    def volume_at_cover(self, element: str) -> float:
        """What a node holds when its water reaches the cover, m3."""
        node = self._network.nodes[element]
        assert not isinstance(node, Outfall)
        return float(held_at(self._table(element), np.array(node.spill_level - node.invert)))

    def _table(self, element: str) -> np.ndarray:
        """A node's part of `Grid.node`."""
        grid = self._flat.grid
        k = int(np.nonzero(grid.node_row == self._flat.node_row[element])[0][0])
        return grid.node[:, grid.node_table[k] : grid.node_table[k + 1]]

    def _profiled(self, id_: str) -> list[str]:
        """Columns from which the water along a conduit follows: its cells, its nodes, its flows."""
        link, cells = self._network.links[id_], len(self._flat.pipe_rows[id_])
        inner = [f"cell:{id_}:{k}" for k in range(1, cells - 1)]
        ends = [f"level:{link.upstream}", f"level:{link.downstream}", f"into:{id_}", f"flow:{id_}"]
        return [f"head:{id_}", *inner, f"foot:{id_}", *ends]

    def profile_columns(self, id_: str) -> list[int]:
        """Places of the columns from which `profile` follows."""
        return [self._place[name] for name in self._profiled(id_)]

    def profile(self, id_: str, values: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Levels of water and of energy along a conduit over time, float64[chainage, frame], m.

        values : float[column, frame], of `profile_columns`. Chainages are those of `Profiles`.
        """
        *cells, up, down, into, out = np.asarray(values, float)
        water = self.profiles.water(id_, np.array(cells), up, down, into, out)
        return water, self.profiles.energy(id_, water, into, out)


def _speed(head: np.ndarray, foot: np.ndarray, flow: np.ndarray, shape: Shape) -> np.ndarray:
    """Flow over the mean of the wetted areas at both ends, m/s. head, foot : depths, m."""
    area = 0.5 * (np.interp(head, shape.knots, shape.areas) + np.interp(foot, shape.knots, shape.areas))
    # all but dry, a speed would be the quotient of two nothings
    return np.asarray(flow / np.maximum(area, _LEAST_SHARE * shape.areas[-1]))
