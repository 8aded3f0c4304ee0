"""Files imported with a step of matching between, and imported again after both sides have changed."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.exchange import grounds
from tests.ui.conftest import up_to_date
from tests.ui.hands import edited, lay_over, network_of, undone

TABLE = "Point;E;N;Lid;Bottom ft\nQ1;10;180;6.0;16.4\nQ2;30;180;5.9;16,0\nQ3;thirty;180;5.9;15\n"


@pytest.fixture
def page_of_files(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    demo.get_by_test_id("import").click()
    return demo


def choose(page: Page, name: str, content: bytes | str):
    body = content.encode() if isinstance(content, str) else content
    page.get_by_test_id("import-file").set_input_files([{"name": name, "mimeType": "text/plain", "buffer": body}])


def apply(page: Page):
    with edited(page):
        page.get_by_test_id("import-apply").click()
    expect(page.get_by_test_id("import-page")).to_have_count(0)


def test_a_foreign_table_is_matched_once_and_known_the_next_time(page_of_files: Page):
    page = page_of_files
    before = network_of(page)
    choose(page, "survey.csv", TABLE)
    sheet = page.get_by_test_id("sheet-table")
    sheet.get_by_test_id("sheet-kind").select_option("manhole")
    for heading, field, unit in (
        ("Point", "name", None), ("E", "x", "m"), ("N", "y", "m"), ("Lid", "cover", "m"), ("Bottom ft", "invert", "ft"),
    ):  # fmt: skip
        sheet.get_by_label(f"{heading} is", exact=True).select_option(field)
        if unit:
            sheet.get_by_label(f"unit of {heading}", exact=True).select_option(unit)
    page.get_by_test_id("import-compare").click()
    expect(page.get_by_test_id("import-counts")).to_contain_text("2 new")
    expect(page.get_by_test_id("import-remarks")).to_contain_text("row 4 E: “thirty” is no number")
    apply(page)
    fresh = {n["name"]: n for id_, n in network_of(page)["nodes"].items() if id_ not in before["nodes"]}
    assert fresh["Q1"]["invert"] == pytest.approx(16.4 * 0.3048)
    assert fresh["Q2"]["invert"] == pytest.approx(16.0 * 0.3048)
    page.get_by_test_id("import").click()
    choose(page, "survey.csv", TABLE.replace("6.0", "6.1"))
    expect(page.get_by_test_id("sheet-table")).to_contain_text("read as last time")
    expect(page.get_by_test_id("import-counts")).to_contain_text("1 changed")
    page.keyboard.press("Escape")
    undone(page)
    assert network_of(page) == before


def test_layers_and_blocks_of_a_drawing_become_pipes_and_manholes(page_of_files: Page):
    page = page_of_files
    before = network_of(page)
    choose(page, "survey.dxf", grounds.drawing())
    expect(page.get_by_test_id("kind-DRAIN")).to_have_value("pipe")
    page.get_by_test_id("kind-KERB").select_option("channel")
    page.get_by_test_id("import-compare").click()
    expect(page.get_by_test_id("import-remarks")).to_contain_text("line of layer ISLAND is not used")
    page.get_by_test_id("kind-KERB").select_option("")
    page.get_by_test_id("import-compare").click()
    expect(page.get_by_test_id("import-counts")).to_contain_text("3 new")
    apply(page)
    after = network_of(page)
    assert len(after["links"]) == len(before["links"]) + 1
    undone(page)
    assert network_of(page) == before


def test_what_both_sides_have_changed_is_asked_field_by_field(page_of_files: Page):
    page = page_of_files
    before = network_of(page)
    table = "name,x,y,cover,invert\nZ1,10,180,6.0,5.0\nZ2,30,180,6.0,5.0\n"
    choose(page, "points.csv", table)
    page.get_by_test_id("import-compare").click()
    apply(page)
    id_ = next(id_ for id_, n in network_of(page)["nodes"].items() if n["name"] == "Z1")
    page.goto(re.sub(r"\?.*", f"?element={id_}", page.url))
    up_to_date(page)
    field = page.get_by_test_id("cover")
    with edited(page):
        field.fill("6.3")
        field.press("Enter")
    page.get_by_test_id("import").click()
    choose(
        page, "points.csv", table.replace("Z1,10,180,6.0", "Z1,10,180,6.2").replace("Z2,30,180,6.0", "Z2,30,180,6.1")
    )
    both = page.get_by_test_id("both-cover")
    expect(both).to_contain_text("at import 6")
    expect(page.get_by_test_id("import-open")).to_contain_text("1 changed both here and in the file")
    both.get_by_label("cover as in the file").click()
    apply(page)
    covers = {n["name"]: n.get("cover") for n in network_of(page)["nodes"].values()}
    assert (covers["Z1"], covers["Z2"]) == (6.2, 6.1)
    undone(page, 3)
    assert network_of(page) == before


LINES = """<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2"><Units><Metric linearUnit="meter"
 areaUnit="squareMeter" diameterUnit="millimeter"/></Units><PipeNetworks><PipeNetwork name="N" pipeNetType="storm">
<Structs><Struct name="Y1" desc="Slab base" elevRim="7" elevSump="5"><Center>300 20</Center><CircStruct diameter="1200"/>
</Struct><Struct name="Y2" desc="Head wall" elevRim="6" elevSump="4.6"><Center>300 60</Center><CircStruct diameter="900"/>
</Struct></Structs><Pipes><Pipe name="Y1-Y2" refStart="Y1" refEnd="Y2" length="40"><CircPipe diameter="300"
 mannings="0.012"/></Pipe></Pipes></PipeNetwork></PipeNetworks></LandXML>"""


def test_what_the_file_lacks_goes_one_by_one_and_an_open_end_becomes_an_outfall_in_one_step(page_of_files: Page):
    page = page_of_files
    before = network_of(page)
    choose(page, "yard.xml", LINES)
    expect(page.get_by_test_id("import-absent")).to_contain_text("stays as it is, unless it is ticked")
    gone = next(id_ for id_, n in before["nodes"].items() if n["name"] == "J1")
    page.get_by_test_id("gone-J1").check()
    page.get_by_test_id("instead-Y2").check()
    expect(page.get_by_test_id("import-apply")).to_contain_text("Import 3 elements, remove 1")
    apply(page)
    after = network_of(page)
    fresh = {n["name"]: n for id_, n in after["nodes"].items() if id_ not in before["nodes"]}
    assert (fresh["Y1"]["kind"], fresh["Y2"]["kind"]) == ("manhole", "outfall")
    assert gone not in after["nodes"]
    assert not any(gone in (link["upstream"], link["downstream"]) for link in after["links"].values())
    assert set(before["nodes"]) - set(after["nodes"]) == {gone}
    undone(page)
    assert network_of(page) == before


def test_parts_of_structures_are_matched_and_remembered(page_of_files: Page):
    page = page_of_files
    before = network_of(page)
    choose(page, "yard.xml", LINES)
    page.get_by_text("Structures of LandXML by type and part").click()
    expect(page.get_by_test_id("kind-CircStruct: Head wall")).to_have_value("as its type")
    page.get_by_test_id("kind-CircStruct: Head wall").select_option("outfall")
    page.get_by_test_id("import-compare").click()
    expect(page.get_by_test_id("import-rows")).to_contain_text("outfall")
    apply(page)
    page.get_by_test_id("import").click()
    choose(page, "yard.xml", LINES)
    page.get_by_text("Structures of LandXML by type and part").click()
    expect(page.get_by_test_id("kind-CircStruct: Head wall")).to_have_value("outfall")
    page.keyboard.press("Escape")
    undone(page)
    assert network_of(page) == before


def test_a_proposal_of_an_earlier_matching_is_never_shown(page_of_files: Page):
    """The answer to the first matching is held back until the matching has been changed."""
    page = page_of_files
    held = []
    page.route(re.compile(r"/import\?"), lambda route: held.append(route) if not held else route.continue_())
    choose(page, "yard.xml", LINES)
    page.get_by_text("Structures of LandXML by type and part").click()
    page.get_by_test_id("kind-CircStruct: Head wall").select_option("outfall")
    for _ in range(100):
        if held:
            break
        page.wait_for_timeout(50)
    held[0].continue_()
    expect(page.get_by_test_id("import-compare")).to_be_enabled()
    page.wait_for_timeout(300)
    expect(page.get_by_test_id("import-counts")).to_have_count(0)
    page.get_by_test_id("import-compare").click()
    expect(page.get_by_test_id("import-rows")).to_contain_text("outfall")
    page.keyboard.press("Escape")


def pasted(page: Page, table: str, text: str):
    """Rows pasted over the first cell of a table: the page on which they are read."""
    page.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    if page.get_by_test_id(f"table-{table}").count() == 0:
        page.get_by_test_id("show-tables").click()
    page.get_by_test_id(f"table-{table}").click()
    page.get_by_test_id("grid").press("Control+Home")
    lay_over(page, text)
    return page.get_by_test_id("pasted-rows")


def test_rows_pasted_with_headings_go_by_name_in_any_order_and_are_seen_before(demo: Page):
    page, before = demo, network_of(demo)
    node = next(n for n in before["nodes"].values() if n["kind"] == "manhole")
    cover = round(node["cover"] + 0.25, 3)
    shown = pasted(
        page, "shafts", f"Cover\tName\tRemark\tEast\n{cover}\t{node['name']}\told\t{node['x']}\n7\tZ9\tnew\t5\n"
    )
    expect(shown.get_by_label("Remark is", exact=True)).to_have_value("")
    expect(shown.get_by_test_id("import-counts")).to_contain_text("1 changed")
    expect(shown.get_by_test_id("import-rows")).to_contain_text("no invert was read")  # Z9 is no manhole without one
    assert network_of(page) == before
    with edited(page):
        shown.get_by_role("button", name="Take 1 row").click()
    expect(shown).to_have_count(0)
    after = network_of(page)
    by_name = {n["name"]: n for n in after["nodes"].values()}
    assert by_name[node["name"]] == {**node, "cover": cover}
    assert {id_: n for id_, n in after["nodes"].items() if n["name"] != node["name"]} == {
        id_: n for id_, n in before["nodes"].items() if n["name"] != node["name"]
    }
    undone(page)
    assert network_of(page) == before


def test_pasted_diameters_and_lengths_belong_to_their_headings(demo: Page):
    page, before = demo, network_of(demo)
    shown = pasted(page, "pipes", "Diameter\tLength\n375\t41.5\n")
    rows = shown.get_by_test_id("import-rows")
    expect(rows).to_contain_text("41.5")
    with edited(page):
        shown.get_by_test_id("import-apply").click()
    changed = [link for id_, link in network_of(page)["links"].items() if link != before["links"][id_]]
    assert [(link["length"], link["section"]["diameter"]) for link in changed] == [(41.5, 0.375)]
    undone(page)
