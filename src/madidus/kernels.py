"""The solver's compiled code: made once on a machine, by one process, while others wait.

Processes that compile side by side write one index of what is kept, and one may read the code of another signature
than it asks for: wrong figures, without a word. So all is compiled under a lock, and later only read.
"""

import fcntl
import json
import threading
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

from numba import config as _numba

from . import places
from .core.design.steady import steady
from .core.ensemble import make_plan, run_job
from .core.model.project import Project, parse_project

__all__ = ["compiling", "ready"]

_STORMS = 2  # of each demo: several kinds of rain and of ways to end


_under_way = threading.Event()


def compiling() -> bool:
    """Whether this process compiles the solver now, so that storms wait for it."""
    return _under_way.is_set()


def ready(say: Callable[[str], None] = lambda _: None) -> None:
    """Return once the solver is compiled. say : told when that takes a while."""
    settings: Any = _numba
    if settings.DISABLE_JIT:
        return
    folder = Path(settings.CACHE_DIR or places.kernels())
    if (folder / "complete").exists():
        return
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / "lock").open("w") as guard:
        fcntl.flock(guard, fcntl.LOCK_EX)
        if not (folder / "complete").exists():
            say("Compiling the solver (once, about a minute)")
            _under_way.set()
            try:
                for file in places.demos():
                    _exercise(parse_project(json.loads(file.read_text(encoding="utf-8"))))
                (folder / "complete").touch()
            finally:
                _under_way.clear()


def _exercise(project: Project) -> None:
    """Call all of the solver that a project may need: with and without series, from rest and from a base flow."""
    plan = make_plan(project)
    for key in list(plan.inflow)[:_STORMS]:
        for recorded in (False, True):
            run_job(plan.hydraulics, plan.job(key, recorded))
    first = next(node for node in plan.network.nodes if plan.flat.node_row[node] < plan.flat.grid.cells)
    steady(plan.network, {first: 1e-3})
    replace(plan.hydraulics, start=plan.simulate(key, until=1.0).end).simulate(plan.inflow[key], until=600.0)
    plan.simulate(key, until=600.0, frames=10, interval=60.0)
