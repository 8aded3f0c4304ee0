"""Workbook, maps, drawings and archive, opened by readers that had no part in writing them."""

import csv
import hashlib
import io
import json
import sqlite3
import zipfile

import ezdxf
import numpy as np
import openpyxl
import pyogrio
import pytest
from ezdxf import recover

from madidus.core.errors import ModelError
from madidus.core.quantities import Quantity, said
from madidus.report.blocks import CLOCK, Column
from madidus.report.cad import results_dxf
from madidus.report.files import FILES, everything, plain_name
from madidus.report.maps import features_of, results_geojson, results_geopackage, results_kml, results_style
from madidus.report.raster import check_picture
from madidus.report.results import _spread_of
from madidus.report.typeset import _shown
from madidus.report.workbook import workbook
from tests.core.searched import ORIFICE, TANK, tank_project

from .made import reported, tank_run


def placed(of, grid="EPSG:32631"):
    """The same in a named grid, at a place that it knows."""
    network = of.project.option.network
    moved = {id_: n.model_copy(update={"x": 500_000.0 + 30.0 * k, "y": 5_500_000.0})
             for k, (id_, n) in enumerate(network.nodes.items())}  # fmt: skip
    option = of.project.option.model_copy(update={"network": network.model_copy(update={"nodes": moved})})
    project = of.project.model_copy(update={"grid": grid, "options": {of.project.in_view: option}})
    return reported(project)


@pytest.fixture(scope="module")
def book():
    return openpyxl.load_workbook(io.BytesIO(workbook(tank_run(), [TANK, ORIFICE])))


def test_the_workbook_has_numbers_with_formats_headings_that_stay_and_filters(book):
    sheet = book["Conduits"]
    heads = [cell.value for cell in sheet[1]]
    length = sheet.cell(2, heads.index("Length m") + 1)
    assert length.value == 20.0
    assert length.number_format == "0.000"
    assert length.data_type == "n"
    for one in book.worksheets:
        assert one.freeze_panes == "B2"
        assert one.auto_filter.ref or one.max_row == 1
        assert one.print_title_rows == "$1:$1"
        assert one.page_setup.orientation == "landscape"
        assert one.page_setup.fitToHeight == 0
    assert tank_run().fingerprint[:12] in book["Verdicts"].oddFooter.left.text


def test_names_of_columns_lead_to_their_cells(book):
    name = book.defined_names["Conduits.Length_m"]
    ((title, cells),) = list(name.destinations)
    values = [cell.value for row in book[title][cells] for cell in (row if isinstance(row, tuple) else (row,))] if ":" in cells \
        else [book[title][cells].value]  # fmt: skip
    assert values == [20.0]
    assert len({name.casefold() for name in book.defined_names}) == len(book.defined_names)


def test_statistics_and_series_are_those_of_the_run(book):
    of = tank_run()
    heads, *rows = book["Statistics of levels"].values
    own = [dict(zip(heads, row, strict=True)) for row in rows if row[0] == "tank T"]
    at = of.plan.nodes.index(TANK)
    for row in own:
        peaks = [f.level[at] for s in of.plan.storms if s.duration == row["Duration min"] for f in [of.figures[s.key]]]
        assert row["Greatest m"] == pytest.approx(max(peaks))
        assert row["Mean m"] == pytest.approx(sum(peaks) / len(peaks))
    heads, *rows = book["Series tank T"].values
    level = [row[heads.index("level m")] for row in rows if row[heads.index("level m")] not in (None, "")]
    governing = next(v.storm for v in of.verdicts if v.storm)
    assert max(level) == pytest.approx(of.figures[governing].level[at], abs=0.01)


def test_moments_are_read_as_on_a_clock_and_storms_in_words(book):
    of = tank_run()
    row = next(iter(of.rows))
    heads, *rows = book[f"Storage {row}"].values
    (tank,) = [dict(zip(heads, values, strict=True)) for values in rows]
    own = of.elements(row).stores[TANK]
    assert tank["At"].total_seconds() == pytest.approx(own.time, abs=1.0)
    assert book[f"Storage {row}"].cell(2, heads.index("At") + 1).number_format == "[hh]:mm:ss"
    heads, *rows = book["Verdicts"].values
    labels = {s.key: s.label for s in of.plan.storms}
    assert labels.keys().isdisjoint(labels.values())
    assert [r[heads.index("Governing storm")] for r in rows] == [labels.get(v.storm or "") for v in of.verdicts]


@pytest.mark.parametrize(
    ("seconds", "shown"), [(29.0, "00:00"), (31.0, "00:01"), (3599.0, "01:00"), (93_900.0, "26:05")]
)
def test_a_moment_is_rounded_to_its_minute(seconds, shown):
    assert _shown(seconds, Column("At", CLOCK)) == shown


@pytest.mark.parametrize(
    ("value", "shown"),
    [
        (0.0376, "0.04"),
        (0.06, "0.1"),
        (0.04, "0.04"),
        (0.00061, "0.0006"),
        (9e-5, "0.0"),
        (0.0, "0.0"),
        (12.34, "12.3"),
    ],
)
def test_a_flood_is_told_alike_in_a_sentence_a_table_and_beside_a_rule(value, shown):
    of = tank_run()
    assert _shown(value, Column("Flooded", "m³")) == shown
    assert str(said(Quantity(value, "m³", 1))) == f"{shown} m³"
    assert of.volume(value) == (f"{shown} m³" if value == 0.0 or value > 1e-4 else "under 0.0001 m³")


def test_only_volumes_tell_their_first_figure():
    assert _shown(0.0004, Column("Level", "m")) == "0.000"


def test_the_spread_of_peaks_is_mean_median_least_quartiles_and_greatest():
    found = _spread_of(np.array([[1.0, 4.0], [2.0, 4.0], [6.0, 4.0]]))
    assert found[:, 0].tolist() == [3.0, 2.0, 1.0, 1.5, 4.0, 6.0]
    assert found[:, 1].tolist() == [4.0] * 6


def test_maps_are_read_by_gdal_with_states_and_peaks(tmp_path):
    of = placed(tank_run())
    states = {one.id: one.state for one in features_of(of)}
    at = of.plan.nodes.index(TANK)
    highest = max(f.level[at] for f in of.figures.values())
    (tmp_path / "r.gpkg").write_bytes(results_geopackage(of))
    assert {name for name, _ in pyogrio.list_layers(tmp_path / "r.gpkg")} == {"nodes", "links"}
    meta, _, _, columns = pyogrio.raw.read(tmp_path / "r.gpkg", layer="nodes")
    table = dict(zip(meta["fields"], columns, strict=True))
    assert meta["crs"] == "EPSG:32631"
    assert dict(zip(table["id"], table["state"], strict=True)) == {
        id_: state for id_, state in states.items() if id_ in of.plan.nodes
    }
    tank = list(table["id"]).index(TANK)
    assert table["level_30_yr_m"][tank] == pytest.approx(highest)
    assert table["storm_30_yr"][tank].startswith("30 yr, ")
    with sqlite3.connect(tmp_path / "r.gpkg") as base:
        assert base.execute("SELECT count(*) FROM gpkg_contents").fetchone() == (2,)
    (tmp_path / "r.geojson").write_bytes(results_geojson(of))
    meta, _, shapes, columns = pyogrio.raw.read(tmp_path / "r.geojson")
    assert len(shapes) == len(of.plan.nodes) + len(of.plan.links)
    told = json.loads(results_geojson(of))
    lon, lat = told["features"][0]["geometry"]["coordinates"]
    assert 2.9 < lon < 3.1
    assert 49 < lat < 50
    (tmp_path / "r.kml").write_bytes(results_kml(of))
    assert {name for name, _ in pyogrio.list_layers(tmp_path / "r.kml")} >= {"Nodes", "Links"}
    text = results_kml(of).decode()
    assert "#surcharged" in text or "#ok" in text
    assert "<table>" not in text  # the legend is text of the description, not markup of the file


def test_a_local_grid_has_no_place_on_earth():
    of = tank_run()
    with pytest.raises(ModelError, match="local"):
        results_kml(of)
    assert json.loads(results_geojson(of))["grid"].startswith("local")
    assert FILES["results.kml"].grid


def test_the_style_has_a_rule_for_every_state():
    text = results_style().decode()
    for state in ("flooded", "flood risk", "surcharged", "ok", "not judged"):
        assert text.count(f">{state}</ogc:Literal>") == 3


def test_the_drawing_has_layers_by_state_and_blocks_with_attributes(tmp_path):
    of = tank_run()
    (tmp_path / "r.dxf").write_bytes(results_dxf(of))
    document, audit = recover.readfile(tmp_path / "r.dxf")
    assert not audit.errors
    states = {one.id: one for one in features_of(of)}
    space = document.modelspace()
    blocks = {b.get_attrib_text("NAME"): b for b in space.query("INSERT")}
    tank = blocks["T"]
    assert tank.dxf.layer == f"NODES {states[TANK].state.upper()}"
    assert float(tank.get_attrib_text("LEVEL")) == pytest.approx(states[TANK].fields["level_30_yr_m"], abs=1e-3)
    assert tank.get_attrib_text("STORM").startswith("30 yr")
    assert len(space.query("LINE[layer=='SECTION']")) > 2
    assert ezdxf.options is not None


def test_everything_comes_with_a_manifest_of_hashes():
    of = tank_run()
    wanted = ["report.pdf", "workbook.xlsx", "results.geojson", "results.kml", "schedules.zip", "madidus.json"]
    content = everything(of.project, of.fingerprint, of, wanted)
    assert everything(of.project, of.fingerprint, of, wanted) == content
    archive = zipfile.ZipFile(io.BytesIO(content))
    manifest = json.loads(archive.read("manifest.json"))
    assert manifest["inputs"] == of.fingerprint
    assert manifest["left out"] == {"results.kml": "needs a named coordinate system"}
    assert set(manifest["files"]) == set(archive.namelist()) - {"manifest.json"}
    for name, told in manifest["files"].items():
        assert hashlib.sha256(archive.read(name)).hexdigest() == told["sha256"]
    inner = zipfile.ZipFile(io.BytesIO(archive.read("a_tank.schedules.zip")))
    heads, *rows = csv.reader(io.TextIOWrapper(inner.open("conduits.csv"), "utf-8"))
    assert rows[0][heads.index("Length m")] == "20.0"


def test_what_is_not_whole_is_marked_in_every_file_of_results():
    none = reported(tank_project(), run=False)
    assert plain_name(none.project.name, none.missing).endswith("-incomplete")
    assert FILES["peaks.csv"].made(none.project, none).startswith(b"# INCOMPLETE: 0 of 6 storms are in\n")
    assert FILES["statistics.csv"].made(none.project, none).startswith(b"# INCOMPLETE")
    assert json.loads(results_geojson(none))["incomplete"] == "0 of 6 storms are in"
    assert {one["properties"]["state"] for one in json.loads(results_geojson(none))["features"]} == {"not judged"}
    book = openpyxl.load_workbook(io.BytesIO(workbook(none)))
    assert all(sheet["A1"].value == "INCOMPLETE: 0 of 6 storms are in" for sheet in book.worksheets)
    assert json.loads(
        zipfile.ZipFile(io.BytesIO(everything(none.project, "", none, ["peaks.csv"]))).read("manifest.json")
    )["incomplete"]


def test_a_logo_that_is_no_picture_is_refused():
    for content in (b"", b"<svg/>", b"\x89PNG\r\n\x1a\nbroken", b"GIF89a"):
        with pytest.raises(ModelError, match="picture"):
            check_picture(content)
    with pytest.raises(ModelError, match="larger"):
        check_picture(b"\x89PNG" + bytes(5 * 2**20))


def test_a_geopackage_of_a_local_grid_says_so(tmp_path, recwarn):
    (tmp_path / "r.gpkg").write_bytes(results_geopackage(tank_run()))
    meta, *_ = pyogrio.raw.read(tmp_path / "r.gpkg", layer="links")
    assert "local" in (meta["crs"] or "")
    assert not [w for w in recwarn if "crs" in str(w.message)]
