"""What a home remembers: tests with their rows, and entries of the logbook."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Literal

from annotated_types import Interval, Len

from imbuto.core.basics.errors import InvalidValue
from imbuto.core.basics.moments import LocalTime
from imbuto.core.basics.units import Ident, Name, Text

EntryKind = Literal["note", "defect", "part", "firmware", "cycles", "waking", "energy"]
# What an entry's figures may be called, and their unit.
FIGURES: dict[str, str] = {
    "sun_kwh": "kWh",
    "grid_kwh": "kWh",
    "house_kwh": "kWh",
    "battery_in_kwh": "kWh",
    "battery_out_kwh": "kWh",
    "battery_at_sun_kwh": "kWh",
    "charge": "%",
    "evening": "%",
    "cycles": "",
    "days": "days",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """One line of a test as it was found.

    line: of its procedure
    at: local wall-clock time
    value: in the line's unit, 1 and 0 for yes and no
    second: a further figure where a line has two, such as a gauge beside a load
    note: in words
    """

    id: Ident
    line: Ident
    at: LocalTime
    value: Annotated[float, Interval(ge=-1e6, le=1e6)]
    second: Annotated[float, Interval(ge=-1e6, le=1e6)] | None = None
    note: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Trial:
    """A test.

    procedure: its id among those of the plan
    joined: what the plan was like then, so that one changed since calls for it again
    began, ended: local wall-clock times, ended None while it goes on
    who: did it
    stopped: it was broken off, and why
    kept: what it taught was put into the plan
    """

    id: Ident
    procedure: Ident
    plan: Ident
    joined: Text = ""
    began: LocalTime
    ended: LocalTime | None = None
    who: Text = ""
    stopped: Text = ""
    kept: bool = False
    rows: dict[str, Row] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class DefectCase:
    """A defect until it is closed.

    symptom, readings, firmware: as they were
    asked: who was; workaround
    effect: on the plan
    closed: when, local time, None while it is open
    ending: how
    """

    symptom: Text = ""
    readings: Text = ""
    firmware: Text = ""
    asked: Text = ""
    workaround: Text = ""
    effect: Text = ""
    closed: LocalTime | None = None
    ending: Text = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """A line of the logbook.

    at: local wall-clock time
    figures: by the names of FIGURES
    case: of a defect
    """

    id: Ident
    kind: EntryKind
    at: LocalTime
    title: Name
    source: Annotated[str, Len(0, 60)] = ""
    note: Text = ""
    figures: dict[str, Annotated[float, Interval(ge=0, le=1e6)]] = field(default_factory=dict)
    case: DefectCase | None = None


def check_trial(trial: Trial) -> None:
    """Raise InvalidValue where its times run backwards, or its rows' ids disagree."""
    if trial.ended is not None and trial.ended < trial.began:
        raise InvalidValue("test, ended", trial.ended.isoformat(), "choose an end after the start")
    for key, row in trial.rows.items():
        if key != row.id:
            raise InvalidValue(f"rows/{key}/id", row.id, f"its key is “{key}”, and the two must be the same")
        if row.at < trial.began:
            raise InvalidValue("test, row", row.at.isoformat(), "choose a time after the test started")


def check_entry(entry: Entry) -> None:
    """Raise InvalidValue for figures that no entry has, and a defect without its symptom."""
    for name, value in entry.figures.items():
        if name not in FIGURES:
            raise InvalidValue("entry, figure", name, f"choose one of {', '.join(FIGURES)}")
        if FIGURES[name] == "%" and value > 1:
            raise InvalidValue(f"entry, {name}", value, "a charge is from 0 to 1")
    if (entry.kind == "defect") != (entry.case is not None):
        raise InvalidValue("entry, case", entry.kind, "only a defect can have a case")
    if entry.case is not None and not entry.case.symptom.strip():
        raise InvalidValue("defect, symptom", "", "describe the fault")
