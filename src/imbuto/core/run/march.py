"""The march: the only place where energy flows.

One plain function steps m members of k stores over n steps, compiled by Numba; a single run is one member. Between
two changes every power is constant, and a step is cut wherever something changes: floor, full, coming back, a
threshold of turns, start and stop charge of a generator, an empty tank, a swap, the end of a wait. It is long because
a compiled loop without helper calls is what makes a band cost milliseconds; ``NUMBA_DISABLE_JIT=1`` runs the same
lines as plain Python.

Conventions: W, Wh, h, l; powers positive; net_w positive into a store. Energy in = served + losses + change, for each
member: ``tests/core/test_march.py`` holds it to 1e-6.
"""

from __future__ import annotations

import numpy as np

from imbuto.core.equipment.catalogue import TAPER_END, TAPER_FROM
from imbuto.core.run.jit import Compiled

# Columns of ``stores``, one row a store, what all members share.
FLOOR, NOMINAL, EFFICIENCY, IDLE, STANDBY, BY_ITSELF, MARGIN, MPPT, SOLAR_IN, AC_IN, TAPER, MOST_CHARGE = range(12)
OWN_PASS, BEHIND, OWN_FIRST, AFTER, PAIR, DC_TO, DC_W, GRID, HOLD, RESUME, GRID_W, REFILL = range(12, 24)
DC_DARK, SWAP_AT, ROUND = range(24, 27)
STORE_COLUMNS = 27
# Columns of ``tiers``.
T_STORE, T_OFF, T_ON, T_SURPLUS, T_BY_HAND = range(5)
# Entries of ``engine``; school: 0 none, 1 fill and stop, 2 carry the house.
E_RUNNING, E_STILL, E_PER_WH, E_FUEL, E_START, E_STOP, E_SCHOOL, E_BY_HAND = range(8)
# Columns of a tally, Wh but for the last three.
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

FULL = 1 - 1e-9
EPS = 1e-9  # of full: a threshold met to rounding is met
LEAST_H = 1e-12
OWED = 0.8  # of what a thermostat missed while dark it makes up for; planning default
MOST_CHANGES = 40  # of dark and back within one step; more is a flutter, not a plan
MOST_PIECES = 400  # a step is never cut into more


@Compiled
def march(  # type: ignore[no-untyped-def]
    stores,
    full_wh,
    start,
    load_w,
    sun_w,
    tiers,
    tier_w,
    engine,
    charger_w,
    awake,
    may,
    owes_w,
    gap_w,
    hands,
    delay_h,
    grid_w,
    use,
    here,
    home_charge,
    step_h,
    ends,
    first_dark,
    charge_at,
    tally,
    served_at,
    tier_at,
    engine_at,
    fuel_at,
    grid_at,
    lost_at,
    events,
    counts,
):
    """Step every member through all steps; results go into the arrays of the last two lines.

    stores: (k, STORE_COLUMNS); full_wh, start: Wh from full to empty, charge 0 to 1, (m, k); load_w: AC W of what is
    always fed, (m, k, n); sun_w: DC W at the inputs, (m, k, n) or (m, k, 0) for none; tiers: (t, 5); tier_w: AC W of
    each while it is on, (m, t, n); engine: (8,); charger_w: AC W it may put into each store, -1 where it is not
    joined, (k,); awake, may: whether anyone is up, and the generator may run, (n,); owes_w, gap_w: mean W of
    thermostats, and what they draw more while catching up, (k, n); hands, delay_h: somebody can switch, after so
    long; grid_w: W it gives, 0 where it is gone, (n,) or (0,) for never; use: what stores do while it is there, (n,)
    or (0,); here: whether each store is at home, (k, n) or (k, 0); home_charge: with how much it comes back, (k,);
    ends: of which stores the first dark ends a member, (k,).

    first_dark: h, infinite for never, (m, k); charge_at: (m, n + 1, k) or (0, ...); tally: (m, k, TALLY_COLUMNS) or
    (0, ...); served_at, tier_at, engine_at, fuel_at: of the first member, Wh (n, k), share of the step (n, t), h and
    l (n,), or empty; grid_at, lost_at: of the first member, Wh from the grid for all that it is used for, and DC Wh
    of the sun that nothing took, (n, k), or empty; events: of the first member, (e, 4); counts: events noted,
    fluttered, steps taken; (3,)."""
    m, k, n = load_w.shape
    t = tiers.shape[0]
    suns, grids, homes = sun_w.shape[2] > 0, grid_w.shape[0] > 0, here.shape[1] > 0
    tallied, traced, drawn_out = tally.shape[0] > 0, served_at.shape[0] > 0, charge_at.shape[0] > 0
    school = engine[E_SCHOOL]
    joined = k > 1
    full, wh, floor_wh, restart_wh = np.zeros(k), np.zeros(k), np.zeros(k), np.zeros(k)
    dark, was_on = np.zeros(k, np.uint8), np.zeros(k, np.uint8)
    by_engine, by_grid, from_up, holding = (
        np.zeros(k, np.uint8),
        np.zeros(k, np.uint8),
        np.zeros(k, np.uint8),
        np.zeros(k, np.uint8),
    )
    powered, slot = np.zeros(k, np.uint8), np.zeros(k, np.int64)
    dark_wait, swap_wait, owed, extra = np.zeros(k), np.zeros(k), np.zeros(k), np.zeros(k)
    own = np.zeros(k, np.uint8)
    asked, passed, carry = np.zeros(k), np.zeros(k), np.zeros(k)
    ac_w, net, drawn = np.zeros(k), np.zeros(k), np.zeros(k)
    surplus, taken, bus, dc_in, grid_load = np.zeros(k), np.zeros(k), np.zeros(k), np.zeros(k), np.zeros(k)
    tier_on, tier_wait, tier_waits = np.zeros(t, np.uint8), np.zeros(t), np.zeros(t, np.uint8)
    dark_waits, swap_waits = np.zeros(k, np.uint8), np.zeros(k, np.uint8)
    head = np.zeros(k, np.int64)
    for s in range(k):  # of stores in line at one inlet, the first; what hangs there goes to whichever is plugged in
        head[s] = s
        while stores[head[s], AFTER] >= 0:
            head[s] = int(stores[head[s], AFTER])
    for j in range(m):
        engine_on, engine_wait, fuel = False, 0.0, engine[E_FUEL]
        noted = j == 0 and events.shape[0] > 0
        for s in range(k):
            full[s] = full_wh[j, s]
            wh[s] = start[j, s] * full[s]
            floor_wh[s] = stores[s, FLOOR] * full[s]
            restart_wh[s] = min(floor_wh[s] + stores[s, MARGIN] * stores[s, NOMINAL], full[s])
            dark[s] = wh[s] <= floor_wh[s] and stores[s, DC_TO] < 0
            was_on[s] = 1
            dark_wait[s], swap_wait[s], owed[s], extra[s], slot[s], holding[s] = 0.0, 0.0, 0.0, 0.0, s, 0
            first_dark[j, s] = np.inf
            if drawn_out:
                charge_at[j, 0, s] = start[j, s]
        for c in range(t):
            tier_on[c], tier_wait[c] = 0, 0.0
        grid_was = False
        inverse, idle, whole = 1 / stores[0, EFFICIENCY], stores[0, IDLE], full[0]
        mppt, solar_in, ac_in = stores[0, MPPT], stores[0, SOLAR_IN], stores[0, AC_IN]
        tapers, most_in, lone = stores[0, TAPER] > 0, stores[0, MOST_CHARGE], not joined and not grids and not homes
        stale, low, high = True, 0.0, 0.0
        steps_taken, begin = n, 0
        if (
            lone
            and t == 0
            and school == 0
            and not suns
            and not tallied
            and not traced
            and not drawn_out
            and dark[0] == 0
        ):
            stored, least = wh[0], floor_wh[0]  # nothing comes in and nothing is told: only down to where it ends
            while begin < n:
                after = stored - (load_w[j, 0, begin] * inverse + idle) * step_h
                if after <= least:
                    break
                stored = after
                begin += 1
            wh[0] = stored
        for i in range(begin, n):
            up = awake[i] != 0
            # ---- the short way: one store, lit, and nothing that could change within the step ----
            if lone and dark[0] == 0 and i > 0 and (owed[0] <= 0.0 or gap_w[0, i] <= 0.0):
                light = sun_w[j, 0, i] if suns else 0.0
                if stale:
                    low, high = (0.0 if engine_on else floor_wh[0]), np.inf
                    if school == 1 and fuel > 1e-12:
                        if engine_on:
                            high = min(high, engine[E_STOP] * whole)
                        else:
                            low = max(low, engine[E_START] * whole)
                    for c in range(t):
                        if tier_on[c]:
                            low = max(low, tiers[c, T_OFF] * whole)
                        else:
                            high = min(high, tiers[c, T_ON] * whole)
                    stale = False
                ok = not (school == 2 and not engine_on) and not (engine_on and may[i] == 0) and wh[0] < high
                w = load_w[j, 0, i]
                for c in range(t):
                    if tiers[c, T_SURPLUS] > 0 and (light > 0.0 or tier_on[c]):
                        ok = False
                    if tier_on[c]:
                        w += tier_w[j, c, i]
                    if tier_wait[c] > 0.0:
                        ok = False
                if ok and light <= 0.0 and not engine_on:
                    d = (w * inverse + idle) * step_h
                    after = wh[0] - d
                    if after > low:
                        wh[0] = after
                        engine_wait = 0.0
                        if tallied:
                            tally[j, 0, SERVED] += w * step_h
                            tally[j, 0, CONVERSION] += d - (w + idle) * step_h
                            tally[j, 0, IDLE_WH] += idle * step_h
                        if drawn_out:
                            charge_at[j, i + 1, 0] = after / whole
                        if traced and j == 0:
                            served_at[i, 0] = w * step_h
                            for c in range(t):
                                tier_at[i, c] = tier_on[c]
                        continue
                elif ok:
                    b = light * mppt
                    d = 0.0 if engine_on else w * inverse + idle
                    a = 0.0
                    if engine_on:
                        a = min(charger_w[0], max(engine[E_RUNNING] - w, 0.0))
                    over = max(b - d, 0.0)
                    lack = max(d - b, 0.0)
                    offered = over * solar_in + a * ac_in
                    share = 0.0
                    if offered > 0.0 and wh[0] < whole * FULL:
                        share = min(1.0, most_in / offered)
                        if tapers:
                            c0 = wh[0] / whole
                            f0 = 1.0
                            if c0 > TAPER_FROM:
                                f0 = 1 - (1 - TAPER_END) * (c0 - TAPER_FROM) / (1 - TAPER_FROM)
                            c1 = (wh[0] + (offered * min(share, f0) - lack) * step_h / 2) / whole
                            if c1 > TAPER_FROM:
                                f1 = 1 - (1 - TAPER_END) * (min(c1, 1.0) - TAPER_FROM) / (1 - TAPER_FROM)
                                share = min(share, f1)
                    after = wh[0] + (offered * share - lack) * step_h
                    burnt = 0.0
                    if engine_on:
                        burnt = (engine[E_STILL] + engine[E_PER_WH] * (w + a * share)) * step_h
                    if after > low and after < high and after <= whole and (not engine_on or burnt < fuel):
                        wh[0] = after
                        fuel -= burnt
                        if not engine_on:
                            engine_wait = 0.0
                        if tallied:
                            y = tally[j, 0]
                            y[SERVED] += w * step_h
                            if engine_on:
                                y[BYPASS] += w * step_h
                                y[ENGINE_H] += step_h
                                y[FUEL_L] += burnt
                                y[AC_CAME] += a * share * step_h
                                y[CHARGING] += a * share * (1 - ac_in) * step_h
                            else:
                                y[CONVERSION] += w * (inverse - 1) * step_h
                                y[IDLE_WH] += idle * step_h
                            y[SOLAR] += light * step_h
                            y[TRACKING] += light * (1 - mppt) * step_h
                            y[CHARGING] += over * share * (1 - solar_in) * step_h
                            y[CURTAILED] += over * (1 - share) * step_h
                        if drawn_out:
                            charge_at[j, i + 1, 0] = after / whole
                        if traced and j == 0:
                            served_at[i, 0] = w * step_h
                            fuel_at[i] = burnt
                            engine_at[i] = step_h if engine_on else 0.0
                            for c in range(t):
                                tier_at[i, c] = tier_on[c]
                        continue
            # ---- the whole way: cut wherever anything changes ----
            stale = True
            left, pieces, flips, ended = step_h, 0, 0, False
            grid_now = grids and grid_w[i] > 0.0
            if noted and grids and grid_now != grid_was and counts[0] < events.shape[0]:
                e = events[counts[0]]
                e[0], e[1], e[2], e[3] = i * step_h, GRID_BACK if grid_now else GRID_GONE, 0, ITSELF
                counts[0] += 1
            grid_was = grid_now
            if homes:
                for s in range(k):
                    now_here, before = here[s, i] != 0, i == 0 or here[s, i - 1] != 0
                    if now_here and not before:
                        if tallied:
                            tally[j, s, CAME_BACK] += home_charge[s] * full[s]
                        wh[s] = home_charge[s] * full[s]
                        dark[s] = wh[s] <= floor_wh[s]
                    elif before and not now_here:
                        if tallied:
                            tally[j, s, WENT_AWAY] += wh[s]
                        wh[s] = 0.0
                    if noted and now_here != before and counts[0] < events.shape[0]:
                        e = events[counts[0]]
                        e[0], e[1], e[2], e[3] = i * step_h, HOME if now_here else AWAY, s, HAND
                        counts[0] += 1
            while left > LEAST_H:
                pieces += 1
                at = i * step_h + step_h - left
                span = left
                # -- decide: the generator --
                engine_waits = False
                if school > 0:
                    want = may[i] != 0 and fuel > 1e-12
                    if want and school == 1:
                        lower = False
                        for s in range(k):
                            if charger_w[s] >= 0 and (not homes or here[s, i] != 0):
                                if engine_on:
                                    lower = lower or wh[s] < (engine[E_STOP] - EPS) * full[s]
                                else:
                                    lower = lower or dark[s] != 0 or wh[s] <= (engine[E_START] + EPS) * full[s]
                        want = lower
                    turn = False
                    if not want:
                        if engine_on:
                            engine_on, turn = False, True
                        engine_wait = 0.0
                    elif not engine_on:
                        if engine[E_BY_HAND] == 0 or (hands and engine_wait >= delay_h - EPS):
                            engine_on, engine_wait, turn = True, 0.0, True
                            for s in range(k):
                                if charger_w[s] >= 0:
                                    dark[s], dark_wait[s] = 0, 0.0
                        elif hands and up:
                            engine_waits, span = True, min(span, delay_h - engine_wait)
                    if turn and noted and counts[0] < events.shape[0]:
                        what = ENGINE_ON if engine_on else ENGINE_OFF
                        if not engine_on and fuel <= 1e-12:
                            what = TANK_EMPTY
                        e = events[counts[0]]
                        e[0], e[1], e[2], e[3] = at, what, 0, HAND if engine[E_BY_HAND] > 0 else ITSELF
                        counts[0] += 1
                # -- decide: who is switched back on, and who is plugged in instead --
                for s in range(k):
                    # Passing the generator on, a store may stand below its floor; it is dark once that ends.
                    dark_waits[s], swap_waits[s] = 0, 0
                    if dark[s] != 0 and wh[s] >= restart_wh[s] - EPS * full[s]:
                        if stores[s, BY_ITSELF] > 0 or (grid_now and stores[s, GRID] > 0):
                            dark[s] = 0
                        elif not hands:
                            dark_wait[s] = 0.0
                        elif dark_wait[s] >= delay_h - EPS:
                            dark[s], dark_wait[s] = 0, 0.0
                        elif up:
                            dark_waits[s] = 1
                            span = min(span, delay_h - dark_wait[s])
                    else:
                        dark_wait[s] = 0.0
                    if joined and head[s] == s:
                        a = slot[s]
                        nearly = dark[a] == 0 and wh[a] <= (stores[a, SWAP_AT] + EPS) * full[a]
                        if (dark[a] != 0 or nearly) and hands:
                            best, most = -1, 0.0
                            if nearly:  # one that holds no more is no reason to change
                                most = max(wh[a] - floor_wh[a], 0.0)
                            for q in range(k):
                                if head[q] == s and q != a and dark[q] == 0 and wh[q] - floor_wh[q] > most:
                                    best, most = q, wh[q] - floor_wh[q]
                            if best < 0:
                                swap_wait[s] = 0.0
                            elif swap_wait[s] >= delay_h - EPS:
                                slot[s], swap_wait[s] = best, 0.0
                                if noted and counts[0] < events.shape[0]:
                                    e = events[counts[0]]
                                    e[0], e[1], e[2], e[3] = at, SWAP, best, HAND
                                    counts[0] += 1
                            elif up:
                                swap_waits[s] = 1
                                span = min(span, delay_h - swap_wait[s])
                        else:
                            swap_wait[s] = 0.0
                # -- who has power: from the generator, the grid, the store before it, or its own --
                for s in range(k):
                    at_home = not homes or here[s, i] != 0
                    by_engine[s] = 1 if engine_on and charger_w[s] >= 0 and at_home else 0
                    by_grid[s], from_up[s] = 0, 0
                    if grid_now and stores[s, GRID] > 0:
                        mode = use[i]
                        if holding[s] != 0:
                            if wh[s] >= (stores[s, RESUME] - EPS) * full[s]:
                                holding[s] = 0
                        elif wh[s] <= (stores[s, HOLD] + EPS) * full[s]:
                            holding[s] = 1
                        if mode != CARRY or holding[s] != 0 or dark[s] != 0 or not at_home:
                            by_grid[s] = 1
                    own[s] = 1 if at_home and dark[s] == 0 else 0
                    powered[s] = 1 if by_engine[s] + by_grid[s] + own[s] > 0 else 0
                for s in range(k):
                    u = int(stores[s, BEHIND])
                    at_home = not homes or here[s, i] != 0
                    takes = u >= 0 and by_engine[s] == 0 and by_grid[s] == 0 and (at_home or stores[s, ROUND] > 0)
                    if takes and powered[slot[u]] != 0 and (stores[s, OWN_FIRST] == 0 or dark[s] != 0 or not at_home):
                        from_up[s], powered[s] = 1, 1
                # -- decide: turns --
                for c in range(t):
                    tier_waits[c] = 0
                    s = int(tiers[c, T_STORE])
                    light = sun_w[j, s, i] if suns else 0.0
                    base = load_w[j, s, i] / stores[s, EFFICIENCY] + stores[s, IDLE]
                    mark = tiers[c, T_OFF] + EPS if tier_on[c] else tiers[c, T_ON] - EPS
                    want = wh[s] > mark * full[s]
                    if tiers[c, T_SURPLUS] > 0:
                        want = want and light * stores[s, MPPT] > base
                    want = want or by_engine[s] != 0
                    if want == (tier_on[c] != 0):
                        tier_wait[c] = 0.0
                    elif (
                        (i == 0 and left == step_h)
                        or tiers[c, T_BY_HAND] == 0
                        or (hands and tier_wait[c] >= delay_h - EPS)
                    ):
                        tier_on[c], tier_wait[c] = 1 if want else 0, 0.0
                        if noted and counts[0] < events.shape[0]:
                            by = HAND if tiers[c, T_BY_HAND] > 0 else ITSELF
                            e = events[counts[0]]
                            e[0], e[1], e[2], e[3] = at, TIER_ON if want else TIER_OFF, c, by
                            counts[0] += 1
                    elif hands and up:
                        tier_waits[c] = 1
                        span = min(span, delay_h - tier_wait[c])
                # -- what each is asked for --
                for s in range(k):
                    asked[s], passed[s], carry[s], grid_load[s], extra[s] = load_w[j, s, i], 0.0, 0.0, 0.0, 0.0
                for c in range(t):
                    if tier_on[c]:
                        asked[int(tiers[c, T_STORE])] += tier_w[j, c, i]
                for s in range(k - 1, -1, -1):
                    a = slot[s]
                    on = powered[a] != 0 and head[s] == s
                    if owed[s] > 0.0 and on:
                        extra[s] = gap_w[s, i]
                        asked[s] += extra[s]
                        if extra[s] > 0.0:
                            span = min(span, owed[s] / extra[s])
                    if head[s] != s:
                        continue
                    # Served, or dark: noted where it changes.
                    if on != (was_on[s] != 0):
                        was_on[s] = 1 if on else 0
                        flips += 1
                        if noted and counts[0] < events.shape[0]:
                            by = HAND if on and not stores[a, BY_ITSELF] and not by_engine[a] else ITSELF
                            e = events[counts[0]]
                            e[0], e[1], e[2], e[3] = at, BACK if on else DARK, s, by
                            counts[0] += 1
                    if not on:
                        if np.isinf(first_dark[j, s]):
                            first_dark[j, s] = at
                            if ends[s]:
                                ended = True
                        continue
                    need = asked[s] + passed[s]
                    if by_engine[a] or (own[a] != 0 and not by_grid[a] and not from_up[a]):
                        carry[a] = need
                    elif by_grid[a]:
                        carry[a], grid_load[a] = need, need
                    else:
                        passed[int(stores[a, BEHIND])] += need + stores[a, OWN_PASS]
                if ended:
                    break
                # -- what a generator and the grid may charge with, in order --
                room = engine[E_RUNNING]
                mains = grid_w[i] if grid_now else 0.0
                for s in range(k):
                    if by_engine[s]:
                        room -= carry[s]
                    if by_grid[s]:
                        mains -= carry[s]
                for s in range(k):
                    ac_w[s] = 0.0
                    if by_engine[s]:
                        ac_w[s] = min(charger_w[s], max(room, 0.0))
                        room -= ac_w[s]
                    elif by_grid[s] and (not homes or here[s, i] != 0):
                        refills = holding[s] != 0 and wh[s] < stores[s, REFILL] * full[s]
                        if use[i] == CHARGE or refills:
                            ac_w[s] = min(stores[s, GRID_W], max(mains, 0.0))
                            mains -= ac_w[s]
                # -- flows; a bank that only gives direct current comes after the store it feeds --
                for s in range(k):
                    bus[s], dc_in[s] = 0.0, 0.0
                    if suns and (not homes or here[s, i] != 0):
                        bus[s] = sun_w[j, s, i] * stores[s, MPPT]
                for b in range(k):
                    v = int(stores[b, DC_TO])
                    if v >= 0 and stores[b, DC_DARK] > 0 and suns and sun_w[j, v, i] > 0.0:
                        continue  # the array has the input while the sun is up
                    if v >= 0 and wh[b] > floor_wh[b] * (1 + EPS) and (not homes or here[v, i] + here[b, i] > 1):
                        dc_in[v] += stores[b, DC_W]
                        bus[v] += stores[b, DC_W] * stores[v, MPPT]
                for order in range(2):
                    for s in range(k):
                        bank = stores[s, DC_TO] >= 0
                        if bank != (order == 1):
                            continue
                        at_home = not homes or here[s, i] != 0
                        d = 0.0
                        if not at_home or by_engine[s]:
                            d = 0.0
                        elif bank:
                            v = int(stores[s, DC_TO])
                            if wh[s] > floor_wh[s] * (1 + EPS) and dc_in[v] > 0.0:
                                light = sun_w[j, v, i] if suns else 0.0
                                used = (bus[v] - surplus[v] * (1 - taken[v])) / stores[v, MPPT]
                                gave = min(max(used - light, 0.0), dc_in[v])
                                d = gave * stores[s, DC_W] / dc_in[v]
                        elif by_grid[s]:
                            if (
                                use[i] == SUN_FIRST and bus[s] > stores[s, IDLE]
                            ):  # what the sun carries, the grid need not
                                part = min(carry[s], (bus[s] - stores[s, IDLE]) * stores[s, EFFICIENCY])
                                grid_load[s] = carry[s] - part
                                d = part / stores[s, EFFICIENCY] + stores[s, IDLE]
                        elif from_up[s] or slot[head[s]] != s:
                            d = 0.0
                        elif own[s] != 0:
                            d = carry[s] / stores[s, EFFICIENCY] + stores[s, IDLE]
                        else:
                            d = stores[s, STANDBY]
                            if wh[s] <= 0.0:
                                d = min(d, bus[s])  # empty: standby lives on sun alone
                        drawn[s] = d
                        over = max(bus[s] - d, 0.0)
                        lack = max(d - bus[s], 0.0)
                        offered = over * stores[s, SOLAR_IN] + ac_w[s] * stores[s, AC_IN]
                        share = 0.0
                        if offered > 0.0 and at_home and wh[s] < full[s] * FULL:
                            share = min(1.0, stores[s, MOST_CHARGE] / offered)
                            if stores[s, TAPER] > 0:
                                c0 = wh[s] / full[s]
                                f0 = 1.0
                                if c0 > TAPER_FROM:
                                    f0 = 1 - (1 - TAPER_END) * (c0 - TAPER_FROM) / (1 - TAPER_FROM)
                                # Read at the middle of the piece, which makes the taper exact to second order.
                                c1 = (wh[s] + (offered * min(share, f0) - lack) * span / 2) / full[s]
                                if c1 > TAPER_FROM:
                                    f1 = 1 - (1 - TAPER_END) * (min(c1, 1.0) - TAPER_FROM) / (1 - TAPER_FROM)
                                    share = min(share, f1)
                        surplus[s], taken[s] = over, share
                        net[s] = offered * share - lack
                # -- until what changes first --
                rate = 0.0
                if engine_on:
                    through = 0.0
                    for s in range(k):
                        if by_engine[s]:
                            through += carry[s] + ac_w[s] * taken[s]
                    rate = engine[E_STILL] + engine[E_PER_WH] * through
                    if rate > 0.0:
                        span = min(span, fuel / rate)
                end_s, end_wh = -1, 0.0
                for s in range(k):
                    if homes and here[s, i] == 0:
                        continue
                    if net[s] < 0.0:
                        # A generator may have stopped below the floor; the dark lives on standby down to nothing.
                        target = min(floor_wh[s], wh[s]) if own[s] != 0 else 0.0
                        if (own[s] != 0 or wh[s] > 0.0) and (wh[s] - target) / -net[s] < span:
                            span, end_s, end_wh = max((wh[s] - target) / -net[s], 0.0), s, target
                        if school == 1 and not engine_on and charger_w[s] >= 0 and fuel > 0.0:
                            mark = engine[E_START] * full[s]
                            if wh[s] > mark * (1 + EPS) and (wh[s] - mark) / -net[s] < span:
                                span, end_s, end_wh = (wh[s] - mark) / -net[s], s, mark
                        if stores[s, SWAP_AT] > 0.0 and slot[head[s]] == s:
                            mark = stores[s, SWAP_AT] * full[s]
                            if wh[s] > mark * (1 + EPS) and (wh[s] - mark) / -net[s] < span:
                                span, end_s, end_wh = (wh[s] - mark) / -net[s], s, mark
                        if grid_now and stores[s, GRID] > 0 and holding[s] == 0:
                            mark = stores[s, HOLD] * full[s]
                            if wh[s] > mark * (1 + EPS) and (wh[s] - mark) / -net[s] < span:
                                span, end_s, end_wh = (wh[s] - mark) / -net[s], s, mark
                        for c in range(t):
                            if int(tiers[c, T_STORE]) == s and tier_on[c]:
                                mark = tiers[c, T_OFF] * full[s]
                                if wh[s] > mark * (1 + EPS) + EPS and (wh[s] - mark) / -net[s] < span:
                                    span, end_s, end_wh = (wh[s] - mark) / -net[s], s, mark
                    elif net[s] > 0.0:
                        if (full[s] - wh[s]) / net[s] < span:
                            span, end_s, end_wh = (full[s] - wh[s]) / net[s], s, full[s]
                        mark = restart_wh[s]
                        if dark[s] != 0 and wh[s] < mark * (1 - EPS) and (mark - wh[s]) / net[s] < span:
                            span, end_s, end_wh = (mark - wh[s]) / net[s], s, mark
                        if engine_on and school == 1 and charger_w[s] >= 0:
                            mark = engine[E_STOP] * full[s]
                            if wh[s] < mark * (1 - EPS) and (mark - wh[s]) / net[s] < span:
                                span, end_s, end_wh = (mark - wh[s]) / net[s], s, mark
                        if holding[s] != 0:
                            for mark in (stores[s, RESUME] * full[s], stores[s, REFILL] * full[s]):
                                if wh[s] < mark * (1 - EPS) and (mark - wh[s]) / net[s] < span:
                                    span, end_s, end_wh = (mark - wh[s]) / net[s], s, mark
                        for c in range(t):
                            if int(tiers[c, T_STORE]) == s and not tier_on[c]:
                                mark = tiers[c, T_ON] * full[s]
                                if wh[s] < mark * (1 - EPS) and (mark - wh[s]) / net[s] < span:
                                    span, end_s, end_wh = (mark - wh[s]) / net[s], s, mark
                frozen = flips > MOST_CHANGES or pieces > MOST_PIECES
                if frozen:  # on and off faster than anything is switched: it is left dark for the rest of the step
                    counts[1] = 1
                    span, end_s = left, -1
                    for s in range(k):
                        net[s], drawn[s], carry[s], grid_load[s], ac_w[s], taken[s], dark[s] = 0, 0, 0, 0, 0, 0, 1
                        bus[s], surplus[s], dc_in[s], powered[s] = 0.0, 0.0, 0.0, 0
                # -- book what flowed, and go on --
                if tallied or traced:
                    for s in range(k):
                        a = slot[s]
                        on = powered[a] != 0 and head[s] == s and not frozen
                        if traced and j == 0 and on:
                            served_at[i, s] += asked[s] * span
                        if traced and j == 0 and grids and not frozen:
                            if by_grid[s]:
                                own_w = 0.0 if drawn[s] > 0.0 else stores[s, IDLE]
                                grid_at[i, s] += (grid_load[s] + own_w + ac_w[s] * taken[s]) * span
                            if bus[s] > 0.0:
                                lost_at[i, s] += surplus[s] * (1 - taken[s]) * span
                        if not tallied:
                            continue
                        y = tally[j, s]
                        if head[s] == s:
                            if on:
                                y[SERVED] += asked[s] * span
                            else:
                                y[UNSERVED] += asked[s] * span
                                y[DARK_H] += span
                        if on:
                            y[PASSED_ON] += passed[s] * span
                        light = sun_w[j, s, i] if suns and not frozen and (not homes or here[s, i] != 0) else 0.0
                        if by_engine[s] and not frozen:
                            y[BYPASS] += carry[s] * span
                        elif by_grid[s] and not frozen:
                            y[FROM_GRID] += grid_load[s] * span
                            y[IDLE_WH] += stores[s, IDLE] * span
                            if drawn[s] > 0.0:
                                y[CONVERSION] += (carry[s] - grid_load[s]) * (1 / stores[s, EFFICIENCY] - 1) * span
                            else:  # what passes the grid on lives on it
                                y[FROM_GRID] += stores[s, IDLE] * span
                        elif from_up[s] and not frozen:
                            y[IDLE_WH] += stores[s, OWN_PASS] * span
                            y[FROM_UP] += (asked[s] + passed[s] + stores[s, OWN_PASS]) * span
                        elif stores[s, DC_TO] >= 0:
                            y[DC_GIVEN] += drawn[s] * span
                        elif own[s] != 0 and slot[head[s]] == s and not frozen and (not homes or here[s, i] != 0):
                            y[CONVERSION] += carry[s] * (1 / stores[s, EFFICIENCY] - 1) * span
                            y[IDLE_WH] += stores[s, IDLE] * span
                        else:
                            y[STANDBY_WH] += drawn[s] * span
                        if bus[s] > 0.0:
                            used = (bus[s] - surplus[s] * (1 - taken[s])) / stores[s, MPPT]
                            given = min(max(used - light, 0.0), dc_in[s])
                            y[SOLAR] += light * span
                            y[TRACKING] += (light + given) * (1 - stores[s, MPPT]) * span
                            y[CHARGING] += surplus[s] * taken[s] * (1 - stores[s, SOLAR_IN]) * span
                            y[CURTAILED] += (surplus[s] * (1 - taken[s]) - (dc_in[s] - given) * stores[s, MPPT]) * span
                        if ac_w[s] > 0.0:
                            y[AC_CAME] += ac_w[s] * taken[s] * span
                            y[CHARGING] += ac_w[s] * taken[s] * (1 - stores[s, AC_IN]) * span
                    if tallied and engine_on and not frozen:
                        tally[j, 0, ENGINE_H] += span
                        tally[j, 0, FUEL_L] += min(rate * span, fuel)
                if traced and j == 0:
                    if engine_on and not frozen:
                        engine_at[i] += span
                        fuel_at[i] += min(rate * span, fuel)
                    for c in range(t):
                        tier_at[i, c] += tier_on[c] * span / step_h
                for s in range(k):
                    wh[s] = min(max(wh[s] + net[s] * span, 0.0), full[s])
                    a = slot[s]
                    if head[s] == s:
                        if powered[a] == 0:
                            owed[s] += OWED * owes_w[s, i] * span
                        elif extra[s] > 0.0:
                            owed[s] -= extra[s] * span
                            if owed[s] < 1e-9:
                                owed[s] = 0.0
                    if dark_waits[s] != 0:
                        dark_wait[s] += span
                    if swap_waits[s] != 0:
                        swap_wait[s] += span
                if end_s >= 0:
                    wh[end_s] = end_wh
                if engine_on and rate > 0.0 and not frozen:
                    fuel -= rate * span
                    if fuel < 1e-9:
                        fuel = 0.0
                if engine_waits:
                    engine_wait += span
                for c in range(t):
                    if tier_waits[c] != 0:
                        tier_wait[c] += span
                # At its floor and still asked for more, a store is dark.
                for s in range(k):
                    if dark[s] == 0 and stores[s, DC_TO] < 0 and not by_engine[s] and not by_grid[s] and not from_up[s]:
                        gone = homes and here[s, i] == 0
                        if net[s] < 0.0 and wh[s] <= floor_wh[s] + LEAST_H and not gone:
                            dark[s], dark_wait[s] = 1, 0.0
                            p = int(stores[s, PAIR])
                            if p >= 0:
                                dark[p], dark_wait[p] = 1, 0.0
                left -= span
            if drawn_out:
                for s in range(k):
                    charge_at[j, i + 1, s] = wh[s] / full[s] if full[s] > 0 else 0.0
            if ended:
                steps_taken = i + 1
                break
        if j == 0:
            counts[2] = steps_taken
