"""Reduction of runs to figures, held against a plain reading of the solver's arrays."""

import numpy as np
import pytest

from madidus.core.elements import Outfall, Pipe
from madidus.core.ensemble import make_plan
from madidus.core.hydraulics.recorder import OSCILLATION, STEADY, TOP
from madidus.core.hydraulics.simulate import simulate
from madidus.core.model import parse_project


@pytest.fixture(scope="module")
def reduced(demo_document):
    plan = make_plan(parse_project(demo_document))
    storm = next(s for s in plan.storms if s.key == "100+40-30-winter")
    run = simulate(plan.flat, plan.inflow[storm.key])
    return plan, run, plan.reduction.figures(storm.key, run)


def test_levels_and_outflows_stand_at_their_elements(reduced):
    plan, run, figures = reduced
    for i, id_ in enumerate(plan.nodes):
        row = plan.flat.node_row[id_]
        if isinstance(plan.network.nodes[id_], Outfall):
            assert np.isnan(figures.level[i])
            pipe = next(k for k, link in plan.network.links.items() if link.downstream == id_)
            assert figures.outflow[i] == run.peaks.flow.steady[plan.flat.pipe_faces[pipe][1]]
        else:
            assert figures.level[i] == run.peaks.level.steady[row]
            assert np.isnan(figures.outflow[i])


def test_spare_is_the_least_gap_under_the_soffit(reduced):
    plan, run, figures = reduced
    level = run.peaks.level.steady
    for i, id_ in enumerate(plan.links):
        link = plan.network.links[id_]
        if not isinstance(link, Pipe):
            assert np.isnan(figures.clearance[i])
            continue
        cells = plan.flat.pipe_rows[id_]
        gaps = []
        for j, row in enumerate(cells):
            part = (j + 0.5) / len(cells)
            bed = link.upstream_invert + part * (link.downstream_invert - link.upstream_invert)
            gaps.append(bed + link.section.height - level[row])
        for node, invert in ((link.upstream, link.upstream_invert), (link.downstream, link.downstream_invert)):
            if not isinstance(plan.network.nodes[node], Outfall):
                gaps.append(invert + link.section.height - level[plan.flat.node_row[node]])
        assert figures.clearance[i] == pytest.approx(min(gaps), abs=1e-12)
        first, last = plan.flat.pipe_faces[id_]
        assert figures.speed[i] == run.peaks.speed[first : last + 1].max()


def test_flood_volume_is_what_stands_above_cover(reduced):
    plan, _, figures = reduced
    flooded = [(i, id_) for i, id_ in enumerate(plan.nodes) if figures.flooded[i] > 0.0]
    assert flooded, "the demo floods somewhere in its worst half hour"
    for i, id_ in flooded:
        node = plan.network.nodes[id_]
        assert figures.level[i] > node.cover
        depth = figures.level[i] - node.cover
        # the surface widens over the first tenth of a metre: the volume lies between the shaft's and the pond's
        assert depth * node.plan_area * 0.99 <= figures.flooded[i] <= depth * node.ponded_area * 1.01


def test_a_conduit_sways_as_far_as_its_peak_does_and_a_node_whatever_its_peak(reduced):
    plan, run, _ = reduced
    track, node = run.peaks.level.row, next(iter(plan.flat.node_row.values()))
    conduit = next(iter(plan.flat.pipe_rows.values()))[0]
    kept = track.copy()

    def found(row, sways, above):
        track[:] = kept
        track[OSCILLATION] = 0.0
        track[OSCILLATION, row], track[TOP, row] = sways, track[STEADY, row] + above
        summary = plan.reduction.figures("x", run).summary
        track[:] = kept
        return summary["oscillation"], summary["oscillation_row"]

    assert found(conduit, 0.05, 0.0)[0] == 0.0
    assert found(conduit, 0.05, 0.03) == (pytest.approx(0.03), conduit)
    assert found(conduit, 0.02, 0.03) == (pytest.approx(0.02), conduit)
    assert found(node, 0.05, 0.0) == (pytest.approx(0.05), node)
