"""Equipment as data: power stations with their modules, transfer equipment, panels, generators. All shipped entries
are made up.

The fields of these classes are the one table of what can be bought: name, unit and range, meaning, source and default
of each feed validation, the page on the plan file, the columns of CSV, and the forms."""

from __future__ import annotations

from dataclasses import dataclass, field, fields, replace
from decimal import Decimal
from functools import lru_cache
from typing import Annotated, Literal

from annotated_types import Interval, Len, Unit

from imbuto.core.basics.data_tables import rows
from imbuto.core.basics.units import (
    PLANNING,
    Amps,
    Celsius,
    Count,
    FieldMeaning,
    Ident,
    Leg,
    Name,
    Text,
    VoltAmps,
    Volts,
    WattHours,
    Watts,
)
from imbuto.core.equipment.conversion import hours_to_full
from imbuto.core.equipment.traits import LEFT_ON_SOURCE, TRAITS, Traits, TransferKind

OutputVolts = Literal["120", "120/240", "230"]
Restart = Literal["by_itself", "by_hand"]
Fuel = Literal["petrol", "propane", "diesel"]
Milliseconds = Annotated[float, Interval(ge=0, le=60_000), Unit("ms")]
Seconds = Annotated[float, Interval(ge=0, le=60), Unit("s")]
PercentPerC = Annotated[float, Interval(ge=-1, le=0), Unit("% per °C")]
Money = Annotated[Decimal, Interval(ge=0, le=1_000_000)]
Efficiency = Annotated[float, Interval(ge=0.3, le=1)]

DEFAULT_EFFICIENCY = 0.94  # inverter conversion at load, idle not in it; planning default
DEFAULT_IDLE_W = 15.0  # stands in for a station not chosen yet; planning default
IDLE_SHARE, LEAST_IDLE_W = 0.01, 10.0  # own draw where it is unlisted: of continuous W, and at least; planning default
OUTLET_A = {120.0: 15.0, 230.0: 10.0}  # what one outlet may carry where it is unlisted, by volts; planning default
MOST_UNITS = 6
PARALLEL_SHARE = 0.90  # of the sum that units side by side carry, as they never share quite evenly; planning default
MODULE_DRAW_W = 3.0  # electronics of one expansion module; planning default
Units = Annotated[int, Interval(ge=1, le=MOST_UNITS)]


@dataclass(frozen=True, slots=True)
class SolarInput:
    """One solar input.

    min_v: it tracks from
    max_v: it bears
    max_a: it takes
    max_isc_a: it bears short-circuited
    max_w: it takes
    """

    min_v: float
    max_v: float
    max_a: float
    max_isc_a: float
    max_w: float


@lru_cache(maxsize=256)
def solar_inputs(text: str) -> dict[int, SolarInput]:
    """Inputs as ``Station.solar_each`` lists them, by number. Raises ValueError on what is no such list."""
    found = {}
    for row in filter(None, (x.strip() for x in text.split(";"))):
        number, colon, figures = row.partition(":")
        values = [x.strip() for x in figures.split(",")]
        try:
            if not colon or len(values) != len(fields(SolarInput)):
                raise ValueError
            found[int(number)] = SolarInput(*(float(x) for x in values))
        except ValueError:
            rule = "write each input as number: from V, to V, A, short-circuit A, W, such as “2: 12, 60, 10, 12, 400”"
            raise ValueError(f"“{row}” isn't a solar input; {rule}") from None
    return found


@lru_cache(maxsize=256)
def station_settings(text: str) -> dict[str, tuple[float, float]]:
    """Settings as ``Station.settings`` lists them: ms to take over and W of its own draw, by name. Raises ValueError on
    what is no such list."""
    found = {}
    for row in filter(None, (x.strip() for x in text.split(";"))):
        name, colon, figures = row.rpartition(":")
        try:
            ms, watts = (float(x) for x in figures.split(","))
            if not colon or not name.strip() or not (0 <= ms <= 60_000 and 0 <= watts <= 5_000):
                raise ValueError
        except ValueError:
            raise ValueError(f"“{row}” can't be read; write each as name: ms, W, such as “fast: 10, 35”") from None
        found[name.strip()] = (ms, watts)
    return found


@lru_cache(maxsize=512)
def pairs(text: str) -> tuple[tuple[str, float], ...]:
    """Rows of ``name: figure``, separated by semicolons. Raises ValueError on what is no such list."""
    found = []
    for row in filter(None, (x.strip() for x in text.split(";"))):
        name, colon, figure = row.rpartition(":")
        try:
            if not colon or not name.strip() or float(figure) < 0:
                raise ValueError
            found.append((name.strip(), float(figure)))
        except ValueError:
            raise ValueError(f"“{row}” can't be read; write each as name: figure, such as “charger: 240”") from None
    return tuple(found)


def dc_outlets(text: str) -> dict[float, float]:
    """Amps by volts, from rows of ``volts: amps``. Raises ValueError on what is no such list."""
    try:
        return {float(volts): amps for volts, amps in pairs(text)}
    except ValueError:
        raise ValueError(f"“{text}” can't be read; write each as volts: amps, such as “24: 10; 5: 3”") from None


@dataclass(frozen=True, slots=True, kw_only=True)
class Station:
    """A power station."""

    id: Annotated[Ident, FieldMeaning("identifier in files")]
    name: Annotated[Name, FieldMeaning("name on screen")]
    volts: Annotated[OutputVolts, FieldMeaning("output voltage")]
    nominal_wh: Annotated[float, Interval(ge=10, le=200_000), FieldMeaning("label capacity without modules")]
    module_name: Annotated[Text, FieldMeaning("name of the expansion module")] = ""
    module_wh: Annotated[WattHours, FieldMeaning("capacity that one module adds")] = 0
    max_modules: Annotated[int, Interval(ge=0, le=20), FieldMeaning("most modules per unit")] = 0
    module_draw_w: Annotated[Watts, FieldMeaning("own use of one module", PLANNING)] = MODULE_DRAW_W
    continuous_w: Annotated[float, Interval(ge=10, le=50_000), FieldMeaning("continuous output")]
    rated_va: Annotated[VoltAmps, FieldMeaning("continuous VA. 0 if not listed; then the watts count")] = 0
    on_grid_w: Annotated[
        Watts,
        FieldMeaning(
            "continuous output together with the grid. 0 if not listed; then the output without the grid counts"
        ),
    ] = 0
    surge_va: Annotated[
        VoltAmps, FieldMeaning("surge VA for motor starts. 0 if not listed; then the continuous rating counts")
    ] = 0
    surge_s: Annotated[
        Seconds | None, FieldMeaning("surge duration. null if not listed; then the continuous rating counts")
    ] = None
    leg_a: Annotated[
        Amps,
        FieldMeaning(
            "continuous current per leg, or of the whole output if there is one leg. 0 if not listed; then an "
            "even share of the watts counts"
        ),
    ] = 0
    leg_surge_va: Annotated[
        VoltAmps, FieldMeaning("surge VA on one leg. 0 if not listed; then the continuous rating counts")
    ] = 0
    outlets: Annotated[Count, FieldMeaning("number of outlets for cords. 0 if not listed")] = 0
    outlet_a: Annotated[
        Amps, FieldMeaning("rating of one outlet. 0 if not listed; then 15 A counts, or 10 A at 230 V", PLANNING)
    ] = 0
    inlet_outlet_a: Annotated[Amps, FieldMeaning("rating of the large outlet for an inlet, and of its breaker")] = 0
    efficiency: Annotated[
        Efficiency, FieldMeaning("AC output divided by DC input under load, without own use", PLANNING)
    ] = DEFAULT_EFFICIENCY
    idle_w: Annotated[
        Watts | None,
        FieldMeaning(
            "own use with the output on and nothing plugged in. null if not listed; then 1% of the continuous "
            "output counts, at least 10 W",
            PLANNING,
        ),
    ] = None
    input_a: Annotated[Amps, FieldMeaning("AC input limit for passing on and charging together. 0 if not listed")] = 0
    charge_w: Annotated[Watts, FieldMeaning("charging power from the wall (AC)")] = 0
    charge_w_per_module: Annotated[Watts, FieldMeaning("extra charging power from the wall per module")] = 0
    charge_efficiency: Annotated[Efficiency, FieldMeaning("share of the wall power that is stored", PLANNING)] = 0.92
    charges_while_supplying: Annotated[bool, FieldMeaning("charges while it passes power on")] = True
    solar_inputs: Annotated[int, Interval(ge=0, le=12), FieldMeaning("number of solar inputs")] = 0
    solar_min_v: Annotated[Volts, FieldMeaning("lowest voltage at which an input works")] = 0
    solar_max_v: Annotated[Volts, FieldMeaning("highest voltage of an input, on the coldest morning")] = 0
    solar_max_a: Annotated[Amps, FieldMeaning("highest running current of an input")] = 0
    solar_max_isc_a: Annotated[Amps, FieldMeaning("highest short-circuit current of an input")] = 0
    solar_max_w: Annotated[Watts, FieldMeaning("highest power of an input")] = 0
    solar_each: Annotated[
        Text,
        FieldMeaning(
            "inputs that differ, each as number: from V, to V, A, short-circuit A, W. Separate them with semicolons"
        ),
    ] = ""
    dc_port_v: Annotated[Volts, FieldMeaning("voltage of the DC outlets")] = 0
    dc_port_a: Annotated[Amps, FieldMeaning("current of all DC outlets together")] = 0
    dc_ports: Annotated[
        Text, FieldMeaning("DC outlets of other voltages, USB as 5, each as volts: amps. Separate them with semicolons")
    ] = ""
    dc_efficiency: Annotated[Efficiency, FieldMeaning("efficiency of the DC outlets", PLANNING)] = 0.92
    input_ceiling_w: Annotated[
        Watts, FieldMeaning("limit for all inputs together, solar and wall. 0 if not listed")
    ] = 0
    output_by_modules: Annotated[
        Text, FieldMeaning("continuous output by number of modules, each as number: W. Separate them with semicolons")
    ] = ""
    on_grid_by_modules: Annotated[
        Text,
        FieldMeaning(
            "continuous output together with the grid by number of modules, each as number: W. Separate them with "
            "semicolons"
        ),
    ] = ""
    settings: Annotated[
        Text,
        FieldMeaning(
            "settings that change transfer time and own use, each as name: ms, W. Separate them with semicolons"
        ),
    ] = ""
    forms_grid: Annotated[
        bool, FieldMeaning("runs solar panels with their own inverter in an outage, and limits them when full")
    ] = False
    transfer_ms: Annotated[
        Milliseconds | None, FieldMeaning("transfer time when the grid fails. null if not listed")
    ] = None
    passes_on: Annotated[
        Text,
        FieldMeaning(
            "manufacturer's statement that it may pass the grid on to loads all the time. Leave empty if there is none"
        ),
    ] = ""
    auto_off_below_w: Annotated[Watts, FieldMeaning("auto-off below this load")] = 0
    auto_off_after_h: Annotated[float, Interval(ge=0, le=48), FieldMeaning("auto-off after this time")] = 0
    discharge_min_c: Annotated[Celsius, FieldMeaning("lowest cell temperature for output", PLANNING)] = -10
    discharge_max_c: Annotated[Celsius, FieldMeaning("highest cell temperature for output", PLANNING)] = 45
    charge_min_c: Annotated[Celsius, FieldMeaning("lowest cell temperature for charging", PLANNING)] = 0
    charge_max_c: Annotated[Celsius, FieldMeaning("highest cell temperature for charging", PLANNING)] = 45
    heater: Annotated[bool, FieldMeaning("has a heater for charging in the cold")] = False
    restart: Annotated[Restart, FieldMeaning("restarts by itself after a recharge", PLANNING)] = "by_hand"
    bonded_neutral: Annotated[bool, FieldMeaning("bonds neutral and ground inside")] = False
    chemistry: Annotated[Text, FieldMeaning("cell chemistry")] = "LFP"
    cycle_life: Annotated[
        int, Interval(ge=0, le=50_000), FieldMeaning("full cycles until 80% of its capacity is left")
    ] = 0
    warranty_years: Annotated[float, Interval(ge=0, le=40), FieldMeaning("warranty, as the manufacturer lists it")] = 0
    noise_idle_db: Annotated[float, Interval(ge=0, le=120), FieldMeaning("noise at 1 m, idle")] = 0
    noise_load_db: Annotated[float, Interval(ge=0, le=120), FieldMeaning("noise at 1 m, under load")] = 0
    weight_kg: Annotated[float, Interval(ge=0, le=2_000), FieldMeaning("for one unit")] = 0
    module_weight_kg: Annotated[float, Interval(ge=0, le=2_000), FieldMeaning("for one module")] = 0
    wheels: Annotated[bool, FieldMeaning("has wheels")] = False
    listed: Annotated[Text, FieldMeaning("testing lab, and the listed use")] = ""
    repairable: Annotated[Text, FieldMeaning("repair service, and years of spare parts")] = ""
    price: Annotated[Money, FieldMeaning("for one unit")] = Decimal(0)
    module_price: Annotated[Money, FieldMeaning("for one module")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("currency of the prices")] = "USD"
    parallel_most: Annotated[Units, FieldMeaning("most units in parallel on the manufacturer's link")] = 1
    link_price: Annotated[Money, FieldMeaning("price of the link for one more unit")] = Decimal(0)
    parallel_share: Annotated[
        float,
        Interval(ge=0.5, le=1),
        FieldMeaning("share of their total that linked units supply, as the manufacturer states it", PLANNING),
    ] = PARALLEL_SHARE
    parallel_balances: Annotated[
        bool,
        FieldMeaning("parallel units keep an even charge. If not, the one with fewer modules is empty first"),
    ] = True
    pair_goes_on: Annotated[
        bool, FieldMeaning("when one unit of a coupled pair stops, the other keeps powering its leg")
    ] = False
    coupler: Annotated[
        Text, FieldMeaning("manufacturer's coupler for two units at 120/240 V. Leave empty if there is none")
    ] = ""
    coupler_price: Annotated[Money, FieldMeaning("price of the coupler")] = Decimal(0)
    connector: Annotated[Text, FieldMeaning("connector that a module must match")] = ""
    battery_v: Annotated[Volts, FieldMeaning("battery voltage that a module must match")] = 0
    generation: Annotated[int, Interval(ge=0, le=100), FieldMeaning("generation that a module must match")] = 0
    parts: Annotated[
        Text, FieldMeaning("parts with their own price, each as name: price. Separate them with semicolons")
    ] = ""
    work_h: Annotated[float, Interval(ge=0, le=1_000), FieldMeaning("your own hours to build it")] = 0
    built_low_v: Annotated[
        Volts, FieldMeaning("built from parts: lowest battery voltage under load. 0 if it isn't built from parts")
    ] = 0
    built_battery_a: Annotated[Amps, FieldMeaning("built from parts: amps its batteries give. 0 if not limited")] = 0
    built_cable_a: Annotated[Amps, FieldMeaning("built from parts: rating of the battery cable. 0 if not limited")] = 0
    built_fuse_a: Annotated[Amps, FieldMeaning("built from parts: rating of the battery fuse. 0 if not limited")] = 0
    promised: Annotated[Text, FieldMeaning("announced features with their date. Not counted until then")] = ""
    vehicle: Annotated[bool, FieldMeaning("is a vehicle, and keeps energy for the drive")] = False

    def __post_init__(self) -> None:
        solar_inputs(self.solar_each)
        pairs(self.output_by_modules)
        pairs(self.on_grid_by_modules)
        station_settings(self.settings)
        pairs(self.parts)
        dc_outlets(self.dc_ports)
        if (self.built_battery_a or self.built_cable_a or self.built_fuse_a) and not self.built_low_v:
            raise ValueError("enter the lowest battery voltage, too: amps alone give no watts")

    @property
    def dc_amps(self) -> dict[float, float]:
        """Amps of its DC outlets by their volts, each voltage by itself; empty where it lists none."""
        own = {self.dc_port_v: self.dc_port_a} if self.dc_port_v else {}
        return own | dc_outlets(self.dc_ports)

    @property
    def part_watts(self) -> dict[str, float]:
        """What each part of a station built from parts lets through, AC W: amps at the lowest battery voltage, less
        conversion; empty for one that isn't."""
        amps = {"batteries": self.built_battery_a, "cable": self.built_cable_a, "fuse": self.built_fuse_a}
        return {part: a * self.built_low_v * self.efficiency for part, a in amps.items() if a}

    @property
    def weakest_part(self) -> str:
        """Which part of a station built from parts limits it; empty where that is the inverter, or it isn't built."""
        watts = self.part_watts
        part = min(watts, key=lambda p: watts[p], default="")
        return part if part and watts[part] < self.continuous_w else ""

    def as_built(self) -> Station:
        """The station as its weakest part leaves it. What batteries can't give, they don't give for a start either; a
        cable and a fuse bear that for seconds."""
        if not self.part_watts:
            return self
        watts = min(self.continuous_w, *self.part_watts.values())
        share = watts / self.continuous_w
        start_w = self.part_watts.get("batteries", float("inf"))
        return replace(
            self,
            continuous_w=watts,
            rated_va=share * self.rated_va,
            leg_a=share * self.leg_a,
            surge_va=min(self.surge_va, max(start_w, watts)),
            leg_surge_va=min(self.leg_surge_va, max(start_w, watts)),
        )

    def continuous_with(self, modules: int) -> float:
        """W it gives for as long as it lasts, with so many modules."""
        fits = [w for n, w in pairs(self.output_by_modules) if float(n) <= modules]
        return max([self.continuous_w, *fits])

    def on_grid_with(self, modules: int) -> float:
        """W it gives together with the grid, with so many modules; 0 where it is unlisted."""
        fits = [w for n, w in pairs(self.on_grid_by_modules) if float(n) <= modules]
        return max([self.on_grid_w, *fits])

    def in_setting(self, name: str) -> Station:
        """The station in one of its settings; as it is listed for an empty name or one it doesn't have."""
        found = station_settings(self.settings).get(name)
        return self if found is None else replace(self, transfer_ms=found[0], idle_w=found[1])

    def solar_input(self, number: int) -> SolarInput:
        """One of its solar inputs, counted from 1."""
        own = solar_inputs(self.solar_each).get(number)
        alike = SolarInput(self.solar_min_v, self.solar_max_v, self.solar_max_a, self.solar_max_isc_a, self.solar_max_w)
        return own or alike

    @property
    def solar_w(self) -> float:
        """DC W all its solar inputs take."""
        return sum(self.solar_input(i).max_w for i in range(1, self.solar_inputs + 1))

    @property
    def legs(self) -> tuple[Leg, ...]:
        """The legs its output has."""
        return ("A", "B") if self.volts == "120/240" else ("A",)

    @property
    def leg_volts(self) -> float:
        """Leg-to-neutral volts of the output."""
        return 230.0 if self.volts == "230" else 120.0

    def stored_wh(self, modules: int) -> float:
        """Label Wh with so many modules."""
        return self.nominal_wh + modules * self.module_wh

    def charger_w(self, modules: int) -> float:
        """AC W its charger takes with so many modules; 0 where that is unlisted."""
        return self.charge_w + modules * self.charge_w_per_module

    @property
    def own_idle_w(self) -> float:
        """DC W of its own draw with the AC output on; a careful default where it is unlisted. Planning default."""
        return max(IDLE_SHARE * self.continuous_w, LEAST_IDLE_W) if self.idle_w is None else self.idle_w

    def own_draw_w(self, modules: int) -> float:
        """DC W it takes itself with its AC output on, modules included."""
        return self.own_idle_w + modules * self.module_draw_w

    def refill_h(self, modules: int, start: float = 0.0) -> float | None:
        """Hours from the wall to full, from a charge; None where its charger is unlisted."""
        watts = self.charge_efficiency * self.charger_w(modules)
        return hours_to_full(self.stored_wh(modules), watts, start) if watts > 0 else None

    @property
    def surge_counts(self) -> bool:
        """A surge shorter than 1 s, or of unlisted length, counts as continuous only."""
        return self.surge_s is not None and self.surge_s >= 1


def with_defaults(station: Station) -> tuple[Station, frozenset[str]]:
    """Fill what a station's label leaves out with careful defaults, and name the fields that were filled.

    VA as its W, a start as what it carries for long, a leg as an even share, 15 A for an outlet (10 A at 230 V), 1%
    of its W for itself. Planning defaults. The number of outlets stays 0: no default is careful for it.
    """
    legs, volts = len(station.legs), station.leg_volts
    rated_va = station.rated_va or station.continuous_w
    leg_a = station.leg_a or station.continuous_w / (legs * volts)
    filled = {
        "rated_va": rated_va,
        "surge_va": station.surge_va or rated_va,
        "leg_a": leg_a,
        "leg_surge_va": station.leg_surge_va or min(leg_a * volts, rated_va),
        "outlet_a": station.outlet_a or OUTLET_A[volts],
        "outlets": station.outlets,
    }
    assumed = {name for name in filled if not getattr(station, name)}
    if station.idle_w is None:
        assumed.add("idle_w")
        filled["idle_w"] = station.own_idle_w
    return replace(station, **filled), frozenset(assumed)  # type: ignore[arg-type]


@dataclass(frozen=True, slots=True, kw_only=True)
class Module:
    """An expansion module, to be matched with a station that is not its own."""

    id: Annotated[Ident, FieldMeaning("identifier in files")]
    name: Annotated[Name, FieldMeaning("name on screen")]
    wh: Annotated[float, Interval(ge=10, le=100_000), FieldMeaning("capacity")]
    battery_v: Annotated[Volts, FieldMeaning("must match the station")] = 0
    chemistry: Annotated[Text, FieldMeaning("must match the station")] = "LFP"
    connector: Annotated[Text, FieldMeaning("must match the station")] = ""
    generation: Annotated[int, Interval(ge=0, le=100), FieldMeaning("must match the station")] = 0
    draw_w: Annotated[Watts, FieldMeaning("own use of its electronics", PLANNING)] = MODULE_DRAW_W
    weight_kg: Annotated[float, Interval(ge=0, le=2_000), FieldMeaning("for one")] = 0
    adapters: Annotated[
        Text,
        FieldMeaning("ids of stations with an adapter cable from the manufacturer. Separate them with semicolons"),
    ] = ""
    adapter_price: Annotated[Money, FieldMeaning("price of one adapter")] = Decimal(0)
    price: Annotated[Money, FieldMeaning("for one")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("currency of the prices")] = "USD"


@dataclass(frozen=True, slots=True, kw_only=True)
class TransferEquipment:
    """What joins a source to the house."""

    id: Annotated[Ident, FieldMeaning("identifier in files")]
    name: Annotated[Name, FieldMeaning("name on screen")]
    kind: Annotated[TransferKind, FieldMeaning("kind of transfer equipment")]
    volts: Annotated[OutputVolts | Literal["any"], FieldMeaning("voltages it suits")] = "any"
    places: Annotated[Count, FieldMeaning("number of circuits. A 240 V circuit takes two")] = 0
    place_legs: Annotated[Text, FieldMeaning("leg of each switch slot, in order, for two-leg sources")] = ""
    place_a: Annotated[Amps, FieldMeaning("rating of one switch slot")] = 0
    place_breaker_a: Annotated[Amps, FieldMeaning("breaker in each switch slot. 0 for none")] = 0
    inlet_a: Annotated[Amps, FieldMeaning("rating of its inlet and cord")] = 0
    automatic: Annotated[bool, FieldMeaning("switches to backup by itself")] = False
    switched_neutral: Annotated[bool, FieldMeaning("also switches the neutral")] = False
    transfer_ms: Annotated[
        Milliseconds | None, FieldMeaning("transfer time. null if not listed or switched by hand")
    ] = None
    sheds: Annotated[bool, FieldMeaning("can drop circuits by itself")] = False
    tops_up: Annotated[bool, FieldMeaning("adds power from the grid while it is on")] = False
    overload_off_grid: Annotated[Text, FieldMeaning("effect of an overload without the grid")] = ""
    overload_on_grid: Annotated[Text, FieldMeaning("effect of an overload with the grid")] = ""
    electrician: Annotated[bool, FieldMeaning("breaker needed in front of it")] = True
    permit: Annotated[bool, FieldMeaning("breaker needed in front of it")] = True
    checklist: Annotated[Text, FieldMeaning("points to check before buying. Separate them with semicolons")] = ""
    price: Annotated[Money, FieldMeaning("price without labor")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("currency of the price")] = "USD"
    note: Annotated[Text, FieldMeaning("description")] = ""

    @property
    def traits(self) -> Traits:
        """What its kind is and does."""
        return TRAITS[self.kind]

    @property
    def in_panel(self) -> bool:
        """Whether circuits stay in their own panel, and on its legs."""
        return self.traits.in_panel

    def leg_of_place(self, place: int) -> Leg:
        """The leg a place is wired to, counted from 1."""
        legs = self.place_legs or "A"
        return "B" if legs[(place - 1) % len(legs)] == "B" else "A"


@dataclass(frozen=True, slots=True, kw_only=True)
class SwitchLeftOn(TransferEquipment):
    """A switch with levers that stays on the source, whose station passes the grid on and takes over by itself."""

    @property
    def traits(self) -> Traits:
        """What it is and does while it is left so."""
        return LEFT_ON_SOURCE


def left_on(equipment: TransferEquipment, station: Station | None) -> TransferEquipment:
    """The equipment as it acts while it stays on the source; itself where its kind has no levers to leave there."""
    if not equipment.traits.levers:
        return equipment
    plain = {f.name: getattr(equipment, f.name) for f in fields(TransferEquipment)}
    changed = {
        "automatic": True,
        "transfer_ms": station.transfer_ms if station is not None else None,
        "overload_on_grid": "the station goes back to passing the grid on",
    }
    return SwitchLeftOn(**plain | changed)


@dataclass(frozen=True, slots=True, kw_only=True)
class Panel:
    """A solar panel, as its label and data sheet say."""

    id: Annotated[Ident, FieldMeaning("identifier in files")]
    name: Annotated[Name, FieldMeaning("name on screen")]
    w: Annotated[float, Interval(ge=1, le=2_000), FieldMeaning("rated DC power at 1,000 W/m² and 25 °C cells")]
    voc_v: Annotated[float, Interval(ge=1, le=500), FieldMeaning("open-circuit voltage")]
    vmp_v: Annotated[float, Interval(ge=1, le=500), FieldMeaning("at full power")]
    isc_a: Annotated[float, Interval(ge=0.1, le=100), FieldMeaning("short-circuit current")]
    imp_a: Annotated[float, Interval(ge=0.1, le=100), FieldMeaning("at full power")]
    voc_percent_c: Annotated[
        PercentPerC | None, FieldMeaning("change of the open-circuit voltage. null if not listed")
    ] = None
    vmp_percent_c: Annotated[
        PercentPerC, FieldMeaning("change of the voltage at full power. null if not listed", PLANNING)
    ] = -0.36
    power_percent_c: Annotated[PercentPerC, FieldMeaning("change of the power", PLANNING)] = -0.38
    noct_c: Annotated[Celsius, FieldMeaning("cell temperature at 800 W/m² and 20 °C air", PLANNING)] = 45
    max_v: Annotated[
        float, Interval(ge=10, le=1_500), FieldMeaning("highest voltage of a string with this panel", PLANNING)
    ] = 600
    portable: Annotated[bool, FieldMeaning("folding panel, set up by hand")] = False
    weatherproof: Annotated[bool, FieldMeaning("may stay outside in rain")] = True
    weight_kg: Annotated[float, Interval(ge=0, le=200), FieldMeaning("for one")] = 0
    length_m: Annotated[float, Interval(ge=0, le=10), FieldMeaning("for one")] = 0
    width_m: Annotated[float, Interval(ge=0, le=10), FieldMeaning("for one")] = 0
    price: Annotated[Money, FieldMeaning("for one")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("currency of the price")] = "USD"


@dataclass(frozen=True, slots=True, kw_only=True)
class Battery:
    """A bare battery, to be put in series and side by side; it has no inverter."""

    id: Annotated[Ident, FieldMeaning("identifier in files")]
    name: Annotated[Name, FieldMeaning("name on screen")]
    volts: Annotated[float, Interval(ge=1, le=100), FieldMeaning("nominal voltage of one battery")]
    charged_v: Annotated[
        float,
        Interval(ge=1, le=120),
        FieldMeaning("highest voltage while charging. Must not exceed the input's limit"),
    ]
    ah: Annotated[float, Interval(ge=1, le=2_000), FieldMeaning("capacity")]
    chemistry: Annotated[Text, FieldMeaning("cell chemistry. Never connect different ones")] = "LFP"
    charge_a: Annotated[Amps, FieldMeaning("highest charging current. 0 if not listed")] = 0
    discharge_a: Annotated[Amps, FieldMeaning("highest discharge current. 0 if not listed")] = 0
    series_most: Annotated[
        int, Interval(ge=1, le=40), FieldMeaning("most batteries in series that the manufacturer allows")
    ] = 1
    parallel_most: Annotated[
        int, Interval(ge=1, le=20), FieldMeaning("most parallel strings that the manufacturer allows")
    ] = 1
    discharge_min_c: Annotated[Celsius, FieldMeaning("lowest cell temperature for output", PLANNING)] = -20
    charge_min_c: Annotated[Celsius, FieldMeaning("lowest cell temperature for charging", PLANNING)] = 0
    weight_kg: Annotated[float, Interval(ge=0, le=200), FieldMeaning("for one")] = 0
    price: Annotated[Money, FieldMeaning("for one")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("currency of the price")] = "USD"

    @property
    def wh(self) -> float:
        """It stores, Wh."""
        return self.volts * self.ah


@dataclass(frozen=True, slots=True, kw_only=True)
class Generator:
    """An engine with an outlet."""

    id: Annotated[Ident, FieldMeaning("identifier in files")]
    name: Annotated[Name, FieldMeaning("name on screen")]
    volts: Annotated[OutputVolts, FieldMeaning("output voltage")] = "120"
    running_w: Annotated[float, Interval(ge=50, le=50_000), FieldMeaning("continuous output at sea level")]
    rated_va: Annotated[VoltAmps, FieldMeaning("continuous VA at sea level. 0 if the label lists only watts")] = 0
    surge_w: Annotated[Watts, FieldMeaning("surge VA for motor starts")] = 0
    fuel: Annotated[Fuel, FieldMeaning("fuel")] = "petrol"
    half_l_h: Annotated[float, Interval(ge=0.01, le=50), FieldMeaning("liters per hour at half load")]
    full_l_h: Annotated[float, Interval(ge=0.01, le=50), FieldMeaning("liters per hour at full load")]
    tank_l: Annotated[float, Interval(ge=0, le=1_000), FieldMeaning("tank size")] = 0
    start: Annotated[Restart, FieldMeaning("starts by itself when called", PLANNING)] = "by_hand"
    plug: Annotated[Text, FieldMeaning("rating of its large outlet")] = ""
    outlet_a: Annotated[Amps, FieldMeaning("rating of its large outlet")] = 0
    bonded_neutral: Annotated[bool, FieldMeaning("neutral is bonded to the frame")] = False
    noise_db: Annotated[float, Interval(ge=0, le=120), FieldMeaning("noise at 7 m")] = 0
    weight_kg: Annotated[float, Interval(ge=0, le=2_000), FieldMeaning("weight without fuel")] = 0
    price: Annotated[Money, FieldMeaning("for one")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("currency of the price")] = "USD"


@dataclass(frozen=True, slots=True, kw_only=True)
class Catalogue:
    """Equipment by id. A home's own entries stand before the shipped ones."""

    stations: dict[str, Station] = field(default_factory=dict)
    transfer: dict[str, TransferEquipment] = field(default_factory=dict)
    panels: dict[str, Panel] = field(default_factory=dict)
    modules: dict[str, Module] = field(default_factory=dict)
    generators: dict[str, Generator] = field(default_factory=dict)
    batteries: dict[str, Battery] = field(default_factory=dict)

    def over(self, other: Catalogue) -> Catalogue:
        """This catalogue's entries, with the other's where this has none."""
        return Catalogue(
            stations=other.stations | self.stations,
            transfer=other.transfer | self.transfer,
            panels=other.panels | self.panels,
            modules=other.modules | self.modules,
            generators=other.generators | self.generators,
            batteries=other.batteries | self.batteries,
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
        batteries={row.id: row for row in rows("batteries.csv", Battery)},
    )
