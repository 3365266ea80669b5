"""A generator, a second station, turns by the charge, one moment, and what to buy, in the real interface."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Bar, go
from tests.browser.test_screens import figures_without_a_unit

pytestmark = pytest.mark.browser


def test_both_schools_stand_side_by_side_and_one_is_picked(page: Page, house: str, bar: Bar):
    go(page, f"{house}/fuel?plan=switched-panel&outage=january-ice")
    both = page.get_by_label("Both methods")
    expect(both).to_contain_text("burns")
    expect(both.get_by_role("article")).to_have_count(2)
    assert figures_without_a_unit(page)[1] == []
    before = bar.words.inner_text()
    page.get_by_role("button", name="Power the house").click()
    expect(page.get_by_role("button", name="Power the house")).to_have_attribute("aria-pressed", "true")
    expect(bar.words).not_to_have_text(before)
    page.get_by_label("Starts at (%)").fill("99")
    page.get_by_label("Starts at (%)").press("Enter")
    expect(page.get_by_text("enter 0 to 95, not 99")).to_be_visible()
    page.get_by_role("button", name="Remove the generator").click()
    expect(page.get_by_role("heading", name="No generator")).to_be_visible()
    page.get_by_role("button", name="Add a generator").click()
    expect(page.get_by_role("alert").get_by_text("no one at home can")).to_be_visible()


def test_a_second_station_takes_a_load_and_the_lowest_hours_lead(page: Page, house: str, bar: Bar):
    go(page, f"{house}/source?plan=ten-place&outage=november-windstorm")
    page.get_by_role("button", name="Another station next to it").click()
    page.get_by_role("combobox", name="Add a load to its cords").click()
    page.get_by_role("option", name="Refrigerator", exact=True).click()
    expect(bar.words).to_contain_text(re.compile(r"Hogshead .*· Gill"))
    page.get_by_role("link", name="How long", exact=False).first.click()
    expect(page.get_by_role("heading", name="How long", level=1)).to_be_visible()
    page.get_by_label("Stations of this plan").get_by_role("button", name="Hogshead").click()
    expect(page.get_by_text("Pellet stove").first).to_be_visible()
    go(page, f"{house}/joining?plan=ten-place&outage=november-windstorm")
    page.get_by_label("Stations of this plan").get_by_role("button", name="Gill").click()
    expect(page.get_by_text("its plug is in outlet 1 of Gill")).to_be_visible()


def test_turns_hang_on_the_charge(page: Page, house: str, bar: Bar):
    go(page, f"{house}/chosen?plan=switched-panel&outage=november-windstorm")
    page.locator(".panel, .board").get_by_text("Office").first.click()
    page.get_by_role("button", name=re.compile("change$")).click()
    page.get_by_role("button", name="above a charge").click()
    expect(page.get_by_role("button", name="Turns above 50%, change")).to_be_attached()
    page.get_by_role("button", name="on spare solar power").click()
    expect(page.get_by_text("uses energy that would be lost")).to_be_visible()


def test_one_moment_and_every_step_of_a_run(page: Page, house: str):
    go(page, f"{house}/hours?plan=switched-panel&outage=january-ice")
    hand = page.get_by_role("slider")
    expect(hand).to_be_visible()
    hand.fill("60")
    expect(page.get_by_label("One moment")).to_contain_text("Thu 4:00 pm")
    expect(page.get_by_label("One moment")).to_contain_text("draws")
    hand.fill("150")
    expect(page.get_by_label("One moment")).to_contain_text("· off")
    assert figures_without_a_unit(page)[1] == []
    page.get_by_role("button", name="by hours for the money").click()
    page.get_by_role("button", name="Every step").click()
    expect(page.get_by_text("Tue 4:05 am")).to_be_visible()
    with page.expect_download() as caught:
        page.get_by_role("link", name="Save as CSV").click()
    assert caught.value.suggested_filename == "switched-panel-january-ice.csv"


def test_what_to_buy_is_run_taken_and_taken_back(page: Page, house: str, bar: Bar):
    go(page, f"{house}/size?plan=cords-only&outage=evening-cut")
    page.get_by_placeholder("none set").fill("2000")
    page.get_by_placeholder("none set").press("Enter")
    page.get_by_role("button", name="Run everything that can be bought").click()
    expect(page.get_by_text("For 2,000 USD the longest is")).to_be_visible()
    assert figures_without_a_unit(page)[1] == []
    page.get_by_role("button", name="Take Pail + 1 Stave 1").click()
    expect(page.get_by_text("Undo Buy: Pail + 1 Stave 1")).to_be_visible()
    page.get_by_label("Hours by feel").fill("48")
    page.get_by_label("Hours by feel").press("Enter")
    expect(page.locator("[data-test=felt]")).to_contain_text("48 h from this charge")
