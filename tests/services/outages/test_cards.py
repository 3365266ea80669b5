"""The order of hands: no step of any card joins two sources or the dead street, from wherever it is begun."""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import replace

import pytest

from imbuto.core.advice.hands_needed import steps
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.home.household import Person
from imbuto.core.home.loads import Use
from imbuto.core.plan.system import Part, resolve
from imbuto.core.switching.card_steps import meter_rise_text, rise
from imbuto.core.switching.practice import drill
from imbuto.core.switching.switch_model import Switching, switching_model
from imbuto.core.switching.switching_cards import Card, cards, states
from imbuto.formats import planfile
from imbuto.services.desk.demo import DEMO_HOMES, demo_file
from tests.core.run.test_several import (
    KIT,
    PLANS,
    device,
    feeds,
    house,
    left_on_some,
    plan,
    random_several,
    source,
)
from tests.support import STATION, corded, load, random_plan, switched

CATALOGUE = Catalogue(stations={STATION.id: STATION}).over(shipped())
KINDS = [t.id for t in shipped().transfer.values() if t.kind != "cords"]
DEMO = [
    (p.name, b.home, p, b.catalogue)
    for b in (planfile.read(demo_file(name), name) for name in DEMO_HOMES)
    for p in b.plans
]


def of(equipment: str, **circuit: object) -> list[Part]:
    now, _ = switched(
        (1, [load("a", 60)]), (2, [load("b", 500, kind="compressor")]), (4, [load("c", 40, purpose="life")])
    )
    circuits = {k: replace(c, **circuit) if k == "c1" else c for k, c in now.home.circuits.items()}
    home = replace(now.home, circuits=circuits)
    return resolve(home, now.plan.with_equipment(equipment), CATALOGUE).parts


def by_kind(each: Sequence[Part]) -> dict[str, Card]:
    return {c.kind: c for c in cards(each)}


def safe(each: Sequence[Part]) -> None:
    """Every state of every card, the grid away or there, begun at rest or wherever the way over was left."""
    model, found = switching_model(each), by_kind(each)
    over, back = found.get("over"), found.get("back")
    begun = [model.rest]
    if over is not None:
        begun = list(states(model, over.steps, model.rest))
        assert_safe(model, begun)
    if back is not None and not back.refused:
        for start in begun:
            way = list(states(model, back.steps, start))
            assert_safe(model, way)
            assert model.settled(way[-1], grid=True) == model.settled(model.rest, grid=True)


def assert_safe(model: Switching, way: list[dict[str, str]]) -> None:
    for state in way:
        for grid in (False, True):
            assert model.dangers(model.settled(state, grid=grid), grid=grid) == []


@pytest.mark.parametrize("equipment", KINDS)
def test_every_kind_of_equipment(equipment):
    each = of(equipment)
    assert not any(c.refused for c in cards(each))
    safe(each)
    model, over = switching_model(each), by_kind(each)["over"]
    end = model.settled(list(states(model, over.steps, model.rest))[-1], grid=False)
    groups = model.joined_points(end)
    for circuit in ("c:c1", "c:c2", "c:c4"):  # all of it is fed in the end, by the station alone
        assert any({circuit, "store:main"} <= g and "grid" not in g for g in groups), (equipment, circuit)


@pytest.mark.parametrize("case", DEMO, ids=[d[0] for d in DEMO])
def test_every_demo_plan(case):
    _, home, made, catalogue = case
    each = resolve(home, made, catalogue).parts
    assert not any(c.refused for c in cards(each))
    safe(each)


@pytest.mark.parametrize("name", PLANS)
def test_every_joining_of_several(name):
    home, made, _ = PLANS[name]
    each = resolve(home, made, KIT).parts
    assert not any(c.refused for c in cards(each))
    safe(each)


@pytest.mark.parametrize("tens", range(10))
def test_a_hundred_generated_plans(tens):
    for seed in range(10 * tens, 10 * tens + 10):
        home, made, _ = random_several(seed)
        safe(resolve(home, left_on_some(made, seed), KIT).parts)


def test_a_switch_that_stays_on_its_source_asks_for_no_hand_and_says_so():
    home = house(hall=60, den=40, spare=0)
    made = plan(
        source(station="passes", charge_circuit="spare"),
        devices=(device(equipment="ten-place-neutral", left_on=True),),
        feeds=feeds("hall@main", "den@main"),
    )
    passes = replace(KIT.stations["box"], id="passes", passes_on="always", transfer_ms=18)
    each = resolve(home, made, replace(KIT, stations=KIT.stations | {"passes": passes})).parts
    safe(each)
    assert [s.title for s in steps(each[0])] == []
    over, back = by_kind(each)["over"], by_kind(each)["back"]
    assert [s.what for s in over.steps] == [
        "Box switches to backup by itself within 18 ms. Watch it, and switch nothing."
    ]
    assert not any(s.moves for s in (*over.steps, *back.steps))
    model = switching_model(each)
    there, gone = (model.joined_points(model.settled(model.rest, grid=g)) for g in (True, False))
    assert any({"c:hall", "grid", "c:spare"} <= g and "store:main" not in g for g in there)
    assert any({"c:hall", "c:den", "store:main"} <= g and "grid" not in g for g in gone)


def test_cords_go_back_into_the_wall():
    now = corded(load("lamp"), load("fan", 80))
    each = resolve(now.home, now.plan, CATALOGUE).parts
    safe(each)
    over = by_kind(each)["over"]
    assert [s.what.split(" from ")[0] for s in over.steps[2:]] == ["Move the plug of Lamp", "Move the plug of Fan"]
    assert "charging cord" in over.steps[0].what


def test_with_an_interlock_every_breaker_goes_off_and_those_that_stay_off_are_named():
    home = house(hall=60, den=40, range=3000)
    each = resolve(
        home, plan(source(), devices=(device(equipment="interlock"),), feeds=feeds("hall@main", "den@main")), KIT
    ).parts
    over = by_kind(each)["over"]
    assert over.off == ("Range",)
    whats = [s.what for s in over.steps]
    assert whats[0].startswith("Unplug the charging cord")
    assert whats.index("Switch off every breaker in the panel, also those with a dot.") < next(
        i for i, w in enumerate(whats) if "source's breaker on" in w
    )
    moved = dict(m for s in over.steps for m in s.moves)
    assert moved["b:range"] == "off"
    assert "These stay off: Range." in [s.leave for s in over.steps]
    wrong = switching_model(each)
    state = wrong.rest | {"out:main": "on", "cord:main": "main", "sb:main": "on"}
    assert "never on together" in wrong.dangers(state, grid=True)[0]
    assert any("lines outside" in d for d in wrong.dangers(state, grid=False))
    assert any("out of step" in d for d in wrong.dangers(state, grid=True))


def test_life_comes_first_then_the_heaviest_start_and_after_low_charge_the_lightest():
    over = by_kind(of("ten-place"))["over"]
    levers = [m[0] for s in over.steps for m in s.moves if m[1] == "SOURCE"]
    assert levers == ["lever:c4", "lever:c2", "lever:c1"]
    restart = [s.what for s in by_kind(of("ten-place"))["restart"].steps if s.what.startswith("Then")]
    assert [w.split()[2] for w in restart] == ["4.", "1.", "2."]
    assert "Wait until it shows 20%" in restart[-1]


def test_partners_on_one_neutral_go_over_together():
    each = of("ten-place", neutral_partner="c2")
    over = by_kind(each)["over"]
    pair = next(s for s in over.steps if len(s.moves) == 4)
    assert [m[1] for m in pair.moves] == ["OFF", "OFF", "SOURCE", "SOURCE"]
    model = switching_model(each)
    apart = model.rest | {"out:main": "on", "cord:main": "main", "lever:c1": "SOURCE", "charger:main": "out"}
    assert model.dangers(apart, grid=True) == ["two sources would power circuits that share a neutral"]


def test_what_cannot_be_made_safe_is_refused_with_the_reason():
    # The charger hangs on a circuit that gear going over by itself feeds: nobody is there to pull it.
    now, _ = switched((1, [load("a", 60)]), charge_circuit="c1")
    each = resolve(now.home, now.plan.with_equipment("auto-panel"), CATALOGUE).parts
    over = by_kind(each)["over"]
    assert over.steps == ()
    assert "charge itself" in over.refused
    assert "Have an electrician" in over.refused


def test_who_does_it_is_someone_at_home_who_can():
    now, _ = switched((1, [load("a", 60)]))
    people = {
        "z": Person(id="z", name="Zeno", can_switch=True),
        "y": Person(id="y", name="Ylva", can_switch=True, where="away"),
    }
    for names, expected in ((("z", "y"), "Zeno"), (("y",), "Ylva, who isn't at home. Someone else follows this card")):
        household = replace(now.home.household, people={k: people[k] for k in names})
        each = resolve(replace(now.home, household=household), now.plan, CATALOGUE).parts
        assert {s.by for s in by_kind(each)["over"].steps} == {expected}


def test_every_card_begins_with_what_stops_it_and_every_step_says_how_one_knows():
    for _, home, made, catalogue in DEMO:
        for card in cards(resolve(home, made, catalogue).parts):
            assert len(card.stops) == 3
            for step in card.steps:
                assert step.what.endswith((".", ":"))
                if step.moves:
                    assert step.proof
                    assert step.where
                    assert step.by


@pytest.mark.parametrize("case", DEMO, ids=[d[0] for d in DEMO])
def test_the_cards_win_the_drill(case):
    _, home, made, catalogue = case
    played = drill(resolve(home, made, catalogue).parts)
    for scene in ("over", "back"):
        now = played.begin(scene)
        card = played.cards[scene]
        for n, step in enumerate(card.steps):
            for part, position in step.moves:
                if not played.model.parts[part].itself:
                    now = played.move(now, part, position)
                    assert now.harm == [], now.said
                    assert "trips" not in now.said
            # Following the card, its steps are done one by one, and none that is still to come.
            if any(not played.model.parts[p].itself for p, _ in step.moves):
                assert all(played.done(now)[: n + 1]), (scene, step.what)
        assert played.won(now), (scene, now.said)
        live = played.live(now)
        assert set(played.feeding(now).values()) <= {"", *live.values()}


def test_a_wrong_order_trips_overloads_or_endangers_and_is_never_won():
    each = of("ten-place")
    played = drill(each)
    now = played.begin("back")
    assert not played.won(now)
    charging = played.move(now, "charger:main", "in")  # the house's own panel is on the grid: nothing wrong in that
    assert charging.harm == []
    home = house(hall=60, den=40)
    panel = drill(
        resolve(
            home, plan(source(), devices=(device(equipment="interlock"),), feeds=feeds("hall@main", "den@main")), KIT
        ).parts
    )
    now = panel.begin("over")
    for part, to in (("cord:main", "main"), ("out:main", "on")):
        now = panel.move(now, part, to)
    held = panel.move(now, "sb:main", "on")
    assert "slide blocks this" in held.said
    assert held.state["sb:main"] == "off"
    now = panel.move(panel.move(now, "main", "off"), "sb:main", "on")  # its charger is still in: it fills itself
    assert any("charge itself" in h for h in now.harm)
    assert now.said.startswith("Danger")
    for part, to in (("charger:main", "out"), ("b:hall", "on"), ("b:den", "on")):
        now = panel.move(now, part, to)
    assert not panel.won(now)


def test_everything_at_once_trips_the_station():
    heavy = [load(f"l{i}", 800, kind="compressor", start_va=4000) for i in range(3)]
    now, _ = switched(
        *((i + 1, [x]) for i, x in enumerate(heavy)), station=replace(STATION, leg_a=60, leg_surge_va=9000)
    )
    played = drill(resolve(now.home, now.plan, CATALOGUE).parts)
    round_ = played.begin("over")
    for part, to in (("charger:main", "out"), ("cord:main", "main"), *((f"lever:c{i}", "SOURCE") for i in (1, 2, 3))):
        round_ = played.move(round_, part, to)
    round_ = played.move(round_, "out:main", "on")
    assert "trips" in round_.said
    assert round_.state["out:main"] == "off"
    assert round_.harm == []
    assert not played.won(round_)


@pytest.mark.parametrize("fifty", range(10))
def test_no_random_walk_is_won_with_harm(fifty):
    rng = random.Random(fifty)
    games = [drill(resolve(h, p, c).parts) for _, h, p, c in DEMO] + [drill(of(k)) for k in KINDS]
    for _ in range(50):
        played, scene = rng.choice(games), rng.choice(["over", "back"])
        now, harmed = played.begin(scene), False
        movable = [p for p in played.model.parts.values() if not p.itself]
        way = [m for s in played.cards[scene].steps for m in s.moves if not played.model.parts[m[0]].itself]
        for k in range(60):
            if way and rng.random() < 0.5:
                part, to = way[min(k, len(way) - 1)]
            else:
                part = rng.choice(movable).id
                to = rng.choice(played.model.parts[part].positions)
            now = played.move(now, part, to)
            harmed = harmed or bool(played.model.dangers(now.state, grid=now.grid))
            assert not (harmed and played.won(now))
        for part, to in way:
            now = played.move(now, part, to)
        assert not (harmed and played.won(now))
        assert bool(now.harm) == harmed


def test_a_working_pump_is_never_too_much_and_a_kettle_is_not_on():
    """What is too much lies past everything on the circuit together; what people switch on does not count as on."""
    now, _ = switched(
        (1, [load("pump", 640, 6, rest_w=0, kind="pump", use=Use(kind="cycling"))]),
        (2, [load("kettle", 1500, 1500, use=Use(kind="tasks", times=(8.0,), minutes=5)), load("router", 9)]),
    )
    pump, kitchen = now.plan.feeds.values()
    r = rise(now, [pump])
    assert (r.now_w, r.later_w, r.all_w) == (0, 640, 640)
    assert "may not change now. It rises by 640 W when Pump runs" in meter_rise_text(now, [pump])
    assert "more than 710 W" in meter_rise_text(now, [pump])
    r = rise(now, [kitchen])
    assert (r.now_w, r.later_w, r.all_w) == (9, 0, 1509)
    assert "rises by about 9 W." in meter_rise_text(now, [kitchen])


def test_of_generated_plans_nothing_that_runs_as_it_should_is_switched_off_again():
    for seed in range(60):
        home, made, _ = random_plan(seed)
        for x in resolve(home, made, shipped()).parts:
            for feed in made.feeds.values():
                r = rise(x, [feed])
                each = [f.load for f in x.fed if f.feed.id == feed.id and not f.assumed]
                assert 0 <= r.now_w <= r.all_w + 1e-9
                assert r.now_w + r.later_w <= r.all_w + 1e-9
                assert r.stop_w >= sum(a.count * a.run_w for a in each)
