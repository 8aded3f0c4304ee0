"""Every request has an id, which its answer and all that is logged meanwhile carry."""

from typing import Any
from uuid import uuid4

import structlog
from fastapi import FastAPI, Request, Response

__all__ = ["install"]

_log = structlog.get_logger()


def install(app: FastAPI) -> None:
    """Give requests their ids, and log what breaks."""

    @app.middleware("http")
    async def known(request: Request, call_next: Any) -> Response:
        id_ = uuid4().hex[:12]
        with structlog.contextvars.bound_contextvars(request=id_):
            try:
                response: Response = await call_next(request)
            except Exception:  # noqa: BLE001 logged, and the rest goes on
                _log.exception("request failed", method=request.method, path=request.url.path)
                response = Response(
                    f'{{"title": "the server met an error of its own", "detail": "its log has it under {id_}"}}',
                    status_code=500, media_type="application/problem+json",
                )  # fmt: skip
        response.headers["X-Request-Id"] = id_
        return response
