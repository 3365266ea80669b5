"""Limit 22: stores joined to stores: banks, direct current, stations that wait or drive away, an engine near them.

Planning aids from common practice; your local code and a licensed electrician decide.
"""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.measures import least_text
from imbuto.core.basics.units import number_text
from imbuto.core.equipment.bare_battery import Battery
from imbuto.core.limits.limit_registry import LimitCase, LimitRow, is_ticked, yes_no
from imbuto.core.limits.rules.generator_limits import FAR_M
from imbuto.core.limits.rules.solar_input_limits import START_SHARE
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.sources import Bank, BankBranch

FUSE_SHARE = 1.25  # of the amps a bank gives, that its fuse must at least carry; common practice
VOLTS_APART = 0.005  # of their volts, that branches side by side may differ; planning default
USB_V = 5.0
FLAT_SHARE = 0.9  # of its nominal volts a bank falls to near its floor; planning default


def _banks(c: LimitCase) -> Iterator[Limit]:
    for bank in c.part.plan.banks.values():
        branches = [(x, c.part.batteries[x.battery]) for x in bank.branches]
        yield from _bank_itself(bank, branches)
        yield from _unlike_kinds(c, bank, branches)
        yield from _bank_on_input(c, bank, branches[0][1])


def _bank_itself(bank: Bank, branches: list[tuple[BankBranch, Battery]]) -> Iterator[Limit]:
    for n, (branch, battery) in enumerate(branches):
        at = f"{bank.id}:{n}" if n else bank.id
        for what, used, most in (
            ("series", branch.series, battery.series_most),
            ("parallel", branch.parallel, battery.parallel_most),
        ):
            word = "in series" if what == "series" else "side by side"
            yield Limit(
                id=f"bank_{what}:{at}",
                family="bank_cells",
                title=f"{bank.name}: {word}",
                used=used,
                limit=most,
                unit="",
                severity="refuse",
                ok=used <= most,
                counts=True,
                sentence=f"{used} × {battery.name} {word}: its manufacturer lists {most} at most.",
            )
        yield _fuse(bank, branch, battery, at, alone=len(branches) == 1)
    given = [(x.parallel * b.discharge_a, x, b) for x, b in branches if b.discharge_a]
    if given:
        most_a, branch, battery = min(given, key=lambda g: g[0])
        yield Limit(
            id=f"bank_a:{bank.id}",
            family="bank_amps",
            title=f"{bank.name}: amps",
            used=bank.amps,
            limit=most_a,
            unit="A",
            ok=bank.amps <= most_a,
            counts=True,
            sentence=f"{bank.name} gives up to {bank.amps:g} A; {branch.parallel} × {battery.name} may give "
            f"{most_a:g} A" + (", and any branch may carry nearly all of it." if len(branches) > 1 else "."),
        )


def _unlike_kinds(c: LimitCase, bank: Bank, branches: list[tuple[BankBranch, Battery]]) -> Iterator[Limit]:
    """What may stand side by side: one chemistry, one voltage, full before they are joined."""
    if len(branches) == 1:
        return
    own, first = branches[0]
    for n, (branch, battery) in enumerate(branches[1:], 1):
        alike = battery.chemistry.strip().lower() == first.chemistry.strip().lower()
        yield yes_no(
            f"bank_chemistry:{bank.id}:{n}",
            "bank_unlike",
            f"{bank.name}: one chemistry",
            alike,
            f"{battery.name} is {battery.chemistry}, as {first.name} is."
            if alike
            else f"{battery.name} is {battery.chemistry} and {first.name} is {first.chemistry}. Never put them side by "
            "side: one overcharges the other.",
        )
        volts = [(own.series * first.volts, branch.series * battery.volts)]
        volts.append((own.series * first.charged_v, branch.series * battery.charged_v))
        equal = all(abs(a - b) <= VOLTS_APART * a for a, b in volts)
        yield yes_no(
            f"bank_equal_volts:{bank.id}:{n}",
            "bank_unlike",
            f"{bank.name}: equal voltage",
            equal,
            f"Both branches have {number_text(volts[0][0])} V."
            if equal
            else f"{own.series} × {first.name} have {number_text(volts[0][0])} V and charge to "
            f"{number_text(volts[1][0])} V; {branch.series} × {battery.name} have {number_text(volts[0][1])} V and "
            f"charge to {number_text(volts[1][1])} V. Connect only equal voltages in parallel.",
        )
    yield yes_no(
        f"bank_joined:{bank.id}",
        "bank_unlike",
        f"{bank.name}: equal charge before they are connected",
        is_ticked(c.part, f"joined:{bank.id}"),
        "Charge each branch full by itself, and connect them only when their voltages differ by less than 0.1 V. "
        "Current rushes from the fuller one into the other.",
        "caution",
        f"joined:{bank.id}",
    )


def _fuse(bank: Bank, branch: BankBranch, battery: Battery, at: str, *, alone: bool) -> Limit:
    """A fuse for each branch."""
    whose = bank.name if alone else f"{bank.name}, {battery.name}"
    if branch.fuse_a:
        least = FUSE_SHARE * bank.amps
        return Limit(
            id=f"bank_fuse:{at}",
            family="bank_fuse",
            title=f"Fuse for {whose}",
            kind="at_least",
            unit="A",
            used=branch.fuse_a,
            limit=least,
            ok=branch.fuse_a >= least,
            counts=True,
            evidence="default",
            sentence=f"A {branch.fuse_a:g} A fuse for {bank.amps:g} A that last: at least {number_text(least)} A, "
            f"and no more than "
            "its lead is rated for.",
        )
    return yes_no(
        f"bank_fuse:{at}",
        "bank_fuse",
        f"Fuse for {whose}",
        False,
        f"{whose} has no fuse entered: a short-circuited battery supplies thousands "
        "of amps. Fit a DC fuse at its terminals before you connect anything.",
        "broken",
    )


def _bank_on_input(c: LimitCase, bank: Bank, battery: Battery) -> Iterator[Limit]:
    station = c.station
    if bank.input > station.solar_inputs:
        yield yes_no(
            f"bank_input:{bank.id}",
            "bank_input",
            f"Solar input of {bank.name}",
            False,
            f"{station.name} has {station.solar_inputs or 'no'} solar "
            f"input{'s' if station.solar_inputs > 1 else ''}; {bank.name} "
            f"is connected to input {bank.input}.",
        )
        return
    takes = station.solar_input(bank.input)
    high, low = bank.series * battery.charged_v, FLAT_SHARE * bank.series * battery.volts
    yield Limit(
        id=f"bank_volts:{bank.id}",
        family="bank_volts",
        title=f"{bank.name} voltage",
        unit="V",
        severity="refuse",
        used=high,
        limit=takes.max_v,
        ok=high <= takes.max_v,
        counts=True,
        sentence=f"{bank.series} × {battery.name} reach {number_text(high)} V while they charge. The input "
        f"takes at most {number_text(takes.max_v)} V, and more destroys it.",
    )
    start = START_SHARE * takes.min_v
    yield Limit(
        id=f"bank_start:{bank.id}",
        family="bank_start",
        title=f"Start voltage, {bank.name}",
        kind="at_least",
        unit="V",
        used=low,
        limit=start,
        ok=low >= start,
        counts=True,
        evidence="default",
        sentence=f"Nearly empty, it supplies {number_text(low)} V; the input starts at about {number_text(start)} V.",
    )
    if takes.max_a:
        yield Limit(
            id=f"bank_amps_in:{bank.id}",
            family="bank_limiter",
            title=f"Amps of {bank.name} into the input",
            unit="A",
            severity="caution",
            used=bank.amps,
            limit=takes.max_a,
            ok=bank.amps <= takes.max_a,
            counts=True,
            sentence=f"A battery supplies any current: {bank.amps:g} A of the {takes.max_a:g} A the input takes. "
            + (
                ""
                if bank.amps <= takes.max_a
                else (
                    "Ask the manufacturer whether the input limits the current by itself. If it "
                    "doesn't, put a limiter in between."
                )
            ),
        )
    yield from _bank_settled(c, bank, high)


def _bank_settled(c: LimitCase, bank: Bank, high: float) -> Iterator[Limit]:
    """What a person settles about a bank on a solar input. high: its volts while it charges."""
    yield yes_no(
        f"bank_listed:{bank.id}",
        "bank_listed",
        f"{bank.name} on a solar input",
        is_ticked(c.part, f"bank:{bank.id}"),
        f"A solar input is made for panels. Ask {c.station.name}'s manufacturer whether a battery of "
        f"{number_text(high)} V may power it, and keep the answer.",
        "caution",
        f"bank:{bank.id}",
    )
    shares = any(a.source == bank.to and a.input == bank.input for a in c.part.plan.own_arrays)
    if bank.by in ("night", "low_sun") or (bank.by == "hours" and shares):
        when = {
            "night": f"the array by day and {bank.name} at night. Change the plug at dusk and at dawn",
            "low_sun": f"the array in good sun and {bank.name} in little sun. Change the plug by the display",
        }.get(bank.by, f"{bank.name} in its set hours and the array in all others. Change the plug at these times")
        yield yes_no(
            f"bank_swap:{bank.id}",
            "bank_swap",
            f"{bank.name}: by hand",
            is_ticked(c.part, f"swap:{bank.id}"),
            f"One input is for {when}, with the array covered or its disconnect open.",
            "caution",
            f"swap:{bank.id}",
        )


def _direct(c: LimitCase) -> Iterator[Limit]:
    """Loads on direct current ports: all of them together, and the volts a person has to have looked at."""
    part, station = c.part, c.station
    fed = [f for f in part.fed if f.direct]
    if not fed:
        return
    listed = station.dc_amps
    for volts in dict.fromkeys(f.feed.port_v or station.dc_port_v for f in fed):
        mine = [f for f in fed if (f.feed.port_v or station.dc_port_v) == volts]
        most = listed.get(volts, 0.0)
        amps = sum(f.load.count * f.load.run_w for f in mine) / volts if volts in listed else float("inf")
        first = volts == station.dc_port_v
        called = "USB" if volts == USB_V else f"{volts:g} V" if volts else "DC"
        yield Limit(
            id="dc_amps" if first else f"dc_amps:{volts:g}",
            family="direct",
            title="DC ports" if first else f"{called} ports",
            unit="A",
            used=min(amps, 1e6),
            limit=most,
            ok=amps <= most,
            counts=True,
            sentence=f"{called} ports of {station.name}: {number_text(amps)} of {most:g} A."
            if volts in listed
            else f"{station.name} lists no {called} port.",
        )
        names = ", ".join(dict.fromkeys(f.load.name for f in mine))
        tick = "dc_volts" if first else f"dc_volts:{volts:g}"
        yield yes_no(
            tick,
            "direct_volts",
            "Voltage of the ports",
            is_ticked(part, tick),
            f"{names}: made for {volts:g} V? Measure the port and read the label of what is plugged in; a car socket "
            "is rated for less than its shape suggests.",
            "caution",
            tick,
        )


def _ac_side(c: LimitCase) -> Iterator[Limit]:
    """Sun with an inverter of its own gives nothing without a grid, unless listed equipment forms one."""
    for array in c.part.plan.ac_arrays:
        forms = c.station.forms_grid
        yield yes_no(
            f"ac_side:{array.id}",
            "ac_side",
            f"{array.name} in an outage",
            forms or is_ticked(c.part, f"ac_side:{array.id}"),
            f"{array.name} has its own inverter, and {c.station.name} runs it in an outage, as its manufacturer "
            f"lists, and throttles it when the battery is full."
            if forms
            else f"{array.name} has its own inverter, so it stops with the grid and isn't counted "
            f"in an outage. {c.station.name} doesn't list that it can run it.",
            "caution",
            "" if forms else f"ac_side:{array.id}",
        )


def _waiting(c: LimitCase) -> Iterator[Limit]:
    """A station that waits at another's inlet has to fit its cord, and somebody has to change them."""
    part, source = c.part, c.part.source
    if source.after is None:
        return
    yield yes_no(
        "swap",
        "swap",
        "Changing stations at the inlet",
        is_ticked(part, f"swap:{source.id}"),
        f"{c.station.name} waits. To change stations, switch off the outlet of the one before it, pull its cord, and "
        f"plug in {c.station.name}. Never plug in both, and never use a cord with two plugs.",
        "caution",
        f"swap:{source.id}",
    )


def _away(c: LimitCase) -> Iterator[Limit]:
    source = c.part.source
    if source.away is None:
        return
    names = list(dict.fromkeys(f.load.name for f in c.now.fed if f.load.purpose == "life"))
    if names:
        yield yes_no(
            "away_life",
            "away",
            f"{c.station.name} away",
            False,
            f"{', '.join(names)} would depend on {c.station.name}, which isn't always at home. Nothing that "
            f"keeps someone alive "
            "may depend on a source that drives off.",
            "broken",
        )


def _engine_indoors(c: LimitCase) -> Iterator[Limit]:
    """An inlet in a garage with an engine near it."""
    part = c.part
    if part.generator is None or part.source.spot != "garage":
        return
    yield yes_no(
        "engine_near",
        "engine_near",
        "Engine near the garage",
        is_ticked(part, "engine_near"),
        f"{c.station.name} is in the garage, and {part.generator.name} charges it. Keep the engine at "
        f"least {least_text(FAR_M)} "
        "outside with its exhaust away from every opening, never in the garage with its door open. "
        "Hang the alarm indoors.",
        "caution",
        "engine_near",
    )


ROWS = (
    LimitRow(
        number=22,
        page="stores",
        families=(
            "bank_cells",
            "bank_unlike",
            "bank_amps",
            "bank_fuse",
            "bank_input",
            "bank_volts",
            "bank_start",
            "bank_limiter",
            "bank_listed",
            "bank_swap",
        ),
        state="misfit",
        answers=(),
        check=_banks,
    ),
    LimitRow(number=22, page="stores", families=("direct", "direct_volts"), state="misfit", answers=(), check=_direct),
    LimitRow(number=22, page="stores", families=("ac_side",), answers=(), check=_ac_side),
    LimitRow(number=22, page="stores", families=("swap",), answers=(), check=_waiting),
    LimitRow(number=22, page="stores", families=("away",), state="misfit", answers=(), check=_away),
    LimitRow(number=22, page="stores", families=("engine_near",), answers=(), check=_engine_indoors),
)
