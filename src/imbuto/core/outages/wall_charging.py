"""How fast a station charges where it is plugged in: the least of charger, setting, outlet and what cold cells take."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from imbuto.core.basics.measures import temp_text
from imbuto.core.basics.units import number_text
from imbuto.core.equipment.conversion import hours_to_full
from imbuto.core.home.circuits import breaker_amps
from imbuto.core.home.loads import is_continuous
from imbuto.core.plan.system import Part

WHERE = {"device": "on the device", "app": "in its app", "remote": "on its remote display"}
# A plain outlet for as long as charging takes, where nobody says which one it is: planning defaults.
OUTLET_W = {120: 1440.0, 230: 2300.0}
OUTLET_WORDS = {120: "120 V, 15 A", 230: "230 V, 10 A"}
UP_TO_H = 1 / 12  # what charging takes is rounded up to so much
Bound = Literal["charger", "setting", "circuit", "outlet", "cold"]


@dataclass(frozen=True, slots=True)
class WallCharging:
    """Charging from the grid.

    watts: AC W, 0 where the charger is unlisted or nothing charges
    bound: what sets them
    says: why they are no more, in a sentence; empty where the charger alone sets them
    """

    watts: float
    bound: Bound
    says: str


def wall_charging(x: Part, cells_c: float | None = None) -> WallCharging:
    """Charging from the grid where it is plugged in. cells_c: temperature of its cells, None for not to be judged."""
    station, most = x.station, x.station.charger_w(x.source.modules)
    if cells_c is not None and not station.heater and not station.charge_min_c <= cells_c <= station.charge_max_c:
        says = f"At {temp_text(cells_c)} it doesn't charge. First bring it somewhere within its charging temperatures."
        return WallCharging(0.0, "cold", says)
    found = WallCharging(most, "charger", "")
    if x.source.charge_w is not None and x.source.charge_w < found.watts:
        found = WallCharging(x.source.charge_w, "setting", f"Its charger is set to {number_text(x.source.charge_w)} W.")
    outlet = _outlet(x)
    if outlet is not None and outlet.watts < found.watts:
        return outlet
    return found


def _outlet(x: Part) -> WallCharging | None:
    """What the place gives that it is plugged into; None for one that charges through the panel's own wiring."""
    if charges_in_step(x):
        return None
    volts = x.home.service.volts
    circuit = x.charge_circuit
    if circuit is None:
        watts = OUTLET_W[230 if volts == 230 else 120]
        words = OUTLET_WORDS[230 if volts == 230 else 120]
        says = (
            f"At most {number_text(watts)} W, since you haven't said which outlet it is plugged into: {words} is "
            "assumed. Name its circuit under Connections."
        )
        return WallCharging(watts, "outlet", says)
    across = volts * circuit.poles if x.home.service.legs == 2 else volts
    held = breaker_amps(1.0, 0.0, full_rating=volts == 230)
    others = [
        (load, load.run_va / across * (held if is_continuous(load) else 1.0)) for load in x.home.loads_on(circuit.id)
    ]
    left = max(circuit.breaker_a - sum(amps for _, amps in others), 0.0) / held * across
    beside = f" next to {', '.join(load.name for load, _ in others[:3])}" if others else ""
    says = (
        f"{circuit.name} has room for {number_text(math.floor(left / 10) * 10)} W{beside}. Set its charger to no "
        "more than that."
    )
    return WallCharging(math.floor(left / 10) * 10, "circuit", says)


def charges_in_step(x: Part) -> bool:
    """Whether it charges through wired gear that takes over by itself, and not at an outlet."""
    return any(not e.traits.inlet and e.automatic for e in x.by_device.values())


def refill_hours(x: Part, charge: float, cells_c: float | None = None) -> float | None:
    """Hours from a charge, 0 to 1, to full, rounded up to five minutes; None where nothing charges it."""
    if charge >= 1:
        return 0.0
    watts = wall_charging(x, cells_c).watts * x.station.charge_efficiency
    if watts <= 0:
        return None
    return math.ceil(hours_to_full(x.stored_wh, watts, charge) / UP_TO_H - 1e-9) * UP_TO_H


def how_to_fill(x: Part) -> str:
    """What a hand does for it to fill, and where its watts are set."""
    set_where = WHERE.get(x.plan.lives.get("charge_w", ""), "")
    how = (
        "Set the share kept for outages above its charge. Then it charges from the grid by itself"
        if charges_in_step(x)
        else "Plug in its charging cord"
    )
    return how + (f". Set its watts {set_where}." if set_where else ". Where its watts are set isn't entered yet.")
