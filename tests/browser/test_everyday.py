"""Ordinary days by hand: a tariff typed by keyboard, a hold dragged, "never" met, an outage that begins as a day
leaves it."""

import re

from playwright.sync_api import Page, expect

from tests.api.test_everyday import makers_csv
from tests.browser.conftest import go
from tests.browser.test_screens import figures_without_a_unit

PANEL = "?plan=switched-panel&outage=november-windstorm"


def test_a_tariff_is_typed_and_the_hold_moves_saving_against_readiness(page: Page, house: str):
    go(page, f"{house}/tariffs{PANEL}")
    plain = page.get_by_role("article", name="Bay plain")
    plain.get_by_text("Rates").click()  # an older tariff's are folded
    price = plain.get_by_role("textbox", name=re.compile("All hours, USD a kWh"))
    price.press("Control+a")
    price.press_sequentially("22")
    price.press("Enter")
    price.press("Tab")
    expect(page.get_by_role("alert").first).to_contain_text("Write hundredths as 0.22")
    price = page.get_by_role("article", name="Bay day and night").get_by_role(
        "textbox", name=re.compile("All other hours, USD")
    )
    price.press("Control+a")
    price.press_sequentially("0.34", delay=60)
    price.press("Tab")
    expect(page.get_by_role("button", name=re.compile("Undo"))).to_contain_text("Tariff: Bay day and night")
    page.get_by_role("link", name="Weekly schedule").click()
    saved = page.locator(".figures strong")
    expect(saved.nth(0)).to_contain_text("USD", timeout=30_000)
    before = [saved.nth(i).inner_text() for i in range(2)]
    hold = page.get_by_role("slider", name="Keep for outages (%)")
    hold.press("End")
    expect(page.get_by_text("Keep for outages: 95%")).to_be_visible()
    expect(saved.nth(0)).not_to_have_text(before[0], timeout=60_000)
    after = [saved.nth(i).inner_text() for i in range(2)]
    number = [float(re.sub(r"[^\d.]", "", x)) for x in (*before, *after)]
    assert number[2] < number[0]
    assert number[3] > number[1]
    assert figures_without_a_unit(page)[1] == []
    page.get_by_text("The bills by hand").click()
    expect(page.get_by_text(re.compile(r"^Without the plan: .* = "))).to_be_visible()
    page.get_by_role("link", name="Worth it?").click()
    expect(page.locator(".figures strong").nth(2)).to_have_text("never", timeout=60_000)
    page.get_by_role("button", name="A cost", exact=True).click()
    page.get_by_label("Cost", exact=True).fill("Cable")
    page.get_by_label("Amount (USD)", exact=True).fill("120")
    page.get_by_role("button", name="Add the cost").click()
    expect(page.get_by_role("row").filter(has_text="Cable")).to_contain_text("120 USD")
    page.get_by_role("link", name="Upkeep").click()
    expect(page.get_by_text("Run the generator for half an hour")).to_be_visible()
    with page.expect_download() as file:
        page.get_by_role("link", name="As a calendar").click()
    assert file.value.suggested_filename == "imbuto-everyday.ics"


def test_an_outage_begins_as_an_ordinary_day_leaves_it(page: Page, house: str):
    go(page, f"{house}/hours?plan=switched-panel&outage=evening-cut")
    page.get_by_role("button", name=re.compile("^Outage:")).click()
    page.get_by_role("button", name="Edit Evening cut").click()
    page.get_by_text("with the plan’s modes and the share kept for outages").click()
    page.get_by_role("dialog").get_by_role("button", name=re.compile("Save|Keep")).click()
    expect(page.get_by_role("button", name=re.compile("Undo"))).to_contain_text("Evening cut", timeout=60_000)
    go(page, f"{house}/everyday?plan=cords-only&outage=evening-cut")
    expect(page.get_by_text("Loads on its cords stay")).to_be_visible(timeout=60_000)
    go(page, f"{house}/everyday?plan=two-panels&outage=evening-cut")
    expect(page.locator("[data-test=saving]")).to_contain_text("USD", timeout=60_000)


def test_with_a_bill_a_tariff_is_made_and_an_offer_is_set_beside_what_it_saves(page: Page, server: str):
    go(page, f"{server}/home/via-dei-glicini/tariffs?plan=cords-only&outage=summer-storm")
    page.get_by_role("button", name="Day and night", exact=True).click()
    form = page.get_by_role("form", name="A tariff from your bill")
    form.get_by_role("button", name="Add this tariff").click()
    expect(form.get_by_role("alert")).to_contain_text("Price per kWh: enter it as on the bill")
    form.get_by_label(re.compile("^By day")).fill("0,31")
    form.get_by_label(re.compile("^At night")).fill("0.18")
    form.get_by_role("button", name="Add this tariff").click()
    made = page.get_by_role("article", name="My tariff")
    expect(made).to_be_visible()
    expect(form).to_have_count(0)
    page.get_by_role("link", name="Weekly schedule").click()
    expect(page.locator("[data-test=saving]")).to_contain_text("EUR", timeout=60_000)
    page.get_by_role("link", name="Worth it?").click()
    page.get_by_role("button", name="A whole offer").click()
    page.get_by_label("Offer from").fill("Rossa")
    page.locator("form.grid textarea").fill("Sub-panel 640\nTwo days of work")
    page.get_by_role("button", name="Add the offer").click()
    expect(page.get_by_role("alert").first).to_contain_text("“Two days of work”: no amount")
    page.locator("form.grid textarea").fill("Sub-panel 640\nTwo days of work: 900")
    page.get_by_role("button", name="Add the offer").click()
    expect(page.get_by_role("row").filter(has_text="Two days of work")).to_contain_text("900 EUR", timeout=60_000)
    page.get_by_role("button", name="A credit").click()
    page.get_by_label("Credit", exact=True).fill("Town")
    page.get_by_label("Or an amount (EUR)").fill("200")
    page.get_by_label("Only from storage of (kWh)").fill("50")
    page.get_by_role("button", name="Add the credit").click()
    expect(page.get_by_role("row").filter(has_text="Town")).to_contain_text("not met: it needs 50 kWh", timeout=60_000)


def test_a_months_file_of_an_unknown_maker_comes_in_and_says_what_it_saved(page: Page, house: str):
    go(page, f"{house}/saved{PANEL}")
    expect(page.get_by_text("Nothing is metered yet.")).to_be_visible()
    file = {"name": "export.csv", "mimeType": "text/csv", "buffer": makers_csv().encode()}
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Import a meter’s file").click()
    chooser.value.set_files(file)
    form = page.get_by_role("form", name="Meaning of the columns")
    expect(form.locator(".el-select__placeholder")).to_contain_text(
        ["used by the house", "bought from the grid", "sent to the grid", "sun from the panels"], timeout=60_000
    )
    form.get_by_role("button", name="Save these").click()
    expect(page.locator("[data-test=saved]")).to_contain_text("USD", timeout=60_000)
    expect(page.locator("table.sums tbody tr")).to_have_count(30)
    page.get_by_label("At another price").fill("0.5")
    expect(page.locator("[data-test=at-price]")).to_contain_text("84 USD")
    page.get_by_role("button", name="By month").click()
    expect(page.locator("table.sums tbody tr")).to_have_count(1)
    assert figures_without_a_unit(page)[1] == []
    page.get_by_text("What if, on my days?").click()
    expect(page.locator("[data-test=what-if]")).to_contain_text("instead of 552 kWh", timeout=60_000)
    page.get_by_label("Panels (times as many)").fill("0")
    page.get_by_label("Panels (times as many)").press("Tab")
    expect(page.locator("[data-test=what-if]")).to_contain_text("0 times the panels", timeout=60_000)


def test_a_hand_thrown_switch_says_who_and_when_and_which_circuits_are_worth_moving(page: Page, house: str):
    go(page, f"{house}/everyday?plan=ten-place&outage=november-windstorm")
    page.get_by_role("button", name="Add a mode").click(timeout=60_000)
    page.get_by_role("slider", name="Keep for outages (%)").press("End")
    expect(page.locator("[data-test=unserved]")).to_be_visible(timeout=60_000)
    back = page.get_by_label("Switched back to the grid at (%)", exact=False)
    back.fill("96")
    back.press("Tab")
    expect(page.locator("[data-test=unserved]")).to_have_count(0, timeout=60_000)
    page.get_by_text("Which circuits are worth moving?").click()
    row = page.get_by_role("row").filter(has_text="Hall and stairs")
    expect(row).to_contain_text("no free switch slot", timeout=60_000)
