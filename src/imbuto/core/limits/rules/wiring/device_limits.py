"""Limit 21: devices behind devices, whole panels, and neutrals of several sources.

Planning aids from common practice; your local code and a licensed electrician decide.
"""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.units import number_text
from imbuto.core.limits.instants import instants
from imbuto.core.limits.limit_registry import LimitCase, LimitRow, is_ticked, yes_no
from imbuto.core.limits.rules.power_limits import on_leg
from imbuto.core.limits.rules.switch_slot_limits import amps_held
from imbuto.core.limits.rules.wiring.shared_neutral_limits import neutral_pairs
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.plan import Device
from imbuto.core.plan.system import Part, ahead_of, circuits_beneath


def _devices(c: LimitCase) -> Iterator[Limit]:
    plan, part = c.part.whole, c.part
    at = {(d.panel, d.behind): d for d in reversed(plan.devices.values())}
    for device in part.plan.devices.values():
        yield from _bypassed(part, device)
        other = at.get((device.panel, device.behind))
        if other is not None and other.id != device.id and _both_whole(part, device, other):
            yield yes_no(
                f"same_place:{device.id}",
                "same_place",
                "Two devices in one place",
                False,
                f"Two devices disconnect the same panel from the grid at "
                f"{part.home.panel_name(device.panel)}. Each would "
                "connect its own source to it. Put one behind the other, or at another panel.",
            )
        if device.behind is not None:
            yield from _nested(c, device)
    yield from _all_on_upper(c)


def _both_whole(part: Part, one: Device, other: Device) -> bool:
    """Whether both put the very panel they stand at on their source, so that its bars would have two."""
    kinds = [part.equipments[d.id].traits for d in (one, other)]
    return all(t.in_panel for t in kinds)


def _bypassed(part: Part, device: Device) -> Iterator[Limit]:
    equipment = part.by_device[device.id]
    if device.bypassed:
        can = equipment.traits.bypass
        yield yes_no(
            f"bypassed:{device.id}",
            "bypassed",
            f"{equipment.name}: bypass",
            False,
            f"{equipment.name} is bypassed for service. The grid goes past it, and in an outage nothing behind it "
            f"has power."
            if can
            else f"{equipment.name} has no service bypass. While it is out for repair, nothing behind it has power.",
            "broken",
        )


def _nested(c: LimitCase, device: Device) -> Iterator[Limit]:
    """A device behind another: what is behind it may run on that one's source, through one place of it."""
    part = c.part
    up = part.whole.devices.get(device.behind or "")
    if up is None:
        return
    upper, lower = part.equipments[up.id], part.by_device[device.id]
    ids = {f.id for f in part.plan.feeds.values() if (d := part.plan.device_of(f)) is not None and d.id == device.id}
    rows = [i for i, f in enumerate(c.now.fed) if f.feed.id in ids]
    held = amps_held(c.now, full_rating=c.station.leg_volts == 230)
    used = (
        max(
            (
                c.now.most(held * on_leg(c.now, leg)[:, None] * [[len(f.legs)] for f in c.now.fed], rows)
                for leg in c.station.legs
            ),
            default=0.0,
        )
        if rows
        else 0.0
    )
    limit = upper.place_a
    if rows and limit:
        yield Limit(
            id=f"nested:{device.id}",
            family="nested",
            title=f"{lower.name} behind {upper.name}",
            unit="A",
            used=used,
            limit=limit,
            ok=used <= limit,
            sentence=f"Back on {upper.name}, what is behind {lower.name} draws up to {number_text(used)} of the "
            f"{limit:g} A its "
            "place there is rated for.",
        )
    if rows and not lower.automatic:
        yield yes_no(
            f"lever:{device.id}",
            "lever",
            f"{lower.name}: by hand",
            is_ticked(part, "lever"),
            f"Someone switches what is behind {lower.name} to {c.station.name}, and back to {upper.name} before "
            f"{c.station.name} is empty or drives off. If no one does, it stays where it is.",
            "caution",
            "lever",
        )
    charger = part.charge_circuit
    name = c.station.name
    if charger is not None and any(charger.id == k for k in _live_below(part, up)):
        yield yes_no(
            f"lower_charger:{device.id}",
            "lower_charger",
            f"Charger of {name}",
            is_ticked(part, "lower_charger"),
            f"{name} charges from {charger.name}, which {upper.name} powers in an outage. Keep its charger "
            f"off while the station of {upper.name} discharges. Otherwise one battery charges the "
            "other, and every conversion loses energy. Set this on both, and write both settings on one sheet.",
            "caution",
            "lower_charger",
        )


def _all_on_upper(c: LimitCase) -> Iterator[Limit]:
    """What hangs at devices behind this source's own falls back on it: all of that together."""
    part, plan = c.part, c.part.whole
    for x in part.line:
        key = x.source.id
        if x.waits or ahead_of(plan, key) != part.source.id or x.source.plugged_into:
            continue
        below = instants(x)
        used = c.now.most(c.now.va) + below.most(below.va)
        rated = c.station.rated_va
        yield Limit(
            id=f"nested_all:{key}",
            family="nested",
            title=f"Everything on {c.station.name}",
            unit="VA",
            used=used,
            limit=rated,
            ok=used <= rated,
            source=part.source.id,
            sentence=f"With {x.station.name} empty or away, {c.station.name} "
            f"powers everything: "
            f"{number_text(used)} of {number_text(rated)} VA.",
        )


def _live_below(part: Part, up: Device) -> set[str]:
    """The circuits another device of the plan feeds in an outage."""
    plan = part.whole
    return {
        f.circuit for f in plan.feeds.values() if f.circuit and (d := plan.device_of(f)) is not None and d.id == up.id
    }


def _live(c: LimitCase) -> Iterator[Limit]:
    """Behind gear ahead of a panel everything is live: what is not fed is a breaker that a named hand opens."""
    part = c.part
    beneath = circuits_beneath(part)
    if not beneath:
        return
    fed = {f.circuit for f in part.plan.feeds.values()}
    left = [part.home.circuits[k] for k in beneath if k not in fed]
    open_ = [x for x in left if part.plan.opened.get(x.id)]
    live = [x for x in left if x not in open_]
    if live and not part.equipment.sheds:
        names = ", ".join(x.name for x in live[:6]) + (f" and {len(live) - 6} more" if len(live) > 6 else "")
        yield yes_no(
            "live",
            "live",
            "Live but not in the plan",
            False,
            f"Everything behind {part.equipment.name} is live in an outage. {names}: add "
            f"{'it' if len(live) == 1 else 'them'} to the plan, or say who opens the breaker.",
            "broken",
        )
    if open_:
        hands = ", ".join(dict.fromkeys(part.plan.opened[x.id] for x in open_))
        names = ", ".join(x.name for x in open_[:6]) + (f" and {len(open_) - 6} more" if len(open_) > 6 else "")
        yield yes_no(
            "opened",
            "opened",
            "Breakers to open first",
            is_ticked(part, "opened"),
            f"{names}: {hands} opens {'its breaker' if len(open_) == 1 else 'their breakers'} before the source "
            "powers the panel. Gear that switches by itself doesn't wait, so either everything may start at once or "
            "these "
            "breakers stay open.",
            "caution",
            "opened",
        )


def _neutrals_apart(c: LimitCase) -> Iterator[Limit]:
    """Two circuits on one neutral, on two sources of the plan."""
    part, plan = c.part, c.part.whole
    by = {f.circuit: f for f in plan.feeds.values() if f.circuit}
    for a, b in neutral_pairs(part):
        one, other = by.get(a.id), by.get(b.id)
        if one is None or other is None or one.source == other.source or part.source is None:
            continue
        if part.source.id == min(one.source, other.source):
            yield yes_no(
                f"neutral_sources:{min(a.id, b.id)}",
                "neutral_sources",
                f"{a.name} with {b.name}",
                False,
                f"{a.name} and {b.name} share a neutral and are powered by two sources. These "
                "aren't in step, so their currents add up on one wire, which can overheat. Move both to one source.",
            )


ROWS = (
    LimitRow(
        number=21,
        page="devices",
        families=("same_place", "bypassed", "nested", "lower_charger", "lever"),
        state="misfit",
        answers=("not_together",),
        check=_devices,
    ),
    LimitRow(
        number=21,
        page="devices",
        families=("live", "opened"),
        state="misfit",
        answers=("feed_live",),
        check=_live,
        each_device=True,
    ),
    LimitRow(number=21, page="devices", families=("neutral_sources",), answers=(), check=_neutrals_apart),
)
