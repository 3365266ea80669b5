"""What is worked out from a home's documents: the documents as dataclasses, verdicts, runs, diagrams."""

from __future__ import annotations

from dataclasses import dataclass

from imbuto.core.advice.answer import Answer, judge
from imbuto.core.advice.verdict import Verdict
from imbuto.core.basics.cache import ContentCache
from imbuto.core.basics.errors import NotFound
from imbuto.core.basics.measures import speak_in
from imbuto.core.diagram.device_bands import bands, wants_bands
from imbuto.core.diagram.joining_diagram import Diagram, diagram
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.everyday.ordinary_start import as_left
from imbuto.core.home.home import Home
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.plan import Plan
from imbuto.core.plan.system import resolve
from imbuto.formats import planfile
from imbuto.formats.documents import HOME, OUTAGE, PLAN, Json
from imbuto.services.desk.edits import HomeState, from_row
from imbuto.services.desk.home_store import HomeStore
from imbuto.services.desk.run_views import RunView, StationView, options, run_view
from imbuto.services.desk.verdict_views import VerdictView, verdict_view
from imbuto.store.database import Database
from imbuto.store.repository import Repository

MOST_VERDICTS = 20
MOST_DOCUMENTS = 4
Pair = tuple[str, str]


@dataclass(frozen=True, slots=True)
class Documents:
    """A home's documents read and checked. content: a digest of what they say."""

    home: Home
    plans: dict[str, Plan]
    outages: dict[str, Outage]
    catalogue: Catalogue
    content: str


class Judging(HomeStore):
    """Homes, and what is worked out from them."""

    def __init__(self, database: Database) -> None:
        super().__init__(database)
        self._documents: ContentCache[Documents] = ContentCache(MOST_DOCUMENTS)
        self._verdicts: ContentCache[Answer] = ContentCache(MOST_VERDICTS)

    def open(self, home_id: str) -> Documents:
        """Read a home, and say all that follows in this request in its measures. Raises NotFound."""
        return self.enter(self.state(home_id))

    def enter(self, state: HomeState) -> Documents:
        """Read a state, and say all that follows in this request in its measures."""
        documents = self.documents(state)
        speak_in(documents.home.site.in_measures)
        return documents

    def give_out(self, home_id: str) -> Json:
        """A home's plan file."""
        state = self.state(home_id)
        with self.database.reading() as session:
            rows = Repository(session).readings(home_id)
        loads, circuits = {None, *state.home["loads"]}, {None, *state.home["circuits"]}
        readings = [from_row(row) for row in rows if row.load in loads and row.circuit in circuits]
        catalogue = self.documents(state).catalogue
        return planfile.write(state.home, state.plans, state.outages, catalogue, readings)

    def verdict(self, home_id: str, plan: str, outage: str) -> VerdictView:
        """The verdict on a pair. Raises NotFound."""
        return verdict_view(self._judged(self.state(home_id), (plan, outage)))

    def run(self, home_id: str, plan: str, outage: str, source: str | None = None) -> RunView | None:
        """The run of a pair, None where nothing runs; source: which of several stations, the first to end where it is
        not said. Raises NotFound."""
        station = self.station(home_id, plan, outage, source)
        if station is None:
            return None
        return run_view(station, self.answer_of(home_id, plan, outage).band if source is None else station.band)

    def answer_of(self, home_id: str, plan: str, outage: str) -> Answer:
        """Answer how long a plan lasts in an outage. Raises NotFound."""
        return self._judged(self.state(home_id), (plan, outage))

    def station(self, home_id: str, plan: str, outage: str, source: str | None = None) -> Verdict | None:
        """Judge one station of a plan, the one that leads where none is named; None in a plan without one. Raises
        NotFound."""
        answer = self.answer_of(home_id, plan, outage)
        if source is None:
            return answer.lead
        found = next((v for v in answer.stations if v.part.source.id == source), None)
        if found is None:
            raise NotFound("station", source, "this plan doesn't have that station")
        return found

    def options(self, home_id: str, plan: str, outage: str, source: str | None = None) -> list[StationView]:
        """What each station would do in a plan, in the place of the first or of the one named. Raises NotFound."""
        documents = self.open(home_id)
        chosen, case = _pick(documents, (plan, outage))
        key = source or next(iter(chosen.sources), "")
        if source is not None and source not in chosen.sources:
            raise NotFound("station", source, "this plan doesn't have that station")
        return options(documents.home, chosen, case, documents.catalogue, key or None)

    def diagram(self, home_id: str, plan: str, source: str | None = None) -> Diagram:
        """How a plan is joined, all of it or at the station named. Raises NotFound."""
        documents = self.open(home_id)
        if plan not in documents.plans:
            raise NotFound("plan", plan, "this home doesn't have that plan")
        system = resolve(documents.home, documents.plans[plan], documents.catalogue)
        if source is None and wants_bands(system.parts):
            return bands(system.parts)
        if source is None:
            return diagram(system.each[0])
        part = system.part(source)
        if part is None:
            raise NotFound("station", source, "this plan doesn't have that station")
        return diagram(part)

    def _judged(self, state: HomeState, pair: Pair) -> Answer:
        documents = self.enter(state)  # first: a verdict that is known already is said in its measures too
        plan, outage = _pick(documents, pair)
        return self._verdicts.get(
            (documents.content, *pair), lambda: judge(documents.home, plan, outage, documents.catalogue)
        )

    def documents(self, state: HomeState) -> Documents:
        """Read the documents of a state as dataclasses."""
        return self._documents.get(state.content, lambda: _read(state))


def _read(state: HomeState) -> Documents:
    home = HOME.read(state.home)
    return Documents(
        home,
        {p["id"]: PLAN.read(p) for p in state.plans},
        {o["id"]: OUTAGE.read(o) for o in state.outages},
        home.catalogue.over(shipped()),
        state.content,
    )


def _pick(documents: Documents, pair: Pair) -> tuple[Plan, Outage]:
    if pair[0] not in documents.plans:
        raise NotFound("plan", pair[0], "this home doesn't have that plan")
    if pair[1] not in documents.outages:
        raise NotFound("outage", pair[1], "this home doesn't have that outage")
    plan, outage = documents.plans[pair[0]], documents.outages[pair[1]]
    return plan, as_left(documents.home, plan, outage, documents.catalogue, documents.outages.values())
