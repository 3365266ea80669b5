"""Several panels, devices and stores: hours by hand arithmetic, limits just inside and outside, and what always
holds."""

from __future__ import annotations

import random
from dataclasses import replace
from datetime import datetime
from decimal import Decimal

import numpy as np
import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.basics.clock import Window
from imbuto.core.basics.errors import ImbutoError, InvalidValue
from imbuto.core.diagram.device_bands import bands
from imbuto.core.equipment.bare_battery import Battery
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.equipment.portable_generator import Generator
from imbuto.core.equipment.power_station import Station
from imbuto.core.everyday.year_ground import ground
from imbuto.core.home.circuits import Circuit, SubPanel
from imbuto.core.home.home import Home, Service, Site, check_home
from imbuto.core.limits.all_limits import fit
from imbuto.core.plan.itemised_costs import to_buy_storing
from imbuto.core.plan.outage import Outage, begun
from imbuto.core.plan.plan import Device, Feed, Plan
from imbuto.core.plan.plan_checks import check_plan
from imbuto.core.plan.sources import Array, AwayTimes, Bank, BankBranch, Engine, SetOut, Source
from imbuto.core.plan.system import Part, resolve, resolve_wiring
from imbuto.core.run.battery_store import Store
from imbuto.core.run.network import run_one
from imbuto.core.run.run import Run, bank_store, line_charges, simulate
from imbuto.core.run.run_switching import first_store
from imbuto.core.run.run_trace import Trace
from imbuto.core.switching.running_acts import running_acts
from tests.support import load

# 1,000 Wh, no losses but where a test says so: hours are Wh over W.
BOX = Station(
    id="box",
    name="Box",
    volts="120",
    nominal_wh=1000,
    continuous_w=6000,
    rated_va=6000,
    surge_va=12_000,
    surge_s=3,
    leg_a=60,
    leg_surge_va=12_000,
    outlets=6,
    outlet_a=20,
    inlet_outlet_a=30,
    efficiency=1.0,
    idle_w=0,
    module_draw_w=0,
    module_wh=1000,
    max_modules=4,
    input_a=60,
    charge_w=300,
    solar_inputs=2,
    solar_min_v=9,
    solar_max_v=60,
    solar_max_a=20,
    solar_max_isc_a=24,
    solar_max_w=500,
    parallel_most=3,
    coupler="Box coupler",
    restart="by_itself",
)
WIDE = replace(BOX, id="wide", name="Wide", volts="120/240", leg_surge_va=9000)
CELL = Battery(
    id="cell", name="Cell", volts=12.8, charged_v=14.6, ah=100, series_most=4, parallel_most=4, discharge_a=100
)
MOTOR = Generator(id="motor", name="Motor", running_w=1000, half_l_h=0.5, full_l_h=1.0, start="by_itself")
KIT = Catalogue(
    stations={"box": BOX, "wide": WIDE, "onward": replace(BOX, id="onward", pair_goes_on=True)},
    batteries={"cell": CELL},
    generators={"motor": MOTOR},
).over(shipped())
CALM = Outage(
    id="o",
    name="O",
    start=datetime(2026, 11, 24, 18),
    hours=24,
    goal_hours=24,
    indoors_c=25,
    garage_c=25,
    outdoors_c=25,
)
SHED = SubPanel(id="shed", name="Workshop", feeder_a=60, feeder_slots=(37, 39), wire="6 AWG", length_m=20, slots=30)


def house(**watts: float) -> Home:
    """Circuits with one steady load each; those that begin with ``s_`` are in the workshop."""
    circuits, loads = {}, {}
    for i, (name, w) in enumerate(watts.items(), 1):
        panel = "shed" if name.startswith("s_") else None
        slot = 2 * i - 1
        circuits[name] = Circuit(
            id=name, name=name.capitalize(), panel=panel, slots=(slot,), breaker_a=20, wire="12 AWG"
        )
        loads[f"{name}-load"] = load(f"{name}-load", w, circuit=name)
    made = Home(
        id="h",
        name="H",
        service=Service(slots=40),
        site=Site(time_zone="UTC"),
        panels={"shed": SHED},
        circuits=circuits,
        loads=loads,
    )
    check_home(made)
    return made


def source(ident: str = "main", station: str = "box", **more: object) -> Source:
    return Source(id=ident, station=station, deliverable=1.0, **more)  # type: ignore[arg-type]


def device(ident: str = "main", equipment: str = "six-place", **more: object) -> Device:
    return Device(id=ident, equipment=equipment, **more)  # type: ignore[arg-type]


def feeds(*said: str) -> dict[str, Feed]:
    """“circuit@device:source place”, or “load!source” for a cord."""
    found = {}
    for i, text in enumerate(said, 1):
        if "!" in text:
            name, at = text.split("!")
            found[name] = Feed(id=name, load=name, source=at, place=i)
            continue
        name, at = text.split("@")
        where, _, by = at.partition(":")
        found[name] = Feed(id=name, circuit=name, device=where, source=by or "main", place=i)
    return found


def plan(*sources: Source, devices: tuple[Device, ...] = (), **more: object) -> Plan:
    made = {"floor": 0.0, "asleep": (), "reaction_h": 0.0} | more
    return Plan(
        id="p",
        name="P",
        sources={s.id: s for s in sources},
        devices={d.id: d for d in devices},
        **made,  # type: ignore[arg-type]
    )


def hours(home: Home, made: Plan, outage: Outage = CALM) -> dict[str, float | None]:
    """Source id → hours of its own run, with the whole plan's under “plan”."""
    check_plan(made, home, KIT)
    verdict = judge(home, made, outage, KIT, with_moves=False)
    each = {v.part.source.id: v.run.hours for v in verdict.stations if v.part.source and v.run}
    return each | {"plan": verdict.hours}


AT_SHED = device("shop", panel="shed", source="shop")
TWO = house(hall=100, s_bench=250)
GATE = device("gate", "main-gateway")
BANK = Bank(id="bank", name="Bank", battery="cell", amps=10, fuse_a=15)
CELL_WH = 1280 * 0.97  # a battery delivers 97 % of its label


def two_stations(**more: object) -> Plan:
    return plan(
        source(), source("shop"), devices=(device(), AT_SHED), feeds=feeds("hall@main", "s_bench@shop:shop"), **more
    )


# The gateway's 1,000 Wh beside 0.97 x 64 W of the bank: 16 h of 100 W, 2 h of 200 W, and then 200 W to the end.
MIXED_H = 18 + (1000 - 16 * (100 - 62.08) - 2 * (200 - 62.08)) / (200 - 62.08)

PLANS: dict[str, tuple[Home, Plan, dict[str, float]]] = {
    "a switch at a sub-panel": (
        TWO,
        plan(source(), devices=(device("shop", panel="shed"),), feeds=feeds("s_bench@shop")),
        {"plan": 4.0},
    ),
    "two switches at two panels, a station each": (TWO, two_stations(), {"main": 10.0, "shop": 4.0, "plan": 4.0}),
    "one station on two switches": (
        TWO,
        plan(source(), devices=(device(), device("shop", panel="shed")), feeds=feeds("hall@main", "s_bench@shop")),
        {"plan": 1000 / 350},
    ),
    "a switch, and a cord beside it": (
        house(hall=150, den=50),
        plan(source(), devices=(device(),), feeds=feeds("hall@main", "den-load!main")),
        {"plan": 5.0},
    ),
    "a gateway makes the workshop live too, but for an opened breaker": (
        house(hall=60, s_bench=40, range=4000),
        plan(source(), devices=(GATE,), feeds=feeds("hall@gate", "s_bench@gate"), opened={"range": "Ada"}),
        {"plan": 10.0},
    ),
    "a gateway with a switch behind it, each with its station": (
        house(hall=100, den=200),
        plan(
            source(),
            source("low"),
            devices=(GATE, device("switch", source="low", behind="gate")),
            feeds=feeds("hall@gate", "den@switch:low"),
        ),
        # Levers at the gateway until that is empty: 300 W of its 1,000 Wh; then its own 1,000 Wh carry 200 W.
        {"main": 1000 / 300, "low": 1000 / 300 + 5.0, "plan": 1000 / 300},
    ),
    # Its own first: 5 h of 200 W. The gateway has 500 Wh left then, for 300 W.
    "a gateway with a switch behind it, that one's own station first": (
        house(hall=100, den=200),
        plan(
            source(),
            source("low", own_first=True),
            devices=(GATE, device("switch", source="low", behind="gate")),
            feeds=feeds("hall@gate", "den@switch:low"),
        ),
        {"main": 5 + 500 / 300, "low": 5 + 500 / 300, "plan": 5 + 500 / 300},
    ),
    "two linked units": (
        house(hall=100),
        plan(source(units=2), devices=(device(),), feeds=feeds("hall@main")),
        {"plan": 20.0},
    ),
    # A leg each: 100 W on A, 50 W on B. The one on A is empty after 10 h, and the other goes dark with it.
    "a pair by its coupler, dark together": (
        house(hall=100, den=50),
        plan(source(units=2, link="coupler"), devices=(device(),), feeds=feeds("hall@main", "den@main")),
        {"plan": 10.0},
    ),
    "a small station behind a large one, that one first": (
        house(hall=50, den=50),
        plan(
            source(),
            source("small", plugged_into="hall"),
            devices=(device(),),
            feeds=feeds("hall@main", "den-load!small"),
        ),
        {"main": 10.0, "small": 30.0, "plan": 10.0},
    ),
    # Its own 1,000 Wh last 20 h; the large one has 2,000 - 20 x 50 left then, for both: 10 h more.
    "a small station behind a large one, its own first": (
        house(hall=50, den=50),
        plan(
            source(modules=1),
            source("small", plugged_into="hall", own_first=True),
            devices=(device(),),
            feeds=feeds("hall@main", "den-load!small"),
        ),
        {"main": 30.0, "small": 30.0, "plan": 30.0},
    ),
    # At 20 % a hand changes them; the second runs to its end, and 200 Wh of the first are left.
    "two in line at one inlet": (
        house(hall=100),
        plan(source(), source("next", after="main"), devices=(device(),), feeds=feeds("hall@main")),
        {"plan": 20.0},
    ),
    "in line, and half an hour until someone comes": (
        house(hall=100),
        plan(source(), source("next", after="main"), devices=(device(),), feeds=feeds("hall@main"), reaction_h=0.5),
        {"plan": 8.5 + 10.0},
    ),
    # 12.8 V x 10 A = 128 W, 97 % of it arrives: 124.16 W beside the station until the bank is empty.
    "a bank on a solar input": (
        house(hall=200),
        plan(source(), devices=(device(),), banks={"bank": BANK}, feeds=feeds("hall@main")),
        {"plan": CELL_WH / 128 + (1000 - (200 - 124.16) * CELL_WH / 128) / 200},
    ),
    # Two hours of 124.16 W.
    "a bank that gives in set hours": (
        house(hall=200),
        plan(
            source(),
            devices=(device(),),
            banks={"bank": replace(BANK, by="hours", windows=(Window(start_h=20, end_h=22),))},
            feeds=feeds("hall@main"),
        ),
        {"plan": (1000 + 2 * 124.16) / 200},
    ),
    "a bank that gives more than is drawn": (
        house(hall=50),
        plan(source(), devices=(device(),), banks={"bank": BANK}, feeds=feeds("hall@main")),
        {"plan": CELL_WH / (50 / 0.97) + 20.0},
    ),
    "two strings of two on a wider input": (
        house(hall=400),
        plan(
            source(),
            devices=(device(),),
            feeds=feeds("hall@main"),
            banks={"bank": replace(BANK, series=2, parallel=2, amps=15)},
        ),
        {"plan": 4 * CELL_WH / 384 + (1000 - (400 - 0.97 * 384) * 4 * CELL_WH / 384) / 400},
    ),
    "away after three hours": (
        house(hall=100),
        plan(source(away=AwayTimes(from_h=3, for_h=5, back_with=0.5)), devices=(device(),), feeds=feeds("hall@main")),
        {"plan": 3.0},
    ),
    # Tuesday 18:00 to Wednesday 8:00.
    "a camper that leaves on weekday mornings": (
        house(hall=50),
        plan(
            source(away=AwayTimes(windows=(Window(start_h=8, end_h=18, days="weekday"),))),
            devices=(device(),),
            feeds=feeds("hall@main"),
        ),
        {"plan": 14.0},
    ),
    # 1 l at 1 l/kWh. At half charge, after 5 h, 1,000 W: 200 pass on, 300 W charge the first, 300 the second, for
    # 1.25 h.
    "one generator for two stations": (
        house(hall=100, s_bench=100),
        two_stations(engine=Engine(generator="motor", also=("shop",), stock_l=1, start_at=0.5)),
        {"main": 5 + 1.25 + (500 + 345) / 100, "shop": 5 + 1.25 + (500 + 345) / 100},
    ),
    # 700 W: 200 pass on, the first takes its 300 W and the second what is left, 200 W, for 1 / 0.7 h.
    "one generator for two stations, in their order": (
        house(hall=100, s_bench=100),
        two_stations(engine=Engine(generator="small", also=("shop",), stock_l=1, start_at=0.5)),
        {"main": 5 + 1 / 0.7 + (500 + 300 * 0.92 / 0.7) / 100, "shop": 5 + 1 / 0.7 + (500 + 200 * 0.92 / 0.7) / 100},
    ),
    # The pair: 500 Wh at half on A; 1,000 W carry 150 and charge 150 W each leg's unit, as the source has 300 in all.
    "a pair with a generator": (
        house(hall=100, den=100),
        plan(
            source(units=2, link="coupler"),
            devices=(device(),),
            feeds=feeds("hall@main", "den@main"),
            engine=Engine(generator="motor", stock_l=1, start_at=0.5),
        ),
        {"plan": 5 + 1 / 0.8 + (500 + 300 * 0.92 / 0.8) / 100},
    ),
    "gateway, switch behind it, bank and camper": (
        house(hall=100, den=100),
        plan(
            source(),
            source("camper", own_first=True, away=AwayTimes(from_h=6, for_h=2, back_with=1.0)),
            devices=(GATE, device("switch", source="camper", behind="gate")),
            feeds=feeds("hall@gate", "den@switch:camper"),
            banks={"bank": replace(BANK, amps=5)},
        ),
        # Away from 6 to 8 h, the den falls back on the gateway: 200 W there. At 18 h the camper's 1,000 Wh are gone
        # as well.
        {"plan": MIXED_H, "camper": MIXED_H},
    ),
}
KIT = replace(
    KIT, generators=KIT.generators | {"small": replace(MOTOR, id="small", running_w=700, half_l_h=0.35, full_l_h=0.7)}
)


@pytest.mark.parametrize("name", PLANS)
def test_hours_by_arithmetic(name):
    home, made, expected = PLANS[name]
    found = hours(home, made)
    assert {k: found[k] for k in expected} == pytest.approx(expected, rel=1e-3), found


def test_a_pair_that_goes_on_loses_one_leg_first():
    home = house(hall=100, den=50)
    made = plan(
        source(station="onward", units=2, link="coupler"), devices=(device(),), feeds=feeds("hall@main", "den@main")
    )
    run = simulate(resolve(home, made, KIT).parts[0], CALM)
    assert run.hours == pytest.approx(10.0)
    assert run.trace.dark_h.tolist() == pytest.approx([10.0, 20.0])


def test_what_was_away_comes_back_with_what_it_was_said_to():
    home, made, _ = PLANS["away after three hours"]
    run = simulate(resolve(home, made, KIT).parts[0], CALM)
    kinds = [(e.kind, round(e.hour, 3)) for e in run.trace.events]
    assert ("away", 3.0) in kinds
    assert ("home", 8.0) in kinds
    assert run.charge[(8 * 12) + 1] == pytest.approx(0.5, abs=0.01)
    assert run.served_wh == pytest.approx(300 + 500)


def test_a_bank_by_night_leaves_its_input_to_the_array_by_day():
    n = 48
    sun = np.zeros((2, n))
    sun[0, 12:24] = 100.0
    main = Store(nominal_wh=5000, efficiency=1.0, taper=False, floor=0, mppt_efficiency=1, solar_charge_efficiency=1)
    bank = Store(nominal_wh=2000, efficiency=1.0, taper=False, floor=0, dc_to=0, dc_w=80, dc_dark=True, standby_w=0)
    trace = run_one([main, bank], [0.5, 1.0], np.array([np.full(n, 100.0), np.zeros(n)]), 0.25, sun_w=sun)
    # 9 h of darkness at 80 W, and nothing while the sun is up.
    assert trace.tallies[1].dc_given_wh == pytest.approx(9 * 80)
    assert trace.charge[12, 1] == pytest.approx(trace.charge[24, 1])


@pytest.mark.parametrize("name", PLANS)
def test_the_drawing_leads_back_to_one_source_in_each_state(name):
    home, made, _ = PLANS[name]
    found = bands(resolve(home, made, KIT).parts)
    ids = {b.id for b in found.boxes}
    assert all({x.start, x.end} <= ids for x in found.lines)
    fed = [b.id for b in found.boxes if b.lane == "fed"]
    assert len(fed) == len(made.feeds)
    for state in ("grid", "outage"):
        power = [x for x in found.lines if state in x.live and not x.data]
        for target in (t for t in fed if t.startswith("circuit:")):
            seen, todo = set(), {target}
            while todo:
                here = todo.pop()
                seen.add(here)
                todo |= {x.start for x in power if x.end == here} - seen
            stores = {x for x in seen if x.startswith("source:")}
            assert ("grid" in seen, len(stores)) == ((True, 0) if state == "grid" else (False, 1)), target
    names = {f.target for f in found.feeds}
    assert len(names) == len(made.feeds)
    for name_ in names:
        each = [f for f in found.feeds if f.target == name_]
        assert all(sum(state in f.live for f in each) == 1 for state in ("grid", "outage")), name_


def limits_of(home: Home, made: Plan, of: str | None = None) -> dict[str, object]:
    check_plan(made, home, KIT)
    each = resolve(home, made, KIT).parts
    return {x.id: x for part in each if of is None or part.source.id == of for x in fit(part, CALM)}


def bench(watts: float, **panel: object) -> dict[str, object]:
    """A gateway ahead of the main panel, and the workshop behind its feeder."""
    home = house(s_bench=watts, s_saw=watts)
    one_leg = {k: replace(c, leg="A") for k, c in home.circuits.items()}
    home = replace(home, panels={"shed": replace(SHED, **panel)}, circuits=one_leg)
    return limits_of(home, plan(source(station="wide"), devices=(GATE,), feeds=feeds("s_bench@gate", "s_saw@gate")))


def on_input(**more: object) -> dict[str, object]:
    return limits_of(
        house(hall=50),
        plan(source(), devices=(device(),), feeds=feeds("hall@main"), banks={"bank": replace(BANK, **more)}),
    )


def behind(watts: float) -> dict[str, object]:
    """A switch behind a relay panel, whose places bear 30 A."""
    made = plan(
        source(),
        source("low"),
        devices=(device("gate", "relay-panel"), device("switch", source="low", panel="shed", behind="gate")),
        feeds=feeds("hall@gate", "s_bench@switch:low"),
    )
    home = house(hall=10, s_bench=watts)
    return limits_of(home, made, "low")


def living(**opened: str) -> dict[str, object]:
    return limits_of(
        house(hall=60, range=4000), plan(source(), devices=(GATE,), feeds=feeds("hall@gate"), opened=opened)
    )


def neutral(*at: str) -> dict[str, object]:
    home = house(hall=10, den=10)
    home = replace(home, circuits=home.circuits | {"hall": replace(home.circuits["hall"], neutral_partner="den")})
    made = plan(source(), source("two"), devices=(device(), device("b", source="two")), feeds=feeds(*at))
    return limits_of(home, made)


def bypassed(out: bool, equipment: str = "inverter-bypass") -> dict[str, object]:
    return limits_of(
        house(hall=10), plan(source(), devices=(device(equipment=equipment, bypassed=out),), feeds=feeds("hall@main"))
    )


def lower(charge: str, ticks: tuple[str, ...] = ()) -> dict[str, object]:
    made = plan(
        source(),
        source("low", charge_circuit=charge),
        devices=(GATE, device("switch", source="low", behind="gate")),
        feeds=feeds("hall@gate", "den@switch:low"),
        ticks=ticks,
    )
    return limits_of(house(hall=10, den=10, spare=10), made, "low")


def with_engine(spot: str, ticks: tuple[str, ...] = ()) -> dict[str, object]:
    made = plan(
        source(spot=spot), devices=(device(),), feeds=feeds("hall@main"), engine=Engine(generator="motor"), ticks=ticks
    )
    return limits_of(house(hall=10), made)


def gone(purpose: str) -> dict[str, object]:
    home = house(hall=10)
    home = replace(home, loads={"hall-load": replace(home.loads["hall-load"], purpose=purpose)})
    return limits_of(home, plan(source(away=AwayTimes(for_h=1)), devices=(device(),), feeds=feeds("hall@main")))


def waiting(ticks: tuple[str, ...] = ()) -> dict[str, object]:
    made = plan(source(), source("next", after="main"), devices=(device(),), feeds=feeds("hall@main"), ticks=ticks)
    return limits_of(house(hall=10), made, "next")


def same_place(*equipment: str) -> dict[str, object]:
    made = plan(
        source(),
        source("two"),
        devices=(device("a", equipment[0]), device("b", equipment[1], source="two")),
        feeds=feeds("hall@a"),
    )
    return limits_of(house(hall=10), made, "two")


def passing(
    equipment: str = "ten-place-neutral",
    charge: str | None = "spare",
    words: str = "its manual allows it",
    input_a: float = 15,
    hall_w: float = 1000,
    partner: str | None = None,
    **spare: object,
) -> dict[str, object]:
    """A switch that stays on a station, which is plugged into a circuit of its own."""
    home = house(hall=hall_w, den=10, spare=0)
    circuits = home.circuits | {"spare": replace(home.circuits["spare"], **spare)}
    circuits["hall"] = replace(circuits["hall"], neutral_partner=partner)
    kit = replace(KIT, stations=KIT.stations | {"on": replace(BOX, id="on", passes_on=words, input_a=input_a)})
    made = plan(
        source(station="on", charge_circuit=charge),
        devices=(device(equipment=equipment, left_on=True),),
        feeds=feeds("hall@main"),
    )
    check_plan(made, home, kit)
    return {x.id: x for x in fit(resolve(replace(home, circuits=circuits), made, kit).parts[0], CALM)}


# Both on leg A: 2 x 120 x 12 W at 1.25 is 30 A; 6 AWG loses 2 x 1.61 / 1000 x 20 m x 24 A = 1.55 V, 1.3 %.
LIMITS = [
    ("feeder:shed", lambda: bench(1440, feeder_a=30), lambda: bench(1441, feeder_a=30)),
    ("feeder_wire:shed", lambda: bench(10, feeder_a=55), lambda: bench(10, feeder_a=56)),
    ("feeder_neutral:shed", lambda: bench(900, neutral_wire="14 AWG"), lambda: bench(901, neutral_wire="14 AWG")),
    ("feeder_drop:shed", lambda: bench(1440, length_m=77), lambda: bench(1440, length_m=78)),
    ("bank_series:bank", lambda: on_input(series=4), lambda: on_input(series=5)),
    ("bank_parallel:bank", lambda: on_input(parallel=4), lambda: on_input(parallel=5)),
    ("bank_a:bank", lambda: on_input(amps=100), lambda: on_input(amps=101)),
    ("bank_fuse:bank", lambda: on_input(fuse_a=12.5), lambda: on_input(fuse_a=12.4)),
    ("bank_fuse:bank", lambda: on_input(), lambda: on_input(fuse_a=0)),
    ("bank_input:bank", lambda: on_input(input=2), lambda: on_input(input=3)),
    ("bank_volts:bank", lambda: on_input(series=4), lambda: on_input(series=5)),
    ("bank_amps_in:bank", lambda: on_input(amps=20), lambda: on_input(amps=21)),
    ("nested:switch", lambda: behind(30 * 120 / 1.25), lambda: behind(30 * 120 / 1.25 + 1)),
    ("live", lambda: living(range="Ada"), lambda: living()),
    ("neutral_sources:den", lambda: neutral("hall@main", "den@main"), lambda: neutral("hall@main", "den@b:two")),
    ("bypassed:main", lambda: bypassed(False), lambda: bypassed(True)),
    ("lower_charger:switch", lambda: lower("spare"), lambda: lower("hall")),
    ("lower_charger:switch", lambda: lower("hall", ("lower_charger",)), lambda: lower("hall")),
    ("engine_near", lambda: with_engine("indoors"), lambda: with_engine("garage")),
    ("away_life", lambda: gone("comfort"), lambda: gone("life")),
    ("swap", lambda: waiting(("swap:next",)), lambda: waiting()),
    ("left_on:neutral", lambda: passing(), lambda: passing("ten-place")),
    ("left_on:listed", lambda: passing(), lambda: passing(words="")),
    ("left_on:circuit", lambda: passing(), lambda: passing(charge=None)),
    ("left_on:receptacle", lambda: passing(), lambda: passing(protection="ground_fault")),
    ("left_on:shared:den", lambda: passing(), lambda: passing(partner="den")),
    ("own_charger", lambda: passing(), lambda: passing(charge="hall")),
    ("bypass", lambda: passing(hall_w=1500), lambda: passing(hall_w=1501)),  # (W + 300) / 120 V of 15 A
    ("bypass", lambda: passing(hall_w=1500), lambda: passing(hall_w=1500, breaker_a=15)),  # 0.8 of its breaker
    ("same_place:b", lambda: same_place("interlock", "six-place"), lambda: same_place("interlock", "relay-panel")),
]


@pytest.mark.parametrize(("ident", "inside", "outside"), LIMITS, ids=[f"{i}-{x[0]}" for i, x in enumerate(LIMITS)])
def test_just_inside_and_just_outside(ident, inside, outside):
    within = inside().get(ident)
    assert within is None or within.ok, within.sentence
    past = outside()[ident]
    assert not past.ok
    assert past.sentence.endswith(".")


def test_a_bank_has_to_start_the_input_when_nearly_empty():
    # 0.9 x 12.8 V = 11.52 V against 1.2 x 12 V on input 2; two in series reach it.
    kit = replace(KIT, stations={"box": replace(BOX, solar_each="2: 12, 60, 20, 24, 500")})
    for series, starts in ((1, False), (2, True)):
        bank = replace(BANK, series=series, input=2)
        made = plan(source(), devices=(device(),), feeds=feeds("hall@main"), banks={"bank": bank})
        found = {x.id: x for x in fit(resolve(house(hall=50), made, kit).parts[0], CALM)}
        assert found["bank_start:bank"].ok is starts
    assert on_input()["bank_start:bank"].ok  # input 1 starts at 10.8 V


def test_a_switch_beside_one_panel_moves_no_wire_of_another():
    wrong = limits_of(TWO, plan(source(), devices=(device(),), feeds=feeds("s_bench@main")))
    assert wrong["panel:s_bench"].severity == "refuse"
    assert "Workshop" in wrong["panel:s_bench"].sentence
    assert not any(k.startswith("panel:") for k in limits_of(TWO, two_stations()))


def test_one_feeder_behind_another_carries_both():
    home = house(s_bench=1000)
    loft = SubPanel(id="loft", name="Loft", behind="shed", feeder_a=30, wire="10 AWG")
    home = replace(
        home,
        panels=home.panels | {"loft": loft},
        circuits=home.circuits | {"lamp": Circuit(id="lamp", name="Lamp", panel="loft", slots=(1,))},
        loads=home.loads | {"l": load("l", 500, circuit="lamp")},
    )
    check_home(home)
    found = limits_of(home, plan(source(), devices=(GATE,), feeds=feeds("s_bench@gate", "lamp@gate")))
    assert found["feeder:shed"].used == pytest.approx(1.25 * 1500 / 120)
    assert found["feeder:loft"].used == pytest.approx(1.25 * 500 / 120)
    circle = replace(home, panels={"loft": loft, "shed": replace(SHED, behind="loft")})
    with pytest.raises(InvalidValue, match="powered from this one"):
        check_home(circle)


CIRCLES = {
    "behind": plan(source(), source("b"), devices=(device("x", behind="y"), device("y", source="b", behind="x"))),
    "after": plan(source(after="b"), source("b", after="main")),
    "same source": plan(source(), devices=(GATE, device("x", behind="gate"))),
    "no bank": plan(source(), banks={"b": replace(BANK, id="b", battery="none")}),
    "no source": plan(source(), banks={"b": replace(BANK, id="b", to="none")}),
    "panel": plan(source(), devices=(device(panel="none"),)),
    "device of another": plan(
        source(),
        source("b"),
        devices=(device(source="b"),),
        feeds={"hall": Feed(id="hall", circuit="hall", device="main")},
    ),
    "a circuit on cords": plan(source(), source("b"), devices=(device(),), feeds=feeds("hall@:b")),
    "two on an input": plan(
        source(),
        banks={"bank": BANK},
        arrays={"a": Array(id="a", name="A", panel="slate", input=1)},
    ),
    "waits and feeds": plan(source(), source("b", after="main"), feeds=feeds("hall-load!b")),
    "twice charged": plan(source(), engine=Engine(generator="motor", also=("main",))),
}


@pytest.mark.parametrize("name", CIRCLES)
def test_what_is_no_plan_is_refused_by_a_sentence(name):
    with pytest.raises(ImbutoError, match=r"P, .*"):
        check_plan(CIRCLES[name], house(hall=10), KIT)


def bank_turns_some(made: Plan, seed: int) -> Plan:
    """Of five plans with banks, one with banks in set hours and one that waits for little sun."""
    turns = {0: {"by": "hours", "windows": (Window(start_h=19, end_h=23),)}, 1: {"by": "low_sun", "below_w": 40}}
    banks = {k: replace(b, **turns.get(seed % 5, {})) for k, b in made.banks.items()}  # type: ignore[arg-type]
    return replace(made, banks=banks)


def sets_out_some(made: Plan, seed: int) -> Plan:
    """Every third plan with arrays that somebody sets out for some hours of the day."""
    out = SetOut(from_h=9, to_h=15.5, who=["", "Ada"][seed % 2], shut_in_wind=bool(seed % 4))
    arrays = {k: replace(a, set_out=out) for k, a in made.arrays.items() if seed % 3 == 0}
    return replace(made, arrays=made.arrays | arrays)


def left_on_some(made: Plan, seed: int) -> Plan:
    """Every third plan with the levers of its switches left on their source."""
    levers = {k: d for k, d in made.devices.items() if KIT.transfer[d.equipment].traits.levers}
    changed = {k: replace(d, left_on=True) for k, d in levers.items() if seed % 3 == 0}
    return replace(made, devices=made.devices | changed)


def random_several(seed: int) -> tuple[Home, Plan, Outage]:
    """A plan of one to three devices, up to four stores, banks, a generator and sources that leave; it stands, and
    may fit or not."""
    rng = random.Random(seed)
    names = [f"c{i}" for i in range(6)] + [f"s_{i}" for i in range(4)]
    home = house(**{n: rng.choice([10.0, 60.0, 150.0, 400.0]) for n in names})
    count = rng.randint(1, 3)
    ids = ["main", "two", "three"][:count]
    sources = [
        source(k, rng.choice(["box", "wide"]), modules=rng.randint(0, 2), spot=rng.choice(["indoors", "garage"]))
        for k in ids
    ]
    devices = [
        device(
            f"d{i}", rng.choice(["six-place", "ten-place", "auto-panel"]), source=k, panel=rng.choice([None, "shed"])
        )
        for i, k in enumerate(ids)
    ]
    fed: dict[str, Feed] = {}
    for i, d in enumerate(devices):
        free = [n for n in names if n not in fed and n.startswith("s_") == (d.panel == "shed")]
        for place, n in enumerate(rng.sample(free, min(len(free), rng.randint(1, 3))), 1):
            fed[n] = Feed(
                id=n, circuit=n, device=d.id, source=ids[i], place=place, stance=rng.choice(["keep_on", "turns"])
            )
    if count > 1 and rng.random() < 0.4:
        taken = next((f.id for f in fed.values() if f.source == "main"), None)
        sources[1] = replace(sources[1], plugged_into=taken, own_first=rng.random() < 0.5)
    if rng.random() < 0.4:
        sources.append(source("waits", after="main", swap_at=rng.choice([0.0, 0.2, 0.4])))
    if rng.random() < 0.4:
        last = rng.randrange(len(sources))
        leaves = AwayTimes(
            windows=(Window(start_h=8, end_h=17),) if rng.random() < 0.5 else (), from_h=5, for_h=4, back_with=0.7
        )
        sources[last] = replace(sources[last], away=leaves)
    banks, arrays = {}, {}
    if rng.random() < 0.5:
        by = rng.choice(["always", "night"])
        banks["bank"] = replace(
            BANK, to=rng.choice(ids), series=rng.choice([1, 2]), by=by, controller_w=rng.choice([0, 300])
        )
        if by == "night" or rng.random() < 0.5:
            at = 1 if by == "night" else 2
            arrays["roof"] = Array(id="roof", name="Roof", panel="slate", source=banks["bank"].to, input=at)
        if banks["bank"].controller_w:
            arrays["own"] = Array(id="own", name="Own", panel="slate", source="bank", input=1)
    engine = None
    if rng.random() < 0.4:
        engine = Engine(
            generator=rng.choice(["motor", "clinker"]),
            also=tuple(ids[1:]),
            stock_l=rng.choice([2.0, 20.0]),
            school=rng.choice(["fill", "carry"]),
        )
    made = plan(
        *sources,
        devices=tuple(devices),
        feeds=fed,
        banks=banks,
        arrays=arrays,
        engine=engine,
        floor=rng.choice([0.0, 0.1]),
        reaction_h=rng.choice([0.0, 0.5]),
    )
    outage = replace(
        CALM,
        start=datetime(2026, rng.randint(1, 12), 3, rng.randrange(24)),
        hours=24,
        goal_hours=12,
        start_charge=rng.choice([1.0, 0.6]),
        weather=rng.choice(["clear", "storm"]),
    )
    return home, made, outage


@pytest.mark.parametrize("tens", range(30))
def test_energy_is_kept_and_no_two_sources_meet(tens):
    for seed in range(10 * tens, 10 * tens + 10):
        holds(seed)


def holds(seed: int) -> None:
    home, made, outage = random_several(seed)
    check_plan(made, home, KIT)
    each = resolve(home, made, KIT).parts
    carried: dict[str, str] = {}
    for part in each:
        if part.waits:
            continue
        for item in part.fed:
            if not item.assumed and item.feed.source == part.source.id and item.load.circuit == item.feed.circuit:
                assert carried.setdefault(item.load.id, part.source.id) == part.source.id
    whole = {x.source.id for part in each for x in (part.line or (part,)) if x.source is not None}
    assert whole <= set(made.sources)
    for part in each:
        run = simulate(part, outage)
        line = run.line
        stores = run_stores(run)
        trace = run_one(
            line.stores,
            [outage.start_charge] * len(line.stores),
            line.loads_w,
            run.steps.step_h,
            sun_w=line.suns_w,
            tier_w=line.tiers_w,
            controls=run.controls,
            away=line.away,
        )
        held = trace.charge @ stores
        given = {"solar": 0.0, "out": 0.0}
        for t in trace.tallies:
            given["solar"] += t.solar_wh + t.ac_in_wh + t.bypass_wh + t.came_back_wh
            given["out"] += t.served_wh + t.lost_wh + t.went_away_wh
        assert given["solar"] + held[0] == pytest.approx(given["out"] + held[-1], rel=1e-6, abs=1e-4)
        at_one_inlet(part, run, trace)


def at_one_inlet(part: Part, run: Run, trace: Trace) -> None:
    """Of the stations in line at one inlet one gives at a time; the others at most keep themselves."""
    line = part.line or (part,)
    waits = [i for i, x in enumerate(line) if x.waits]
    if not waits or part.rank:
        return
    heads = {
        i for i, x in enumerate(line) if x.source is not None and x.source.id in {line[w].source.after for w in waits}
    }
    rows = [first_store(part, i) for i in (*heads, *waits)]
    fell = -np.diff(trace.charge[:, rows], axis=0) * run_stores(run)[rows]
    changed = {int(e.hour / run.steps.step_h - 1e-9) for e in trace.events} | {
        int(e.hour / run.steps.step_h + 1e-9) for e in trace.events
    }
    gives = (fell > 8.0 * run.steps.step_h + 1e-6).sum(axis=1)
    assert all(n <= 1 for i, n in enumerate(gives) if i not in changed)


def test_each_station_of_a_line_begins_an_outage_with_its_own_charge():
    """1,000 Wh a box and 100 W without losses: half a box and then a whole one last 5 h and 10 h."""
    home = house(hall=100)
    made = plan(source(), source("next", after="main", swap_at=0.0), devices=(device(),), feeds=feeds("hall@main"))
    assert hours(home, made)["plan"] == pytest.approx(20.0, abs=0.1)
    for charges, lasts in (({"main": 0.5}, 15.0), ({"next": 0.3}, 13.0), ({"main": 0.5, "next": 0.3}, 8.0)):
        assert hours(home, made, begun(CALM, charges))["plan"] == pytest.approx(lasts, abs=0.1), charges
    run = judge(home, made, begun(CALM, {"main": 0.5}), KIT, with_moves=False).run
    assert list(line_charges(run.part, run.outage)) == [0.5, 1.0]
    assert run.outage.charge_of("next") == 1.0


def run_stores(run: Run) -> np.ndarray:
    return np.array([s.available_wh for s in run.line.stores])


FIXED = {
    "live": (
        house(hall=60, den=40),
        plan(source(), devices=(GATE,), feeds=feeds("hall@gate")),
        "Den in the plan",
    ),
    "wrong panel": (
        house(s_bench=60),
        plan(source(), devices=(device(),), feeds=feeds("s_bench@main")),
        "Six-place manual switch at Workshop",
    ),
    "a cord into the wiring": (
        house(hall=60),
        plan(source(), feeds=feeds("hall@")),
        "the six-place manual switch, listed for it and fitted by an electrician",
    ),
}


@pytest.mark.parametrize("name", FIXED)
def test_what_cannot_be_joined_so_is_answered_by_the_nearest_that_can(name):
    home, made, label = FIXED[name]
    made = replace(made, feeds={k: replace(f, device=f.device or None) for k, f in made.feeds.items()})
    check_plan(made, home, KIT)
    verdict = judge(home, made, CALM, KIT)
    assert not verdict.fits
    best = next(p for p in verdict.fixes if p.move.label == label)
    assert best.clears
    assert judge(home, best.move.plan, CALM, KIT, with_moves=False).fits
    if "listed" in label:
        assert best.price == KIT.transfer["six-place"].price


RADIO = load("radio", 24)
PORTED = replace(BOX, dc_port_v=12, dc_port_a=4, dc_efficiency=0.8, idle_w=6, efficiency=0.9)


def ported(port: str, station: Station = PORTED, watts: float = 24) -> dict[str, object]:
    home = replace(house(hall=10), loads={"radio": replace(RADIO, run_w=watts, average_w=watts)})
    feed = Feed(id="radio", load="radio", port=port)
    kit = replace(KIT, stations={"box": station})
    made = plan(source(), feeds={"radio": feed})
    check_plan(made, home, kit)
    part = resolve(home, made, kit).parts[0]
    return {"run": simulate(part, CALM), **{x.id: x for x in fit(part, CALM)}}


def test_a_load_on_a_direct_current_port_spares_the_inverter_and_its_idle():
    # 24 W through the inverter: 24 / 0.9 + 6 W; on the port: 24 / 0.8 W, and the AC output stays off.
    assert ported("ac")["run"].hours == pytest.approx(1000 / (24 / 0.9 + 6))
    assert ported("dc")["run"].hours == pytest.approx(1000 / 30)
    assert ported("dc", watts=48)["dc_amps"].ok
    assert not ported("dc", watts=49)["dc_amps"].ok
    assert not ported("dc", replace(PORTED, dc_port_v=0))["dc_amps"].ok
    assert not ported("dc")["dc_volts"].ok
    with pytest.raises(InvalidValue, match="runs on AC"):
        check_plan(plan(source(), feeds={"hall": Feed(id="hall", circuit="hall", port="dc")}), house(hall=1), KIT)


@pytest.mark.parametrize(
    ("balances", "watts", "expected"),
    [
        (True, 1000, 3000 / 1000),  # 1,000 and 2,000 Wh in one store
        (False, 1000, 3000 / 1000),  # the larger one carries 1,000 VA alone when the smaller has ended
        (False, 1300, 2000 / 1300),  # it does not: the smaller one's share is the end
    ],
)
def test_linked_units_that_do_not_keep_each_other_even(balances, watts, expected):
    unit = replace(BOX, rated_va=1200, continuous_w=1200, parallel_balances=balances, parallel_share=1.0)
    made = plan(source(units=2, modules=1), devices=(device(),), feeds=feeds("hall@main"))
    run = simulate(resolve(house(hall=watts), made, replace(KIT, stations={"box": unit})).parts[0], CALM)
    assert run.hours == pytest.approx(expected)


def test_more_modules_carry_more_where_the_maker_says_so():
    unit = replace(BOX, continuous_w=2000, rated_va=2000, output_by_modules="1: 3000; 3: 4000")
    kit = replace(KIT, stations={"box": unit})
    for modules, watts in ((0, 2000), (1, 3000), (2, 3000), (3, 4000)):
        made = plan(source(modules=modules), devices=(device(),), feeds=feeds("hall@main"))
        found = {x.id: x for x in fit(resolve(house(hall=10), made, kit).parts[0], CALM)}
        assert found["together_w"].limit == watts
        assert found["together_va"].limit == watts
    for wrong in ("1 3000", "x: y", ": 5"):
        with pytest.raises(ValueError, match="write each as name: figure"):
            replace(BOX, output_by_modules=wrong)
    with pytest.raises(ValueError, match="isn't a solar input"):
        replace(BOX, solar_each="2: 1, 2")


def test_what_is_priced_apart_or_built_oneself_is_one_unit_with_its_parts():
    built = replace(BOX, price=Decimal(0), parts="cells: 900; inverter: 650.5; case: 80", work_h=24)
    made = plan(source(units=2), devices=(device(),), feeds=feeds("hall@main"))
    part = resolve(house(hall=10), made, replace(KIT, stations={"box": built})).parts[0]
    assert to_buy_storing(part, resolve_wiring(house(hall=10), replace(made, sources={}), KIT)) == 2 * Decimal("1630.5")


def test_sun_on_the_ac_side_counts_only_where_listed_equipment_forms_its_grid():
    array = Array(id="roof", name="Roof", panel="slate", series=4, ac=True)
    made = plan(source(), devices=(device(),), feeds=feeds("hall@main"), arrays={"roof": array})
    clear = replace(CALM, start=datetime(2026, 6, 21, 6), weather="clear", start_charge=0.5)
    for forms in (False, True):
        kit = replace(KIT, stations={"box": replace(BOX, forms_grid=forms)})
        part = resolve(house(hall=100), made, kit).parts[0]
        run = simulate(part, clear)
        assert (run.solar_w is not None) is forms
        assert {x.id: x.ok for x in fit(part, clear)}["ac_side:roof"] is forms
        assert (run.hours > 5.5) is forms


def test_an_array_set_out_by_hand_gives_in_its_hours_of_an_outage_and_on_no_ordinary_day():
    roof = Array(id="roof", name="Roof", panel="slate", series=4)
    out = replace(roof, set_out=SetOut(from_h=9, to_h=15, who="Ada"))
    clear = replace(CALM, start=datetime(2026, 6, 21, 4), hours=24, weather="clear", start_charge=0.5)

    def sun(array: Array, case: Outage) -> np.ndarray:
        made = plan(source(), devices=(device(),), feeds=feeds("hall@main"), arrays={"roof": array}, reaction_h=0.5)
        found = simulate(resolve(house(hall=100), made, KIT).parts[0], case).solar_w
        assert found is not None
        return found[:288]  # a day of five minutes

    hours = 4 + (np.arange(288) + 0.5) / 12
    there = (hours > 9) & (hours < 15)
    assert np.array_equal(sun(out, clear), sun(roof, clear) * there)
    # Begun at ten, somebody needs half an hour to come.
    late = replace(clear, start=datetime(2026, 6, 21, 10))
    assert not sun(out, late)[:6].any()
    assert sun(out, late)[6] > 0
    storm = replace(clear, weather="storm")
    assert not sun(out, storm).any()
    open_inlet = replace(out, set_out=SetOut(from_h=9, to_h=15, shut_in_wind=False))
    assert sun(open_inlet, storm).any()
    for array, ordinary in ((roof, True), (out, False), (replace(out, set_out=SetOut(outage_only=False)), True)):
        made = plan(source(), devices=(device(),), feeds=feeds("hall@main"), arrays={"roof": array})
        year = ground(house(hall=100), made, KIT, "main", [CALM], 2026)
        assert year.suns_w.any() == ordinary
        assert year.alone_suns_w.any()  # whoever is ready for an outage has it then


def test_the_card_says_who_sets_an_array_out_when_and_what_holds_in_wind():
    out = SetOut(from_h=9, to_h=15.5, who="Ada")
    roof = Array(id="roof", name="Roof", panel="slate", set_out=out)
    made = plan(source(), devices=(device(),), feeds=feeds("hall@main"), arrays={"roof": roof})
    (said,) = running_acts(resolve(house(hall=100), made, KIT).parts)
    assert said == (
        "Every day at 9:00 am, Ada: plug Roof into solar input 1 of Box. Unplug it at 3:30 pm. In wind keep the inlet "
        "closed: the hours don't count on it in a storm."
    )
    with pytest.raises(InvalidValue, match="an earlier hour"):
        check_plan(replace(made, arrays={"roof": replace(roof, set_out=SetOut(from_h=15, to_h=9))}), house(hall=1), KIT)


def test_what_a_plan_still_needs_to_know_comes_by_how_much_hangs_on_it():
    # A start of 9,000 VA: with a surge of unlisted length it may trip, with a listed one it fits.
    blind = replace(BOX, surge_s=None, input_a=0, inlet_outlet_a=0)
    home = house(hall=10)
    home = replace(home, loads={"hall-load": replace(home.loads["hall-load"], start_va=9000, kind="compressor")})
    made = plan(source(), devices=(device(),), feeds=feeds("hall@main"))
    verdict = judge(home, made, CALM, replace(KIT, stations={"box": blind}))
    assert (verdict.state, verdict.may_trip is not None) == ("runs", True)
    assert [u.id for u in verdict.unknowns][:2] == ["box.surge_s", "box.inlet_outlet_a"]
    assert "may depend" in verdict.unknowns[0].sentence
    assert judge(home, made, CALM, KIT).unknowns == []


@pytest.mark.parametrize(
    ("start_at", "generator", "dark"),
    [(0.5, "motor", None), (0.21, "motor", None), (0.2, "motor", 8), (0.1, "motor", 8), (0.1, "clinker", 8)],
)
def test_a_station_that_has_shut_off_calls_no_generator(start_at, generator, dark):
    """1,000 Wh down to 20% at 100 W are 8 h. Called above that, "motor" starts by itself; below, someone starts it an hour
    later."""
    engine = Engine(generator=generator, start_at=start_at, stop_at=0.9, stock_l=20)
    made = plan(source(), devices=(device(),), feeds=feeds("hall@main"), floor=0.2, reaction_h=1.0, engine=engine)
    part = resolve(house(hall=100), made, KIT).parts[0]
    run = simulate(part, replace(CALM, start=datetime(2026, 11, 24, 8), hours=12, goal_hours=12))
    assert run.hours == (dark if dark is None else pytest.approx(dark))
    assert run.trace.tally.engine_h > 1
    late = {x.id for x in fit(part, CALM)} & {"engine_calls"}
    assert bool(late) is (generator == "motor" and start_at <= 0.2)


@pytest.mark.parametrize(("port_v", "watts", "used", "limit", "ok"), [
    (0, 60, 5, 8, True), (24, 240, 10, 10, True), (24, 250, 250 / 24, 10, False), (5, 16, 3.2, 3, False), (48, 10, 1e6, 0, False),
])  # fmt: skip
def test_dc_outlets_of_each_voltage_hold_by_themselves(port_v, watts, used, limit, ok):
    unit = replace(BOX, dc_port_v=12, dc_port_a=8, dc_ports="24: 10; 5: 3")
    fed = Feed(id="f", load="hall-load", port="dc", port_v=port_v)
    part = resolve(house(hall=watts), plan(source(), feeds={"f": fed}), replace(KIT, stations={"box": unit})).parts[0]
    (found,) = [x for x in fit(part, CALM) if x.family == "direct"]
    assert (found.used, found.limit, found.ok) == (pytest.approx(used), limit, ok)
    assert ("USB" in found.sentence) is (port_v == 5)
    with pytest.raises(ValueError, match="volts: amps"):
        replace(BOX, dc_ports="USB: 3")


def mixed(*others: BankBranch, kit: Catalogue = KIT, **more: object) -> Plan:
    bank = replace(BANK, others=others, **more)
    return plan(source(), devices=(device(),), feeds=feeds("hall@main"), banks={bank.id: bank})


def test_unlike_kinds_side_by_side_add_their_energy_and_give_what_the_weakest_may():
    """1,280 Wh and 2 x 12.8 V x 100 Ah = 2,560 Wh; of 10 A into the input the two other ones may carry 2 x 4."""
    own = KIT.batteries["cell"]
    other = replace(own, id="other", name="Other", ah=100, discharge_a=4)
    kit = replace(KIT, batteries={"cell": own, "other": other})
    made = mixed(BankBranch(battery="other", parallel=2, fuse_a=40))
    part = resolve(house(hall=10), made, kit).parts[0]
    store = bank_store(part, made.banks["bank"], CALM, 0)
    assert store.nominal_wh == pytest.approx(own.wh + 2 * other.volts * 100)
    assert store.dc_w == pytest.approx(8 * own.volts)
    found = {x.id: x for x in fit(part, CALM)}["bank_a:bank"]
    assert (found.used, found.limit, found.ok) == (10, 8, False)
    assert "any branch may carry nearly all of it" in found.sentence


@pytest.mark.parametrize(
    ("change", "refused"),
    [
        ({}, ()),
        ({"chemistry": "AGM"}, ("bank_chemistry:bank:1",)),
        ({"volts": 12.0, "charged_v": 14.4}, ("bank_equal_volts:bank:1",)),
        ({"charged_v": 99.0}, ("bank_equal_volts:bank:1",)),
    ],
)
def test_only_one_chemistry_and_equal_volts_may_stand_side_by_side_with_a_fuse_each(change, refused):
    other = replace(KIT.batteries[BANK.battery], id="other", name="Other", **change)
    kit = replace(KIT, batteries=KIT.batteries | {"other": other})
    for fuse_a in (0, 400):
        branch = BankBranch(battery="other", series=BANK.series, fuse_a=fuse_a)
        part = resolve(house(hall=10), mixed(branch, id="bank"), kit).parts[0]
        found = {x.id: x for x in fit(part, CALM)}
        assert {k for k, x in found.items() if x.family == "bank_unlike" and x.stops} == set(refused)
        assert found["bank_fuse:bank:1"].ok is (fuse_a > 0)
        assert not found["bank_joined:bank"].ok  # until somebody has charged them full apart
