"""The home's tables as CSV: loads, circuits, readings. Rows as they are shown; figures unrounded."""

from __future__ import annotations

from imbuto.core.home.circuits import panel_leg
from imbuto.core.home.home import Home
from imbuto.core.home.loads import mean_w
from imbuto.formats.csv_tables.csvout import table
from imbuto.services.desk.planner import Planner
from imbuto.services.house.measuring import Measuring


def table_csv(planner: Planner, home_id: str, which: str) -> str:
    """One table. Raises NotFound."""
    home = planner.open(home_id).home
    if which == "loads":
        return _loads(home)
    return _circuits(home) if which == "circuits" else _readings(planner, home_id)


def _loads(home: Home) -> str:
    head = (
        "load",
        "circuit",
        "room",
        "kind",
        "needed for",
        "use",
        "how many",
        "average [W]",
        "at rest [W]",
        "running [W]",
        "starting [VA]",
        "power factor",
        "Wh per day",
        "how known",
        "sigma [%]",
        "setting",
        "note",
    )
    rows = [
        (
            x.name,
            home.circuits[x.circuit].name if x.circuit else None,
            x.room,
            x.kind,
            x.purpose,
            x.use.kind,
            x.count,
            x.average_w,
            x.rest_w,
            x.run_w,
            x.start_va,
            x.pf,
            24 * mean_w(x),
            x.evidence,
            100 * x.relative_spread,
            "",
            x.note,
        )
        for x in home.loads.values()
    ]
    return table(head, rows)


def _circuits(home: Home) -> str:
    head = (
        "circuit",
        "panel",
        "slots",
        "breaker [A]",
        "poles",
        "leg",
        "wire",
        "room",
        "traced",
        "protection",
        "shares neutral with",
        "loads",
        "note",
    )
    rows = [
        (
            c.name,
            home.panel_name(c.panel),
            " ".join(map(str, c.slots)),
            c.breaker_a,
            c.poles,
            "both" if c.poles == 2 else panel_leg(c),
            c.wire,
            c.room,
            c.traced,
            c.protection,
            home.circuits[c.neutral_partner].name if c.neutral_partner else None,
            "; ".join(x.name for x in home.loads_on(c.id)),
            c.note,
        )
        for c in home.circuits.values()
    ]
    return table(head, rows)


def _readings(planner: Planner, home_id: str) -> str:
    head = (
        "noted",
        "of",
        "as written",
        "understood as",
        "side",
        "setting",
        "season",
        "average [W]",
        "undone",
        "problem",
    )
    rows = []
    for r in Measuring(planner).readings(home_id, None):
        average = next((g.value for g in r.gives if g.quantity == "average_w"), None)
        rows.append((r.at, r.of, r.raw, r.echo, r.side, r.setting, r.season, average, r.withdrawn, r.problem))
    return table(head, rows)
