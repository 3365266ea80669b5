"""The parts list: what is owned, what is to buy, with ratings and prices."""

from __future__ import annotations

from imbuto.core.advice.carried_uses import carried_uses
from imbuto.core.basics.units import kwh_text, number_text
from imbuto.core.diagram.joining_diagram import cord_text
from imbuto.core.equipment.wires import Cord, wires
from imbuto.core.plan.entered.cost_entries import KIND_WORDS
from imbuto.core.plan.itemised_costs import items, total
from imbuto.core.plan.system import Part, Wiring
from imbuto.formats.printing.paper import Paragraph, Sheet, SheetPart, TableRows
from imbuto.services.papers.sheet_request import SheetKind, SheetRequest


def parts_list(a: SheetRequest) -> Sheet:
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
        (c.name, KIND_WORDS[c.kind], f"{c.sum:,.0f} {a.documents.home.site.currency}", c.quote or "")
        for c in a.plan.costs.values()
        if c.counts
    )
    return a.sheet(
        "parts",
        "Parts list",
        "Rating, price, owned or to buy",
        SheetPart(
            "Equipment",
            (
                TableRows(("what", "rating", "how many", "each", "owned or to buy", "at"), tuple(lines)),
                Paragraph(_in_all(a), strong=True),
            )
            if lines
            else (),
        ),
        SheetPart(
            "Cables",
            (TableRows(("what", "gauge and length", "rating", "from"), tuple(cables(a))),) if cables(a) else (),
        ),
        SheetPart(
            "Fuses and breakers",
            (TableRows(("what", "rating", "for"), tuple(guards)),) if (guards := protections(a)) else (),
        ),
        SheetPart("Work and other costs", (TableRows(("what", "kind", "sum", "offer"), costs),) if costs else ()),
        SheetPart(
            "Other uses",
            tuple(
                Paragraph(f"{u.use.name}. {u.says} {u.problem}".strip())
                for u in carried_uses(a.plan, a.parts, a.documents.home.site.currency)
            ),
        ),
    )


def _rated(x: Wiring) -> dict[str, str]:
    """The rating of each piece, by its name."""
    found: dict[str, str] = {}
    if isinstance(x, Part):
        found[x.unit.name] = f"{number_text(x.unit.as_built().continuous_w)} W, {kwh_text(x.unit.nominal_wh)}"
        found[x.station.module_name] = kwh_text(x.station.module_wh)
    for e in x.by_device.values():
        found[e.name] = ", ".join(
            t for t in (f"{e.places} slots" if e.places else "", f"{e.inlet_a:g} A" if e.inlet_a else "") if t
        )
    if not isinstance(x, Part):
        return found
    if x.generator is not None:
        found[x.generator.name] = f"{number_text(x.generator.running_w)} W"
    for array in x.plan.arrays.values():
        panel = x.panels[array.panel]
        found[f"{panel.name}, {array.name}"] = f"{number_text(panel.w)} W, {number_text(panel.voc_v)} V open"
    for bank in x.plan.banks.values():
        for branch in bank.branches:
            battery = x.batteries[branch.battery]
            fuse = f", fuse {branch.fuse_a:g} A" if branch.fuse_a else ""
            found[f"{battery.name}, {bank.name}"] = f"{battery.volts:g} V, {battery.ah:g} Ah{fuse}"
    return found


def _standing(x: Wiring) -> set[str]:
    """What of it stands where its source does."""
    own = {x.unit.name, x.station.module_name} if isinstance(x, Part) else set()
    return own | {e.name for e in x.by_device.values()}


def cables(a: SheetRequest) -> list[tuple[str, str, str, str]]:
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
        for bank in x.plan.banks.values():
            found.append(
                (
                    f"Cable of {bank.name} to solar input {bank.input} of {station}",
                    "the manufacturer's, or sized for its fuse",
                    f"{bank.amps:g} A DC",
                    bank.name,
                )
            )
    return found


def protections(a: SheetRequest) -> list[tuple[str, str, str]]:
    """Every fuse and breaker that a plan needs: what it is, its rating, what it is for."""
    found = []
    for x in a.each:
        for d in x.plan.devices.values():
            e = x.equipments.get(d.id)
            if e is not None and e.places and not e.in_panel:
                found.append((f"Breakers of {e.name}", f"{e.place_breaker_a or e.place_a:g} A", f"{e.places} slots"))
        for f in x.plan.feeds.values():
            circuit = x.home.circuits.get(f.circuit or "")
            if circuit is not None:
                poles = "two-pole " if circuit.poles == 2 else ""
                found.append((f"Breaker of {circuit.name}", f"{poles}{circuit.breaker_a:g} A", "in the panel"))
        for bank in x.plan.banks.values():
            fuse = f"{bank.fuse_a:g} A" if bank.fuse_a else "not entered"
            found.append((f"Fuse for {bank.name}", fuse, "at its terminals, rated for DC at its voltage"))
    return list(dict.fromkeys(found))


def _in_all(a: SheetRequest) -> str:
    """What is still to be paid, what is there, and what has no price."""
    lines = [p for x in a.each for p in items(x)]
    buy = [p for p in lines if p.owned < p.count]
    unpriced = [p.name for p in buy if not p.price]
    sums = {c: total([p for p in buy if p.currency == c]) for c in dict.fromkeys(p.currency for p in buy if p.price)}
    pay = " and ".join(f"{value:,.0f} {currency}" for currency, value in sums.items()) or "nothing with a price"
    more = f", plus items without a price: {', '.join(unpriced)}" if unpriced else ""
    there = sum(min(p.owned, p.count) for p in lines)
    return f"To buy: {pay}{more}. Already owned: {there} of {sum(p.count for p in lines)} pieces."


def cord_words(cord: Cord | None) -> str:
    """A cord in words, with what its wire carries."""
    return "not entered" if cord is None else f"{cord_text(cord)}, {wires()[cord.wire].amps:g} A"


def _unpriced(a: SheetRequest) -> list[str]:
    missing = [f"the price of {p.name}" for x in a.each for p in items(x) if not p.price]
    return [*missing, *(f"{name[0].lower()}{name[1:]}" for name, said, _, _ in cables(a) if said == "not entered")][:6]


KIND = SheetKind(
    "parts",
    "Parts list",
    "Parts you have and parts to buy",
    "the person who buys",
    parts_list,
    _unpriced,
    ("csv",),
)
