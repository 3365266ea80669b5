"""Plans as older plan files have them, brought to what they say today."""

from __future__ import annotations

from typing import Any

CORDS = "cords"
MOVED = ("transfer", "inlet_cord", "charge_w", "charge_circuit")  # what version 1 kept on the plan itself


def from_first(raw: dict[str, Any]) -> dict[str, Any]:
    """A plan document of version 1, which had one transfer device and one charger: both get an entry of their own.

    What is no plan of version 1 comes back as it is, and so does what nobody knows.
    """
    if not any(key in raw for key in MOVED):
        return raw
    plan = {k: v for k, v in raw.items() if k not in MOVED}
    sources = plan.get("sources")
    first = next(iter(sources), "main") if isinstance(sources, dict) else "main"
    equipment = raw.get("transfer", CORDS)
    if equipment != CORDS:
        device = {"id": "main", "equipment": equipment, "source": first, "cord": raw.get("inlet_cord")}
        plan["devices"] = {"main": device}
    charging = {k: raw[k] for k in ("charge_w", "charge_circuit") if raw.get(k) is not None}
    if charging and isinstance(sources, dict) and isinstance(sources.get(first), dict):
        plan["sources"] = sources | {first: sources[first] | charging}
    return plan
