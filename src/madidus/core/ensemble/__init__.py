"""Ensembles: from a project to its plan, from the plan's jobs to figures, from figures to what people read."""

from .fares import Fares, LinkFares, NodeFares, fares
from .job import Failure, Hydraulics, Job, Outcome, run_job
from .order import Before, before_edit, expected
from .plan import Cells, Plan, make_plan
from .reduce import LinkWorst, NodeWorst, worst_links, worst_nodes
from .run import Submit, run_plan, submit_to

__all__ = [
    "Before", "Cells", "Failure", "Fares", "Hydraulics", "Job", "LinkFares", "LinkWorst", "NodeFares", "NodeWorst",
    "Outcome", "Plan", "Submit", "before_edit", "expected", "fares", "make_plan", "run_job", "run_plan", "submit_to",
    "worst_links", "worst_nodes",
]  # fmt: skip
