"""Plans and sections on paper: measured on the printed page, and on the sheets that they are cut into."""

import dataclasses
import hashlib
import io
import itertools
import re
import subprocess
from xml.etree import ElementTree

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from madidus.core.model.report import (
    Composed,
    KeptViews,
    LongSections,
    PlanDrawing,
    PlanSheets,
    SectionDrawing,
    SheetItem,
)
from madidus.core.model.saved import Extent, SavedView
from madidus.core.model.sizing import Crossing
from madidus.report.document import report_pdf, sheet_pdf
from madidus.report.drawing.canvas import Canvas, Labels
from madidus.report.drawing.graph import Axis, Line, graph_svg
from madidus.report.drawing.plan import fitting_scale, view_of
from madidus.report.drawing.section import course_between
from madidus.report.parts.composed import sheet_drawn
from madidus.report.parts.drawings import plan_drawn, section_drawn, views
from tests.core.searched import tank_project

from .made import pipe_project, reported, tank_run
from .test_report import with_layout

SVG = "{http://www.w3.org/2000/svg}"
DOTS = 600 / 25.4  # for a mm


def printed(content, folder, page=1):
    """A page as poppler draws it, by grey."""
    (folder / "r.pdf").write_bytes(content)
    command = ["pdftoppm", "-r", "600", "-gray", "-f", str(page), "-l", str(page), "-png", "-singlefile", "r.pdf", "r"]
    subprocess.run(command, cwd=folder, check=True)
    Image.MAX_IMAGE_PIXELS = None
    return np.asarray(Image.open(folder / "r.png"))


def lines_of(svg, tag="polyline"):
    root = ElementTree.fromstring(svg)
    for one in root.iter(f"{SVG}{tag}"):
        yield one, [tuple(map(float, pair.split(","))) for pair in one.get("points").split()]


def texts_of(svg):
    return [one.text or "" for one in ElementTree.fromstring(svg).iter(f"{SVG}text")]


@pytest.mark.parametrize(("scale", "length"), [(500, 100.0), (1000, 200.0), (200, 50.0)])
def test_a_hundred_metres_are_a_hundred_metres_on_the_printed_page(tmp_path, scale, length):
    drawing = PlanDrawing(scale=scale, theme="plain", background=False, grid=False)
    of = with_layout(reported(pipe_project(length)), PlanSheets(drawing=drawing))
    page = printed(report_pdf(of).content, tmp_path)
    # the pipe lies east to west in the middle of the sheet: both manholes' rings are the first and last ink of its row
    svg = plan_drawn(of, of.layout.parts[0])[0].svg
    (pipe,) = {points[0][1] for _, points in lines_of(svg) if len(points) == 2 and points[0][1] == points[1][1]
               and abs(abs(points[1][0] - points[0][0]) - length * 1000 / scale) < 0.01}  # fmt: skip
    row = page[round(pipe * DOTS), round(15 * DOTS) : -round(15 * DOTS)]
    ink = np.nonzero(row < 160)[0]
    rings = 2 * (1.15 + 0.15)  # radius and half the stroke of both
    assert (ink[-1] - ink[0] + 1) / DOTS - rings == pytest.approx(length * 1000 / scale, abs=0.2)


def test_a_section_s_scales_are_those_that_it_states():
    drawing = SectionDrawing(along=500, up=100)
    of = reported(pipe_project(100.0))
    (sheet,) = section_drawn(of, LongSections(drawing=drawing))
    corners = next(p for _, p in lines_of(sheet.svg, "polygon") if p[1][0] - p[0][0] == pytest.approx(200.0, abs=1e-3))
    assert corners[1][1] - corners[0][1] == pytest.approx(10.0, abs=1e-3)  # a metre of fall
    assert corners[0][1] - corners[3][1] == pytest.approx(3.0, abs=1e-3)  # 0.3 m of pipe
    said = texts_of(sheet.svg)
    assert "1 : 500" in said
    assert "1 : 100" in said
    assert {"10.000", "9.000", "8.500", "0.00", "100.00", "120.00"} <= set(said)
    assert any("100.00 m, 1 : 100" in text for text in said)


def test_a_plan_that_needs_several_sheets_shows_every_node_and_joins():
    of = reported(pipe_project(400.0))
    sheets = plan_drawn(of, PlanSheets(paper="A4", drawing=PlanDrawing(scale=500)))
    assert len(sheets) > 1
    names = list(itertools.chain.from_iterable(texts_of(sheet.svg) for sheet in sheets))
    assert {"A", "B", "out"} <= set(names)
    joins = {k: {int(n) for text in texts_of(sheet.svg) for n in re.findall(r"joins sheet (\d+)", text)}
             for k, sheet in enumerate(sheets, start=1)}  # fmt: skip
    assert all(k in joins[other] for k, others in joins.items() for other in others)
    assert all(joins.values())


def test_a_long_section_goes_on_in_rows_that_join_at_marks():
    of = reported(pipe_project(400.0))
    sheets = section_drawn(of, LongSections(paper="A4", drawing=SectionDrawing(along=500, up=100)))
    said = [text for sheet in sheets for text in texts_of(sheet.svg)]
    marks = [text for text in said if re.fullmatch(r"[A-Z]", text) and text not in ("A", "B", "N")]
    assert said.count("joins at the mark") == len(sheets)
    assert len(sheets) * 2 > 2 or marks
    assert {"A", "B", "out"} <= set(said)
    assert sum("sheet" in text for text in said) == len(sheets)


def test_the_scale_that_fits_is_the_largest_that_does():
    view = view_of(pipe_project(400.0).option.network)
    assert fitting_scale(view, 380.0, 200.0) == 1250  # 400 m need 1 : 1053
    assert fitting_scale(view, 400.0, 200.0) == 1000
    assert fitting_scale(view, 399.9, 200.0) == 1250
    assert fitting_scale(view, 20.0, 20.0) == 20_000


def test_a_way_that_is_asked_for_is_found_and_one_against_the_water_is_none():
    network = tank_project().option.network
    ids = {node.name: id_ for id_, node in network.nodes.items()}
    course = course_between(network, ids["H"], ids["out"])
    assert [network.nodes[id_].name for id_ in course.nodes] == ["H", "T", "out"]
    assert course.chainage[1] == 20.0
    assert course_between(network, ids["T"], ids["H"]) is None
    assert course_between(network, ids["out"], None) is None
    assert course_between(network, None, ids["T"]).nodes[-1] == ids["T"]


def test_services_that_cross_stand_at_their_levels():
    project = pipe_project(100.0)
    pipe = next(id_ for id_, link in project.option.network.links.items() if link.name == "P1")
    crossing = Crossing(pipe=pipe, name="gas", chainage=40.0, bottom=10.5, top=10.9)
    sizing = project.sizing.model_copy(update={"crossings": [crossing]})
    of = reported(project.model_copy(update={"sizing": sizing}))
    (sheet,) = section_drawn(of, LongSections(drawing=SectionDrawing(along=500, up=50)))
    box = next(points for one, points in lines_of(sheet.svg, "polygon") if one.get("fill") == "url(#lean)"
               and points[2][1] - points[0][1] == pytest.approx(8.0))  # fmt: skip
    pipes = next(p for _, p in lines_of(sheet.svg, "polygon") if p[1][0] - p[0][0] == pytest.approx(200.0, abs=1e-3))
    assert (box[0][0] + box[1][0]) / 2 - pipes[0][0] == pytest.approx(80.0, abs=1e-3)
    assert pipes[0][1] - box[2][1] == pytest.approx(10.0, abs=1e-3)  # from the invert upstream to its underside
    assert "gas" in texts_of(sheet.svg)


def test_states_are_told_without_colour():
    of = tank_run()
    (sheet,) = plan_drawn(of, PlanSheets())
    said = texts_of(sheet.svg)
    assert any(text in ("within", "node", "pond or tank") for text in said)
    unseen = reported(tank_project(), run=False)
    (blank,) = plan_drawn(unseen, PlanSheets())
    assert "not judged" in texts_of(blank.svg)
    assert "?" in texts_of(blank.svg)
    assert "?" not in said


@given(st.lists(st.tuples(st.floats(5, 95), st.floats(5, 95), st.integers(1, 12)), max_size=40))
def test_labels_never_lie_on_each_other(places):
    canvas, labels = Canvas(100, 100), Labels((0, 0, 100, 100))
    boxes = []
    take = labels.take

    def noted(box):
        boxes.append(box)
        take(box)

    labels.take = noted
    placed = sum(labels.place(canvas, (x, y), ["M" * n], 2.0) for x, y, n in places)
    assert len(boxes) == placed
    assert placed + len(labels.left_out) == len(places)
    for a, b in itertools.combinations(boxes, 2):
        assert a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1]


def test_a_composed_sheet_shows_what_was_put_on_it():
    of = tank_run()
    sheet = Composed(name="mine", items=[
        SheetItem(x=12, y=12, wide=180, high=120, shows="plan", plan=PlanDrawing(scale=500)),
        SheetItem(x=200, y=12, wide=200, high=120, shows="section"),
        SheetItem(x=12, y=150, wide=200, high=60, shows="table", table="controls"),
        SheetItem(x=220, y=150, wide=60, high=12, shows="text", text="a note that is longer than its line and goes on " * 6),
        SheetItem(x=220, y=180, wide=60, high=20, shows="graph", graph="gone"),
    ])  # fmt: skip
    said = texts_of(sheet_drawn(of, sheet).svg)
    assert "1 : 500" in said
    assert any(text.startswith("30 yr") or "along 1 :" in text for text in said)
    assert "Controls" in said
    assert "▲ …" in said  # the note's end has no room, and says so
    assert "The graph “gone” is not kept." in said
    assert sheet_pdf(of, sheet)[:5] == b"%PDF-"


def test_a_graph_keeps_its_peak_however_many_points_it_has():
    x = np.arange(200_000.0)
    y = np.zeros_like(x)
    y[123_457] = 7.0
    svg = graph_svg(100, 60, Axis("x"), Axis("y"), [Line("", x, y)])
    points = max((points for _, points in lines_of(svg)), key=len)
    assert len(points) < 4000
    ys = [p[1] for p in points]
    assert max(ys) - min(ys) > 30.0


def test_a_plan_shows_what_the_screen_showed():
    of = reported(pipe_project(400.0))
    extent = Extent(x=1400.0, y=490.0, resolution=0.1)  # 90 m across
    (sheet,) = plan_drawn(of, PlanSheets(drawing=PlanDrawing(extent=extent)))
    said = texts_of(sheet.svg)
    assert "B" in said
    assert "A" not in said
    assert any(text.startswith("1 : ") and int(text[4:]) <= 400 for text in said)


def test_a_section_of_a_us_project_is_told_in_feet_and_inches():
    project = pipe_project(100.0).model_copy(update={"units": "us"})
    (sheet,) = section_drawn(reported(project), LongSections())
    said = texts_of(sheet.svg)
    assert "328.08" in said  # chainage
    assert any("11.81 in" in text or "Ø11.8" in text or "Ø12" in text for text in said)
    assert not any("300" in text and "Ø" in text for text in said)
    datum = next(text for text in said if text.startswith("datum"))
    assert datum.endswith(" ft")
    assert float(datum.split()[1]).is_integer()


def in_depth(of, **fields):
    """What the part of kept views says of one in 3D."""
    stored = io.BytesIO()
    Image.new("RGB", (300, 100), "teal").save(stored, "PNG")
    digest = hashlib.sha256(stored.getvalue()).hexdigest()
    drawn = {"file": digest, "inputs": of.fingerprint, "storm": "100 yr, 60 min", **fields.pop("picture", {})}
    view = SavedView.model_validate({
        "name": "south", "option": of.project.in_view, "stage": "network", "view": "3d", "moment": 4200.0,
        "picture": drawn, **fields,
    })  # fmt: skip
    project = of.project.model_copy(update={"saved_views": [view]})
    of = dataclasses.replace(of, project=project, file=lambda asked: stored.getvalue() if asked == digest else b"")
    return views(of, KeptViews())


def test_a_view_in_depth_is_printed_as_it_was_drawn_and_says_when_it_is_of_something_else():
    of = tank_run()
    heading, picture, said = in_depth(of)
    assert heading.text == "south"
    assert picture.wide / picture.high == pytest.approx(3.0)
    assert "data:image/png" in picture.svg
    assert said.text == "In 3D: 100 yr, 60 min, 1 h 10 min after it began."
    _, earlier, *_ = in_depth(of, picture={"inputs": "0" * 64})
    assert earlier.text.startswith("Of earlier inputs (000000000000)")
    _, other, *_ = in_depth(of, option="00000000-0000-4000-8000-00000000ffff")
    assert other.text.startswith("Of option that is gone, not of the one reported")
    _, lost = in_depth(of, picture={"file": "f" * 64})
    assert lost.text == "Its picture is not kept with the project."
    assert in_depth(of, picture={"storm": ""})[-1].text == "In 3D: without water."
    (none,) = in_depth(of, stage="rain")[:1]
    assert none.text == "No view of plan or 3D is kept."
