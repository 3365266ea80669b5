"""Accessibility looked at by a well-known engine, in the page as it stands."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Page

ENGINE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
RUN = """(only) => axe.run(document, {resultTypes: ['violations'], ...(only && {runOnly: only})}).then((r) =>
  r.violations.map((v) => [v.id, v.nodes.map((n) => [n.target.join(' '), n.failureSummary])]))"""


def violations(page: Page, only: str | None = None) -> list[str]:
    """Everything it finds, a line each; only: by one of its rules; the engine is put in by the debugger, past the
    page's own policy."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(ENGINE.read_text() + "; 0")
    return [f"{rule}: {at} {why}" for rule, nodes in page.evaluate(RUN, only) for at, why in nodes]
