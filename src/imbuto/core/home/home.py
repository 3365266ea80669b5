"""The Home: facts that hold whatever you buy."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated, Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from annotated_types import Interval, Len

from imbuto.core.basics.errors import InvalidValue, UnknownReference
from imbuto.core.basics.measures import Measures
from imbuto.core.basics.units import Amps, Celsius, Fraction, Ident, Name, Text, Watts
from imbuto.core.equipment.catalogue import Catalogue
from imbuto.core.home.alert import Alert, check_alert
from imbuto.core.home.binder import BinderEntry, check_filed
from imbuto.core.home.circuits import Circuit, SubPanel
from imbuto.core.home.household import Contact, Household, OwnedItem, Person, PracticeRound
from imbuto.core.home.live_outage import Live, check_live
from imbuto.core.home.loads import Load, Season, check_load, mean_w
from imbuto.core.home.logbook_entries import Entry, Trial, check_entry, check_trial
from imbuto.core.home.tariff import Tariff, check_tariff

Currency = Annotated[str, Len(3, 3)]


@dataclass(frozen=True, slots=True, kw_only=True)
class Service:
    """The supply.

    volts: leg to neutral
    legs: 2 is split-phase 120/240 V
    slots: of the panel, 0 when none is entered
    main_a: rating of the main breaker
    contracted_w: what the supplier allows at once, where that is a limit
    """

    volts: Literal[120, 230] = 120
    legs: Literal[1, 2, 3] = 2
    main_a: Amps = 200
    slots: Annotated[int, Interval(ge=0, le=84)] = 0
    contracted_w: Watts | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class SkyMonth:
    """What days of a month are like here: shares of clear, broken and overcast ones; the rest are stormy."""

    month: Annotated[int, Interval(ge=1, le=12)]
    clear: Fraction
    broken: Fraction
    overcast: Fraction


@dataclass(frozen=True, slots=True, kw_only=True)
class Site:
    """Where the home stands.

    place: in words
    time_zone: a zone name such as Europe/Rome
    currency: its three letters
    climate: in words
    latitude, longitude: degrees, north and east positive
    elevation_m: above the sea
    record_low_c, record_high_c: the coldest and hottest air ever there, None where nobody has looked it up
    sky: days by month, where known better than by climate
    measures: in which figures are written, None for those of the place
    """

    place: Text = ""
    time_zone: Annotated[str, Len(1, 60)] = "UTC"
    currency: Currency = "USD"
    climate: Text = ""
    latitude: Annotated[float, Interval(ge=-66, le=66)] = 45.0
    longitude: Annotated[float, Interval(ge=-180, le=180)] = 0.0
    elevation_m: Annotated[float, Interval(ge=-430, le=6_000)] = 0.0
    record_low_c: Celsius | None = None
    record_high_c: Celsius | None = None
    sky: tuple[SkyMonth, ...] = ()
    measures: Measures | None = None

    @property
    def in_measures(self) -> Measures:
        """In which figures are written here: as somebody chose, or by the place."""
        us = self.currency == "USD"
        return self.measures or Measures(system="us" if us else "metric", clock=12 if us else 24)

    @property
    def tz(self) -> ZoneInfo:
        """The zone of the home's clocks."""
        return ZoneInfo(self.time_zone)


@dataclass(frozen=True, slots=True, kw_only=True)
class LearntDraw:
    """How much more or less the house draws in a season than its loads say one by one, as an outage has shown.

    scale: of every load's average
    error: one sigma of it
    lived: the outage that showed it
    """

    scale: Annotated[float, Interval(ge=0.2, le=5)]
    error: Annotated[float, Interval(ge=0, le=2)] = 0.0
    lived: Ident | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Home:
    """A home's facts. circuits, loads and panels behind feeders are keyed by id, so that an edit names what it changes.

    alert: a storm that is expected
    live: an outage that is on, None for none
    lived: those that are over, by id
    trials: tests
    book: entries of the logbook
    tariffs: what a kWh costs
    binder: what is kept on file, likewise
    learnt: what outages have shown of the house's draw, by season
    """

    id: Ident
    name: Name
    service: Service = field(default_factory=Service)
    site: Site = field(default_factory=Site)
    panels: dict[str, SubPanel] = field(default_factory=dict)
    circuits: dict[str, Circuit] = field(default_factory=dict)
    loads: dict[str, Load] = field(default_factory=dict)
    catalogue: Catalogue = field(default_factory=Catalogue)
    household: Household = field(default_factory=Household)
    alert: Alert | None = None
    live: Live | None = None
    lived: dict[str, Live] = field(default_factory=dict)
    trials: dict[str, Trial] = field(default_factory=dict)
    book: dict[str, Entry] = field(default_factory=dict)
    tariffs: dict[str, Tariff] = field(default_factory=dict)
    binder: dict[str, BinderEntry] = field(default_factory=dict)
    learnt: dict[Season, LearntDraw] = field(default_factory=dict)
    note: Text = ""

    def loads_on(self, circuit_id: str) -> list[Load]:
        """The loads that hang on a circuit."""
        return [load for load in self.loads.values() if load.circuit == circuit_id]

    def panel_name(self, panel: str | None) -> str:
        """What a panel is called, in the middle of a sentence."""
        return self.panels[panel].name if panel is not None else "the main panel"

    def way_to(self, panel: str | None) -> tuple[str, ...]:
        """The sub-panels between the main one and this one, this one last; empty for the main one."""
        way: list[str] = []
        while panel is not None and panel not in way:
            way.insert(0, panel)
            panel = self.panels[panel].behind
        return tuple(way)

    def needs_both_legs(self, load: Load) -> bool:
        """Whether the load is a 240 V one on a 120/240 V service."""
        if self.service.legs != 2:
            return False
        circuit = self.circuits.get(load.circuit or "")
        return load.both_legs or (circuit is not None and circuit.poles == 2)


def day_wh(home: Home) -> float:
    """What the whole house uses in an average day, Wh."""
    return 24 * sum(mean_w(load) for load in home.loads.values())


def check_home(home: Home) -> None:
    """Raise InvalidValue or UnknownReference for facts that contradict each other."""
    try:
        ZoneInfo(home.site.time_zone)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise UnknownReference("time zone", home.site.time_zone, "use a zone name such as Europe/Rome") from None
    months = [s.month for s in home.site.sky]
    if len(months) != len(set(months)):
        raise InvalidValue("days by month", f"{months}", "enter each month once")
    for s in home.site.sky:
        if s.clear + s.broken + s.overcast > 1 + 1e-9:
            raise InvalidValue(
                f"days of month {s.month}", s.clear + s.broken + s.overcast, "the shares may add up to 1 at most"
            )
    _check_panels(home)
    for key, circuit in home.circuits.items():
        _same_id(f"circuits/{key}", key, circuit.id)
        if circuit.panel is not None and circuit.panel not in home.panels:
            raise UnknownReference(f"{circuit.name}, panel", circuit.panel, "this home doesn't have that panel")
    _check_slots(home)
    for key, circuit in home.circuits.items():
        if circuit.neutral_partner is not None and circuit.neutral_partner not in home.circuits:
            raise UnknownReference(
                f"{circuit.name}, shared neutral", circuit.neutral_partner, "this home doesn't have that circuit"
            )
        if circuit.neutral_partner == key:
            raise InvalidValue(
                f"{circuit.name}, shared neutral", circuit.name, ("choose another circuit to share it with")
            )
    for key, load in home.loads.items():
        _same_id(f"loads/{key}", key, load.id)
        if load.circuit is not None and load.circuit not in home.circuits:
            raise UnknownReference(f"{load.name}, circuit", load.circuit, "this home doesn't have that circuit")
        check_load(load)
    check_household(home.household, home.circuits)
    if home.alert is not None:
        check_alert(home.alert)
    for live in (*home.lived.values(), *([home.live] if home.live is not None else [])):
        check_live(live)
    for key, trial in home.trials.items():
        _same_id(f"trials/{key}", key, trial.id)
        check_trial(trial)
    for key, entry in home.book.items():
        _same_id(f"book/{key}", key, entry.id)
        check_entry(entry)
    for key, tariff in home.tariffs.items():
        _same_id(f"tariffs/{key}", key, tariff.id)
        check_tariff(tariff, home.site.currency)
    for key, filed in home.binder.items():
        _same_id(f"binder/{key}", key, filed.id)
        check_filed(filed)


def _check_panels(home: Home) -> None:
    """Every feeder comes from a panel that is there, and none in a circle."""
    for key, panel in home.panels.items():
        _same_id(f"panels/{key}", key, panel.id)
        if panel.behind is not None and panel.behind not in home.panels:
            raise UnknownReference(f"{panel.name}, fed from", panel.behind, "this home doesn't have that panel")
    for panel in home.panels.values():
        if home.panels[home.way_to(panel.id)[0]].behind is not None:
            raise InvalidValue(
                f"{panel.name}, fed from", home.panel_name(panel.behind), "that panel is powered from this one"
            )


def _check_slots(home: Home) -> None:
    """One breaker a slot, feeders among them; two tandem ones may share it."""
    taken: dict[tuple[str | None, int], list[tuple[str, bool]]] = {}
    breakers = [(c.panel, c.slots, c.name, c.tandem) for c in home.circuits.values()]
    breakers += [(p.behind, p.feeder_slots, f"The feeder of {p.name}", False) for p in home.panels.values()]
    for panel, slots, name, tandem in breakers:
        has = home.service.slots if panel is None else home.panels[panel].slots
        for slot in slots:
            if has and slot > has:
                raise InvalidValue(f"{name}, slot", slot, f"{home.panel_name(panel)} has {has} slots")
            there = taken.setdefault((panel, slot), [])
            if len(there) > 1 or any(not other or not tandem for _, other in there):
                rule = f"{there[0][0]} is already there" + ("; two tandem breakers can share one" if not tandem else "")
                raise InvalidValue(f"{name}, slot", slot, rule)
            there.append((name, tandem))


def check_household(household: Household, circuits: dict[str, Circuit]) -> None:
    """Raise InvalidValue or UnknownReference for people, things or a walk that contradict themselves."""
    kinds: dict[str, Mapping[str, Person | OwnedItem | PracticeRound | Contact]] = {
        "people": household.people,
        "existing": household.existing,
        "drills": household.drills,
        "contacts": household.contacts,
    }
    for kind, entries in kinds.items():
        for key, entry in entries.items():
            _same_id(f"household/{kind}/{key}", key, entry.id)
    history = household.history
    known = [h for h in (history.shortest_h, history.usual_h, history.longest_h) if h > 0]
    if known != sorted(known):
        rule = "enter the shortest, the usual and the longest in that order"
        raise InvalidValue("past outages", f"{known} h", rule)
    if household.walk is not None:
        for circuit in household.walk.entries:
            if circuit not in circuits:
                raise UnknownReference("walk", circuit, "this home doesn't have that circuit")


def _same_id(where: str, key: str, inner: str) -> None:
    if key != inner:
        raise InvalidValue(f"{where}/id", inner, f"its key is “{key}”, and the two must be the same")
