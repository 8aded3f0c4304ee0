"""`madidus steady` and `madidus capacity`."""

import json
from dataclasses import asdict
from typing import Annotated

import typer
from rich.console import Console
from rich.table import Table

from ..core.design.steady import capacity as largest
from ..core.design.steady import steady as steady_profile
from ..core.elements import FixedLevel, Free, NormalDepth, TailWater
from ..core.errors import ModelError
from ..core.model.project import Project
from .files import InView, ProjectFile, read, reporting_errors

__all__ = ["capacity", "steady"]

_TAILS: dict[str, TailWater | None] = {"own": None, "free": Free(), "normal": NormalDepth()}
Flows = Annotated[list[str], typer.Option("--inflow", help="NODE=L/s, once for each node")]


def _flows(project: Project, texts: list[str]) -> dict[str, float]:
    """Inflows by node id from NODE=L/s."""
    ids = {node.name: id_ for id_, node in project.option.network.nodes.items()}
    flows = {}
    for text in texts:
        name, _, figure = text.rpartition("=")
        try:
            flows[ids[name]] = float(figure) / 1000.0
        except (KeyError, ValueError) as error:
            raise ModelError(f"node {name or text}", "--inflow", f"“{text}” is not read", "write NODE=L/s") from error
    return flows


def _tail(text: str) -> TailWater | None:
    if text in _TAILS:
        return _TAILS[text]
    try:
        return FixedLevel(level=float(text))
    except ValueError as error:
        raise ModelError("outfalls", "--tail", f"“{text}” is not read", "write own, free, normal or a level") from error


def steady(
    project_file: ProjectFile,
    inflow: Flows,
    tail: Annotated[str, typer.Option(help="own, free, normal, or a level in m")] = "own",
    option: InView = "",
) -> None:
    """Print the profile that steady inflows settle to, as JSON."""
    with reporting_errors():
        project = read(project_file, option)
        network = project.option.network
        profile = steady_profile(network, _flows(project, inflow), _tail(tail))
    name = lambda id_: (network.nodes.get(id_) or network.links[id_]).name  # noqa: E731
    named = {
        "level_m": {name(id_): round(z, 4) for id_, z in profile.level.items()},
        "flow_m3s": {name(id_): round(q, 6) for id_, q in profile.flow.items()},
        "outflow_m3s": {name(id_): round(q, 6) for id_, q in profile.outflow.items()},
        "flood_m3s": {name(id_): round(q, 6) for id_, q in profile.floods.items()},
        "over_bank_m": {name(id_): round(z, 4) for id_, z in profile.over_bank.items()},
        "reaches": {name(id_): asdict(reach) for id_, reach in profile.reaches.items()},
    }
    print(json.dumps(named, indent=1, ensure_ascii=False))


def capacity(
    project_file: ProjectFile,
    inflow: Flows,
    keep: Annotated[str, typer.Option(help="soffit or cover: water stays below it")] = "soffit",
    option: InView = "",
) -> None:
    """Find the largest multiple of the inflows that keeps the water below a limit, with each tail water."""
    table = Table("tail water", "multiple", "L/s in all", "limit is at")
    with reporting_errors():
        if keep not in ("soffit", "cover"):
            raise ModelError("criterion", "--keep", f"“{keep}” is not read", "write soffit or cover")
        project = read(project_file, option)
        network, flows = project.option.network, _flows(project, inflow)
        for name, tail in _TAILS.items():
            found = largest(network, flows, "below soffit" if keep == "soffit" else "below cover", tail)
            table.add_row(name, f"{found.multiple:.3f}", f"{found.flow * 1000:.2f}", network.label(found.element))
    Console().print(table)
