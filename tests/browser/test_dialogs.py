"""What opens over a page: no fault that axe finds, by day and by lamp; modal means modal; Esc closes it and gives the
focus back."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.breadth import breadth
from tests.browser.axe import violations
from tests.browser.conftest import go

TEN = "?plan=ten-place&outage=november-windstorm"
Opens = Callable[[Page], Locator]
DIALOGS: dict[str, tuple[str, Opens]] = {
    "Home facts": ("house", lambda p: p.get_by_role("button", name="Home facts")),
    "a load": ("house", lambda p: p.get_by_role("button", name=re.compile("^More of")).first),
    "Import meter data": ("house", lambda p: p.get_by_role("button", name="Import meter data")),
    "Propose a set": ("chosen", lambda p: p.get_by_role("button", name="Propose a set")),
    "Turns": ("chosen", lambda p: p.get_by_role("button", name=re.compile("change$")).first),
    "an entry": ("equipment", lambda p: p.get_by_role("button", name="Add from a label")),
    "Every step": ("hours", lambda p: p.get_by_role("button", name="Every step")),
    "Phones": ("house", lambda p: p.get_by_role("button", name="Connect phones")),
    "a new outage": ("house", lambda p: p.get_by_role("button", name=re.compile("^(A new outage|New outage)"))),
    "Keys": ("house", lambda p: p.get_by_role("button", name=re.compile("^Keys"))),
}
BEHIND: dict[str, Opens] = {
    "Turns": lambda p: p.locator(".board, .places, main").get_by_role("button", name=re.compile("Office")),
    "Phones": lambda p: p.get_by_role("button", name=re.compile("^Saltgrass House")),
    "a new outage": lambda p: p.get_by_role("button", name=re.compile("^Outage: November")),
}
STICKS_OUT = """[...document.querySelectorAll('.el-dialog, .el-popper')].filter((d) => d.checkVisibility()).flatMap((d) =>
  [...d.querySelectorAll('input, button, label, .btn')].filter((e) => e.checkVisibility() &&
    e.getBoundingClientRect().right > d.getBoundingClientRect().right + 1).map((e) => e.outerHTML.slice(0, 90)))"""
INSIDE = (
    "document.activeElement.closest('[role=dialog], .el-popper') !== null || document.activeElement === document.body"
)


@pytest.mark.parametrize("place", sorted({place for place, _ in DIALOGS.values()}))
def test_a_dialog_has_no_fault_keeps_the_focus_and_gives_it_back(page: Page, house: str, place: str):
    page.emulate_media(reduced_motion="reduce")  # nothing fades: what is seen half faded has no contrast
    go(page, f"{house}/{place}{TEN}")
    for name, (where, opens) in DIALOGS.items():
        if where == place:
            page.evaluate("document.documentElement.dataset.theme = 'paper'")
            looked_through(page, name, opens)


def looked_through(page: Page, name: str, opens: Opens) -> None:
    if name in BEHIND:
        BEHIND[name](page).first.press("Enter")
    opens(page).press("Enter")
    expect(page.get_by_role("dialog").filter(visible=True).first).to_be_visible()
    page.wait_for_load_state("networkidle")
    found = {}
    for theme in breadth(("lamp",) if len(name) % 2 else ("paper",), ("paper", "lamp")):
        page.evaluate("(theme) => (document.documentElement.dataset.theme = theme)", theme)
        found[theme] = violations(page, "color-contrast" if theme == "lamp" else None)
    assert not any(found.values()), (name, found)
    assert page.evaluate(STICKS_OUT) == [], name
    for n in range(breadth(8, 24)):
        page.keyboard.press("Shift+Tab" if n % 8 == 7 else "Tab")
        assert page.evaluate(INSIDE), (name, n, page.evaluate("document.activeElement.outerHTML.slice(0, 200)"))
    for _ in range(3):  # a list that is open closes first
        page.keyboard.press("Escape")
        page.wait_for_timeout(150)
    expect(page.get_by_role("dialog")).to_have_count(0)
