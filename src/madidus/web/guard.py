"""Who may speak to the server: programs of this machine, and the pages that it has served itself.

A page elsewhere may point its own name at this machine (DNS rebinding) and then read and write under that name. So
the name that a request asks for must be one of this machine's, with the port; a page's origin must be that address.
"""

import socket
from typing import Any

from fastapi import FastAPI, Request, Response

__all__ = ["install", "refusal"]

_NAMES = {"localhost", "127.0.0.1", "[::1]", socket.gethostname().lower()}


def refusal(host: str, origin: str | None, scheme: str, port: int) -> tuple[int, str] | None:
    """Status and reason for which a request is turned away, or None.

    host, origin : its headers. scheme, port : on which it came.
    """
    usual = {"http": 80, "https": 443}.get(scheme)
    addresses = {f"{name}:{port}" for name in _NAMES} | (_NAMES if port == usual else set())
    if host.lower() not in addresses:
        return 421, f"this address is not Madidus's own; open {scheme}://localhost:{port}"
    if origin is not None and origin.lower() != f"{scheme}://{host.lower()}":
        return 403, "cross-origin request refused"
    return None


def install(app: FastAPI) -> None:
    """Turn away what comes from elsewhere, and tell browsers what pages of ours may do."""

    @app.middleware("http")
    async def guard(request: Request, call_next: Any) -> Response:
        server = request.scope.get("server")
        origin, host = request.headers.get("origin"), request.headers.get("host", "")
        turned_away = refusal(host, origin, request.url.scheme, server[1] if server and server[1] else 0)
        if turned_away:
            return Response(turned_away[1], status_code=turned_away[0])
        response: Response = await call_next(request)
        # only maps come from elsewhere: those a project names
        response.headers["Content-Security-Policy"] = (
            "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob: http: https:; "
            "connect-src 'self' http: https:; frame-ancestors 'none'"
        )
        response.headers["X-Content-Type-Options"] = "nosniff"
        return response
