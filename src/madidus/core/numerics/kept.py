"""What was worked out before, kept by what it depends on."""

import threading
from collections import OrderedDict
from collections.abc import Callable
from typing import Generic, TypeVar

__all__ = ["Kept"]

_T = TypeVar("_T")


class Kept(Generic[_T]):
    """The last few things worked out, by key; what was not asked for longest goes first. For many threads."""

    def __init__(self, most: int):
        self._most = most
        self._known: OrderedDict[str, _T] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: str, make: Callable[[], _T]) -> _T:
        """What is kept under a key, else what `make` makes. Two threads may both make it; neither waits."""
        with self._lock:
            if key in self._known:
                self._known.move_to_end(key)
                return self._known[key]
        made = make()
        with self._lock:
            self._known[key] = made
            while len(self._known) > self._most:
                self._known.popitem(last=False)
        return made
