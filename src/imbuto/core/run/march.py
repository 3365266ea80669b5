"""The march: the only place where energy flows.

``march`` steps m members of k stores over n steps, compiled by Numba; a single run is one member. Between two changes
every power is constant, and a step is cut wherever something changes: stop level, full, coming back, a threshold of
turns, start and stop charge of a generator, an empty tank, a swap, the end of a wait.

The functions marked ``@inlined`` are parts of that one loop: compiled, they are put into it, so they cost nothing.
They have to stay in this file, see ``jit.inlined``.
``NUMBA_DISABLE_JIT=1`` runs the same lines as plain Python.

Conventions: W, Wh, h, l; powers are positive; net_w is positive into a store. Energy in = served + losses + change, for
each member: ``tests/core/test_march.py`` holds it to 1e-6.
"""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np

from imbuto.core.equipment.conversion import TAPER_END, TAPER_FROM
from imbuto.core.run.jit import CompiledFunction, inlined

# Columns of a tally, Wh but for the last three; the fields of ``run_trace.Tally`` in the same order.
(
    SERVED,
    UNSERVED,
    SOLAR,
    AC_CAME,
    CONVERSION,
    IDLE_WH,
    STANDBY_WH,
    TRACKING,
    CHARGING,
    CURTAILED,
    BYPASS,
    FROM_GRID,
    DC_GIVEN,
    FROM_UP,
    PASSED_ON,
    CAME_BACK,
    WENT_AWAY,
    DARK_H,
    ENGINE_H,
    FUEL_L,
) = range(20)
TALLY_COLUMNS = 20
# Kinds of event, and by whom; an event is (hour, kind, which, by).
DARK, BACK, ENGINE_ON, ENGINE_OFF, TANK_EMPTY, TIER_ON, TIER_OFF, SWAP, AWAY, HOME, GRID_BACK, GRID_GONE = range(12)
ITSELF, HAND = 0, 1
# What a store does while the grid is there.
CARRY, SUN_FIRST, CHARGE = 0, 1, 2
# How a generator is used.
NO_ENGINE, FILL, CARRY_HOUSE = 0, 1, 2

FULL = 1 - 1e-9
TAPER_SLOPE = (1 - TAPER_END) / (1 - TAPER_FROM)  # by which the share falls, per charge
EPS = 1e-9  # of full: a threshold met to rounding is met
LEAST_H = 1e-12
LEAST_FUEL_L = 1e-12
OWED = 0.8  # of what a thermostat missed while dark it makes up for; planning default
MOST_CHANGES = 40  # of dark and back within one step; more is a flutter, not a plan
MOST_PIECES = 400  # a step is never cut into more

# One record a store that changes on the way. full, wh, floor_wh, restart_wh: Wh; head: of the stores in line at one
# inlet, the first; slot: of a head, the store that is plugged in there; asked to grid_load: W; surplus, taken: DC W
# left over, and the share of what is offered that goes in; waits: whether somebody is on the way.
STATE = np.dtype(
    [
        *((name, np.float64) for name in ("full", "wh", "floor_wh", "restart_wh", "dark_wait", "swap_wait", "owed")),
        *((name, np.float64) for name in ("extra", "asked", "passed", "carry", "ac_w", "net", "drawn", "surplus")),
        *((name, np.float64) for name in ("taken", "bus", "dc_in", "grid_load")),
        *((name, np.int64) for name in ("slot", "head")),
        *((name, np.bool_) for name in ("dark", "was_on", "by_engine", "by_grid", "from_up", "holding", "powered")),
        *((name, np.bool_) for name in ("own", "dark_waits", "swap_waits")),
    ],
    align=True,
)
# One record a tier: whether it is on, how long it has waited for a hand, and whether one is on the way.
TURN = np.dtype([("wait", np.float64), ("on", np.bool_), ("waits", np.bool_)], align=True)
# What holds for a member as a whole. at: elapsed h; left, span: h left of the step and of this piece; end_s, end_wh:
# the store whose mark ends the piece, and that mark; rate: l/h; pieces, flips: of this step.
NOW = np.dtype(
    [
        *((name, np.float64) for name in ("at", "left", "span", "end_wh", "rate", "fuel", "engine_wait")),
        *((name, np.int64) for name in ("end_s", "pieces", "flips")),
        *((name, np.bool_) for name in ("engine_on", "engine_waits", "grid_was", "grid_now", "ended", "frozen")),
    ],
    align=True,
)


class SharedInputs(NamedTuple):
    """What all members share.

    stores, tiers: records of ``battery_store.Store`` and ``run_controls.Tier``
    engine: one record, see ``network.ENGINE``
    charger_w: AC W the generator may put into each store, -1 where it is not joined, (k,)
    awake, may: whether anyone is up, and the generator may run, (n,)
    owes_w, gap_w: mean W of thermostats, and what they draw more while catching up, (k, n)
    hands, delay_h: somebody can switch, after so long
    grid_w, use: W the grid gives, 0 where it is gone, and what stores do while it is there, (n,) or (0,) for never
    here, home_charge: whether each store is at home, (k, n) or (k, 0), and with how much it comes back, (k,)
    ends: of which stores the first dark ends a member, (k,)
    """

    stores: Any
    tiers: Any
    engine: Any
    charger_w: Any
    awake: Any
    may: Any
    owes_w: Any
    gap_w: Any
    hands: bool
    delay_h: float
    grid_w: Any
    use: Any
    here: Any
    home_charge: Any
    step_h: float
    ends: Any


class Members(NamedTuple):
    """What differs between members.

    full_wh, start: Wh from full to empty, charge 0 to 1, (m, k)
    load_w: AC W of what is always powered, (m, k, n)
    sun_w: DC W at the inputs, (m, k, n), or (m, k, 0) for none
    tier_w: AC W of each tier while it is on, (m, t, n)
    gives: whether each bank may give, (m, k, n), or (m, k, 0) for always
    """

    full_wh: Any
    start: Any
    load_w: Any
    sun_w: Any
    tier_w: Any
    gives: Any


class Results(NamedTuple):
    """Where results go; a first axis of 0 means that they are not wanted.

    first_dark: h, infinite for never, (m, k)
    charge_at: (m, n + 1, k)
    tally: (m, k, TALLY_COLUMNS)
    served_at, tier_at, engine_at, fuel_at: of the first member, Wh (n, k), share of the step (n, t), h and l (n,)
    grid_at, lost_at: of the first member, Wh from the grid, and DC Wh of the sun that nothing took, (n, k)
    events: of the first member, (e, 4)
    counts: events noted, fluttered, steps taken; (3,)
    """

    first_dark: Any
    charge_at: Any
    tally: Any
    served_at: Any
    tier_at: Any
    engine_at: Any
    fuel_at: Any
    grid_at: Any
    lost_at: Any
    events: Any
    counts: Any


class Scratch(NamedTuple):
    """What the march works in: ``STATE`` (k,), ``TURN`` (t,) and ``NOW`` (1,)."""

    state: Any
    turns: Any
    now: Any


# Parts that several others use ---------------------------------------------------------------------------------------


@inlined
def share_taken(wh, full, offered, lack, most_w, tapers, span):
    """Share of the W offered to a battery that goes in over the next hours, 0 to 1; lack: W drawn from it meanwhile."""
    share = 0.0
    if offered > 0.0 and wh < full * FULL:
        share = min(1.0, most_w / offered)
        if tapers:
            # A piece that begins below the taper takes all it may until it is there. From there the share falls in
            # proportion to the charge, which nears its end exponentially: a quarter hour may hold all of that.
            rate, above = offered * share - lack, max(wh - TAPER_FROM * full, 0.0)
            free = 0.0 if above > 0.0 else (TAPER_FROM * full - wh) / rate if rate > 0.0 else span
            if free < span:
                left, falls = span - free, offered * TAPER_SLOPE / full
                decay = math.exp(-falls * left)
                gained = ((offered - lack) / falls - above) * (1.0 - decay)
                share = (free * share + left * min(share, (gained / left + lack) / offered)) / span
    return share


@inlined
def note(told, member, at, kind, which, by):
    """Add an event of the first member to the list, while there is room."""
    if member == 0 and told.counts[0] < told.events.shape[0]:
        event = told.events[told.counts[0]]
        event[0], event[1], event[2], event[3] = at, kind, which, by
        told.counts[0] += 1


@inlined
def at_home(given, s, i):
    return given.here.shape[1] == 0 or given.here[s, i] != 0


@inlined
def light_at(members, j, s, i):
    """DC W of the sun at a store's inputs."""
    return members.sun_w[j, s, i] if members.sun_w.shape[2] > 0 else 0.0


@inlined
def falls_to(now, x, s, mark):
    """End the piece where a falling store meets a mark, if that comes first."""
    if x.wh > mark * (1 + EPS) and (x.wh - mark) / -x.net < now.span:
        now.span, now.end_s, now.end_wh = (x.wh - mark) / -x.net, s, mark


@inlined
def rises_to(now, x, s, mark):
    """End the piece where a rising store meets a mark, if that comes first."""
    if x.wh < mark * (1 - EPS) and (mark - x.wh) / x.net < now.span:
        now.span, now.end_s, now.end_wh = (mark - x.wh) / x.net, s, mark


# A member begins -----------------------------------------------------------------------------------------------------


@inlined
def find_heads(given, scratch):
    """Of stores in line at one inlet, the first: what is connected there goes to whichever is plugged in."""
    for s in range(len(scratch.state)):
        head = s
        while given.stores[head].after >= 0:
            head = given.stores[head].after
        scratch.state[s].head = head


@inlined
def begin(given, members, told, scratch, j):
    """Set every store, tier and the generator as the outage finds them."""
    now = scratch.now[0]
    now.engine_on, now.engine_wait, now.fuel = False, 0.0, given.engine[0].fuel_l
    now.grid_was, now.ended = False, False
    for s in range(len(scratch.state)):
        x, store = scratch.state[s], given.stores[s]
        x.full = members.full_wh[j, s]
        x.wh = members.start[j, s] * x.full
        x.floor_wh = store.floor * x.full
        x.restart_wh = min(x.floor_wh + store.restart_margin * store.nominal_wh, x.full)
        if store.floor >= 1.0:  # it may give nothing at all, so it never comes on, however full it is
            x.restart_wh = np.inf
        x.dark = x.wh <= x.floor_wh and store.dc_to < 0
        x.was_on, x.holding, x.slot = True, False, s
        x.dark_wait, x.swap_wait, x.owed, x.extra = 0.0, 0.0, 0.0, 0.0
        told.first_dark[j, s] = np.inf
        if told.charge_at.shape[0] > 0:
            told.charge_at[j, 0, s] = members.start[j, s]
    for turn in scratch.turns:
        turn.on, turn.wait = False, 0.0


# The short ways: one store by itself, while nothing changes within a step
# ----------------------------------------------


@inlined
def run_down(given, members, scratch, j):
    """Take a store down, where nothing comes in and only its hours are wanted, to the step it ends in; returns that
    step.

    The same balance as in ``lone_steps``, without what can be left out."""
    n = members.load_w.shape[2]
    store, x = given.stores[0], scratch.state[0]
    inverse, idle = 1 / store.efficiency, store.idle_w
    stored, least, i = x.wh, x.floor_wh, 0
    while i < n:
        after = stored - (members.load_w[j, 0, i] * inverse + idle) * given.step_h
        if after <= least:
            break
        stored = after
        i += 1
    x.wh = stored
    return i


@inlined
def lone_bounds(given, scratch):
    """Between which Wh a store by itself can move without anything being switched."""
    now, x, engine = scratch.now[0], scratch.state[0], given.engine[0]
    low, high = (0.0 if now.engine_on else x.floor_wh), np.inf
    if engine.school == FILL and now.fuel > LEAST_FUEL_L:
        if now.engine_on:
            high = min(high, engine.stop_at * x.full)
        else:
            low = max(low, engine.start_at * x.full)
    for c in range(len(scratch.turns)):
        if scratch.turns[c].on:
            low = max(low, given.tiers[c].off_below * x.full)
        else:
            high = min(high, given.tiers[c].on_from * x.full)
    return low, high


@inlined
def lone_steps(given, members, told, scratch, j, begin_at):
    """Step a store by itself from a step on for as long as nothing changes within a step; returns the step where it
    does.

    Held to the whole way by ``test_the_short_ways_are_the_whole_way``."""
    n, step_h = members.load_w.shape[2], given.step_h
    now, x, store, engine = scratch.now[0], scratch.state[0], given.stores[0], given.engine[0]
    tallied, traced, drawn_out = told.tally.shape[0] > 0, told.served_at.shape[0] > 0, told.charge_at.shape[0] > 0
    low, high = lone_bounds(given, scratch)
    inverse, idle, mppt = 1 / store.efficiency, store.idle_w, store.mppt_efficiency
    solar_in, ac_in = store.solar_charge_efficiency, store.ac_charge_efficiency
    wh, full, fuel, engine_on, engine_wait = x.wh, x.full, now.fuel, now.engine_on, now.engine_wait
    i = begin_at
    while i < n and (x.owed <= 0.0 or given.gap_w[0, i] <= 0.0):
        light = light_at(members, j, 0, i)
        if (engine.school == CARRY_HOUSE and not engine_on) or (engine_on and given.may[i] == 0):
            break
        if wh >= high or wh <= low:  # A switch is due, or somebody is waited for.
            break
        w = members.load_w[j, 0, i]
        steady = True
        for c in range(len(scratch.turns)):
            turn = scratch.turns[c]
            if (given.tiers[c].surplus and (light > 0.0 or turn.on)) or turn.wait > 0.0:
                steady = False
            if (
                engine_on and not turn.on
            ):  # A generator powers it at any charge, once somebody is there to switch it on.
                steady = False
            if turn.on:
                w += members.tier_w[j, c, i]
        if not steady:
            break
        drawn = 0.0 if engine_on else w * inverse + idle
        ac = min(given.charger_w[0], max(engine.running_w - w, 0.0)) if engine_on else 0.0
        over, lack = max(light * mppt - drawn, 0.0), max(drawn - light * mppt, 0.0)
        share, burnt = 0.0, 0.0
        if light > 0.0 or engine_on:
            offered = over * solar_in + ac * ac_in
            share = share_taken(wh, full, offered, lack, store.most_charge_w, store.taper, step_h)
            after = wh + (offered * share - lack) * step_h
            if engine_on:
                burnt = (engine.still_l_h + engine.l_per_wh * (w + ac * share)) * step_h
            if after >= high or after > full or (engine_on and burnt >= fuel):
                break
        else:
            after = wh - drawn * step_h
        if after <= low:
            break
        wh = after
        fuel -= burnt
        if not engine_on:
            engine_wait = 0.0
        if tallied:
            book_lone(given, told.tally[j, 0], engine_on, w, light, ac, over, share, burnt)
        if drawn_out:
            told.charge_at[j, i + 1, 0] = after / full
        if traced and j == 0:
            told.served_at[i, 0] = w * step_h
            told.fuel_at[i] = burnt
            told.engine_at[i] = step_h if engine_on else 0.0
            for c in range(len(scratch.turns)):
                told.tier_at[i, c] = scratch.turns[c].on
        i += 1
    x.wh, now.fuel, now.engine_wait = wh, fuel, engine_wait
    return i


@inlined
def book_lone(given, row, engine_on, w, light, ac, over, share, burnt):
    """Book a whole step of a store by itself."""
    store, step_h = given.stores[0], given.step_h
    row[SERVED] += w * step_h
    if engine_on:
        row[BYPASS] += w * step_h
        row[ENGINE_H] += step_h
        row[FUEL_L] += burnt
        row[AC_CAME] += ac * share * step_h
        row[CHARGING] += ac * share * (1 - store.ac_charge_efficiency) * step_h
    else:
        row[CONVERSION] += w * (1 / store.efficiency - 1) * step_h
        row[IDLE_WH] += store.idle_w * step_h
    row[SOLAR] += light * step_h
    row[TRACKING] += light * (1 - store.mppt_efficiency) * step_h
    row[CHARGING] += over * share * (1 - store.solar_charge_efficiency) * step_h
    row[CURTAILED] += over * (1 - share) * step_h


# The whole way, piece by piece ---------------------------------------------------------------------------------------


@inlined
def come_and_go(given, told, scratch, j, i):
    """Let stores that drive off and come back do so at the beginning of a step."""
    for s in range(len(scratch.state)):
        x = scratch.state[s]
        now_here, before = given.here[s, i] != 0, i == 0 or given.here[s, i - 1] != 0
        if now_here and not before:
            if told.tally.shape[0] > 0:
                told.tally[j, s, CAME_BACK] += given.home_charge[s] * x.full
            x.wh = given.home_charge[s] * x.full
            x.dark = x.wh <= x.floor_wh
        elif before and not now_here:
            if told.tally.shape[0] > 0:
                told.tally[j, s, WENT_AWAY] += x.wh
            x.wh = 0.0
        if now_here != before:
            note(told, j, i * given.step_h, HOME if now_here else AWAY, s, HAND)


@inlined
def turn_engine(given, told, scratch, j, i):
    """Start or stop the generator, or let whoever starts it be on the way. What has shut off calls nothing: even one
    that starts by itself then waits for a hand."""
    now, engine = scratch.now[0], given.engine[0]
    want = given.may[i] != 0 and now.fuel > LEAST_FUEL_L
    called = engine.school != FILL
    if want and engine.school == FILL:
        lower = False
        for s in range(len(scratch.state)):
            x = scratch.state[s]
            if given.charger_w[s] >= 0 and at_home(given, s, i):
                if now.engine_on:
                    lower = lower or x.wh < (engine.stop_at - EPS) * x.full
                else:
                    falls = x.wh <= (engine.start_at + EPS) * x.full
                    lower = lower or x.dark or falls
                    called = called or (falls and not x.dark and x.wh > x.floor_wh + EPS * x.full)
        want = lower
    by_hand = engine.by_hand or not called
    turned = False
    if not want:
        turned = now.engine_on
        now.engine_on, now.engine_wait = False, 0.0
    elif not now.engine_on:
        if not by_hand or (given.hands and now.engine_wait >= given.delay_h - EPS):
            now.engine_on, now.engine_wait, turned = True, 0.0, True
            for s in range(len(scratch.state)):
                if given.charger_w[s] >= 0:
                    scratch.state[s].dark, scratch.state[s].dark_wait = False, 0.0
        elif given.hands and given.awake[i] != 0:
            now.engine_waits, now.span = True, min(now.span, given.delay_h - now.engine_wait)
    if turned:
        what = ENGINE_ON if now.engine_on else ENGINE_OFF
        if not now.engine_on and now.fuel <= LEAST_FUEL_L:
            what = TANK_EMPTY
        note(told, j, now.at, what, 0, HAND if (by_hand if now.engine_on else engine.by_hand) else ITSELF)


@inlined
def restart(given, scratch, s, i):
    """Switch a dark store back on where it has charge enough, by itself or by hand."""
    now, x, store = scratch.now[0], scratch.state[s], given.stores[s]
    # Passing the generator on, a store may stand below its stop level; it is dark once that ends.
    x.dark_waits, x.swap_waits = False, False
    if not (x.dark and x.wh >= x.restart_wh - EPS * x.full):
        x.dark_wait = 0.0
    elif store.restarts_itself or (now.grid_now and store.grid):
        x.dark = False
    elif not given.hands:
        x.dark_wait = 0.0
    elif x.dark_wait >= given.delay_h - EPS:
        x.dark, x.dark_wait = False, 0.0
    elif given.awake[i] != 0:
        x.dark_waits = True
        now.span = min(now.span, given.delay_h - x.dark_wait)


@inlined
def swap(given, told, scratch, j, s, i):
    """Plug another store that waits into the inlet of the first of a line, once that one is empty or nearly so."""
    state, now = scratch.state, scratch.now[0]
    x, a = state[s], state[s].slot
    nearly = not state[a].dark and state[a].wh <= (given.stores[a].swap_at + EPS) * state[a].full
    if not ((state[a].dark or nearly) and given.hands):
        x.swap_wait = 0.0
        return
    # One that holds no more is no reason to change.
    best, most = -1, max(state[a].wh - state[a].floor_wh, 0.0) if nearly else 0.0
    for q in range(len(state)):
        if state[q].head == s and q != a and not state[q].dark and state[q].wh - state[q].floor_wh > most:
            best, most = q, state[q].wh - state[q].floor_wh
    if best < 0:
        x.swap_wait = 0.0
    elif x.swap_wait >= given.delay_h - EPS:
        x.slot, x.swap_wait = best, 0.0
        note(told, j, now.at, SWAP, best, HAND)
    elif given.awake[i] != 0:
        x.swap_waits = True
        now.span = min(now.span, given.delay_h - x.swap_wait)


@inlined
def find_power(given, scratch, i):
    """Find out where each store's circuits get power: the generator, the grid, the store ahead of it, or its own."""
    state, now = scratch.state, scratch.now[0]
    for s in range(len(state)):
        x, store, home = state[s], given.stores[s], at_home(given, s, i)
        x.by_engine = now.engine_on and given.charger_w[s] >= 0 and home
        x.by_grid, x.from_up = False, False
        hand = store.thrown and given.use[i] == CARRY
        if now.grid_now and store.grid and not (hand and not (store.thrown_back and given.awake[i] != 0)):
            if store.thrown_back and not hand:  # The next time it is thrown over, it starts anew.
                x.holding = False
            elif x.holding:
                x.holding = x.wh < (store.resume - EPS) * x.full
            else:
                x.holding = x.wh <= (store.hold + EPS) * x.full
            x.by_grid = given.use[i] != CARRY or x.holding or x.dark or not home
        x.own = home and not x.dark
        x.powered = x.by_engine or x.by_grid or x.own
    for s in range(len(state)):
        x, store = state[s], given.stores[s]
        up, home = store.behind, at_home(given, s, i)
        takes = up >= 0 and not x.by_engine and not x.by_grid and (home or store.through_switch)
        if takes and state[state[up].slot].powered and (not store.own_first or x.dark or not home):
            x.from_up, x.powered = True, True


@inlined
def turn_tiers(given, members, told, scratch, j, i):
    """Switch on and off what takes turns by the charge or on surplus."""
    now = scratch.now[0]
    for c in range(len(scratch.turns)):
        turn, tier = scratch.turns[c], given.tiers[c]
        turn.waits = False
        s = tier.store
        x, store = scratch.state[s], given.stores[s]
        mark = tier.off_below + EPS if turn.on else tier.on_from - EPS
        want = x.wh > mark * x.full
        if tier.surplus:
            base = members.load_w[j, s, i] / store.efficiency + store.idle_w
            want = want and light_at(members, j, s, i) * store.mppt_efficiency > base
        want = want or x.by_engine
        if want == turn.on:
            turn.wait = 0.0
        elif (
            (i == 0 and now.left == given.step_h)
            or not tier.by_hand
            or (given.hands and turn.wait >= given.delay_h - EPS)
        ):
            turn.on, turn.wait = want, 0.0
            note(told, j, now.at, TIER_ON if want else TIER_OFF, c, HAND if tier.by_hand else ITSELF)
        elif given.hands and given.awake[i] != 0:
            turn.waits = True
            now.span = min(now.span, given.delay_h - turn.wait)


@inlined
def share_out(given, members, told, scratch, j, i):
    """Work out what each store is asked for and carries, the last one behind another first; notes who is dark and
    back."""
    state, now = scratch.state, scratch.now[0]
    for s in range(len(state)):
        x = state[s]
        x.asked, x.passed, x.carry, x.grid_load, x.extra = members.load_w[j, s, i], 0.0, 0.0, 0.0, 0.0
    for c in range(len(scratch.turns)):
        if scratch.turns[c].on:
            state[given.tiers[c].store].asked += members.tier_w[j, c, i]
    for s in range(len(state) - 1, -1, -1):
        x, a = state[s], state[s].slot
        on = state[a].powered and x.head == s
        if x.owed > 0.0 and on:
            x.extra = given.gap_w[s, i]
            x.asked += x.extra
            if x.extra > 0.0:
                now.span = min(now.span, x.owed / x.extra)
        if x.head != s:
            continue
        if on != x.was_on:
            x.was_on = on
            now.flips += 1
            by = HAND if on and not given.stores[a].restarts_itself and not state[a].by_engine else ITSELF
            note(told, j, now.at, BACK if on else DARK, s, by)
        if not on:
            if np.isinf(told.first_dark[j, s]):
                told.first_dark[j, s] = now.at
                now.ended = now.ended or given.ends[s] != 0
            continue
        need = x.asked + x.passed
        if state[a].by_engine or (state[a].own and not state[a].by_grid and not state[a].from_up):
            state[a].carry = need
        elif state[a].by_grid:
            state[a].carry, state[a].grid_load = need, need
        else:
            up = given.stores[a].behind
            state[up].passed += need + given.stores[a].own_pass_w


@inlined
def charge_from_ac(given, scratch, i):
    """Work out what a generator and the grid charge with, in order, with what the loads leave of them."""
    state, now = scratch.state, scratch.now[0]
    room = given.engine[0].running_w
    mains = given.grid_w[i] if now.grid_now else 0.0
    for s in range(len(state)):
        if state[s].by_engine:
            room -= state[s].carry
        if state[s].by_grid:
            mains -= state[s].carry
    for s in range(len(state)):
        x, store = state[s], given.stores[s]
        x.ac_w = 0.0
        if x.by_engine:
            x.ac_w = min(given.charger_w[s], max(room, 0.0))
            room -= x.ac_w
        elif x.by_grid and at_home(given, s, i):
            refills = x.holding and x.wh < store.refill * x.full
            if given.use[i] == CHARGE or refills:
                x.ac_w = min(store.grid_w, max(mains, 0.0))
                mains -= x.ac_w


@inlined
def bring_dc(given, members, scratch, j, i):
    """Work out the DC W behind each solar input: of the sun, and of banks that give to it."""
    state = scratch.state
    for s in range(len(state)):
        state[s].bus, state[s].dc_in = 0.0, 0.0
        if at_home(given, s, i):
            state[s].bus = light_at(members, j, s, i) * given.stores[s].mppt_efficiency
    for b in range(len(state)):
        bank, to = given.stores[b], given.stores[b].dc_to
        if to < 0 or (bank.dc_dark and light_at(members, j, to, i) > 0.0):
            continue  # With an array at the same input, that has it while the sun is up.
        if members.gives.shape[2] > 0 and members.gives[j, b, i] == 0.0:
            continue
        if state[b].wh > state[b].floor_wh * (1 + EPS) and at_home(given, to, i) and at_home(given, b, i):
            state[to].dc_in += bank.dc_w
            state[to].bus += bank.dc_w * given.stores[to].mppt_efficiency


@inlined
def bank_draw_w(given, members, scratch, j, s, i):
    """DC W a bank gives, once it is known what the store that it gives to takes."""
    to = given.stores[s].dc_to
    x, v = scratch.state[s], scratch.state[to]
    if x.wh <= x.floor_wh * (1 + EPS) or v.dc_in <= 0.0:
        return 0.0
    used = (v.bus - v.surplus * (1 - v.taken)) / given.stores[to].mppt_efficiency
    gave = min(max(used - light_at(members, j, to, i), 0.0), v.dc_in)
    return gave * given.stores[s].dc_w / v.dc_in


@inlined
def store_draw_w(given, scratch, s, i):
    """DC W a store with an inverter draws; sets what of its load the grid carries."""
    x, store = scratch.state[s], given.stores[s]
    if x.by_grid:
        if given.use[i] == SUN_FIRST and not store.thrown and x.bus > store.idle_w:
            part = min(x.carry, (x.bus - store.idle_w) * store.efficiency)  # The sun carries it, so the grid need not.
            x.grid_load = x.carry - part
            return part / store.efficiency + store.idle_w
        return 0.0
    if x.from_up or scratch.state[x.head].slot != s:
        return 0.0
    if x.own:
        return x.carry / store.efficiency + store.idle_w
    return store.standby_w if x.wh > 0.0 else min(store.standby_w, x.bus)  # Empty, it is on standby by the sun alone.


@inlined
def flow(given, members, scratch, j, i):
    """Balance every store over the piece; a bank that only gives DC comes after the store that it gives to."""
    now = scratch.now[0]
    for banks in range(2):
        for s in range(len(scratch.state)):
            x, store, home = scratch.state[s], given.stores[s], at_home(given, s, i)
            if (store.dc_to >= 0) != (banks == 1):
                continue
            if not home or x.by_engine:
                drawn = 0.0
            elif banks == 1:
                drawn = bank_draw_w(given, members, scratch, j, s, i)
            else:
                drawn = store_draw_w(given, scratch, s, i)
            over, lack = max(x.bus - drawn, 0.0), max(drawn - x.bus, 0.0)
            offered = over * store.solar_charge_efficiency + x.ac_w * store.ac_charge_efficiency
            share = 0.0
            if home:
                share = share_taken(x.wh, x.full, offered, lack, store.most_charge_w, store.taper, now.span)
            x.drawn, x.surplus, x.taken = drawn, over, share
            x.net = offered * share - lack


@inlined
def find_end(given, scratch, i):
    """Shorten the piece to where something changes first: an empty tank, or a store that meets one of its marks."""
    now, engine = scratch.now[0], given.engine[0]
    now.rate = 0.0
    if now.engine_on:
        through = 0.0
        for x in scratch.state:
            if x.by_engine:
                through += x.carry + x.ac_w * x.taken
        now.rate = engine.still_l_h + engine.l_per_wh * through
        if now.rate > 0.0:
            now.span = min(now.span, now.fuel / now.rate)
    now.end_s, now.end_wh = -1, 0.0
    for s in range(len(scratch.state)):
        x = scratch.state[s]
        if x.net != 0.0 and at_home(given, s, i):
            if x.net < 0.0:
                find_fall(given, scratch, s)
            else:
                find_rise(given, scratch, s)


@inlined
def find_fall(given, scratch, s):
    """End the piece at the first mark that a falling store meets."""
    now, x, store, engine = scratch.now[0], scratch.state[s], given.stores[s], given.engine[0]
    # A generator may have stopped below the stop level; the dark live on standby down to nothing.
    target = min(x.floor_wh, x.wh) if x.own else 0.0
    if (x.own or x.wh > 0.0) and (x.wh - target) / -x.net < now.span:
        now.span, now.end_s, now.end_wh = max((x.wh - target) / -x.net, 0.0), s, target
    if engine.school == FILL and not now.engine_on and given.charger_w[s] >= 0 and now.fuel > 0.0:
        falls_to(now, x, s, engine.start_at * x.full)
    if store.swap_at > 0.0 and scratch.state[x.head].slot == s:
        falls_to(now, x, s, store.swap_at * x.full)
    if now.grid_now and store.grid and not x.holding:
        falls_to(now, x, s, store.hold * x.full)
    for c in range(len(scratch.turns)):
        if given.tiers[c].store == s and scratch.turns[c].on and x.wh > given.tiers[c].off_below * x.full + EPS:
            falls_to(now, x, s, given.tiers[c].off_below * x.full)


@inlined
def find_rise(given, scratch, s):
    """End the piece at the first mark that a rising store meets."""
    now, x, store, engine = scratch.now[0], scratch.state[s], given.stores[s], given.engine[0]
    if (x.full - x.wh) / x.net < now.span:
        now.span, now.end_s, now.end_wh = (x.full - x.wh) / x.net, s, x.full
    if x.dark:
        rises_to(now, x, s, x.restart_wh)
    if now.engine_on and engine.school == FILL and given.charger_w[s] >= 0:
        rises_to(now, x, s, engine.stop_at * x.full)
    if x.holding:
        rises_to(now, x, s, store.resume * x.full)
        rises_to(now, x, s, store.refill * x.full)
    for c in range(len(scratch.turns)):
        if given.tiers[c].store == s and not scratch.turns[c].on:
            rises_to(now, x, s, given.tiers[c].on_from * x.full)


@inlined
def freeze(told, scratch):
    """Leave everything dark for the rest of a step in which it went on and off faster than anything is switched."""
    now = scratch.now[0]
    now.frozen = now.flips > MOST_CHANGES or now.pieces > MOST_PIECES
    if not now.frozen:
        return
    told.counts[1] = 1
    now.span, now.end_s = now.left, -1
    for x in scratch.state:
        x.net, x.drawn, x.carry, x.grid_load, x.ac_w, x.taken, x.dark = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, True
        x.bus, x.surplus, x.dc_in, x.powered = 0.0, 0.0, 0.0, False


@inlined
def given_dc_w(store, x, light):
    """DC W that banks gave to a solar input beside its light: only what the store used, the light first."""
    used = (x.bus - x.surplus * (1 - x.taken)) / store.mppt_efficiency
    return min(max(used - light, 0.0), x.dc_in)


@inlined
def curtailed_w(store, x, light):
    """DC W of the light at a solar input that nothing took; what a bank keeps is not lost."""
    return x.surplus * (1 - x.taken) - (x.dc_in - given_dc_w(store, x, light)) * store.mppt_efficiency


@inlined
def trace(given, members, told, scratch, i):
    """Write down what flowed in a piece, of the first member."""
    now, state = scratch.now[0], scratch.state
    for s in range(len(state)):
        x = state[s]
        if state[x.slot].powered and x.head == s and not now.frozen:
            told.served_at[i, s] += x.asked * now.span
        if given.grid_w.shape[0] > 0 and not now.frozen:
            if x.by_grid:
                passes = x.drawn <= 0.0 and not given.stores[s].thrown and at_home(given, s, i)
                own_w = given.stores[s].idle_w if passes else 0.0
                told.grid_at[i, s] += (x.grid_load + own_w + x.ac_w * x.taken) * now.span
            if x.bus > 0.0:
                told.lost_at[i, s] += curtailed_w(given.stores[s], x, light_at(members, 0, s, i)) * now.span
    if now.engine_on and not now.frozen:
        told.engine_at[i] += now.span
        told.fuel_at[i] += min(now.rate * now.span, now.fuel)
    for c in range(len(scratch.turns)):
        told.tier_at[i, c] += scratch.turns[c].on * now.span / given.step_h


@inlined
def book(given, members, told, scratch, j, i):
    """Add what flowed in a piece to the tallies."""
    now, state = scratch.now[0], scratch.state
    for s in range(len(state)):
        x, row = state[s], told.tally[j, s]
        on = state[x.slot].powered and x.head == s and not now.frozen
        if x.head == s:
            if on:
                row[SERVED] += x.asked * now.span
            else:
                row[UNSERVED] += x.asked * now.span
                row[DARK_H] += now.span
        if on:
            row[PASSED_ON] += x.passed * now.span
        book_source(given, scratch, row, s, i)
        if x.bus > 0.0:
            light = light_at(members, j, s, i) if not now.frozen and at_home(given, s, i) else 0.0
            book_sun(given.stores[s], row, x, light, now.span)
        if x.ac_w > 0.0:
            row[AC_CAME] += x.ac_w * x.taken * now.span
            row[CHARGING] += x.ac_w * x.taken * (1 - given.stores[s].ac_charge_efficiency) * now.span
    if now.engine_on and not now.frozen:
        told.tally[j, 0, ENGINE_H] += now.span
        told.tally[j, 0, FUEL_L] += min(now.rate * now.span, now.fuel)


@inlined
def book_source(given, scratch, row, s, i):
    """Add where a store's power came from, and what it cost, to its tally."""
    now, x, store = scratch.now[0], scratch.state[s], given.stores[s]
    if x.by_engine and not now.frozen:
        row[BYPASS] += x.carry * now.span
    elif x.by_grid and not now.frozen:
        row[FROM_GRID] += x.grid_load * now.span
        if x.drawn > 0.0:
            row[IDLE_WH] += store.idle_w * now.span
            row[CONVERSION] += (x.carry - x.grid_load) * (1 / store.efficiency - 1) * now.span
        elif not store.thrown and at_home(given, s, i):  # What passes the grid on takes its own draw from it.
            row[IDLE_WH] += store.idle_w * now.span
            row[FROM_GRID] += store.idle_w * now.span
    elif x.from_up and not now.frozen:
        row[IDLE_WH] += store.own_pass_w * now.span
        row[FROM_UP] += (x.asked + x.passed + store.own_pass_w) * now.span
    elif store.dc_to >= 0:
        row[DC_GIVEN] += x.drawn * now.span
    elif x.own and scratch.state[x.head].slot == s and not now.frozen and at_home(given, s, i):
        row[CONVERSION] += x.carry * (1 / store.efficiency - 1) * now.span
        row[IDLE_WH] += store.idle_w * now.span
    else:
        row[STANDBY_WH] += x.drawn * now.span


@inlined
def book_sun(store, row, x, light, span):
    """Add what came to a solar input, and what became of it, to a tally."""
    row[SOLAR] += light * span
    row[TRACKING] += (light + given_dc_w(store, x, light)) * (1 - store.mppt_efficiency) * span
    row[CHARGING] += x.surplus * x.taken * (1 - store.solar_charge_efficiency) * span
    row[CURTAILED] += curtailed_w(store, x, light) * span


@inlined
def go_on(given, scratch, i):
    """Move every store, wait and tank to the end of the piece."""
    now, state = scratch.now[0], scratch.state
    for s in range(len(state)):
        x = state[s]
        x.wh = min(max(x.wh + x.net * now.span, 0.0), x.full)
        if x.head == s:
            if not state[x.slot].powered:
                x.owed += OWED * given.owes_w[s, i] * now.span
            elif x.extra > 0.0:
                x.owed -= x.extra * now.span
                if x.owed < 1e-9:
                    x.owed = 0.0
        if x.dark_waits:
            x.dark_wait += now.span
        if x.swap_waits:
            x.swap_wait += now.span
    if now.end_s >= 0:
        state[now.end_s].wh = now.end_wh
    if now.engine_on and now.rate > 0.0 and not now.frozen:
        now.fuel -= now.rate * now.span
        if now.fuel < 1e-9:
            now.fuel = 0.0
    if now.engine_waits:
        now.engine_wait += now.span
    for turn in scratch.turns:
        if turn.waits:
            turn.wait += now.span
    darken(given, scratch, i)
    now.left -= now.span


@inlined
def darken(given, scratch, i):
    """Switch off the stores that stand at their stop level and are still asked for more."""
    for s in range(len(scratch.state)):
        x, store = scratch.state[s], given.stores[s]
        if x.dark or store.dc_to >= 0 or x.by_engine or x.by_grid or x.from_up:
            continue
        if x.net < 0.0 and x.wh <= x.floor_wh + LEAST_H and at_home(given, s, i):
            x.dark, x.dark_wait = True, 0.0
            if store.pair >= 0:
                scratch.state[store.pair].dark, scratch.state[store.pair].dark_wait = True, 0.0


@inlined
def whole_step(given, members, told, scratch, j, i):
    """Take a member through one step, cut wherever anything changes."""
    now, state = scratch.now[0], scratch.state
    now.left, now.pieces, now.flips = given.step_h, 0, 0
    now.grid_now = given.grid_w.shape[0] > 0 and given.grid_w[i] > 0.0
    if now.grid_now != now.grid_was:
        note(told, j, i * given.step_h, GRID_BACK if now.grid_now else GRID_GONE, 0, ITSELF)
        now.grid_was = now.grid_now
    if given.here.shape[1] > 0:
        come_and_go(given, told, scratch, j, i)
    while now.left > LEAST_H:
        now.pieces += 1
        now.at = i * given.step_h + given.step_h - now.left
        now.span = now.left
        now.engine_waits = False
        if given.engine[0].school != NO_ENGINE:
            turn_engine(given, told, scratch, j, i)
        for s in range(len(state)):
            restart(given, scratch, s, i)
            if len(state) > 1 and state[s].head == s:
                swap(given, told, scratch, j, s, i)
        find_power(given, scratch, i)
        turn_tiers(given, members, told, scratch, j, i)
        share_out(given, members, told, scratch, j, i)
        if now.ended:
            break
        charge_from_ac(given, scratch, i)
        bring_dc(given, members, scratch, j, i)
        flow(given, members, scratch, j, i)
        find_end(given, scratch, i)
        freeze(told, scratch)
        if told.tally.shape[0] > 0:
            book(given, members, told, scratch, j, i)
        if told.served_at.shape[0] > 0 and j == 0:
            trace(given, members, told, scratch, i)
        go_on(given, scratch, i)
    if told.charge_at.shape[0] > 0:
        for s in range(len(state)):
            told.charge_at[j, i + 1, s] = state[s].wh / state[s].full if state[s].full > 0 else 0.0


@CompiledFunction
def march(given, members, told, scratch):
    """Step every member through all steps. Results are written into ``told``."""
    m, k, n = members.load_w.shape
    state, now = scratch.state, scratch.now[0]
    find_heads(given, scratch)
    lone = k == 1 and given.grid_w.shape[0] == 0 and given.here.shape[1] == 0
    untold = told.tally.shape[0] == 0 and told.served_at.shape[0] == 0 and told.charge_at.shape[0] == 0
    unswitched = len(scratch.turns) == 0 and given.engine[0].school == NO_ENGINE and members.sun_w.shape[2] == 0
    for j in range(m):
        begin(given, members, told, scratch, j)
        i, steps_taken = 0, n
        if lone and untold and unswitched and not state[0].dark:
            i = run_down(given, members, scratch, j)
        while i < n:
            if lone and i > 0 and not state[0].dark:
                i = lone_steps(given, members, told, scratch, j, i)
                if i == n:
                    break
            whole_step(given, members, told, scratch, j, i)
            i += 1
            if now.ended:
                steps_taken = i
                break
        if j == 0:
            told.counts[2] = steps_taken
