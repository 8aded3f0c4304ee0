"""Logs: a line for each thing that happened, short traces, nothing of a project's inputs."""

import logging
import sys
import traceback
from collections.abc import MutableMapping
from typing import Any

import structlog

__all__ = ["configure"]

_FRAMES = 6  # of a trace, the last
_LONGEST = 400  # characters of a value


def _short(_: Any, __: str, event: MutableMapping[str, Any]) -> dict[str, Any]:
    """Traces by their last frames, without what the frames held; long values are cut."""
    error = event.pop("exc_info", None)
    if error:
        kind, value, trace = sys.exc_info() if error is True else (type(error), error, error.__traceback__)
        frames = traceback.extract_tb(trace)[-_FRAMES:]
        event["trace"] = " < ".join(f"{f.filename.rpartition('/')[2]}:{f.lineno} {f.name}" for f in reversed(frames))
        event["error"] = f"{kind.__name__ if kind else 'error'}: {value}"
    return {key: _cut(value) for key, value in event.items()}


def _cut(value: Any) -> Any:
    text = value if isinstance(value, str) else repr(value)
    return f"{text[:_LONGEST]}…" if len(text) > _LONGEST else value


def configure() -> None:
    """Have all of the program log to standard error in this way."""
    structlog.configure(
        processors=[
            structlog.contextvars.merge_contextvars,
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            _short,
            structlog.processors.KeyValueRenderer(key_order=["timestamp", "level", "event"]),
        ],
        wrapper_class=structlog.make_filtering_bound_logger(logging.INFO),
        logger_factory=structlog.PrintLoggerFactory(sys.stderr),
    )
