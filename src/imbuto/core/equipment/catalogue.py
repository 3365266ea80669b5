"""Equipment as data: power stations with their modules, and transfer equipment. All shipped entries are made up."""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal
from functools import lru_cache
from math import log
from typing import Annotated, Literal

from annotated_types import Interval, Len

from imbuto.core.basics.tables import rows
from imbuto.core.basics.units import (
    Amps,
    Celsius,
    Count,
    Ident,
    Leg,
    Name,
    RatedA,
    RatedVa,
    Text,
    VoltAmps,
    Volts,
    WattHours,
    Watts,
)

OutputVolts = Literal["120", "120/240", "230"]
Restart = Literal["by_itself", "by_hand"]
Fuel = Literal["petrol", "propane", "diesel"]
TransferKind = Literal[
    "cords",
    "manual_switch",
    "interlock",
    "automatic_panel",
    "relay_panel",
    "grid_parallel",
    "vehicle",
    "inverter_bypass",
]
IN_PANEL: tuple[TransferKind, ...] = ("interlock", "relay_panel")  # circuits stay on the legs of their own panel
Money = Annotated[Decimal, Interval(ge=0, le=1_000_000)]
Efficiency = Annotated[float, Interval(ge=0.3, le=1)]

DEFAULT_EFFICIENCY = 0.94  # inverter conversion at load, idle not in it; planning default
DEFAULT_IDLE_W = 15.0  # stands in for a station not chosen yet; planning default
TAPER_FROM, TAPER_END = 0.90, 0.20  # full power to 90 % charge, falling to 20 % of it at 100 %; planning default
MOST_UNITS = 6
MODULE_DRAW_W = 3.0  # electronics of one expansion module; planning default


@dataclass(frozen=True, slots=True, kw_only=True)
class Station:
    """A power station.

    volts: of the output; nominal_wh: stored on the label, without modules; rated_va: VA it can carry for long;
    leg_a: A on one leg at leg volts (the whole output where there is one leg); surge_s: how long the surge holds,
    None when unlisted (then only continuous counts); idle_w: own draw with the output on, load 0;
    module_wh: what one expansion module adds; inlet_outlet_a: the large
    outlet that feeds an inlet; efficiency: AC out over DC in, idle not in it; charge_w: from the wall, AC; input_a: of its
    AC input, what may pass through and charge together, 0 where it is unlisted; restart:
    whether
    the output returns by itself after a recharge; auto_off_below_w, auto_off_after_h: when it switches its output
    off to
    save itself; transfer_ms: to take over when the grid fails, None when unlisted; price, module_price: in the
    currency; parallel_most: units its maker lets stand side by side on its own link; coupler: the maker's own, that holds
    two of them in step for 120/240 V, empty for none; connector, battery_v, generation: what a module has to match;
    vehicle: it drives, and keeps what the drive needs.
    """

    id: Ident
    name: Name
    volts: OutputVolts
    nominal_wh: Annotated[float, Interval(ge=10, le=200_000)]
    module_name: Text = ""
    module_wh: WattHours = 0
    max_modules: Annotated[int, Interval(ge=0, le=20)] = 0
    module_draw_w: Watts = MODULE_DRAW_W
    continuous_w: Annotated[float, Interval(ge=10, le=50_000)]
    rated_va: RatedVa
    surge_va: RatedVa
    surge_s: Annotated[float, Interval(ge=0, le=60)] | None = None
    leg_a: RatedA
    leg_surge_va: RatedVa
    outlets: Count = 0
    outlet_a: Amps = 0
    inlet_outlet_a: Amps = 0
    efficiency: Efficiency = DEFAULT_EFFICIENCY
    idle_w: Watts
    input_a: Amps = 0
    charge_w: Watts = 0
    charge_w_per_module: Watts = 0
    charge_efficiency: Efficiency = 0.92
    charges_while_supplying: bool = True
    solar_inputs: Annotated[int, Interval(ge=0, le=12)] = 0
    solar_min_v: Volts = 0
    solar_max_v: Volts = 0
    solar_max_a: Amps = 0
    solar_max_isc_a: Amps = 0
    solar_max_w: Watts = 0
    dc_port_v: Volts = 0
    dc_port_a: Amps = 0
    transfer_ms: Annotated[float, Interval(ge=0, le=60_000)] | None = None
    auto_off_below_w: Watts = 0
    auto_off_after_h: Annotated[float, Interval(ge=0, le=48)] = 0
    discharge_min_c: Celsius = -10
    discharge_max_c: Celsius = 45
    charge_min_c: Celsius = 0
    charge_max_c: Celsius = 45
    heater: bool = False
    restart: Restart = "by_hand"
    bonded_neutral: bool = False
    chemistry: Text = "LFP"
    cycle_life: Annotated[int, Interval(ge=0, le=50_000)] = 0
    warranty_years: Annotated[float, Interval(ge=0, le=40)] = 0
    noise_idle_db: Annotated[float, Interval(ge=0, le=120)] = 0
    noise_load_db: Annotated[float, Interval(ge=0, le=120)] = 0
    weight_kg: Annotated[float, Interval(ge=0, le=2_000)] = 0
    module_weight_kg: Annotated[float, Interval(ge=0, le=2_000)] = 0
    wheels: bool = False
    listed: Text = ""
    repairable: Text = ""
    price: Money = Decimal(0)
    module_price: Money = Decimal(0)
    currency: Annotated[str, Len(3, 3)] = "USD"
    parallel_most: Annotated[int, Interval(ge=1, le=MOST_UNITS)] = 1
    link_price: Money = Decimal(0)
    coupler: Text = ""
    coupler_price: Money = Decimal(0)
    connector: Text = ""
    battery_v: Volts = 0
    generation: Annotated[int, Interval(ge=0, le=100)] = 0
    vehicle: bool = False

    @property
    def legs(self) -> tuple[Leg, ...]:
        """The legs its output has."""
        return ("A", "B") if self.volts == "120/240" else ("A",)

    @property
    def leg_volts(self) -> float:
        """Leg-to-neutral volts of the output."""
        return 230.0 if self.volts == "230" else 120.0

    def refill_h(self, modules: int, start: float = 0.0) -> float | None:
        """Hours from the wall to full, from a charge of at most 90 %: full power to 90 %, then falling to a fifth of it.

        None where its charger is unlisted.
        """
        watts = self.charge_efficiency * (self.charge_w + modules * self.charge_w_per_module)
        if watts <= 0:
            return None
        taper = (1 - TAPER_FROM) * log(1 / TAPER_END) / (1 - TAPER_END)
        return (self.nominal_wh + modules * self.module_wh) * (TAPER_FROM - start + taper) / watts

    @property
    def surge_counts(self) -> bool:
        """A surge shorter than 1 s, or of unlisted length, counts as continuous only."""
        return self.surge_s is not None and self.surge_s >= 1


@dataclass(frozen=True, slots=True, kw_only=True)
class Module:
    """An expansion module, to be matched with a station that is not its own.

    wh: it stores; battery_v, chemistry, connector, generation: what has to match; adapters: ids of the stations its maker
    has an adapter cable for, separated by semicolons; draw_w: of its electronics.
    """

    id: Ident
    name: Name
    wh: Annotated[float, Interval(ge=10, le=100_000)]
    battery_v: Volts = 0
    chemistry: Text = "LFP"
    connector: Text = ""
    generation: Annotated[int, Interval(ge=0, le=100)] = 0
    draw_w: Watts = MODULE_DRAW_W
    weight_kg: Annotated[float, Interval(ge=0, le=2_000)] = 0
    adapters: Text = ""
    adapter_price: Money = Decimal(0)
    price: Money = Decimal(0)
    currency: Annotated[str, Len(3, 3)] = "USD"


@dataclass(frozen=True, slots=True, kw_only=True)
class TransferEquipment:
    """What joins a source to the house.

    place_legs: the leg each place is wired to, in order, when the source has two; place_a: the places' rating;
    place_breaker_a: of the breaker each place has of its own, 0 where it has none;
    inlet_a: of its inlet and cord; switched_neutral: whether it switches the neutral too; transfer_ms: to take over by itself, None when
    unlisted or by hand; sheds: can drop circuits by itself; tops_up: adds from the grid while it is there; overload_*:
    what happens then, without and with the grid; electrician, permit: whether it wants one; checklist: what to look at
    before buying, separated by semicolons.
    """

    id: Ident
    name: Name
    kind: TransferKind
    volts: OutputVolts | Literal["any"] = "any"
    places: Count = 0
    place_legs: Text = ""
    place_a: Amps = 0
    place_breaker_a: Amps = 0
    inlet_a: Amps = 0
    automatic: bool = False
    switched_neutral: bool = False
    transfer_ms: Annotated[float, Interval(ge=0, le=60_000)] | None = None
    sheds: bool = False
    tops_up: bool = False
    overload_off_grid: Text = ""
    overload_on_grid: Text = ""
    electrician: bool = True
    permit: bool = True
    checklist: Text = ""
    price: Money = Decimal(0)
    currency: Annotated[str, Len(3, 3)] = "USD"
    note: Text = ""

    @property
    def in_panel(self) -> bool:
        """Whether circuits stay in their own panel, and on its legs."""
        return self.kind in IN_PANEL

    def leg_of_place(self, place: int) -> Leg:
        """The leg a place is wired to, counted from 1."""
        legs = self.place_legs or "A"
        return "B" if legs[(place - 1) % len(legs)] == "B" else "A"


@dataclass(frozen=True, slots=True, kw_only=True)
class Panel:
    """A solar panel, as its label and data sheet say, at 1,000 W/m² and a cell of 25 °C.

    w: rated DC; voc_v, vmp_v: V with nothing connected, and at full power; isc_a, imp_a: A short-circuited, and at full
    power; voc_percent_c: change of the open voltage, % per °C (negative), None where it is not listed; vmp_percent_c,
    power_percent_c: likewise, planning defaults; noct_c: of the cell at 800 W/m² and 20 °C air; max_v: most V of a string
    it may stand in; portable: folded, to be set out; weatherproof: may stay out in rain.
    """

    id: Ident
    name: Name
    w: Annotated[float, Interval(ge=1, le=2_000)]
    voc_v: Annotated[float, Interval(ge=1, le=500)]
    vmp_v: Annotated[float, Interval(ge=1, le=500)]
    isc_a: Annotated[float, Interval(ge=0.1, le=100)]
    imp_a: Annotated[float, Interval(ge=0.1, le=100)]
    voc_percent_c: Annotated[float, Interval(ge=-1, le=0)] | None = None
    vmp_percent_c: Annotated[float, Interval(ge=-1, le=0)] = -0.36
    power_percent_c: Annotated[float, Interval(ge=-1, le=0)] = -0.38
    noct_c: Celsius = 45
    max_v: Annotated[float, Interval(ge=10, le=1_500)] = 600
    portable: bool = False
    weatherproof: bool = True
    weight_kg: Annotated[float, Interval(ge=0, le=200)] = 0
    length_m: Annotated[float, Interval(ge=0, le=10)] = 0
    width_m: Annotated[float, Interval(ge=0, le=10)] = 0
    price: Money = Decimal(0)
    currency: Annotated[str, Len(3, 3)] = "USD"


@dataclass(frozen=True, slots=True, kw_only=True)
class Generator:
    """An engine with an outlet.

    volts: of the output; running_w: it carries for long, at sea level; rated_va: likewise in VA, 0 where its label gives W alone;
    surge_w: for a start; fuel: what it burns; half_l_h,
    full_l_h: l/h at half and full running W; tank_l: its own tank; start: whether it starts
    by itself when called; plug, outlet_a: of its large outlet; bonded_neutral: joined to its frame; noise_db: at 7 m.
    """

    id: Ident
    name: Name
    volts: OutputVolts = "120"
    running_w: Annotated[float, Interval(ge=50, le=50_000)]
    rated_va: VoltAmps = 0
    surge_w: Watts = 0
    fuel: Fuel = "petrol"
    half_l_h: Annotated[float, Interval(ge=0.01, le=50)]
    full_l_h: Annotated[float, Interval(ge=0.01, le=50)]
    tank_l: Annotated[float, Interval(ge=0, le=1_000)] = 0
    start: Restart = "by_hand"
    plug: Text = ""
    outlet_a: Amps = 0
    bonded_neutral: bool = False
    noise_db: Annotated[float, Interval(ge=0, le=120)] = 0
    weight_kg: Annotated[float, Interval(ge=0, le=2_000)] = 0
    price: Money = Decimal(0)
    currency: Annotated[str, Len(3, 3)] = "USD"


@dataclass(frozen=True, slots=True, kw_only=True)
class Catalogue:
    """Equipment by id. A home's own entries stand before the shipped ones."""

    stations: dict[str, Station] = field(default_factory=dict)
    transfer: dict[str, TransferEquipment] = field(default_factory=dict)
    panels: dict[str, Panel] = field(default_factory=dict)
    modules: dict[str, Module] = field(default_factory=dict)
    generators: dict[str, Generator] = field(default_factory=dict)

    def over(self, other: Catalogue) -> Catalogue:
        """This catalogue's entries, with the other's where this has none."""
        return Catalogue(
            stations=other.stations | self.stations,
            transfer=other.transfer | self.transfer,
            panels=other.panels | self.panels,
            modules=other.modules | self.modules,
            generators=other.generators | self.generators,
        )


@lru_cache(maxsize=1)
def shipped() -> Catalogue:
    """The made-up equipment that ships."""
    return Catalogue(
        stations={row.id: row for row in rows("stations.csv", Station)},
        transfer={row.id: row for row in rows("transfer.csv", TransferEquipment)},
        panels={row.id: row for row in rows("panels.csv", Panel)},
        modules={row.id: row for row in rows("modules.csv", Module)},
        generators={row.id: row for row in rows("generators.csv", Generator)},
    )
