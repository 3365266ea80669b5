"""Ways in which practitioners join and reckon, by what is read on the pages: own numbers, a night list, hours of circuits
and panels, unlike batteries, other uses, and one storm over all homes."""

from __future__ import annotations

import re
import urllib.request

from playwright.sync_api import Page, expect

from tests.browser.axe import violations
from tests.browser.conftest import choose, go
from tests.support import text_of


def fill(page: Page, label: str, value: str) -> None:
    field = page.get_by_label(label, exact=True)
    field.fill(value)
    field.press("Enter")


def test_own_numbers_and_a_night_list_are_kept_and_added_up(page: Page, house: str):
    go(page, f"{house}/size?plan=ten-place")
    page.get_by_text("By hand, with your own numbers").click()
    for label, value in (
        ("Energy per day, Wh", "9300"),
        ("Days to last, days", "2"),
        ("One module, Wh", "2700"),
        ("Sun hours per day, h", "4"),
        ("Panel factor", "1"),
        ("One panel, W", "400"),
        ("Used within, h", "6"),
    ):
        fill(page, label, value)
    sums = page.locator("[data-test=sums]")
    for words in ("7 modules", "6 panels", "1,550 W", "Hogshead takes 4."):
        expect(sums).to_contain_text(words)
    choose(page, "Add a load to the night list", "Modem")
    choose(page, "Add a load to the night list", "Bait chest")
    expect(page.get_by_role("row", name=re.compile("Bait chest.*not powered by this plan"))).to_be_visible()
    fill(page, "Told total, W", "1000")
    expect(page.locator("[data-test=told]")).to_contain_text("You were told 1,000 W; the list adds up to")
    assert violations(page) == []
    page.reload()
    expect(sums).to_contain_text("7 modules")


def test_panels_and_circuits_have_their_hours_and_a_station_goes_camping(page: Page, house: str):
    go(page, f"{house}/sun?plan=switched-panel")
    page.get_by_text("by hand, at set hours").click()
    fill(page, "Who sets it out", "Ada")
    expect(page.get_by_text("Shed roof: plugged in by Ada").first).to_be_attached()
    assert violations(page) == []
    server, home = house.split("/home/")
    outage = page.url.split("outage=")[1]
    card = f"{server}/api/homes/{home}/papers/run-card.html?plan=switched-panel&outage={outage}"
    with urllib.request.urlopen(card) as answer:
        assert "Every day at 8:00 am, Ada: plug Shed roof into solar input" in text_of(answer.read().decode())
    page.goto(f"{house}/everyday?plan=switched-panel")
    page.get_by_text("Circuits off at set hours").click()
    choose(page, "Add a circuit that is off at set hours", "Water heater")
    expect(page.locator("[data-test=saving]")).to_contain_text("but for circuits that are off at set hours")
    assert violations(page) == []
    page.goto(f"{house}/worth?plan=ten-place")
    page.get_by_text("What is it for, besides?").click()
    fill(page, "New use", "Camp")
    use = page.locator("[data-test=use]")
    expect(use).to_contain_text("No money is counted for it.")
    fill(page, "Modules of Camp", "3")
    expect(use).to_contain_text("The plan has 2 Stave 3 for it, not 3.")
    assert violations(page) == []


def test_one_storm_is_laid_over_every_home_and_kept_where_it_is_wanted(page: Page, server: str, house: str):
    page.goto(f"{server}/one-storm")
    lines = page.locator("main li")
    expect(lines.filter(has_text="Calculating")).to_have_count(0)
    mine = lines.filter(has_text="Saltgrass House").last
    mine.get_by_role("combobox").press("Enter")
    page.get_by_role("option", name="Ten-place switch").locator("visible=true").click()
    expect(mine).to_contain_text("Oxygen concentrator off at")
    mine.get_by_role("button", name="Keep it here").click()
    expect(mine.get_by_role("link", name=re.compile("Papers, one PDF"))).to_be_visible()
    assert violations(page) == []
    mine.get_by_role("link", name=re.compile("^Open")).click()
    expect(page.locator(".bar")).to_contain_text("Shared storm")
