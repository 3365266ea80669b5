"""A source as one station: units linked side by side or as a pair for both legs, and modules of another kind; limit 12.

What may be joined is what the maker lists for exactly these parts. Anything else is refused, never reckoned.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.equipment.power_station import Module, Station, dc_outlets
from imbuto.core.plan.limit import Limit, Severity
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.sources import Source


def combined_station(station: Station, source: Source, catalogue: Catalogue) -> Station:
    """The station a source is as a whole: its units added up, with modules of the kind fitted."""
    module = catalogue.modules.get(source.module or "")
    if module is not None:
        station = replace(
            station,
            module_name=module.name,
            module_wh=module.wh,
            module_draw_w=module.draw_w,
            module_weight_kg=module.weight_kg,
            module_price=module.price + (module.adapter_price if _adapted(station, module) else 0),
        )
    station = station.as_built()
    n = source.units
    pair = source.link == "coupler" and n > 1
    if station.output_by_modules:
        # Each unit gives what its own modules allow; an odd module is the first unit's.
        own = [source.modules // n + (i < source.modules % n) for i in range(n)]
        more = [station.continuous_with(m) for m in own]
        mean = (min(more) if pair else sum(more) / n) / station.continuous_w
        station = replace(
            station,
            continuous_w=station.continuous_w * mean,
            rated_va=station.rated_va * mean,
            leg_a=station.leg_a * mean,
            output_by_modules="",
        )
    if station.on_grid_by_modules:
        own = [source.modules // n + (i < source.modules % n) for i in range(n)]
        beside = [station.on_grid_with(m) for m in own]
        mean_w = min(beside) if pair else sum(beside) / n
        station = replace(station, on_grid_w=mean_w, on_grid_by_modules="")
    if n == 1:
        return station
    share = n if pair else n * station.parallel_share
    legs = 1 if pair else share  # a pair gives each leg to one unit
    extra = station.coupler_price if pair else (n - 1) * station.link_price
    return replace(
        station,
        name=f"{n} × {station.name}",
        volts="120/240" if pair else station.volts,
        nominal_wh=n * station.nominal_wh,
        continuous_w=share * station.continuous_w,
        rated_va=share * station.rated_va,
        on_grid_w=share * station.on_grid_w,
        surge_va=share * station.surge_va,
        leg_a=legs * station.leg_a,
        leg_surge_va=legs * station.leg_surge_va,
        outlets=n * station.outlets,
        idle_w=n * station.own_idle_w,
        input_a=n * station.input_a,
        charge_w=n * station.charge_w,
        input_ceiling_w=n * station.input_ceiling_w,
        dc_port_a=n * station.dc_port_a,
        dc_ports="; ".join(f"{v:g}: {n * a:g}" for v, a in dc_outlets(station.dc_ports).items()),
        solar_inputs=min(n * station.solar_inputs, 12),
        solar_each=_renumbered(station, n),
        max_modules=n * station.max_modules,
        price=n * station.price + extra,
        work_h=n * station.work_h,
    )


# How a figure of one unit becomes that of n linked units. Every field is in one of these.
ADDED = frozenset(
    [
        "nominal_wh",
        "continuous_w",
        "rated_va",
        "on_grid_w",
        "surge_va",
        "leg_a",
        "leg_surge_va",
        "outlets",
        "idle_w",
        "input_a",
        "charge_w",
        "input_ceiling_w",
        "dc_port_a",
        "dc_ports",
        "solar_inputs",
        "solar_each",
        "max_modules",
        "price",
        "work_h",
    ]
)
# Ratings of one thing that is not there n times over, what is true of each unit by itself, and words.
KEPT = frozenset(
    [
        "id",
        "module_name",
        "module_wh",
        "module_draw_w",
        "surge_s",
        "outlet_a",
        "inlet_outlet_a",
        "efficiency",
        "charge_w_per_module",
        "charge_efficiency",
        "charges_while_supplying",
        "solar_min_v",
        "solar_max_v",
        "solar_max_a",
        "solar_max_isc_a",
        "solar_max_w",
        "dc_port_v",
        "dc_efficiency",
        "forms_grid",
        "transfer_ms",
        "passes_on",
        "auto_off_below_w",
        "auto_off_after_h",
        "discharge_min_c",
        "discharge_max_c",
        "charge_min_c",
        "charge_max_c",
        "heater",
        "restart",
        "bonded_neutral",
        "chemistry",
        "cycle_life",
        "warranty_years",
        "noise_idle_db",
        "noise_load_db",
        "weight_kg",
        "module_weight_kg",
        "wheels",
        "listed",
        "repairable",
        "module_price",
        "currency",
        "connector",
        "battery_v",
        "generation",
        "parts",
        "promised",
        "vehicle",
        "built_low_v",
        "built_battery_a",
        "built_cable_a",
        "built_fuse_a",
    ]
)
# What the link itself states, or what it settles.
LINKED = frozenset(
    [
        "name",
        "volts",
        "output_by_modules",
        "on_grid_by_modules",
        "settings",
        "parallel_most",
        "link_price",
        "parallel_share",
        "parallel_balances",
        "pair_goes_on",
        "coupler",
        "coupler_price",
    ]
)


def _renumbered(station: Station, n: int) -> str:
    """Inputs that differ from the others, for each of n units: the second unit's first input follows the first unit's
    last."""
    rows = [x.strip() for x in station.solar_each.split(";") if x.strip()]
    found = []
    for unit in range(n):
        for row in rows:
            number, _, figures = row.partition(":")
            found.append(f"{int(number) + unit * station.solar_inputs}:{figures}")
    return "; ".join(found)


def _adapted(station: Station, module: Module) -> bool:
    """Whether the maker has an adapter from exactly this module to exactly this station."""
    return station.id in [x.strip() for x in module.adapters.split(";")]


def link_limits(plan: Plan, catalogue: Catalogue) -> Iterator[Limit]:
    """Limit 12, and of 6 what makes a pair: units and modules that may be joined. Nothing where one stands alone."""
    source = plan.source
    if source is None:
        return
    station = catalogue.stations[source.station]
    if source.units > 1:
        yield _units(station, source)
        yield _yes_no(
            "equal_charge",
            "Before linking",
            "equal_charge" in plan.ticks,
            severity="caution",
            tick="equal_charge",
            sentence=f"Bring all {source.units} units to the same charge and firmware before linking them, with "
            f"outputs off.",
        )
    module = catalogue.modules.get(source.module or "")
    if module is not None and source.modules:
        yield from _module(station, module, plan)


def _units(station: Station, source: Source) -> Limit:
    if source.link == "coupler":
        ok = source.units == 2 and bool(station.coupler) and station.volts == "120"
        rule = (
            f"Two {station.name} run together through the manufacturer's {station.coupler}: one supplies each leg."
            if ok
            else (
                f"{source.units} {station.name} as a pair for 240 V: its manufacturer lists no coupler for that. "
                "Two inverters that aren't synchronized destroy each other, so Imbuto never plans such wiring."
            )
        )
    else:
        ok = source.units <= station.parallel_most
        rule = (
            f"{source.units} × {station.name} on the manufacturer's link supply {100 * station.parallel_share:.0f}% of "
            "what they supply one by one."
            if ok
            else f"{station.name} can't run in parallel with {source.units - 1} more: its manufacturer lists "
            + (f"{station.parallel_most} at most." if station.parallel_most > 1 else "no link.")
        )
    return _yes_no("units", "Units linked", ok, severity="refuse", sentence=rule)


def _module(station: Station, module: Module, plan: Plan) -> Iterator[Limit]:
    """Voltage and chemistry are never bridged; a connector only by the maker's adapter for exactly these two."""
    pair = f"{module.name} on {station.name}"
    if module.battery_v != station.battery_v or not module.battery_v:
        volts = f"{module.battery_v:g} V on {station.battery_v:g} V"
        yield _yes_no(
            "module_volts", "Battery voltage", False, sentence=f"{pair}: {volts} must never be connected: it burns."
        )
    elif module.chemistry != station.chemistry:
        rule = (
            f"{pair}: {module.chemistry} next to {station.chemistry} charges to a different voltage, so never "
            "connect it."
        )
        yield _yes_no("module_kind", "Battery chemistry", False, sentence=rule)
    else:
        plugs, adapted = module.connector == station.connector != "", _adapted(station, module)
        same = plugs and module.generation == station.generation
        if same or adapted:
            rule = f"{pair}: " + (
                "the same plug and generation." if same else "with the manufacturer's adapter for these two."
            )
        else:
            what = "plug" if not plugs else "generation, so the plug fits but the data cable doesn't"
            rule = f"{pair}: another {what}, and the manufacturer has no adapter for these two."
        yield _yes_no("module_fits", "Module and station", same or adapted, sentence=rule)
        yield _yes_no(
            "module_charge",
            "Before adding modules",
            "module_charge" in plan.ticks,
            severity="caution",
            tick="module_charge",
            sentence="Bring the module and the station to the same charge before you connect them.",
        )


def _yes_no(ident: str, title: str, ok: bool, *, sentence: str, severity: Severity = "refuse", tick: str = "") -> Limit:
    return Limit(
        id=ident, family="linking", title=title, kind="yes_no", severity=severity, ok=ok, tick=tick, sentence=sentence
    )
