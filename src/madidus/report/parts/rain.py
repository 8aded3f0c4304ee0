"""Rainfall: its table or formula, what is done to its depths, and the shapes of its storms."""

import numpy as np

from ...core.model.report import Rainfall
from ...core.quantities import Quantity, said
from ...core.rainfall.methods import RainfallBase
from ...core.rainfall.storms import Storm
from ..blocks import Block, Column, Columns, Picture, Subheading, Table, Text
from ..drawing.graph import Axis, Line, graph_svg
from ..reported import Reported
from ..words import rain_in_words

__all__ = ["rainfall"]

_WIDE, _HIGH = 84.0, 44.0  # mm
_MOST = 24  # shapes that are drawn


def rainfall(of: Reported, part: Rainfall) -> list[Block]:
    """Depths by duration and return period as they are used, their source, allowances, areal factors and shapes."""
    rain = of.project.rain
    blocks: list[Block] = [Text(" ".join(rain_in_words(of.project)))]
    if rain.rainfall is None:
        blocks.append(Text("The project has no rainfall of its own.", "strong"))
    else:
        blocks += _source(rain.rainfall, "")
    for further in rain.further:
        if further.rainfall is not None:
            blocks += _source(further.rainfall, f" of {further.name}")
    blocks.append(_ensemble(of))
    if rain.areal is not None and (typed := rain.areal.typed()):
        blocks.append(Table("Areal reduction", [Column("Duration", "min"), "Areal over point depth"],
                            [[row.duration, row.factor] for row in typed]))  # fmt: skip
    if part.shapes:
        blocks += _shapes(of)
    return blocks


def _source(rainfall: RainfallBase, tail: str) -> list[Block]:
    blocks: list[Block] = []
    if basis := rainfall.basis():
        columns: Columns = [Column(*column) for column in basis.columns]
        blocks += [Text(basis.said), Table(f"{basis.title}{tail}", columns, basis.rows)]
    durations, periods, depths = rainfall.sampled()
    heads: Columns = [Column("Duration", "min"), *(Column(f"{period:g} yr", "mm") for period in periods)]
    rows = [[duration, *("" if row[k] is None else row[k] for row in depths)] for k, duration in enumerate(durations)]
    blocks.append(Table(f"Point depths by duration and return period{tail}", heads, rows))
    return blocks


def _ensemble(of: Reported) -> Table:
    """Which storms were made: by return period, their durations and seasons or patterns."""
    rows = []
    for row in dict.fromkeys(storm.row for storm in of.plan.storms):
        own = [storm for storm in of.plan.storms if storm.row == row]
        durations = sorted({storm.duration for storm in own})
        patterns = len({storm.season for storm in own if storm.pattern})
        ways = f"{patterns} patterns" if patterns else ", ".join(dict.fromkeys(storm.season for storm in own))
        rows.append([row, f"{own[0].allowance:.0%}", len(own), ", ".join(f"{d:g}" for d in durations), ways])
    return Table(
        "Storms that were made", ["Return period", "Allowance", "Storms", "Durations, min", "Seasons or patterns"], rows
    )


def _shapes(of: Reported) -> list[Block]:
    """One picture for each way in which rain falls: the storm of the middle duration stands for it."""
    kinds: dict[tuple[str, bool, str], list[Storm]] = {}
    for storm in of.plan.storms:
        kinds.setdefault((storm.season, storm.pattern, storm.given or storm.block), []).append(storm)
    blocks: list[Block] = [Subheading("Shapes of storms")]
    for (season, _, name), storms in list(kinds.items())[:_MOST]:
        storm = sorted(storms, key=lambda s: s.duration)[len(storms) // 2]
        title = of.units.words(said(f"{name or season}: {storm.label}, ", Quantity(storm.depth, "mm", 1)))
        figure, unit = of.units.figure(1.0, "mm")
        svg = graph_svg(
            _WIDE, _HIGH, Axis("time, min"), Axis(f"intensity, {unit}/h", from_zero=True),
            [Line("", np.asarray(storm.times) / 60.0, np.asarray(storm.intensity) * figure, steps=True)], title=title,
        )  # fmt: skip
        blocks.append(Picture(svg, _WIDE, _HIGH, title))
    if len(kinds) > _MOST:
        blocks.append(Text(f"{len(kinds) - _MOST} more shapes are not drawn.", "quiet"))
    return blocks
