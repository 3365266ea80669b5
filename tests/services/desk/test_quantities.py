"""The same quantity has the same value in every view of the same plan, outage, station and load."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import fields, is_dataclass, replace

import pytest

from imbuto.api.app import create_app
from imbuto.core.advice.frontier import by_itself
from imbuto.formats.documents import HOME, OUTAGE, PLAN
from imbuto.services.compare.plans_by_outage import compare
from imbuto.services.desk.demo import DEMO_HOMES
from imbuto.services.desk.planner import Planner
from imbuto.services.desk.quantities import QUANTITIES, Quantity, Subject, by_field
from imbuto.services.everyday.everyday_views import everyday_view
from imbuto.services.everyday.worth.worth_it import worth
from imbuto.services.house.house_views import whole_house_view
from imbuto.services.source.sizing_views import looked_at, size_view
from tests.breadth import breadth
from tests.core.run.test_several import KIT, random_several
from tests.demo import demo_copy
from tests.support import random_plan

SUBJECTS: dict[Subject, tuple[str, ...]] = {
    "home": (),
    "plan": ("plan",),
    "outage": ("outage",),
    "pair": ("plan", "outage"),
    "station": ("plan", "outage", "source"),
    "load": ("load",),
    "load_in_pair": ("plan", "outage", "load"),
}
NAMED = {"LoadFigure": ("id", "load"), "WholeLoad": ("id", "load")}  # views that name their subject otherwise


def shown_in(view: object, **known: str) -> Iterator[tuple[Quantity, tuple[str, ...], str, object]]:
    """Yield every registered quantity in a view: it, its subject, the field, and the value.

    known: ids of plan, outage, source and load that the view is about, where it does not say so itself
    """
    yield from _shown(view, known, by_field())


def _shown(
    view: object, known: dict[str, str], registered: dict[str, Quantity]
) -> Iterator[tuple[Quantity, tuple[str, ...], str, object]]:
    if isinstance(view, list | tuple):
        for x in view:
            yield from _shown(x, known, registered)
    if not is_dataclass(view) or isinstance(view, type):
        return
    kind = type(view).__name__
    here = dict(known)
    for name in ("plan", "outage", "source", "load"):
        if isinstance(ident := getattr(view, name, None), str):
            here[name] = ident
    if kind in NAMED:
        field, name = NAMED[kind]
        here[name] = getattr(view, field)
    for f in fields(view):
        value, at = getattr(view, f.name), f"{kind}.{f.name}"
        if (q := registered.get(at)) is not None and all(k in here for k in SUBJECTS[q.of]):
            yield q, tuple(here[k] for k in SUBJECTS[q.of]), at, value
        if isinstance(value, list | tuple) or is_dataclass(value):
            yield from _shown(value, here, registered)


@pytest.fixture(scope="module")
def planner(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("quantities"))
    yield planner
    planner.database.close()


def views(planner: Planner, home: str) -> Iterator[tuple[object, dict[str, str]]]:
    """Every view of a home that shows a registered quantity, with the ids it is about."""
    documents = planner.documents(planner.state(home))
    yield compare(planner, home, next(iter(documents.plans))), {}
    first, case = next(iter(documents.plans.values())), next(iter(documents.outages.values()))
    if by_itself(first) and first.sources and first.feeds:
        yield looked_at(documents, first, case, None, lambda _: None), {"outage": case.id}
    for plan in documents.plans.values():
        for outage in documents.outages:
            about = {"plan": plan.id, "outage": outage}
            verdict = planner.verdict(home, plan.id, outage)
            yield verdict, about
            yield whole_house_view(planner, home, (plan.id, outage)), about
            yield size_view(planner, home, plan.id, outage), about
            yield worth(planner, home, plan.id, outage), about
            if len(plan.sources) == 1:
                yield everyday_view(planner, home, plan.id, outage), about
            for source in plan.sources.values():
                here = about | {"source": source.id}
                yield planner.run(home, plan.id, outage, source.id), here
            for source in list(plan.sources.values())[: breadth(1, 9)]:
                for station in planner.options(home, plan.id, outage, source.id):
                    if station.station.id == source.station and not source.after:
                        yield station.options[source.modules], about | {"source": source.id}


def holds(planner: Planner, home: str) -> set[str]:
    """Compare all that is shown of a home. Returns the fields that were shown."""
    first: dict[tuple[str, tuple[str, ...]], tuple[str, object]] = {}
    seen = set()
    for view, about in views(planner, home):
        for q, subject, at, value in shown_in(view, **about):
            seen.add(at)
            was_at, was = first.setdefault((q.id, subject), (at, value))
            same = value == pytest.approx(was, rel=1e-9) if isinstance(was, float) else value == was
            assert same, f"{q.id} of {subject}: {was} at {was_at}, {value} at {at}"
    return seen


@pytest.mark.parametrize("home", DEMO_HOMES)
def test_every_view_of_the_demo_homes_says_the_same(planner, home):
    seen = holds(planner, home)
    # Where a plan has one station it has no table of stations.
    assert set(by_field()) - seen <= {"StationPart.hours", "StationPart.low_hours"}


@pytest.mark.parametrize("seed", range(breadth(4, 40)))
def test_every_view_of_generated_homes_says_the_same(planner, seed):
    home, plan, outage = random_several(seed) if seed % 3 else random_plan(seed)
    if not home.catalogue.stations and seed % 3:
        home = replace(home, catalogue=KIT)
    outages = [outage, replace(outage, id="longer", name="Longer", goal_hours=2 * outage.goal_hours)]
    state = planner.add(HOME.write(home), [PLAN.write(plan)], [OUTAGE.write(o) for o in outages])
    holds(planner, state.id)


def test_a_view_that_computes_its_own_is_found(planner, monkeypatch):
    """Compare takes the first station for the plan, as a copy of the rule would."""
    from imbuto.services.compare import plans_by_outage

    right = plans_by_outage._cell
    monkeypatch.setattr(
        plans_by_outage,
        "_cell",
        lambda v, first, same: replace(right(v, first, same=same), hours=(right(v, first, same=same).hours or 0.0) + 1),
    )
    with pytest.raises(AssertionError, match="probably of"):
        holds(planner, DEMO_HOMES[0])


def test_the_description_names_every_quantity_where_it_stands(planner):
    schemas = create_app(planner).openapi()["components"]["schemas"]
    named = {
        f"{view}.{field}": shape["x-quantity"]
        for view, schema in schemas.items()
        for field, shape in schema.get("properties", {}).items()
        if "x-quantity" in shape
    }
    assert named == {at: q.id for at, q in by_field().items()}
    assert len(QUANTITIES) <= 80
