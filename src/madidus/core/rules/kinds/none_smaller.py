"""Pipes do not become smaller downstream."""

from typing import Literal

from ...elements import Pipe, Store
from ..measured import Drawn, Measured, of_drawing
from ..rule import OfDrawing, Start

__all__ = ["NoneSmaller"]


class NoneSmaller(OfDrawing):
    """No pipe is by more than this smaller than one that arrives above it, m."""

    UNIT = "m of size"
    SENSE = "at most"
    LOOKS_AT = "pipes"
    START = Start("none smaller", "No pipe smaller than above", "By at most", "smaller than above is", 0.0, None)

    kind: Literal["none_smaller"] = "none_smaller"

    def look(self, limit: float, network: Drawn) -> Measured:
        """Of each pipe against the highest one that arrives at its upstream end; below a store a smaller one is
        usual.
        """
        pipes = {id_: link for id_, link in sorted(network.links.items()) if isinstance(link, Pipe)}
        highest: dict[str, float] = {}
        for pipe in pipes.values():
            highest[pipe.downstream] = max(pipe.height, highest.get(pipe.downstream, 0.0))
        followed = {
            id_: pipe for id_, pipe in pipes.items()
            if pipe.upstream in highest and not isinstance(network.nodes[pipe.upstream], Store)
        }  # fmt: skip
        left = [limit - max(0.0, highest[pipe.upstream] - pipe.height) for pipe in followed.values()]
        return of_drawing(list(followed), left, [limit] * len(left), "no pipe follows another")

    def allowed(self, value: float, unit: str) -> str:
        """In words: 'none smaller'."""
        return f"smaller by {value:.4g} {unit} at most" if value else "none smaller"
