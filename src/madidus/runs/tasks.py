"""Tasks through designs, beside everything else: each in a thread of its own, its storms behind all others."""

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

__all__ = ["Owner", "Task", "Tasks", "Work"]

_log = structlog.get_logger()

Owner = tuple[UUID, str]
"""Project and option."""
Work = Callable[[Callable[[Any], None], Callable[[], bool]], None]
"""Does it: takes whom to tell how it stands, and whether to stop."""


@dataclass
class Task:
    """Work under way, or ended. inputs : digest of what it began from. shown : how it stands, as it last told."""

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


class Tasks:
    """Begins work, remembers the last of it, and stops what nobody waits for. kept : how many that have ended."""

    def __init__(self, kept: int = 20) -> None:
        self._kept = kept
        self._all: OrderedDict[UUID, Task] = OrderedDict()
        self._lock = threading.Lock()

    def begin(self, owner: Owner, inputs: str, kind: str, work: Work) -> Task:
        """Begin work; an earlier one of the same kind on the same option is stopped."""
        task = Task(uuid4(), owner, inputs, kind)
        with self._lock:
            for other in self._all.values():
                if (other.owner, other.kind) == (owner, kind):
                    other.stop.set()
            self._all[task.id] = task
            ended = [id_ for id_, one in self._all.items() if one.state != "running"]
            for id_ in ended[: max(len(self._all) - self._kept, 0)]:
                del self._all[id_]
        threading.Thread(target=self._work, args=(task, work), name=f"task-{kind}", daemon=True).start()
        return task

    def find(self, owner: Owner, id_: UUID) -> Task | None:
        """Work on an option; None where it is forgotten, or another's."""
        with self._lock:
            found = self._all.get(id_)
        return found if found is not None and found.owner == owner else None

    def made(self, owner: Owner, kind: str, inputs: str) -> Task | None:
        """The newest work of a kind from the same inputs that is under way or done."""
        with self._lock:
            found = (one for one in reversed(self._all.values()) if (one.owner, one.kind) == (owner, kind))
            return next((one for one in found if one.inputs == inputs and one.state in ("running", "done")), None)

    def close(self) -> None:
        """Stop all of them."""
        with self._lock:
            for task in self._all.values():
                task.stop.set()

    def _work(self, task: Task, work: Work) -> None:
        def tell(shown: Any) -> None:
            task.shown = shown

        state: Literal["done", "failed", "stopped"] = "failed"
        try:
            work(tell, task.stop.is_set)
            state = "done"
        except Stopped:
            state = "stopped"
        except ModelError as error:
            task.problem = error
        except Exception as error:  # noqa: BLE001 told and logged, and the rest goes on
            if task.stop.is_set():
                state = "stopped"  # who computes is closed under it
            else:
                task.problem = ModelError(
                    task.kind, "work", f"broke off with an error of the program ({type(error).__name__})",
                    "begin it again, and report this if it stays",
                )  # fmt: skip
                _log.exception("work broke off", kind=task.kind)
        task.seconds, task.state = time.monotonic() - task.began, state
