"""The order of hands read, and practised: a wrong move is said in words, a round without harm is kept by name."""

import re
from datetime import datetime, timedelta

from playwright.sync_api import Page, expect

from tests.browser.conftest import go, start_outage
from tests.browser.test_screens import figures_without_a_unit

TEN = "?plan=ten-place&outage=november-windstorm"


def press(page: Page, part: str, to: str) -> None:
    button = page.get_by_role("group", name=part, exact=True).get_by_role("button", name=to, exact=True)
    button.focus()
    page.keyboard.press("Enter")
    expect(button).to_have_attribute("aria-pressed", "true")


def test_cards_follow_the_plan(page: Page, house: str):
    go(page, f"{house}/storm{TEN}")
    card = page.get_by_role("article", name="Switch to backup power")
    expect(card.get_by_role("listitem").filter(has_text="Unplug the charging cord of Hogshead")).to_be_visible()
    expect(card).to_contain_text("a line is down outside")
    assert figures_without_a_unit(page)[1] == []
    page.get_by_label("Cards").get_by_role("button", name="Switch back to the grid").click()
    expect(page.get_by_role("article")).to_contain_text("steady, for 10 minutes")
    go(page, f"{house}/storm?plan=two-panels&outage=november-windstorm")
    expect(page.get_by_role("article")).to_contain_text("These stay off")
    expect(page.get_by_role("article")).to_contain_text("switches to backup by itself within 12 ms")


def test_a_round_of_the_drill_by_keyboard_and_a_wrong_one(page: Page, house: str):
    go(page, f"{house}/drill?plan=cords-only&outage=november-windstorm")
    expect(page.get_by_role("heading", name="The grid is off")).to_be_visible()
    press(page, "The charging cord of Pail", "out")
    press(page, "The output of Pail", "on")
    plugs = page.get_by_role("group", name=re.compile("^The plug of")).evaluate_all("all => all.map(x => x.ariaLabel)")
    assert len(plugs) == 4
    for plug in plugs:
        press(page, plug, "station")
    expect(page.get_by_role("heading", name="Done, and no one was harmed")).to_be_visible()
    page.get_by_role("combobox", name="Who did it?").press("Enter")
    page.get_by_role("option", name="Grandmother").click()
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text(re.compile("Grandmother, switching to backup"))).to_be_visible()
    # A lever is dragged, and what is live has its bars and says so.
    go(page, f"{house}/drill{TEN}")
    press(page, "The charging cord of Hogshead", "out")
    press(page, "The cord to the inlet", "in")
    press(page, "The output of Hogshead", "on")
    expect(page.get_by_role("heading", name="Step 4 of 13")).to_be_visible()
    lever = page.get_by_role("group", name=re.compile("^Lever 4"))
    begin, end = (lever.get_by_role("button", name=x).bounding_box() for x in ("GRID", "SOURCE"))
    page.mouse.move(begin["x"] + 12, begin["y"] + 12)
    page.mouse.down()
    page.mouse.move(end["x"] + 12, end["y"] + 12, steps=4)
    page.mouse.up()
    expect(page.locator(".lever.live").filter(has_text="Bedroom")).to_contain_text("live from Hogshead")
    expect(page.get_by_role("heading", name="Step 5 of 13")).to_be_visible()
    go(page, f"{house}/drill?plan=switched-panel&outage=november-windstorm")
    page.get_by_role("button", name="The grid is back, again").click()
    expect(page.get_by_role("heading", name=re.compile("The grid is on|Done"))).to_be_visible()


def test_a_storm_comes_from_the_feed_and_what_is_done_is_kept_with_a_name(page: Page, house: str):
    go(page, f"{house}/ready{TEN}")
    page.get_by_role("button", name="Ask the simulated feed").click()
    expect(page.get_by_role("heading", name=re.compile("High wind along the bay"))).to_contain_text("48 h, wind")
    expect(page.get_by_text("short.")).to_contain_text("count on 14 h")
    charge = page.get_by_role("spinbutton", name="Charge of Hogshead, %")
    charge.fill("40")
    charge.press("Enter")
    expect(page.get_by_text(re.compile(r"start by \w{3} \d"))).to_be_visible()
    page.get_by_label("Done by").fill("Grandmother")
    page.get_by_label(re.compile("^A test start and a transfer")).click()
    expect(page.get_by_text(re.compile(r"^Grandmother, \d"))).to_be_visible()
    page.reload()
    expect(page.get_by_text(re.compile(r"^Grandmother, \d"))).to_be_visible()
    assert figures_without_a_unit(page)[1] == []
    page.get_by_role("button", name="The storm is over").click()
    expect(page.get_by_role("heading", name="No storm is noted")).to_be_visible()


def test_an_outage_is_lived_through_on_a_phone_in_the_lamp_theme(page: Page, house: str):
    page.set_viewport_size({"width": 390, "height": 844})
    go(page, f"{house}/live{TEN}")
    page.get_by_role("spinbutton", name="Charge of Hogshead (%)").fill("80")
    page.get_by_role("spinbutton", name="Charge of Hogshead (%)").press("Tab")
    start_outage(page)
    vessel = page.get_by_role("img", name=re.compile(r"^Hogshead: count on it until \w{3} \d"))
    expect(vessel).to_be_visible()
    expect(page.get_by_text("only the plan’s estimate")).to_be_visible()
    foot = page.get_by_role("navigation", name="In the outage")
    assert [x.strip() for x in foot.get_by_role("link").all_inner_texts()] == ["Now", "Switching", "Card", "Note"]
    assert all(x.bounding_box()["height"] >= 44 for x in foot.get_by_role("link").all())
    top = foot.bounding_box()["y"]
    for seen in (
        vessel,
        page.get_by_role("heading", name="Switch off first"),
        page.get_by_role("heading", name="Next"),
    ):
        box = seen.bounding_box()
        assert box["y"] + box["height"] <= top, seen  # on the first screen
    gauge = page.get_by_role("textbox", name="Gauge line")
    foot.get_by_role("link", name="Note").click()
    expect(gauge).to_be_focused()
    expect(foot.get_by_role("link", name="Card")).to_have_attribute("href", re.compile("run-card.html"))
    gauge.fill("soon dark")
    gauge.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("Imbuto does not understand “soon”")
    expect(gauge).to_have_value("soon dark")
    gauge.fill("79% 310 W in 120 W")
    gauge.press("Enter")
    expect(gauge).to_have_value("")
    expect(page.get_by_role("listitem").filter(has_text="310 W out")).to_contain_text("79%")
    assert figures_without_a_unit(page)[1] == []
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.reload()
    expect(page.get_by_role("listitem").filter(has_text="310 W out")).to_be_visible()
    page.get_by_role("button", name="Power is back").click()
    page.get_by_role("button", name="End the outage").click()
    expect(page.get_by_role("heading", name="Is the power out?")).to_be_visible()
    expect(page.get_by_role("listitem").filter(has_text="1 line noted")).to_contain_text("promised")


def test_a_watched_outage_reaches_its_hour_and_a_line_waits_while_the_phone_is_offline(page: Page, house: str):
    """Watched at a day per minute: what is noted offline waits and goes out once, what is taken moves the dark, and it
    charges after."""
    page.set_viewport_size({"width": 390, "height": 844})
    go(page, f"{house}/live{TEN}")
    page.get_by_text("A simulated station").click()
    page.get_by_role("button", name="Watch a simulated one").click()
    page.get_by_role("button", name="a day per minute").click(timeout=20_000)
    start_outage(page)
    expect(page.get_by_text("Watched")).to_be_visible(timeout=20_000)
    page.get_by_role("button", name="real time").click()
    expect(page.get_by_role("button", name="real time")).to_have_attribute("aria-pressed", "true")
    gauge = page.get_by_role("textbox", name="Gauge line")
    page.context.set_offline(True)
    gauge.fill("71% 555 W")
    gauge.press("Enter")
    expect(page.get_by_role("listitem").filter(has_text="71% 555 W")).to_contain_text("waits here")
    expect(gauge).to_have_value("")
    page.get_by_role("checkbox", name="Kitchen counter, west is over to the source").click()
    page.context.set_offline(False)
    expect(page.get_by_text("waits here")).to_have_count(0, timeout=10_000)
    expect(page.get_by_role("listitem").filter(has_text="555 W out")).to_have_count(1)
    stopped = page.get_by_role("listitem").filter(has_text="Kitchen counter, west")
    expect(stopped.filter(has_text="planned").first).to_contain_text("off, planned")
    live = f"{page.url.partition('/live')[0].replace('/home/', '/api/homes/')}/live?outage=november-windstorm"

    def store() -> dict:
        return page.request.get(live).json()["stores"][0]

    before = store()
    at = datetime.fromisoformat(before["early_at"]) + timedelta(hours=1)
    hour = page.get_by_role("combobox", name="Another hour to reach")
    hour.fill(f"{at:%Y-%m-%d %H:%M:00}")
    hour.press("Enter")
    article = page.get_by_role("article").filter(has_text="the smallest set of steps")
    expect(article).to_contain_text("A life depends on it")
    expect(article).not_to_contain_text("Oxygen concentrator off")
    page.get_by_role("button", name=re.compile("^Take (it|all)")).click()
    expect(page.get_by_role("heading", name="Taken")).to_be_visible()
    for _ in range(600):
        if store()["early_at"] >= at.isoformat()[:16]:
            break
        page.wait_for_timeout(100)
    assert store()["early_at"] >= at.isoformat()[:16]
    page.get_by_role("button", name=re.compile("^Undo: ")).first.click()
    assert figures_without_a_unit(page)[1] == []
    page.get_by_role("button", name="Power is back").click()
    page.get_by_role("button", name="End the outage").click()
    expect(page.get_by_role("heading", name="Charge again right away")).to_be_visible()
    page.get_by_role("button", name="a day per minute").click()
    expect(page.get_by_text(re.compile("It charges: |It is full"))).to_be_visible(timeout=20_000)
    page.get_by_role("button", name="Remove it").click()
    expect(page.get_by_text(re.compile("^Hogshead, simulated"))).to_have_count(0)
    go(page, f"{house}/book{TEN}")
    page.get_by_role("button", name="Estimate and outcome").click()
    expect(page.get_by_role("img", name=re.compile("^promised 1.* h.*never without power"))).to_be_visible()


def test_a_test_is_begun_noted_and_taught_and_the_logbook_has_it(page: Page, house: str):
    go(page, f"{house}/tests{TEN}")
    tests = page.get_by_role("navigation", name="Tests")
    expect(tests.get_by_role("button").first).to_contain_text("received")
    tests.get_by_role("button", name=re.compile("^Real starts")).click()
    page.get_by_role("button", name="Begin").click()
    page.get_by_label(re.compile("^The temperature of Hogshead's cells")).fill("50")
    page.get_by_role("button", name="Note", exact=True).click()
    expect(page.get_by_text("50 °F")).to_be_visible()
    line = page.get_by_role("article").get_by_role("listitem").filter(has_text="starts and holds").first
    line.get_by_role("textbox").fill("60")
    line.get_by_role("button", name="yes", exact=True).click()
    expect(line).to_contain_text("yes, 60%")
    page.get_by_role("button", name="Finish the test").click()
    expect(page.get_by_text("started and kept running")).to_be_visible()
    page.get_by_role("button", name="Add to the plan").click()
    expect(page.get_by_text("In the plan")).to_be_visible()
    assert figures_without_a_unit(page)[1] == []
    page.get_by_role("link", name="Logbook").click()
    expect(page.get_by_role("listitem").filter(has_text="Test: starts")).to_be_visible()
    kind = page.get_by_role("combobox", name="Kind of entry")
    kind.press("Enter")
    page.get_by_role("option", name="A defect").click()
    page.get_by_label("Title").fill("Fan rattles")
    expect(page.get_by_role("button", name="Save entry")).to_be_disabled()
    page.get_by_label("Fault").fill("at 900 W")
    page.get_by_role("button", name="Save entry").click()
    entry = page.get_by_role("listitem").filter(has_text="Fan rattles")
    expect(entry).to_contain_text("Defect, open")
    entry.get_by_role("textbox").fill("a screw was loose")
    entry.get_by_role("button", name="Close it").click()
    expect(entry).to_contain_text("closed: a screw was loose")


def test_a_station_that_stopped_is_off_on_every_page_until_somebody_brings_it_back(page: Page, house: str):
    go(page, f"{house}/live{TEN}")
    start_outage(page)
    bar = page.get_by_role("region", name="Verdict")
    expect(bar).to_contain_text("Count on it until")
    line = page.get_by_role("textbox", name="Gauge line")
    for text in ("95% 300 W", "off"):
        line.fill(text)
        page.get_by_role("button", name="Note", exact=True).click()
        expect(line).to_have_value("")
    state = page.locator("[data-test=output-state]")
    expect(state).to_contain_text("has been off since")
    expect(state).to_contain_text("Oxygen concentrator")
    expect(page.locator("main")).not_to_contain_text("may run out soon")
    expect(bar).to_contain_text("Off since")
    page.get_by_role("link", name="House").first.click()
    page.wait_for_url(re.compile("/house"))
    expect(bar).to_contain_text("Off since")
    bar.get_by_role("link", name="Outage now").click()
    line.fill("95% 300 W, on")
    page.get_by_role("button", name="Note", exact=True).click()
    expect(state).to_have_count(0)
    expect(bar).to_contain_text("Count on it until")
    line.fill("31%")
    page.get_by_role("button", name="Note", exact=True).click()
    asked = page.locator("[data-test=line-question]")
    expect(asked).to_contain_text("95% before, 31% at")
    asked.get_by_role("button", name="Undo the line").click()
    expect(asked).to_have_count(0)
