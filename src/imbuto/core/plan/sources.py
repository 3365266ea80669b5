"""What holds and makes a plan's energy: stations, banks of batteries, arrays, a generator."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Interval, Len

from imbuto.core.basics.clock import Window
from imbuto.core.basics.units import Amps, Fraction, HourOfDay, Ident, Name, Text, WattHours, Watts
from imbuto.core.equipment.equipment_units import MOST_UNITS
from imbuto.core.equipment.wires import Cord

Spot = Literal["indoors", "garage"]
SPOT_WORDS: dict[Spot, str] = {"indoors": "indoors", "garage": "in the garage"}
Link = Literal["parallel", "coupler"]
School = Literal["fill", "carry"]
GivesBy = Literal["always", "night", "hours", "low_sun"]


@dataclass(frozen=True, slots=True, kw_only=True)
class AwayTimes:
    """When a source is not at home: every week, and in one outage.

    windows: of the week
    from_h, for_h: elapsed hours of the outage, for_h 0 for none
    back_with: its charge whenever it comes back
    """

    windows: tuple[Window, ...] = ()
    from_h: Annotated[float, Interval(ge=0, le=336)] = 0
    for_h: Annotated[float, Interval(ge=0, le=336)] = 0
    back_with: Fraction = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Source:
    """One station with its modules, or several units linked.

    station: id in the catalogue
    modules: how many in all
    module: id of their kind in the catalogue, None for the station's own
    units: of the station
    link: side by side, or two held in step by the maker's coupler for both legs
    spot: where it stands
    deliverable: real over label capacity
    health: what age has left of it
    setting: one of its station's settings, by name; empty for none
    own_w: its own draw as it was measured, modules and all, None for what the label says
    drive_wh: of a vehicle, kept for the drive
    owned: it is there already, owned_units of them
    plugged_into: id of a feed of another station that it hangs behind, taking that one for the grid, None for none
    own_first: behind it, it empties itself before it takes from that one
    after: id of the source at whose inlet it waits its turn, and swap_at: the charge of that one at which a hand
        changes them, if anyone is awake
    charge_w: set on its charger, None for all it takes
    charge_circuit: the one its charger is plugged into
    away: when it is not at home
    """

    id: Ident
    station: Ident
    modules: Annotated[int, Interval(ge=0, le=60)] = 0
    module: Ident | None = None
    units: Annotated[int, Interval(ge=1, le=MOST_UNITS)] = 1
    link: Link = "parallel"
    spot: Spot = "indoors"
    deliverable: Annotated[float, Interval(ge=0.3, le=1)] = 0.97
    health: Annotated[float, Interval(ge=0.2, le=1)] = 1.0
    setting: Text = ""
    own_w: Watts | None = None
    drive_wh: WattHours = 0
    owned: bool = False
    owned_units: Annotated[int, Interval(ge=1, le=MOST_UNITS)] = 1
    plugged_into: Ident | None = None
    own_first: bool = False
    after: Ident | None = None
    swap_at: Fraction = 0.2
    charge_w: Watts | None = None
    charge_circuit: Ident | None = None
    away: AwayTimes | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class BankBranch:
    """Strings of one kind of battery in a bank.

    battery: id in the catalogue
    series: of them in a string
    parallel: strings side by side
    fuse_a: of the branch, 0 where none is entered
    """

    battery: Ident
    series: Annotated[int, Interval(ge=1, le=40)] = 1
    parallel: Annotated[int, Interval(ge=1, le=20)] = 1
    fuse_a: Amps = 0

    @property
    def count(self) -> int:
        """Batteries in all."""
        return self.series * self.parallel


@dataclass(frozen=True, slots=True, kw_only=True)
class Bank:
    """Bare batteries without an inverter, that give direct current to a solar input of a source.

    battery: id in the catalogue
    series: of them in a string
    parallel: strings side by side
    to, input: the source and its solar input, counted from 1
    amps: what the lead between gives at most, its fuse or limiter
    fuse_a: at the bank's terminals, 0 where none is entered
    by: always; by night, where an array has the same input by day and a hand changes them over; in set hours; or
        while that array brings little, again by hand
    windows: the set hours, by a timer
    below_w: DC W of that array at which the hand changes over
    controller_w: of its own charge controller for arrays of its own, 0 for none
    owned: it is there already
    others: branches of other kinds, side by side with its own
    """

    id: Ident
    name: Name
    battery: Ident
    series: Annotated[int, Interval(ge=1, le=40)] = 1
    parallel: Annotated[int, Interval(ge=1, le=20)] = 1
    to: Ident = "main"
    input: Annotated[int, Interval(ge=1, le=12)] = 1
    amps: Amps = 10
    fuse_a: Amps = 0
    by: GivesBy = "always"
    windows: tuple[Window, ...] = ()
    below_w: Watts = 50
    controller_w: Watts = 0
    spot: Spot = "indoors"
    owned: bool = False
    others: Annotated[tuple[BankBranch, ...], Len(0, 6)] = ()

    @property
    def branches(self) -> tuple[BankBranch, ...]:
        """Its own strings first, then those of other kinds."""
        own = BankBranch(battery=self.battery, series=self.series, parallel=self.parallel, fuse_a=self.fuse_a)
        return (own, *self.others)


@dataclass(frozen=True, slots=True, kw_only=True)
class Engine:
    """The generator of a plan, at the inlet or a station's own input.

    generator: id in the catalogue
    source: the one it charges
    also: others it charges, in this order, with what is left
    school: fill the battery and stop, or carry the house
    stock_l: fuel at hand, its tank in; start_at
    stop_at: charge at which it is started and stopped, to fill
    windows: when it may run, empty for any hour
    charges: whether the station's input charges from it, or only passes it on
    owned: it is there already, and costs nothing
    """

    generator: Ident
    source: Ident = "main"
    also: tuple[Ident, ...] = ()
    school: School = "fill"
    stock_l: Annotated[float, Interval(ge=0, le=10_000)] = 20.0
    start_at: Annotated[Fraction, Interval(le=0.95)] = 0.30
    stop_at: Annotated[Fraction, Interval(ge=0.05)] = 0.90
    windows: tuple[Window, ...] = ()
    charges: bool = True
    owned: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Shade:
    """When something stands before an array.

    from_h, to_h: local hours of the day
    months: 1 to 12, none for all
    share: of the direct light it takes
    """

    from_h: HourOfDay
    to_h: HourOfDay
    months: tuple[Annotated[int, Interval(ge=1, le=12)], ...] = ()
    share: Fraction = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class SetOut:
    """When somebody sets an array out, or plugs it in, and takes it in again.

    from_h, to_h: local hours of the day between which it is out
    who: does it, empty for whoever is there
    outage_only: on ordinary days it stays in
    shut_in_wind: under a storm's sky it stays in, because its inlet has to stay shut
    """

    from_h: HourOfDay = 8
    to_h: HourOfDay = 18
    who: Text = ""
    outage_only: bool = True
    shut_in_wind: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Array:
    """Panels wired alike, on one solar input of one source or on the controller of one bank.

    panel: id in the catalogue
    series: panels in a string
    parallel: strings side by side
    tilt: ° from lying flat
    azimuth: ° it faces, from north by east
    source: or bank
    input: of the source, counted from 1
    ac: it has an inverter of its own on the house's AC side, and no input
    factor: of what its panels would give by sky and cells, as it was measured, None for the planning default
    cord: the cable between
    owned: it is there already, and costs nothing
    set_out: when somebody sets it out, None for one that stays out and plugged in, or that folds and is out by day
    """

    id: Ident
    name: Name
    panel: Ident
    series: Annotated[int, Interval(ge=1, le=30)] = 1
    parallel: Annotated[int, Interval(ge=1, le=20)] = 1
    tilt: Annotated[float, Interval(ge=0, le=90)] = 30.0
    azimuth: Annotated[float, Interval(ge=0, le=360)] = 180.0
    source: Ident = "main"
    input: Annotated[int, Interval(ge=1, le=12)] = 1
    ac: bool = False
    shade: tuple[Shade, ...] = ()
    factor: Annotated[float, Interval(ge=0.3, le=1.2)] | None = None
    cord: Cord | None = None
    owned: bool = False
    set_out: SetOut | None = None

    @property
    def count(self) -> int:
        """Panels in all."""
        return self.series * self.parallel
