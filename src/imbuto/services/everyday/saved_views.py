"""What was saved in a day, a week or a month, by the meters of any maker's file."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Annotated, Literal

import numpy as np
from annotated_types import Len

from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.everyday.metered_savings import (
    LEAST_TOLD,
    QUARTER_S,
    ROLES,
    MeteredPeriod,
    Role,
    by_quarter_hours,
    metered_period,
    period_steps,
)
from imbuto.core.measuring.metered_series import watts
from imbuto.services.desk.planner import Planner
from imbuto.services.house.importing import Importing, Outcome
from imbuto.store import series_blocks as stored
from imbuto.store.energy_days import energy_between, extents, keep_energy, remove_energy
from imbuto.store.models import ReadingRow

By = Literal["day", "week", "month"]
MOST_DAYS = 1_100  # of a period


@dataclass(frozen=True, slots=True, kw_only=True)
class EnergyChannel:
    """A channel of a file, and what it meters."""

    channel: Annotated[str, Len(1, 400)]
    role: Role


@dataclass(frozen=True, slots=True, kw_only=True)
class RoleExtent:
    """What is kept of a role. first, last: days."""

    role: Role
    first: date
    last: date


@dataclass(frozen=True, slots=True, kw_only=True)
class SavedRow:
    """A day, week or month, kWh and money; None where it is not known."""

    first: date
    last: date
    house: float | None
    bought: float | None
    sent: float | None
    sun: float | None
    charged: float | None
    delivered: float | None
    saved: float | None
    at_price: float | None
    by_sun: float | None
    told: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CircuitShare:
    """What a circuit, or a load with a meter of its own, used in a period.

    kwh: metered; told: share of the period that was metered
    share: of the house in the same hours, 0 to 1; None where the house isn't metered then
    """

    name: str
    kwh: float
    share: float | None
    told: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SavedView:
    """What was saved in a period.

    kept: what there is
    whole: the period in one row; rows: by day, week or month
    circuits: of each that is metered, the most first
    sums: both bills by hand
    at_most: the share met by sun is at most that, as only sun and grid are metered
    notes: what is missing, and what was worked out
    """

    currency: str
    first: date
    last: date
    kept: list[RoleExtent]
    whole: SavedRow | None
    rows: list[SavedRow]
    circuits: list[CircuitShare]
    sums: list[str]
    at_most: bool
    notes: list[str]


def keep_channels(importing: Importing, home_id: str, job_id: str, chosen: Sequence[EnergyChannel]) -> list[RoleExtent]:
    """Keep channels of a file that was read, each as what it meters; what was there of the same hours is replaced.
    Raises NotFound, InvalidValue."""
    planner = importing.planner
    planner.open(home_id)
    outcome = importing.jobs.get(job_id).result
    if not isinstance(outcome, Outcome) or importing.jobs.get(job_id).home_id != home_id:
        raise NotFound("job", job_id, "the file has nothing to save; import it again")
    by_name = {c.name: c for c in outcome.log.channels}
    roles = [c.role for c in chosen]
    if len(set(roles)) < len(roles):
        twice = next(r for r in roles if roles.count(r) > 1)
        raise InvalidValue("role", twice, "two channels can't meter the same thing; choose one of them")
    energy = []
    for one in chosen:
        if one.channel not in by_name:
            raise InvalidValue("channel", one.channel, "the file doesn't have that channel")
        series = by_name[one.channel].series
        energy.append((one.role, by_quarter_hours(*watts(series), series.interval_s)))
    with planner.database.writing() as session:
        for role, wh in energy:
            keep_energy(session, home_id, role, wh)
    return kept_roles(planner, home_id)


def kept_roles(planner: Planner, home_id: str) -> list[RoleExtent]:
    """What is kept, role by role. Raises NotFound."""
    zone = planner.open(home_id).home.site.tz
    with planner.database.reading() as session:
        found = extents(session, home_id)

    def day(quarter: int) -> date:
        return datetime.fromtimestamp(quarter * QUARTER_S, zone).date()

    return [RoleExtent(role=r, first=day(found[r][0]), last=day(found[r][1])) for r in ROLES if r in found]


def forget_role(planner: Planner, home_id: str, role: Role) -> list[RoleExtent]:
    """Forget what is kept of a role. Raises NotFound."""
    planner.open(home_id)
    with planner.database.writing() as session:
        remove_energy(session, home_id, [role])
    return kept_roles(planner, home_id)


def saved_view(
    planner: Planner,
    home_id: str,
    first: date | None = None,
    last: date | None = None,
    by: By = "day",
    price: float | None = None,
) -> SavedView:
    """What was saved from a day to a day, both counted; the last month that is metered where they are not said.
    Raises NotFound, InvalidValue."""
    home = planner.open(home_id).home
    kept = kept_roles(planner, home_id)
    if first is None or last is None:
        first, last = _usual(kept, planner.now(home).date())
    if last < first or (last - first).days > MOST_DAYS:
        raise InvalidValue("last", str(last), f"choose a last day after the first, at most {MOST_DAYS} days later")
    known = kept_energy(planner, home_id, first, last)

    def found(a: date, b: date) -> MeteredPeriod:
        return metered_period(a, b, home.site.time_zone, known, home.tariffs, price)

    if not kept:
        return SavedView(
            currency=home.site.currency,
            first=first,
            last=last,
            kept=[],
            whole=None,
            rows=[],
            circuits=[],
            sums=[],
            at_most=False,
            notes=[],
        )
    whole = found(first, last)
    sums = []
    if whole.without is not None and whole.with_it is not None:
        sums = [f"Without the plan: {whole.without.by_hand}", f"As metered: {whole.with_it.by_hand}"]
    return SavedView(
        currency=home.site.currency,
        first=first,
        last=last,
        kept=kept,
        whole=_row(whole),
        rows=[_row(found(a, b)) for a, b in _parts(first, last, by)],
        circuits=_circuits(planner, home_id, whole),
        sums=sums,
        at_most=whole.at_most,
        notes=_notes(whole, has_tariff=bool(home.tariffs)),
    )


def _circuits(planner: Planner, home_id: str, whole: MeteredPeriod) -> list[CircuitShare]:
    """What each metered circuit and load used in a period, beside the house in the same hours."""
    home = planner.open(home_id).home
    steps, _, _ = period_steps(whole.first, whole.last, home.site.time_zone)
    begin = round(steps.start.timestamp() / QUARTER_S)
    house = whole.rows.get("house")
    found = []
    with planner.database.reading() as session:
        for row in stored.list_series(session, home_id):
            reading = session.get(ReadingRow, (home_id, row.reading_id))
            if reading is None or reading.withdrawn or not (reading.circuit or reading.load):
                continue
            a, b = stored.extent(session, home_id, row.id)
            if b < begin * QUARTER_S or a > (begin + steps.n) * QUARTER_S:
                continue
            _, series = stored.load(session, home_id, row.id)
            wh = by_quarter_hours(*watts(series), series.interval_s)
            used = np.array([wh.get(begin + i, np.nan) for i in range(steps.n)])
            told = np.isfinite(used)
            if not told.any():
                continue
            both = told & np.isfinite(house) if house is not None else np.zeros(steps.n, dtype=bool)
            beside = float(house[both].sum()) if house is not None else 0.0
            found.append(
                CircuitShare(
                    name=home.circuits[reading.circuit].name
                    if reading.circuit in home.circuits
                    else home.loads[reading.load].name
                    if reading.load in home.loads
                    else row.channel or row.file,
                    kwh=float(used[told].sum()) / 1000,
                    share=float(used[both].sum()) / beside if beside > 0 else None,
                    told=float(told.mean()),
                )
            )
    return sorted(found, key=lambda c: -c.kwh)


def kept_energy(planner: Planner, home_id: str, first: date, last: date) -> dict[Role, dict[int, float]]:
    """Wh by quarter hour since 1970 of each role, from a day to a day. Raises NotFound."""
    steps, _, _ = period_steps(first, last, planner.open(home_id).home.site.time_zone)
    begin = steps.start.timestamp()
    with planner.database.reading() as session:
        energy = energy_between(session, home_id, begin - 86_400, begin + steps.hours * 3600 + 86_400)
    return {r: energy[r] for r in ROLES if r in energy}


def _usual(kept: Sequence[RoleExtent], today: date) -> tuple[date, date]:
    """The month of the last day that is metered."""
    at = max((k.last for k in kept), default=today)
    first = at.replace(day=1)
    return first, (first + timedelta(days=32)).replace(day=1) - timedelta(days=1)


def _parts(first: date, last: date, by: By) -> list[tuple[date, date]]:
    """The days, the weeks from Monday, or the months of a period, cut at its ends."""
    found: list[tuple[date, date]] = []
    at = first
    while at <= last:
        if by == "day":
            end = at
        elif by == "week":
            end = at + timedelta(days=6 - at.weekday())
        else:
            end = (at.replace(day=1) + timedelta(days=32)).replace(day=1) - timedelta(days=1)
        found.append((at, min(end, last)))
        at = end + timedelta(days=1)
    return found


def _row(x: MeteredPeriod) -> SavedRow:
    return SavedRow(
        first=x.first,
        last=x.last,
        saved=x.saved,
        at_price=x.at_price,
        by_sun=x.by_sun,
        told=x.told,
        **{role: x.kwh[role] for role in ROLES},
    )


def _notes(x: MeteredPeriod, *, has_tariff: bool) -> list[str]:
    found = []
    if x.kwh["bought"] is None:
        found.append(
            "The grid isn't metered in these days. Import the file of your grid meter or of your station's app."
        )
    if x.kwh["house"] is None:
        found.append(
            "The house's use isn't metered in these days. Import it, or the sun and the energy sent to the grid: "
            "then Imbuto calculates it."
        )
    elif x.worked_out:
        found.append(
            "Imbuto calculates the house's use as bought plus sun, less the exported energy and the energy stored "
            "in the battery."
        )
    if x.kwh["house"] is not None and x.kwh["bought"] is not None:
        if x.told < LEAST_TOLD:
            found.append(f"Only {100 * x.told:.0f}% of the hours are metered. The rest counts in neither bill.")
        if not has_tariff:
            found.append("No tariff is entered yet. Enter your prices, or type one below.")
    return found
