"""How often the provisional margin after an edit, by the storms that run first, is the final one."""

import copy
from collections.abc import Iterator
from typing import Any

import numpy as np
from tools.bench_design import known

from madidus.core.ensemble import Before, before_edit, make_plan
from madidus.core.errors import ModelError
from madidus.core.model import parse_project
from madidus.core.model.project import Project

__all__ = ["provisional"]

_FACTORS = (0.6, 0.75, 0.9, 1.1, 1.25, 1.5)


def _edited(document: dict[str, Any], rng: np.random.Generator) -> dict[str, Any]:
    """With one roughness, diameter or area by one factor."""
    changed = copy.deepcopy(document)
    network = changed["options"][changed["in_view"]]["network"]
    parts = [(link, "roughness") for link in network["links"].values() if link["kind"] == "pipe"]
    parts += [(link["section"], "diameter") for link, _ in parts if link["section"]["shape"] == "circular"]
    parts += [(catchment, "area") for catchment in network["catchments"].values() if catchment.get("area")]
    holder, field = parts[rng.integers(len(parts))]
    holder[field] *= float(rng.choice(_FACTORS))
    return changed


def provisional(project: Project, edits: int = 30, seed: int = 3) -> Iterator[tuple[str, float]]:
    """Storms that run first and their share of the work; margins that they gave, and how many were final."""
    document, rng = project.model_dump(mode="json"), np.random.default_rng(seed)
    plan = make_plan(project)
    figures = known(plan)
    before: Before = before_edit(plan.storms, figures, plan.verdicts(figures))
    yield "storms", len(plan.storms)
    yield "first", len(before.deciding)
    work = sum(before.iterations.values())
    yield "share_of_work", sum(before.iterations[key] for key in before.deciding) / work
    margins, final, worst = 0, 0, 0.0
    for _ in range(edits):
        try:
            after = make_plan(parse_project(_edited(document, rng)))
        except ModelError:
            continue
        whole = known(after)
        some = {key: one for key, one in whole.items() if key in before.deciding}
        pairs = zip(after.verdicts(some, before=before.deciding), after.verdicts(whole), strict=True)
        for soon, late in pairs:
            if soon.governing is None or late.governing is None or not soon.seen:
                continue
            off = abs(soon.governing.value - late.governing.value) / late.governing.scale
            margins, final, worst = margins + 1, final + (off < 1e-9), max(worst, off)
    yield "margins", margins
    yield "final", final
    yield "worst_share_of_scale", worst
