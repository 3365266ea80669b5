"""What the Fuel page shows: both schools of running a generator in an outage, and every way to fill a station."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from imbuto.core.advice.answer import Answer
from imbuto.core.advice.verdict import Verdict
from imbuto.core.basics.units import hours_text, number_text
from imbuto.core.equipment.portable_generator import Generator
from imbuto.core.light.solar_light import solar_w
from imbuto.core.limits.rules.solar_input_limits import most_w
from imbuto.core.plan.sources import Engine, School
from imbuto.core.plan.system import Part, vary_in_line
from imbuto.core.run.run import Run, simulate
from imbuto.core.run.run_switching import engine_of, hands, minutes_to_act
from imbuto.services.desk.planner import Planner
from imbuto.services.desk.run_views import Span, engine_spans

SCHOOLS: tuple[School, ...] = ("fill", "carry")
DAY_H = 24.0


@dataclass(frozen=True, slots=True, kw_only=True)
class SchoolView:
    """One school over the outage's own length.

    hours: to the first dark, None while still on at the end
    runs: times it is started
    trips: times its tank is filled again
    fuel_days: the fuel at hand at that pace, None when none is burnt
    load_share: of its running W, while it runs
    spans: when it runs, elapsed hours
    gone_h: when its fuel is, None where some is left
    a_day_l: until then
    reason: why it burns what it does
    """

    school: School
    run_h: float
    fuel_l: float
    a_day_l: float
    runs: int
    trips: int
    fuel_days: float | None
    hours: float | None
    low: float
    load_share: float
    spans: list[Span]
    gone_h: float | None
    reason: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FillWay:
    """One way to fill the station.

    watts: the most it takes, AC or DC
    hours: from floor to full at that, None for never
    """

    name: str
    watts: float
    hours: float | None
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PlugView:
    """One cord end to another.

    amps: of the lower of the two, which is what may pass
    fits: no adapter is wanted
    """

    start: str
    end: str
    amps: float
    fits: bool
    note: str


@dataclass(frozen=True, slots=True, kw_only=True)
class FuelView:
    """A plan's generator in an outage.

    schools: both, none without one
    difference: between them, in words
    running_w: at the site's height
    charger_w: what it may put into the station beside the house
    minutes: from the charge it is wanted at to the floor
    alone: it wants a hand to start it, and nobody at home can
    generators: to pick from
    """

    generators: list[Generator]
    schools: list[SchoolView]
    difference: str
    running_w: float
    charger_w: float
    minutes: float | None
    alone: bool
    ways: list[FillWay]
    plugs: list[PlugView]


def fuel_view(planner: Planner, home_id: str, plan: str, outage: str) -> FuelView:
    """The Fuel page of a plan in an outage. Raises NotFound."""
    answer = planner.answer_of(home_id, plan, outage)
    catalogue = planner.open(home_id).catalogue
    site = answer.home.site
    made = [g for g in catalogue.generators.values() if g.currency == site.currency] or list(
        catalogue.generators.values()
    )
    lead = _with_engine(answer)
    if lead is None:
        return FuelView(
            generators=made,
            schools=[],
            difference=_difference([], 0.0),
            running_w=0.0,
            charger_w=0.0,
            minutes=None,
            alone=False,
            ways=[],
            plugs=[],
        )
    now, run = lead.part, lead.run
    engine = engine_of(now)
    schools = [_school(now, run, s) for s in SCHOOLS] if engine is not None and run is not None else []
    average = run.average_w if run else 0.0
    return FuelView(
        generators=made,
        schools=schools,
        difference=_difference(schools, average),
        running_w=engine.running_w if engine else 0.0,
        charger_w=engine.charger_w if engine else 0.0,
        minutes=minutes_to_act(now.generator, now, average, run.store.available_wh) if run else None,
        alone=engine is not None and engine.by_hand and not hands(now),
        ways=_ways(now, run) if run else [],
        plugs=_plugs(now),
    )


def _with_engine(answer: Answer) -> Verdict | None:
    """The station of a plan its generator belongs to, the first where it has none; None in a plan without one."""
    each = answer.stations
    return next((v for v in each if v.part.plan.engine is not None), each[0] if each else None)


def _school(now: Part, run: Run, school: School) -> SchoolView:
    use = now.plan.engine
    assert use is not None
    then = run if use.school == school else simulate(_in_school(now, use, school), run.outage)
    hours, step_h = run.outage.hours, run.steps.step_h
    n = min(len(then.trace.engine_h), max(1, round(hours / step_h)))
    fuel, run_h = float(then.trace.fuel_l[:n].sum()), float(then.trace.engine_h[:n].sum())
    spans = engine_spans(then, n * step_h)
    made = engine_of(now)
    assert made is not None
    share = 0.0
    if run_h > 0 and made.l_per_wh > 0:
        share = max((fuel / run_h - made.still_l_h) / made.l_per_wh / made.running_w, 0.0)
    tank = now.generator.tank_l if now.generator else 0.0
    gone_h = spans[-1].to_h if spans and fuel >= 0.999 * use.stock_l else None
    a_day = fuel * DAY_H / (gone_h or hours)
    return SchoolView(
        school=school,
        run_h=run_h,
        fuel_l=fuel,
        a_day_l=a_day,
        runs=len(spans),
        trips=max(math.ceil(fuel / tank - 1e-9) - 1, 0) if tank > 0 else 0,
        fuel_days=use.stock_l / a_day if a_day > 0 else None,
        hours=then.hours,
        low=float(then.charge[: n + 1].min()),
        load_share=share,
        spans=spans,
        gone_h=gone_h,
        reason=_reason(school, made.still_l_h * run_h, fuel, share, _lost(run), _idle_why(now, then)),
    )


def _in_school(now: Part, use: Engine, school: School) -> Part:
    """The part as if its generator ran by a school, with all that are stepped with it."""

    def run_so(x: Part) -> Part:
        return x if x.plan.engine is None else replace(x, plan=replace(x.plan, engine=replace(use, school=school)))

    return vary_in_line(now, run_so, all_of_line=True)


def _lost(run: Run) -> float:
    """The share of what a generator stores that is lost on the way in and out again."""
    return 1 - run.store.ac_charge_efficiency * run.store.efficiency


def _reason(school: School, turning_l: float, fuel_l: float, share: float, lost: float, idle: str) -> str:
    if fuel_l <= 0:
        return idle
    text = (
        f"It runs at {100 * share:.0f}% of its power; {100 * turning_l / fuel_l:.0f}% of the fuel only keeps it idling."
    )
    if school == "carry":
        return text
    return text + f" Charging and discharging loses {100 * lost:.0f}% of the stored energy."


def _idle_why(now: Part, run: Run) -> str:
    """Why a generator that burnt nothing did not: the run's own reason."""
    made = now.generator
    if made is None or run.hours is None:
        return "The generator isn't needed in this outage."
    if made.start == "by_hand" and not hands(now):
        return f"No one at home can start {made.name}, so it never runs, and the power runs out with its fuel unused."
    return (
        f"The charge at which {made.name} starts comes when no one is awake to start it, or "
        "at an hour when it isn't allowed to run."
    )


def _difference(schools: list[SchoolView], average_w: float) -> str:
    """Why one burns more than the other, from their figures."""
    if len(schools) < 2 or min(s.a_day_l for s in schools) <= 0:
        return ""
    fill, carry = schools
    more, less = (carry, fill) if carry.a_day_l >= fill.a_day_l else (fill, carry)
    names = {"fill": "Charge and stop", "carry": "Power the house"}
    ratio = more.a_day_l / less.a_day_l
    gap = (
        f"{names[more.school]} burns {ratio:.1f} times the fuel per day"
        if ratio >= 1.05
        else "Both burn about the same"
    )
    quiet = f"{carry.run_h - fill.run_h:.0f} h less noise" if carry.run_h > fill.run_h else "equally long noise"
    return (
        f"{gap}. To power the house, the engine runs {carry.run_h:.0f} h for {number_text(average_w)} W on average. "
        f"To charge and stop, it runs {fill.run_h:.0f} h at {100 * fill.load_share:.0f}% of its power and is off in "
        f"between, {quiet}."
        + "".join(f" {names[s.school]} has no fuel left after {hours_text(s.gone_h)}." for s in schools if s.gone_h)
    )


def _ways(now: Part, run: Run) -> list[FillWay]:
    """Every way to charge, with the most it brings; what several bring at once is bounded by the battery, not added
    here."""
    station, store = now.station, run.store
    need = store.usable_wh(1.0)
    wall = now.charging_w
    found = [
        _way("The wall outlet, with the grid on", wall, store.ac_charge_efficiency, need, ("at its circuit's limit"))
    ]
    rated = sum(most_w(a, now.panels[a.panel], station) for a in now.plan.own_arrays if a.input <= station.solar_inputs)
    if rated:
        light = solar_w(now, run.outage, run.steps)
        most = float(light.max()) if light is not None else 0.0
        share = store.mppt_efficiency * store.solar_charge_efficiency
        found.append(
            _way("The sun, at this outage's best moment", most, share, need, f"inputs take {number_text(rated)} W")
        )
    engine = engine_of(now)
    if engine is not None:
        note = "" if engine.charger_w else "passes power on, doesn't store any"
        found.append(_way("The generator", engine.charger_w, store.ac_charge_efficiency, need, note))
    borrowed = min(wall, 0.8 * 15 * 120 if now.home.service.volts == 120 else 10 * 230.0)
    found.append(_way("A neighbor's outlet", borrowed, store.ac_charge_efficiency, need, "on one of their circuits"))
    return found


def _way(name: str, watts: float, share: float, need_wh: float, note: str) -> FillWay:
    return FillWay(name=name, watts=watts, hours=need_wh / (watts * share) if watts > 0 else None, note=note)


def _plugs(now: Part) -> list[PlugView]:
    """What meets at each end: source outlet and inlet, generator and the same inlet."""
    equipment, station = now.equipment, now.station
    if not equipment.traits.wired or not equipment.inlet_a:
        return []
    inlet = f"inlet, {equipment.inlet_a:g} A"
    outlet_a = station.inlet_outlet_a or station.outlet_a
    found = [_plug(f"{station.name}, {outlet_a:g} A outlet", outlet_a, inlet, equipment.inlet_a)]
    if now.generator is not None and now.generator.outlet_a:
        made = now.generator
        found.append(_plug(f"{made.name}, {made.plug}", made.outlet_a, inlet, equipment.inlet_a))
    return found


def _plug(start: str, start_a: float, end: str, end_a: float) -> PlugView:
    low = min(start_a, end_a)
    same = start_a == end_a
    note = "cord with these two plugs" if same else f"adapter changes only the plug shape; {low:g} A stays the limit"
    return PlugView(start=start, end=end, amps=low, fits=same, note=note)
