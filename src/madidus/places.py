"""Where the program finds and keeps its files: in a checkout beside the sources, else where the system wants them."""

import ast
import hashlib
import os
from pathlib import Path

__all__ = ["data", "demos", "interface", "keep_kernels", "kernels"]

_HERE = Path(__file__).parent
_ROOT = _HERE.parents[1]
_CHECKOUT = (_ROOT / "pyproject.toml").exists() and (_ROOT / "src" / "madidus") == _HERE


def data() -> Path:
    """The data directory: the one that the environment names, or the usual one."""
    if named := os.environ.get("MADIDUS_DATA"):
        return Path(named)
    if _CHECKOUT:
        return _ROOT / ".data"
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share") / "madidus"


def interface() -> Path:
    """The built interface."""
    return _ROOT / "ui" / "dist" if _CHECKOUT else _HERE / "interface"


def demos() -> list[Path]:
    """The demo projects' files."""
    return sorted((_ROOT / "demo" if _CHECKOUT else _HERE / "demo").glob("*.madidus.json"))


def _compiled(source: bytes) -> bytes:
    """What compiled code takes from a module: all of one that compiles something, else its constants and tuples.

    So a field that is described in other words has nothing compiled anew.
    """
    if b"numerics.compiled import" in source or b"njit" in source:
        return source

    def seen(node: ast.stmt) -> bool:
        if isinstance(node, ast.ClassDef):
            return any(ast.unparse(base).endswith(("Tuple", "Enum")) for base in node.bases)
        return isinstance(node, ast.Assign | ast.AnnAssign)

    return "\n".join(ast.unparse(node) for node in ast.parse(source).body if seen(node)).encode()


def kernels() -> Path:
    """Where the solver's compiled code is kept: by its sources, so that changed sources never meet old code."""
    core, digest = _HERE / "core", hashlib.sha256()
    sources = [*core.glob("hydraulics/*.py"), *core.glob("elements/*.py")]
    for source in sorted([*sources, core / "constants.py", core / "numerics" / "compiled.py"]):
        digest.update(source.name.encode() + _compiled(source.read_bytes()))
    cache = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "madidus"
    return (_ROOT / ".data" if _CHECKOUT else cache) / "kernels" / digest.hexdigest()[:16]


def keep_kernels() -> None:
    """Have compiled code kept there, unless the environment names another place. Before the solver is loaded."""
    os.environ.setdefault("NUMBA_CACHE_DIR", str(kernels()))
