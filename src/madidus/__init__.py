"""Madidus: storm drainage networks under ensembles of design storms."""

__version__ = "0.1.0"
