"""A server with the built interface, Debian's Chromium, and a fresh copy of the demo house for each test."""

from __future__ import annotations

import os
import re
import urllib.request
from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, Locator, Page, expect

from imbuto.services.desk.demo import demo_file
from tests.support import ask, serving

# Patience is no defect of the product: how fast it answers is measured by the bench.
expect.set_options(timeout=40_000)
ARGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return browser_type_launch_args | {"executable_path": os.environ.get("CHROMIUM", "/usr/bin/chromium"), "args": ARGS}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    # Another zone than the demo's: the home's own clock must show all the same.
    return browser_context_args | {"viewport": {"width": 1280, "height": 800}, "timezone_id": "Asia/Tokyo"}


@pytest.fixture(scope="session")
def server(tmp_path_factory) -> Iterator[str]:
    with serving(tmp_path_factory.mktemp("browser")) as (address, _):
        yield address


def take_in(server: str, text: str) -> str:
    request = urllib.request.Request(f"{server}/api/imports", data=text.encode(), method="POST")
    return ask(request)["id"]


@pytest.fixture
def house(server) -> str:
    """The address of a fresh Saltgrass House."""
    return f"{server}/home/{take_in(server, demo_file('saltgrass-house'))}"


@pytest.fixture(autouse=True)
def quiet(context: BrowserContext) -> Iterator[None]:
    """Nothing foreign is asked for, and nothing is complained about in the console."""
    foreign: list[str] = []
    complaints: list[str] = []
    context.on(
        "request",
        lambda r: (
            None
            if r.url.startswith(("http://localhost:", "data:", "blob:", "chrome-extension:", "chrome://"))
            else foreign.append(r.url)
        ),
    )
    context.on("weberror", lambda e: complaints.append(str(e.error)))
    context.on("console", lambda m: complaints.append(m.text) if m.type == "error" and "ERR_" not in m.text else None)
    yield
    assert foreign == []
    # A refused edit answers 409 or 422, which the browser notes by itself.
    assert [c for c in complaints if "status of 4" not in c] == []


def same_words(text: str) -> re.Pattern[str]:
    """Match a text whatever stands between its words."""
    return re.compile(r"\s*".join(map(re.escape, text.split())))


class Bar:
    """The verdict bar as a person reads it."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.words = page.locator(".bar [data-test=verdict]").first

    def text(self) -> str:
        return self.words.inner_text()

    def hours(self) -> float:
        """The hours to count on."""
        match = re.fullmatch(
            r"(?:(\d+) h)?\s*(?:(\d+) m)?", self.words.locator("[data-quantity=count_on]").inner_text()
        )
        assert match, self.text()
        return int(match[1] or 0) + int(match[2] or 0) / 60

    def changes_from(self, before: str) -> str:
        expect(self.words).not_to_have_text(same_words(before))
        return self.text()


@pytest.fixture
def bar(page: Page) -> Bar:
    return Bar(page)


def choose(scope: Page | Locator, label: str | re.Pattern[str], option: str | re.Pattern[str]) -> None:
    """Choose what reads so in a select, as a person does: open it, click the line."""
    field = scope.get_by_role("combobox", name=label, exact=isinstance(label, str))
    field.press("Enter")
    page = scope if isinstance(scope, Page) else scope.page
    page.get_by_role("option", name=option, exact=isinstance(option, str)).locator("visible=true").click()
    expect(page.locator(".el-select-dropdown:visible")).to_have_count(0)


def hand_over(scope: Page | Locator, button: str | re.Pattern[str], files: Any) -> None:
    """Give a file to the button that asks for one."""
    scope.locator(".file").filter(has_text=button).locator("input[type=file]").set_input_files(files)


def go(page: Page, url: str) -> None:
    page.goto(url)
    expect(page.locator(".bar [data-test=verdict], nav[aria-label='In the outage']").first).to_be_attached()


def start_outage(page: Page, charge: int = 100, *, refused: bool = False) -> None:
    """Start an outage, and say what is asked: the charge of each station that is not known."""
    page.get_by_role("button", name="Start an outage").wait_for()
    for field in page.get_by_role("spinbutton", name=re.compile("^Charge of")).all():
        if not field.input_value():
            field.fill(str(charge))
            field.blur()
    page.get_by_role("button", name="Start an outage").click()
    if refused:
        return
    page.wait_for_url(re.compile("/storm"))  # the card comes first
    page.get_by_role("link", name="Outage now", exact=True).first.click()
