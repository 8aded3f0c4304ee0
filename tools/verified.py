"""What is drawn and judged, against the solver's own values and closed forms: parts of docs/verification.md."""

import numpy as np
from tests.cases.build import Run, identity, network, tank
from tests.core.test_pond import POND, pond, volume
from tests.core.test_profile import STILL, circle, critical_depth, one_pipe, steady_profile
from tests.exchange.test_demos import SCRIPTS, demo

from madidus.core.constants import GRAVITY
from madidus.core.elements import Conduit
from madidus.core.elements.curve import vortex_rows
from madidus.core.ensemble import make_plan
from madidus.core.hydraulics.flatten import flatten
from madidus.core.hydraulics.inflow import Inflow
from madidus.core.hydraulics.simulate import simulate
from madidus.core.model.network import Network
from madidus.core.results.reduction import Reduction

__all__ = ["drawn", "never_more", "rims"]


def drawn() -> list[str]:
    """The long section of every storm of the demos against the series, and of one pipe against the textbook."""
    out = [
        "## Drawn against computed: the long section",
        "",
        "Every conduit of every demo in every storm at every kept moment. A drawn point at the middle of a cell is to "
        "be the solver's own; no water lies below its bed, no energy below its water, and the energy falls along the "
        "flow.",
        "",
        "| demo | storms | drawn points | most off the solver's, mm | below the bed | energy below water | it rises |",
        "|---|---|---|---|---|---|---|",
    ]
    for name in SCRIPTS:
        plan = make_plan(demo(name))
        points = below = under = rising = 0
        off = 0.0
        for key in plan.inflow:
            series = plan.layout.take(plan.simulate(key, follow=plan.layout.follow))
            column = dict(zip(plan.layout.columns, series.values.astype(float), strict=True))
            for id_, link in plan.network.links.items():
                if not isinstance(link, Conduit):
                    continue
                water, energy = plan.layout.profile(id_, series.values[plan.layout.profile_columns(id_)])
                bed = plan.layout.profiles.bed(id_)[:, None]
                for row, end in ((1, "head"), (-2, "foot")):
                    off = max(off, float(np.abs(water[row] - np.maximum(column[f"{end}:{id_}"], bed[row])).max()))
                points += water.size
                below += int((water < bed).sum())
                under += int((energy < water).sum())
                runs = (column[f"into:{id_}"] > STILL) & (column[f"flow:{id_}"] > STILL)
                rising += int((np.diff(energy, axis=0)[:, runs] > 1e-12).sum())
        out.append(f"| {name} | {len(plan.inflow)} | {points:,} | {off * 1e3:.4f} | {below} | {under} | {rising} |")
    out += [
        "",
        "One pipe of 50 m (D 300, n 0.013) to an outfall, 20 L/s. Critical depth by the textbook (Q²B = gA³).",
        "",
        "| tail water | 1 in | drawn at the outfall, mm | expected, mm | velocity head drawn − V²/2g, mm at most |",
        "|---|---|---|---|---|",
    ]
    least = critical_depth(0.02, 0.3)
    for tail, gradient, expected, shown in (
        ({"kind": "free"}, 0.001, least, "free"),
        ({"kind": "fixed", "level": 10.2}, 0.001, 0.25, "fixed, 0.25 m over the bed"),
        ({"kind": "fixed", "level": 5.0}, 0.001, least, "fixed, far below"),
    ):  # fmt: skip
        profiles, id_, water, energy, _, _ = steady_profile(one_pipe(tail, gradient=gradient), 0.02)
        depth = water - profiles.bed(id_)
        area, _ = circle(depth, 0.3)
        head = float(np.abs(energy - water - (0.02 / area) ** 2 / (2 * GRAVITY)).max())
        out.append(f"| {shown} | {1 / gradient:g} | {depth[-1] * 1e3:.1f} | {expected * 1e3:.1f} | {head * 1e3:.2f} |")
    return [*out, ""]


def never_more() -> list[str]:
    """Stores that fill quickly and slowly through a vortex control: the most that passes, against its curve."""
    out = [
        "## A control never passes more than its own curve",
        "",
        "A store that fills above the design head of a vortex control (general curve, to twice the design head) and "
        "empties again. The most that passes against the greatest flow of the curve up to the level that was reached.",
        "",
        "| store, m² | design, L/s | reached, m over the invert | curve at most, L/s | passed at most, L/s | more, % |",
        "|---|---|---|---|---|---|",
    ]
    for area in (2.0, 20.0, 200.0):
        for flow in (0.0005, 0.005):
            rows = [{"head": row.head, "flow": row.flow} for row in vortex_rows(1.0, flow)]
            net = network(
                {"t": tank(10.0, 14.0, area), "out": {"kind": "outfall", "invert": 9.0}},
                {"c": {"kind": "curve", "upstream": "t", "downstream": "out", "invert": 10.0, "rows": rows}},
            )  # fmt: skip
            filling = flow + 1.1 * area / 1800.0
            run = Run(net, {"t": [(0, filling), (1800, filling), (1801, 0), (7200, 0)]}, 7200.0, 10.0)
            reduction = Reduction(net, run.flat)
            figures = reduction.figures("s", run.result)
            reached = float(figures.level[reduction.nodes.index(identity("t"))]) - 10.0
            heads = np.linspace(0.0, reached, 20_001)
            most = float(np.interp(heads, [r["head"] for r in rows], [r["flow"] for r in rows]).max())
            passed = float(figures.flow[reduction.links.index(identity("c"))])
            more = (passed / most - 1.0) * 100.0
            out.append(
                f"| {area:g} | {flow * 1e3:g} | {reached:.3f} | {most * 1e3:.4f} | {passed * 1e3:.4f} | {more:+.4f} |"
            )
    return [*out, ""]


def rims() -> list[str]:
    """Ponds on sloping ground: the volume that counts, where they spill, and what floods."""
    out = [
        "## A pond spills over the lowest ground on its rim",
        "",
        "A pond of 20 × 10 m with upright sides, base 10 m, bank 12 m; an hour of 0.1 m³/s, nothing leaves but over "
        "the rim, and what spills is lost. 200 m² for each metre up to where it spills; the rest floods.",
        "",
        "| lowest ground, m | volume expected, m³ | volume, m³ | flooded expected, m³ | flooded, m³ | top water, m |",
        "|---|---|---|---|---|---|",
    ]
    for ground in (None, 11.5, 11.0):
        upright = pond(side_slope=0.0, rim_ground=ground, flooding="lost", ponded_area=200.0, ponded_side_slope=0.0)
        spills = 12.0 if ground is None else ground
        expected = 200.0 * (spills - 10.0)
        away = {"kind": "outfall", "name": "O", "x": 90.0, "y": 0.0, "invert": 5.0}
        weir = {"kind": "weir", "name": "W", "upstream": POND, "downstream": identity("out"), "crest": 11.99,
                "length": 0.001}  # fmt: skip
        net = Network.model_validate({"nodes": {POND: upright, identity("out"): away}, "links": {identity("w"): weir}})
        flat = flatten(net)
        inflow = Inflow(np.array([0.0, 3600.0]), np.array([[0.1], [0.1]]), [POND], np.zeros(1))
        reduction = Reduction(net, flat)
        figures = reduction.figures("s", simulate(flat, inflow, until=3600.0))
        k = reduction.nodes.index(POND)
        out.append(
            f"| {'–' if ground is None else ground} | {expected:.1f} | {volume(upright):.1f} "
            f"| {max(360.0 - expected, 0.0):.1f} | {figures.flooded[k]:.1f} | {figures.level[k]:.3f} |"
        )
    return [*out, ""]
