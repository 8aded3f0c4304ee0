"""Which solver computed a figure: what is kept of another one is stale, whoever forgot to say so."""

import hashlib
import pkgutil
from collections.abc import Mapping

from .. import elements, hydraulics

__all__ = ["SOLVER", "fingerprint"]


def fingerprint(sources: Mapping[str, bytes]) -> str:
    """Of sources by name: eight hexadecimal digits."""
    digest = hashlib.sha256()
    for name, source in sorted(sources.items()):
        digest.update(b"%d %b %d %b" % (len(name), name.encode(), len(source), source))
    return digest.hexdigest()[:8]


def _sources() -> dict[str, bytes]:
    """Of the solver, and of what reduces its storms to figures and series.

    A comment counts too: computing again costs seconds, a stale figure costs trust.
    """
    above = hydraulics.__name__.rpartition(".")[0]
    names = [(p.__name__, module.name) for p in (hydraulics, elements) for module in pkgutil.iter_modules(p.__path__)]
    names += [(above, "constants"), (f"{above}.numerics", "compiled")]
    names += [(f"{above}.results", name) for name in ("reduction", "series")]
    return {f"{package}.{name}": pkgutil.get_data(package, f"{name}.py") or b"" for package, name in names}


SOLVER = fingerprint(_sources())
"""Part of the digest of every result."""
