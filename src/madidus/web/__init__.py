"""HTTP: validates, calls, answers."""
