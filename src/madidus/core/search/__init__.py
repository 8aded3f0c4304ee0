"""Searches through designs by the solver itself: stores and controls fitted, pipes repaired, single changes weighed."""
