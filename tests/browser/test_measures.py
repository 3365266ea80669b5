"""Each demo home reads in its own measures on every screen and paper; fields take either, and are kept metric."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from imbuto.services.desk.demo import demo_file
from tests.breadth import breadth
from tests.browser.conftest import go, take_in
from tests.browser.outages.test_reach import PLACES
from tests.support import ask

# A figure with a unit of the other kind. Wires and equipment's own tables keep their makers' units.
FOREIGN = {
    "saltgrass-house": r"\d\s?(°C|litres?|kg|cm)\b|\d l (of|a|for|are)\b|\b\d?\d:\d\d(?!\d)(?! ?(am|pm|:))",
    "via-dei-glicini": r"\d\s?(°F|ft|lb|gal)\b|\b\d{1,2}(:\d\d)? ?(am|pm)\b",
}
OWN = {"saltgrass-house": "november-windstorm", "via-dei-glicini": "summer-storm"}
APART = ("equipment", "walk")
SHOWN = """() => {
  const main = document.querySelector('main').cloneNode(true)
  main.querySelectorAll('input, textarea, .el-date-editor, [data-iso]').forEach((e) => e.remove())
  return main.innerText + ' ' + [...document.querySelectorAll('main svg text')].map((t) => t.textContent).join(' ; ')
}"""


@pytest.mark.parametrize("home", list(FOREIGN))
def test_no_figure_of_the_other_kind_is_on_any_screen_or_paper(page: Page, server: str, home: str):
    ident = take_in(server, demo_file(home))
    plan = ask(f"{server}/api/homes/{ident}")["plans"][0]["id"]
    pair = f"?plan={plan}&outage={OWN[home]}"
    found: dict[str, list[str]] = {}
    # An eighth of the places in each kind of home, another in the other; the long form looks at all in both.
    for place in breadth(list(PLACES)[list(FOREIGN).index(home) :: 8], list(PLACES)):
        if place not in APART:
            go(page, f"{server}/home/{ident}/{place}{pair}")
            page.wait_for_load_state("networkidle")
            text = page.evaluate(SHOWN)
            seen = [text[max(m.start() - 30, 0) : m.end() + 10] for m in re.finditer(FOREIGN[home], text)]
            if seen:
                found[place] = seen[:5]
    paper = page.request.get(f"{server}/api/homes/{ident}/papers/pack.html{pair}").text()
    words = re.sub(r"<style>.*?</style>|<[^>]+>", " ", paper, flags=re.S)
    if seen := [words[max(m.start() - 30, 0) : m.end()] for m in re.finditer(FOREIGN[home], words)]:
        found["paper"] = seen[:5]
    assert found == {}


def test_a_field_takes_either_measure_and_a_home_may_choose_the_other(page: Page, house: str):
    api = house.replace("/home/", "/api/homes/")
    go(page, f"{house}/goals?plan=ten-place&outage=november-windstorm")
    far = page.get_by_role("textbox", name=re.compile("^to the station’s place"))
    far.fill("35 ft")
    far.press("Tab")
    expect(far).to_have_value("35")
    expect(page.get_by_role("button", name=re.compile("^Undo Panel location"))).to_be_enabled()
    assert ask(api)["home"]["household"]["panel"]["distance_m"] == 10.668
    far.fill("10 m")
    far.press("Tab")
    expect(far).to_have_value("32.81")
    expect(page.get_by_role("button", name=re.compile("^Undo Panel location"))).to_be_enabled()
    far.fill("5 furlongs")
    far.press("Tab")
    expect(page.get_by_role("alert").filter(has_text="isn’t a unit for this. Use m or ft")).to_be_visible()
    assert ask(api)["home"]["household"]["panel"]["distance_m"] == 10
    go(page, f"{house}/house?plan=ten-place&outage=november-windstorm")
    page.get_by_role("button", name="Home facts").click()
    page.get_by_role("combobox", name="Measures").press("Enter")
    page.get_by_role("option", name="°C, m, kg, l; 18:30").click()
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("region", name="Verdict")).to_contain_text("until Wed 7:00")
    expect(page.get_by_role("region", name="Verdict")).not_to_contain_text("am")
    go(page, f"{house}/goals?plan=ten-place&outage=november-windstorm")
    expect(far).to_have_value("10")


@pytest.mark.parametrize("home", list(FOREIGN))
def test_what_a_label_says_in_either_measure_is_kept_metric_and_shown_in_the_homes_own(
    page: Page, server: str, home: str
):
    """Read, taken into the form, kept, and opened again: pounds never become kilograms, nor °F °C, on the way."""
    ident = take_in(server, demo_file(home))
    home_volts = ask(f"{server}/api/homes/{ident}")["home"]["service"]["volts"]
    shown = {"saltgrass-house": ("64", "-4", "113"), "via-dei-glicini": ("29.03", "-20", "45")}[home]
    for name, weight, range_ in (("Jar P", "64 lb", "-4 to 113 °F"), ("Jar K", "29.03 kg", "-20 to 45 °C")):
        go(page, f"{server}/home/{ident}/equipment")
        page.get_by_role("button", name="Add from a label").click()
        page.get_by_label(re.compile("^Paste a data sheet")).fill(
            f"Model: {name}\nCapacity: 2,000 Wh\nAC output: 1,500 W, {home_volts} V, surge 3,000 W for 5 s\n"
            f"Weight: {weight}\nDischarge temperature: {range_}"
        )
        page.get_by_role("button", name="Read it").click()
        sheet = page.get_by_role("region", name="From a data sheet")
        sheet.get_by_label(re.compile("^rated")).check()
        sheet.get_by_role("button", name=re.compile("^Take")).click()
        page.get_by_role("button", name="Keep", exact=True).click()
        row = page.get_by_role("row", name=re.compile(name))
        expect(row).to_be_visible()
        stations = ask(f"{server}/api/homes/{ident}")["home"]["catalogue"]["stations"]
        kept = next(s for s in stations.values() if s["name"] == name)
        assert kept["weight_kg"] == pytest.approx(29.03, abs=0.01)
        assert (kept["discharge_min_c"], kept["discharge_max_c"]) == (-20, 45)
        row.get_by_role("button", name=re.compile("Edit|Change|Look|Open", re.IGNORECASE)).first.click()
        form = page.locator("form.entry")
        expect(form.get_by_label("name", exact=True)).to_have_value(name)
        if (more := form.get_by_role("button", name="more fields")).count():
            more.click()
        for field, value in zip(("weight", "discharge min", "discharge max"), shown, strict=True):
            expect(form.get_by_label(re.compile(f"^{field}")).first).to_have_value(re.compile(rf"^{re.escape(value)}"))
