"""Refreshes docs/screenshots from the demo homes, in the real interface."""

from __future__ import annotations

import sys
import tempfile
from datetime import datetime, timedelta
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.support import serving

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
ARGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]
TEN = "?plan=ten-place&outage=november-windstorm"
PORT = 18_799
HOUSE = f"http://localhost:{PORT}/home/saltgrass-house"


def open_place(page: Page, place: str, query: str = TEN) -> None:
    page.goto(f"{HOUSE}/{place}{query}")
    # On a phone in an outage the foot is the places that matter then.
    page.wait_for_selector("[data-test=verdict], nav[aria-label='In the outage']", state="attached")
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
    open_place(page, "source")
    snap(page, "source")
    open_place(page, "hours")
    snap(page, "hours")
    open_place(page, "joining", "?plan=two-panels&outage=november-windstorm")
    page.wait_for_selector("text=Six-place manual switch")
    snap(page, "joining")
    open_place(page, "sun", "?plan=switched-panel&outage=august-shutoff")
    page.wait_for_selector("text=Through the year")
    snap(page, "sun")
    open_place(page, "size", "?plan=cords-only&outage=november-windstorm")
    page.get_by_role("button", name="Run everything that can be bought").click()
    page.wait_for_selector("text=Best choices", timeout=60_000)
    snap(page, "size")
    open_place(page, "compare")
    page.wait_for_selector("table")
    snap(page, "compare")
    open_place(page, "work", "?plan=two-panels&outage=november-windstorm")
    page.wait_for_selector("text=Lead time")
    snap(page, "work")
    open_place(page, "papers")
    page.wait_for_selector("text=Run card")
    snap(page, "papers")
    panel = "?plan=switched-panel&outage=november-windstorm"
    open_place(page, "everyday", panel)
    page.wait_for_selector("text=saved per year", timeout=60_000)
    page.wait_for_timeout(1500)
    snap(page, "everyday")
    open_place(page, "worth", panel)
    page.wait_for_selector("text=Item by item")
    snap(page, "worth")
    open_place(page, "storm")
    page.wait_for_selector("article li")
    snap(page, "storm")
    open_place(page, "drill", "?plan=ten-place&outage=november-windstorm")
    page.wait_for_selector("text=The grid is off")
    snap(page, "drill")
    open_place(page, "ready")
    page.get_by_role("button", name="Ask the simulated feed").click()
    page.wait_for_selector("text=High wind along the bay")
    snap(page, "ready")
    page.goto(f"http://localhost:{PORT}/start")
    for name in ("Refrigerator", "Internet", "Lamps", "Breathing machine"):
        page.get_by_role("button", name=name, exact=True).click()
    page.get_by_text("Three sizes to choose from").wait_for()
    page.wait_for_timeout(800)
    snap(page, "start")


def five_hours_in(page: Page) -> None:
    """An outage that was begun late."""
    live = f"http://localhost:{PORT}/api/homes/saltgrass-house/live"
    now = datetime.fromisoformat(page.request.get(f"{live}?outage=november-windstorm").json()["now"])
    began, back = now - timedelta(hours=5), now + timedelta(hours=16)
    body = {"plan": "ten-place", "outage": "november-windstorm", "edit_id": "out", "began": began.isoformat()}
    told = page.request.post(live, data=body | {"back_by": back.isoformat()})
    if not told.ok:
        raise RuntimeError(told.text())


def remembered(page: Page) -> None:
    """A run-down that is done, and what a home of a year or two remembers."""
    home = f"http://localhost:{PORT}/api/homes/saltgrass-house"
    state = page.request.get(home).json()
    live = next(iter(state["home"]["lived"].values()))
    trials = page.request.get(f"{home}/trials?plan=ten-place&outage=november-windstorm").json()
    mark, begun = trials[0]["mark"], datetime(2026, 11, 2, 9)

    def row(line: str, hours: float, value: float) -> dict[str, object]:
        at = (begun + timedelta(hours=hours)).isoformat()
        return {"id": f"{line}{hours:g}", "line": line, "at": at, "value": value}

    rows = [row("nothing", 2.7 * i, 99 - i) for i in range(11)] + [row("load_w", 29, 1180)]
    rows += [row("loaded", 29.5 + 0.092 * i, 88 - i) for i in range(11)]
    trial = {
        "id": "run-down",
        "procedure": "rundown",
        "plan": "ten-place",
        "joined": mark,
        "began": begun.isoformat(),
        "who": "Ada",
        "ended": datetime(2026, 11, 3, 16).isoformat(),
        "rows": {r["id"]: r for r in rows},
    }
    ops = [{"doc": "home", "op": "add", "path": "/trials/run-down", "value": trial}]
    for n, (day, lasted, fell) in enumerate(
        [(datetime(2025, 12, 4, 3), 9.5, 0.055), (datetime(2026, 2, 17, 19), 14.5, 0.062)]
    ):
        notes = {
            f"n{i}": {
                "id": f"n{i}",
                "source": "main",
                "at": (day + timedelta(hours=h)).isoformat(),
                "charge": round(1 - fell * h, 2),
            }
            for i, h in enumerate((3, 6, 9))
        }
        past = live | {
            "began": day.isoformat(),
            "ended": (day + timedelta(hours=lasted)).isoformat(),
            "notes": notes,
            "back_by": None,
        }
        ops.append({"doc": "home", "op": "add", "path": f"/lived/past-{n}", "value": past})
    body = {"base_rev": state["rev"], "edit_id": "remembered", "label": "What was", "ops": ops}
    told = page.request.post(f"{home}/edits", data=body)
    if not told.ok:
        raise RuntimeError(told.text())


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, serving(Path(folder), port=PORT), sync_playwright() as p:
        browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=ARGS)
        take(browser.new_page(viewport={"width": 1280, "height": 800}, timezone_id="America/Los_Angeles"))
        phone = browser.new_page(viewport={"width": 390, "height": 844})
        phone.add_init_script(
            "localStorage.setItem('imbuto.theme', location.pathname.endsWith('/live') ? 'lamp' : 'paper')"
        )
        five_hours_in(phone)
        open_place(phone, "live")
        phone.get_by_label("Gauge line").fill("61% 410 W in 0 W")
        phone.keyboard.press("Enter")
        phone.wait_for_selector("text=1 line noted")
        snap(phone, "live")
        phone.get_by_role("button", name="Power is back").click()
        phone.get_by_role("button", name="End the outage").click()
        phone.wait_for_selector("text=Charge again")
        desk = browser.new_page(viewport={"width": 1280, "height": 800})
        remembered(desk)
        open_place(desk, "tests")
        desk.get_by_role("button", name="A run-down at two levels").click()
        snap(desk, "tests")
        open_place(desk, "book")
        desk.get_by_role("button", name="Estimate and outcome").click()
        snap(desk, "book")
        browser.close()


if __name__ == "__main__":
    main()
