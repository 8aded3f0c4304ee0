"""Madidus: storm drainage networks under ensembles of design storms."""

from .places import keep_kernels

__version__ = "0.3.0"

keep_kernels()
