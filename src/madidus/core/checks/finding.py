"""One thing to look at, and how it may be put right."""

from dataclasses import dataclass
from typing import Any, Literal

__all__ = ["Finding", "Fix", "setting"]


@dataclass(frozen=True)
class Fix:
    """A safe remedy: what it does in words, and the JSON Patch (RFC 6902) that does it: of the network, or of the
    document where the finding is about rain.
    """

    does: str
    patch: tuple[dict[str, Any], ...]


@dataclass(frozen=True)
class Finding:
    """One thing to look at.

    check : key of its explanation. severity 'stops': the model cannot run; 'look': it runs, but look. element : id,
    None where it is the project's. fix : where one is safe; instead : another one, where there is a choice. acceptable
    : whether it may stay for a reason; what is wrong whatever the reason may not.
    """

    check: str
    severity: Literal["stops", "look"]
    element: str | None
    field: str
    why: str
    remedy: str
    fix: Fix | None = None
    instead: Fix | None = None
    about: Literal["network", "rain"] = "network"  # the stage that it belongs to
    acceptable: bool = True


def setting(does: str, collection: str, id_: str, field: str, value: Any) -> Fix:
    """The remedy that sets one field of an element."""
    return Fix(does, ({"op": "add", "path": f"/{collection}/{id_}/{field}", "value": value},))
