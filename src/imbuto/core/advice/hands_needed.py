"""The steps of a plan that need someone there, and what goes dark that one would need to see from away."""

from __future__ import annotations

from dataclasses import dataclass

from imbuto.core.basics.measures import mass_text
from imbuto.core.home.household import Household
from imbuto.core.plan.system import Part, Wiring


@dataclass(frozen=True, slots=True)
class HandStep:
    """A step that needs hands. stand_in: whether someone told by telephone or a card can do it."""

    title: str
    sentence: str
    stand_in: bool


def steps(part: Wiring) -> list[HandStep]:
    """What has to be done by hand in an outage of this plan."""
    found: list[HandStep] = []
    equipment, plan = part.equipment, part.plan
    station = part.station if isinstance(part, Part) else None
    if not equipment.traits.wired:
        found.append(
            HandStep(
                "Carry and plug in",
                "Set the station down, unplug each appliance from the wall and plug it into the station.",
                True,
            )
        )
    elif not equipment.automatic:
        charger = part.charge_circuit if isinstance(part, Part) else None
        if charger is not None and any(f.circuit == charger.id for f in plan.feeds.values()):
            circuit = charger.name
            text = (
                f"Its charger is plugged into {circuit}, which the station powers. Unplug the "
                "charger before you switch anything."
            )
            found.append(HandStep("Unplug the charger first", text, True))
        text = "Main or feeder first as the card says, then each switch slot by its number."
        found.append(HandStep("Switch to backup and back", text, True))
    if any(f.stance == "turns" for f in plan.feeds.values()) and (equipment.traits.levers or not equipment.automatic):
        found.append(
            HandStep("Take turns", "Switch the circuits that take turns at their times, including at night.", True)
        )
    if station is not None and station.restart == "by_hand":
        found.append(
            HandStep(
                "Restart after it ran out",
                f"{station.name} doesn't restart by itself. Someone has to press its button.",
                True,
            )
        )
    made = part.generator if isinstance(part, Part) else None
    if made is not None and made.start == "by_hand":
        text = (
            f"{made.name} has to be set up, started, refueled when cold, and stopped by hand, outdoors in any weather."
        )
        found.append(HandStep("Run the generator", text, False))
    if any(f.by_charge for f in plan.feeds.values()) and not equipment.sheds:
        text = "Someone awake and at home has to read the gauge and switch the circuits that depend on the charge."
        found.append(HandStep("Switch by battery charge", text, True))
    if station is not None and station.weight_kg > 23:
        found.append(
            HandStep(
                "Move the station",
                f"It weighs {mass_text(station.weight_kg)}. Use two people and a cart. Never carry it alone, and "
                "never up stairs alone.",
                False,
            )
        )
    return found


def nobody(part: Wiring, household: Household) -> str:
    """Why the hands a plan needs may be missing; empty where someone at home can switch."""
    if not steps(part):
        return ""
    people = list(household.people.values())
    if not people:
        return "No one is entered yet. Enter who can do these steps."
    able = [p for p in people if p.can_switch and p.where == "home"]
    if able:
        return ""
    away = [p for p in people if p.can_switch]
    if away:
        return (
            f"Only {away[0].name} can switch, and isn't at home. An automatic switch or someone else who has practiced "
            f"would help."
        )
    return "No one at home can do these steps. An automatic switch or someone who has practiced would help."


def blind_spots(part: Wiring) -> list[str]:
    """Network gear that is not kept on: remote view and settings go dark with it."""
    kept = {i.load.id for i in part.fed if i.feed.stance == "keep_on"}
    gear = [x for x in part.home.loads.values() if x.purpose == "communications" and x.use.kind == "always"]
    found = []
    for load in gear:
        if load.id not in kept:
            circuit = part.home.circuits.get(load.circuit or "")
            where = f" ({circuit.name})" if circuit else ""
            found.append(
                f"{load.name}{where} isn't kept on, so you can't read or control anything remotely through it."
            )
    return found
