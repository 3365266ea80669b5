"""What of a plan is switched while an outage runs: its tiers, its generator, and whose hands are there."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from imbuto.core.basics.clock import BoolArray, FloatArray, Grid, inside
from imbuto.core.equipment.conversion import dc_draw_w
from imbuto.core.equipment.fuel import at_height, fuel_line
from imbuto.core.equipment.portable_generator import Generator
from imbuto.core.plan.stop_level import stop_level
from imbuto.core.plan.system import Part, PoweredLoad
from imbuto.core.run.run_controls import CHARGER_SHARE, HYSTERESIS, SURPLUS_FROM, Absence, ChargeTier, Controls, Motor


def steady(part: Part) -> tuple[PoweredLoad, ...]:
    """What is fed whatever the charge."""
    return tuple(item for item in part.fed if not item.feed.by_charge)


def tiers(part: Part) -> list[tuple[ChargeTier, list[PoweredLoad]]]:
    """What comes and goes with the charge, together what does so alike; switched by hand where no panel sheds."""
    found: dict[ChargeTier, list[PoweredLoad]] = {}
    for item in part.fed:
        if item.feed.by_charge:
            by_hand = not part.equipment_of(item.feed).sheds
            found.setdefault(_tier(item, by_hand=by_hand), []).append(item)
    return list(found.items())


def _tier(item: PoweredLoad, *, by_hand: bool) -> ChargeTier:
    if item.feed.turn_by == "surplus":
        return ChargeTier(by="surplus", off_below=SURPLUS_FROM - HYSTERESIS, on_from=SURPLUS_FROM, by_hand=by_hand)
    above = item.feed.above
    return ChargeTier(by="charge", off_below=above, on_from=min(above + HYSTERESIS, 1.0), by_hand=by_hand)


def store_count(part: Part) -> int:
    """How many stores the march has for a source: two where a maker's coupler gives each leg a unit of its own."""
    return 2 if part.is_pair else 1


def shares(item: PoweredLoad, k: int) -> FloatArray:
    """Which part of a load each of k stores carries, shape (k,)."""
    if k == 1:
        return np.ones(1)
    return np.array([("A" in item.legs), ("B" in item.legs)], dtype=float) / len(item.legs)


def watts_of(items: Iterable[PoweredLoad], steps: Grid, k: int = 1) -> FloatArray:
    """Mean W of these on each of k stores in each step, while they are on; shape (k, n)."""
    total = np.zeros((k, steps.n))
    for item in items:
        if k == 1:
            total[0] += item.watts(steps)
        else:
            total += shares(item, k)[:, None] * item.watts(steps)
    return total


def tiers_by_store(part: Part, k: int) -> list[tuple[ChargeTier, list[PoweredLoad]]]:
    """The tiers, each on the stores that something of it hangs on."""
    return [
        (replace(tier, store=s), on)
        for tier, items in tiers(part)
        for s in range(k)
        if (on := [f for f in items if shares(f, k)[s] > 0])
    ]


def engine_of(part: Part) -> Motor | None:
    """The plan's generator as the balance sees it: at the site's height, its charger within what engine and station
    bear."""
    use = part.plan.engine
    if use is None or part.generator is None:
        return None
    made = part.generator
    running = min(at_height(made.running_w, part.home.site.elevation_m), input_w(part))
    still, each = fuel_line(made.running_w, made.half_l_h, made.full_l_h)
    return Motor(
        running_w=running,
        charger_w=charger_w(part, running),
        still_l_h=still,
        l_per_wh=each,
        fuel_l=use.stock_l,
        start_at=use.start_at,
        stop_at=use.stop_at,
        school=use.school,
        by_hand=made.start == "by_hand",
        stores=tuple(range(store_count(part))),
    )


def input_w(part: Part) -> float:
    """W the station's AC input lets through from a generator, to pass on and to charge; infinite where it is
    unlisted."""
    station, made = part.station, part.generator
    if made is None or not station.input_a:
        return float("inf")
    return station.input_a * station.leg_volts * (2 if made.volts == "120/240" and len(station.legs) == 2 else 1)


def charger_w(part: Part, running_w: float) -> float:
    """AC W a generator may put into the station: its charger's or what is set on it, and four fifths of the
    engine's."""
    use, station = part.plan.engine, part.station
    if use is None or not use.charges or not station.charges_while_supplying:
        return 0.0
    return min(part.charging_w, CHARGER_SHARE * running_w)


def hands(part: Part) -> bool:
    """Whether anyone at home can switch; unless people are entered, someone can."""
    people = part.home.household.people.values()
    return not people or any(p.can_switch and p.where == "home" for p in people)


def line_of(part: Part) -> tuple[Part, ...]:
    """The stations that the march has to step together: those that hang behind one another, else this one alone."""
    return part.line or (part,)


def alone(part: Part) -> Part:
    """A station by itself: without what it hangs behind or shares, and without banks."""
    if not part.line and not part.plan.banks:
        return part
    return replace(part, line=(), rank=0, plan=replace(part.plan, banks={}))


def all_stores(part: Part) -> int:
    """How many stores a source has in the march, the banks that give to it counted."""
    return store_count(part) + len(part.plan.banks)


def leader(part: Part) -> int:
    """Which of its line carries a station's loads: itself, or the one at whose inlet it waits."""
    if not part.waits or part.source is None:
        return part.rank
    first = part.source.after
    return next(i for i, x in enumerate(line_of(part)) if x.source.id == first)


def first_store(part: Part, rank: int) -> int:
    """The place of the first store of one of its line among all."""
    return sum(all_stores(x) for x in line_of(part)[:rank])


def places_in_line(part: Part) -> tuple[slice, slice]:
    """Which stores and which tiers of its line are this station's own; of one that waits at an inlet, that one's."""
    r = leader(part)
    begin = first_store(part, r)
    tiers_in = [len(tiers_by_store(x, store_count(x))) for x in carriers(part)]
    return slice(begin, begin + store_count(line_of(part)[r])), slice(sum(tiers_in[:r]), sum(tiers_in[: r + 1]))


def carriers(part: Part) -> list[Part]:
    """Its line, each with what it carries itself: one that waits at an inlet has nothing of its own."""
    return [replace(x, fed=()) if x.waits else x for x in line_of(part)]


def pad_with_banks(part: Part, rows: FloatArray) -> FloatArray:
    """Rows of the stores of a source, and none of what is fed on its banks; on the axis before the last."""
    banks = len(part.plan.banks)
    if not banks:
        return rows
    none = np.zeros((*rows.shape[:-2], banks, rows.shape[-1]))
    return np.concatenate([rows, none], axis=-2)


def tiers_in_line(part: Part) -> list[tuple[ChargeTier, list[PoweredLoad]]]:
    """The tiers of every station of a line, on its stores."""
    found, before = [], 0
    for x in carriers(part):
        found += [(replace(t, store=t.store + before), items) for t, items in tiers_by_store(x, store_count(x))]
        before += all_stores(x)
    return found


def tiers_w_in_line(part: Part, steps: Grid) -> FloatArray:
    """Mean AC W of each tier of a line on its store while it is on, shape (t, n)."""
    found = []
    for x in carriers(part):
        k = store_count(x)
        found += [watts_of(items, steps, k)[t.store] for t, items in tiers_by_store(x, k)]
    return np.array(found).reshape(len(found), steps.n)


def loads_in_line(part: Part, steps: Grid) -> FloatArray:
    """Mean AC W of what is fed whatever the charge, on each store of a line; shape (k, n)."""
    each = [pad_with_banks(x, watts_of(steady(x), steps, store_count(x))) for x in carriers(part)]
    return np.concatenate(each)


def absence_of(part: Part, steps: Grid) -> Absence | None:
    """When the stores of a line are at home, and with what they come back; None where all of them stay."""
    if all(x.source.away is None for x in line_of(part)):
        return None
    here, charge = [], []
    for x in line_of(part):
        k, away = all_stores(x), x.source.away
        row = np.ones((k, steps.n))
        if away is not None:
            elapsed = (np.arange(steps.n) + 0.5) * steps.step_h
            gone = (elapsed >= away.from_h) & (elapsed < away.from_h + away.for_h)
            if away.windows:
                gone |= inside(away.windows, steps.hour, steps.weekend)
            row[: store_count(x), gone] = 0.0  # banks stay where they are
        here.append(row)
        charge += [away.back_with if away is not None else 1.0] * k
    return Absence(np.concatenate(here), np.array(charge))


def controls_of(part: Part, steps: Grid) -> Controls:
    """Everything that is switched in a run of a plan, on all stores of its line."""
    plan = part.plan
    use = next((x.plan.engine for x in line_of(part) if x.plan.engine is not None), None)
    awake: BoolArray = ~inside(plan.asleep, steps.hour, steps.weekend)
    windows = use.windows if use else ()
    may = inside(windows, steps.hour, steps.weekend) if windows else np.ones(steps.n, dtype=bool)
    owes, gaps = [], []
    for x in carriers(part):
        k = store_count(x)
        owing = [f for f in x.fed if f.load.thermostatic and f.feed.stance == "keep_on"]
        gap = np.zeros((k, steps.n))
        for f in owing:
            gap += shares(f, k)[:, None] * f.load.count * max(f.load.run_w - f.load.average_w, 0.0)
        owes.append(pad_with_banks(x, watts_of(owing, steps, k)))
        gaps.append(pad_with_banks(x, gap))
    return Controls(
        tiers=tuple(t for t, _ in tiers_in_line(part)),
        engine=_engine_in(part),
        awake=awake,
        engine_may=may,
        owes_w=np.concatenate(owes),
        gap_w=np.concatenate(gaps),
        delay_h=plan.reaction_h,
        hands=hands(part),
        by_itself=part.station.restart == "by_itself",
    )


def _engine_in(part: Part) -> Motor | None:
    """The generator of a line, at the stores of the sources it charges, in its order."""
    line = line_of(part)
    by_id = {x.source.id: i for i, x in enumerate(line)}
    use = next((x.plan.engine for x in line if x.plan.engine is not None), None)
    if use is None:
        return None
    main = by_id.get(use.source, part.rank)
    motor = engine_of(line[main])
    if motor is None:
        return None
    shift = first_store(part, main)
    also = []
    for key in use.also:
        if key in by_id:
            x, begin = line[by_id[key]], first_store(part, by_id[key])
            most = min(charger_w(x, motor.running_w), input_w(x))
            also += [(begin + s, most / store_count(x)) for s in range(store_count(x))]
    return replace(motor, stores=tuple(s + shift for s in motor.stores), also=tuple(also))


def minutes_to_act(made: Generator | None, part: Part, average_w: float, available_wh: float) -> float | None:
    """From the charge the generator is wanted at to the floor, at an average AC load; minutes. None without one."""
    use, station = part.plan.engine, part.station
    if made is None or use is None or station is None:
        return None
    draw = dc_draw_w(average_w, station.efficiency, part.own_draw_w)
    return max(60 * (use.start_at - stop_level(part)) * available_wh / draw, 0.0) if draw > 0 else None
