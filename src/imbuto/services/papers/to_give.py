"""What is given to others: the brief for quotes, joining and settings, the parts list, the site."""

from __future__ import annotations

from imbuto.core.basics.units import hours_text, number_text
from imbuto.core.plan.joining import Joined
from imbuto.core.plan.money import items
from imbuto.core.storm.ready import charging_w
from imbuto.formats.paper import Bullets, Part, Rows, Sheet, Words
from imbuto.services.papers.sheets import Asked, Kind

QUESTIONS = (
    "What does each item cost: equipment, labour, permit, inspection, delivery, tax?",
    "Which equipment, by rating and listing, and is it listed for this exact panel?",
    "Which circuits move, at which breakers, on which leg; what stays where it is?",
    "How many minutes is each circuit dark during the work, and is the utility's disconnection needed?",
    "Who pulls the permit, and who is there for the inspection?",
    "What is measured and written down before it is handed over?",
    "What may be done by the owner, and what not?",
)
SITE_QUESTIONS = (
    "May it stand there? Clearances, openings, sleeping rooms, heat and cold: ask the authority that inspects.",
    "Does the installed battery's listing allow that room? Unknown is not permission.",
    "An inlet near an engine: at least 6 m from every opening, exhaust away?",
)
WHERE = {"device": "on the device", "app": "in its app", "remote": "on its remote display"}


def brief(a: Asked) -> Sheet:
    """Comparable by construction: everybody is asked the same. Nothing of health or absence, no serials."""
    home, outage = a.documents.home, a.documents.outages[a.outage_id]
    fed = {f.circuit for f in a.plan.feeds.values() if f.circuit}
    rows = []
    for c in home.circuits.values():
        if c.id in fed:
            loads = home.loads_on(c.id)
            start = max((x.start_extra_va for x in loads), default=0.0)
            rows.append(
                (
                    home.panel_name(c.panel),
                    ", ".join(map(str, c.slots)),
                    c.name,
                    f"{c.breaker_a:g} A{' 240 V' if c.poles == 2 else ''}",
                    c.wire or "to be looked at",
                    f"{number_text(sum(x.count * x.run_w for x in loads))} W",
                    f"{start / 1000:.1f} kVA" if start >= 300 else "",
                )
            )
    service = "120/240 V" if home.service.legs == 2 else f"{home.service.volts} V"
    sun = [f"{x.name}: {x.count} panels" for x in a.plan.arrays.values() if x.owned]
    return a.sheet(
        "brief",
        "Brief for quotes",
        f"{service} service, {home.service.main_a:g} A main, {home.service.slots or '?'} slots",
        Part(
            "What is wanted",
            (
                Words(
                    f"{hours_text(outage.goal_hours)} without the grid for the circuits below, in weather like “{outage.name}”."
                ),
                Words("Existing sun: " + (", ".join(sun) if sun else "none that is entered.")),
            ),
        ),
        Part(
            "Circuits to move",
            (Rows(("panel", "slots", "circuit", "breaker", "wire", "running", "start on top"), tuple(rows)),)
            if rows
            else (Words("None: what is wanted hangs on cords."),),
        ),
        Part(
            "Photographs, taken with covers on",
            (
                Bullets(
                    (
                        "The panel with its door open and its cover on.",
                        "Its directory.",
                        "The wall beside it, with a tape measure in the picture.",
                        "Where the station would stand, and the way to it.",
                        "The meter.",
                    ),
                    ticks=True,
                ),
            ),
        ),
        Part("Please answer", (Bullets(QUESTIONS, ticks=True),)),
    )


def joining(a: Asked) -> Sheet:
    """Every possible feed, and what has to be set where."""
    feeds = tuple((f.target, f.source, f.position) for f in a.diagram.feeds)
    return a.sheet(
        "joining",
        "Joining and settings",
        "Every way a circuit can be fed, and every setting with where it lives",
        Part("Every possible feed", (Rows(("what", "from", "when"), feeds),) if feeds else ()),
        Part(
            "What is never closed together, and what each takes the other for",
            (Bullets(a.diagram.notes),) if a.diagram.notes else (),
        ),
        Part(
            "Breakers and fuses it wants",
            (
                Rows(
                    ("where", "rating"), tuple((g.place, f"{number_text(g.amps)} A, {g.why}") for g in a.diagram.guards)
                ),
            )
            if a.diagram.guards
            else (),
        ),
        Part(
            "Settings",
            (
                Rows(
                    ("of", "setting", "required", "lives", "read back"), tuple(r for x in a.each for r in _settings(x))
                ),
            ),
        ),
        Part("Before the day", (Bullets(a.diagram.preparations, ticks=True),) if a.diagram.preparations else ()),
    )


def _settings(x: Joined) -> list[tuple[str, str, str, str, str]]:
    if x.station is None or x.source is None:
        return []
    lives = {k: WHERE.get(v, v) for k, v in x.plan.lives.items()}
    name, rows = x.station.name, [("the floor", "floor", f"{100 * x.plan.floor:.0f} %")]
    rows.append(("charging watts", "charge_w", f"{number_text(charging_w(x))} W" if charging_w(x) else "not listed"))
    if x.station.auto_off_below_w:
        rows.append(("output off by itself", "auto_off", "off"))
    if x.plan.everyday is not None:
        rows.append(("hold for outages", "hold", f"{100 * x.plan.everyday.hold:.0f} %"))
    return [(name, what, want, lives.get(key, "to be looked up"), "") for what, key, want in rows]


def parts_list(a: Asked) -> Sheet:
    """Owned or to buy, one line a cable."""
    lines = []
    for x in a.each:
        for p in items(x):
            have = f"{p.owned} of {p.count} there" if p.owned else "to buy"
            lines.append((p.name, str(p.count), f"{p.price:,.0f} {p.currency}" if p.price else "not priced", have))
    cables = [
        (
            f"Cord to {x.target_names[f.id]}",
            f"{f.cord.wire}, {f.cord.length_m:g} m",
            x.station.name if x.station else "",
        )
        for x in a.each
        for f in x.plan.feeds.values()
        if f.cord is not None
    ]
    cables += [
        (f"Cord to {d.equipment}", f"{d.cord.wire}, {d.cord.length_m:g} m", "inlet")
        for d in a.plan.devices.values()
        if d.cord is not None
    ]
    costs = tuple(
        (c.name, c.kind, f"{c.sum:,.0f} {a.documents.home.site.currency}", c.quote or "")
        for c in a.plan.costs.values()
        if c.counts
    )
    return a.sheet(
        "parts",
        "Parts list",
        "Rating, price, owned or to buy",
        Part("Equipment", (Rows(("what", "how many", "each", "there or to buy"), tuple(lines)),) if lines else ()),
        Part("Cables, one line each", (Rows(("what", "gauge and length", "at"), tuple(cables)),) if cables else ()),
        Part("Work and the rest", (Rows(("what", "kind", "sum", "offer"), costs),) if costs else ()),
    )


def site(a: Asked) -> Sheet:
    """Where it stands."""
    spot = a.documents.home.household.panel
    rows = [
        (
            x.station.name,
            f"{x.station.weight_kg + x.source.modules * x.station.module_weight_kg:g} kg"
            if x.station.weight_kg
            else "weight not listed",
            "two people or wheels" if x.station.weight_kg > 25 and not x.station.wheels else "",
            x.source.spot,
            f"gives from {x.station.discharge_min_c:g} to {x.station.discharge_max_c:g} °C, charges from {x.station.charge_min_c:g} °C",
        )
        for x in a.each
        if x.station is not None and x.source is not None
    ]
    known = [
        ("from panel to station", f"{spot.distance_m:g} m" if spot.distance_m else "not measured"),
        ("the way of the wire", spot.route or "not entered"),
        ("the wall", spot.wall or "not entered"),
        ("shelter", spot.shelter or "not entered"),
    ]
    return a.sheet(
        "site",
        "Site preparation",
        "Before anything is delivered",
        Part(
            "What comes",
            (Rows(("what", "weight", "carried by", "stands", "cold and heat"), tuple(rows)),) if rows else (),
        ),
        Part("The place", (Rows(("what", "so far"), tuple(known)),)),
        Part(
            "To do",
            (
                Bullets(
                    (
                        "A backing board or a firm, dry, level floor.",
                        "A hand's width of air before and behind its fans.",
                        "An outlet for the charger on a circuit that bears it for hours.",
                        "Nothing above it that can fall or leak.",
                    ),
                    ticks=True,
                ),
            ),
        ),
        Part("To ask the authority", (Bullets(SITE_QUESTIONS, ticks=True),)),
    )


def _unwired(a: Asked) -> list[str]:
    fed = {f.circuit for f in a.plan.feeds.values()}
    return [f"the slots of {c.name}" for c in a.documents.home.circuits.values() if c.id in fed and not c.slots][:6]


def _unset(a: Asked) -> list[str]:
    return [
        f"where “{what}” is set" for x in a.each for _, what, _, where, _ in _settings(x) if where == "to be looked up"
    ][:6]


def _unpriced(a: Asked) -> list[str]:
    return [f"the price of {p.name}" for x in a.each for p in items(x) if not p.price][:6]


def _unsited(a: Asked) -> list[str]:
    spot = a.documents.home.household.panel
    return [
        w
        for w, known in (("the distance to the panel", spot.distance_m), ("the way of the wire", spot.route))
        if not known
    ]


KINDS = (
    Kind(
        "brief",
        "Brief for quotes",
        "The same question to everybody who is asked",
        "electricians",
        "nothing of health or absence",
        brief,
        _unwired,
    ),
    Kind(
        "joining",
        "Joining and settings",
        "Every possible feed; what is set where",
        "the electrician, whoever reads settings back",
        "",
        joining,
        _unset,
    ),
    Kind("parts", "Parts list", "What is there and what is to buy", "whoever buys", "prices", parts_list, _unpriced),
    Kind(
        "site",
        "Site preparation",
        "Where it stands, and what to ask before",
        "whoever carries it, the authority",
        "",
        site,
        _unsited,
    ),
)
