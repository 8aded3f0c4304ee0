"""Rules that are governed at an end of the durations that were run: a further one may be worse."""

from collections.abc import Iterator, Sequence

from ..errors import ModelError
from ..model.project import Project
from ..verdicts import Verdict
from .finding import Finding, Fix

__all__ = ["durations"]

_USUAL = (
    5, 10, 15, 20, 30, 45, 60, 90, 120, 180, 240, 360, 480, 600, 720, 960, 1440, 2160, 2880, 4320, 5760, 7200, 10_080,
)  # fmt: skip
_SHORTER = 2  # usual durations that are offered below the shortest; one above the longest
_NAMED = 3  # rules that are told by name


def durations(project: Project, verdicts: Sequence[Verdict]) -> Iterator[Finding]:
    """A finding for either end of the range, with the durations that would show whether a further one is worse."""
    ensemble = project.rain.ensemble
    if not ensemble.durations:
        return
    for edge in ("shortest", "longest"):
        own = [v for v in verdicts if v.edge == edge and v.criterion.asked]
        if not own:
            continue
        end = min(ensemble.durations) if edge == "shortest" else max(ensemble.durations)
        names = "; ".join(dict.fromkeys(v.criterion.name for v in own[:_NAMED]))
        more = f" and {len(own) - _NAMED} more" if len(own) > _NAMED else ""
        further = _further(project, end, edge)
        worse = "a shorter" if edge == "shortest" else "a longer"
        yield Finding(
            f"range-{edge}", "look", None, "durations",
            f"{names}{more}: governed by the {edge} duration that was run, {end:g} min; {worse} one may be worse",
            "run it, or say why it cannot govern"
            if further
            else f"extend the rainfall, or the patterns, to {worse} one; or say why it cannot govern",
            _add(project, further) if further else None,
            about="rain",
        )  # fmt: skip


def _further(project: Project, end: float, edge: str) -> list[float]:
    """Usual durations beyond an end of the range that the rainfall holds, and that have patterns where all do."""
    rain = project.rain
    block = rain.ensemble
    beyond = [d for d in _USUAL if (d < end if edge == "shortest" else d > end)]
    nearest = beyond[-_SHORTER:] if edge == "shortest" else beyond[:1]

    def held(duration: float) -> bool:
        if not block.seasons and not any(pattern.duration == duration for pattern in block.patterns):
            return False
        try:
            return rain.rainfall is not None and all(
                rain.rainfall.depth_at(duration, one.return_period) >= 0.0 for one in block.probabilities
            )
        except ModelError:
            return False

    return [float(d) for d in nearest if held(d)]


def _add(project: Project, further: list[float]) -> Fix:
    """The remedy that runs further durations; its path is of the document."""
    listed = " and ".join(f"{d:g}" for d in further)
    every = sorted({*project.rain.ensemble.durations, *further})
    patch = {"op": "replace", "path": "/rain/ensemble/durations", "value": every}
    return Fix(f"add {listed} min", (patch,))
