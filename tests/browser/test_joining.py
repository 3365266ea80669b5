"""Chosen and the joining diagram in the real interface: a set proposed, moved past a limit and mended; nothing
overlaps."""

import re

import pytest
from playwright.sync_api import Page, expect

from imbuto.services.desk.demo import demo_file
from tests.browser.conftest import Bar, choose, go, take_in
from tests.browser.test_screens import figures_without_a_unit

pytestmark = pytest.mark.browser
BOXES = """svg => [...svg.querySelectorAll('g')].filter(g => g.querySelector('rect')).map(g => {
  const box = e => { const b = e.getBBox(); return [b.x, b.y, b.x + b.width, b.y + b.height] }
  return { rect: box(g.querySelector('rect')), texts: [...g.querySelectorAll('text')].map(box) }
})"""
LABELS = """svg => [...svg.querySelectorAll('text.label')].map(e => {
  const b = e.getBBox(); return [b.x, b.y, b.x + b.width, b.y + b.height]
})"""
PLANS = [("saltgrass-house", p) for p in ("ten-place", "switched-panel", "cords-only")] + [
    ("via-dei-glicini", "cords-only")
]


def meet(a, b) -> bool:
    return a[0] < b[2] - 0.5 and b[0] < a[2] - 0.5 and a[1] < b[3] - 0.5 and b[1] < a[3] - 0.5


@pytest.mark.parametrize(("home", "plan"), PLANS)
def test_nothing_overlaps_and_nothing_sticks_out(page: Page, server: str, home: str, plan: str):
    ident = take_in(server, demo_file(home))
    go(page, f"{server}/home/{ident}/joining?plan={plan}")
    svg = page.get_by_role("img", name="How everything is connected")
    expect(svg).to_be_visible()
    boxes = svg.evaluate(BOXES)
    assert len(boxes) >= 6
    for i, one in enumerate(boxes):
        x0, y0, x1, y1 = one["rect"]
        assert all(x0 <= t[0] and t[2] <= x1 and y0 <= t[1] + 2 and t[3] <= y1 + 2 for t in one["texts"])
        assert not any(meet(one["rect"], other["rect"]) for other in boxes[i + 1 :])
    labels = svg.evaluate(LABELS)
    assert not any(meet(label, box["rect"]) for label in labels for box in boxes)
    assert not any(meet(a, b) for i, a in enumerate(labels) for b in labels[i + 1 :])
    assert figures_without_a_unit(page)[1] == []


def test_the_live_path_follows_the_state_and_goes_out_as_a_file(page: Page, house: str):
    go(page, f"{house}/joining?plan=ten-place")
    svg = page.get_by_role("img", name="How everything is connected")
    expect(svg.locator(".live.outage").first).to_be_attached()
    expect(svg.locator(".live.grid")).to_have_count(0)
    row = page.locator("tr.on").first
    expect(row).to_contain_text("lever 1 at SOURCE")
    page.get_by_label("the grid is there").check()
    expect(svg.locator(".live.outage")).to_have_count(0)
    expect(row).to_contain_text("lever 1 at GRID, breaker 7 on")
    with page.expect_download() as caught:
        page.get_by_role("button", name="Save as SVG").click()
    text = caught.value.path().read_text()
    assert text.startswith("<svg")
    assert "Ten-place manual switch" in text
    assert "class=" not in text


def test_a_set_is_proposed_pinned_moved_past_a_limit_and_mended(page: Page, house: str, bar: Bar):
    go(page, f"{house}/chosen?plan=ten-place&outage=november-windstorm")
    page.get_by_role("button", name="Propose a set").click()
    dialog = page.get_by_role("dialog", name="Propose a set")
    expect(dialog).to_contain_text("Kept before everything else: Oxygen concentrator")
    dialog.get_by_role("button", name="Propose", exact=True).click()
    expect(dialog).to_contain_text("short of 48 h")
    dialog.get_by_label("Hours to last").fill("0")
    dialog.get_by_text("Pinned: none").click()
    choose(dialog, "Pin Pellet stove", "Keep on")
    choose(dialog, "Pin Reef tank", "Leave off")
    dialog.get_by_role("button", name="Propose", exact=True).click()
    expect(dialog).to_contain_text("Reef tank: pinned off.")
    expect(dialog.locator("li").filter(has_text="Pellet stove")).to_have_count(1)
    assert figures_without_a_unit(page)[1] == []
    dialog.get_by_role("button", name="Take this set").click()
    expect(page.locator(".rail .turn").first).to_contain_text("the proposed set")
    page.locator("[data-circuit=laundry]").click()
    expect(page.locator(".reason")).to_contain_text("no slot is free")
    page.keyboard.press("k")
    expect(bar.words).to_contain_text("Doesn't fit")
    expect(page.get_by_role("region", name="Verdict")).to_contain_text("Switch slots: 11 of 10")
    page.locator(".wide .chip", has_text="fixes it").first.click()
    expect(bar.words).to_contain_text("Count on")


def test_equipment_tells_what_it_wants_and_a_caution_is_settled_and_taken_up_again(page: Page, house: str):
    go(page, f"{house}/chosen?plan=cords-only&outage=evening-cut")
    page.get_by_text("About this equipment").click()
    expect(page.locator(".facts")).to_contain_text("It violates code, and it has killed people.")
    page.locator("summary", has_text="Check").click()
    settled = page.get_by_label("Auto-off is turned off")
    settled.click()
    expect(page.locator(".rail .turn").first).to_contain_text("Settled: Auto-off is turned off")
    expect(page.get_by_text("switches its output off below")).to_have_count(0)
    page.get_by_label("Auto-off is turned off").click()
    expect(page.get_by_text("switches its output off below")).to_be_visible()
    page.locator("[data-load=refrigerator]").click()
    choose(page, "Its cord: size", re.compile("^16 AWG"))
    page.get_by_label("Its cord: length").fill("200 ft")
    page.get_by_label("Its cord: length").press("Tab")
    expect(page.get_by_role("complementary").filter(has_text="Room left")).to_contain_text("dips")


def test_a_station_of_ones_own_is_typed_from_its_label_and_stands_in_the_comparison(page: Page, house: str):
    go(page, f"{house}/equipment?plan=cords-only")
    page.get_by_role("button", name="Add from a label").click()
    form = page.get_by_role("dialog")
    form.get_by_role("button", name="Keep").click()
    expect(form.get_by_role("alert")).to_contain_text("enter a value")
    form.get_by_role("button", name="more fields").click()
    for field, value in {
        "name": "Jug",
        "nominal, Wh": "2400",
        "continuous, W": "2000",
        "rated, VA": "2000",
        "surge, VA": "4000",
        "leg, A": "16.7",
        "leg surge, VA": "4000",
        "idle, W": "700 kW",
    }.items():
        form.get_by_label(field, exact=True).fill(value)
    choose(form, "volts", "120")
    form.get_by_role("button", name="Keep").click()
    expect(form.get_by_role("alert")).to_contain_text("idle")
    form.get_by_label("idle, W", exact=True).fill("15")
    form.get_by_role("button", name="Keep").click()
    row = page.get_by_role("row", name="Jug")
    expect(row).to_contain_text("yours")
    assert figures_without_a_unit(page)[1] == []
    with page.expect_download() as caught:
        page.get_by_role("link", name="Export CSV").click()
    assert "jug,Jug,120,2400.0" in caught.value.path().read_text()
    go(page, f"{house}/source?plan=cords-only")
    page.get_by_role("button", name="Jug").click()
    expect(page.get_by_role("heading", name="Jug")).to_be_visible()


def test_two_units_carry_more_and_a_foreign_module_is_refused_with_its_fix(page: Page, house: str, bar: Bar):
    go(page, f"{house}/source?plan=ten-place")
    page.locator(".settings .el-select", has=page.locator("#s-module")).click()
    page.get_by_role("option", name="Plank").click()
    expect(bar.words).to_contain_text("Refused")
    page.get_by_role("button", name="modules of the station's own kind").first.click()
    expect(bar.words).to_contain_text("Count on")
    page.locator(".settings .el-select", has=page.locator("#s-units")).click()
    page.get_by_role("option", name="2, side by side").click()
    expect(page.get_by_role("link", name="Power source 17 kWh")).to_be_visible()
    expect(page.get_by_role("link", name="Power source 17 kWh")).to_contain_text("9 kW")
