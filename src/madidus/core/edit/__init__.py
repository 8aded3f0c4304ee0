"""Edits of a network: pure functions from a network to another one, and as commands that can be sent and kept."""

from .commands import EDITS, Edit, apply
from .draw import draw_catchment, draw_link, draw_node, draw_run
from .levels import set_levels
from .reshape import join, redraw, reroute, split, turn_round
from .several import move, paste, remove

__all__ = [
    "EDITS", "Edit", "apply", "draw_catchment", "draw_link", "draw_node", "draw_run", "join", "move", "paste", "redraw",
    "remove", "reroute", "set_levels", "split", "turn_round",
]  # fmt: skip
