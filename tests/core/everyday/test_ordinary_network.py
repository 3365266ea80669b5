"""The ordinary year on the outage's network: a plain reckoning of quarter hours that knows nothing of the march agrees
with it, energy is kept, and an outage begun at any hour lasts what readiness counted."""

from __future__ import annotations

import random
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from statistics import NormalDist

import numpy as np
import pytest

from imbuto.core.basics.clock import Window, grid
from imbuto.core.basics.evidence import lognormal_sigma
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.everyday.grid_limits import at_limit
from imbuto.core.everyday.off_grid import lacks_most, off_grid, with_storage, with_sun
from imbuto.core.everyday.ordinary_year import LIKE, Year, year_of
from imbuto.core.everyday.readiness import lasts, readiness
from imbuto.core.everyday.year_ground import STEP_H, Ground, ground
from imbuto.core.home.home import Home
from imbuto.core.home.loads import Use
from imbuto.core.plan.everyday_policy import Everyday, Mode
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.plan_checks import check_plan
from imbuto.core.plan.sources import Array, AwayTimes
from imbuto.core.run.network import run_one
from imbuto.core.run.run import line_stores
from imbuto.core.run.run_switching import controls_of
from tests.breadth import breadth
from tests.core.run.test_several import BANK, BOX, CALM, KIT, device, feeds, house, plan, random_several, source

EVENING, NIGHT = (Window(start_h=17, end_h=22),), (Window(start_h=23, end_h=6),)
DAYS = 40
AT_20_C = 0.95 + 0.05 * 10 / 15  # of what can be drawn at 25 °C


def shifting(hold: float = 0.2, dear: tuple[Window, ...] = EVENING, use: str = "store", **more: object) -> Everyday:
    """Carries in the dear hours, and is filled in the others."""
    carries = Mode(id="d", name="Dear", use=use, windows=dear)  # type: ignore[arg-type]
    return Everyday(rest="charge", hold=hold, resume=hold + 0.05, refill=hold, modes={"d": carries}, **more)  # type: ignore[arg-type]


def year_ground(home: Home, made: Plan, kit: Catalogue = KIT, source_id: str = "main", sun_w: float = 0.0) -> Ground:
    """Forty days of January, with a half sine of sun at the first store."""
    check_plan(made, home, kit)
    g = ground(home, made, kit, source_id, [CALM], 2026)
    light = np.zeros_like(g.suns_w)
    light[0] = sun_w * np.maximum(np.sin((g.steps.hour - 7) / 10 * np.pi), 0.0) * (abs(g.steps.hour - 12) < 5)
    return replace(g, suns_w=light).part_of(slice(0, DAYS * 96))


def days_of(y: Year) -> float:
    return len(y.bought_w) / 96


# Figures by hand


PAIRED = replace(BOX, id="paired", nominal_wh=4000, efficiency=0.93, idle_w=20, charge_w=3000)


@pytest.mark.parametrize(("circuits", "legs", "served"), [(("hall", "attic"), 1, 2888.0), (("hall", "den"), 2, 5701.0)])
def test_a_pair_gives_each_leg_what_is_in_its_own_unit(circuits, legs, served):
    """2 × 4,000 Wh, a fifth kept, 700 + 700 W on one leg or on both in five peak hours: 3,147 Wh a unit at 20 °C."""
    fed = feeds("hall@main", "den@main", "attic@main")  # places 1 to 3, on A, B and A
    made = plan(
        source(station="paired", units=2, link="coupler"),
        devices=(device(equipment="auto-panel"),),
        feeds={k: fed[k] for k in circuits},
    )
    kit = replace(KIT, stations=KIT.stations | {"paired": PAIRED})
    g = year_ground(house(hall=700, den=700, attic=700), made, kit)
    y = year_of(g, shifting())
    hour = g.steps.hour[: len(y.bought_w)]
    peak = (hour >= 17) & (hour < 22)
    lasted = served / 1400
    own_by_grid = 20 * legs * (5 - lasted)  # while the grid carries, it carries their own draw too
    by_battery = float((g.fed_w - y.bought_w)[peak].sum()) * STEP_H / days_of(y)
    assert by_battery == pytest.approx(served - own_by_grid, rel=2e-4)


CAR = replace(
    BOX,
    id="car",
    name="Car",
    nominal_wh=60_000,
    efficiency=0.93,
    idle_w=250,
    vehicle=True,
    volts="120/240",
    leg_surge_va=9000,
)


def test_a_car_keeps_its_drive_on_ordinary_days_and_in_what_readiness_counts():
    """60 kWh, a drive of 30: 39 kept. At 600 W the other 21 last 23.5 h, so a goal of 40 h is never reached."""
    made = plan(
        source(station="car", drive_wh=30_000), devices=(device(equipment="vehicle-gateway"),), feeds=feeds("hall@main")
    )
    g = ground(house(hall=600), made, replace(KIT, stations=KIT.stations | {"car": CAR}), "main", [CALM], 2026)
    y = year_of(g, Everyday(rest="store", hold=0.1, resume=0.1, refill=0.1))
    store = line_stores(g.line[0], LIKE)[0]
    assert store.floor * store.available_wh == pytest.approx(39_000)
    assert y.charges.min() >= store.floor - 1e-9
    full = year_of(g, Everyday())
    assert readiness(full, 40).chance == 0
    usable = 60_000 * AT_20_C - 39_000
    assert lasts(full, 40).mean() == pytest.approx(usable / (600 / 0.93 + 250), rel=0.01)
    # A goal that a draw of up to 1.10 times the expected one reaches: of five draws, three or four stay below that.
    most = (usable / 20.7 - 250) * 0.93 / 600
    sigma = lognormal_sigma(np.hypot(np.hypot(g.part.fed[0].load.relative_spread, 0.10), 0.03))
    drawn = [np.exp(sigma * NormalDist().inv_cdf(share) - sigma * sigma / 2) for share in (0.1, 0.3, 0.5, 0.7, 0.9)]
    assert readiness(full, 20.7).chance == pytest.approx(sum(x <= most for x in drawn) / 5)
    assert 0.5 < readiness(full, 20.7).chance < 1


@pytest.mark.parametrize(
    ("equipment", "round_trip", "saved"),
    [("grid-parallel", 1.0, 2.70), ("grid-parallel", 0.8, 2.25), ("auto-panel", 1.0, 0.0)],
)
def test_what_is_over_its_output_is_filled_in_or_goes_back(equipment, round_trip, saved):
    """3,000 W of 4,200 for three hours, 0.50 by day and 0.20 by night: what it carries saves, what goes back does not."""
    station = replace(
        BOX,
        id="cap",
        nominal_wh=40_000,
        continuous_w=3000,
        rated_va=3000,
        charge_w=6000,
        charge_efficiency=round_trip,
        volts="120/240",
        leg_a=25,
        leg_surge_va=6000,
    )
    three = Use(kind="windows", windows=(Window(start_h=18, end_h=21),))
    home = house(hall=2100, den=2100)
    home = replace(home, loads={k: replace(x, use=three) for k, x in home.loads.items()})
    made = plan(source(station="cap"), devices=(device(equipment=equipment),), feeds=feeds("hall@main", "den@main"))
    g = year_ground(home, made, replace(KIT, stations=KIT.stations | {"cap": station}))
    assert at_limit(g.part) == ("fills_in" if equipment == "grid-parallel" else "goes_back")
    y = year_of(g, shifting())
    dear = (g.steps.hour[: len(y.bought_w)] >= 7) & (g.steps.hour[: len(y.bought_w)] < 23)
    moved = float((g.fed_w - y.bought_w)[dear & (g.fed_w > 0)].sum()) * STEP_H / 1000
    assert moved * (0.50 - 0.20 / round_trip) / days_of(y) == pytest.approx(saved, rel=1e-3, abs=1e-9)
    stored = float((y.bought_w - g.fed_w).clip(0).sum()) * STEP_H / 1000  # at whatever hour it is filled
    assert stored * round_trip == pytest.approx(moved, rel=1e-3)
    assert bool(y.overload.over[0].any()) is True


@pytest.mark.parametrize(("place", "over"), [(1, True), (2, False)])
def test_what_a_station_passes_on_counts_on_the_leg_it_is_plugged_into(place, over):
    """25 A a leg are 3,000 W: 2,000 W on leg A, and 1,500 W behind a small station on that leg, or on the other."""
    wide = replace(BOX, id="wide", volts="120/240", leg_a=25, leg_surge_va=6000, nominal_wh=40_000)
    fed = feeds("hall@main", "attic@main", "den-load!small")
    fed = {k: replace(f, place={"hall": 3, "attic": place}.get(k, 1)) for k, f in fed.items()}
    made = plan(
        source(station="wide"),
        source("small", plugged_into="attic"),
        devices=(device(equipment="auto-panel"),),
        feeds=fed,
    )
    kit = replace(KIT, stations=KIT.stations | {"wide": wide})
    y = year_of(year_ground(house(hall=2000, attic=0, den=1500), made, kit), shifting())
    assert bool(y.overload.over[0].any()) is over


# A plain reckoning


@dataclass
class Cell:
    """A store in plain figures, W and Wh; nothing of it comes from the march."""

    full: float
    hold: float
    resume: float
    refill: float
    efficiency: float
    idle: float
    charger: float
    charging: float
    nominal: float
    thrown: bool = False
    back_at: float | None = None
    away: bool = False
    bank_wh: float = 0.0
    bank_floor: float = 0.0
    sun: float = 0.0
    dc: float = 0.0
    wh: float = 0.0
    holding: bool = False
    on: bool = True
    sums: dict[str, float] = field(
        default_factory=lambda: dict.fromkeys(("served", "unserved", "bought", "thrown"), 0.0)
    )

    def step(self, mode: str, load: float, sun: float, dt: float, surplus: float = 0.0, *, banked: bool = True) -> None:
        """A short time with steady watts. surplus: of the roof; banked: whether its bank may give."""
        if self.away:  # the grid carries what it would
            self.sums["served"] += load * dt
            self.sums["bought"] += load * dt
            return
        dc = BANK_W if banked and self.bank_wh > self.bank_floor else 0.0
        self.sun, self.dc = sun, dc
        bus, charge = 0.97 * (sun + dc), self.wh / self.full - 1e-12
        drain, mark = load / self.efficiency + self.idle - bus, (self.back_at or self.hold) * self.full
        until = (self.wh - mark) / drain if mode == "store" and drain > 0 else 0.0
        if 1e-6 < until < dt - 1e-6:  # down to its hold meanwhile
            self.step(mode, load, sun, until, surplus, banked=banked)
            self.step(mode, load, sun, dt - until, surplus, banked=banked)
            return
        hand = self.thrown and mode == "store"
        by_grid = not hand or self.back_at is not None
        if self.back_at is not None:  # somebody throws it back, and over again the next time
            self.holding = hand and (charge < 1.0 - 1e-9 if self.holding else charge <= self.back_at)
        elif by_grid:
            self.holding = charge < self.resume if self.holding else charge <= self.hold
        if mode == "store" and ((not by_grid) or not self.holding):
            if not self.on and charge >= self.hold + 0.05 * self.nominal / self.full:
                self.on = True
            if not self.on and not by_grid:
                self.sums["unserved"] += load * dt
                self.take(bus, 0.0, min(8.0, bus) if self.wh <= 0 else 8.0, dt)
                return
            self.sums["served"] += load * dt
            self.take(bus, 0.0, load / self.efficiency + self.idle, dt)
            if not by_grid and self.wh <= self.hold * self.full:
                self.on = False
            return
        self.on = self.on or charge >= self.hold + 0.05 * self.nominal / self.full
        lit = mode == "sun" and not self.thrown and bus > self.idle
        by_sun = min(load, (bus - self.idle) * self.efficiency) if lit else 0.0
        drawn = by_sun / self.efficiency + self.idle if lit else 0.0
        own = 0.0 if lit or self.thrown else self.idle
        fills = mode in ("charge", "surplus") or (self.holding and charge < self.refill)
        self.sums["served"] += load * dt
        taken = self.take(bus, min(self.charger, surplus if mode == "surplus" else 1e9) if fills else 0.0, drawn, dt)
        self.sums["bought"] += (load - by_sun + own + taken) * dt

    def take(self, bus: float, ac: float, drawn: float, dt: float) -> float:
        """Balance the battery; the AC W that its charger took."""
        over, lack = max(bus - drawn, 0.0), max(drawn - bus, 0.0)
        offered = over * 0.97 + ac * self.charging
        share = 0.0
        if offered > 0 and self.wh < self.full:
            charge = (self.wh + offered * dt / 2) / self.full
            share = 1.0 if charge <= 0.9 else 1 - 0.8 * (min(charge, 1.0) - 0.9) / 0.1
            share = min(share, (self.full - self.wh) / (offered * dt))
        self.wh += (offered * share - lack) * dt
        used = (bus - over * (1 - share)) / 0.97
        gave = min(max(used - self.sun, 0.0), self.dc)  # the light first, then the bank
        self.bank_wh -= gave * dt
        self.sums["thrown"] += (over * (1 - share) - (self.dc - gave) * 0.97) * dt
        return ac * share


JOININGS = (
    "cords",
    "auto-panel",
    "grid-parallel",
    "ten-place",
    "pair",
    "upstream",
    "left-on",
    "thrown-back",
    "roof",
    "car",
    "bank",
    "interlock",
    "waiting",
    "behind",
)
ROOF = Array(id="roof", name="Roof", panel="slate", ac=True, owned=True)
TIMED = replace(BANK, by="hours", windows=EVENING)
BANK_W = 128.0  # 10 A of 12.8 V
COMMUTE = AwayTimes(windows=(Window(start_h=8, end_h=17, days="weekday"),), back_with=0.6)
BY_HAND = ("ten-place", "thrown-back", "waiting", "interlock")
DEAR = (7, 23)  # hours of the dear price
SPLIT = 60  # short times of a quarter hour: at 15 s the plain way comes within a thousandth


def generated(seed: int) -> tuple[str, Ground, Everyday, Home]:
    """A home, its joining and a way of running it."""
    rng = random.Random(seed)
    joining = JOININGS[seed % len(JOININGS)]
    station = replace(
        BOX,
        id="own",
        nominal_wh=rng.choice([1500.0, 4000.0]),
        efficiency=rng.choice([0.9, 0.94]),
        charge_efficiency=rng.choice([0.88, 0.92]),
        idle_w=rng.choice([6.0, 25.0]),
        continuous_w=rng.choice([500.0, 6000.0]),
        rated_va=6000,
        charge_w=rng.choice([400.0, 1200.0]),
    )
    home = house(hall=rng.choice([60.0, 180.0]), den=rng.choice([40.0, 90.0]), attic=rng.choice([300.0, 700.0]))
    evening = Use(kind="windows", windows=(Window(start_h=rng.randrange(15, 19), end_h=rng.randrange(20, 23)),))
    home = replace(home, loads=home.loads | {"attic-load": replace(home.loads["attic-load"], use=evening)})
    names = ("hall", "attic")
    more: dict[str, object] = {"units": 2, "link": "coupler"} if joining == "pair" else {}
    if joining == "car":
        station = replace(station, vehicle=True, volts="120/240", leg_surge_va=9000)
        more = {"drive_wh": rng.choice([0.0, 0.3]) * station.nominal_wh, "away": COMMUTE}
    if joining == "cords":
        made = plan(source(station="own"), feeds=feeds(*(f"{n}-load!main" for n in names)))
    elif joining == "upstream":
        made = plan(
            source(station="own"),
            source("small", station="own", plugged_into="hall", own_first=True),
            devices=(device(equipment="auto-panel"),),
            feeds=feeds("hall@main", "den-load!small"),
        )
    elif joining == "behind":
        made = plan(
            source(station="own"),
            source("low", station="own"),
            devices=(device(equipment="main-gateway"), device("switch", "ten-place", source="low", behind="main")),
            feeds=feeds("hall@main", "attic@main", "den@switch:low"),
        )
    else:
        gear = {
            "pair": "auto-panel",
            "left-on": "ten-place",
            "thrown-back": "ten-place",
            "roof": "auto-panel",
            "car": "vehicle-gateway",
            "bank": "auto-panel",
            "waiting": "ten-place",
        }.get(joining, joining)
        made = plan(
            source(station="own", **more),
            *([source("next", station="own", after="main", swap_at=0.3)] if joining == "waiting" else ()),
            devices=(device(equipment=gear, left_on=joining == "left-on"),),
            feeds=feeds(*(f"{n}@main" for n in names)),
            arrays={"roof": ROOF} if joining == "roof" else {},
            banks={"bank": rng.choice([BANK, TIMED])} if joining == "bank" else {},
        )
    hold = rng.choice([0.2, 0.5, 0.8])
    least = max(hold, 0.4) if joining == "car" else hold  # the most that a drive keeps
    everyday = Everyday(
        rest="surplus"
        if joining == "roof"
        else rng.choice(["charge", "store"] if joining in BY_HAND else ["charge", "sun", "store"]),
        hold=hold,
        resume=min(least + 0.1, 1.0),
        refill=least + 0.05,
        misses=rng.choice([0, 3, 10]) if joining in BY_HAND else 0,
        back_at=min(hold + 0.1, 1.0) if joining == "thrown-back" else None,
        modes={
            "d": Mode(id="d", name="D", use="store", windows=EVENING),
            "n": Mode(id="n", name="N", use="charge", windows=NIGHT),
        },
    )
    kit = replace(KIT, stations=KIT.stations | {"own": station})
    g = year_ground(home, made, kit, sun_w=rng.choice([0.0, 400.0, 900.0]))
    lit = np.maximum(np.sin((g.steps.hour - 7) / 10 * np.pi), 0.0) * (abs(g.steps.hour - 12) < 5)
    roof_w = (rng.choice([600.0, 2000.0]) if joining == "roof" else 0.0) * lit[: g.loads_w.shape[1]]
    return joining, replace(g, roof_w=roof_w, owned_roof_w=roof_w), everyday, home


def plainly(joining: str, g: Ground, everyday: Everyday) -> dict[str, float]:
    """The same by plain short times."""
    station, pair = g.part.unit, joining == "pair"
    cap = min(station.continuous_w, station.rated_va)
    thrown = joining in BY_HAND
    bank_wh = line_stores(g.line[0], LIKE)[1].available_wh if joining == "bank" else 0.0
    timed = any(b.windows for b in g.part.plan.banks.values())
    drive = 1.3 * g.part.source.drive_wh / (station.nominal_wh * AT_20_C)
    keeps = max(0.2, drive) if joining == "car" else 0.0  # a fifth, and what the drive takes with a margin

    def cell(behind: bool = False) -> Cell:
        return Cell(
            full=station.nominal_wh * AT_20_C,
            hold=max(everyday.hold, keeps),
            resume=max(everyday.resume, everyday.hold, keeps),
            refill=max(everyday.refill, everyday.hold, keeps),
            efficiency=station.efficiency,
            idle=station.idle_w,
            charger=station.charge_w,
            charging=station.charge_efficiency,
            nominal=station.nominal_wh,
            thrown=thrown,
            back_at=everyday.back_at,
            bank_wh=bank_wh,
            wh=station.nominal_wh * AT_20_C,
        )

    cells = [cell() for _ in range(2 if pair or joining == "upstream" else 1)]
    extra = {"bought": 0.0, "unserved": 0.0}
    tripped, cost, so_far = 0, 0.0, 0.0
    for i in range(g.loads_w.shape[1]):
        hour = g.steps.hour[i]
        mode = everyday.rest
        if 17 <= hour < 22:
            mode = "store"
        elif hour >= 23 or hour < 6:
            mode = "charge"
        day = i // 96
        if thrown and (day + 1) * everyday.misses // 30 > day * everyday.misses // 30:
            mode = everyday.rest  # nobody threw it on that day
        loads = [float(w) for w in g.loads_w[:, i]]
        if joining == "interlock":  # nobody throws a whole panel over on ordinary days
            mode = "stand"
        elif joining == "waiting":
            loads = loads[:1]
        elif joining == "behind":  # its levers stay at the gateway, and its station full
            loads = [sum(loads)]
        carries = mode == "store" or (mode == "sun" and not thrown)
        if joining == "upstream":
            below_w = loads[1]
            if carries and below_w > cap:
                loads, below_w = [loads[0] + loads[1], 0.0], 0.0
        over = carries and any(w > cap for w in loads) and joining != "upstream"
        if joining == "upstream":
            pass
        elif over and joining in ("grid-parallel", "behind"):
            extra["bought"] += (loads[0] - cap) * STEP_H
            loads = [cap]
        elif over and not thrown:
            extra["bought"] += sum(loads) * STEP_H
            loads = [0.0] * len(loads)
        elif thrown:
            tripped = 1 if over else 0
            if tripped:
                extra["unserved"] += loads[0] * STEP_H
                loads = [0.0]
        if joining == "car":
            gone = 8 <= hour < 17 and not g.steps.weekend[i]
            if cells[0].away and not gone:
                cells[0].wh = 0.6 * cells[0].full
            cells[0].away = gone
        for _ in range(SPLIT):
            if joining != "upstream":
                for s, c in enumerate(cells):
                    surplus = max(float(g.roof_w[i] - g.fed_w[i] - g.rest_w[i]), 0.0)
                    banked = 17 <= hour < 22 or not timed
                    c.step(mode, loads[s], float(g.suns_w[s, i]), STEP_H / SPLIT, surplus, banked=banked)
                continue
            upper, lower = cells
            passed = 0.0
            if not lower.on and lower.wh >= everyday.resume * lower.full:
                lower.on = True
            if lower.on:
                lower.take(0.0, 0.0, loads[1] / lower.efficiency + lower.idle, STEP_H / SPLIT)
                lower.on = lower.wh > everyday.hold * lower.full
            else:
                passed = loads[1] + lower.idle
            head = loads[0] + passed
            if carries and head > cap:
                extra["bought"] += loads[0] * STEP_H / SPLIT
                head = passed
            upper.step(mode, head, float(g.suns_w[0, i]), STEP_H / SPLIT)
        now = sum(c.sums["bought"] for c in cells) + extra["bought"]
        cost += (now - so_far) / 1000 * (0.48 if DEAR[0] <= hour < DEAR[1] else 0.19)
        so_far = now
    total = {k: sum(c.sums[k] for c in cells) for k in ("unserved", "bought", "thrown")}
    total["unserved"] += extra["unserved"]
    total["bought"] += extra["bought"]
    return total | {"cost": cost}


@pytest.mark.parametrize("seed", range(breadth(24, 200)))
def test_a_plain_reckoning_that_knows_nothing_of_the_march_agrees(seed):
    joining, g, everyday, _ = generated(seed)
    g = g.part_of(slice(0, breadth(14, DAYS) * 96))
    y = year_of(g, everyday, start=1.0)
    found = {
        "unserved": y.unserved_wh,
        "bought": float(y.bought_w.sum()) * STEP_H,
        "thrown": float(y.thrown_w.sum()) * STEP_H,
    }
    by_hand = plainly(joining, g, everyday)
    whole = float(g.fed_w.sum()) * STEP_H
    hour = g.steps.hour[: len(y.bought_w)]
    price = np.where((hour >= DEAR[0]) & (hour < DEAR[1]), 0.48, 0.19)
    assert float((y.bought_w * price).sum()) * STEP_H / 1000 == pytest.approx(by_hand.pop("cost"), rel=0.002, abs=0.02)
    for name, value in by_hand.items():
        assert found[name] == pytest.approx(value, rel=0.005, abs=0.002 * whole), (joining, name, found, by_hand)
    served = float(y.served_w.sum()) * STEP_H
    assert served + y.unserved_wh == pytest.approx(whole)


# What always holds


@pytest.mark.parametrize("seed", range(breadth(20, 200)))
def test_energy_is_kept_on_ordinary_days_of_any_joining(seed):
    home, made, outage = random_several(seed)
    rng = random.Random(seed)
    away = {
        k: replace(s, away=AwayTimes(windows=(Window(start_h=8, end_h=17),), back_with=0.7) if s.away else None)
        for k, s in made.sources.items()
    }
    made = replace(made, sources=away)
    hold = rng.choice([0.2, 0.6])
    everyday = Everyday(rest=rng.choice(["charge", "sun", "store"]), hold=hold, resume=hold + 0.1, refill=hold)
    seen: set[str] = set()
    for key in made.sources:
        if key in seen:
            continue
        g = ground(home, made, KIT, key, [outage], 2026).part_of(slice(0, 10 * 96))
        seen |= {x.source.id for x in g.line}
        y = year_of(g, everyday, start=0.9)
        wh = np.array([s.available_wh for s in y.stores])
        t = y.trace.tally
        came = t.solar_wh + t.ac_in_wh + t.grid_wh + t.came_back_wh
        went = t.served_wh + t.lost_wh + t.went_away_wh
        held = y.charges @ wh
        assert came + held[0] == pytest.approx(went + held[-1], rel=1e-6, abs=1e-3), key
        by_grid = float(y.overload.by_grid_w.sum()) * STEP_H
        assert float(y.bought_w.sum()) * STEP_H == pytest.approx(t.grid_wh + t.ac_in_wh + by_grid, rel=1e-6, abs=1e-3)
        whole = float(g.fed_w.sum()) * STEP_H
        assert t.served_wh + by_grid_served(y) + y.unserved_wh == pytest.approx(whole, rel=1e-6, abs=1e-3)


def by_grid_served(y: Year) -> float:
    """Wh of what hangs on the line that the grid gave past the stations."""
    return float(y.overload.by_grid_w.sum()) * STEP_H


@pytest.mark.parametrize("seed", [*range(len(JOININGS)), -JOININGS.index("bank")])
def test_an_outage_begun_at_any_hour_lasts_what_readiness_counted(seed):
    _, g, everyday, _ = generated(abs(seed))
    if seed < 0:  # standing full, its bank is full, too, and gives in the evening alone
        everyday = Everyday()
        assert g.gives is not None
        assert g.gives[1].mean() == pytest.approx(5 / 24)
    goal = 24.0
    y = year_of(g, everyday)
    counted = lasts(y, goal)
    stores = list(line_stores(g.line[0], LIKE))
    rng = random.Random(abs(seed))
    n = round(goal / STEP_H)
    on = [s for s in range(len(stores)) if g.outage_w[s].any()]
    by_hand = replace(
        controls_of(g.line[0], grid(datetime(2001, 1, 1), "UTC", goal, STEP_H)),
        awake=np.ones(n, dtype=bool),
        owes_w=np.zeros((len(stores), n)),
        gap_w=np.zeros((len(stores), n)),
    )
    for hour in rng.sample(range(len(counted) - 25), breadth(40, 500)):
        at = hour * 4
        trace = run_one(
            stores,
            [float(c) for c in y.charges[at]],
            g.outage_w[:, at : at + n],
            STEP_H,
            sun_w=g.suns_w[:, at : at + n],
            controls=by_hand if any(x.waits for x in g.line) else None,
            gives=None if g.gives is None else g.gives[:, at : at + n],
        )
        assert min(float(trace.dark_h[on].min()), goal) == pytest.approx(counted[hour], abs=0.5), hour


def test_what_is_left_unserved_is_bought_in_neither_bill_and_saves_nothing():
    """A switch by hand that keeps 90%: what it leaves dark is a loss, and never a saving."""
    station = replace(BOX, id="own", nominal_wh=2000)
    made = plan(source(station="own"), devices=(device(equipment="ten-place"),), feeds=feeds("hall@main"))
    g = year_ground(house(hall=200), made, replace(KIT, stations=KIT.stations | {"own": station}))
    y = year_of(g, shifting(hold=0.9))
    assert y.unserved_wh > 0.5 * 200 * 5 * DAYS
    bought = float(y.bought_w.sum()) * STEP_H
    served = float(y.served_w.sum()) * STEP_H
    assert bought >= served  # it draws nothing from anywhere else, so it can only lose


def test_a_roof_gives_to_the_house_first_then_to_the_battery_and_then_to_the_grid():
    """1,000 W from nine to three against 200 W on the station and 100 beside it: 700 W charge it, and what they gave
    carries the evening's five hours."""
    made = plan(
        source(station="own"),
        devices=(device(equipment="auto-panel"),),
        feeds=feeds("hall@main"),
        arrays={"roof": ROOF},
    )
    own = replace(BOX, id="own", nominal_wh=20_000, charge_w=3000)
    g = year_ground(house(hall=200, den=100), made, replace(KIT, stations=KIT.stations | {"own": own}))
    hour = g.steps.hour[: g.loads_w.shape[1]]
    roof_w = np.where((hour >= 9) & (hour < 15), 1000.0, 0.0)
    g = replace(g, roof_w=roof_w, owned_roof_w=roof_w)
    evening = Mode(id="e", name="E", use="store", windows=EVENING)
    y = year_of(g, Everyday(rest="surplus", hold=0.2, resume=0.2, refill=0.2, modes={"e": evening}))
    evening_kwh = 5 * 0.2 * DAYS
    assert float(y.bought_w.sum()) * STEP_H / 1000 == pytest.approx(24 * 0.2 * DAYS - evening_kwh + evening_kwh / 0.92)
    charged = (y.bought_w > 200.5) & (roof_w == 0)
    assert not charged.any()
    of_line = float((y.bought_w - y.by_roof_w).sum()) * STEP_H / 1000
    assert of_line == pytest.approx((24 - 6 - 5) * 0.2 * DAYS)
    made_kwh, beside_kwh = 6.0 * DAYS, 6 * 0.1 * DAYS
    spilled = made_kwh - beside_kwh - 6 * 0.2 * DAYS - evening_kwh / 0.92
    assert float(y.spilled_w.sum()) * STEP_H / 1000 == pytest.approx(spilled)
    assert float(year_of(g, Everyday(rest="surplus", hold=0.2, no_grid=True)).spilled_w.sum()) == 0
    # Begun again with the modes of that year, it charges from the surplus alone, and never without the roof.
    begun = year_of(g, y.everyday, start=0.5, use=y.use)
    assert float(begun.bought_w[:36].max()) <= 200 + 1e-6
    dull = replace(g, roof_w=0 * roof_w, owned_roof_w=0 * roof_w)
    assert year_of(dull, y.everyday, start=0.5, use=y.use).charges.max() == pytest.approx(0.5)


def test_a_year_without_the_grid_counts_the_days_that_come_up_short():
    """200 W all day are 4.8 kWh; a sun that brings more on all but nine days of January leaves those short."""
    station = replace(BOX, id="own", nominal_wh=8000, solar_max_w=5000)
    made = plan(source(station="own"), feeds=feeds("hall-load!main"))
    g = ground(house(hall=200), made, replace(KIT, stations=KIT.stations | {"own": station}), "main", [CALM], 2026)
    bright = np.where(abs(g.steps.hour - 12) < 5, 900.0, 0.0)
    dull = (g.day >= 10) & (g.day < 19)
    g = replace(g, suns_w=np.where(dull, 0.0, bright)[None])
    found = off_grid(g, Everyday(hold=0.5))
    # Full at five on the tenth: 7,867 Wh at 20 °C last until a quarter past eight on the twelfth, and the sun is back at
    # seven on the twentieth.
    assert found.since == date(2026, 1, 12)
    assert found.short == found.longest == 9
    assert found.unserved_kwh == pytest.approx((8 * 24 + 7 - 8.3) * 0.2, abs=0.2)
    assert off_grid(with_storage(g, 2), Everyday()).short < found.short
    assert off_grid(with_sun(g, 2), Everyday()).short == found.short  # more of nothing
    assert lacks_most(g, Everyday(), found) == "storage"
    lit = replace(g, suns_w=bright[None])
    assert off_grid(lit, Everyday()).short == 0
    assert lacks_most(lit, Everyday(), off_grid(lit, Everyday())) == ""


def test_gear_on_the_mains_serves_the_whole_house_while_the_grid_is_there_and_its_panel_without():
    made = plan(source(), devices=(device(equipment="grid-parallel"),), feeds=feeds("hall@main"))
    g = year_ground(house(hall=100, den=250), made)
    assert (float(g.fed_w.mean()), float(g.rest_w.mean()), float(g.asked_w.mean())) == (350, 0, 100)
    alone = year_of(g, Everyday(no_grid=True), start=1.0)
    served = float(alone.trace.tally.served_wh)
    assert served == pytest.approx(1000 * AT_20_C, rel=1e-3)  # of its own circuits, until it is empty
    assert alone.unserved_wh == pytest.approx(100 * 24 * DAYS - served, rel=1e-6)
    behind = plan(source(), devices=(device(equipment="auto-panel"),), feeds=feeds("hall@main"))
    assert float(year_ground(house(hall=100, den=250), behind).rest_w.mean()) == 250
