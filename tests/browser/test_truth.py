"""What a decision rests on, in the running app: refused, noted, named, and never an empty page while something
loads."""

import json
import re

from playwright.sync_api import Page, Route, expect

from imbuto.services.desk.demo import demo_file
from tests.browser.conftest import choose, go, take_in
from tests.support import ask

TEN = "?plan=ten-place&outage=november-windstorm"


def test_two_circuits_on_one_neutral_of_a_120_v_station_are_refused(page: Page, server: str):
    file = json.loads(demo_file("saltgrass-house"))
    file["home"]["circuits"]["chest-freezer"]["neutral_partner"] = "pellet-stove"
    plan = next(p for p in file["plans"] if p["id"] == "ten-place")
    plan["sources"]["main"] |= {"station": "firkin", "modules": 0}
    home = take_in(server, json.dumps(file))
    go(page, f"{server}/home/{home}/chosen{TEN}")
    bar = page.locator(".bar [data-test=verdict]").first
    expect(bar).to_contain_text("Refused")
    expect(page.get_by_text("Neutral of Chest freezer and Pellet stove").first).to_be_visible()
    expect(page.locator(".neck")).to_contain_text("30 of 15 A")
    page.locator(".chips .chip", has_text="leave Chest freezer and Pellet stove off").first.click()
    expect(bar).not_to_contain_text("Refused")


def test_watts_and_hours_a_day_are_noted_as_so_much_a_day(page: Page, house: str):
    go(page, f"{house}/house{TEN}&circuit=counter-west")
    page.keyboard.press("m")
    page.keyboard.type("Kettle 1200 W 5 hours a day")
    expect(page.locator(".echo")).to_contain_text("1,200 W for 5 h per day: 6 kWh per day")
    expect(page.locator(".echo")).to_contain_text("It then uses 6 kWh per day")
    page.keyboard.press("Enter")
    row = page.get_by_role("row", name=re.compile("Kettle"))
    expect(row).to_contain_text("6 kWh")
    expect(row).to_contain_text("5 h per day")


def test_a_new_load_that_is_cancelled_is_none(page: Page, house: str):
    go(page, f"{house}/house{TEN}&circuit=office")
    before = page.locator("[role=row]").count()
    page.keyboard.press("n")
    told = page.get_by_label("Or in your own words")
    told.fill("8 lamps at 11 W")
    told.press("Enter")
    expect(page.get_by_role("dialog")).to_contain_text("8 of them: 88 W")
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_role("dialog")).to_be_hidden()
    assert page.locator("[role=row]").count() == before
    expect(page.get_by_role("button", name=re.compile("^Undo"))).to_contain_text("nothing yet")


def american(page: Page) -> None:
    """The browser of these tests is in a country of other volts."""
    page.get_by_role("button", name="change").click()
    page.get_by_role("button", name="120/240 V").click()
    page.get_by_role("button", name="done").click()


def test_a_new_home_with_a_240_v_pump_says_what_the_pump_needs(page: Page, server: str):
    page.goto(f"{server}/start")
    american(page)
    page.get_by_role("button", name="Refrigerator", exact=True).click()
    page.get_by_role("group", name="Is your water from a well?").get_by_role("button", name="Yes").click()
    said = page.get_by_role("complementary", name="The answer so far")
    expect(said).to_contain_text("with a six-place manual switch that an electrician fits")
    # A 120 V station of her own can't power it: it stays off, and what it needs is said.
    page.get_by_role("button", name="A power station").click()
    page.get_by_label("Capacity (Wh)").fill("1,024")
    page.get_by_label("Output (W)", exact=True).fill("1000")
    expect(said).to_contain_text("It needs a transfer switch for its circuit")
    page.get_by_role("button", name="Keep this plan").click()
    unfed = page.locator(".bar .unfed").first
    expect(unfed).to_have_text("Well pump isn't powered")
    assert "transfer switch" in (unfed.get_attribute("title") or "")
    assert "120/240 V" in (unfed.get_attribute("title") or "")
    expect(page.locator(".bar .band").first).to_contain_text("not met")


def test_source_never_says_that_there_is_none_while_it_loads(page: Page, house: str):
    held: list[Route] = []
    page.route("**/options?**", lambda route: held.append(route))
    page.goto(f"{house}/source{TEN}")
    expect(page.get_by_role("status").filter(has_text="Trying every station")).to_have_count(2)
    expect(page.get_by_text("No station yet")).to_have_count(0)
    page.wait_for_timeout(3000)
    expect(page.get_by_text("No station yet")).to_have_count(0)
    for route in held:
        route.continue_()
    expect(page.get_by_role("heading", name="Hogshead", level=2)).to_be_visible()


def test_a_direction_and_a_date_are_taken_as_typed(page: Page, house: str):
    go(page, f"{house}/sun?plan=switched-panel&outage=august-shutoff")
    faces = page.get_by_label(re.compile("^Faces"))
    faces.fill("SW")
    faces.press("Tab")
    expect(faces).to_have_value("225")
    expect(page.get_by_role("button", name=re.compile("^Undo"))).to_contain_text("faces 225")
    expect(page.locator(".pouring")).to_have_count(0)
    state = ask(house.replace("/home/", "/api/homes/"))
    plan = next(p for p in state["plans"] if p["id"] == "switched-panel")
    assert plan["arrays"]["shed-roof"]["azimuth"] == 225


def test_a_start_that_was_tried_is_noted_with_its_load(page: Page, house: str):
    go(page, f"{house}/house{TEN}&circuit=chest-freezer")
    page.get_by_role("row", name=re.compile("Chest freezer")).get_by_role("button").last.click()
    page.get_by_label("beside").fill("900")
    choose(page, "Tried on", "Hogshead")
    page.get_by_role("button", name="Start passed").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("held on Hogshead at 100%, cells 68 °F, with 900 VA running")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name=re.compile("^Undo"))).to_contain_text("Chest freezer: one detail")


def test_a_quantity_of_the_pair_reads_the_same_on_every_page(page: Page, house: str):
    """What is marked with a name of the register has one text for its subject, whichever page shows it."""
    pair, found = ("ten-place", "november-windstorm"), {}
    for place in ("house", "whole", "chosen", "source", "hours", "compare"):
        go(page, f"{house}/{place}?plan={pair[0]}&outage={pair[1]}")
        # A page that is still asking shows the bar's figures alone: wait for what only the whole page has.
        own = {"compare": "goal", "whole": "house_day", "hours": "chance"}.get(place, "count_on")
        page.locator(f"[data-quantity={own}]").first.wait_for(state="attached")
        page.wait_for_load_state("networkidle")
        marks = page.locator("[data-quantity]").evaluate_all(
            "es => es.map(e => [e.dataset.quantity, e.dataset.of ?? '', e.textContent.trim()])"
        )
        for name, of, text in marks:
            if set(of.split()) <= set(pair):
                figure = text.removeprefix("Count on ").removesuffix(" per day").removesuffix(" in energy")
                found.setdefault(name, {}).setdefault(figure, set()).add(place)
    assert {"count_on", "house_day", "stored", "goal", "own_draw", "chance"} <= set(found)
    assert {name: texts for name, texts in found.items() if len(texts) > 1} == {}
    assert found["count_on"].popitem()[1] == {"house", "whole", "chosen", "source", "hours", "compare"}


def test_a_station_of_ones_own_may_trip_and_fits_after_a_start_test(page: Page, server: str):
    """A tenant's own 1 kWh box, from a shop's sheet that lists no seconds of its surge."""
    page.goto(f"{server}/start")
    american(page)
    for name in ("Refrigerator", "Internet", "Phones", "Lamps"):
        page.get_by_role("button", name=name, exact=True).click()
    page.get_by_role("button", name="One Lights in one room more").click()
    page.get_by_role("button", name="Keep this plan").click()
    page.wait_for_url(re.compile("/hours"))
    home, _, pair = page.url.partition("/hours")
    go(page, f"{home}/equipment{pair}")
    page.get_by_role("button", name="Add from a label").click()
    page.get_by_label(re.compile("^Paste a data sheet")).fill(
        "Model: Jar 1\nCapacity: 1,024 Wh\nAC output: 1,000 W, surge 2,000 W\nAC outlets: 3\nWeight: 28 lb\n"
        "AC charging: 600 W\nPure sine, 120 V output"
    )
    page.get_by_role("button", name="Read it").click()
    sheet = page.get_by_role("region", name="From a data sheet")
    sheet.get_by_label(re.compile("^rated")).check()
    sheet.get_by_role("button", name=re.compile("^Take")).click()
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("row", name=re.compile("Jar 1"))).to_be_visible()
    go(page, f"{home}/source{pair}")
    page.get_by_role("button", name="Jar 1").click()
    bar = page.locator(".bar")
    # Fewer outlets than plugs: a power strip, before anything is bought.
    expect(bar).to_contain_text("One power strip for Phone charging and Modem and router: about")
    bar.get_by_role("button", name=re.compile("power strip")).first.click()
    expect(bar).to_contain_text("Count on")
    expect(bar).to_contain_text(re.compile(r"May trip\. Measure the start of Refrigerator.* Up to \d{3} VA fits"))
    go(page, f"{home}/tests{pair}")
    page.get_by_text("Real starts").first.click()
    page.get_by_label("Done by").fill("Ann")
    page.get_by_role("button", name="Begin").click()
    page.get_by_label(re.compile("^The temperature of Jar 1's cells")).fill("64")
    page.get_by_role("button", name="Note").click()
    expect(page.get_by_text("64 °F")).to_be_visible()
    page.get_by_label(re.compile("Battery charge")).fill("20")
    page.get_by_role("button", name="yes", exact=True).click()
    page.get_by_role("button", name="Finish the test").click()
    page.get_by_role("button", name="Add to the plan").click()
    expect(bar).not_to_contain_text("May trip")
    expect(bar).to_contain_text("Count on")


def test_a_newcomer_with_a_station_of_her_own_is_answered_with_it(page: Page, server: str):
    """No station is invented for someone who has one: eight acts from an empty page to her own hours."""
    page.goto(f"{server}/start")
    american(page)
    said = page.get_by_role("complementary", name="The answer so far")
    expect(said).to_contain_text("Choose what has to keep running.")
    page.get_by_role("button", name="Refrigerator", exact=True).click()
    search = page.get_by_role("textbox", name=re.compile("^Search for something"))
    search.fill("cpap")
    search.press("Enter")
    page.get_by_role("button", name="A power station").click()
    expect(said).to_contain_text("Enter the station’s capacity in Wh, from its label.")
    page.get_by_label("Capacity (Wh)").fill("1,024")
    page.get_by_label("Output (W)", exact=True).fill("1000")
    page.get_by_label("AC outlets").fill("3")
    expect(said).to_contain_text("on your power station")
    expect(said).to_contain_text(re.compile(r"Count on \d+ h.*Breathing mask with humidifier has power until at least"))
    expect(said).to_contain_text("own draw 10 W")
    expect(said).to_contain_text(re.compile(r"\+ .* Refrigerator in turns"))
    hours = re.search(r"Count on ([\dhm ]+?) \(", said.inner_text())[1]
    page.get_by_role("button", name="Keep this plan").click()
    page.wait_for_url(re.compile("/hours"))
    bar = page.locator(".bar")
    expect(bar).to_contain_text(f"Count on {hours}")
    expect(bar).to_contain_text("Measure the start of Refrigerator")
    expect(page.get_by_role("link", name=re.compile("^Power source 1 kWh"))).to_be_visible()


def test_a_page_that_is_pasted_fills_the_station_and_a_town_is_used(page: Page, server: str):
    page.goto(f"{server}/start")
    american(page)
    page.get_by_role("button", name="Internet", exact=True).click()
    page.get_by_role("button", name="A power station").click()
    page.get_by_role("button", name="Paste the product page").click()
    page.get_by_label("Text of the shop’s page, the label or the manual").fill(
        "Jar 1\nCapacity: 1,024 Wh\nAC output: 1,000 W, surge 2,000 W\nAC outlets: 3\nAC charging: 600 W"
    )
    page.get_by_role("button", name="Read the page").click()
    expect(page.get_by_label("Capacity (Wh)")).to_have_value("1024")
    expect(page.get_by_label("AC outlets")).to_have_value("3")
    page.get_by_role("button", name="change").click()
    town = page.get_by_role("combobox", name="Town").or_(page.get_by_role("textbox", name="Town")).first
    town.fill("Springfield, M")
    page.get_by_role("option", name="Springfield, MO, US").click()
    expect(page.locator(".where")).to_contain_text("Springfield, MO, US")
    town.fill("Saltgrass")
    expect(page.get_by_text("“Saltgrass” isn’t in Imbuto’s table of towns.")).to_be_visible()


def test_on_a_phone_the_answer_is_a_foot_of_two_lines(page: Page, server: str):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{server}/start")
    page.get_by_role("button", name="Refrigerator", exact=True).click()
    foot = page.get_by_role("button", name=re.compile("Show all"))
    expect(foot).to_contain_text("Count on")
    box = foot.bounding_box()
    assert box["height"] < 64
    assert box["y"] + box["height"] <= 844
    foot.click()
    expect(page.get_by_role("button", name="Keep this plan")).to_be_in_viewport()
