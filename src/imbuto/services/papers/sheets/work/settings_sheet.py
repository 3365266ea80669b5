"""The sheet of wiring and settings: every possible supply, and what is set where."""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.clock import windows_text
from imbuto.core.basics.units import number_text
from imbuto.core.plan.stop_level import stop_level
from imbuto.core.plan.system import Part
from imbuto.formats.printing.paper import Bullets, Sheet, SheetPart, TableRows
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest

BY_WORDS = {"itself": "by itself", "app": "in its app", "hand": "by hand"}
WHERE = {"device": "on the device", "app": "in its app", "remote": "on its remote display"}


def settings_sheet(a: SheetRequest) -> Sheet:
    """Every way to power a circuit, and what has to be set where."""
    feeds = tuple((f.target, f.source, f.position) for f in a.diagram.feeds)
    return a.sheet(
        "joining",
        "Connections and settings",
        "Every way to power a circuit, and every setting with its place",
        SheetPart("Every way to power a circuit", (TableRows(("what", "from", "when"), feeds),) if feeds else ()),
        SheetPart(
            "What is never on together, and how the parts see each other",
            (Bullets(a.diagram.notes),) if a.diagram.notes else (),
        ),
        SheetPart(
            "Breakers and fuses needed",
            (
                TableRows(
                    ("where", "rating"), tuple((g.place, f"{number_text(g.amps)} A, {g.why}") for g in a.diagram.guards)
                ),
            )
            if a.diagram.guards
            else (),
        ),
        SheetPart(
            "Settings",
            (
                TableRows(
                    ("of", "setting", "required", "lives", "read back"), tuple(r for x in a.parts for r in _settings(x))
                ),
            ),
        ),
        SheetPart(
            "Off at set hours while the grid is there",
            (TableRows(("circuit", "off", "by"), tuple(_scheduled(a))),)
            if a.plan.everyday and a.plan.everyday.circuits
            else (),
        ),
        SheetPart("Before the day", (Bullets(a.diagram.preparations, ticks=True),) if a.diagram.preparations else ()),
    )


def _settings(x: Part) -> list[tuple[str, str, str, str, str]]:
    lives = {k: WHERE.get(v, v) for k, v in x.plan.lives.items()}
    name, rows = x.station.name, [("stop level", "floor", f"{100 * stop_level(x):.0f}%")]
    rows.append(("charging watts", "charge_w", f"{number_text(x.charging_w)} W" if x.charging_w else "not listed"))
    if x.station.auto_off_below_w:
        rows.append(("auto-off", "auto_off", "off"))
    if x.plan.everyday is not None:
        rows.append(("keep for outages", "hold", f"{100 * max(x.plan.everyday.hold, stop_level(x)):.0f}%"))
    return [(name, what, want, lives.get(key, "to look up"), "") for what, key, want in rows]


def _scheduled(a: SheetRequest) -> Iterator[tuple[str, str, str]]:
    for schedule in a.plan.everyday.circuits.values() if a.plan.everyday else ():
        yield a.documents.home.circuits[schedule.id].name, windows_text(schedule.off), BY_WORDS[schedule.by]


def _unset(a: SheetRequest) -> list[str]:
    return [
        f"where “{what}” is set" for x in a.parts for _, what, _, where, _ in _settings(x) if where == "to look up"
    ][:6]


KIND = SheetKind(
    "joining",
    "Connections and settings",
    "Every way to power a circuit, and every setting",
    "the electrician, the person who checks the settings",
    settings_sheet,
    _unset,
)
