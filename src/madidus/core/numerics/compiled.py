"""How the solver is compiled."""

from typing import Any

from numba import njit

__all__ = ["OPTIONS", "brief_routine", "kernel", "routine"]

_OPTIONS: dict[str, Any] = {"cache": True, "nogil": True, "error_model": "numpy"}

routine = njit(**_OPTIONS)
"""Compiled code that may make arrays, outside the iteration."""

brief_routine = njit(**{**_OPTIONS, "cache": False})
"""A routine of a few lines outside the solver: each program compiles it anew, and none waits for another's."""

OPTIONS: dict[str, Any] = {**_OPTIONS, "_nrt": False}
kernel = njit(**OPTIONS)
"""Compiled code of the iteration, which works in the arrays it is given.

It makes no array and counts no references: a network is some forty arrays, each counted in and out at every call.
"""
