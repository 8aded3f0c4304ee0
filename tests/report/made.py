"""Small projects, run, for reports."""

from concurrent.futures import ThreadPoolExecutor
from datetime import date
from functools import cache

from madidus.core.elements.figures import Figures
from madidus.core.ensemble import make_plan, run_plan, submit_to
from madidus.core.model import Project
from madidus.core.model.project import fingerprint
from madidus.core.model.report import ReportLayout
from madidus.report.reported import Reported
from tests.core.searched import tank_project

DAY = date(2026, 3, 14)
SUBMIT = submit_to(ThreadPoolExecutor(2))


def reported(project: Project, layout: ReportLayout | None = None, run: bool = True, **more) -> Reported:
    """A project with its storms run, or with none of them."""
    plan = make_plan(project)
    found = run_plan(plan, plan.inflow, SUBMIT) if run else ()
    figures = {one.key: one for one in found if isinstance(one, Figures)}
    series = cache(plan.series)

    def trace(storm, element, quantity):
        one = series(storm)
        needed = plan.layout.needed(element, quantity)
        return one.time, plan.trace(storm, element, quantity, one.time, one.values[needed])

    return Reported(
        project, fingerprint(project.model_dump(mode="json")), plan, figures, plan.verdicts(figures),
        day=DAY, trace=trace, layout=layout or project.layouts[0], **more,
    )  # fmt: skip


@cache
def tank_run() -> Reported:
    """A tank with its orifice under six winter storms."""
    return reported(tank_project())


def pipe_project(length: float = 100.0, name: str = "A") -> Project:
    """One pipe from a manhole to another, due east, and on to an outfall; under one storm."""

    def id_(k):
        return f"00000000-0000-4000-8000-{k:012d}"

    def pipe(name, up, down, a, b, long):
        return {"name": name, "kind": "pipe", "upstream": id_(up), "downstream": id_(down), "length": long,
                "upstream_invert": a, "downstream_invert": b, "section": {"shape": "circular", "diameter": 0.3}}  # fmt: skip

    network = {
        "nodes": {
            id_(1): {"name": name, "kind": "manhole", "x": 1000.0, "y": 500.0, "cover": 12.0, "invert": 10.0},
            id_(2): {"name": "B", "kind": "manhole", "x": 1000.0 + length, "y": 500.0, "cover": 11.5, "invert": 9.0},
            id_(3): {"name": "out", "kind": "outfall", "x": 1000.0 + length, "y": 480.0, "invert": 8.5, "ground": 9.9},
        },
        "links": {id_(4): pipe("P1", 1, 2, 10.0, 9.0, length), id_(5): pipe("P2", 2, 3, 9.0, 8.5, 20.0)},
        "catchments": {id_(6): {"name": "roof", "area": 1500.0, "node": id_(1), "time_of_entry": 300}},
    }  # fmt: skip
    rain = {
        "rainfall": {"kind": "formula", "rows": [{"return_period": 5.0, "a": 1400.0, "b": 9.0, "c": 0.85}]},
        "ensemble": {"durations": [30.0], "probabilities": [{"return_period": 5.0}],
                     "seasons": [{"name": "winter", "shape": {"kind": "block"}}]},
    }  # fmt: skip
    rules = [{"kind": "cover", "name": "Dry", "limits": [{"return_period": 5.0}]}]
    return Project.model_validate({
        "name": "one pipe", "brief": {"rules": rules}, "rain": rain,
        "options": {id_(9): {"name": "as drawn", "network": network}},
    })  # fmt: skip
