"""Limits of what is joined more than once: panels behind feeders, devices behind devices, whole panels, banks, stations that
wait or hang behind another. Planning aids from common practice; your local code and a licensed electrician decide."""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.units import number_text
from imbuto.core.equipment.catalogue import Battery, Station
from imbuto.core.equipment.wires import GOOD_DROP, MOST_DROP, drop_v, known_wire
from imbuto.core.home.circuits import SubPanel
from imbuto.core.limits.carrying import amps_held, on_leg
from imbuto.core.limits.instants import instants
from imbuto.core.limits.protection import neutral_pairs
from imbuto.core.limits.registry import Case, Row
from imbuto.core.limits.solar_inputs import START_SHARE
from imbuto.core.plan.joining import Joined, ahead_of, circuits_beneath
from imbuto.core.plan.limit import Limit, Severity
from imbuto.core.plan.plan import Device, Feed
from imbuto.core.plan.sources import Bank

FUSE_SHARE = 1.25  # of the amps a bank gives, that its fuse must at least carry; common practice
FLAT_SHARE = 0.9  # of its nominal volts a bank falls to near its floor; planning default


def _yes_no(
    ident: str, family: str, title: str, ok: bool, sentence: str, severity: Severity = "refuse", tick: str = ""
) -> Limit:
    return Limit(
        id=ident, family=family, title=title, kind="yes_no", ok=ok, severity=severity, sentence=sentence, tick=tick,
        counts=True,
    )  # fmt: skip


def _ticked(joined: Joined, tick: str) -> bool:
    return tick in joined.plan.ticks


# 20: panels and feeders


def _feeders(c: Case) -> Iterator[Limit]:
    """Each feeder that this source's amps run through: its breaker, its wire, its neutral, the volts it loses."""
    joined, station = c.joined, c.station
    for panel in joined.home.panels.values():
        rows = [i for i, f in enumerate(c.now.fed) if _through(joined, f.feed, panel)]
        if rows:
            yield from _feeder(c, station, panel, rows)


def _through(joined: Joined, feed: Feed, panel: SubPanel) -> bool:
    """Whether a fed circuit's amps run through the feeder of a panel: it lies behind it, and its device does not."""
    circuit = joined.home.circuits.get(feed.circuit or "")
    device = joined.plan.device_of(feed)
    if circuit is None or device is None or panel.id not in joined.home.way_to(circuit.panel):
        return False
    return panel.id not in joined.home.way_to(device.panel)


def _feeder(c: Case, station: Station, panel: SubPanel, rows: list[int]) -> Iterator[Limit]:
    now, name = c.now, f"The feeder of {panel.name}"
    volts, european = station.leg_volts, station.leg_volts == 230
    held = amps_held(now, full_rating=european)
    counts = [len(f.legs) for f in now.fed]
    each, plain = {}, {}
    for leg in station.legs:
        share = on_leg(now, leg)[:, None]
        each[leg] = now.most(held * share * [[n] for n in counts], rows)
        plain[leg] = now.most(now.va / volts * share, rows)
    worst = max(each, key=lambda leg: each[leg])
    yield Limit(
        id=f"feeder:{panel.id}", family="feeder", title=f"Feeder of {panel.name}", unit="A", used=each[worst],
        limit=panel.feeder_a, ok=each[worst] <= panel.feeder_a, leg=worst if len(station.legs) > 1 else None,
        sentence=f"{name}: {number_text(each[worst])} of {panel.feeder_a:g} A"
        f"{'' if european else ', lasting loads counted 1.25 times'}.",
    )  # fmt: skip
    wire = known_wire(panel.wire)
    if wire is None:
        yield _yes_no(
            f"feeder_wire:{panel.id}", "not_known_feeder", f"Wire of the feeder of {panel.name}", False,
            f"{name}: its wire is not entered, so what it carries and loses is not known.", "unknown",
        )  # fmt: skip
        return
    bears = wire.fixed_a or wire.amps
    yield Limit(
        id=f"feeder_wire:{panel.id}", family="feeder_wire", title=f"Wire of the feeder of {panel.name}", unit="A",
        severity="refuse", used=panel.feeder_a, limit=bears, ok=panel.feeder_a <= bears, counts=True, evidence="default",
        sentence=f"{name} has a {panel.feeder_a:g} A breaker before {wire.name}, which carries {bears:g} A"
        + ("." if panel.feeder_a <= bears else ": the breaker would not open before it burns."),
    )  # fmt: skip
    thin = known_wire(panel.neutral_wire) or wire
    carries = thin.fixed_a or thin.amps
    neutral = max(plain.values()) if len(plain) > 1 else plain[worst]
    yield Limit(
        id=f"feeder_neutral:{panel.id}", family="feeder_neutral", title=f"Neutral of the feeder of {panel.name}", unit="A",
        severity="refuse", used=neutral, limit=carries, ok=neutral <= carries, counts=True, evidence="default",
        sentence=f"{name}: its neutral carries up to {number_text(neutral)} A, "
        + ("the larger leg, as the other may be off" if len(plain) > 1 else "all of it on one leg")
        + f"; {thin.name} bears {carries:g} A.",
    )  # fmt: skip
    amps = max(plain.values())
    lost = drop_v(wire.ohm_per_km, panel.length_m, amps) / volts
    yield Limit(
        id=f"feeder_drop:{panel.id}", family="feeder_drop", title=f"Volts lost to {panel.name}", unit="%",
        used=100 * lost, limit=100 * MOST_DROP, ok=lost <= MOST_DROP, severity="caution", evidence="default",
        sentence=f"{panel.length_m:g} m of {wire.name} lose {number_text(100 * lost)} % at {number_text(amps)} A; "
        f"{100 * GOOD_DROP:g} % is good, {100 * MOST_DROP:g} % the end.",
    )  # fmt: skip


def _right_panel(c: Case) -> Iterator[Limit]:
    """A switch beside one panel cannot move the wires of another."""
    joined, device = c.joined, c.joined.device
    if device is None:
        return
    home, whole = joined.home, joined.equipment.traits.whole_panel
    for feed in joined.plan.feeds.values():
        circuit = home.circuits.get(feed.circuit or "")
        if circuit is None:
            continue
        there = circuit.panel == device.panel or (
            whole and (device.panel is None or device.panel in home.way_to(circuit.panel))
        )
        if not there:
            yield _yes_no(
                f"panel:{feed.id}", "wrong_panel", f"{circuit.name}: another panel", False,
                f"{circuit.name} is in {home.panel_name(circuit.panel)}, and {joined.equipment.name} stands at "
                f"{home.panel_name(device.panel)}: its wire does not come there. Set the device at that panel, or take one "
                "ahead of the feeder.",
            )  # fmt: skip


# 21: devices behind devices, and whole panels


def _devices(c: Case) -> Iterator[Limit]:
    plan, joined = c.joined.all_of_it, c.joined
    at = {(d.panel, d.behind): d for d in reversed(plan.devices.values())}
    for device in joined.plan.devices.values():
        yield from _bypassed(joined, device)
        other = at.get((device.panel, device.behind))
        if other is not None and other.id != device.id and _both_whole(joined, device, other):
            yield _yes_no(
                f"same_place:{device.id}", "same_place", "Two devices in one place", False,
                f"Two devices that part the same panel from the grid stand at {joined.home.panel_name(device.panel)}: each would "
                "hold its own source to it. One goes behind the other, or at another panel.",
            )  # fmt: skip
        if device.behind is not None:
            yield from _nested(c, device)
    yield from _all_on_upper(c)


def _both_whole(joined: Joined, one: Device, other: Device) -> bool:
    """Whether both put the very panel they stand at on their source, so that its bars would have two."""
    kinds = [joined.equipments[d.id].traits for d in (one, other)]
    return all(t.in_panel for t in kinds)


def _bypassed(joined: Joined, device: Device) -> Iterator[Limit]:
    equipment = joined.by_device[device.id]
    if device.bypassed:
        can = equipment.traits.bypass
        yield _yes_no(
            f"bypassed:{device.id}", "bypassed", f"{equipment.name}: bypass", False,
            f"{equipment.name} is out by its service bypass: the grid goes past it, and in an outage nothing behind it is fed."
            if can else f"{equipment.name} has no service bypass: out for repair, nothing behind it is fed, grid or not.",
            "broken",
        )  # fmt: skip


def _nested(c: Case, device: Device) -> Iterator[Limit]:
    """A device behind another: what is behind it may run on that one's source, through one place of it."""
    joined = c.joined
    up = joined.all_of_it.devices.get(device.behind or "")
    if up is None:
        return
    upper, lower = joined.equipments[up.id], joined.by_device[device.id]
    ids = {
        f.id for f in joined.plan.feeds.values() if (d := joined.plan.device_of(f)) is not None and d.id == device.id
    }
    rows = [i for i, f in enumerate(c.now.fed) if f.feed.id in ids]
    held = amps_held(c.now, full_rating=c.station.leg_volts == 230)
    used = max((c.now.most(held * on_leg(c.now, leg)[:, None] * [[len(f.legs)] for f in c.now.fed], rows)
                for leg in c.station.legs), default=0.0) if rows else 0.0  # fmt: skip
    limit = upper.place_a
    if rows and limit:
        yield Limit(
            id=f"nested:{device.id}", family="nested", title=f"{lower.name} behind {upper.name}", unit="A", used=used,
            limit=limit, ok=used <= limit,
            sentence=f"Back on {upper.name}, what is behind {lower.name} draws up to {number_text(used)} of the {limit:g} A its "
            "place there bears.",
        )  # fmt: skip
    if rows and not lower.automatic:
        yield _yes_no(
            f"lever:{device.id}", "lever", f"{lower.name}: by hand", _ticked(joined, "lever"),
            f"What is behind {lower.name} goes to {c.station.name} and back to {upper.name} by hand, before the one is empty or "
            "drives off; without a hand it stays with that one.", "caution", "lever",
        )  # fmt: skip
    charger = joined.charge_circuit
    name = c.station.name
    if charger is not None and any(charger.id == k for k in _live_below(joined, up)):
        yield _yes_no(
            f"lower_charger:{device.id}", "lower_charger", f"Charger of {name}", _ticked(joined, "lower_charger"),
            f"{name} charges from {charger.name}, which {upper.name} feeds in an outage: its charger is off while that one "
            "discharges, or one battery fills the other and every conversion is paid. Set it so on both, and write both "
            "settings on one sheet.", "caution", "lower_charger",
        )  # fmt: skip


def _all_on_upper(c: Case) -> Iterator[Limit]:
    """What hangs at devices behind this source's own falls back on it: all of that together."""
    joined, plan = c.joined, c.joined.all_of_it
    if joined.source is None:
        return
    for x in joined.line:
        key = x.source.id if x.source is not None else ""
        if x.waits or ahead_of(plan, key) != joined.source.id or (x.source is not None and x.source.plugged_into):
            continue
        below = instants(x)
        used = c.now.most(c.now.va) + below.most(below.va)
        rated = c.station.rated_va
        yield Limit(
            id=f"nested_all:{key}", family="nested", title=f"All of it on {c.station.name}", unit="VA", used=used,
            limit=rated, ok=used <= rated, source=joined.source.id,
            sentence=f"With {x.station.name if x.station else 'the other'} empty or away, {c.station.name} carries everything: "
            f"{number_text(used)} of {number_text(rated)} VA.",
        )  # fmt: skip


def _live_below(joined: Joined, up: Device) -> set[str]:
    """The circuits another device of the plan feeds in an outage."""
    plan = joined.all_of_it
    return {
        f.circuit for f in plan.feeds.values() if f.circuit and (d := plan.device_of(f)) is not None and d.id == up.id
    }  # fmt: skip


def _live(c: Case) -> Iterator[Limit]:
    """Behind gear ahead of a panel everything is live: what is not fed is a breaker that a named hand opens."""
    joined = c.joined
    beneath = circuits_beneath(joined)
    if not beneath:
        return
    fed = {f.circuit for f in joined.plan.feeds.values()}
    left = [joined.home.circuits[k] for k in beneath if k not in fed]
    open_ = [x for x in left if joined.plan.opened.get(x.id)]
    live = [x for x in left if x not in open_]
    if live and not joined.equipment.sheds:
        names = ", ".join(x.name for x in live[:6]) + (f" and {len(live) - 6} more" if len(live) > 6 else "")
        yield _yes_no(
            "live", "live", "Live, and not in the plan", False,
            f"Everything behind {joined.equipment.name} is live in an outage. {names}: feed "
            f"{'it' if len(live) == 1 else 'them'}, or say who opens the breaker.", "broken",
        )  # fmt: skip
    if open_:
        hands = ", ".join(dict.fromkeys(joined.plan.opened[x.id] for x in open_))
        names = ", ".join(x.name for x in open_[:6]) + (f" and {len(open_) - 6} more" if len(open_) > 6 else "")
        yield _yes_no(
            "opened", "opened", "Breakers to open first", _ticked(joined, "opened"),
            f"{names}: {hands} opens {'its breaker' if len(open_) == 1 else 'their breakers'} before the source carries the panel; "
            "gear that goes over by itself does not wait, so the start has to be borne or the breakers stay open.",
            "caution", "opened",
        )  # fmt: skip


def _neutrals_apart(c: Case) -> Iterator[Limit]:
    """Two circuits on one neutral, on two sources of the plan."""
    joined, plan = c.joined, c.joined.all_of_it
    by = {f.circuit: f for f in plan.feeds.values() if f.circuit}
    for a, b in neutral_pairs(joined):
        one, other = by.get(a.id), by.get(b.id)
        if one is None or other is None or one.source == other.source or joined.source is None:
            continue
        if joined.source.id == min(one.source, other.source):
            yield _yes_no(
                    f"neutral_sources:{min(a.id, b.id)}", "neutral_sources", f"{a.name} with {b.name}", False,
                    f"{a.name} and {b.name} share a neutral and hang on two sources: out of step they meet on one wire. Both go to "
                    "one of them.",
                )  # fmt: skip


# 22: stores joined to stores


def _banks(c: Case) -> Iterator[Limit]:
    for bank in c.joined.plan.banks.values():
        battery = c.joined.batteries[bank.battery]
        yield from _bank_itself(bank, battery)
        yield from _bank_on_input(c, bank, battery)


def _bank_itself(bank: Bank, battery: Battery) -> Iterator[Limit]:
    for what, used, most in (
        ("series", bank.series, battery.series_most), ("parallel", bank.parallel, battery.parallel_most)
    ):  # fmt: skip
        word = "in series" if what == "series" else "side by side"
        yield Limit(
            id=f"bank_{what}:{bank.id}", family="bank_cells", title=f"{bank.name}: {word}", used=used, limit=most, unit="",
            severity="refuse", ok=used <= most, counts=True,
            sentence=f"{used} × {battery.name} {word}: its maker lists {most} at most.",
        )  # fmt: skip
    if battery.discharge_a:
        most_a = bank.parallel * battery.discharge_a
        yield Limit(
            id=f"bank_a:{bank.id}", family="bank_amps", title=f"{bank.name}: amps", used=bank.amps, limit=most_a, unit="A",
            ok=bank.amps <= most_a, counts=True,
            sentence=f"{bank.name} gives up to {bank.amps:g} A; {bank.parallel} × {battery.name} may give {most_a:g} A.",
        )  # fmt: skip
    if bank.fuse_a:
        least = FUSE_SHARE * bank.amps
        yield Limit(
            id=f"bank_fuse:{bank.id}", family="bank_fuse", title=f"Fuse of {bank.name}", kind="at_least", unit="A",
            used=bank.fuse_a, limit=least, ok=bank.fuse_a >= least, counts=True, evidence="default",
            sentence=f"A {bank.fuse_a:g} A fuse for {bank.amps:g} A that last: at least {number_text(least)} A, and no more than "
            "its lead bears.",
        )  # fmt: skip
    else:
        yield _yes_no(
            f"bank_fuse:{bank.id}", "bank_fuse", f"Fuse of {bank.name}", False,
            f"{bank.name} has no fuse entered: a battery short-circuited gives thousands of amps. One at its terminals, for direct "
            "current, before anything is joined.", "broken",
        )  # fmt: skip


def _bank_on_input(c: Case, bank: Bank, battery: Battery) -> Iterator[Limit]:
    station = c.station
    if bank.input > station.solar_inputs:
        yield _yes_no(
            f"bank_input:{bank.id}", "bank_input", f"Solar input of {bank.name}", False,
            f"{station.name} has {station.solar_inputs or 'no'} solar input{'s' if station.solar_inputs > 1 else ''}; {bank.name} "
            f"hangs on input {bank.input}.",
        )  # fmt: skip
        return
    takes = station.solar_input(bank.input)
    high, low = bank.series * battery.charged_v, FLAT_SHARE * bank.series * battery.volts
    yield Limit(
        id=f"bank_volts:{bank.id}", family="bank_volts", title=f"Volts of {bank.name}", unit="V", severity="refuse",
        used=high, limit=takes.max_v, ok=high <= takes.max_v, counts=True,
        sentence=f"{bank.series} × {battery.name} reach {number_text(high)} V while they charge; the input bears "
        f"{number_text(takes.max_v)} V, and more destroys it.",
    )  # fmt: skip
    start = START_SHARE * takes.min_v
    yield Limit(
        id=f"bank_start:{bank.id}", family="bank_start", title=f"Volts to start on, {bank.name}", kind="at_least", unit="V",
        used=low, limit=start, ok=low >= start, counts=True, evidence="default",
        sentence=f"Nearly empty it gives {number_text(low)} V; the input starts at about {number_text(start)} V.",
    )  # fmt: skip
    if takes.max_a:
        yield Limit(
            id=f"bank_amps_in:{bank.id}", family="bank_limiter", title=f"Amps of {bank.name} into the input", unit="A",
            severity="caution", used=bank.amps, limit=takes.max_a, ok=bank.amps <= takes.max_a, counts=True,
            sentence=f"A battery gives what is asked: {bank.amps:g} A of the {takes.max_a:g} A the input takes. "
            + ("" if bank.amps <= takes.max_a else "Its maker says whether the input limits itself; else a limiter goes between."),
        )  # fmt: skip
    yield _yes_no(
        f"bank_listed:{bank.id}", "bank_listed", f"{bank.name} on a solar input", _ticked(c.joined, f"bank:{bank.id}"),
        f"A solar input is made for panels. Ask {station.name}'s maker whether a battery of {number_text(high)} V may feed it, "
        "and keep the answer.", "caution", f"bank:{bank.id}",
    )  # fmt: skip
    if bank.by == "night":
        yield _yes_no(
            f"bank_swap:{bank.id}", "bank_swap", f"{bank.name}: by hand", _ticked(c.joined, f"swap:{bank.id}"),
            f"One input for the array by day and {bank.name} by night: a hand changes the plug at dusk and dawn, with the array "
            "covered or its disconnect open.", "caution", f"swap:{bank.id}",
        )  # fmt: skip


def _direct(c: Case) -> Iterator[Limit]:
    """Loads on direct current ports: all of them together, and the volts a person has to have looked at."""
    joined, station = c.joined, c.station
    fed = [f for f in joined.fed if f.direct]
    if not fed:
        return
    amps = sum(f.load.count * f.load.run_w for f in fed) / station.dc_port_v if station.dc_port_v else float("inf")
    ok = bool(station.dc_port_v) and amps <= station.dc_port_a
    yield Limit(
        id="dc_amps", family="direct", title="Direct current ports", unit="A", used=min(amps, 1e6), limit=station.dc_port_a,
        ok=ok, counts=True,
        sentence=f"On the direct current ports of {station.name}: {number_text(amps)} of {station.dc_port_a:g} A."
        if station.dc_port_v else f"{station.name} lists no direct current port.",
    )  # fmt: skip
    names = ", ".join(dict.fromkeys(f.load.name for f in fed))
    yield _yes_no(
        "dc_volts", "direct_volts", "Volts of the ports", _ticked(joined, "dc_volts"),
        f"{names}: made for {station.dc_port_v:g} V? Measure the port and read the label of what is plugged in; a car socket bears "
        "less than its shape says.", "caution", "dc_volts",
    )  # fmt: skip


def _ac_side(c: Case) -> Iterator[Limit]:
    """Sun with an inverter of its own gives nothing without a grid, unless listed equipment forms one."""
    for array in c.joined.plan.ac_arrays:
        forms = c.station.forms_grid
        yield _yes_no(
            f"ac_side:{array.id}", "ac_side", f"{array.name} in an outage", forms or _ticked(c.joined, f"ac_side:{array.id}"),
            f"{array.name} has an inverter of its own, and {c.station.name} runs it in an outage, as its maker lists; it throttles "
            "it when full." if forms else f"{array.name} has an inverter of its own: it stops with the grid, and counts for nothing "
            f"in an outage. {c.station.name} lists no running of it.",
            "caution", "" if forms else f"ac_side:{array.id}",
        )  # fmt: skip


def _waiting(c: Case) -> Iterator[Limit]:
    """A station that waits at another's inlet has to fit its cord, and somebody has to change them."""
    joined, source = c.joined, c.joined.source
    if source is None or source.after is None:
        return
    yield _yes_no(
        "swap", "swap", "Changing stations at the inlet", _ticked(joined, f"swap:{source.id}"),
        f"{c.station.name} waits: a hand switches the outlet of the one before it off, pulls its cord and plugs this one in. "
        "Never two at once, and never a cord with two plugs.", "caution", f"swap:{source.id}",
    )  # fmt: skip


def _away(c: Case) -> Iterator[Limit]:
    source = c.joined.source
    if source is None or source.away is None:
        return
    names = list(dict.fromkeys(f.load.name for f in c.now.fed if f.load.purpose == "life"))
    if names:
        yield _yes_no(
            "away_life", "away", f"{c.station.name} away", False,
            f"{', '.join(names)} would hang on {c.station.name}, which is not always at home: nothing that keeps someone alive "
            "hangs on a source that drives off.", "broken",
        )  # fmt: skip


def _engine_indoors(c: Case) -> Iterator[Limit]:
    """An inlet in a garage with an engine near it."""
    joined = c.joined
    if joined.generator is None or joined.source is None or joined.source.spot != "garage":
        return
    yield _yes_no(
        "engine_near", "engine_near", "Engine near the garage", _ticked(joined, "engine_near"),
        f"{c.station.name} stands in the garage and {joined.generator.name} charges it: the engine stays at least 6 m outside, "
        "exhaust away from every opening, never in the garage with its door open; the alarm hangs indoors.",
        "caution", "engine_near",
    )  # fmt: skip


ROWS = (
    Row(
        number=20, page="panels", families=("feeder",), answers=("not_together", "larger_station"), check=_feeders,
    ),
    Row(
        number=20, page="panels", families=("feeder_wire", "feeder_neutral", "feeder_drop", "not_known_feeder"),
        state="misfit", answers=(), check=None,
    ),
    Row(
        number=20, page="panels", families=("wrong_panel",), state="misfit", answers=("at_its_panel",), check=_right_panel,
        each_device=True,
    ),
    Row(
        number=21, page="devices", families=("same_place", "bypassed", "nested", "lower_charger", "lever"), state="misfit",
        answers=("not_together",), check=_devices,
    ),
    Row(
        number=21, page="devices", families=("live", "opened"), state="misfit", answers=("feed_live",), check=_live, each_device=True,
    ),
    Row(number=21, page="devices", families=("neutral_sources",), answers=(), check=_neutrals_apart),
    Row(
        number=22, page="stores",
        families=(
            "bank_cells", "bank_amps", "bank_fuse", "bank_input", "bank_volts", "bank_start", "bank_limiter", "bank_listed",
            "bank_swap",
        ),
        state="misfit", answers=(), check=_banks,
    ),
    Row(number=22, page="stores", families=("direct", "direct_volts"), state="misfit", answers=(), check=_direct),
    Row(number=22, page="stores", families=("ac_side",), answers=(), check=_ac_side),
    Row(number=22, page="stores", families=("swap",), answers=(), check=_waiting),
    Row(number=22, page="stores", families=("away",), state="misfit", answers=(), check=_away),
    Row(number=22, page="stores", families=("engine_near",), answers=(), check=_engine_indoors),
)  # fmt: skip
