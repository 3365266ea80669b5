"""Sun in the real interface: an array added, wired past its input, mended by its fix, and seen in the hours."""

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Bar, choose, go
from tests.browser.test_screens import figures_without_a_unit

pytestmark = pytest.mark.browser


def test_an_array_is_added_wired_past_its_input_and_mended(page: Page, house: str, bar: Bar):
    go(page, f"{house}/sun?plan=ten-place&outage=august-shutoff")
    expect(page.get_by_role("heading", name="No panels yet")).to_be_visible()
    page.get_by_role("button", name="Add an array").click()
    ways = page.get_by_role("table", name="Ways to wire")
    expect(ways).to_contain_text("3 in series")
    page.get_by_label("In series").fill("11")
    page.get_by_label("In series").press("Enter")
    expect(bar.words).to_contain_text("Refused")
    expect(page.get_by_role("alert").first).to_contain_text("more destroys it")
    page.get_by_role("button", name="as 10 in series × 1").first.click()
    expect(page.get_by_label("In series")).to_have_value("10")
    expect(bar.words).to_contain_text("without sun")
    assert figures_without_a_unit(page)[1] == []
    page.get_by_label("Tilt, °").fill("95")
    page.get_by_label("Tilt, °").press("Enter")
    expect(page.get_by_text("enter 0 to 90, not 95")).to_be_visible()
    expect(page.get_by_label("Tilt, °")).to_have_value("30")


def test_the_year_names_its_worst_month_and_ice_darkens_panels(page: Page, house: str):
    go(page, f"{house}/sun?plan=switched-panel&outage=january-ice")
    expect(page.get_by_role("img", name="Mean day of each month")).to_be_visible()
    expect(page.get_by_text("Least in Dec")).to_be_visible()
    page.get_by_role("button", name="West fence").click()
    expect(page.get_by_role("heading", name="West fence")).to_be_visible()
    go(page, f"{house}/hours?plan=switched-panel&outage=august-shutoff")
    expect(page.get_by_text("Yellow: sun, at most")).to_be_visible()
    expect(page.get_by_role("list", name="From stored energy to energy used")).to_contain_text("from the panels")
    assert figures_without_a_unit(page)[1] == []


def test_plans_are_compared_and_a_cell_leads_to_its_hours(page: Page, house: str, bar: Bar):
    go(page, f"{house}/house?plan=ten-place&outage=november-windstorm")
    page.get_by_role("link", name="Compare").click()
    table = page.get_by_role("table", name="Plans by outages")
    expect(table.get_by_role("row")).to_have_count(5)
    expect(table).to_contain_text(" times")
    assert figures_without_a_unit(page)[1] == []
    choose(page, "compared with", "Cords only")
    expect(table.get_by_role("row").nth(1)).to_contain_text("Cords only")
    table.get_by_role("row").nth(1).get_by_role("button").nth(2).click()
    expect(page.get_by_role("heading", name="How long")).to_be_visible()
    expect(page.locator(".bar")).to_contain_text("Evening cut")
