"""Papers as they are asked for, printed, changed and carried away; the work and the binder by keyboard."""

from __future__ import annotations

import io
import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect
from pypdf import PdfReader

from tests.browser.axe import violations
from tests.browser.conftest import go, hand_over, start_outage
from tests.browser.test_screens import figures_without_a_unit

TEN = "?plan=ten-place&outage=november-windstorm"


def test_a_sheet_is_printed_and_told_when_it_is_no_longer_so(page: Page, house: str):
    go(page, f"{house}/papers{TEN}")
    row = page.get_by_role("row", name=re.compile("^Run card"))
    address = row.get_by_role("link", name="Run card as PDF").get_attribute("href")
    printed = page.request.get(f"{house.split('/home/')[0]}{address}")
    assert printed.headers["content-type"] == "application/pdf"
    text = PdfReader(io.BytesIO(printed.body())).pages[0].extract_text()
    assert "Lever 4, Bedroom, concentrator: past OFF to SOURCE." in re.sub(r"\s+", " ", text)
    expect(row).not_to_contain_text("Printed")  # looking at it is no print
    with page.context.expect_page() as opened:
        row.get_by_role("link", name="Run card as PDF").click()
    opened.value.close()
    expect(row).to_contain_text("it says the same today")
    page.reload()
    expect(row).to_contain_text("it says the same today")
    go(page, f"{house}/chosen{TEN}")
    page.get_by_role("link", name="Print").wait_for()
    assert "/papers/chosen.pdf" in (page.get_by_role("link", name="Print").get_attribute("href") or "")
    page.evaluate(
        """async (at) => {
      const home = at.split('/').pop();
      const state = await (await fetch(`/api/homes/${home}`)).json();
      await fetch(`/api/homes/${home}/edits`, {method: 'POST', headers: {'content-type': 'application/json'}, body: JSON.stringify(
        {base_rev: state.rev, edit_id: 'gone', label: 'gone', ops: [{doc: 'ten-place', op: 'remove', path: '/feeds/reef'}]})});
    }""",
        house,
    )
    go(page, f"{house}/papers{TEN}")
    expect(row).to_contain_text("and changed since: no longer powered: Reef tank")
    assert figures_without_a_unit(page)[1] == []


def test_the_file_to_carry_away_opens_with_scripts_off_and_reads_well(
    browser: Browser, page: Page, house: str, tmp_path: Path
):
    go(page, f"{house}/papers{TEN}")
    address = page.get_by_role("link", name="One file to carry away").get_attribute("href")
    sent = page.request.get(f"{house.split('/home/')[0]}{address}")
    assert "attachment" in sent.headers["content-disposition"]
    assert len(sent.body()) < 1_500_000
    file = tmp_path / "papers.html"
    file.write_bytes(sent.body())
    context = browser.new_context(java_script_enabled=False, offline=True, viewport={"width": 390, "height": 844})
    try:
        alone = context.new_page()
        alone.goto(file.as_uri())
        expect(alone.get_by_role("heading", name="Run card")).to_be_visible()
        alone.get_by_role("link", name="Connection diagram").click()
        expect(alone.get_by_role("img", name="How everything is connected")).to_be_in_viewport()
        expect(alone.get_by_role("img", name=re.compile("Charge over the outage"))).to_be_attached()
        expect(alone.get_by_text("not an approval or a permit").first).to_be_attached()
    finally:
        context.close()
    seeing = browser.new_context(
        viewport={"width": 390, "height": 844}
    )  # of its own: the app's policy is not the file's
    try:
        read = seeing.new_page()
        read.goto(file.as_uri())
        assert violations(read) == []
    finally:
        seeing.close()


@pytest.mark.parametrize("place", ["papers", "work", "binder"])
def test_the_places_of_papers_have_no_fault_that_axe_finds(page: Page, house: str, place: str):
    go(page, f"{house}/{place}{TEN}")
    expect(page.get_by_role("table").first).to_be_visible()
    assert violations(page) == []


def test_the_work_is_laid_out_by_keyboard(page: Page, house: str):
    go(page, f"{house}/work?plan=switched-panel&outage=november-windstorm")
    expect(page.get_by_text("No lead times are entered.")).to_be_visible()
    page.get_by_role("heading", name="Lead time").click()
    at_least = page.get_by_role("textbox", name="weeks, at least of activation")
    at_least.fill("2")
    at_least.press("Tab")
    expect(page.get_by_text("choose a maximum that isn't below the minimum")).to_be_visible()
    at_most = page.get_by_role("textbox", name="at most of activation")
    at_most.fill("5")
    at_most.press("Tab")
    at_least.fill("2")
    at_least.press("Tab")
    expect(
        page.get_by_text(
            re.compile("^Ready between .* Its station doesn't count until a test proves that it switches on")
        )
    ).to_be_visible()
    go(page, f"{house}/everyday?plan=switched-panel&outage=november-windstorm")
    expect(page.get_by_text("Its activation isn't proven")).to_be_visible()
    go(page, f"{house}/live?plan=switched-panel&outage=november-windstorm")
    start_outage(page, refused=True)
    expect(page.get_by_role("alert").filter(has_text="its station isn't counted")).to_be_visible()
    go(page, f"{house}/work?plan=switched-panel&outage=november-windstorm")
    minutes = page.get_by_role("textbox", name="Minutes of Switched panel, twelve relays set and wired")
    minutes.fill("90")
    minutes.press("Tab")
    expect(page.get_by_text("2 h 40 m")).to_be_visible()
    page.get_by_role("textbox", name="New task").fill("Shelf in the garage")
    page.keyboard.press("Enter")
    expect(page.get_by_role("textbox", name="task, Shelf in the garage")).to_have_value("Shelf in the garage")
    page.get_by_role("button", name=re.compile("^Undo")).click()
    expect(page.get_by_role("textbox", name="task, Shelf in the garage")).to_have_count(0)


def test_a_paper_is_put_on_file_and_given_out_as_a_download(page: Page, house: str):
    go(page, f"{house}/binder{TEN}")
    asks = "of Warranty of the station"
    hand_over(page, asks, {"name": "page.html", "mimeType": "text/html", "buffer": b"<script>alert(1)</script>"})
    expect(page.get_by_text("Print it to a PDF")).to_be_visible()
    hand_over(page, asks, {"name": "warranty.pdf", "mimeType": "application/pdf", "buffer": b"%PDF-1.7 five years"})
    link = page.get_by_role("link", name=re.compile("warranty.pdf"))
    expect(link).to_be_visible()
    with page.expect_download() as got:
        link.click()
    assert Path(got.value.path()).read_bytes() == b"%PDF-1.7 five years"
    sent = page.request.get(f"{house.split('/home/')[0]}{link.get_attribute('href')}")
    assert sent.headers["content-disposition"].startswith("attachment")
    assert sent.headers["x-content-type-options"] == "nosniff"
    assert "sandbox" in sent.headers["content-security-policy"]
