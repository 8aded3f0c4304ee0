"""Random tree networks of any size with a pond and a control at the end: test beds, not designs."""

import uuid

import numpy as np

from madidus.core.elements import Manhole, Orifice, Outfall, Pipe, Storage, Weir
from madidus.core.elements.sections import Circular
from madidus.core.model.network import Catchment, Network
from madidus.core.rainfall.ensemble import Ensemble
from madidus.core.rainfall.methods import DepthTable
from madidus.core.rainfall.rain import Rain
from madidus.core.surface.runoff import Runoff

SIZES = [0.225, 0.3, 0.375, 0.45, 0.525, 0.6, 0.75, 0.9, 1.05, 1.2, 1.5, 1.8]
DURATIONS = [15, 30, 60, 120, 180, 240, 360, 720, 1440]


def identity(name: str) -> str:
    return str(uuid.uuid5(uuid.NAMESPACE_OID, name))


def rain() -> Rain:
    """54 storms: nine durations, three probabilities, two seasons."""
    base = np.array([9.0, 12.0, 15.6, 19.8, 22.6, 24.7, 28.2, 35.5, 44.5])
    table = DepthTable(
        durations=DURATIONS, return_periods=[2, 30, 100], depths=[(base * k).tolist() for k in (1.0, 2.05, 2.65)]
    )
    return Rain(
        rainfall=table,
        ensemble=Ensemble(
            durations=DURATIONS,
            probabilities=[
                {"return_period": 2},
                {"return_period": 30},
                {"return_period": 100, "allowance": 0.4},
            ],
            seasons=[
                {"name": "summer", "shape": {"kind": "bell", "a": 0.1, "b": 0.815}},
                {"name": "winter", "shape": {"kind": "bell", "a": 0.06, "b": 1.026}},
            ],
        ),
        runoff=Runoff(),
    )


def tree(pipes: int, seed: int = 1) -> Network:
    """A tree of `pipes` pipes that drains to a pond with an orifice and an overflow weir."""
    rng = np.random.default_rng(seed)
    downstream = [-1] + [int(rng.integers(max(0, k - 8), k)) for k in range(1, pipes)]
    lengths = rng.uniform(18.0, 70.0, pipes)
    gradients = rng.uniform(0.003, 0.02, pipes)
    areas = rng.uniform(300.0, 1200.0, pipes)
    gathered = areas.copy()
    for k in range(pipes - 1, 0, -1):
        gathered[downstream[k]] += gathered[k]
    size = np.empty(pipes)
    for k in range(pipes):
        wanted = gathered[k] * 60.0 / 3.6e6
        full = [0.312 / 0.013 * d ** (8 / 3) * gradients[k] ** 0.5 for d in SIZES]
        size[k] = next((d for d, q in zip(SIZES, full, strict=True) if q >= wanted), SIZES[-1])
    total = float(areas.sum())
    pond_area = total * 0.030
    nodes: dict[str, object] = {
        identity("pond"): Storage(
            name="Pond", invert=10.0, cover=12.2, ponded_area=pond_area * 1.6,
            table=[{"depth": 0, "area": pond_area}, {"depth": 2.2, "area": pond_area * 1.6}],
        ),
        identity("out"): Outfall(name="Out", invert=9.5),
    }  # fmt: skip
    links: dict[str, object] = {
        identity("orifice"): Orifice(
            name="Orifice", upstream=identity("pond"), downstream=identity("out"), invert=10.0,
            section=Circular(diameter=max(0.075, 0.1 * (total / 2e4) ** 0.5)),
        ),
        identity("weir"): Weir(
            name="Weir", upstream=identity("pond"), downstream=identity("out"), crest=11.9, length=max(2.0, total / 2e4)
        ),
    }  # fmt: skip
    inverts = np.empty(pipes)
    catchments = {}
    for k in range(pipes):
        if downstream[k] < 0:
            end_node, end_invert = identity("pond"), 10.6
        else:
            below = downstream[k]
            end_node = identity(f"M{below}")
            end_invert = inverts[below] + max(0.0, size[below] - size[k])
        inverts[k] = end_invert + gradients[k] * lengths[k]
        nodes[identity(f"M{k}")] = Manhole(
            name=f"M{k}", invert=float(inverts[k]), cover=float(inverts[k] + size[k] + rng.uniform(1.0, 2.0))
        )
        links[identity(f"P{k}")] = Pipe(
            name=f"P{k}", upstream=identity(f"M{k}"), downstream=end_node, section=Circular(diameter=float(size[k])),
            length=float(lengths[k]), upstream_invert=float(inverts[k]), downstream_invert=float(end_invert),
            exit_loss=1.0 if downstream[k] < 0 else 0.0,
        )  # fmt: skip
        catchments[identity(f"C{k}")] = Catchment(name=f"C{k}", area=float(areas[k]), node=identity(f"M{k}"))
    return Network(nodes=nodes, links=links, catchments=catchments)
