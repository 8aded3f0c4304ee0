"""Errors as problem details (RFC 9457)."""

from contextlib import suppress
from typing import Annotated
from uuid import UUID

from fastapi import FastAPI, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse

from ..core.errors import ModelError
from ..core.model.about import About, about
from ..core.model.refused import problem_of
from ..core.quantities import Units
from ..store.project_store import Conflict, Missing

__all__ = ["Incomplete", "install"]


class Incomplete(Exception):
    """What was asked for would lack storms that are not in; the message says how many are."""


def _problem(status: int, title: str, **more: object) -> JSONResponse:
    return JSONResponse(
        {"type": "about:blank", "title": title, "status": status, **more},
        status_code=status,
        media_type="application/problem+json",
    )


def _units_of(request: Request) -> Units:
    """In which the project is read that a request is about."""
    with suppress(ValueError, LookupError):
        return Units(*request.app.state.projects.units(UUID(request.path_params["project_id"])))
    return Units("metric", None)


def _words(field: str) -> str:
    """The name of a field by its path; of a row, its number from 1, and what it is a row of."""
    steps = [step.replace("_", " ") for step in field.split("/")]
    row = len(steps) > 1 and steps[-1].isdigit()
    return f"{steps[-2]}, row {int(steps[-1]) + 1}" if row else steps[-1]


def install(app: FastAPI) -> None:
    """Answer the errors of the layers below, and what the fields are that they name."""

    @app.get("/api/about")
    def about_field(field: Annotated[str, Query(max_length=500)]) -> list[About]:
        """What a field of the document is, what has it, and what is allowed; by its path."""
        return about(field)

    @app.exception_handler(ModelError)
    async def model_error(request: Request, error: ModelError) -> JSONResponse:
        told = await run_in_threadpool(_units_of, request)
        return _problem(
            422,
            f"{error.element}, {_words(error.field)}: {told.words(error.problem)}",
            detail=told.words(error.remedy),
            element=error.element,
            field=error.field,
        )

    @app.exception_handler(Missing)
    async def missing(_: Request, error: Missing) -> JSONResponse:
        return _problem(404, str(error) or "not found")

    @app.exception_handler(Incomplete)
    async def incomplete(_: Request, error: Incomplete) -> JSONResponse:
        return _problem(409, str(error), detail="run the storms that are missing, or ask for it incomplete")

    @app.exception_handler(Conflict)
    async def conflict(_: Request, __: Conflict) -> JSONResponse:
        return _problem(412, "the project was changed meanwhile", detail="load it again and repeat the edit")

    @app.exception_handler(RequestValidationError)
    async def invalid(request: Request, error: RequestValidationError) -> JSONResponse:
        first = error.errors()[0]
        status = 400 if first["type"] == "json_invalid" else 422
        if status == 400:
            return _problem(status, f"the request is no JSON: {first['msg']}")
        told = await run_in_threadpool(_units_of, request)
        where = "/".join(str(step) for step in first["loc"])
        return _problem(status, f"{_words(where)}: {told.words(problem_of(error))}", detail=where)
