"""What a plan still needs to know: figures that nobody lists, by how much the verdict hangs on each."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from imbuto.core.basics.units import number_text
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.equipment.power_station import Station
from imbuto.core.limits.all_limits import fit
from imbuto.core.limits.limit_registry import state_of
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.system import Part, part_after_move

BLIND = 2.0  # weight of what cannot be judged at all until it is known
TURNS = 3.0  # of what may turn the verdict
IDLE_WEIGHT = 0.5  # of an own draw that nobody lists: it moves the hours, never a limit


@dataclass(frozen=True, slots=True)
class OpenQuestion:
    """One thing to find out.

    where: where it stands
    weight: how much the verdict hangs on it, the most first
    """

    id: str
    title: str
    where: str
    sentence: str
    weight: float


# Figures of a station that its maker may leave out: what it could be, and what it decides.
ASKED: tuple[tuple[str, str, Callable[[Station], bool], dict[str, object], str], ...] = (
    (
        "surge_s",
        "Surge duration",
        lambda s: s.surge_s is None,
        {"surge_s": 3.0},
        "Until you know it, Imbuto compares a start with the continuous rating.",
    ),
    (
        "transfer_ms",
        "Transfer time",
        lambda s: s.transfer_ms is None,
        {"transfer_ms": 10.0},
        "Until you know it, put a small UPS on everything that must not blink.",
    ),
    (
        "input_a",
        "AC input (A)",
        lambda s: not s.input_a,
        {"input_a": 15.0},
        "Until you know it, Imbuto can't tell how much it passes on while it charges.",
    ),
    (
        "outlet_a",
        "Outlet breaker",
        lambda s: not s.outlet_a and s.outlets > 0,
        {"outlet_a": 15.0},
        "Until you know it, Imbuto assumes a careful value.",
    ),
    (
        "leg_surge_va",
        "Surge rating",
        lambda s: not s.leg_surge_va or not s.surge_va,
        {"surge_va": 12_000.0, "leg_surge_va": 12_000.0, "surge_s": 3.0},
        "Until you know this, Imbuto compares a start with its continuous rating.",
    ),
    (
        "inlet_outlet_a",
        "Large outlet's breaker",
        lambda s: not s.inlet_outlet_a,
        {"inlet_outlet_a": 30.0},
        "Until you know it, Imbuto can't tell what protects an inlet and its cord.",
    ),
    (
        "solar_max_isc_a",
        "Solar input short-circuit limit (A)",
        lambda s: s.solar_inputs > 0 and not s.solar_max_isc_a,
        {"solar_max_isc_a": 60.0},
        "Until you know it, Imbuto uses the running amps.",
    ),
)


def unknowns(now: Part, outage: Outage, catalogue: Catalogue, limits: list[Limit]) -> list[OpenQuestion]:
    """Everything one source of a plan leaves open, what may turn the verdict first. limits: as they are now."""
    found = [*_of_the_station(now, outage, catalogue, limits), *_of_limits(now, limits)]
    return sorted(found, key=lambda u: (-u.weight, u.title))


def _of_the_station(now: Part, outage: Outage, catalogue: Catalogue, before: list[Limit]) -> Iterator[OpenQuestion]:
    unit = catalogue.stations[now.source.station]
    if unit.idle_w is None:
        yield OpenQuestion(
            f"{unit.id}.idle_w",
            f"{unit.name}: its own draw",
            "equipment",
            f"This isn't listed, so Imbuto assumes {number_text(unit.own_idle_w)} W. Enter it from the label.",
            IDLE_WEIGHT,
        )
    for name, title, missing, could, why in ASKED:
        if not missing(unit):
            continue
        tried = replace(unit, **could)  # type: ignore[arg-type]
        kit = replace(catalogue, stations=catalogue.stations | {unit.id: tried})
        after = fit(part_after_move(now, now.home, now.plan, kit), outage)
        weight = _weight(before, after)
        if weight > 0:
            turns = " The result may depend on it." if weight >= TURNS else ""
            yield OpenQuestion(
                f"{unit.id}.{name}", f"{unit.name}: {title[:1].lower()}{title[1:]}", "equipment", why + turns, weight
            )


def _weight(before: list[Limit], after: list[Limit]) -> float:
    """How much two lists of limits differ: whether one turns, else the largest change of room left, as a share."""
    was, now = _stops(before), _stops(after)
    if was != now:
        return TURNS
    old, new = _by_id(before), _by_id(after)
    gone = [x for x in old.values() if x.severity == "unknown" and (x.id not in new or new[x.id].ok)]
    shifts = [
        abs(a - b) / 100
        for k in old.keys() & new.keys()
        if (a := old[k].margin_percent) is not None and (b := new[k].margin_percent) is not None
    ]
    settled = [k for k in old if not old[k].ok and (k not in new or new[k].ok)]
    return BLIND * bool(gone) + max([0.5 * bool(settled), *(min(s, 1.0) for s in shifts)], default=0.0)


def _stops(limits: list[Limit]) -> str:
    """How a plan of these limits is called, ``may`` where it may trip, empty where it fits."""
    worst = max((x for x in limits if x.stops), key=lambda x: x.excess, default=None)
    if worst is None:
        return "may" if any(x.may for x in limits) else ""
    return state_of(worst)


def _by_id(limits: list[Limit]) -> dict[str, Limit]:
    return {x.id: x for x in limits}


def _of_limits(now: Part, limits: list[Limit]) -> Iterator[OpenQuestion]:
    """What limits say they cannot judge: circuits nobody traced, wires nobody entered."""
    for x in limits:
        if x.severity == "unknown" and not x.id.startswith(("inlet_breaker", "outlet_breaker")):
            yield OpenQuestion(x.id, x.title, "house", x.sentence, BLIND)
    names = {f.load.id: f.load for f in now.fed if f.load.start_va is None and f.load.start_extra_va > 0}
    hardest = max(names.values(), key=lambda load: load.start_extra_va, default=None)
    start = next((x for x in limits if x.id == "start:total"), None)
    if hardest is not None and start is not None and start.limit:
        share = hardest.start_extra_va / start.limit
        if share > 0.2:
            yield OpenQuestion(
                f"start.{hardest.id}",
                f"{hardest.name}: its start",
                "house",
                f"{hardest.start_extra_va / 1000:.1f} kVA is assumed for this kind, within "
                f"{start.limit / 1000:.1f}. Enter the label's figure, or test a start.",
                share,
            )
