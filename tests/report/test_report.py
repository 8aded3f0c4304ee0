"""The report read back by a reader that has no part in writing it: words, marks, fonts, sizes; and what must not break it."""

import dataclasses
import io

import pypdf
import pytest

from madidus.core.errors import ModelError
from madidus.core.model.project import fingerprint
from madidus.core.model.report import (
    Changes,
    Cover,
    LongSections,
    PlanSheets,
    Quality,
    ReportLayout,
    Results,
    Schedules,
    Storms,
    Verdicts,
    starting_layouts,
)
from madidus.core.model.saved import Graph, Selection
from madidus.core.rainfall.rain import Rain
from madidus.report.document import Known, report_pdf
from madidus.report.files import plain_name
from madidus.report.issued import issue_number, issued_of
from madidus.report.reported import Before
from madidus.report.verify import verified
from madidus.report.words import rain_in_words
from tests.core.searched import HEAD, ORIFICE, TANK, tank_project

from .made import pipe_project, reported, tank_run


def with_layout(of, *parts, **fields):
    return dataclasses.replace(of, layout=ReportLayout(name="x", parts=list(parts), **fields))


def read(content):
    return pypdf.PdfReader(io.BytesIO(content))


def held(content, project, issues):
    return verified(content, project, fingerprint(project.model_dump(mode="json")), issues)


def words(content):
    return " ".join(" ".join(page.extract_text() for page in read(content).pages).split())


def test_every_part_says_what_is_checked():
    layout = starting_layouts()[0]
    for part in layout.parts:
        part.on = True
    of = tank_run()
    project = of.project.model_copy(update={
        "graphs": [Graph(name="tank", elements=[TANK], quantities=["level", "flow"])],
    })  # fmt: skip
    of = dataclasses.replace(of, layout=layout, project=project)
    said = words(report_pdf(of).content)
    for wanted in (
        "at most 12 L/s", "at least 0.300 m below bank",  # limits stand beside their margins
        "Outfalls", "free outfall", "Peak flow L/s", "Volume m³",
        "Coefficients", "1400", "Point depths by duration", "Shapes of storms",
        "Voids %", "Top area m²", "stage, area, volume", "orifice O: flow by head", "Infiltration",
        "Material", "Full L/s", "Manning n", "Time of entry min", "Creep %", "Drains to",
        "Velocity m/s", "State", "Continuity error", "Half-drain h",
        "Critical 30 yr", "lower to the upper quartile", "Figures beyond a stated limit",
        "Findings that are open", "tank: level", "14 March 2026", "Nothing was issued before",
    ):  # fmt: skip
        assert wanted in said, wanted


def test_the_same_gives_the_same_bytes_and_anything_else_others():
    of = tank_run()
    first = report_pdf(of).content
    assert report_pdf(of).content == first
    assert report_pdf(of, number="2").content != first
    other = reported(tank_project(size=0.09))
    assert report_pdf(other).content != first


def test_marks_fonts_language_tags_and_titles():
    content = report_pdf(with_layout(tank_run(), Cover(), Verdicts(), Schedules(heading="Tables of it"))).content
    pdf = read(content)
    titles = [mark.title for mark in pdf.outline if not isinstance(mark, list)]
    assert titles == ["a tank", "Brief and verdicts", "Tables of it"]
    root = pdf.trailer["/Root"]
    assert root["/MarkInfo"]["/Marked"]
    assert root["/Lang"].startswith("en")
    assert "pdfuaid" in pdf.metadata.get("/Creator", "") or b"pdfuaid" in content
    for page in pdf.pages:
        for font in page["/Resources"]["/Font"].values():
            own = font.get_object()
            below = own["/DescendantFonts"][0].get_object() if "/DescendantFonts" in own else own
            descriptor = below["/FontDescriptor"].get_object()
            assert any(key in descriptor for key in ("/FontFile", "/FontFile2", "/FontFile3"))


def test_the_table_of_contents_leads_to_pages():
    pdf = read(report_pdf(with_layout(tank_run(), Cover(), Verdicts(), Schedules())).content)
    links = [a.get_object() for a in pdf.pages[0].get("/Annots", [])]
    assert len([a for a in links if a["/Subtype"] == "/Link"]) >= 2


def test_every_page_bears_the_fingerprint_and_belongs_to_its_project_alone():
    of = tank_run()
    content = report_pdf(with_layout(of, Cover(), Verdicts(), PlanSheets(), LongSections(paper="A4"))).content
    for report in (content, report_pdf(of).content):  # on A3 as well
        found = held(report, of.project, [])
        assert (found.state, found.remarks) == ("not proven", ())
    assert held(content, tank_project(size=0.09), []).state == "foreign"
    foreign = report_pdf(with_layout(reported(pipe_project()), Cover())).content
    mixed = pypdf.PdfWriter(clone_from=io.BytesIO(content))
    mixed.append(io.BytesIO(foreign))
    stream = io.BytesIO()
    mixed.write(stream)
    told = held(stream.getvalue(), of.project, [])
    assert told.state == "differs"
    assert "bear another fingerprint" in told.remarks[0]


def painted(content):
    """The report with its first page painted over; every text and property stays."""
    changed = pypdf.PdfWriter(clone_from=io.BytesIO(content))
    over = changed.pages[0].get_contents()
    over.set_data(over.get_data() + b"\n1 1 1 rg 50 400 500 300 re f\n")
    stream = io.BytesIO()
    changed.write(stream)
    return stream.getvalue()


def flipped(content):
    """One byte of the file's last comment or trailer is another."""
    return content[:-3] + bytes([content[-3] ^ 1]) + content[-2:]


def test_only_the_issued_file_itself_is_the_issue():
    of = with_layout(tank_run(), Cover(), Verdicts())
    content = report_pdf(of, number="2026/014, first").content
    issues = [issued_of(of, "P0", b"another").sealed(), issued_of(of, "2026/014, first", content).sealed()]
    found = held(content, of.project, issues)
    assert (found.state, found.said) == ("issued", "It is issue 2026/014, first, byte for byte.")
    assert found.remarks == ()
    later = held(content, tank_project(size=0.09), issues)
    assert later.state == "superseded"
    assert later.said.endswith("the project has changed since.")
    for other in (painted(content), flipped(content)):
        told = held(other, of.project, issues)
        assert told.state == "differs"
        assert told.said == "It bears the number of issue 2026/014, first, and is not the issued file."
    draft = held(report_pdf(of).content, of.project, issues)
    assert (draft.state, draft.said) == (
        "differs", "It bears the fingerprint of issue P0, and is not the issued file.",
    )  # fmt: skip
    assert held(painted(content), of.project, []).state == "not proven"


@pytest.mark.parametrize("text", ["", " ", "P1\n", "a\u0000b", "\u202eP1", "x" * 41, " P1"])
def test_a_number_is_a_line_of_printable_text(text):
    with pytest.raises(ModelError, match="number"):
        issue_number(text)


@pytest.mark.parametrize("text", ["2026/014", ".", "..", "../x", "<b>", "№ 7", "P1, 2"])
def test_any_printable_number_is_taken_and_makes_a_file_name_of_its_own(text):
    assert issue_number(text) == text
    names = {plain_name("Q" * 70, missing, one) for one in (text, text + "_", "p") for missing in ("", "some")}
    assert len(names) == 6
    assert all(name.isascii() and not set("./\\<> ") & set(name) for name in names)
    assert sum(name.endswith("-incomplete") for name in names) == 3


def test_a_layout_s_name_and_a_title_change_no_fingerprint_but_a_pipe_does():

    document = tank_project().model_dump(mode="json")
    before = fingerprint(document)
    looked_at = {**document, "title": {**document["title"], "number": "7"}, "layouts": [], "sheets": []}
    assert fingerprint(looked_at) == before
    assert fingerprint(tank_project(size=0.0801).model_dump(mode="json")) != before


@pytest.mark.parametrize("paper", ["A4", "A0", "Letter", "ANSI E"])
def test_papers_have_their_sizes(paper):
    sizes = {"A4": (210, 297), "A0": (841, 1189), "Letter": (215.9, 279.4), "ANSI E": (863.6, 1117.6)}
    of = with_layout(tank_run(), Verdicts(), PlanSheets(paper=paper, wide=False), PlanSheets(paper=paper), paper=paper)
    pages = read(report_pdf(of).content).pages
    wide, high = sizes[paper]
    told = [tuple(round(float(side) * 25.4 / 72, 1) for side in page.mediabox[2:]) for page in pages]
    assert told == [(wide, high), (wide, high), (high, wide)]


def test_hostile_names_and_long_notes_stand_as_they_are():
    name = '#read("/etc/passwd") $x$ <b>&amp; "q" \\ *_ @ref // é 漢\u202e'
    note = "word " * 2000
    project = pipe_project(name=name[:80])
    of = with_layout(reported(project), Cover(note=note), Schedules(), PlanSheets(), LongSections())
    content = report_pdf(of).content
    said = words(content)
    assert '#read("/etc/passwd") $x$ <b>&amp;' in said
    assert said.count("word") == 2000
    assert "root:" not in said


def test_an_unfinished_run_is_said_on_every_page():
    of = tank_run()
    figures = dict(list(of.figures.items())[:2])
    layout = starting_layouts()[0]
    part = dataclasses.replace(of, figures=figures, layout=layout, verdicts=of.plan.verdicts(figures))
    pages = read(report_pdf(part).content).pages
    assert all("INCOMPLETE: 2 of 6 storms are in" in page.extract_text() for page in pages)
    assert "rule is met" not in words(report_pdf(part).content)
    none = reported(tank_project(), run=False)
    assert "No storm of these return periods is in" in words(report_pdf(with_layout(none, Results())).content)
    assert "not judged" in words(report_pdf(with_layout(none, Verdicts(), PlanSheets())).content)


def test_a_selection_tells_of_its_elements_alone():
    project = tank_project(selections=[Selection(name="just O", elements=[ORIFICE]).model_dump()])
    of = with_layout(reported(project), Results(of=["links"]), selection="just O")
    said = words(report_pdf(of).content)
    assert "Links 30 yr, just O" in said
    assert " P 30" not in said


def test_changes_since_an_issue_are_told_element_by_element_and_verdict_by_verdict():
    old, now = tank_project(), reported(tank_project(size=0.2))
    was = {f"{k}. {v.criterion.name}": "meets, margin +1, none" for k, v in enumerate(now.verdicts, start=1)}
    before = Before("1", "2026-03-01", old, was)
    of = dataclasses.replace(now, before=before)
    said = words(report_pdf(with_layout(of, Changes())).content)
    assert "Since issue 1 of 2026-03-01" in said
    assert "orifice O" in said
    assert "section.diameter 0.08 0.2" in said
    assert "meets, margin +1, none" in said
    assert "manhole H" not in said
    assert HEAD in of.project.option.network.nodes


def test_a_part_is_made_again_only_where_it_changed():
    of, known = with_layout(tank_run(), Verdicts(), Schedules()), Known()
    first = report_pdf(of, known=known, basis="a")
    before = dict(known._held)
    other = with_layout(tank_run(), Verdicts(), Schedules(of=["manholes"]))
    second = report_pdf(other, known=known, basis="a")
    assert first.content != second.content
    assert len(known._held) == len(before) + 1  # the verdicts were there
    assert words(report_pdf(with_layout(reported(tank_project(size=0.09)), Verdicts()), known=known, basis="b").content)
    assert len(known._held) == len(before) + 2


def test_making_it_can_be_stopped():
    class Enough(Exception):
        pass

    def step(doing, share):
        assert 0.0 <= share <= 1.0
        if doing == "Schedules":
            raise Enough

    with pytest.raises(Enough):
        report_pdf(tank_run(), step)


def test_a_large_report_is_set_apart_and_stops_when_nobody_wants_it(monkeypatch):
    of = with_layout(tank_run(), Verdicts(), Schedules())
    here = report_pdf(of).content
    monkeypatch.setattr("madidus.report.typeset._MANY", 0)
    assert report_pdf(of).content == here

    class Enough(Exception):
        pass

    calls = []

    def step(doing, share):
        calls.append(doing)
        if calls.count("setting pages") > 1:
            raise Enough

    monkeypatch.setattr("madidus.report.separate_process._LOOK", 0.001)
    with pytest.raises(Enough):
        report_pdf(of, step)
    monkeypatch.setattr("madidus.report.separate_process.sys.executable", "false")
    with pytest.raises(RuntimeError, match="typesetter ended"):
        report_pdf(of)


def test_a_storm_in_doubt_is_marked_wherever_it_governs():
    of = tank_run()
    sound = report_pdf(with_layout(of, Results())).content
    assert "(to be checked)" not in words(sound)
    key = next(v.storm for v in of.verdicts if v.storm)
    shaken = dataclasses.replace(of.figures[key], summary={**of.figures[key].summary, "balance_error": 0.01})
    doubtful = dataclasses.replace(of, figures={**of.figures, key: shaken})
    said = words(report_pdf(with_layout(doubtful, Results(), Storms(), Quality())).content)
    label = next(s for s in of.plan.storms if s.key == key)
    assert f"{label.duration:g} min, winter (to be" in said
    assert "beyond a limit" in said
    assert "continuity error, of the water handled" in said


def test_where_rain_and_patterns_come_from_is_told_or_said_to_be_missing():
    project = tank_run().project
    pattern = {"duration": 30, "name": "1", "increments": [0.4, 0.6]}
    given = {"name": "August", "interval": 5, "depths": [1, 2], "source": "gauge at the yard"}
    rain = {
        **project.rain.model_dump(mode="json"),
        "further": [{"name": "later", "durations": [30], "patterns": [pattern], "pattern_source": "shares of 2040"}],
        "given": [given],
    }
    rain["ensemble"] |= {"patterns": [pattern], "pattern_source": "shares of the region"}
    rain["rainfall"] |= {"source": "gauge of the town"}

    def told(rain):
        return " ".join(rain_in_words(project.model_copy(update={"rain": Rain.model_validate(rain)})))

    sources = "(gauge of the town)", "patterns: shares of the region.", "patterns: shares of 2040", "August (gauge at"
    for wanted in sources:
        assert wanted in told(rain), wanted
    rain["further"][0]["rainfall"] = {**rain["rainfall"], "source": "gauge of the port"}
    assert "its own rainfall (gauge of the port)" in told(rain)
    for of in (rain["rainfall"], rain["further"][0]["rainfall"], given):
        of["source"] = ""
    rain["ensemble"]["pattern_source"] = rain["further"][0]["pattern_source"] = ""
    missing = told(rain)
    assert missing.count("source not stated") == 5
    assert not any(wanted in missing for wanted in sources)
