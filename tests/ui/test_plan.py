"""The plan: drawing, picking, moving and reshaping with pointer and keys."""

import re

import pytest
from playwright.sync_api import Page, expect

from madidus.core.elements import DRAWN_LINKS, DRAWN_NODES
from tests.ui.conftest import up_to_date
from tests.ui.hands import MENU, cell, comes, draw, edited, network_of, on_plan, undone


def test_every_element_can_be_drawn_and_removed(demo: Page):
    demo.locator("nav a[href*='/network']").click()
    for k, kind in enumerate(DRAWN_NODES):
        draw(demo, kind)
        on_plan(demo, 345, 20 + 18 * k)
        if kind == "basin":
            demo.keyboard.press("Enter")  # no outline: a pond of the usual size
        expect(demo.get_by_test_id("drawing")).to_have_count(0)
        expect(demo.get_by_test_id("inspector-title")).to_be_visible()
    up_to_date(demo)
    first, last = (20 + 18 * list(DRAWN_NODES).index(kind) for kind in ("basin", "outfall"))
    for kind in DRAWN_LINKS:
        draw(demo, kind)
        on_plan(demo, 345, first)
        expect(demo.get_by_test_id("drawing")).to_contain_text("where it ends")
        on_plan(demo, 345, last)
        expect(demo.get_by_test_id("drawing")).to_contain_text("where it begins")
        demo.keyboard.press("Escape")
        expect(demo.get_by_test_id("drawing")).to_have_count(0)
        if MENU[kind] == "controls":
            expect(demo.get_by_test_id("rating")).to_be_visible()
    demo.get_by_test_id("remove-element").click()
    expect(demo.get_by_test_id("inspector")).to_contain_text("Pick a pipe")
    up_to_date(demo)
    for _ in range(len(DRAWN_NODES) + len(DRAWN_LINKS) + 1):
        demo.get_by_test_id("undo").click()
    up_to_date(demo)


def test_an_outfall_asked_for_within_a_run_ends_it_and_is_joined(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    plan = demo.get_by_test_id("plan")
    before = network_of(demo)
    pond = next(n for n in before["nodes"].values() if n["name"] == "P1")
    draw(demo, "run")
    for k, (dx, dy) in enumerate(((-40, 45), (-25, 32), (-12, 18))):
        if k == 2:
            up_to_date(demo)
            draw(demo, "outfall")
            expect(demo.get_by_test_id("drawing")).to_contain_text("an outfall is put there")
        x, y = plan.evaluate("(el, at) => el.pixelOf(at[0], at[1])", [pond["x"] + dx, pond["y"] + dy])
        plan.click(position={"x": x, "y": y})
    up_to_date(demo)
    after = network_of(demo)
    fresh = {id_: n for id_, n in after["nodes"].items() if id_ not in before["nodes"]}
    (end,) = (id_ for id_, node in fresh.items() if node["kind"] == "outfall")
    pipes = [link for id_, link in after["links"].items() if id_ not in before["links"]]
    assert len(fresh) == 3
    assert len(pipes) == 2
    assert sum(link["downstream"] == end for link in pipes) == 1
    ground = demo.get_by_test_id("outfall-ground")
    assert float(ground.input_value()) == pytest.approx(after["nodes"][end]["ground"], abs=0.001)
    undone(demo, 3)
    assert network_of(demo) == before


def test_a_run_of_pipes_is_drawn_click_by_click(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    plan = demo.get_by_test_id("plan")

    def network() -> dict:
        return network_of(demo)

    before = network()
    pond = next(n for n in before["nodes"].values() if n["name"] == "P1")
    place = {(n["x"], n["y"]) for n in before["nodes"].values()}
    free = [
        (pond["x"] + dx, pond["y"] + dy) for dx, dy in ((-40, 45), (-25, 32), (-12, 18))
        if all((x - pond["x"] - dx) ** 2 + (y - pond["y"] - dy) ** 2 > 64 for x, y in place)
    ]  # fmt: skip
    assert len(free) == 3
    draw(demo, "run")
    for at in [*free, (pond["x"], pond["y"])]:
        x, y = plan.evaluate("(el, at) => el.pixelOf(at[0], at[1])", list(at))
        plan.click(position={"x": x, "y": y})
    expect(demo.get_by_test_id("drawing")).to_contain_text("click where it begins")
    comes(demo, lambda: len(network()["links"]) == len(before["links"]) + 3)
    up_to_date(demo)
    after = network()
    pipes = [link for id_, link in after["links"].items() if id_ not in before["links"]]
    assert {after["nodes"][p["downstream"]]["name"] for p in pipes} >= {"P1"}
    assert all(p["section"]["diameter"] == 0.225 and p["upstream_invert"] > p["downstream_invert"] for p in pipes)
    demo.keyboard.press("Escape")
    nodes = len(before["nodes"])

    def counts() -> tuple[int, int]:
        now = network()
        return len(now["links"]), len(now["nodes"])

    for links, kept in ((2, nodes + 3), (1, nodes + 2), (0, nodes + 1), (0, nodes)):
        demo.get_by_test_id("undo").click()
        comes(demo, lambda n=links, kept=kept: counts() == (len(before["links"]) + n, kept))


def test_a_pipe_is_split_turned_round_and_joined_again(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    plan = demo.get_by_test_id("plan")
    before = network_of(demo)
    ids = {node["name"]: id_ for id_, node in before["nodes"].items()}
    whole = next(link for link in before["links"].values() if link["name"] == "E9–E10")
    a, b = before["nodes"][ids["E9"]], before["nodes"][ids["E10"]]
    draw(demo, "manhole")
    middle = [(a["x"] + b["x"]) / 2, (a["y"] + b["y"]) / 2]
    x, y = plan.evaluate("(el, at) => el.pixelOf(at[0], at[1])", middle)
    with edited(demo):
        plan.click(position={"x": x, "y": y})
    expect(demo.get_by_test_id("inspector-title")).to_have_text("Manhole M1")
    up_to_date(demo)
    cut = network_of(demo)
    halves = [link for link in cut["links"].values() if link["name"] in ("E9–M1", "M1–E10")]
    assert len(halves) == 2
    assert sum(half["length"] for half in halves) == pytest.approx(whole["length"], abs=1e-6)
    with edited(demo):
        demo.get_by_test_id("join-pipes").click()
    up_to_date(demo)
    joined = network_of(demo)
    again = next(link for link in joined["links"].values() if link["name"] == "E9–E10")
    assert again == whole | {"length": again["length"]}
    assert again["length"] == pytest.approx(whole["length"], abs=1e-6)
    assert len(joined["nodes"]) == len(before["nodes"])
    for _ in range(2):
        with demo.expect_response(lambda r: r.url.endswith("/undo")):
            demo.get_by_test_id("undo").click()
    up_to_date(demo)
    assert network_of(demo) == before
    demo.get_by_test_id("show-tables").click()
    demo.get_by_test_id("table-pipes").click()
    demo.get_by_test_id("filter-rows").fill("E9–E10")
    cell(demo, 0, 0).click()
    demo.get_by_test_id("turn-round").click()
    expect(cell(demo, 0, 1)).to_have_text("E9")
    demo.get_by_test_id("filter-rows").fill("E10–E9")
    expect(cell(demo, 0, 1)).to_have_text("E10")
    with demo.expect_response(lambda r: r.url.endswith("/undo")):
        demo.get_by_test_id("undo").click()
    up_to_date(demo)


def drag(page: Page, start, end, keys: str | None = None):
    """Press at one place of the plan and let go at another, in the project's metres; the edit it makes is awaited."""
    plan = page.get_by_test_id("plan")
    box = plan.bounding_box()
    (x0, y0), (x1, y1) = (plan.evaluate("(e, [x, y]) => e.pixelOf(x, y)", list(at)) for at in (start, end))
    if keys:
        page.keyboard.down(keys)
    page.mouse.move(box["x"] + x0, box["y"] + y0)
    page.mouse.down()
    page.mouse.move(box["x"] + x1, box["y"] + y1, steps=6)
    page.mouse.up()
    if keys:
        page.keyboard.up(keys)


def at(network: dict, name: str) -> tuple[float, float]:
    node = next(n for n in network["nodes"].values() if n["name"] == name)
    return node["x"], node["y"]


@pytest.fixture
def plan(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    return demo


def test_a_dragged_node_takes_its_pipes_along(plan: Page):
    before = network_of(plan)
    x, y = at(before, "C2")
    with edited(plan):
        drag(plan, (x, y), (x - 12, y + 3))
    after = network_of(plan)
    nx, ny = at(after, "C2")
    assert (nx, ny) == pytest.approx((x - 12, y + 3), abs=1.0)
    changed = {link["name"] for id_, link in after["links"].items() if link != before["links"][id_]}
    assert changed == {"C1–C2", "C2–C3"}
    upper = next(link for link in after["links"].values() if link["name"] == "C1–C2")
    cx, cy = at(after, "C1")
    assert upper["length"] == pytest.approx(((cx - nx) ** 2 + (cy - ny) ** 2) ** 0.5, abs=0.01)
    undone(plan)
    assert network_of(plan) == before


def test_a_box_picks_many_and_sets_them_all_at_once(plan: Page):
    before = network_of(plan)
    (x0, y0), (x1, y1) = at(before, "F1"), at(before, "F3")
    drag(plan, (min(x0, x1) - 8, max(y0, y1) + 8), (max(x0, x1) + 8, min(y0, y1) - 8), keys="Shift")
    expect(plan.get_by_test_id("inspector-title")).to_contain_text("picked")
    field = plan.get_by_test_id("all-roughness")
    with edited(plan):
        field.fill("0.015")
        field.press("Enter")
    rough = {link["name"] for link in network_of(plan)["links"].values() if link.get("roughness") == 0.015}
    assert rough >= {"F1–F2", "F2–F3"}
    undone(plan)
    assert network_of(plan) == before


def test_elements_are_picked_by_what_holds_of_them_and_removed_together(plan: Page):
    before = network_of(plan)
    small = [link for link in before["links"].values() if link["kind"] == "pipe" and link["section"]["diameter"] < 0.2]
    plan.get_by_test_id("pick-many").click()
    plan.get_by_test_id("query-value").fill("200 mm")
    expect(plan.get_by_test_id("pick-matching")).to_have_text(f"Pick {len(small)}")
    plan.get_by_test_id("query-value").fill("800 mm")
    plan.get_by_test_id("pick-matching").click()
    with edited(plan):
        plan.get_by_test_id("remove-picked").click()
    assert not [link for link in network_of(plan)["links"].values() if link["kind"] == "pipe"]
    undone(plan)
    assert network_of(plan) == before


def test_a_run_is_copied_mirrored_and_laid_beside(plan: Page):
    before = network_of(plan)
    plan.context.grant_permissions(["clipboard-read", "clipboard-write"])
    on_plan(plan, *at(before, "D1"))
    with_ends = {name: at(before, name) for name in ("D1", "D2")}
    plan.keyboard.press("ArrowRight")  # the pipe below it
    expect(plan.get_by_test_id("inspector-title")).to_contain_text("D1–D2")
    plan.keyboard.press("Control+c")
    plan.keyboard.press("Control+v")
    expect(plan.get_by_test_id("drawing")).to_contain_text("mirrors")
    plan.keyboard.press("m")
    x, y = at(before, "D1")
    with edited(plan):
        on_plan(plan, x + 25, y)
    after = network_of(plan)
    fresh = [node for id_, node in after["nodes"].items() if id_ not in before["nodes"]]
    assert {node["name"] for node in fresh} == {"D3", "D4"}
    pipe = next(link for id_, link in after["links"].items() if id_ not in before["links"])
    assert pipe["name"] == "D3–D4"
    (ax, ay), (bx, by) = with_ends["D1"], with_ends["D2"]
    upper, lower = after["nodes"][pipe["upstream"]], after["nodes"][pipe["downstream"]]
    assert (upper["x"] - lower["x"], upper["y"] - lower["y"]) == pytest.approx((bx - ax, ay - by), abs=0.03)
    undone(plan)
    assert network_of(plan) == before


def test_a_pipe_is_bent_and_led_to_another_node(plan: Page):
    before = network_of(plan)
    (ax, ay), (bx, by) = at(before, "F4"), at(before, "F3")
    middle = ((ax + bx) / 2, (ay + by) / 2)
    on_plan(plan, *middle)
    expect(plan.get_by_test_id("inspector-title")).to_contain_text("F3–F4")
    with edited(plan):
        drag(plan, middle, (middle[0] - 4, middle[1] - 12))
    bent = next(link for link in network_of(plan)["links"].values() if link["name"] == "F3–F4")
    assert len(bent["bends"]) == 1
    ((x, y),) = bent["bends"]
    legs = sum(((x - px) ** 2 + (y - py) ** 2) ** 0.5 for px, py in ((ax, ay), (bx, by)))
    assert bent["length"] == pytest.approx(legs, abs=0.01)
    with edited(plan):
        drag(plan, (ax, ay), at(before, "E5"), keys="Control")
    led = network_of(plan)
    pipe = next(link for link in led["links"].values() if link["name"] == "F3–E5")
    assert led["nodes"][pipe["downstream"]]["name"] == "E5"
    undone(plan, 2)
    assert network_of(plan) == before


def test_a_catchment_is_outlined_cut_by_others_and_drained_downhill(plan: Page):
    before = network_of(plan)
    x, y = at(before, "D1")
    draw(plan, "ground")
    for dx, dy in ((12, 0), (50, 0), (50, -30), (12, -30)):
        on_plan(plan, x + dx, y + dy)
    with edited(plan):
        plan.keyboard.press("Enter")
    after = network_of(plan)
    ground = next(c for id_, c in after["catchments"].items() if id_ not in before["catchments"])
    assert 0 < ground["area"] <= 38 * 30 * 1.1
    assert after["nodes"][ground["node"]]["kind"] == "manhole"
    expect(plan.get_by_test_id("inspector-title")).to_contain_text(ground["name"])
    plan.keyboard.press("Escape")
    undone(plan)
    assert network_of(plan) == before


def test_a_pond_is_sized_by_its_dimensions_with_one_of_them_solved(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    before = network_of(demo)
    demo.get_by_test_id("section-name-P1").click()
    demo.get_by_test_id("by-dimensions").click()
    sheet = demo.get_by_test_id("dimensions")
    for field, value in (("length", "30"), ("width", "20"), ("slope", "3"), ("depth", "2")):
        sheet.get_by_test_id(f"dimension-{field}").fill(value)
        sheet.get_by_test_id(f"dimension-{field}").press("Enter")
    # D/6 (A0 + 4 Am + A1) = 2/6 (600 + 4 · 36 · 26 + 42 · 32)
    expect(sheet.get_by_test_id("solved-volume")).to_contain_text("1896.0")
    sheet.get_by_test_id("solve-for").select_option("depth")
    sheet.get_by_test_id("dimension-volume").fill("1500")
    sheet.get_by_test_id("dimension-volume").press("Enter")
    expect(sheet.get_by_test_id("solved-depth")).not_to_contain_text("2.00")
    sheet.get_by_test_id("dimension-slope").fill("0.0001")
    sheet.get_by_test_id("dimension-slope").press("Enter")
    expect(sheet.get_by_test_id("solved-depth")).to_contain_text("2.50")
    with edited(demo):
        sheet.get_by_test_id("dimensions-apply").click()
    pond = next(n for n in network_of(demo)["nodes"].values() if n["name"] == "P1")
    assert pond["cover"] - pond["invert"] == pytest.approx(2.5, abs=0.01)
    assert pond["table"][0]["area"] == pytest.approx(600, abs=1)
    undone(demo)
    assert network_of(demo) == before


def test_a_store_tells_a_range_of_storage_for_a_limiting_flow(demo: Page):
    demo.get_by_label("Stages").get_by_role("link", name=re.compile("Network")).click()
    demo.get_by_test_id("section-name-P1").click()
    estimate = demo.get_by_test_id("quick-estimate")
    estimate.locator("summary").click()
    expect(estimate).to_contain_text("100 yr +40 %")
    before = estimate.inner_text()
    estimate.get_by_test_id("limiting-flow").fill("5")
    estimate.get_by_test_id("limiting-flow").press("Enter")
    expect(estimate).not_to_have_text(before)
    expect(estimate).to_contain_text("lower bound")
