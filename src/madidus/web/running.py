"""Answers, runs and how they go on, by option."""

import asyncio
from collections.abc import AsyncIterator, Callable
from contextlib import suppress

from fastapi import Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse
from pydantic import BaseModel

from ..core.checks import Fix, judged
from ..core.errors import ModelError
from ..core.results.whole_run import WholeRun
from ..runs.answer import Answer, LogLine
from ..runs.runs import Runs
from .answers import AnswerOut, answer_out
from .context import Seen, option_router
from .layers import ground_level
from .storm_report import StormReport, storm_report

__all__ = ["answer_events", "router"]

router = option_router()

_FIRST = 0.25  # s that the first word of a run waits for first margins
_TOGETHER = 0.05  # s in which changes to a settled answer are told as one
_QUIET = 15.0  # s after which a stream says that it is still there


class FindingOut(BaseModel):
    """fix, instead : safe remedies, their patches relative to the network. accepted : why it stays as it is;
    acceptable : whether it may, for a reason.
    """

    check: str
    severity: str
    element: str | None
    field: str
    why: str
    remedy: str
    fix: Fix | None
    instead: Fix | None
    about: str
    acceptable: bool
    accepted: str | None


async def answer_events(runs: Runs, answer: Answer, look: Callable[[], AnswerOut]) -> AsyncIterator[str]:
    """Server-sent events: what `look` finds each time the answer changes, until a look finds it settled.

    Whether it is settled is read from the very answer that was sent: a run may end between two looks. No thread waits:
    many streams cost as little as one.
    """
    loop, changed = asyncio.get_running_loop(), asyncio.Event()
    with runs.listening(answer, lambda: loop.call_soon_threadsafe(changed.set)):
        if answer.running or answer.awaited:  # the margins that are first in are likely to come within moments
            with suppress(TimeoutError):
                await asyncio.wait_for(changed.wait(), _FIRST)
        while True:
            changed.clear()
            out = await run_in_threadpool(look)
            yield f"event: answer\ndata: {out.model_dump_json()}\n\n"
            if out.state != "running" and not out.worth.looking:
                yield "event: end\ndata: {}\n\n"
                return
            if out.state != "running":  # what the grid is worth ends with two changes at once
                await asyncio.sleep(_TOGETHER)
            while not changed.is_set():
                try:
                    await asyncio.wait_for(changed.wait(), _QUIET)
                except TimeoutError:
                    yield ": still there\n\n"


@router.get("/answer")
def get_answer(seen: Seen) -> AnswerOut:
    """Where the option stands; nothing is started."""
    return answer_out(seen.answer)


@router.post("/answer", status_code=202)
def ask(seen: Seen) -> AnswerOut:
    """Have what an edit starts: every storm where that takes a few seconds, else those that decide."""
    return answer_out(seen.runs.ask(seen.revision, seen.option))


@router.post("/run", status_code=202)
def run(seen: Seen) -> AnswerOut:
    """Compute every storm that is not known. Failed storms are tried again."""
    return answer_out(seen.runs.run(seen.revision, seen.option))


@router.delete("/run", status_code=204)
def cancel(seen: Seen) -> None:
    """Stop after the storms under way; what is done stays."""
    seen.runs.cancel(seen.revision.project_id, seen.option)


@router.post("/storms/{storm}/run", status_code=202)
def run_storm(seen: Seen, storm: str) -> AnswerOut:
    """Compute one storm that is not known, or that failed."""
    if storm not in seen.plan.inflow:
        raise ModelError("storm", storm, "is not in the ensemble", "pick one from the storm matrix")
    return answer_out(seen.runs.run(seen.revision, seen.option, only={storm}))


@router.post("/refine", status_code=202)
def refine(seen: Seen) -> AnswerOut:
    """Compute the storms that may decide a close verdict on finer cells."""
    return answer_out(seen.runs.refine(seen.revision, seen.option))


@router.get("/run/log")
def run_log(seen: Seen) -> list[LogLine]:
    """What the last run of the present inputs did, in order; empty where all was kept from earlier ones."""
    return list(seen.answer.log)


@router.get("/events", response_class=StreamingResponse)
async def events(seen: Seen) -> Response:
    """Server-sent events: the answer to the present revision each time it changes, until it is settled."""
    answer = await run_in_threadpool(lambda: seen.answer)
    stream = answer_events(seen.runs, answer, lambda: answer_out(answer))
    return StreamingResponse(stream, media_type="text/event-stream", headers={"Cache-Control": "no-store"})


@router.get("/checks")
def checks(seen: Seen) -> list[FindingOut]:
    """What stops a run, and what asks for a look."""
    answer, told = seen.answer, seen.units.words
    figures = dict(answer.figures)
    results = answer.plan.whole_run(figures) if answer.plan else WholeRun()

    def remedy(fix: Fix | None) -> Fix | None:
        return fix and Fix(told(fix.does), fix.patch)

    return [
        FindingOut(
            check=f.check, severity=f.severity, element=f.element, field=f.field, why=told(f.why),
            remedy=told(f.remedy), fix=remedy(f.fix), instead=remedy(f.instead), about=f.about, 
            acceptable=f.acceptable, accepted=reason,
        )
        for f, reason in judged(answer.project, results, ground_level(seen), answer.verdicts(figures))
    ]  # fmt: skip


@router.get("/storms/{storm}/report")
def report_of_storm(seen: Seen, storm: str) -> StormReport:
    """Balance by term, oscillation, steps and events of a storm."""
    return storm_report(seen.plan, seen.figures_of(storm), seen.project.rain.runoff)
