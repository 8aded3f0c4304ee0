"""Ensembles: from a project to its plan, from the plan's jobs to figures."""

from .job import Failure, Hydraulics, Job, Outcome, run_job
from .order import Before, before_edit, expected
from .plan import Cells, Plan, make_plan
from .run import Submit, run_plan, submit_to

__all__ = [
    "Before", "Cells", "Failure", "Hydraulics", "Job", "Outcome", "Plan", "Submit", "before_edit", "expected",
    "make_plan", "run_job", "run_plan", "submit_to",
]  # fmt: skip
