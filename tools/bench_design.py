"""How long searches through designs take, beside a run of the whole ensemble on the same machine."""

import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor

from madidus.core.design import AIMS
from madidus.core.design.network import SizingRequest, designs
from madidus.core.elements import Orifice, Store
from madidus.core.elements.figures import Figures
from madidus.core.ensemble import Plan, make_plan, run_plan, submit_to
from madidus.core.model.project import Project
from madidus.core.search.drag import deciding, follow_drag
from madidus.core.search.fit import fit
from madidus.core.search.repair import repair
from madidus.core.search.single_change import single_changes
from madidus.core.search.space import FitRequest
from madidus.core.search.variables import Variable, changeable, laid

__all__ = ["fitted", "known", "sized"]

_SUBMIT = submit_to(ThreadPoolExecutor(2))


def known(plan: Plan) -> dict[str, Figures]:
    """Figures of every storm, by key."""
    found = run_plan(plan, [s.key for s in plan.storms], _SUBMIT)
    return {one.key: one for one in found if isinstance(one, Figures)}


def sized(project: Project) -> dict[str, float]:
    """All round pipes sized: the three aims as the page asks for them, and the slowest of them alone, s."""
    began = time.perf_counter()
    designs(project, SizingRequest())
    page = time.perf_counter() - began
    return {"sizing_page_s": page, "sizing_aim_s": page / len(AIMS)}


def fitted(project: Project, store: str) -> Iterator[tuple[str, float]]:
    """A pond with its orifice fitted, single changes, a repair, a trial by hand; each by the run of every storm."""
    plan = make_plan(project)
    known(plan)  # compiled, and warm
    began = time.perf_counter()
    figures = known(plan)
    whole = time.perf_counter() - began
    yield "ensemble_s", whole
    network = plan.network
    pond = next(id_ for id_, node in network.nodes.items() if isinstance(node, Store) and node.name == store)
    outlet = next(id_ for id_, one in network.links.items() if isinstance(one, Orifice) and one.upstream == pond)
    size_of = next(one for one in changeable(network, outlet) if one.what == "size")
    variables = [Variable(pond, "area", 0.3, 3.0), Variable(outlet, "size", size_of.low, size_of.high)]
    verdicts = plan.verdicts(figures)

    def rules(*kinds: str) -> list[tuple[int, int]]:
        return [(v.criterion.place, v.criterion.row) for v in verdicts if v.criterion.kind in kinds]

    began = time.perf_counter()
    found = fit(plan, FitRequest(variables, rules("outflow", "freeboard"), "volume"), _SUBMIT, known=figures)
    took = time.perf_counter() - began
    yield "fit_s", took
    yield "fit_by_ensemble", took / whole
    yield "fit_trials", float(len(found.steps))
    yield "fit_storms_by_ensemble", found.storms / len(plan.storms)
    began = time.perf_counter()
    single_changes(project, plan, rules("outflow")[0], figures, _SUBMIT)
    yield "bigger_by_ensemble", (time.perf_counter() - began) / whole
    began = time.perf_counter()
    repair(project, plan, rules("surcharge", "flood_volume"), _SUBMIT, known=figures)
    yield "repair_by_ensemble", (time.perf_counter() - began) / whole
    began = time.perf_counter()
    follow_drag(plan, laid(network, {variables[1]: size_of.value * 0.95}), deciding(verdicts), _SUBMIT)
    yield "by_hand_s", time.perf_counter() - began
