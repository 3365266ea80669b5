"""Refreshes docs/screenshots from the demo homes, in the real interface."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
ARGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]
TEN = "?plan=ten-place&outage=november-windstorm"
PORT = 18_799
HOUSE = f"http://localhost:{PORT}/home/saltgrass-house"


def open_place(page: Page, place: str, query: str = TEN) -> None:
    page.goto(f"{HOUSE}/{place}{query}")
    page.wait_for_selector("[data-test=verdict]", state="attached")
    page.wait_for_timeout(1200)


def snap(page: Page, name: str) -> None:
    """What a picture is to show has come first: nothing is being worked out any more."""
    page.mouse.move(0, 0)
    page.wait_for_selector(".pouring, [aria-busy=true]", state="detached", timeout=60_000)
    page.wait_for_timeout(700)
    page.screenshot(path=FOLDER / f"{name}.png")


def take(page: Page) -> None:
    open_place(page, "house", f"{TEN}&circuit=kitchen-fridge")
    snap(page, "house")
    open_place(page, "chosen")
    snap(page, "chosen")
    page.locator("[data-circuit=office]").click()
    page.keyboard.press("k")
    snap(page, "chosen-broken")
    page.keyboard.press("Control+z")
    open_place(page, "source")
    snap(page, "source")
    open_place(page, "hours")
    snap(page, "hours")
    open_place(page, "chosen")
    page.get_by_role("button", name="Propose a set").click()
    page.get_by_role("dialog").get_by_role("button", name="Propose", exact=True).click()
    page.wait_for_selector("text=Stays off, and why", timeout=60_000)
    snap(page, "propose")
    open_place(page, "joining", "?plan=two-panels&outage=november-windstorm")
    page.wait_for_selector("text=Six-place manual switch")
    snap(page, "joining")
    open_place(page, "sun", "?plan=switched-panel&outage=august-shutoff")
    page.wait_for_selector("text=Through the year")
    snap(page, "sun")
    open_place(page, "fuel", "?plan=switched-panel&outage=january-ice")
    page.wait_for_selector("text=Ways to fill it")
    snap(page, "fuel")
    open_place(page, "size", "?plan=cords-only&outage=november-windstorm")
    page.get_by_role("button", name="Run everything that can be bought").click()
    page.wait_for_selector("text=What nothing beats", timeout=60_000)
    snap(page, "size")
    open_place(page, "compare")
    page.wait_for_selector("table")
    snap(page, "compare")
    open_place(page, "whole")
    snap(page, "whole")
    open_place(page, "goals")
    snap(page, "goals")
    open_place(page, "meters")
    page.get_by_label("What to plug in").select_option("refrigerator")
    page.get_by_role("button", name="Plug in").click()
    page.get_by_label("a day a minute").check()
    page.wait_for_timeout(6000)
    snap(page, "meters")
    open_place(page, "house", f"{TEN}&circuit=kitchen-fridge")
    page.get_by_role("button", name="Import meter data").click()
    page.get_by_role("button", name="a panel monitor").click()
    page.wait_for_selector(".channel figure")
    snap(page, "import")
    page.goto(f"http://localhost:{PORT}/start")
    page.wait_for_timeout(800)
    snap(page, "start")


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as p:
        command = [sys.executable, "-m", "imbuto.cli", "demo", "--folder", folder, "--port", str(PORT)]
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
        try:
            for _ in range(200):
                try:
                    urllib.request.urlopen(f"http://localhost:{PORT}/api/about", timeout=1).close()
                    break
                except OSError:
                    time.sleep(0.1)
            browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=ARGS)
            take(browser.new_page(viewport={"width": 1280, "height": 800}))
            lamp = browser.new_page(viewport={"width": 1280, "height": 800})
            lamp.add_init_script("localStorage.setItem('imbuto.theme', 'lamp')")
            open_place(lamp, "hours")
            snap(lamp, "hours-lamp")
            phone = browser.new_page(viewport={"width": 390, "height": 844})
            open_place(phone, "chosen")
            snap(phone, "phone")
            phone.goto(f"{HOUSE}/walk{TEN}")
            phone.locator("#depends").fill("Concentrator on its own battery")
            phone.get_by_role("button", name="Begin the walk").click()
            phone.get_by_role("button", name="off, then press here").click()
            snap(phone, "walk")
            browser.close()
        finally:
            server.terminate()
            server.wait()


if __name__ == "__main__":
    main()
