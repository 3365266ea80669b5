"""The circuits that could ride, what each asks for, and why one cannot whatever else does."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from imbuto.core.basics.clock import FloatArray, grid
from imbuto.core.basics.units import Leg
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.home.circuits import Circuit, panel_leg
from imbuto.core.home.home import Home
from imbuto.core.home.loads import PURPOSES
from imbuto.core.limits.assumed_ends import at_ends
from imbuto.core.limits.instants import Instants, instants
from imbuto.core.limits.rules.switch_slot_limits import amps_held
from imbuto.core.limits.rules.wiring.protection_limits import protected_a
from imbuto.core.limits.rules.wiring.shared_neutral_limits import neutral_pairs, neutral_wire_a
from imbuto.core.plan.load_states import fed_watts
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Feed, Plan
from imbuto.core.plan.system import Part, equipment_in, resolve_part

Pin = Literal["keep_on", "turns", "off"]
TURNS_SHARE = 0.5  # of the time, for what takes turns; planning default
TURNS_VALUE = 0.5  # what a turn is worth against keeping on; planning default


@dataclass(frozen=True, slots=True)
class Candidates:
    """The circuits that could ride, and what each asks for; c circuits, t steps of the hours asked for.

    both: 240 V
    fixed: the leg it cannot leave, None where the place decides
    turns: whether turns will do; keep_w
    turn_w: mean W in each step, (c, t)
    value: of each class, (c, 6)
    now: the instants of all of them fed
    pairs: those that go over together or not at all, by index, with what their neutral bears
    """

    circuits: tuple[Circuit, ...]
    both: tuple[bool, ...]
    fixed: tuple[Leg | None, ...]
    turns: tuple[bool, ...]
    keep_w: FloatArray
    turn_w: FloatArray
    value: FloatArray
    now: Instants
    all_fed: Part
    pairs: tuple[tuple[int, int, float], ...]

    def mean_w(self, stances: Sequence[Pin]) -> float:
        """Mean W of a set over the hours asked for."""
        drawn = 0.0
        for i, s in enumerate(stances):
            drawn += 0.0 if s == "off" else float((self.keep_w if s == "keep_on" else self.turn_w)[i].mean())
        return drawn


def candidates(home: Home, plan: Plan, outage: Outage, catalogue: Catalogue, hours: float) -> Candidates:
    """What could ride. home: as it is used in the outage."""
    equipment, source = equipment_in(plan, catalogue), plan.source
    if source is None or not equipment.traits.wired:
        raise ValueError("a set is proposed for a station behind a switch")
    station = catalogue.stations[source.station]
    with_loads = {c.id for c in home.circuits.values() if home.loads_on(c.id)}
    partners = {c.neutral_partner for c in home.circuits.values() if c.id in with_loads}
    partners |= {c.id for c in home.circuits.values() if c.neutral_partner in with_loads}
    circuits = tuple(c for c in home.circuits.values() if c.id in with_loads | partners)
    feeds = {c.id: Feed(id=c.id, source=source.id, circuit=c.id, place=2 * i + 1) for i, c in enumerate(circuits)}
    # What only an assumption breaks may be chosen; it is said as such once the set is judged.
    everything = at_ends(resolve_part(home, replace(plan, feeds=feeds), catalogue), None)
    both = tuple(c.poles == 2 and home.service.legs == 2 for c in circuits)
    fixed = tuple(panel_leg(c) if equipment.in_panel else None for c in circuits)
    steps = grid(outage.start, home.site.time_zone, max(hours, 1.0))
    keep, turn = np.zeros((len(circuits), steps.n)), np.zeros((len(circuits), steps.n))
    value = np.zeros((len(circuits), len(PURPOSES)))
    index = {c.id: i for i, c in enumerate(circuits)}
    before = {f.circuit: f for f in plan.feeds.values() if f.circuit and f.stance == "turns"}
    for item in everything.fed:
        i, old = index[item.feed.id], before.get(item.feed.id)
        keep[i] += fed_watts(item.load, "keep_on", (), 1.0, steps)
        if old is None or not old.by_charge:  # what comes and goes with the charge need take none of it
            windows, share = (old.windows, old.share) if old else ((), TURNS_SHARE)
            turn[i] += fed_watts(item.load, "turns", windows, share, steps)
        if not item.assumed:
            value[i, PURPOSES.index(item.load.purpose)] += item.load.weight
    life = {
        f.feed.id for f in everything.fed if f.load.purpose == "life"
    }  # never in turns: a physician has set what it needs
    turns = tuple(
        c.id not in life and any(f.load.turns_ok for f in everything.fed if f.feed.id == c.id) for c in circuits
    )
    if len(station.legs) == 1 and len(everything.station.legs) == 1:
        both = tuple(False for _ in both)
    pairs = tuple(
        (index[a.id], index[b.id], neutral_wire_a(a, b))
        for a, b in neutral_pairs(everything)
        if a.id in index and b.id in index
    )
    return Candidates(circuits, both, fixed, turns, keep, turn, value, instants(everything), everything, pairs)


def why_barred(found: Candidates, i: int) -> str:
    """Why a circuit cannot ride whatever else does; empty where it may."""
    circuit, now = found.circuits[i], found.all_fed
    station, equipment = now.station, now.equipment
    rows = [k for k, f in enumerate(found.now.fed) if f.feed.id == circuit.id]
    if any(now.home.needs_both_legs(found.now.fed[k].load) for k in rows) and len(station.legs) < 2:
        return f"{circuit.name} needs 240 V, and {station.name} supplies {station.volts} V"
    if found.both[i] and not equipment.in_panel and "AB" not in equipment.place_legs:
        return f"{circuit.name} needs two slots on opposite legs, and this switch has none side by side"
    if circuit.breaker_a > equipment.place_a:
        return (
            f"{circuit.name} has a {circuit.breaker_a:g} A breaker, and the switch slots are rated "
            f"{equipment.place_a:g} A"
        )
    own = equipment.place_breaker_a
    if own > protected_a(circuit):
        return (
            f"{circuit.name} has a {protected_a(circuit):g} A breaker, and a switch slot has its own {own:g} A breaker"
        )
    device = now.plan.device
    if device is not None and circuit.panel != device.panel and not equipment.traits.whole_panel:
        at = now.home.panel_name(device.panel)
        return f"{circuit.name} is in {now.home.panel_name(circuit.panel)}, and {equipment.name} is at {at}"
    if now.equipment.automatic and circuit is now.charge_circuit:
        return f"{circuit.name} powers the charger of {station.name}, which would drain itself"
    if rows:
        held = found.now.most(amps_held(found.now, full_rating=now.home.service.volts == 230), rows)
        rating = min(equipment.place_a, circuit.breaker_a, own or circuit.breaker_a)
        if held > rating:
            return f"{circuit.name} alone needs {held:.1f} of {rating:g} A, lasting loads counted 1.25 times"
    return ""
