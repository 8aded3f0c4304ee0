"""How long an edit of a small project takes behind the run of a large one: what ranks in the queue are for."""

import copy
import tempfile
import time
from pathlib import Path

from madidus.core.model.project import Project, parse_project
from madidus.postgres import cluster
from madidus.runs.runs import Runs
from madidus.runs.scheduler import Local
from madidus.store.database import connect
from madidus.store.project_store import ProjectStore, Revision
from madidus.store.results import Results
from madidus.store.series import SeriesCache

__all__ = ["behind_a_run"]


def _edited(projects: ProjectStore, revision: Revision, by: float) -> Revision:
    """Every pipe a little longer: nothing of it is known."""
    document = copy.deepcopy(revision.document)
    for link in document["options"][document["in_view"]]["network"]["links"].values():
        if link["kind"] == "pipe":
            link["length"] += by
    return projects.save(revision.project_id, parse_project(document), revision.number)


def _answered(runs: Runs, projects: ProjectStore, revision: Revision, by: float) -> tuple[float, Revision]:
    began = time.perf_counter()
    newer = _edited(projects, revision, by)
    runs.edited(newer)
    answer = runs.answer(newer, newer.document["in_view"])
    version = answer.version
    while answer.running or answer.awaited:
        version = runs.wait(answer, version, 1.0)
    assert answer.complete
    return time.perf_counter() - began, newer


def behind_a_run(small: Project, large: Project, edits: int = 7) -> dict[str, float]:
    """Seconds until an edit of `small` is answered: alone, and while `large` runs; the middle of some edits."""
    with tempfile.TemporaryDirectory(prefix="madidus-bench-") as folder:
        Path(folder).chmod(0o755)
        with cluster(Path(folder), "madidus_bench") as url:
            engine = connect(url)
            projects, cache = ProjectStore(engine), SeriesCache(Path(folder) / "series")
            runs = Runs(projects, Results(engine), cache, Local(2))
            revision, heavy = projects.create(small), projects.create(large)
            _, revision = _answered(runs, projects, revision, 0.01)
            alone, behind = [], []
            for k in range(edits):
                seconds, revision = _answered(runs, projects, revision, 0.02 + 0.001 * k)
                alone.append(seconds)
            under_way = runs.run(heavy, heavy.document["in_view"])
            while not under_way.figures:
                time.sleep(0.01)
            for k in range(edits):
                seconds, revision = _answered(runs, projects, revision, 0.05 + 0.001 * k)
                behind.append(seconds)
            still = under_way.running
            runs.close()
            engine.dispose()
    assert still, "the large run was over before the edits were"
    middle = lambda found: sorted(found)[len(found) // 2]  # noqa: E731
    return {
        "edit_alone_s": middle(alone), "edit_behind_a_run_s": middle(behind),
        "edit_behind_over_alone": middle(behind) / middle(alone),
    }  # fmt: skip
