"""What is given to others: the brief for quotes, joining and settings, the parts list, the site."""

from __future__ import annotations

from imbuto.core.basics.measures import least_text, length_text, mass_text, temp_text, temps_text
from imbuto.core.basics.units import hours_text, kwh_text, number_text
from imbuto.core.diagram.diagram_layout import layout
from imbuto.core.diagram.joining_diagram import cord_text
from imbuto.core.equipment.catalogue import Station
from imbuto.core.equipment.wires import Cord
from imbuto.core.home.circuits import panel_leg
from imbuto.core.limits.generator_limits import FAR_M
from imbuto.core.plan.itemised_costs import items
from imbuto.core.plan.system import Part, Wiring
from imbuto.formats.printing.drawing import KEY, joining_svg
from imbuto.formats.printing.paper import Bullets, Picture, Sheet, SheetPart, TableRows, Words
from imbuto.services.papers.sheet_registry import Asked, Kind

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
    "An inlet near an engine: at least {far} from every opening, exhaust away?",
)
ALONE_KG = 25.0  # in one piece, for one person; common guidance
WHERE = {"device": "on the device", "app": "in its app", "remote": "on its remote display"}


def brief(a: Asked) -> Sheet:
    """Comparable by construction: everybody is asked the same. Nothing of health or absence, no serials."""
    home, outage = a.documents.home, a.documents.outages[a.outage_id]
    fed = {f.circuit for f in a.plan.feeds.values() if f.circuit}
    rows = []
    for c in home.circuits.values():
        if c.id in fed:
            loads = home.loads_on(c.id)
            start = max((x.run_va + x.start_extra_va for x in loads if x.start_extra_va), default=0.0)
            rows.append(
                (
                    home.panel_name(c.panel),
                    ", ".join(map(str, c.slots)),
                    c.name,
                    f"{c.breaker_a:g} A{' 240 V' if c.poles == 2 and home.service.legs == 2 else ''}",
                    "both" if c.poles == 2 else panel_leg(c),
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
        SheetPart(
            "What is wanted",
            (
                Words(
                    f"{hours_text(outage.goal_hours)} without the grid for the circuits below, in weather like "
                    f"“{outage.name}”."
                ),
                Words("Existing sun: " + (", ".join(sun) if sun else "none that is entered.")),
                Words("To stay within: ________________  Answer by: ________________"),
            ),
        ),
        SheetPart(
            "Circuits to move",
            (TableRows(("panel", "slots", "circuit", "breaker", "leg", "wire", "running", "start"), tuple(rows)),)
            if rows
            else (Words("None: what is wanted hangs on cords."),),
        ),
        SheetPart(
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
        SheetPart("Please answer", (Bullets(QUESTIONS, ticks=True),)),
    )


def diagram(a: Asked) -> Sheet:
    """How everything is joined, drawn from the plan."""
    return a.sheet(
        "diagram",
        "Joining diagram",
        "What is planned; not a wiring plan. Behind the cover an electrician decides, and your local code.",
        SheetPart("", (Picture(joining_svg(layout(a.diagram)), KEY),)),
        wide=True,
    )


def joining(a: Asked) -> Sheet:
    """Every possible feed, and what has to be set where."""
    feeds = tuple((f.target, f.source, f.position) for f in a.diagram.feeds)
    return a.sheet(
        "joining",
        "Joining and settings",
        "Every way a circuit can be fed, and every setting with where it lives",
        SheetPart("Every possible feed", (TableRows(("what", "from", "when"), feeds),) if feeds else ()),
        SheetPart(
            "What is never closed together, and what each takes the other for",
            (Bullets(a.diagram.notes),) if a.diagram.notes else (),
        ),
        SheetPart(
            "Breakers and fuses it wants",
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
        SheetPart("Before the day", (Bullets(a.diagram.preparations, ticks=True),) if a.diagram.preparations else ()),
    )


def _settings(x: Part) -> list[tuple[str, str, str, str, str]]:
    lives = {k: WHERE.get(v, v) for k, v in x.plan.lives.items()}
    name, rows = x.station.name, [("the floor", "floor", f"{100 * x.plan.floor:.0f} %")]
    rows.append(("charging watts", "charge_w", f"{number_text(x.charging_w)} W" if x.charging_w else "not listed"))
    if x.station.auto_off_below_w:
        rows.append(("output off by itself", "auto_off", "off"))
    if x.plan.everyday is not None:
        rows.append(("hold for outages", "hold", f"{100 * x.plan.everyday.hold:.0f} %"))
    return [(name, what, want, lives.get(key, "to be looked up"), "") for what, key, want in rows]


def parts_list(a: Asked) -> Sheet:
    """Owned or to buy, one line a cable. A cord that nobody entered is a line too: unknown is not "not needed"."""
    lines = []
    for x in a.each:
        rated, stands = _rated(x), _standing(x)
        for p in items(x):
            have = f"{p.owned} of {p.count} there" if p.owned else "to buy"
            each = f"{p.price:,.0f} {p.currency}" if p.price else "not priced"
            at = x.source.spot if isinstance(x, Part) and p.name in stands else ""
            lines.append((p.name, rated.get(p.name, ""), str(p.count), each, have, at))
    costs = tuple(
        (c.name, c.kind, f"{c.sum:,.0f} {a.documents.home.site.currency}", c.quote or "")
        for c in a.plan.costs.values()
        if c.counts
    )
    return a.sheet(
        "parts",
        "Parts list",
        "Rating, price, owned or to buy",
        SheetPart(
            "Equipment",
            (TableRows(("what", "rating", "how many", "each", "there or to buy", "at"), tuple(lines)),)
            if lines
            else (),
        ),
        SheetPart(
            "Cables, one line each",
            (TableRows(("what", "gauge and length", "rating", "from"), tuple(cables(a))),) if cables(a) else (),
        ),
        SheetPart("Work and the rest", (TableRows(("what", "kind", "sum", "offer"), costs),) if costs else ()),
    )


def _rated(x: Wiring) -> dict[str, str]:
    """The rating of each piece, by its name."""
    found: dict[str, str] = {}
    if isinstance(x, Part):
        found[x.unit.name] = f"{number_text(x.unit.continuous_w)} W, {kwh_text(x.unit.nominal_wh)}"
        found[x.station.module_name] = kwh_text(x.station.module_wh)
    for e in x.by_device.values():
        found[e.name] = ", ".join(
            t for t in (f"{e.places} places" if e.places else "", f"{e.inlet_a:g} A" if e.inlet_a else "") if t
        )
    if not isinstance(x, Part):
        return found
    if x.generator is not None:
        found[x.generator.name] = f"{number_text(x.generator.running_w)} W"
    for array in x.plan.arrays.values():
        panel = x.panels[array.panel]
        found[f"{panel.name}, {array.name}"] = f"{number_text(panel.w)} W, {number_text(panel.voc_v)} V open"
    for bank in x.plan.banks.values():
        battery = x.batteries[bank.battery]
        found[f"{battery.name}, {bank.name}"] = f"{battery.volts:g} V"
    return found


def _standing(x: Wiring) -> set[str]:
    """What of it stands where its source does."""
    own = {x.unit.name, x.station.module_name} if isinstance(x, Part) else set()
    return own | {e.name for e in x.by_device.values()}


def cables(a: Asked) -> list[tuple[str, str, str, str]]:
    """Every cable of a plan: what it goes to, its gauge and length, what it must bear, where from."""
    found = []
    for x in a.each:
        station = x.station.name if isinstance(x, Part) else "station"
        for f in x.plan.feeds.values():
            if f.circuit is None:
                watts = sum(m.load.count * m.load.run_w for m in x.fed if m.feed.id == f.id)
                found.append(
                    (
                        f"Cord to {x.target_names[f.id]}",
                        cord_words(f.cord),
                        f"{number_text(watts)} W",
                        f"{station}, outlet {f.place}",
                    )
                )
        for d in x.plan.devices.values():
            e = x.equipments.get(d.id)
            if e is not None and e.traits.inlet:
                found.append((f"Cord to the inlet of {e.name}", cord_words(d.cord), f"{e.inlet_a:g} A", station))
            elif e is not None and e.traits.wired:
                found.append((f"Fixed wire to {e.name}", "the electrician's", f"{e.inlet_a:g} A", station))
    return found


def cord_words(cord: Cord | None) -> str:
    """A cord in words."""
    return "not entered" if cord is None else cord_text(cord)


def site(a: Asked) -> Sheet:
    """Where it stands."""
    spot = a.documents.home.household.panel
    rows = [
        (
            x.station.name,
            mass_text(x.station.weight_kg + x.source.modules * x.station.module_weight_kg)
            if x.station.weight_kg
            else "weight not listed",
            _carried(x.station),
            x.source.spot,
            _weather(x.station),
        )
        for x in a.parts
    ]
    known = [
        ("from panel to station", length_text(spot.distance_m) if spot.distance_m else "not measured"),
        ("the way of the wire", spot.route or "not entered"),
        ("the wall", spot.wall or "not entered"),
        ("shelter", spot.shelter or "not entered"),
    ]
    return a.sheet(
        "site",
        "Site preparation",
        "Before anything is delivered",
        SheetPart(
            "What comes",
            (TableRows(("what", "weight", "carried by", "stands", "cold and heat"), tuple(rows)),) if rows else (),
        ),
        SheetPart("The place", (TableRows(("what", "so far"), tuple(known)),)),
        SheetPart(
            "To do",
            (
                Bullets(
                    (
                        "A backing board or a firm, dry, level floor.",
                        "A hand's width of air before and behind its fans.",
                        "An outlet for the charger on a circuit that carries it for hours.",
                        "Nothing above it that can fall or leak.",
                    ),
                    ticks=True,
                ),
            ),
        ),
        SheetPart(
            "To ask the authority",
            (Bullets(tuple(q.format(far=least_text(FAR_M)) for q in SITE_QUESTIONS), ticks=True),),
        ),
    )


def _weather(station: Station) -> str:
    gives = temps_text(station.discharge_min_c, station.discharge_max_c)
    return f"gives from {gives}, charges from {temp_text(station.charge_min_c)}"


def _carried(station: Station) -> str:
    heaviest = max(station.weight_kg, station.module_weight_kg)
    if not heaviest:
        return "to be looked up"
    if heaviest <= ALONE_KG:
        return f"one person, {mass_text(heaviest)} at a time"
    return f"two people{' and its wheels' if station.wheels else ' and a cart'}, {mass_text(heaviest)} in one piece"


def _unwired(a: Asked) -> list[str]:
    fed = {f.circuit for f in a.plan.feeds.values()}
    return [f"the slots of {c.name}" for c in a.documents.home.circuits.values() if c.id in fed and not c.slots][:6]


def _unset(a: Asked) -> list[str]:
    return [
        f"where “{what}” is set" for x in a.parts for _, what, _, where, _ in _settings(x) if where == "to be looked up"
    ][:6]


def _unpriced(a: Asked) -> list[str]:
    missing = [f"the price of {p.name}" for x in a.each for p in items(x) if not p.price]
    return [*missing, *(f"{name[0].lower()}{name[1:]}" for name, said, _, _ in cables(a) if said == "not entered")][:6]


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
        "diagram",
        "Joining diagram",
        "How everything is joined, drawn from the plan",
        "the electrician, every visitor",
        "",
        diagram,
        lambda _: [],
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
    Kind(
        "parts",
        "Parts list",
        "What is there and what is to buy",
        "whoever buys",
        "prices",
        parts_list,
        _unpriced,
        ("csv",),
    ),
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
