"""Every file that is handed over: what it is called, what it holds and what writes it; and all of them as one."""

import csv
import hashlib
import io
import json
import re
import zipfile
from collections.abc import Callable, Collection
from dataclasses import dataclass
from typing import Any

import pyarrow as pa
import pyarrow.compute
import pyarrow.csv

from ..core.hydraulics.version import SOLVER
from ..core.model.project import Project
from ..core.quantities import Units
from ..exchange.formats import WRITERS
from .blocks import Table, in_units
from .cad import results_dxf
from .document import report_pdf
from .maps import results_geojson, results_geopackage, results_kml, results_style
from .peaks import peaks_table
from .reported import Reported
from .results import statistics_tables
from .schedules import SCHEDULES, ids_in_flow_order, schedule
from .workbook import workbook

__all__ = ["FILES", "Delivered", "everything", "of_results", "plain_name"]

Step = Callable[[str, float], None]
"""Told what is being done and which share of the whole is done."""

_EPOCH = (1980, 1, 1, 0, 0, 0)  # of every entry: the same contents give the same archive
_SHEET = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@dataclass(frozen=True)
class Delivered:
    """A file. write : makes it of an option with its results, inputs : of the inputs alone; one of both is there.

    grid : it needs a named coordinate system.
    """

    title: str
    holds: str
    media: str
    write: Callable[[Reported], bytes] | None = None
    inputs: Callable[[Project], bytes] | None = None
    grid: bool = False

    def made(self, project: Project, of: Reported | None) -> bytes:
        """The file. of : the project with its results, where it tells of any."""
        if self.inputs is not None:
            return self.inputs(project)
        assert self.write is not None
        assert of is not None
        return self.write(of)


def _marked(of: Reported) -> bytes:
    return f"# {of.banner}\n".encode() if of.missing else b""


def _peaks(of: Reported) -> bytes:
    table = peaks_table(of.plan.network, of.figures, of.only)
    # a name must not begin a formula in a spreadsheet
    safe = pa.compute.replace_substring_regex(table.column("name"), r"^([=+@-])", r"'\1")
    content = io.BytesIO()
    content.write(_marked(of))
    pa.csv.write_csv(table.set_column(table.column_names.index("name"), "name", safe), content)
    return content.getvalue()


def _rows(tables: Collection[Table], units: Units) -> bytes:
    content = io.StringIO()
    writer = csv.writer(content)
    for table in (in_units(one, units) for one in tables):
        writer.writerow(table.header)
        writer.writerows([_plain(value) for value in row] for row in table.rows)
    return content.getvalue().encode()


def _plain(value: Any) -> Any:
    """A text must not begin a formula in a spreadsheet."""
    return re.sub(r"^([=+@-])", r"'\1", value) if isinstance(value, str) else value


def _statistics(of: Reported) -> bytes:
    return _marked(of) + _rows(statistics_tables(of), of.units)


def _schedules(project: Project) -> bytes:
    content, (nodes, links) = io.BytesIO(), ids_in_flow_order(project.option.network)
    with zipfile.ZipFile(content, "w", zipfile.ZIP_DEFLATED) as archive:
        for kind in SCHEDULES:
            table = schedule(project, kind, nodes, links)
            if table.rows:
                units = Units(project.units, project.flow_unit)
                archive.writestr(zipfile.ZipInfo(f"{kind}.csv", _EPOCH), _rows([table], units))
    return content.getvalue()


def _project(project: Project) -> bytes:
    return json.dumps(project.model_dump(mode="json"), indent=1, ensure_ascii=False).encode()


def _of_network(ending: str, title: str, holds: str, grid: bool = False) -> Delivered:
    media, write = WRITERS[ending]
    return Delivered(title, holds, media, inputs=lambda project: write(project.option.network, project), grid=grid)


FILES: dict[str, Delivered] = {
    "report.pdf": Delivered("Report", "the parts of the layout, page by page", "application/pdf",
                         lambda of: report_pdf(of).content),
    "workbook.xlsx": Delivered("Workbook", "a sheet for each schedule and result, statistics, series over time",
                            _SHEET, lambda of: workbook(of, _followed(of))),
    "results.kml": Delivered("Globe", "elements coloured by state, with their peaks in balloons",
                          "application/vnd.google-earth.kml+xml", results_kml, grid=True),
    "results.geojson": Delivered("Map", "elements with peaks, governing storms and states by return period",
                              "application/geo+json", results_geojson),
    "results.gpkg": Delivered("GeoPackage", "the same as layers of nodes, links and catchments",
                           "application/geopackage+sqlite3", results_geopackage),
    "style.sld": Delivered("Style", "colours and dashes by state, for the map and the GeoPackage",
                        "application/vnd.ogc.sld+xml", inputs=lambda _: results_style()),
    "results.dxf": Delivered("Drawing of results", "plan by layers of states, blocks with attributes, long section",
                          "image/vnd.dxf", results_dxf),
    "peaks.csv": Delivered("Peaks", "one row for each storm and element, in m, m³/s and s: for statistics elsewhere",
                        "text/csv", _peaks),
    "statistics.csv": Delivered("Statistics",
                             "mean, median, quartiles, extremes of peaks by return period and duration",
                             "text/csv", _statistics),
    "schedules.zip": Delivered("Schedules", "a CSV for each schedule", "application/zip", inputs=_schedules),
    "network.xml": _of_network(".xml", "LandXML", "structures, pipes, parcels; goes back to the designer by name"),
    "network.dxf": _of_network(".dxf", "Drawing", "pipes as 3D lines at their inverts, nodes as blocks, outlines"),
    "network.geojson": _of_network(".geojson", "GeoJSON", "nodes, links and catchments with every field"),
    "network.xlsx": _of_network(".xlsx", "Tables", "a sheet for each kind with every field; imported as it stands"),
    "network.kml": _of_network(".kml", "Globe, network", "elements in degrees for map viewers", grid=True),
    "madidus.json": Delivered("Project", "all inputs; opens anywhere", "application/json", inputs=_project),
}  # fmt: skip
"""Files by the name that they end in, in the order in which they are offered."""


def _followed(of: Reported) -> list[str]:
    """Elements whose series stand in the workbook: those selected, or stores and outfalls."""
    if of.only is not None:
        return [id_ for id_ in (*of.nodes, *of.links)][:40]
    network = of.plan.network
    return [id_ for id_ in of.nodes if network.nodes[id_].kind in ("storage", "basin", "stone", "outfall")][:40]


def plain_name(name: str, missing: str, number: str = "") -> str:
    """What a file begins with: small letters, digits, - and _; incomplete where storms are not in.

    number : of an issue. Where its text does not stay as it is, letters of its digest follow, so that "2026/014" and
    "2026.014" are two files.
    """
    tail = f"_{_letters(number)}" if number else ""
    if _letters(number) != number.lower().replace(" ", "_"):
        tail += f"-{hashlib.sha256(number.encode()).hexdigest()[:6]}"
    return _letters(name)[:60] + tail + ("-incomplete" if missing else "")


def _letters(text: str) -> str:
    return "".join(c if c.isascii() and (c.isalnum() or c in "-_") else "_" for c in text.lower())


def everything(
    project: Project, fingerprint: str, of: Reported | None, names: Collection[str], step: Step = lambda _, __: None
) -> bytes:
    """Chosen files in one archive, with a manifest of their SHA-256 and of what they were made from.

    of : the project with its results; None where no chosen file tells of any. A file that cannot be written is named
    in the manifest, with why; the others are there.
    """
    content, manifest, problems = io.BytesIO(), {}, {}
    missing = of.missing if of else ""
    base = plain_name(project.name, missing)
    chosen = [name for name in FILES if name in names]
    with zipfile.ZipFile(content, "w", zipfile.ZIP_DEFLATED) as archive:
        for k, name in enumerate(chosen):
            one = FILES[name]
            step(one.title, k / len(chosen))
            if one.grid and project.grid is None:
                problems[name] = "needs a named coordinate system"
                continue
            written = one.made(project, of)
            archive.writestr(zipfile.ZipInfo(f"{base}.{name}", _EPOCH), written, zipfile.ZIP_DEFLATED)
            manifest[f"{base}.{name}"] = {"sha256": hashlib.sha256(written).hexdigest(), "bytes": len(written)}
        told = {
            "project": project.name, "option": project.option.name, "inputs": fingerprint, "solver": SOLVER,
            "incomplete": missing, "files": manifest, "left out": problems,
        }  # fmt: skip
        archive.writestr(zipfile.ZipInfo("manifest.json", _EPOCH), json.dumps(told, indent=1, ensure_ascii=False))
    return content.getvalue()


def of_results(names: Collection[str]) -> bool:
    """Whether one of the files tells of results."""
    return any(FILES[name].write is not None for name in names if name in FILES)
