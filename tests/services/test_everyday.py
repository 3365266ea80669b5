"""What is looked after and when, and the figures an ordinary year is told by: each against what they are made of."""

from __future__ import annotations

import copy
import json
from dataclasses import replace
from datetime import date, datetime

import numpy as np
import pytest

from imbuto.core.basics.clock import Window
from imbuto.core.basics.errors import NotFound
from imbuto.core.everyday.ordinary_start import as_left
from imbuto.core.everyday.ordinary_year import year_of
from imbuto.core.everyday.year_ground import STEP_H, ground
from imbuto.core.plan.entered.cost_entries import Credit
from imbuto.core.plan.everyday_policy import Everyday, Mode
from imbuto.core.plan.system import resolve
from imbuto.core.run.run import simulate
from imbuto.services.everyday.everyday_figures import (
    gave,
    mean_day,
    missing_for_a_year,
    months_of,
    nights_of,
    over_it,
    switches,
    unused_w,
)
from imbuto.services.everyday.everyday_views import everyday_view
from imbuto.services.everyday.hold_curve import curve, with_hold
from imbuto.services.everyday.plan_years import bills, ground_of, house_draw, years_of
from imbuto.services.everyday.upkeep import changes_of, upkeep_view
from imbuto.services.papers.sheet_registry import page
from tests.core.everyday.test_everyday import year_ground
from tests.core.everyday.test_ordinary_network import PAIRED, shifting
from tests.core.run.test_several import BOX, CALM, KIT, device, feeds, house, plan, source
from tests.demo import demo_copy
from tests.support import text_of

HOME, PLAN, OUTAGE = "saltgrass-house", "switched-panel", "november-windstorm"
NOW = datetime(2026, 11, 20, 12)
ROOF = {"id": "roof", "name": "Roof", "panel": "slate", "series": 8, "source": "main", "ac": True}
EXPORTING = {"rest": "surplus", "hold": 0.5, "resume": 0.55, "refill": 0.5}
EVENING = Mode(id="e", name="Evening", use="store", windows=(Window(start_h=17, end_h=21, days="weekday"),))


@pytest.fixture
def planner(tmp_path):
    planner = demo_copy(tmp_path)
    yield planner
    planner.database.close()


def put(planner, doc: str, path: str, value: object, verb: str = "replace") -> None:
    op = {"doc": doc, "op": verb, "path": path, "value": value}
    planner.edit(HOME, planner.rev(HOME), f"{path}{planner.rev(HOME)}", "Put", [op], None)


def duties(planner, plan: str = PLAN, now: datetime = NOW):
    return {d.id: d for d in upkeep_view(planner, HOME, plan, OUTAGE, now).duties}


def test_a_home_that_takes_a_removed_ones_id_has_a_year_of_its_own(planner):
    def year():
        documents = planner.documents(planner.state(HOME))
        return ground_of(documents, documents.plans[PLAN], "main", 2026)

    before, file = year(), planner.give_out(HOME)
    assert year() is before  # kept for as long as the documents say the same
    planner.delete(HOME)
    for load in file["home"]["loads"].values():
        load["average_w"] = load["run_w"] = load["rest_w"] = 0.0
    planner.take_in(json.dumps(file), "file")
    assert planner.rev(HOME) == 1
    assert year().asked_w.sum() < before.asked_w.sum() / 2


def test_what_switches_itself_asks_nobody_and_what_does_not_asks_on_its_days(planner):
    assert not [d for d in duties(planner).values() if "witch it " in d.why]
    put(planner, PLAN, "/everyday/by", "app")
    windows = [{"start_h": 17, "end_h": 21, "days": "weekday"}]
    put(planner, PLAN, "/everyday/modes/night/windows", windows)
    found = duties(planner, now=datetime(2026, 11, 20, 18))  # a Friday evening: the next beginning is on Monday
    on, off = found["night-0-on"], found["night-0-off"]
    assert (on.first, on.on, on.every) == (datetime(2026, 11, 23, 17), [0, 1, 2, 3, 4], "week")
    assert off.first == datetime(2026, 11, 20, 21)
    assert on.title.endswith("sun first")
    assert off.title.endswith("battery first")
    assert on.who == "in its app"


@pytest.mark.parametrize(
    ("windows", "on", "off"),
    [
        ([(0, 0, "weekend")], [(0.0, (5,))], [(0.0, (0,))]),  # on at Saturday 0:00, off at Monday 0:00
        ([(0, 0, "weekday")], [(0.0, (0,))], [(0.0, (5,))]),
        ([(22, 6, "all")], [(22.0, tuple(range(7)))], [(6.0, tuple(range(7)))]),
        ([(17, 21, "weekday")], [(17.0, (0, 1, 2, 3, 4))], [(21.0, (0, 1, 2, 3, 4))]),
        # By day of the hour: Friday's night ends as Saturday begins, and Monday's morning is of the week.
        ([(22, 6, "weekday")], [(0.0, (0,)), (22.0, (0, 1, 2, 3, 4))], [(0.0, (5,)), (6.0, (0, 1, 2, 3, 4))]),
        ([(8, 12, "all"), (12, 16, "all")], [(8.0, tuple(range(7)))], [(16.0, tuple(range(7)))]),
        ([(0, 0, "all")], [], []),
    ],
)
def test_a_window_begins_and_ends_on_the_days_on_which_it_does(windows, on, off):
    made = [Window(start_h=a, end_h=b, days=d) for a, b, d in windows]
    assert changes_of(made, begins=True) == on
    assert changes_of(made, begins=False) == off


@pytest.mark.parametrize(("plan", "engine", "panels"), [(PLAN, True, True), ("ten-place", False, False)])
def test_upkeep_follows_what_the_plan_has(planner, plan, engine, panels):
    found = duties(planner, plan)
    assert ("exercise" in found, "fuel" in found) == (engine, engine)
    assert ("tilt-spring" in found) == panels
    assert {"topup", "alarms", "gfci", "life", "tests"} <= set(found)
    assert all(d.first > NOW for d in found.values())
    assert found["alarms"].first == datetime(2026, 12, 1, 10)
    if engine:
        assert "20 ft away" in found["exercise"].why


def test_a_credit_that_ends_is_in_the_calendar_until_it_has(planner):
    credit = {"id": "c", "name": "Spring credit", "sum": 500, "ends": "2026-12-31", "file_by": "March"}
    put(planner, PLAN, "/credits/c", credit, "add")
    assert duties(planner)["credit-c"].first == datetime(2026, 12, 31, 9)
    assert "credit-c" not in duties(planner, now=datetime(2027, 1, 2))
    assert Credit(id="c", name="x", sum=1, ends=date(2026, 12, 31)).ends is not None


def test_spare_sun_is_offered_by_day_only_as_far_as_it_goes(planner):
    summer, winter = (upkeep_view(planner, HOME, PLAN, OUTAGE, datetime(2026, m, 20, 12)) for m in (7, 12))
    assert summer.spare_w > winter.spare_w
    assert "At night there's none" in summer.says
    for s in summer.spare:
        assert s.fits == (s.w <= summer.spare_w)
    none = upkeep_view(planner, HOME, "ten-place", OUTAGE, NOW)
    assert none.spare_w == 0
    assert "nothing more is free" in none.says
    with pytest.raises(NotFound):
        upkeep_view(planner, HOME, "none", OUTAGE, NOW)


def test_months_days_and_nights_add_up_to_the_year():
    g = year_ground(replace(BOX, nominal_wh=3000), 700.0)
    y = year_of(g, Everyday(rest="store", hold=0.3, resume=0.35, refill=0.3))
    months, kwh = months_of(y), STEP_H / 1000
    assert sum(m.fed for m in months) == pytest.approx(float(g.fed_w.sum()) * kwh)
    assert sum(m.bought for m in months) == pytest.approx(float(y.bought_w.sum()) * kwh)
    assert sum(m.sun for m in months) == pytest.approx(float(g.sun_w.sum()) * kwh)
    assert sum(m.thrown for m in months) == pytest.approx(float(y.thrown_w.sum()) * kwh)
    assert all(m.unserved == pytest.approx(0, abs=1e-6) and m.failing == 0 for m in months)
    parts = gave(y)
    assert parts["store"] + parts["sun"] + parts["grid"] == pytest.approx(g.fed_w)
    assert all((v >= -1e-9).all() for v in parts.values())
    day = mean_day(y, 7)
    assert len(day.hour) == 48
    assert np.mean(day.load) == pytest.approx(200)
    nights = nights_of(y)
    assert len(nights) == 365
    assert all(0 <= dusk <= 1 and 0 <= dawn <= 1 for dusk, dawn in nights)
    lit = g.sun_w > 0
    last = int(np.flatnonzero(lit & (g.day == 200))[-1]) + 1
    assert nights[200][0] == pytest.approx(y.charge[last], abs=1e-4)


def test_it_says_whether_panels_or_storage_are_lacking_and_what_is_over_it():
    dark, small, wide = (
        year_of(year_ground(replace(BOX, nominal_wh=wh), sun), Everyday(rest="store", hold=0.1, resume=0.1, refill=0.1))
        for wh, sun in ((2000, 0.0), (1000, 1500.0), (20_000, 300.0))
    )
    assert "Without panels" in missing_for_a_year(dark)
    assert "kWh of sun per year go unused" in missing_for_a_year(small)
    assert "add a battery module" in missing_for_a_year(small)
    assert "More panels would save more" in missing_for_a_year(wide)
    assert switches(year_of(year_ground(watts=100.0), Everyday())) == 0
    assert over_it(dark) == ""
    tight = year_of(year_ground(replace(BOX, rated_va=150), watts=200.0), Everyday())
    assert "runs at once, that is 200 VA, and it carries 150" in over_it(tight)
    assert "To move first: Lamp" in over_it(tight)
    carrying = year_of(year_ground(replace(BOX, rated_va=150), watts=200.0), Everyday(rest="store"))
    assert (
        "For 8,760 hours per year the loads need more than the 150 W that Box supplies. Then all its loads switch back to the grid"
        in (over_it(carrying))
    )


def test_a_hold_takes_its_marks_along_and_the_ground_is_kept_for_the_revision(planner):
    moved = with_hold(Everyday(hold=0.4, resume=0.5, refill=0.45, modes={"e": EVENING}), 0.9)
    assert (moved.hold, moved.resume, moved.refill) == (0.9, 1.0, pytest.approx(0.95))
    assert moved.modes == {"e": EVENING}
    documents = planner.documents(planner.state(HOME))
    plan = documents.plans["ten-place"]
    first = ground_of(documents, plan, "main", 2026)
    assert ground_of(documents, plan, "main", 2026) is first
    put(planner, "home", "/loads/kettle/average_w", 10)
    documents = planner.documents(planner.state(HOME))
    assert ground_of(documents, documents.plans["ten-place"], "main", 2026) is not first


def test_only_an_outage_that_says_so_begins_as_a_day_leaves_it(planner):
    documents = planner.documents(planner.state(HOME))
    outage, plan = documents.outages["evening-cut"], documents.plans[PLAN]
    others = documents.outages.values()
    assert as_left(documents.home, plan, outage, documents.catalogue, others) is outage
    left = replace(outage, as_left=True)
    found = as_left(documents.home, plan, left, documents.catalogue, others)
    assert plan.everyday is not None
    assert plan.everyday.hold - 0.01 <= found.start_charge < 1
    standing = replace(plan, everyday=None)
    assert as_left(documents.home, standing, left, documents.catalogue, others) is left
    higher = as_left(
        documents.home, replace(plan, everyday=with_hold(plan.everyday, 0.8)), left, documents.catalogue, others
    )
    assert higher.start_charge > found.start_charge


@pytest.mark.parametrize("exports", ["", "agreed"])
@pytest.mark.parametrize("owned", [True, False])
def test_a_roof_is_billed_as_what_the_house_no_longer_buys_and_what_it_sends(planner, owned, exports):
    put(planner, PLAN, "/arrays/roof", ROOF | {"owned": owned}, "add")
    put(planner, PLAN, "/everyday", EXPORTING | {"exports": exports})
    documents = planner.documents(planner.state(HOME))
    [y] = years_of(documents, documents.plans[PLAN], 2026)
    before, after = bills(documents, [y])
    without_w, with_w = house_draw([y])
    roof_w = y.ground.roof_w
    assert roof_w.max() > 1000
    was_w = roof_w if owned else 0 * roof_w
    for bill_, drawn_w, roof in ((before, without_w, was_w), (after, with_w, roof_w)):
        bought = sum(x.kwh for x in bill_.lines if x.kwh > 0 and not x.name.startswith("above"))
        assert bought == pytest.approx(float(np.maximum(drawn_w - roof, 0).sum()) * STEP_H / 1000)
        sent = -sum(x.kwh for x in bill_.lines if x.kwh < 0)
        beyond = float(np.maximum(roof - drawn_w, 0).sum()) * STEP_H / 1000
        more = float(y.given_w.sum()) * STEP_H / 1000 if bill_ is after else 0.0
        assert sent == pytest.approx(beyond + more if exports else 0.0, abs=1e-6)
    if exports:
        assert float(unused_w(y).sum()) == pytest.approx(float(y.thrown_w.sum()))


def test_what_a_car_keeps_for_its_drive_is_promised_in_no_place(planner):
    """58 kWh of which 39 stay for a drive of 30: every place counts from there, not from the plan's own stop level."""
    body = next(p for p in planner.state(HOME).plans if p["id"] == "ten-place")
    made = copy.deepcopy(body) | {"id": "car", "name": "Car", "arrays": {}, "banks": {}, "everyday": None}
    made["sources"]["main"] |= {"station": "dray", "modules": 0, "drive_wh": 30_000}
    made["devices"]["main"]["equipment"] = "vehicle-gateway"
    op = {"doc": "car", "kind": "plan", "op": "add", "path": "", "value": made}
    planner.edit(HOME, planner.rev(HOME), "car", "Car", [op], None)
    documents = planner.open(HOME)
    part = resolve(documents.home, documents.plans["car"], documents.catalogue).part(None)
    keeps = 1.3 * 30_000 / (58_000 * part.source.deliverable)
    view = everyday_view(planner, HOME, "car", OUTAGE)
    assert view.stop_level == pytest.approx(keeps)
    assert view.everyday.hold < keeps
    assert view.hold_kwh == 0
    drawn = curve(planner, HOME, "car", OUTAGE)
    assert min(p.hold for p in drawn.points) == pytest.approx(keeps)
    assert drawn.asked is not None
    assert drawn.asked > keeps
    run = simulate(part, documents.outages[OUTAGE], hours_only=True)
    assert run.store.floor == pytest.approx(keeps, abs=0.05)  # that is of what the cold leaves it
    settings = text_of(page(planner, HOME, "car", OUTAGE, "joining"))
    assert f"{100 * keeps:.0f}%" in settings
    card = text_of(page(planner, HOME, "car", OUTAGE, "run-card"))
    assert "lower the stop level" not in card


@pytest.mark.parametrize(
    ("plan", "outage"), [("ten-place", "january-ice"), ("cords-only", "evening-cut"), (PLAN, "evening-cut")]
)
def test_no_outage_counts_as_reaching_its_goal_where_the_verdict_says_it_does_not(planner, plan, outage):
    said = planner.verdict(HOME, plan, outage)
    ready, advised = everyday_view(planner, HOME, plan, outage).ready, curve(planner, HOME, plan, outage)
    assert ready is not None
    if said.reaches:
        assert (ready.not_counted, ready.chance > 0.9) == ("", True)
        return
    assert ready.chance == ready.missed == 0
    assert {p.chance for p in advised.points} == {0}
    assert said.headline.label in ready.not_counted or said.headline.missing in ready.not_counted
    assert advised.advice == ready.not_counted


@pytest.mark.parametrize(("circuits", "served_wh"), [(("hall", "attic"), 2888), (("hall", "den"), 5701)])
def test_a_day_of_a_pair_shows_what_its_units_gave_and_not_what_they_draw_themselves(circuits, served_wh):
    """The check figure of a pair with its load on one leg: the unit with nothing on it gives nothing."""
    fed = feeds("hall@main", "den@main", "attic@main")
    made = plan(
        source(station="paired", units=2, link="coupler"),
        devices=(device(equipment="auto-panel"),),
        feeds={k: fed[k] for k in circuits},
    )
    kit = replace(KIT, stations=KIT.stations | {"paired": PAIRED})
    y = year_of(ground(house(hall=700, den=700, attic=700), made, kit, "main", [CALM], 2026), shifting())
    assert np.sum(mean_day(y, 1).store) / 2 == pytest.approx(served_wh, rel=2e-3)
