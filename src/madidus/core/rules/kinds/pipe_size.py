"""The least size of a pipe."""

from typing import Literal

from ...elements import Pipe
from ..measured import Drawn, Measured, of_drawing
from ..rule import OfDrawing, Start

__all__ = ["PipeSize"]


class PipeSize(OfDrawing):
    """Pipes are at least this high, m."""

    UNIT = "m of size"
    SENSE = "at least"
    LOOKS_AT = "pipes"
    START = Start("least diameter", "Least diameter", "At least", "high is", 0.15, None)

    kind: Literal["pipe_size"] = "pipe_size"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Of the height of pipes."""
        pipes = {id_: link for id_, link in sorted(network.links.items()) if isinstance(link, Pipe)}
        left = [pipe.height - limit for pipe in pipes.values()]
        return of_drawing(list(pipes), left, [limit] * len(pipes), "there is no pipe")
