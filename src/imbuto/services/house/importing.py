"""Meter data taken in: read in the background, analysed channel by channel, then kept and noted where it belongs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import numpy as np
from annotated_types import Len
from sqlalchemy.orm import Session

from imbuto.core.basics.elsewhere import Progress, run_elsewhere_with_progress
from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.core.basics.units import Ident
from imbuto.core.home.loads import Season
from imbuto.core.measuring import log_analysis as logs
from imbuto.core.measuring.log_analysis import Log, LogShape, PartKind
from imbuto.core.measuring.metered_series import watts
from imbuto.core.measuring.readings import Figure, Reading, Side
from imbuto.services.desk.background_jobs import Job, Jobs, JobState
from imbuto.services.desk.judging import Pair
from imbuto.services.desk.planner import EditResult, Planner
from imbuto.services.house.measuring import Measuring, Target
from imbuto.store import series_blocks as stored
from imbuto.store.models import SeriesRow

if TYPE_CHECKING:
    from imbuto.core.basics.clock import FloatArray
    from imbuto.formats.meter_data.channels import Channel, Decimal, MeterLog

SKETCH_POINTS = 720
MOST_MARKS = 300


@dataclass(frozen=True, slots=True, kw_only=True)
class PartView:
    """One thing that switches in a channel. spans: of its runs, as parts of the log's length, 0 to 1."""

    kind: PartKind
    w: float
    duty: float
    starts_a_day: float
    minutes: float
    spans: list[tuple[float, float]]


@dataclass(frozen=True, slots=True, kw_only=True)
class ChannelView:
    """A channel and what was found in it.

    reading: the text that notes it
    sketch_w: least and most W of equal stretches, to draw
    profile_w: by hour of day
    """

    name: str
    samples: int
    shape: LogShape | None
    start: datetime | None
    hours: float
    gaps: int
    average_w: float
    rest_w: float
    run_w: float
    highest_w: float
    run_seen: bool
    duty: float
    cycle_h: float | None
    starts_a_day: float
    parts: list[PartView]
    sketch_w: list[tuple[float, float]]
    profile_w: list[float]
    reading: str
    problem: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LogView:
    """A file read: what was guessed, in sentences, and its channels."""

    rows: int
    notes: list[str]
    channels: list[ChannelView]


@dataclass(frozen=True, slots=True, kw_only=True)
class JobView:
    """How far a job is, and what it came to.

    part: 0 to 1
    problem: a sentence
    """

    id: str
    state: JobState
    part: float
    problem: str
    log: LogView | None


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptChannel:
    """A channel to keep, and what it was measured at: a load, a circuit, or with neither the whole home."""

    channel: Annotated[str, Len(1, 400)]
    load: Ident | None = None
    circuit: Ident | None = None
    side: Side = "appliance"
    setting: Annotated[str, Len(0, 80)] = ""
    season: Season = "any"


@dataclass(frozen=True, slots=True, kw_only=True)
class SeriesView:
    """A series kept. of: the name of what it was measured at."""

    id: str
    reading: str
    channel: str
    file: str
    of: str
    start: datetime
    end: datetime
    samples: int
    withdrawn: bool


@dataclass(frozen=True, slots=True)
class Outcome:
    """What reading a file came to."""

    log: MeterLog
    view: LogView
    file: str


def read_log(path: Path, name: str, zone: str, decimal: Decimal, progress: Progress) -> MeterLog:
    """Read a log; see ``meterlog.read``, whose library of tables is slow to load and only wanted here."""
    from imbuto.formats.meter_data import meterlog

    return meterlog.read(path, name, zone, progress, decimal)


class Importing:
    """The use cases on meter data."""

    def __init__(self, planner: Planner, jobs: Jobs) -> None:
        self.planner = planner
        self.jobs = jobs

    def zone(self, home_id: str, asked: str) -> str:
        """The zone to read a wall clock in: the home's, the home's standard time all year, or UTC. Raises NotFound."""
        home = self.planner.open(home_id).home
        if asked == "utc":
            return "UTC"
        if asked == "standard":
            january = datetime(2026, 1, 1, tzinfo=UTC).astimezone(home.site.tz).utcoffset()
            july = datetime(2026, 7, 1, tzinfo=UTC).astimezone(home.site.tz).utcoffset()
            assert january is not None
            assert july is not None
            hours = min(january, july).total_seconds() / 3600
            if hours != int(hours):
                raise InvalidValue("clock", asked, "this zone's standard time isn't a whole hour; choose UTC")
            return f"Etc/GMT{-int(hours):+d}" if hours else "UTC"
        return home.site.time_zone

    def begin(self, home_id: str, path: Path, name: str, clock: str = "home", decimal: Decimal = "guess") -> JobView:
        """Read a file in the background; it is deleted when read. decimal: the mark of a CSV's numbers. Raises
        NotFound, InvalidValue."""
        zone = self.zone(home_id, clock)

        def work(job: Job) -> Outcome:
            try:
                log = run_elsewhere_with_progress(
                    read_log, lambda part: job.progress(0.6 * part), path, name, zone, decimal
                )
            finally:
                path.unlink(missing_ok=True)
            channels = []
            for i, channel in enumerate(log.channels):
                job.progress(0.6 + 0.4 * i / len(log.channels))
                channels.append(channel_view(channel, zone))
            return Outcome(log, LogView(rows=log.rows, notes=log.notes, channels=channels), name)

        return self.view(self.jobs.start(home_id, work).id)

    def view(self, job_id: str) -> JobView:
        """How far a job is. Raises NotFound."""
        job = self.jobs.get(job_id)
        result = job.result
        log = result.view if isinstance(result, Outcome) and job.state == "done" else None
        return JobView(id=job.id, state=job.state, part=job.part, problem=job.problem, log=log)

    def keep(
        self, home_id: str, edit_id: str, job_id: str, kept: Sequence[KeptChannel], pair: Pair | None
    ) -> EditResult:
        """Keep channels of a file that was read, and note each; all or none, as one edit.

        Raises NotFound, InvalidValue.
        """
        measuring = Measuring(self.planner)
        if self.planner.has_edit(edit_id):
            return self.planner.answer(self.planner.state(home_id), pair)
        outcome = self.jobs.get(job_id).result
        if not isinstance(outcome, Outcome) or self.jobs.get(job_id).home_id != home_id:
            raise NotFound("job", job_id, "the file has nothing to save; import it again")
        by_name = {c.name: (c, v) for c, v in zip(outcome.log.channels, outcome.view.channels, strict=True)}
        noted: list[tuple[Reading, SeriesRow, Channel]] = []
        for i, one in enumerate(kept):
            if one.channel not in by_name:
                raise InvalidValue("channel", one.channel, "the file doesn't have that channel")
            channel, view = by_name[one.channel]
            if view.problem:
                raise InvalidValue("channel", one.channel, view.problem.rstrip("."))
            reading = Reading(
                id=f"{edit_id}-{i}",
                load=one.load,
                circuit=one.circuit,
                at=datetime.now(UTC),
                raw=view.reading,
                side=one.side,
                setting=one.setting,
                season=one.season,
                figures=exactly(view),
            )
            row = SeriesRow(
                home_id=home_id,
                id=reading.id,
                reading_id=reading.id,
                channel=channel.name,
                file=outcome.file,
                zone=outcome.log.zone,
                unit=channel.series.unit,
                cumulative=channel.series.cumulative,
                interval_s=channel.series.interval_s,
                samples=len(channel.series.values),
            )
            noted.append((reading, row, channel))
        if not noted:
            raise InvalidValue("channels", None, "choose at least one to save")
        names = ", ".join(one.channel for one in kept)

        def write(session: Session) -> None:
            for _, row, channel in noted:
                stored.keep(session, row, channel.series)

        return measuring.note_all(
            home_id,
            edit_id,
            [r for r, _, _ in noted],
            f"Meter data kept: {names}",
            pair,
            also=write,
        )

    def series(self, home_id: str) -> list[SeriesView]:
        """The series kept. Raises NotFound."""
        home = self.planner.open(home_id).home
        readings = {r.id: r for r in self.planner.kept_readings(home_id)}
        views = []
        with self.planner.database.reading() as session:
            for row in stored.list_series(session, home_id):
                reading = readings[row.reading_id]
                start, end = stored.extent(session, home_id, row.id)
                views.append(
                    SeriesView(
                        id=row.id,
                        reading=row.reading_id,
                        channel=row.channel,
                        file=row.file,
                        samples=row.samples,
                        of=Target(reading.load, reading.circuit).name(home),
                        withdrawn=reading.withdrawn,
                        start=datetime.fromtimestamp(start, UTC),
                        end=datetime.fromtimestamp(end, UTC),
                    )
                )
        return views

    def export(self, home_id: str, series_id: str) -> tuple[str, str]:
        """A series as CSV, each time and value as it came, and a name for the file. Raises NotFound."""
        from imbuto.formats.csv_tables import csvout

        self.planner.rev(home_id)
        with self.planner.database.reading() as session:
            row, found = stored.load(session, home_id, series_id)
        return csvout.series_csv(row.channel, found, row.zone), csvout.file_name(row.channel)

    def look(self, home_id: str, series_id: str) -> ChannelView:
        """A series kept, analysed anew, to draw. Raises NotFound."""
        from imbuto.formats.meter_data.channels import Channel

        self.planner.rev(home_id)
        with self.planner.database.reading() as session:
            row, found = stored.load(session, home_id, series_id)
        return channel_view(Channel(row.channel, found), row.zone)


def exactly(view: ChannelView) -> dict[Figure, float]:
    """What the summary of a log rounds, as it was found."""
    found: dict[Figure, float] = {"hours": view.hours, "average_w": view.average_w}
    if view.shape in ("cycling", "events"):
        found["rest_w"] = view.rest_w
        if view.run_seen:
            found["run_w"] = view.run_w
    return found


def summary(found: Log) -> str:
    """A log's findings as the text field would take them."""
    parts = [f"log {found.hours:.1f} h", f"average {found.average_w:.1f} W"]
    if found.shape in ("cycling", "events"):
        parts += [f"rest {found.rest_w:.1f} W", *([f"runs {found.run_w:.0f} W"] if found.run_seen else [])]
    return ", ".join(parts)


def _sketch(seconds: FloatArray, found: FloatArray) -> list[tuple[float, float]]:
    """Least and most W of equal stretches of time; an empty stretch repeats the one before."""
    n = min(SKETCH_POINTS, len(found))
    span = max(float(seconds[-1] - seconds[0]), 1.0)
    at = np.minimum(((seconds - seconds[0]) / span * n).astype(int), n - 1)
    starts = np.searchsorted(at, np.arange(n))
    low, high = (
        np.minimum.reduceat(found, np.minimum(starts, len(found) - 1)),
        np.maximum.reduceat(found, np.minimum(starts, len(found) - 1)),
    )
    return [(round(float(a), 1), round(float(b), 1)) for a, b in zip(low, high, strict=True)]


def _part(part: logs.LogPart, seconds: FloatArray) -> PartView:
    span = max(float(seconds[-1] - seconds[0]), 1.0)
    last = len(seconds) - 1
    spans = [
        (float(seconds[a] - seconds[0]) / span, float(seconds[min(b, last)] - seconds[0]) / span)
        for a, b in part.spans[:MOST_MARKS]
    ]
    return PartView(
        kind=part.kind, w=part.w, duty=part.duty, starts_a_day=part.starts_a_day, minutes=part.minutes, spans=spans
    )


def channel_view(c: Channel, zone: str) -> ChannelView:
    from imbuto.formats.meter_data.channels import hours_of_day

    seconds, found_w = watts(c.series)
    problem, start, sketch = "", None, []
    found: Log | None = None
    if len(found_w):
        start, sketch = datetime.fromtimestamp(float(seconds[0]), UTC), _sketch(seconds, found_w)
    try:
        found = logs.analyse(seconds, found_w, hours_of_day(seconds, zone))
    except InvalidValue as error:
        problem = error.sentence
    if found is None:
        return ChannelView(
            name=c.name,
            samples=len(found_w),
            shape=None,
            start=start,
            hours=0,
            gaps=0,
            average_w=0,
            rest_w=0,
            run_w=0,
            highest_w=0,
            run_seen=False,
            duty=0,
            cycle_h=None,
            starts_a_day=0,
            parts=[],
            sketch_w=sketch,
            profile_w=[],
            reading="",
            problem=problem,
        )
    return ChannelView(
        name=c.name,
        samples=len(found_w),
        shape=found.shape,
        start=start,
        hours=found.hours,
        gaps=found.gaps,
        average_w=found.average_w,
        rest_w=found.rest_w,
        run_w=found.run_w,
        highest_w=found.highest_w,
        run_seen=found.run_seen,
        duty=found.duty,
        cycle_h=found.cycle_h,
        starts_a_day=found.starts_a_day,
        parts=[_part(p, seconds) for p in found.parts],
        sketch_w=sketch,
        profile_w=list(found.profile_w),
        reading=summary(found),
        problem="",
    )
