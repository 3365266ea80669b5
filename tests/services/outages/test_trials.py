"""Tests from the plan, what they teach as one edit, and the logbook that remembers all of it."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

import pytest
from pydantic import TypeAdapter

from imbuto.core.advice.house_totals import chosen_day_wh
from imbuto.core.basics.errors import ImbutoError, InvalidValue, NotFound
from imbuto.core.equipment.power_station import Station
from imbuto.core.everyday.grid_limits import gives_w
from imbuto.core.outages.proving.test_lessons import on_grid_share
from imbuto.core.plan.system import resolve
from imbuto.services.outages.logbook import as_csv, logbook, take_energy
from imbuto.services.outages.outage_now import begin, live_view
from imbuto.services.outages.test_views import trials_of
from tests.demo import demo_copy

HOME, OUTAGE = "saltgrass-house", "november-windstorm"
NOW = datetime(2026, 11, 20, 9)


@pytest.fixture
def planner(tmp_path):
    planner = demo_copy(tmp_path)
    yield planner
    planner.database.close()


def put(planner, path: str, value: object, verb: str = "add") -> None:
    planner.edit(
        HOME,
        planner.rev(HOME),
        f"{path}-{planner.rev(HOME)}",
        "Put",
        [{"doc": "home", "op": verb, "path": path, "value": value}],
        None,
    )


def trial(
    planner, plan: str, procedure: str, rows: list[tuple[str, datetime, float, float | None]], **more: object
) -> None:
    found = next(p for p in trials_of(planner, HOME, plan, OUTAGE, NOW) if p.procedure.id == procedure)
    body = {
        "id": f"t-{procedure}",
        "procedure": procedure,
        "plan": plan,
        "joined": found.mark,
        "began": NOW.isoformat(),
        "ended": (NOW + timedelta(days=3)).isoformat(),
        "rows": {
            f"r{i}": {"id": f"r{i}", "line": line, "at": at.isoformat(), "value": value, "second": second}
            for i, (line, at, value, second) in enumerate(rows)
        },
    }
    put(planner, f"/trials/t-{procedure}", body | more)


def test_every_plan_has_its_own_tests_commissioning_first(planner):
    plans = {p["id"]: trials_of(planner, HOME, p["id"], OUTAGE, NOW) for p in planner.state(HOME).plans}
    for plan, found in plans.items():
        orders = [p.procedure.order or 99 for p in found]
        assert orders == sorted(orders), plan
        ids = [p.procedure.id for p in found]
        assert len(ids) == len(set(ids)), plan
        for p in found:
            assert p.procedure.refused or p.procedure.lines, (plan, p.procedure.id)
            assert p.by
            assert len({x.id for x in p.procedure.lines}) == len(p.procedure.lines), (plan, p.procedure.id)
            assert (
                {c for c in p.procedure.cautions if "second supply" in c}
                or p.procedure.id not in ("transfer", "rooms")
                or not any(x.purpose == "life" for x in planner.documents(planner.state(HOME)).home.loads.values())
                or plan == "cords-only"
            )
    by_id = {p.procedure.id: p for p in plans["ten-place"]}
    assert by_id["received"].due == "never done"
    rooms = by_id["rooms"].procedure
    assert any("Chest freezer" in x.what and "meter" in x.what for x in rooms.lines)
    # The inlet bears less than the inverter of this plan or not: where it does, no load is stepped up to it.
    for found in plans.values():
        for p in found:
            if p.procedure.id.startswith("limit") and p.procedure.refused:
                assert not p.procedure.lines
    # Nothing asks a life to wait a day on battery.
    assert "day_dark" not in by_id
    with pytest.raises(NotFound):
        trials_of(planner, HOME, "none", OUTAGE, NOW)


def test_expected_values_are_of_what_is_read_and_never_past_where_it_stops(planner):
    """Mean watts beside mean watts, and no charge below where the station stops or the test ends."""
    documents = planner.documents(planner.state(HOME))
    for plan in documents.plans.values():
        parts = resolve(documents.home, plan, documents.catalogue).parts
        for found in trials_of(planner, HOME, plan.id, OUTAGE, NOW):
            for line in found.procedure.lines:
                if line.unit == "%" and line.expected is not None and line.id not in ("gap", "apart", "floor"):
                    assert line.expected - (line.within or 0) >= 100 * plan.floor - 0.5, (plan.id, line)
            if found.procedure.id == "proven":
                watts = next(x for x in found.procedure.lines if x.id == "watts")
                day = chosen_day_wh(parts)
                assert watts.expected == pytest.approx(day / 24, rel=0.25), plan.id
                assert "at the most" not in watts.fails


def test_a_run_down_is_offered_as_one_edit_and_the_hours_follow(planner):
    def at(h: float) -> datetime:
        return NOW + timedelta(hours=h)

    rows = [("nothing", at(3.0 * i), 99.0 - i, None) for i in range(11)]
    rows += [("load_w", at(32), 1200.0, None)]
    rows += [("loaded", at(33 + 0.08 * i), 88.0 - i, None) for i in range(11)]
    trial(planner, "ten-place", "rundown", rows)
    found = next(p for p in trials_of(planner, HOME, "ten-place", OUTAGE, NOW) if p.procedure.id == "rundown")
    assert found.last is not None
    taught = found.last.teaching
    assert taught is not None
    assert taught.problem == ""
    assert (taught.before, taught.after) != ("", "")
    assert taught.before != taught.after
    planner.edit(HOME, planner.rev(HOME), "keep", taught.label, taught.ops, ("ten-place", OUTAGE))
    verdict = planner.verdict(HOME, "ten-place", OUTAGE)
    source = planner.documents(planner.state(HOME)).plans["ten-place"].source
    assert source is not None
    assert source.own_w == pytest.approx(0.01 / 3 * 12_400 * source.deliverable, rel=0.05)
    assert verdict.hours is not None
    # What it taught is no change of the plan; a change of the plan calls for it again.
    later = NOW + timedelta(days=10)
    assert (
        next(p.due for p in trials_of(planner, HOME, "ten-place", OUTAGE, later) if p.procedure.id == "rundown") == ""
    )
    later = NOW + timedelta(days=300)
    assert "season" in next(
        p.due for p in trials_of(planner, HOME, "ten-place", OUTAGE, later) if p.procedure.id == "rundown"
    )
    plan = {"doc": "ten-place", "op": "replace", "path": "/sources/main/modules", "value": 0}
    planner.edit(HOME, planner.rev(HOME), "less", "Fewer", [plan], None)
    again = next(p.due for p in trials_of(planner, HOME, "ten-place", OUTAGE, later) if p.procedure.id == "rundown")
    assert again == "the plan has changed since"


def test_what_a_station_gives_beside_the_grid_is_seen_and_offered(planner):
    """House 2,000, 5,000, 8,000 W: the station gives 2,000, 5,000 and then 6,200 of it, the grid the other 1,800."""
    rows = []
    for i, (house, unit, mains) in enumerate([(2000, 2000, 0), (5000, 4990, 10), (8000, 6200, 1800)]):
        at = NOW + timedelta(minutes=2 * i)
        rows += [("house", at, house, None), ("unit1", at, unit, None), ("grid", at, mains, None)]
    trial(planner, "two-panels", "on_grid@main", rows)

    def taught():
        found = {p.procedure.id: p for p in trials_of(planner, HOME, "two-panels", OUTAGE, NOW)}
        return found["on_grid@main"].last.teaching

    assert "Copy it to your own list" in taught().problem  # it ships, and is nobody's to change
    own = planner.documents(planner.state(HOME)).catalogue.stations["tun"]
    put(planner, "/catalogue/stations/tun", TypeAdapter(Station).dump_python(replace(own, name="My Tun"), mode="json"))
    assert taught().problem == ""
    assert "6,200 W at most" in taught().found
    planner.edit(HOME, planner.rev(HOME), "share", taught().label, taught().ops, ("two-panels", OUTAGE))
    documents = planner.documents(planner.state(HOME))
    x = next(
        x for x in resolve(documents.home, documents.plans["two-panels"], documents.catalogue).parts if x.by_device
    )
    assert gives_w(x) == pytest.approx(6200)


@pytest.mark.parametrize(
    ("house", "units", "mains", "words"),
    [
        ([1000, 2000, 3000], [[1000, 2000, 3000]], [0, 0, 10], "never supplied the rest"),
        ([1000, 2000], [[1000, 1500]], [0, 500], "3 steps or more"),
        ([1000, 2000, 3000], [[1000, 1500]], [0, 500, 1500], "at each one every figure"),
        ([1000, 2000, 3000], [[1000, 1500, 1500]], [0, 500, 200], "add up"),
    ],
)
def test_steps_that_show_no_limit_are_refused_with_what_to_do(house, units, mains, words):
    with pytest.raises(InvalidValue) as refused:
        on_grid_share(house, units, mains)
    assert words in refused.value.sentence


def test_the_most_beside_the_grid_is_the_sum_of_the_units():
    found = on_grid_share(
        [1000, 3000, 5000, 6000], [[500, 1500, 1900, 1900], [500, 1500, 1800, 1900]], [0, 0, 1300, 2200]
    )
    assert found.most_w == 3800


def test_starts_that_held_are_kept_and_failed_lines_say_so(planner):
    found = next(p for p in trials_of(planner, HOME, "ten-place", OUTAGE, NOW) if p.procedure.id == "starts")
    cells, first, *rest = found.procedure.lines
    trial(
        planner,
        "ten-place",
        "starts",
        [(cells.id, NOW, 12.0, None), (first.id, NOW, 1.0, 60.0), *((x.id, NOW, 0.0, None) for x in rest)],
    )
    last = next(p for p in trials_of(planner, HOME, "ten-place", OUTAGE, NOW) if p.procedure.id == "starts").last
    assert last is not None
    assert not last.passed
    assert last.teaching is not None
    (op,) = last.teaching.ops
    assert op["path"] == f"/loads/{first.id}/tried"
    planner.edit(HOME, planner.rev(HOME), "keep", "Held", last.teaching.ops, None)
    tried = planner.documents(planner.state(HOME)).home.loads[first.id].tried
    assert (tried[-1].charge, tried[-1].cell_c, tried[-1].modules) == (0.6, 12.0, 2)
    assert tried[-1].leg in ("A", "B", "")


def test_the_logbook_lays_promise_beside_outcome(planner):
    pair = ("ten-place", OUTAGE)
    began = datetime(2025, 11, 25, 18)
    begin(planner, HOME, pair, began, None, {"main": 1.0}, "out")
    live = planner.state(HOME).home["live"]
    for i, (h, charge, given) in enumerate([(2, 0.93, 0.4), (5, 0.80, 1500.0), (9, 0.62, 3600.0), (14, 0.10, 9000.0)]):
        at = (began + timedelta(hours=h)).isoformat()
        live["notes"][f"n{i}"] = {"id": f"n{i}", "source": "main", "at": at, "charge": charge, "given_wh": given}
    put(planner, "/lived/first", live | {"ended": (began + timedelta(hours=16)).isoformat()})
    put(planner, "/live", None, "replace")
    put(
        planner,
        "/book/d1",
        {
            "id": "d1",
            "kind": "defect",
            "at": NOW.isoformat(),
            "title": "Fan rattles",
            "case": {"symptom": "at 900 W", "workaround": "off"},
        },
    )
    put(
        planner,
        "/book/w1",
        {
            "id": "w1",
            "kind": "waking",
            "at": NOW.isoformat(),
            "title": "Dawn",
            "figures": {"evening": 0.9, "charge": 0.5},
        },
    )
    book = logbook(planner, HOME, OUTAGE)
    (outcome,) = book.outcomes
    assert (outcome.lasted_h, outcome.dark_h, outcome.readings) == (16, 14, 4)
    assert outcome.promised_h == pytest.approx(16.0, abs=0.3)
    assert outcome.scale > 1
    assert "more than planned" in outcome.says
    assert outcome.lost.startswith("Gauge minus counter")
    assert "0 of 1" in book.honest or "1 of 1" in book.honest
    assert {x.kind for x in book.lines} >= {"outage", "defect", "waking"}
    assert book.open_cases == 1
    (waking,) = book.waking
    assert waking.expected is not None
    assert 0.1 < waking.expected < 0.9
    assert {o["path"].rsplit("/", 1)[1] for o in book.goals} <= {"shortest_h", "usual_h", "longest_h"}
    planner.edit(HOME, planner.rev(HOME), "goals", "Goals", book.goals, None)
    assert logbook(planner, HOME, OUTAGE).goals == []
    assert as_csv(planner, HOME).splitlines()[0] == "at,kind,title,detail,open"
    with pytest.raises(ImbutoError):
        put(planner, "/book/d2", {"id": "d2", "kind": "defect", "at": NOW.isoformat(), "title": "x", "case": None})
    with pytest.raises(ImbutoError):
        put(
            planner,
            "/book/d3",
            {"id": "d3", "kind": "energy", "at": NOW.isoformat(), "title": "x", "figures": {"rain": 1}},
        )
    assert live_view(planner, HOME, OUTAGE, began + timedelta(hours=20)).back is not None


def test_energy_by_day_from_a_file_and_no_battery_is_taken_for_sun(planner):
    file = b"date,sun_kwh,grid_kwh,house_kwh,battery_at_sun_kwh\n2026-11-01,4,8,10,1\n2026-11-02,2,9,10,\n2026-12-01,6,1,5,0\n"
    take_energy(planner, HOME, file, "days.csv", "file", None)
    months = logbook(planner, HOME, OUTAGE, "month").energy
    assert [(m.begins.month, m.sun_kwh, m.house_kwh) for m in months] == [(11, 5, 20), (12, 6, 5)]
    assert months[0].by_sun == pytest.approx(0.25)
    assert [len(logbook(planner, HOME, OUTAGE, by).energy) for by in ("day", "week")] == [3, 3]
    take_energy(planner, HOME, file.replace(b",4,8", b",5,8"), "days.csv", "again", None)
    assert logbook(planner, HOME, OUTAGE, "month").energy[0].sun_kwh == 6
    for bad in (
        b"",
        b"a,b\n1,2",
        b"date,sun_kwh\n2026-13-01,1",
        b"date,sun_kwh\n2026-11-01,many",
        b"date,sun_kwh\n2026-11-01,1,2",
        b"\xff\xfe",
        b"date,sun_kwh\n2026-11-01,1\n2026-11-01,2",
        b"date,sun_kwh\n",
    ):
        with pytest.raises(ImbutoError) as refused:
            take_energy(planner, HOME, bad, "days.csv", f"bad-{bad[:9]!r}", None)
        assert refused.value.sentence.endswith(".")
