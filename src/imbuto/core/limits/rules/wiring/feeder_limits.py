"""Limit 20: panels behind feeders. Planning aids from common practice; your local code and a licensed
electrician decide."""

from __future__ import annotations

from collections.abc import Iterator

from imbuto.core.basics.measures import length_text
from imbuto.core.basics.units import Leg, number_text
from imbuto.core.equipment.power_station import Station
from imbuto.core.equipment.wires import GOOD_DROP, MOST_DROP, drop_v, known_wire
from imbuto.core.home.circuits import SubPanel
from imbuto.core.limits.limit_registry import LimitCase, LimitRow, yes_no
from imbuto.core.limits.rules.power_limits import on_leg
from imbuto.core.limits.rules.switch_slot_limits import amps_held
from imbuto.core.plan.limit import Limit
from imbuto.core.plan.plan import Feed
from imbuto.core.plan.system import Part


def _feeders(c: LimitCase) -> Iterator[Limit]:
    """Each feeder that this source's amps run through: its breaker, its wire, its neutral, the volts it loses."""
    part, station = c.part, c.station
    for panel in part.home.panels.values():
        rows = [i for i, f in enumerate(c.now.fed) if _through(part, f.feed, panel)]
        if rows:
            yield from _feeder(c, station, panel, rows)


def _through(part: Part, feed: Feed, panel: SubPanel) -> bool:
    """Whether a fed circuit's amps run through the feeder of a panel: it lies behind it, and its device does not."""
    circuit = part.home.circuits.get(feed.circuit or "")
    device = part.plan.device_of(feed)
    if circuit is None or device is None or panel.id not in part.home.way_to(circuit.panel):
        return False
    return panel.id not in part.home.way_to(device.panel)


def _feeder(c: LimitCase, station: Station, panel: SubPanel, rows: list[int]) -> Iterator[Limit]:
    now, name = c.now, f"The feeder of {panel.name}"
    volts, european = station.leg_volts, station.leg_volts == 230
    held = amps_held(now, full_rating=european)
    counts = [len(f.legs) for f in now.fed]
    each, plain = {}, {}
    for leg in station.legs:
        share = on_leg(now, leg)[:, None]
        each[leg] = now.most(held * share * [[n] for n in counts], rows)
        plain[leg] = now.most(now.va / volts * share, rows)
    worst = max(each, key=lambda leg: each[leg])
    yield Limit(
        id=f"feeder:{panel.id}",
        family="feeder",
        title=f"Feeder of {panel.name}",
        unit="A",
        used=each[worst],
        limit=panel.feeder_a,
        ok=each[worst] <= panel.feeder_a,
        leg=worst if len(station.legs) > 1 else None,
        sentence=f"{name}: {number_text(each[worst])} of {panel.feeder_a:g} A"
        f"{'' if european else ', lasting loads counted 1.25 times'}.",
    )
    yield from _feeder_wire(panel, volts, plain)


def _feeder_wire(panel: SubPanel, volts: float, plain: dict[Leg, float]) -> Iterator[Limit]:
    """The feeder's wire and neutral.

    volts: of a leg
    plain: A on each leg, without the share for lasting loads
    """
    name, wire = f"The feeder of {panel.name}", known_wire(panel.wire)
    if wire is None:
        yield yes_no(
            f"feeder_wire:{panel.id}",
            "not_known_feeder",
            f"Wire of the feeder of {panel.name}",
            False,
            f"{name}: its wire isn't entered, so its rating and its losses aren't known.",
            "unknown",
        )
        return
    bears = wire.fixed_a or wire.amps
    yield Limit(
        id=f"feeder_wire:{panel.id}",
        family="feeder_wire",
        title=f"Wire of the feeder of {panel.name}",
        unit="A",
        severity="refuse",
        used=panel.feeder_a,
        limit=bears,
        ok=panel.feeder_a <= bears,
        counts=True,
        evidence="default",
        sentence=f"{name} has a {panel.feeder_a:g} A breaker before {wire.name}, which carries {bears:g} A"
        + ("." if panel.feeder_a <= bears else ". The wire could burn before the breaker opens."),
    )
    thin = known_wire(panel.neutral_wire) or wire
    carries = thin.fixed_a or thin.amps
    neutral = max(plain.values())
    yield Limit(
        id=f"feeder_neutral:{panel.id}",
        family="feeder_neutral",
        title=f"Feeder neutral, {panel.name}",
        unit="A",
        severity="refuse",
        used=neutral,
        limit=carries,
        ok=neutral <= carries,
        counts=True,
        evidence="default",
        sentence=f"{name}: its neutral carries up to {number_text(neutral)} A, "
        + ("the larger leg, as the other may be off" if len(plain) > 1 else "all of it on one leg")
        + f"; {thin.name} carries {carries:g} A.",
    )
    amps = max(plain.values())
    lost = drop_v(wire.ohm_per_km, panel.length_m, amps) / volts
    yield Limit(
        id=f"feeder_drop:{panel.id}",
        family="feeder_drop",
        title=f"Voltage drop to {panel.name}",
        unit="%",
        used=100 * lost,
        limit=100 * MOST_DROP,
        ok=lost <= MOST_DROP,
        severity="caution",
        evidence="default",
        sentence=f"{length_text(panel.length_m)} of {wire.name} lose {number_text(100 * lost)}% at "
        f"{number_text(amps)} A. {100 * GOOD_DROP:g}% is good, and {100 * MOST_DROP:g}% is the most.",
    )


def _right_panel(c: LimitCase) -> Iterator[Limit]:
    """A switch beside one panel cannot move the wires of another."""
    part, device = c.part, c.part.device
    if device is None:
        return
    home, whole = part.home, part.equipment.traits.whole_panel
    for feed in part.plan.feeds.values():
        circuit = home.circuits.get(feed.circuit or "")
        if circuit is None:
            continue
        there = circuit.panel == device.panel or (
            whole and (device.panel is None or device.panel in home.way_to(circuit.panel))
        )
        if not there:
            yield yes_no(
                f"panel:{feed.id}",
                "wrong_panel",
                f"{circuit.name}: another panel",
                False,
                f"{circuit.name} is in {home.panel_name(circuit.panel)}, and {part.equipment.name} is at "
                f"{home.panel_name(device.panel)}, which its wire doesn't reach. Set the device at that panel, "
                f"or take one "
                "ahead of the feeder.",
            )


ROWS = (
    LimitRow(
        number=20,
        page="panels",
        families=("feeder",),
        answers=("not_together", "larger_station"),
        check=_feeders,
    ),
    LimitRow(
        number=20,
        page="panels",
        families=("feeder_wire", "feeder_neutral", "feeder_drop", "not_known_feeder"),
        state="misfit",
        answers=(),
        check=None,
    ),
    LimitRow(
        number=20,
        page="panels",
        families=("wrong_panel",),
        state="misfit",
        answers=("at_its_panel",),
        check=_right_panel,
        each_device=True,
    ),
)
