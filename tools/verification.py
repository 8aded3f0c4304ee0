"""Writes docs/verification.md and its plots: every reference case, computed against expected. Run it after a change."""

import sys
from pathlib import Path
from typing import Any

import numpy as np

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))

from tests.cases import designs  # noqa: E402
from tests.cases.build import identity  # noqa: E402
from tests.cases.test_reference import CASES, NOT_CHECKED, OUT_OF_SCOPE, computed, deviation, reference  # noqa: E402
from tests.core.test_steady import line_of_six  # noqa: E402
from tools.verified import drawn, never_more, rims  # noqa: E402

from madidus.core.design.steady import steady  # noqa: E402

PLOTS = ROOT / "docs" / "verification"


def _show(value: Any) -> str:
    if isinstance(value, str):
        return value
    if isinstance(value, list | np.ndarray):
        return ", ".join(f"{v:.4g}" for v in value)
    return f"{value:.6g}"


def _plot(case: str, entries: list[dict[str, Any]], found: dict[str, Any]) -> str:
    """Deviation of every judged quantity as a share of what is allowed: inside the band it passes."""
    shares = []
    for entry in entries:
        off, allowed = deviation(case, entry, found[entry["quantity"]])
        shares.append(off / allowed if allowed > 0 else 0.0)
    row, width = 9, 640
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {row * len(shares) + 24}" font-size="9" '
        f'font-family="sans-serif" role="img" aria-label="deviations of case {case} as shares of the tolerance">',
        f'<text x="0" y="9">{case}: deviation / tolerance; the line is 1</text>',
    ]
    for k, share in enumerate(shares):
        length = min(share, 1.5) * 400
        colour = "#25727d" if share <= 1 else "#9e2a3b"
        parts.append(
            f'<rect x="0" y="{16 + k * row}" width="{max(length, 1):.1f}" height="{row - 3}" fill="{colour}"/>'
        )
    parts.append(f'<line x1="400" x2="400" y1="14" y2="{18 + row * len(shares)}" stroke="#1d2427"/></svg>')
    name = f"{case}.svg"
    (PLOTS / name).write_text("\n".join(parts) + "\n", encoding="utf-8")
    return f"![Deviations of case {case}](verification/{name})"


def _profile(case: str, entry: dict[str, Any], found: dict[str, Any], name: str) -> str:
    """A profile or a series: expected as a line, computed as rings."""
    expected = np.array(entry["value"], float)
    x = np.array(entry.get("at", range(expected.size)), float)
    values = np.array(found[entry["quantity"]], float)
    low, high = min(expected.min(), values.min()), max(expected.max(), values.max())
    px = 40 + (x - x.min()) / (x.max() - x.min()) * 560
    py = lambda v: 150 - (v - low) / max(high - low, 1e-9) * 130  # noqa: E731
    line = " ".join(f"{a:.1f},{b:.1f}" for a, b in zip(px, py(expected), strict=True))
    dots = "".join(
        f'<circle cx="{a:.1f}" cy="{b:.1f}" r="3" fill="none" stroke="#9e2a3b"/>'
        for a, b in zip(px, py(values), strict=True)
    )
    title = f"{entry['quantity']}, {entry['unit']}: line expected, rings computed"
    svg = [
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 640 170" font-size="9" font-family="sans-serif" '
        f'role="img" aria-label="{title}"><text x="40" y="10">{title}</text>',
        f'<text x="0" y="150">{low:.3g}</text><text x="0" y="24">{high:.3g}</text>',
        f'<polyline points="{line}" fill="none" stroke="#1d2427"/>{dots}</svg>',
    ]
    (PLOTS / name).write_text("\n".join(svg) + "\n", encoding="utf-8")
    return f"![{entry['quantity']}](verification/{name})"


def _uniform(flow: float, diameter: float, roughness: float, gradient: float) -> float:
    """Depth of uniform flow in a circle, by Manning's formula and bisection; infinite above the most."""

    def carried(angle: float) -> float:
        area, wet = diameter**2 / 8 * (angle - np.sin(angle)), diameter / 2 * angle
        return float(area * (area / wet) ** (2 / 3) * gradient**0.5 / roughness)

    low, high = 0.01, 5.278  # the angle at which a circle carries most
    if flow > carried(high):
        return float("inf")
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if carried(middle) < flow else (low, middle)
    return float(diameter / 2 * (1 - np.cos(low / 2)))


def _steady_line() -> list[str]:
    """Steady flow below, at and above the greatest uniform flow, to a normal-depth outfall."""
    network, foot, length = line_of_six()
    diameter, roughness, gradient = 60 * 0.0254, 0.015, 0.001
    full = np.pi / 4 * diameter**2 * (diameter / 4) ** (2 / 3) * gradient**0.5 / roughness
    out = [
        "## Steady flow around the greatest uniform flow of a pipe",
        "",
        "Six pipes of 2640 ft (60 in, n 0.015, 1:1000) to an outfall at normal depth. Up to 1.0757 of the full-bore "
        "flow the depth is uniform (Manning, by bisection). Above, no uniform flow exists: the pipes run full from the "
        "soffit at the outfall, and friction gathers (Q/Q_full)² − 1 of the fall. Depths are those at the head.",
        "",
        "| inflow, Mgal/d | Q/Q_full | expected depth, ft | computed, ft | difference, mm |",
        "|---|---|---|---|---|",
    ]
    for million in (10, 20, 30, 40, 48, 50, 55, 60):
        flow = million * 3785.411784 / 86400
        expected = _uniform(flow, diameter, roughness, gradient)
        if np.isinf(expected):
            expected = diameter + ((flow / full) ** 2 - 1) * gradient * 6 * length
        found = steady(network, {identity("head"): flow}, spacing=200.0).level[identity("head")] - 100.0
        out.append(
            f"| {million} | {flow / full:.3f} | {expected / foot:.3f} | {found / foot:.3f} "
            f"| {(found - expected) * 1e3:.1f} |"
        )
    return [*out, ""]


def main() -> None:
    PLOTS.mkdir(parents=True, exist_ok=True)
    for old in PLOTS.glob("*.svg"):
        old.unlink()
    out = [
        "# Verification",
        "",
        "Written by `tools/verification.py`, which runs the solver on every case of `tests/cases/reference`. "
        "Expected figures come from closed forms or from independent integration at tight tolerance. "
        "The same comparisons are tests (`tests/cases/test_reference.py`). "
        "",
    ]
    for case in CASES:
        card, found = reference(case), computed(case)
        judged = [e for e in card["expected"] if e["tolerance"] != "information only"]
        numbers = [e for e in judged if not isinstance(e["value"], str)]
        out += [f"## {case} {card['title']}", "", f"Proves: {card['proves']}", "", card["explanation"].strip(), ""]
        out += [_plot(case, numbers, found), ""]
        notes = [
            f"Not counted in *{name}*: stations {', '.join(map(str, at))} m (see the case's own note)."
            for (of, name), at in NOT_CHECKED.items()
            if of == case
        ]
        out += ["\n".join(notes), ""] if notes else []
        lists = [e for e in numbers if isinstance(e["value"], list) and len(e["value"]) > 2]
        # a figure for each pipe of a network is no course
        lists = [e for e in lists if "at" in e or case not in designs.CASES]
        out += [f"{_profile(case, e, found, f'{case}-{k}.svg')}\n" for k, e in enumerate(lists, start=1)]
        out += ["| quantity | expected | computed | unit | tolerance | |", "|---|---|---|---|---|---|"]
        for entry in card["expected"]:
            value = found.get(entry["quantity"])
            if value is None:
                continue
            if entry["tolerance"] == "information only":
                mark = "information"
            else:
                off, allowed = deviation(case, entry, value)
                mark = "meets" if off <= allowed + 1e-9 else "MISSES"
            if (case, entry["quantity"]) in OUT_OF_SCOPE:
                mark += f", out of scope: {OUT_OF_SCOPE[case, entry['quantity']]}"
            out.append(
                f"| {entry['quantity']} | {_show(entry['value'])} | {_show(value)} | {entry['unit']} "
                f"| {entry['tolerance']} | {mark} |"
            )
        out.append("")
    out += _steady_line() + drawn() + never_more() + rims()
    (ROOT / "docs" / "verification.md").write_text("\n".join(out), encoding="utf-8")


if __name__ == "__main__":
    main()
