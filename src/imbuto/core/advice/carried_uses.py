"""Stations that are carried away for other uses: weight, price, energy, and what stays at home."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from imbuto.core.basics.measures import mass_text
from imbuto.core.basics.units import kwh_text, number_text
from imbuto.core.limits.rules.handling_limits import ONE_PERSON_KG
from imbuto.core.plan.entered.other_uses import OtherUse
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.system import Part


@dataclass(frozen=True, slots=True, kw_only=True)
class CarriedUse:
    """One use, worked out.

    kg: of all that goes along; piece_kg: of its heaviest piece; 0 where unlisted
    stored_wh: on the label, of what goes along
    price: of it, of what the plan still buys, in the home's currency
    a_year: what it spares, as it was entered; None for no money
    says: all of it in words; problem: why it can't be carried, empty where it can
    """

    use: OtherUse
    station: str
    kg: float
    piece_kg: float
    stored_wh: float
    price: float
    a_year: float | None
    says: str
    problem: str


def carried_uses(plan: Plan, parts: Sequence[Part], currency: str) -> Iterator[CarriedUse]:
    """Every other use of a plan whose station is in it."""
    by_source = {x.source.id: x for x in parts}
    for use in plan.other_uses.values():
        if (part := by_source.get(use.source)) is not None:
            yield _carried(use, part, currency)


def _carried(use: OtherUse, part: Part, currency: str) -> CarriedUse:
    unit = part.unit
    kg = unit.weight_kg + use.modules * unit.module_weight_kg
    piece = max(unit.weight_kg, unit.module_weight_kg if use.modules else 0.0)
    price = 0.0 if part.source.owned else float(unit.price + use.modules * unit.module_price)
    a_year = None if use.instead is None else use.instead * use.days
    stored = unit.stored_wh(use.modules)
    return CarriedUse(
        use=use,
        station=unit.name,
        kg=kg,
        piece_kg=piece,
        stored_wh=stored,
        price=price,
        a_year=a_year,
        says=" ".join(_says(use, part, stored, kg, piece, a_year, currency)),
        problem=_problem(use, part),
    )


def _says(
    use: OtherUse, part: Part, stored: float, kg: float, piece: float, a_year: float | None, currency: str
) -> Iterator[str]:
    modules = f" with {use.modules} {part.unit.module_name}" if use.modules else ""
    weight = f", {mass_text(kg)} in all" if kg else ", weight not listed"
    yield f"{use.days:g} days per year: {part.unit.name}{modules}, {kwh_text(stored)}{weight}."
    if piece > ONE_PERSON_KG and not part.unit.vehicle:
        yield f"One piece weighs {mass_text(piece)}: two people lift it."
    if a_year is None:
        yield "No money is counted for it."
    else:
        yield f"{number_text(a_year)} {currency} per year, as you entered it. It isn't part of the saving."
    if use.days:
        yield f"An outage on one of those days finds {part.unit.name} away."


def _problem(use: OtherUse, part: Part) -> str:
    if use.modules > part.source.modules:
        return f"The plan has {part.source.modules} {part.unit.module_name or 'modules'} for it, not {use.modules}."
    fixed = next((d.equipment.name for d in part.ports if d.device is not None and not d.equipment.traits.inlet), "")
    return f"{part.unit.name} is wired to {fixed}, so it can't be carried away." if fixed else ""
