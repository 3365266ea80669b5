"""Several stations in one plan, each with its own; a generator; a car."""

from dataclasses import replace

import pytest
from pydantic import TypeAdapter

from imbuto.core.advice.answer import judge
from imbuto.core.basics.errors import InvalidValue
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.equipment.portable_generator import Generator
from imbuto.core.home.loads import Load
from imbuto.core.plan.plan import Feed, Plan, narrow_to_source
from imbuto.core.plan.plan_checks import check_plan
from imbuto.core.plan.sources import Engine, Source
from imbuto.core.run.hand_check import waterfall
from imbuto.formats import planfile, strict_json
from imbuto.services.desk.demo import demo_file
from imbuto.services.desk.verdict_views import verdict_view
from imbuto.services.source.generator_views import fuel_view
from tests.demo import demo_copy

BUNDLE = planfile.read(demo_file("saltgrass-house"), "demo")
HOME, KIT = BUNDLE.home, BUNDLE.catalogue
TEN = next(p for p in BUNDLE.plans if p.id == "ten-place")
STORM = next(o for o in BUNDLE.outages if o.id == "november-windstorm")
PAIL = Source(id="beside", station="pail")


ABLE = replace(HOME.household.people["grandmother"], id="able", can_switch=True)
CARED = replace(HOME, household=replace(HOME.household, people=HOME.household.people | {"able": ABLE}))


def beside(*loads: str):
    """Ten-place switch with a Pail that has these loads on its cords."""
    feeds = {f"cord-{x}": Feed(id=f"cord-{x}", source="beside", load=x, place=i + 1) for i, x in enumerate(loads)}
    return replace(TEN, sources=TEN.sources | {"beside": PAIL}, feeds=TEN.feeds | feeds)


def test_two_stations_each_have_their_hours_and_the_lowest_are_the_plans():
    made = beside("refrigerator", "modem")
    check_plan(made, HOME, KIT)
    both = judge(HOME, made, STORM, KIT)
    main, cord = both.stations
    assert {f.load.id for f in cord.part.fed} == {"refrigerator", "modem"}
    assert "refrigerator" not in {f.load.id for f in main.part.fed}  # its plug is in the other one
    assert both.hours == min(main.run.hours, cord.run.hours)
    assert both.lead is main  # the concentrator hangs on it, and health leads
    alone = judge(HOME, TEN, STORM, KIT)
    assert main.run.hours > alone.run.hours
    assert both.band.low_h <= min(main.band.low_h, cord.band.low_h)
    shown = verdict_view(both)
    assert [(p.source, p.name) for p in shown.parts] == [("main", "Hogshead"), ("beside", "Pail")]
    assert shown.rail.nominal_wh == pytest.approx(4600 + 2 * 3900 + 1680)
    assert len({x.id for x in shown.limits}) == len(shown.limits)


def test_what_is_promised_of_the_first_to_end_holds_for_the_whole_plan():
    both = judge(HOME, beside("refrigerator", "modem"), STORM, KIT)
    assert both.widenings
    for p in both.widenings[:4]:
        whole = beside("refrigerator", "modem")
        key = both.lead.part.source.id
        changed = replace(
            whole,
            sources=whole.sources | p.move.plan.sources,
            engine=p.move.plan.engine,
            floor=p.move.plan.floor,
            feeds={k: f for k, f in whole.feeds.items() if f.source != key} | p.move.plan.feeds,
            load_choices=whole.load_choices
            | {k: v for k, v in p.move.plan.load_choices.items() if k not in ("modem", "refrigerator")},
        )
        then = judge(HOME, changed, STORM, KIT, with_moves=False)
        led = next(v for v in then.stations if v.part.source.id == key)
        assert led.run.hours == pytest.approx(p.hours, abs=1e-9), p.move.label


def test_without_transfer_equipment_of_its_own_a_station_feeds_no_circuit():
    stray = replace(TEN.feeds["reef"], source="beside")
    wrong = replace(beside(), feeds=TEN.feeds | {"reef": stray})
    with pytest.raises(InvalidValue, match="Connect single loads to it by cord"):
        check_plan(wrong, HOME, KIT)
    assert narrow_to_source(TEN, "main") is TEN


def test_a_load_hangs_on_one_of_them_only():
    twice = beside("refrigerator")
    again = Feed(id="x", source="main", load="refrigerator", place=3)
    with pytest.raises(InvalidValue, match="has two sources"):
        check_plan(replace(twice, feeds=twice.feeds | {"x": again}), HOME, KIT)


def test_both_schools_of_a_generator_in_the_january_outage(tmp_path):
    planner = demo_copy(tmp_path)
    view = fuel_view(planner, "saltgrass-house", "switched-panel", "january-ice")
    fill, carry = view.schools
    assert (fill.school, carry.school) == ("fill", "carry")
    assert fill.run_h < carry.run_h
    assert fill.fuel_l < carry.fuel_l
    assert fill.load_share > carry.load_share
    assert sum(x.to_h - x.from_h for x in fill.spans) == pytest.approx(fill.run_h)
    assert fill.runs == len(fill.spans)
    assert "Power the house burns" in view.difference
    assert fill.gone_h is None
    assert carry.gone_h < 120  # its sixty litres are gone on the third day, and its pace is that of those days
    assert carry.a_day_l == pytest.approx(60 * 24 / carry.gone_h)
    assert carry.a_day_l > 1.5 * fill.a_day_l
    assert "no fuel left" in view.difference
    assert view.minutes > 60
    assert [w.name for w in view.ways if "generator" in w.name] == ["The generator"]
    planner.database.close()


def with_engine(**changes):
    return replace(TEN, engine=Engine(**({"generator": "clinker"} | changes)))


def limits_of(plan):
    return {x.id: x for x in judge(HOME, plan, STORM, KIT, with_moves=False).limits}


def test_a_generator_has_limits_of_its_own():
    inside, outside = limits_of(with_engine(generator="ember")), limits_of(with_engine())
    assert inside["engine_w"].ok
    assert not outside["engine_w"].ok
    assert outside["engine_w"].used > 3400
    assert not limits_of(with_engine(generator="cinder-eu"))["engine_volts"].ok
    assert "engine_charges" in limits_of(with_engine(charges=False))
    assert limits_of(with_engine())["engine_place"].severity == "caution"
    with pytest.raises(InvalidValue, match="start level below"):
        check_plan(with_engine(start_at=0.9, stop_at=0.5), HOME, KIT)


def test_nobody_at_home_can_start_it_so_it_stands():
    ran = judge(HOME, with_engine(), STORM, KIT, with_moves=False).run
    assert ran.trace.tally.engine_h == 0
    assert judge(CARED, with_engine(), STORM, KIT, with_moves=False).run.trace.tally.engine_h > 0


def test_a_car_keeps_its_drive_and_needs_its_gateway():
    car = Source(id="main", station="dray", drive_wh=15_000)
    behind = replace(TEN.with_equipment("vehicle-gateway"), sources={"main": car})
    v = judge(HOME, behind, STORM, KIT, with_moves=False)
    assert v.run.store.floor * v.run.store.available_wh == pytest.approx(1.3 * 15_000)  # in Wh that it really holds
    assert v.run.store.idle_w == 250
    assert next(x for x in v.limits if x.id == "vehicle").ok
    near = judge(HOME, replace(behind, sources={"main": replace(car, drive_wh=0)}), STORM, KIT, with_moves=False)
    assert near.run.store.floor == 0.20
    wrong = judge(HOME, replace(TEN, sources={"main": car}), STORM, KIT, with_moves=False)
    assert wrong.state == "refused"
    assert not next(x for x in wrong.limits if x.id == "vehicle").ok


def test_below_the_floor_is_a_switch_of_its_own():
    longer = judge(HOME, replace(TEN, below_floor=True), STORM, KIT, with_moves=False)
    assert longer.run.hours > judge(HOME, TEN, STORM, KIT, with_moves=False).run.hours
    assert longer.run.store.floor == 0


def test_turns_by_the_charge_lengthen_the_hours():
    reef = replace(TEN.feeds["reef"], turn_by="charge", above=0.75, windows=())
    by_charge = judge(CARED, replace(TEN, feeds=TEN.feeds | {"reef": reef}), STORM, KIT, with_moves=False)
    always = replace(TEN.feeds["reef"], stance="keep_on")
    kept = judge(CARED, replace(TEN, feeds=TEN.feeds | {"reef": always}), STORM, KIT, with_moves=False)
    assert by_charge.run.hours > kept.run.hours
    assert by_charge.run.trace.tiers_on[0, 0] == 1
    assert not by_charge.run.trace.tiers_on.all()


def test_shipped_generators_burn_more_at_full_load():
    for made in shipped().generators.values():
        assert made.half_l_h < made.full_l_h < 2 * made.half_l_h
        assert made.surge_w >= made.running_w


def test_a_station_behind_another_draws_on_it_first():
    behind = replace(PAIL, plugged_into="internet")
    made = replace(beside("modem", "router"), sources=TEN.sources | {"beside": behind})
    check_plan(made, HOME, KIT)
    chained, apart = judge(HOME, made, STORM, KIT), judge(HOME, beside("modem", "router"), STORM, KIT)
    main, last = chained.stations
    passed = [f for f in main.part.fed if f.load.id in ("modem", "router", "own-beside")]
    assert {f.feed.id for f in passed} == {"internet"}
    assert next(f for f in passed if f.load.id == "own-beside").load.average_w == KIT.stations["pail"].idle_w
    assert main.run.hours < apart.stations[0].run.hours  # it carries the loads, and the other one's own draw
    assert last.after_h == main.run.hours
    assert last.run.hours > main.run.hours + 1  # its own store begins where the first one ends
    assert chained.run.hours == main.run.hours
    shown = verdict_view(chained)
    assert shown.parts[1].hours == pytest.approx(last.run.hours)
    assert last.band.low_h < last.run.hours < last.band.high_h  # its own, both stores unsure
    for p in chained.widenings[:3]:
        whole = replace(
            made,
            sources=made.sources | p.move.plan.sources,
            engine=p.move.plan.engine,
            floor=p.move.plan.floor,
            settings=p.move.plan.settings,
            feeds={k: f for k, f in made.feeds.items() if f.source == "beside"} | p.move.plan.feeds,
        )
        assert judge(HOME, whole, STORM, KIT, with_moves=False).run.hours == pytest.approx(p.hours), p.move.label
    stray = replace(made, sources=TEN.sources | {"beside": replace(PAIL, plugged_into="cord-modem")})
    with pytest.raises(InvalidValue, match="behind another one"):
        check_plan(stray, HOME, KIT)


@pytest.mark.parametrize("own_first", [False, True])
def test_behind_another_it_takes_from_that_one_first_or_empties_itself(own_first):
    """Both ways by arithmetic: 200 W on a small station behind a large one, which carries 100 W besides."""
    kit = KIT
    up = replace(kit.stations["hogshead"], nominal_wh=5000, efficiency=0.9, idle_w=20)
    low = replace(kit.stations["pail"], nominal_wh=2000, efficiency=0.9, idle_w=10)
    kit = replace(kit, stations=kit.stations | {"up": up, "low": low})
    modem = Load(id="modem", name="Modem", average_w=200, run_w=200)
    fan = Load(id="fan", name="Fan", average_w=100, run_w=100)
    home = replace(HOME, loads={"modem": modem, "fan": fan}, circuits={})
    sources = {
        "main": Source(id="main", station="up", deliverable=1.0),
        "beside": Source(id="beside", station="low", deliverable=1.0, plugged_into="fan", own_first=own_first),
    }
    feeds = {
        "fan": Feed(id="fan", source="main", load="fan", place=1, stance="keep_on"),
        "modem": Feed(id="modem", source="beside", load="modem", place=1, stance="keep_on"),
    }
    plan = Plan(id="p", name="Plan", sources=sources, feeds=feeds, floor=0.0)
    warm = replace(STORM, indoors_c=25, start_charge=1.0)
    v = judge(home, plan, warm, kit, with_moves=False)
    first, behind = (x.run.hours for x in v.stations)
    if own_first:
        alone = 2000 / (200 / 0.9 + 10)
        both = (5000 - alone * (100 / 0.9 + 20)) / (310 / 0.9 + 20)
        assert (first, behind) == (pytest.approx(alone + both, rel=0.001), pytest.approx(alone + both, rel=0.001))
    else:
        both = 5000 / (310 / 0.9 + 20)
        assert (first, behind) == (
            pytest.approx(both, rel=0.001),
            pytest.approx(both + 2000 / (200 / 0.9 + 10), rel=0.001),
        )
    drops = waterfall(v.stations[1].run)
    assert sum(d.wh for d in drops[:-1]) == pytest.approx(drops[-1].wh, abs=2)


def test_where_settings_live_and_what_is_there_go_round_a_plan_file(tmp_path):
    planner = demo_copy(tmp_path)
    home = "saltgrass-house"
    ops = [
        {"doc": "ten-place", "op": "add", "path": "/lives/auto_off", "value": "app"},
        {
            "doc": "home",
            "op": "add",
            "path": "/household/existing/pack",
            "value": {
                "id": "pack",
                "name": "Old pack",
                "kind": "module",
                "tested_wh": 1900,
                "cycles": 800,
                "paid": "300",
            },
        },
    ]
    planner.edit(home, planner.rev(home), "r1", "Register", ops, None)
    again = planfile.read(strict_json.dump(planner.give_out(home)), "again")
    assert next(p for p in again.plans if p.id == "ten-place").lives == {"auto_off": "app"}
    pack = again.home.household.existing["pack"]
    assert (pack.tested_wh, pack.cycles, pack.checked) == (1900, 800, False)
    bad = [{"doc": "ten-place", "op": "add", "path": "/lives/floor", "value": "moon"}]
    with pytest.raises(InvalidValue):
        planner.edit(home, planner.rev(home), "r2", "Nowhere", bad, None)
    planner.database.close()


@pytest.mark.parametrize(("outlet_a", "fits"), [(60.0, True), (30.0, False)])
def test_plugs_that_do_not_meet_pass_the_lower_amps(tmp_path, outlet_a, fits):
    planner = demo_copy(tmp_path)
    made = replace(shipped().generators["ember"], id="own", outlet_a=outlet_a, plug="own plug")
    entry = TypeAdapter(Generator).dump_python(made, mode="json")
    ops = [
        {"doc": "home", "op": "add", "path": "/catalogue/generators/own", "value": entry},
        {"doc": "switched-panel", "op": "replace", "path": "/engine/generator", "value": "own"},
    ]
    planner.edit("saltgrass-house", planner.rev("saltgrass-house"), "g1", "Own generator", ops, None)
    plug = fuel_view(planner, "saltgrass-house", "switched-panel", "november-windstorm").plugs[1]
    assert plug.fits is fits
    assert plug.amps == min(outlet_a, 60)
    assert ("adapter" in plug.note) is not fits
    planner.database.close()
