"""Power stations and their expansion modules, field by field."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from decimal import Decimal
from functools import lru_cache
from typing import Annotated

from annotated_types import Interval, Len

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
from imbuto.core.equipment.equipment_units import (
    Efficiency,
    Milliseconds,
    Money,
    OutputVolts,
    Restart,
    Seconds,
    Units,
)

DEFAULT_EFFICIENCY = 0.94  # inverter conversion at load, idle not in it; planning default
DEFAULT_IDLE_W = 15.0  # stands in for a station not chosen yet; planning default
IDLE_SHARE, LEAST_IDLE_W = 0.01, 10.0  # own draw where it is unlisted: of continuous W, and at least; planning default
OUTLET_A = {120.0: 15.0, 230.0: 10.0}  # what one outlet may carry where it is unlisted, by volts; planning default
PARALLEL_SHARE = 0.90  # of the sum that units side by side carry, as they never share quite evenly; planning default
MODULE_DRAW_W = 3.0  # electronics of one expansion module; planning default


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

    id: Annotated[Ident, FieldMeaning("ID in files")]
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
    currency: Annotated[str, Len(3, 3), FieldMeaning("price currency")] = "USD"
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
    coupler_price: Annotated[Money, FieldMeaning("coupler price")] = Decimal(0)
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

    id: Annotated[Ident, FieldMeaning("ID in files")]
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
    currency: Annotated[str, Len(3, 3), FieldMeaning("price currency")] = "USD"
