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


@dataclass(frozen=True, slots=True, kw_only=True)
class Station:
    """A power station."""

    id: Annotated[Ident, FieldMeaning("its name in files")]
    name: Annotated[Name, FieldMeaning("on screen")]
    volts: Annotated[OutputVolts, FieldMeaning("of the output")]
    nominal_wh: Annotated[float, Interval(ge=10, le=200_000), FieldMeaning("stored on the label, without modules")]
    module_name: Annotated[Text, FieldMeaning("what its own expansion module is called")] = ""
    module_wh: Annotated[WattHours, FieldMeaning("what one module adds")] = 0
    max_modules: Annotated[int, Interval(ge=0, le=20), FieldMeaning("modules that fit on one unit")] = 0
    module_draw_w: Annotated[Watts, FieldMeaning("electronics of one module", PLANNING)] = MODULE_DRAW_W
    continuous_w: Annotated[float, Interval(ge=10, le=50_000), FieldMeaning("its continuous output")]
    rated_va: Annotated[
        VoltAmps, FieldMeaning("VA it can carry for long; 0 where it is unlisted, and then its W count")
    ] = 0
    on_grid_w: Annotated[
        Watts,
        FieldMeaning(
            "its continuous output together with the grid; 0 where it is unlisted, and then its output alone counts"
        ),
    ] = 0
    surge_va: Annotated[
        VoltAmps, FieldMeaning("VA for a start; 0 if not listed, and then only the continuous rating counts")
    ] = 0
    surge_s: Annotated[
        Seconds | None, FieldMeaning("how long the surge holds; null when unlisted, and then only continuous counts")
    ] = None
    leg_a: Annotated[
        Amps,
        FieldMeaning(
            "on one leg at leg volts; the whole output where there is one leg; 0 where it is unlisted, and then an "
            "even share of its W counts"
        ),
    ] = 0
    leg_surge_va: Annotated[
        VoltAmps, FieldMeaning("a start on one leg; 0 where it is unlisted, and then only continuous counts")
    ] = 0
    outlets: Annotated[Count, FieldMeaning("for cords; 0 where it is unlisted")] = 0
    outlet_a: Annotated[
        Amps, FieldMeaning("of one of them; 0 where it is unlisted, and then 15 A count, or 10 A at 230 V", PLANNING)
    ] = 0
    inlet_outlet_a: Annotated[
        Amps, FieldMeaning("of the large outlet that feeds an inlet, and of the breaker behind it")
    ] = 0
    efficiency: Annotated[Efficiency, FieldMeaning("AC out over DC in at load, idle not in it", PLANNING)] = (
        DEFAULT_EFFICIENCY
    )
    idle_w: Annotated[
        Watts | None,
        FieldMeaning(
            "own draw with the output on, nothing plugged in; null when unlisted, and then 1% of its W, at least 10, "
            "counts",
            PLANNING,
        ),
    ] = None
    input_a: Annotated[
        Amps, FieldMeaning("of its AC input, what may pass through and charge together; 0 where it is unlisted")
    ] = 0
    charge_w: Annotated[Watts, FieldMeaning("from the wall, AC")] = 0
    charge_w_per_module: Annotated[Watts, FieldMeaning("more from the wall with each module")] = 0
    charge_efficiency: Annotated[Efficiency, FieldMeaning("share of the wall power that is stored", PLANNING)] = 0.92
    charges_while_supplying: Annotated[bool, FieldMeaning("whether it stores anything while it passes power on")] = True
    solar_inputs: Annotated[int, Interval(ge=0, le=12), FieldMeaning("how many there are")] = 0
    solar_min_v: Annotated[Volts, FieldMeaning("an input tracks from")] = 0
    solar_max_v: Annotated[Volts, FieldMeaning("an input takes on the coldest morning")] = 0
    solar_max_a: Annotated[Amps, FieldMeaning("an input takes while running")] = 0
    solar_max_isc_a: Annotated[Amps, FieldMeaning("an input takes short-circuited")] = 0
    solar_max_w: Annotated[Watts, FieldMeaning("an input takes")] = 0
    solar_each: Annotated[
        Text,
        FieldMeaning(
            "inputs that differ from these, each as number: from V, to V, A, short-circuit A, W; separated by "
            "semicolons"
        ),
    ] = ""
    dc_port_v: Annotated[Volts, FieldMeaning("of its DC outlets")] = 0
    dc_port_a: Annotated[Amps, FieldMeaning("of all of them together")] = 0
    dc_efficiency: Annotated[Efficiency, FieldMeaning("of those outlets, out over in", PLANNING)] = 0.92
    input_ceiling_w: Annotated[
        Watts, FieldMeaning("over all its inputs at once, sun and wall together; 0 where it is unlisted")
    ] = 0
    output_by_modules: Annotated[
        Text, FieldMeaning("continuous W with at least so many modules, each as number: W; separated by semicolons")
    ] = ""
    on_grid_by_modules: Annotated[
        Text,
        FieldMeaning(
            "continuous W together with the grid with at least so many modules, each as number: W; separated by "
            "semicolons"
        ),
    ] = ""
    settings: Annotated[
        Text,
        FieldMeaning(
            "its settings that change the time to take over and its own draw, each as name: ms, W; separated by "
            "semicolons"
        ),
    ] = ""
    forms_grid: Annotated[
        bool, FieldMeaning("it runs sun on the house's own AC side in an outage, and throttles it when full")
    ] = False
    transfer_ms: Annotated[
        Milliseconds | None, FieldMeaning("to take over when the grid fails; null when unlisted")
    ] = None
    passes_on: Annotated[
        Text,
        FieldMeaning(
            "the manufacturer's words that allow passing the grid on to loads all the time; empty if it lists none"
        ),
    ] = ""
    auto_off_below_w: Annotated[Watts, FieldMeaning("it switches its output off under")] = 0
    auto_off_after_h: Annotated[float, Interval(ge=0, le=48), FieldMeaning("and after so long")] = 0
    discharge_min_c: Annotated[Celsius, FieldMeaning("lowest cell temperature for output", PLANNING)] = -10
    discharge_max_c: Annotated[Celsius, FieldMeaning("and up to", PLANNING)] = 45
    charge_min_c: Annotated[Celsius, FieldMeaning("it charges from", PLANNING)] = 0
    charge_max_c: Annotated[Celsius, FieldMeaning("and up to", PLANNING)] = 45
    heater: Annotated[bool, FieldMeaning("it warms itself to charge in the cold")] = False
    restart: Annotated[Restart, FieldMeaning("whether the output returns by itself after a recharge", PLANNING)] = (
        "by_hand"
    )
    bonded_neutral: Annotated[bool, FieldMeaning("neutral and ground are bonded inside")] = False
    chemistry: Annotated[Text, FieldMeaning("of its cells")] = "LFP"
    cycle_life: Annotated[
        int, Interval(ge=0, le=50_000), FieldMeaning("full cycles until four fifths of its capacity are left")
    ] = 0
    warranty_years: Annotated[float, Interval(ge=0, le=40), FieldMeaning("as the manufacturer lists it")] = 0
    noise_idle_db: Annotated[float, Interval(ge=0, le=120), FieldMeaning("at 1 m, idle")] = 0
    noise_load_db: Annotated[float, Interval(ge=0, le=120), FieldMeaning("at 1 m, under load")] = 0
    weight_kg: Annotated[float, Interval(ge=0, le=2_000), FieldMeaning("of one unit")] = 0
    module_weight_kg: Annotated[float, Interval(ge=0, le=2_000), FieldMeaning("of one module")] = 0
    wheels: Annotated[bool, FieldMeaning("it rolls")] = False
    listed: Annotated[Text, FieldMeaning("testing lab, and the use it is listed for")] = ""
    repairable: Annotated[Text, FieldMeaning("repair service, and how many years parts are kept")] = ""
    price: Annotated[Money, FieldMeaning("of one unit")] = Decimal(0)
    module_price: Annotated[Money, FieldMeaning("of one module")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("of its prices")] = "USD"
    parallel_most: Annotated[Units, FieldMeaning("units the manufacturer allows in parallel on its own link")] = 1
    link_price: Annotated[Money, FieldMeaning("of what links one more")] = Decimal(0)
    parallel_share: Annotated[
        float,
        Interval(ge=0.5, le=1),
        FieldMeaning("share of their sum that linked units supply, as the manufacturer states it", PLANNING),
    ] = PARALLEL_SHARE
    parallel_balances: Annotated[
        bool,
        FieldMeaning("units side by side keep each other's charge even; else the one with fewer modules ends first"),
    ] = True
    pair_goes_on: Annotated[
        bool, FieldMeaning("when one unit of a coupled pair stops, the other goes on with its leg")
    ] = False
    coupler: Annotated[
        Text, FieldMeaning("the manufacturer's coupler that runs two of them together for 120/240 V; empty for none")
    ] = ""
    coupler_price: Annotated[Money, FieldMeaning("of that")] = Decimal(0)
    connector: Annotated[Text, FieldMeaning("what a module has to match")] = ""
    battery_v: Annotated[Volts, FieldMeaning("of the battery, which a module has to match")] = 0
    generation: Annotated[int, Interval(ge=0, le=100), FieldMeaning("which a module has to match")] = 0
    parts: Annotated[
        Text, FieldMeaning("what is priced apart or what it is built of, each as name: price; separated by semicolons")
    ] = ""
    work_h: Annotated[float, Interval(ge=0, le=1_000), FieldMeaning("hours to build it, of one's own")] = 0
    promised: Annotated[Text, FieldMeaning("features promised for later, with the date; not counted until then")] = ""
    vehicle: Annotated[bool, FieldMeaning("it drives, and keeps what the drive needs")] = False

    def __post_init__(self) -> None:
        solar_inputs(self.solar_each)
        pairs(self.output_by_modules)
        pairs(self.on_grid_by_modules)
        station_settings(self.settings)
        pairs(self.parts)

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

    id: Annotated[Ident, FieldMeaning("its name in files")]
    name: Annotated[Name, FieldMeaning("on screen")]
    wh: Annotated[float, Interval(ge=10, le=100_000), FieldMeaning("it stores")]
    battery_v: Annotated[Volts, FieldMeaning("which has to match")] = 0
    chemistry: Annotated[Text, FieldMeaning("which has to match")] = "LFP"
    connector: Annotated[Text, FieldMeaning("which has to match")] = ""
    generation: Annotated[int, Interval(ge=0, le=100), FieldMeaning("which has to match")] = 0
    draw_w: Annotated[Watts, FieldMeaning("of its electronics", PLANNING)] = MODULE_DRAW_W
    weight_kg: Annotated[float, Interval(ge=0, le=2_000), FieldMeaning("of one")] = 0
    adapters: Annotated[
        Text,
        FieldMeaning("ids of the stations that its manufacturer has an adapter cable for, separated by semicolons"),
    ] = ""
    adapter_price: Annotated[Money, FieldMeaning("of one adapter")] = Decimal(0)
    price: Annotated[Money, FieldMeaning("of one")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("of its prices")] = "USD"


@dataclass(frozen=True, slots=True, kw_only=True)
class TransferEquipment:
    """What joins a source to the house."""

    id: Annotated[Ident, FieldMeaning("its name in files")]
    name: Annotated[Name, FieldMeaning("on screen")]
    kind: Annotated[TransferKind, FieldMeaning("how it joins a source to the house")]
    volts: Annotated[OutputVolts | Literal["any"], FieldMeaning("it suits")] = "any"
    places: Annotated[Count, FieldMeaning("circuits it has room for; a 240 V circuit takes two")] = 0
    place_legs: Annotated[Text, FieldMeaning("the leg each place is wired to, in order, when the source has two")] = ""
    place_a: Annotated[Amps, FieldMeaning("rating of a place")] = 0
    place_breaker_a: Annotated[Amps, FieldMeaning("breaker in each switch slot, 0 for none")] = 0
    inlet_a: Annotated[Amps, FieldMeaning("of its inlet and cord")] = 0
    automatic: Annotated[bool, FieldMeaning("it takes over by itself")] = False
    switched_neutral: Annotated[bool, FieldMeaning("it switches the neutral too")] = False
    transfer_ms: Annotated[
        Milliseconds | None, FieldMeaning("to take over by itself; null when unlisted or by hand")
    ] = None
    sheds: Annotated[bool, FieldMeaning("it can drop circuits by itself")] = False
    tops_up: Annotated[bool, FieldMeaning("it adds from the grid while it is there")] = False
    overload_off_grid: Annotated[Text, FieldMeaning("what happens then without the grid")] = ""
    overload_on_grid: Annotated[Text, FieldMeaning("and with it")] = ""
    electrician: Annotated[bool, FieldMeaning("needed in front of it")] = True
    permit: Annotated[bool, FieldMeaning("needed in front of it")] = True
    checklist: Annotated[Text, FieldMeaning("what to look at before buying, separated by semicolons")] = ""
    price: Annotated[Money, FieldMeaning("without labour")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("of its price")] = "USD"
    note: Annotated[Text, FieldMeaning("in words")] = ""

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

    id: Annotated[Ident, FieldMeaning("its name in files")]
    name: Annotated[Name, FieldMeaning("on screen")]
    w: Annotated[float, Interval(ge=1, le=2_000), FieldMeaning("rated DC at 1,000 W/m² and a cell of 25 °C")]
    voc_v: Annotated[float, Interval(ge=1, le=500), FieldMeaning("with nothing connected")]
    vmp_v: Annotated[float, Interval(ge=1, le=500), FieldMeaning("at full power")]
    isc_a: Annotated[float, Interval(ge=0.1, le=100), FieldMeaning("short-circuited")]
    imp_a: Annotated[float, Interval(ge=0.1, le=100), FieldMeaning("at full power")]
    voc_percent_c: Annotated[
        PercentPerC | None, FieldMeaning("change of the open voltage; null where it is not listed")
    ] = None
    vmp_percent_c: Annotated[PercentPerC, FieldMeaning("likewise, at full power", PLANNING)] = -0.36
    power_percent_c: Annotated[PercentPerC, FieldMeaning("change of its power", PLANNING)] = -0.38
    noct_c: Annotated[Celsius, FieldMeaning("of the cell at 800 W/m² and 20 °C air", PLANNING)] = 45
    max_v: Annotated[
        float, Interval(ge=10, le=1_500), FieldMeaning("highest voltage of a string with this panel", PLANNING)
    ] = 600
    portable: Annotated[bool, FieldMeaning("folded, to be set out")] = False
    weatherproof: Annotated[bool, FieldMeaning("may stay out in rain")] = True
    weight_kg: Annotated[float, Interval(ge=0, le=200), FieldMeaning("of one")] = 0
    length_m: Annotated[float, Interval(ge=0, le=10), FieldMeaning("of one")] = 0
    width_m: Annotated[float, Interval(ge=0, le=10), FieldMeaning("of one")] = 0
    price: Annotated[Money, FieldMeaning("of one")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("of its price")] = "USD"


@dataclass(frozen=True, slots=True, kw_only=True)
class Battery:
    """A bare battery, to be put in series and side by side; it has no inverter."""

    id: Annotated[Ident, FieldMeaning("its name in files")]
    name: Annotated[Name, FieldMeaning("on screen")]
    volts: Annotated[float, Interval(ge=1, le=100), FieldMeaning("nominal, of one")]
    charged_v: Annotated[
        float,
        Interval(ge=1, le=120),
        FieldMeaning("highest, while it is charged; it must not exceed the limit of the input"),
    ]
    ah: Annotated[float, Interval(ge=1, le=2_000), FieldMeaning("it stores")]
    chemistry: Annotated[Text, FieldMeaning("of its cells; never connect unlike ones")] = "LFP"
    charge_a: Annotated[Amps, FieldMeaning("it may be charged with, 0 where it is unlisted")] = 0
    discharge_a: Annotated[Amps, FieldMeaning("it may give, 0 where it is unlisted")] = 0
    series_most: Annotated[int, Interval(ge=1, le=40), FieldMeaning("batteries the manufacturer allows in series")] = 1
    parallel_most: Annotated[
        int, Interval(ge=1, le=20), FieldMeaning("strings the manufacturer allows in parallel")
    ] = 1
    discharge_min_c: Annotated[Celsius, FieldMeaning("lowest cell temperature for output", PLANNING)] = -20
    charge_min_c: Annotated[Celsius, FieldMeaning("it charges from", PLANNING)] = 0
    weight_kg: Annotated[float, Interval(ge=0, le=200), FieldMeaning("of one")] = 0
    price: Annotated[Money, FieldMeaning("of one")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("of its price")] = "USD"

    @property
    def wh(self) -> float:
        """It stores, Wh."""
        return self.volts * self.ah


@dataclass(frozen=True, slots=True, kw_only=True)
class Generator:
    """An engine with an outlet."""

    id: Annotated[Ident, FieldMeaning("its name in files")]
    name: Annotated[Name, FieldMeaning("on screen")]
    volts: Annotated[OutputVolts, FieldMeaning("of the output")] = "120"
    running_w: Annotated[float, Interval(ge=50, le=50_000), FieldMeaning("continuous output at sea level")]
    rated_va: Annotated[VoltAmps, FieldMeaning("likewise in VA, 0 where its label gives W alone")] = 0
    surge_w: Annotated[Watts, FieldMeaning("for a start")] = 0
    fuel: Annotated[Fuel, FieldMeaning("what it burns")] = "petrol"
    half_l_h: Annotated[float, Interval(ge=0.01, le=50), FieldMeaning("l/h at half its running W")]
    full_l_h: Annotated[float, Interval(ge=0.01, le=50), FieldMeaning("l/h at all of it")]
    tank_l: Annotated[float, Interval(ge=0, le=1_000), FieldMeaning("its own tank")] = 0
    start: Annotated[Restart, FieldMeaning("whether it starts by itself when called", PLANNING)] = "by_hand"
    plug: Annotated[Text, FieldMeaning("of its large outlet")] = ""
    outlet_a: Annotated[Amps, FieldMeaning("of its large outlet")] = 0
    bonded_neutral: Annotated[bool, FieldMeaning("bonded to its frame")] = False
    noise_db: Annotated[float, Interval(ge=0, le=120), FieldMeaning("at 7 m")] = 0
    weight_kg: Annotated[float, Interval(ge=0, le=2_000), FieldMeaning("dry")] = 0
    price: Annotated[Money, FieldMeaning("of one")] = Decimal(0)
    currency: Annotated[str, Len(3, 3), FieldMeaning("of its price")] = "USD"


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
