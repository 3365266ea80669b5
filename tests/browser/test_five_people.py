"""Five people who have never seen it finish what they came for, by the words they can see; acts and refusals counted."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import go
from tests.support import serving


class Hands:
    """A person at the page, whose acts are counted: a click, a field filled, a file given."""

    def __init__(self, page: Page) -> None:
        self.page, self.acts = page, 0

    def click(self, name: str | re.Pattern[str], role: str = "button", within: Locator | None = None) -> None:
        self.acts += 1
        exact = isinstance(name, str)
        (within or self.page).get_by_role(role, name=name, exact=exact).first.click()  # type: ignore[arg-type]

    def fill(self, label: str | re.Pattern[str], value: str) -> None:
        self.acts += 1
        field = self.page.get_by_label(label, exact=isinstance(label, str)).first
        field.fill(value)
        field.press("Tab")

    def refusals(self) -> list[str]:
        return [x for x in self.page.get_by_role("alert").all_inner_texts() if x.strip()]


@pytest.fixture
def hands(page: Page, server: str) -> Hands:
    page.goto(f"{server}/start")
    here = Hands(page)
    # The browser is in a country of other volts; a person there would not need this.
    page.get_by_role("button", name="change").click()
    page.get_by_role("button", name="120/240 V").click()
    page.get_by_role("button", name="done").click()
    return here


def answer(page: Page) -> Locator:
    return page.get_by_role("complementary", name="The answer so far")


def test_a_tenant_is_answered_with_her_own_box(page: Page, hands: Hands):
    for name in ("Refrigerator", "Internet", "Phones"):
        hands.click(name)
    hands.click("A power station")
    hands.fill("Capacity (Wh)", "1,024")
    hands.fill("Output (W)", "1000")
    hands.fill("AC outlets", "3")
    expect(answer(page)).to_contain_text(re.compile(r"Count on \d+ h"))
    assert hands.acts <= 12
    expect(answer(page)).to_contain_text("on your power station")
    expect(answer(page)).to_contain_text("The power station you have")
    hands.click("Keep this plan")
    expect(page.locator("[data-test=place-answer]")).to_contain_text("Count on")
    assert hands.refusals() == []
    hands.click(re.compile("^What to power"), "link")
    # Outlets and cords, no panel: nobody here has one.
    expect(page.get_by_role("group", name="The panel")).to_have_count(0)
    expect(page.get_by_text("slots")).to_have_count(0)


def test_a_pump_owner_has_a_shopping_list_a_brief_and_a_household_sheet(page: Page, hands: Hands):
    for name in ("Refrigerator", "Lamps"):
        hands.click(name)
    hands.click("Yes", within=page.get_by_role("group", name="Is your water from a well?"))
    hands.click("Nothing yet")
    hands.click(re.compile("^A day"))
    expect(answer(page)).to_contain_text("that an electrician fits")
    expect(answer(page)).to_contain_text("Or step by step")
    hands.click("Keep this plan")
    bar = page.locator(".bar")
    expect(bar).to_contain_text("Count on")
    expect(bar).not_to_contain_text(re.compile("Refused|Will trip"))
    assert hands.refusals() == []
    hands.click("Papers", "link")
    for sheet, words in (
        ("Parts list", r"To buy: [\d,]+ USD"),
        ("Brief for quotes", "240 V"),
        ("Household sheet", "Well pump"),
    ):
        row = page.get_by_role("row").filter(has_text=sheet).first
        with page.expect_popup() as opened:
            hands.click(f"Preview of {sheet}", "link", within=row)
        expect(opened.value.locator("body")).to_contain_text(re.compile(words))
        expect(opened.value.locator("body")).not_to_contain_text("Refused")
        opened.value.close()
    assert hands.refusals() == []


def test_somebody_with_a_bill_learns_whether_it_pays(page: Page, hands: Hands):
    for name in ("Refrigerator", "Internet"):
        hands.click(name)
    hands.click("Keep this plan")
    page.wait_for_url(re.compile("/hours"))
    hands.click("Everyday use", "link")
    hands.click("Electricity prices", "link")
    hands.click("Peak hours")
    form = page.get_by_role("form", name="A tariff from your bill")
    expect(form).to_be_visible()
    hands.fill("Outside peak hours (USD per kWh)", "0.16")
    hands.fill("In peak hours (USD per kWh)", "0.41")
    hands.click("Add this tariff", within=form)
    expect(page.get_by_role("article", name="My tariff")).to_be_visible()
    hands.click("Worth it?", "link")
    expect(page.locator("main, .place").first).to_contain_text(re.compile("paid for itself|pays? for itself|pay back"))
    assert hands.refusals() == []
    assert hands.acts <= 14


def test_on_a_phone_in_an_outage_three_taps_say_what_to_switch_off(page: Page, server: str):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(server)
    hands = Hands(page)
    hands.click(re.compile("^Power is out: Saltgrass House"), "link")
    page.get_by_role("button", name="Start an outage").wait_for()
    for field in page.get_by_role("spinbutton", name=re.compile("^Charge of")).all():
        hands.acts += 1
        field.fill("90")
        field.blur()
    hands.click("Start an outage")
    page.wait_for_url(re.compile("/storm"))
    hands.click("Now", "link")
    first = page.get_by_role("heading", name="Switch off first")
    expect(first).to_be_in_viewport()
    # The charge is a figure that only a person can tell; the taps are three.
    assert hands.acts <= 4
    hands.click(re.compile("^Power is back"))
    hands.click("End the outage")
    expect(page.get_by_role("heading", name="Is the power out?")).to_be_visible()


def test_an_adviser_has_three_plans_over_three_outages_and_moves_the_home(page: Page, house: str, tmp_path):
    hands = Hands(page)
    go(page, f"{house}/house")
    hands.click("Compare", "link")
    cells = page.locator("table").first.get_by_role("row")
    expect(cells.nth(3)).to_be_visible()
    expect(page.locator("table").first).to_contain_text(re.compile(r"\d+ h"))
    assert page.locator("table thead th").count() >= 4
    hands.click("Papers", "link")
    expect(page.get_by_role("row").filter(has_text="Plans compared").first).to_be_visible()
    page.get_by_role("button", name=re.compile("Saltgrass House")).first.click()
    with page.expect_download() as download:
        hands.click(re.compile("^(Pack|Export|Save)"), "link")
    kept = tmp_path / download.value.suggested_filename
    download.value.save_as(kept)
    with serving(tmp_path / "elsewhere") as (address, _):
        page.goto(address)
        with page.expect_file_chooser() as chooser:
            hands.click(re.compile("Open a (plan )?file|Import|Bring"))
        chooser.value.set_files(kept)
        expect(page.get_by_role("heading", name=re.compile("Saltgrass House|House")).first).to_be_visible()
        assert hands.refusals() == []
