"""Every place for every hand: no fault that axe finds, in both themes and at three widths; nothing out of reach at
nine; the first page."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.breadth import breadth
from tests.browser.axe import violations
from tests.browser.conftest import go

REACH = (Path(__file__).parents[1] / "reach.js").read_text()
WIDTHS = (360, 390, 480, 600, 768, 820, 1024, 1100, 1920)
# Controls and figures that a person sees at once, on a screen of 1280 x 800; what is folded is not in view.
MOST_CONTROLS, MOST_FIGURES = 40, 60
IN_VIEW = """(what) => [...document.querySelectorAll('main ' + what.split(',').join(',main '))].filter((e) => {
  const r = e.getBoundingClientRect()
  const seen = e.checkVisibility({ contentVisibilityAuto: true, visibilityProperty: true })
  return seen && (what === "[data-figure]" || e.tabIndex >= 0) && r.width > 0 && r.height > 0 && r.top < innerHeight && r.bottom > 0
}).length"""
CONTROLS = "button,a[href],input,select,textarea,summary,[role=slider]"
FRAME = 0.16  # of a phone's first screen, at most
TEN = "?plan=ten-place&outage=november-windstorm"
PLACES = {
    "house": "House",
    "whole": "Totals and bills",
    "meters": "Measure",
    "goals": "Needs and people",
    "chosen": "What to power",
    "source": "Station",
    "sun": "Solar",
    "fuel": "Generator",
    "equipment": "Equipment list",
    "joining": "Connections",
    "everyday": "Weekly schedule",
    "papers": "Printouts",
    "work": "Work and permits",
    "binder": "Binder",
    "tariffs": "Electricity prices",
    "worth": "Worth it?",
    "keeping": "Upkeep",
    "compare": "Plans by outage",
    "size": "What size to buy",
    "storm": "Switching steps",
    "ready": "Get ready",
    "live": "Outage now",
    "tests": "Tests",
    "book": "Logbook",
    "drill": "Practice",
    "hours": "How long",
    "walk": "Map the breakers",
}


OWN = ("house", "chosen", "source", "hours", "work", "binder", "meters", "goals", "walk")  # looked at on the first plan


SIZES = {"desk": (1280, 800), "tablet": (820, 1180), "phone": (390, 844)}
LOOKS = (("desk", "paper"), ("desk", "lamp"), ("tablet", "paper"), ("phone", "paper"))


@pytest.mark.parametrize("part", range(3))
def test_no_fault_in_any_place_width_or_theme(page: Page, house: str, part: int):
    """Each place opened once: no more than a person takes in at once, and looked at on a desk, a tablet and a phone, and by lamp; then made narrow and wide.
    The short form looks at every other place one way, and at the
    others at one width, in turn."""
    found: dict[tuple[str, int, str], list[str]] = {}
    for i, (place, title) in list(enumerate(PLACES.items()))[part::3]:
        page.set_viewport_size({"width": 1280, "height": 800})
        pair = TEN if place in OWN else TEN.replace("ten-place", "switched-panel")
        (page.goto if place == "walk" else lambda at: go(page, at))(f"{house}/{place}{pair}")
        expect(page).to_have_title(f"{title} · Saltgrass House · Imbuto")
        page.wait_for_load_state("networkidle")
        if page.evaluate("document.documentElement.scrollHeight") > 800 and place != "walk":
            found[place, 1280, "scrolls as a whole"] = []
        shown = page.evaluate(IN_VIEW, CONTROLS), page.evaluate(IN_VIEW, "[data-figure]")
        if shown[0] > MOST_CONTROLS or shown[1] > MOST_FIGURES:
            found[place, 1280, "shows too much at once"] = [f"{shown[0]} controls, {shown[1]} figures"]
        for size, theme in breadth(LOOKS[i % 4 :][:1] if i % 2 else (), LOOKS):
            width, height = SIZES[size]
            page.set_viewport_size({"width": width, "height": height})
            page.evaluate("(theme) => (document.documentElement.dataset.theme = theme)", theme)
            # By lamp the same stands in other colours.
            if faults := violations(page, "color-contrast" if theme == "lamp" else None):
                found[place, width, theme] = faults
        page.evaluate("document.documentElement.dataset.theme = 'paper'")
        for width in breadth(() if i % 2 else WIDTHS[i % 9 :: 9], WIDTHS):
            page.set_viewport_size({"width": width, "height": 844 if width < 600 else 800})
            page.wait_for_timeout(60)  # the columns are laid out anew
            if lost := page.evaluate(REACH):
                found[place, width, "out of reach"] = lost[:4]
    assert found == {}


def test_on_a_phone_the_frame_leaves_the_screen_to_what_it_frames(page: Page, house: str):
    page.set_viewport_size({"width": 390, "height": 844})
    go(page, f"{house}/papers{TEN}")
    frame = page.evaluate(
        "[...document.querySelectorAll('.rail, .bar')].reduce((s, e) => s + e.getBoundingClientRect().height, 0)"
    )
    assert frame / 844 < FRAME
    expect(page.get_by_role("link", name="Papers")).to_be_in_viewport()
    for link in page.locator(".rail a").all():
        assert (link.bounding_box() or {"height": 0})["height"] >= 44 or link.inner_text() == "Imbuto"
    expect(page.locator("kbd:visible")).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Count on 14 h")).click()
    expect(page.get_by_role("dialog").get_by_role("button", name=re.compile("^Undo"))).to_be_visible()


def test_the_first_page_says_what_each_home_does_and_keeps_everything_safe(page: Page, server: str, house: str):
    page.goto(server)
    expect(page).to_have_title("Imbuto")
    name = house.rsplit("/", 1)[-1]
    line = page.get_by_role("listitem").filter(has=page.locator(f'a[href^="/home/{name}/house"]'))
    expect(line).to_contain_text(
        "Cords only in November windstorm: Oxygen concentrator off at Wed 2:30 am; count on 6 h 30 m"
    )
    expect(line).to_contain_text("goal 48 h, not met; never tested")
    assert violations(page) == []
    page.get_by_role("textbox", name=re.compile("Passphrase")).fill("short")
    page.get_by_role("button", name="Back up everything").click()
    expect(page.get_by_role("alert")).to_contain_text("Use at least 8")
    page.get_by_role("textbox", name=re.compile("Passphrase")).fill("")
    with page.expect_download() as got:
        page.get_by_role("button", name="Back up everything").click()
    assert "imbuto.db" in zipfile.ZipFile(io.BytesIO(got.value.path().read_bytes())).namelist()
    line.get_by_role("button", name=re.compile("^Remove")).click()
    dialog = page.get_by_role("dialog", name="Remove this home?")
    expect(dialog).to_contain_text("files will be gone")
    dialog.get_by_role("button", name="Remove").click()
    expect(line).to_have_count(0)
