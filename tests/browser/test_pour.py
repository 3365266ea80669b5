"""The main path in the real interface: edit, pour, break, mend, undo, reload."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Bar, go, same_words

pytestmark = pytest.mark.browser
TEN = "?plan=ten-place&outage=november-windstorm"


def undo_line(page: Page):
    return page.locator(".rail .turn").first


def test_changing_watts_by_keyboard_alone_repours_and_undo_restores(page: Page, house: str, bar: Bar):
    go(page, f"{house}/house{TEN}&circuit=bedroom")
    before = bar.text()
    page.locator("[data-circuit=bedroom]").focus()
    cell = page.get_by_role("table", name="Loads").locator("td[tabindex='0']")
    for _ in range(40):
        if cell.evaluate("e => e === document.activeElement"):
            break
        page.keyboard.press("Tab")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    page.keyboard.press("Control+a")
    page.keyboard.type("200 W")
    page.keyboard.press("Enter")
    after = bar.changes_from(before)
    assert "Oxygen concentrator, average: 305 → 200 W" in undo_line(page).inner_text()
    page.reload()
    expect(bar.words).to_have_text(re.compile(re.escape(after.split("\n")[1])))
    page.keyboard.press("Control+z")
    expect(bar.words).to_have_text(same_words(before))
    page.keyboard.press("Control+Shift+z")
    expect(bar.words).to_have_text(re.compile(re.escape(after.split("\n")[1])))


def test_pouring_a_circuit_out_and_in_by_keyboard_alone(page: Page, house: str, bar: Bar):
    go(page, f"{house}/chosen{TEN}")
    before = bar.text()
    page.locator("[data-circuit=range]").focus()
    page.keyboard.press("Enter")
    for _ in range(6):
        page.keyboard.press("ArrowDown")
    expect(page.locator("[data-circuit=bedroom]")).to_be_focused()
    page.keyboard.press("x")
    longer = bar.changes_from(before)
    assert "Bedroom, concentrator left off" in undo_line(page).inner_text()
    page.keyboard.press("k")
    expect(bar.words).to_have_text(same_words(before))
    page.keyboard.press("t")
    expect(undo_line(page)).to_contain_text("Bedroom, concentrator takes turns")
    assert longer != before


def test_pouring_by_drag_and_by_the_visible_control(page: Page, house: str, bar: Bar):
    go(page, f"{house}/chosen{TEN}")
    places = page.get_by_role("list", name="Places").locator("li")
    page.locator("[data-circuit=office]").click()
    page.get_by_role("button", name=re.compile("^Leave off")).click()
    expect(places.nth(9)).to_contain_text("put it here")
    page.locator("[data-circuit=hall]").drag_to(places.nth(9))
    expect(places.nth(9)).to_contain_text("Hall and stairs")
    places.nth(9).locator(".fed").drag_to(places.nth(0))
    expect(places.nth(0)).to_contain_text("Hall and stairs")
    expect(places.nth(9)).to_contain_text("Kitchen refrigerator")
    places.nth(0).locator(".fed").drag_to(page.locator("[data-circuit=range]"))
    expect(places.nth(0)).not_to_contain_text("Hall and stairs")


def test_changing_the_station_by_keyboard_alone(page: Page, house: str, bar: Bar):
    go(page, f"{house}/source{TEN}")
    before = bar.text()
    page.get_by_role("button", name=re.compile("^Tun")).focus()
    page.keyboard.press("Enter")
    # Its 50 A outlet would not open before the switch's 30 A inlet burns: a switch that bears it is the fix.
    bar.changes_from(before)
    expect(bar.words).to_contain_text("Refused")
    page.get_by_role("button", name=re.compile("fixes it .*50 A inlet")).focus()
    page.keyboard.press("Enter")
    expect(bar.words).to_contain_text("Count on")
    assert bar.hours() > 20
    page.keyboard.press("Control+z")
    expect(bar.words).to_contain_text("Refused")
    page.keyboard.press("Control+z")
    expect(bar.words).to_have_text(same_words(before))
    page.keyboard.press("4")
    expect(page.get_by_role("heading", name="How long", level=1)).to_be_visible()


def test_breaking_leg_b_says_will_trip_and_its_fix_clears_it(page: Page, house: str, bar: Bar):
    go(page, f"{house}/chosen{TEN}")
    page.locator("[data-circuit=office]").click()
    page.keyboard.press("k")
    expect(bar.words).to_contain_text("Will trip")
    assert "about" in bar.text()
    expect(page.locator(".neck")).to_contain_text("Leg B: ")
    expect(page.locator(".neck")).to_contain_text("of 25 A")
    assert "Count on" not in bar.text()
    page.locator(".chips .chip", has_text="fixes it").first.click()
    expect(bar.words).to_contain_text("Count on")
    page.locator(".bar .wide").get_by_role("button", name=re.compile("^Undo")).click()
    expect(bar.words).to_contain_text("Will trip")


def test_a_widening_is_tried_and_taken_back_from_the_bar(page: Page, house: str, bar: Bar):
    go(page, f"{house}/hours{TEN}")
    before = bar.text()
    chip = page.locator(".wide .chip").first
    assert re.match(r"\+\d+ h", chip.inner_text())
    chip.click()
    bar.changes_from(before)
    page.locator(".bar .wide").get_by_role("button", name=re.compile("^Undo")).click()
    expect(bar.words).to_have_text(same_words(before))


def test_240_v_is_refused_in_words(page: Page, house: str, bar: Bar):
    go(page, f"{house}/source{TEN}")
    page.get_by_role("button", name=re.compile("^Firkin")).click()
    expect(bar.words).to_contain_text("Will trip")
    page.keyboard.press("2")
    for circuit in ("office", "reef", "counter-west"):
        page.locator(f"[data-circuit={circuit}]").click()
        page.keyboard.press("x")
    page.locator("[data-circuit=water-heater]").click()
    page.keyboard.press("k")
    expect(bar.words).to_contain_text("Can't supply 240 V")


def test_two_tabs_in_conflict_lose_nothing(page: Page, house: str, bar: Bar):
    other = page.context.new_page()
    for tab in (page, other):
        # Neither tab hears of the other's edits, as when both act at once.
        tab.route("**/events", lambda route: route.fulfill(status=204))
        go(tab, f"{house}/house{TEN}&circuit=bedroom")

    def type_average(tab: Page, row: str, watts: str):
        tab.get_by_role("row", name=re.compile(row)).locator("td").nth(1).dblclick()
        tab.keyboard.press("Control+a")
        tab.keyboard.type(watts)
        tab.keyboard.press("Enter")

    type_average(page, "Oxygen", "290")
    expect(page.locator(".rail .turn").first).to_contain_text("290")
    type_average(other, "Bedside", "12")  # elsewhere: both stand without a question
    expect(other.get_by_role("row", name=re.compile("Oxygen"))).to_contain_text("290 W")
    type_average(page, "Oxygen", "280")
    expect(page.locator(".rail .turn").first).to_contain_text("280")
    type_average(other, "Oxygen", "250")
    dialog = other.get_by_role("dialog", name="Changed in another tab")
    expect(dialog).to_contain_text("290 → 280 W")
    dialog.get_by_role("button", name="Keep mine").click()
    expect(other.get_by_role("row", name=re.compile("Oxygen"))).to_contain_text("250 W")
    page.reload()
    expect(page.get_by_role("row", name=re.compile("Oxygen"))).to_contain_text("250 W")
    expect(page.get_by_role("row", name=re.compile("Bedside"))).to_contain_text("12 W")


def test_another_tabs_edit_shows_by_itself(page: Page, house: str):
    other = page.context.new_page()
    for tab in (page, other):
        go(tab, f"{house}/chosen{TEN}")
    page.locator("[data-circuit=office]").click()
    page.keyboard.press("x")
    expect(other.locator("[data-circuit=office]")).to_have_class(re.compile(r"\boff\b"))


def test_edits_wait_while_the_server_is_away_and_survive_a_reload(page: Page, house: str):
    go(page, f"{house}/chosen{TEN}")
    page.route("**/edits", lambda route: route.abort())
    page.locator("[data-circuit=office]").click()
    page.keyboard.press("x")
    expect(page.locator(".strips").get_by_role("status")).to_contain_text("1 change is kept here")
    expect(page.locator("[data-circuit=office]")).to_have_class(re.compile(r"\boff\b"))
    page.reload()
    expect(page.locator("[data-circuit=office]")).to_have_class(re.compile(r"\boff\b"))
    page.unroute("**/edits")
    expect(page.locator(".rail .turn").first).to_contain_text("Office left off")
    expect(page.locator(".strips").get_by_role("status")).to_have_count(0)


def test_a_refused_edit_is_told_and_nothing_is_lost(page: Page, house: str):
    go(page, f"{house}/house{TEN}&circuit=bedroom")
    row = page.get_by_role("row", name=re.compile("Oxygen"))
    row.locator("td").nth(1).dblclick()
    page.keyboard.press("Control+a")
    page.keyboard.type("-4")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("cannot be below 0")
    page.keyboard.press("Control+a")
    page.keyboard.type("2000")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("The average can't be above the 320 W")
    expect(row).to_contain_text("305 W")


def test_pasting_from_a_spreadsheet_fills_cells_as_one_edit(page: Page, house: str):
    go(page, f"{house}/house{TEN}&circuit=bedroom")
    page.get_by_role("row", name=re.compile("Oxygen")).locator("td").nth(1).focus()
    page.evaluate(
        """() => {
          const data = new DataTransfer(); data.setData('text/plain', '290\\t310\\n11\\t12')
          document.activeElement.dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true}))
        }"""
    )
    expect(page.get_by_role("row", name=re.compile("Bedside"))).to_contain_text("12 W")
    expect(undo_line(page)).to_contain_text("4 figures pasted")


def test_removing_a_circuit_that_is_fed_is_one_edit(page: Page, house: str):
    go(page, f"{house}/house{TEN}&circuit=office")
    page.get_by_role("button", name="remove", exact=True).click()
    expect(page.locator("[data-circuit=office]")).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("On no circuit: 2 loads"))).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.locator("[data-circuit=office]")).to_contain_text("Office")


def test_a_reading_is_echoed_noted_and_taken_back(page: Page, house: str, bar: Bar):
    go(page, f"{house}/house{TEN}&circuit=pellet-stove")
    field = page.get_by_label("Reading type the figures from the meter")
    page.keyboard.press("m")
    expect(field).to_be_focused()
    page.keyboard.type("0.9 kW in 6 h")
    page.get_by_role("button", name="0.9 kWh in 6 h").click()
    expect(page.locator(".echo")).to_contain_text("0.9 kWh in 6 h: 150 W average. Good to ±12%.")
    before = bar.text()
    field.press("Enter")
    bar.changes_from(before)
    readings = page.get_by_role("region", name="Readings")
    expect(readings).to_contain_text("counts for average")
    assert "Pellet stove: 0.9 kWh in 6 h" in undo_line(page).inner_text()
    field.fill("freezer 1.2 kWh in 24 h")
    expect(page.locator(".echo")).to_contain_text("Chest freezer: 1.2 kWh in 24 h: 50 W average")
    field.press("Enter")
    expect(undo_line(page)).to_contain_text("Chest freezer: freezer 1.2 kWh in 24 h")
    field.fill("5.2 kWh in 48 h")
    expect(page.locator(".echo")).to_contain_text("Good to ±8%")
    field.press("Enter")
    expect(readings.get_by_role("button", name="1 more, which do not count")).to_be_visible()
    readings.get_by_role("button", name="undo").click()
    expect(undo_line(page)).to_contain_text("Reading undone")
    expect(page.get_by_role("row", name=re.compile("Pellet stove"))).to_contain_text("150 W")


def test_a_reading_noted_while_the_server_is_away_is_noted_once_it_is_back(page: Page, house: str):
    go(page, f"{house}/house{TEN}&circuit=pellet-stove")
    page.route("**/readings", lambda route: route.abort() if route.request.method == "POST" else route.continue_())
    page.keyboard.press("m")
    page.keyboard.type("5.2 kWh in 48 h")
    page.keyboard.press("Enter")
    expect(page.locator(".strips").get_by_role("status")).to_contain_text("1 change is kept here")
    page.reload()
    page.unroute("**/readings")
    expect(undo_line(page)).to_contain_text("Pellet stove: 5.2 kWh in 48 h")
    expect(page.get_by_role("region", name="Readings").get_by_role("listitem")).to_have_count(1)
