"""Searches through designs, beside everything else: each in a thread of its own, its storms behind all others."""

import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal
from uuid import UUID, uuid4

import structlog

from ..core.errors import ModelError
from ..core.search.trials import Stopped

__all__ = ["Owner", "Search", "Searches", "Work"]

_log = structlog.get_logger()
_KEPT = 20

Owner = tuple[UUID, str]
"""Project and option."""
Work = Callable[[Callable[[Any], None], Callable[[], bool]], None]
"""Does a search: takes whom to tell how it stands, and whether to stop."""


@dataclass
class Search:
    """A search under way, or ended. inputs : digest of what it began from. shown : how it stands, as it last told."""

    id: UUID
    owner: Owner
    inputs: str
    kind: str
    shown: Any = None
    state: Literal["running", "done", "failed", "stopped"] = "running"
    problem: ModelError | None = None
    began: float = field(default_factory=time.monotonic)
    seconds: float = 0.0
    stop: threading.Event = field(default_factory=threading.Event)

    @property
    def lasted(self) -> float:
        """s so far."""
        return self.seconds if self.state != "running" else time.monotonic() - self.began


class Searches:
    """Begins searches, remembers the last of them, and stops those that nobody waits for."""

    def __init__(self) -> None:
        self._all: OrderedDict[UUID, Search] = OrderedDict()
        self._lock = threading.Lock()

    def begin(self, owner: Owner, inputs: str, kind: str, work: Work) -> Search:
        """Begin a search; an earlier one of the same kind on the same option is stopped."""
        search = Search(uuid4(), owner, inputs, kind)
        with self._lock:
            for other in self._all.values():
                if (other.owner, other.kind) == (owner, kind):
                    other.stop.set()
            self._all[search.id] = search
            ended = [id_ for id_, one in self._all.items() if one.state != "running"]
            for id_ in ended[: max(len(self._all) - _KEPT, 0)]:
                del self._all[id_]
        threading.Thread(target=self._work, args=(search, work), name=f"search-{kind}", daemon=True).start()
        return search

    def find(self, owner: Owner, id_: UUID) -> Search | None:
        """A search of an option; None where it is forgotten, or another's."""
        with self._lock:
            found = self._all.get(id_)
        return found if found is not None and found.owner == owner else None

    def close(self) -> None:
        """Stop all of them."""
        with self._lock:
            for search in self._all.values():
                search.stop.set()

    def _work(self, search: Search, work: Work) -> None:
        def tell(shown: Any) -> None:
            search.shown = shown

        state: Literal["done", "failed", "stopped"] = "failed"
        try:
            work(tell, search.stop.is_set)
            state = "done"
        except Stopped:
            state = "stopped"
        except ModelError as error:
            search.problem = error
        except Exception as error:  # noqa: BLE001 told and logged, and the rest goes on
            if search.stop.is_set():
                state = "stopped"  # who computes is closed under it
            else:
                search.problem = ModelError(
                    search.kind, "search", f"broke off with an error of the program ({type(error).__name__})",
                    "begin it again, and report this if it stays",
                )  # fmt: skip
                _log.exception("a search broke off", kind=search.kind)
        search.seconds, search.state = time.monotonic() - search.began, state
