"""What opens over a page: no fault that axe finds, by day and by lamp; modal means modal; Esc closes it and gives the focus back."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Locator, Page, expect

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
    "Phones": ("house", lambda p: p.get_by_role("button", name="Phones at home")),
    "a new outage": ("house", lambda p: p.get_by_role("button", name=re.compile("^(A new outage|New outage)"))),
    "Keys": ("house", lambda p: p.get_by_role("button", name=re.compile("^Keys"))),
}
BEHIND: dict[str, Opens] = {
    "Turns": lambda p: p.locator(".board, .places, main").get_by_role("button", name=re.compile("Office")),
    "Phones": lambda p: p.get_by_role("button", name=re.compile("^Saltgrass House")),
    "a new outage": lambda p: p.get_by_role("button", name=re.compile("^Outage: November")),
}
INSIDE = (
    "document.activeElement.closest('[role=dialog], .el-popper') !== null || document.activeElement === document.body"
)


@pytest.mark.parametrize("name", DIALOGS)
def test_a_dialog_has_no_fault_keeps_the_focus_and_gives_it_back(page: Page, house: str, name: str):
    place, opens = DIALOGS[name]
    go(page, f"{house}/{place}{TEN}")
    if name in BEHIND:
        BEHIND[name](page).first.press("Enter")
    opens(page).press("Enter")
    dialog = page.get_by_role("dialog").first
    expect(dialog).to_be_visible()
    page.wait_for_load_state("networkidle")
    found = {}
    for theme in ("paper", "lamp"):
        page.evaluate("(theme) => (document.documentElement.dataset.theme = theme)", theme)
        page.wait_for_timeout(350)  # it fades in
        found[theme] = violations(page, "color-contrast" if theme == "lamp" else None)
    assert found == {"paper": [], "lamp": []}
    for n in range(24):
        page.keyboard.press("Shift+Tab" if n % 8 == 7 else "Tab")
        assert page.evaluate(INSIDE), (n, page.evaluate("document.activeElement.outerHTML.slice(0, 200)"))
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
