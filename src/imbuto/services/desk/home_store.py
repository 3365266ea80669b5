"""The homes that are kept: their documents, readings, files and clocks."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import UTC, date, datetime, time
from typing import cast

from sqlalchemy.orm import Session

from imbuto.core.home.home import Home
from imbuto.core.measuring.readings import Reading
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.formats import planfile
from imbuto.formats.documents import OUTAGE, PLAN, Json
from imbuto.services.desk.edits import HomeState, from_row, state_of, to_row
from imbuto.store.database import Database
from imbuto.store.files import Files
from imbuto.store.repository import HomeLine, Repository

Also = Callable[[Session, str], None]  # what is written with a home in one transaction


class HomeStore:
    """Homes as they are kept. Safe to share between threads."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self.files = Files(database.path.parent / "files")
        self.live: dict[str, int] = {}  # the newest revision of each home touched, for listeners
        # UTC, of homes that go by another clock than this machine's.
        self.clocks: dict[str, Callable[[], datetime]] = {}

    def homes(self) -> list[HomeLine]:
        """Every home."""
        with self.database.reading() as session:
            return Repository(session).homes()

    def state(self, home_id: str) -> HomeState:
        """A home's documents. Raises NotFound."""
        with self.database.reading() as session:
            return state_of(Repository(session), home_id)

    def rev(self, home_id: str) -> int:
        """A home's revision. Raises NotFound."""
        with self.database.reading() as session:
            return Repository(session).rev(home_id)

    def take_in(self, data: bytes | str, name: str, also: Also | None = None) -> HomeState:
        """Add a home from a plan file. Raises what ``planfile.read`` or ``also`` raises; then nothing was added."""
        bundle = planfile.read(data, name)
        return self.add(bundle.raw_home, bundle.raw_plans, bundle.raw_outages, bundle.readings, also)

    def add(
        self,
        home: Json,
        plans: list[Json],
        outages: list[Json],
        readings: Sequence[Reading] = (),
        also: Also | None = None,
    ) -> HomeState:
        """Add a home from documents that were checked. also: what else is written with it, given the id it has."""
        with self.database.writing() as session:
            repository = Repository(session)
            home_id = repository.create_home(home, plans or [_first_plan()], outages or [_evening_cut()])
            for reading in readings:
                repository.add_reading(to_row(home_id, reading))
            if also is not None:
                also(session, home_id)
            return state_of(repository, home_id)

    def kept_readings(self, home_id: str) -> list[Reading]:
        """Every reading of a home, the withdrawn ones too, oldest first."""
        with self.database.reading() as session:
            return [from_row(row) for row in Repository(session).readings(home_id)]

    def now(self, home: Home) -> datetime:
        """Local wall-clock time at a home, to the second."""
        clock = self.clocks.get(home.id, lambda: datetime.now(UTC))
        return clock().astimezone(home.site.tz).replace(tzinfo=None, microsecond=0)

    def has_edit(self, edit_id: str) -> bool:
        """Whether an edit of that id was applied before."""
        with self.database.reading() as session:
            return Repository(session).edit(edit_id) is not None

    def delete(self, home_id: str) -> None:
        """Remove a home and its history. Raises NotFound."""
        with self.database.writing() as session:
            Repository(session).delete_home(home_id)
        self.files.drop(home_id)
        for beside in ("instruments", "watch", "station"):
            (self.database.path.parent / f"{beside}-{home_id}.json").unlink(missing_ok=True)
        self.live.pop(home_id, None)
        self.clocks.pop(home_id, None)


def _first_plan() -> Json:
    """Something to choose in, for a home that came without a plan."""
    return cast(Json, PLAN.write(Plan(id="cords-only", name="Cords only")))


def _evening_cut() -> Json:
    """Something to judge, for a home that came without an outage."""
    start = datetime.combine(date.today(), time(18, 30))
    return cast(Json, OUTAGE.write(Outage(id="evening-cut", name="Evening cut", start=start, hours=4, goal_hours=4)))
