"""What a place shows while it waits, and when the server has stopped: told apart, true, and never blank."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.breadth import breadth
from tests.browser.conftest import go
from tests.support import serving

TEN = "?plan=ten-place&outage=november-windstorm"
EMPTY = re.compile(
    r"No (panels|generator|tariff|storm|station|energy|prints?) (yet|is noted)|Nothing is in it", re.IGNORECASE
)
TABS = {
    "House": ["Totals and bills", "Measure", "Needs and people"],
    "Power source": ["Solar", "Generator", "Connections", "Equipment list"],
    "Compare": ["What size to buy"],
    "Everyday use": ["Electricity prices", "Worth it?", "Upkeep"],
    "Papers": ["Work and permits", "Binder"],
    "What to power": [],
    "How long": [],
    "Outages": ["Get ready", "Outage now", "Switching steps", "Practice", "Tests", "Logbook"],
}


# From now on every answer about the home comes three seconds late.
LATE = """(() => {
  const asks = window.fetch
  window.fetch = async (what, how) => {
    if (/api\\/homes\\/[^/]+\\/./.test(what.url ?? what)) await new Promise((go) => setTimeout(go, 6000))
    return asks(what, how)
  }
})()"""
AT_ONCE = {
    "House",
    "Binder",
    "Electricity prices",
    "What to power",
    "Equipment list",
    "Outages",
    "Get ready",
    "Outage now",
}  # made of what is there already


def some(tabs: dict[str, list[str]], of: int) -> list[str]:
    """The places, each with all of its tabs in the long form, and every other of them in the short one."""
    return [name for place, own in tabs.items() for name in [place, *breadth(own[of::4], own)]]


def test_every_place_says_that_it_waits_and_is_never_empty_meanwhile(page: Page, house: str):
    go(page, f"{house}/house{TEN}")
    page.wait_for_load_state("networkidle")
    page.evaluate(LATE)
    found = {}
    for name in some(TABS, 0):
        page.get_by_role("link", name=re.compile(f"^{re.escape(name)}")).first.click()
        here = page.locator("main")
        waiting = here.get_by_role("status").or_(here.locator("[aria-busy=true]")).filter(visible=True)
        # The answers are held back for longer than a busy machine takes to draw the page.
        for _ in range(50 if name not in AT_ONCE else 7):
            waits = waiting.count()
            if waits:
                break
            page.wait_for_timeout(100)
        shown = here.inner_text()
        if EMPTY.search(shown) and name not in AT_ONCE:
            found[name] = f"says that it is empty: {shown}"
        elif here.get_by_role("alert").filter(visible=True).count():
            found[name] = f"says that it failed: {shown}"
        elif not waits and name not in AT_ONCE:
            found[name] = f"does not say that it waits: {shown}"
    assert found == {}, "\n".join(f"{k}: {v[:130]!r} … {v[-90:]!r}" for k, v in found.items())


def test_with_the_server_stopped_every_page_opens_and_says_so(page: Page, tmp_path: Path):
    """By keys and by links; what is known already is shown with it."""
    found = {}
    with serving(tmp_path) as (address, process):
        go(page, f"{address}/home/saltgrass-house/house{TEN}")
        page.wait_for_timeout(4_000)  # the pages' programs come ahead
        process.kill()
        expect(page.get_by_text("The server isn’t responding").first).to_be_visible(timeout=15_000)
        for key, title in {"3": "Power source", "4": "How long", "2": "What to power", "1": "House"}.items():
            page.keyboard.press(key)
            expect(page.get_by_role("heading", level=1)).to_have_text(title)
        for name in some(TABS, 1):
            page.get_by_role("link", name=re.compile(f"^{re.escape(name)}")).first.click()
            here = page.locator("main")
            expect(here.get_by_text("The server isn’t responding").first).to_be_visible()
            waiting = here.get_by_role("status").filter(has_text=re.compile("…$"), visible=True)
            try:
                expect(waiting).to_have_count(0, timeout=12_000)
                expect(here.get_by_role("heading", level=1)).to_be_visible()
            except AssertionError:
                found[name] = f"waits: {here.inner_text()}"
            if EMPTY.search(here.inner_text()) and name not in {"Solar", "Generator", *AT_ONCE}:
                found[name] = f"says that it is empty: {here.inner_text()[:300]}"
    assert found == {}, "\n".join(f"{k}: {v[:130]!r} … {v[-90:]!r}" for k, v in found.items())
