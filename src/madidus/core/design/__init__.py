"""Searches for a better design: pipes sized to the least excavation, diameter or cost."""

from .sizing import AIMS, Aim, Lock, SizedPipe, Sizing, Stretch, Unmet, size

__all__ = ["AIMS", "Aim", "Lock", "SizedPipe", "Sizing", "Stretch", "Unmet", "size"]
