"""One answer for a plan: which station leads, when health loses power, and the words every place shares."""

from __future__ import annotations

from dataclasses import replace

import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.advice.headline import chance_words, headline, life_losses
from imbuto.core.advice.house_totals import chosen_day_wh
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.home.home import day_wh
from imbuto.core.home.household import Person
from imbuto.core.limits.all_limits import fit
from imbuto.core.plan.outage import Outage
from imbuto.core.plan.system import resolve
from tests.core.run.test_several import BOX, CALM, GATE, KIT, device, feeds, house, plan, source
from tests.support import STATION, corded, load, random_plan


def answer(home, made, outage: Outage = CALM, kit=KIT, moves: bool = False):
    return judge(home, made, outage, kit, with_moves=moves)


def with_life(home, *names: str, own_battery_h: float = 0.0):
    loads = {
        k: replace(x, purpose="life", own_battery_h=own_battery_h) if k in names else x for k, x in home.loads.items()
    }
    return replace(home, loads=loads)


def nobody(home):
    people = {"ada": Person(id="ada", name="Ada", can_switch=False)}
    return replace(home, household=replace(home.household, people=people))


def test_a_station_behind_another_counts_like_any_other():
    # Nobody can throw the switch: the lower store is never called on, and is out with the gateway: 1,000 / 75 W.
    made = plan(
        source(),
        source("low"),
        devices=(GATE, device("switch", source="low", behind="gate")),
        feeds=feeds("hall@gate", "den@switch:low"),
    )
    found = answer(nobody(house(hall=50, den=25)), made)
    assert [v.run.hours for v in found.stations] == pytest.approx([1000 / 75, 1000 / 75], rel=1e-3)
    # Plugged in behind, the small one's loads last 30 h and the first's 10 h; turned about, the small one leads.
    made = plan(
        source(),
        source("small", plugged_into="hall"),
        devices=(device(),),
        feeds=feeds("hall@main", "den-load!small"),
    )
    kit = replace(KIT, stations=KIT.stations | {"box": replace(BOX, nominal_wh=1000)})
    assert answer(house(hall=50, den=50), made, kit=kit).hours == pytest.approx(10.0, rel=1e-3)


def test_a_refused_limit_of_the_lower_station_leads_and_is_named():
    made = plan(
        source(),
        source("low", station="odd", own_first=True),
        devices=(GATE, device("switch", source="low", behind="gate")),
        feeds=feeds("hall@gate", "den@switch:low"),
    )
    kit = replace(KIT, stations=KIT.stations | {"odd": replace(BOX, id="odd", name="Odd", volts="230")})
    found = answer(house(hall=50, den=25), made, kit=kit, moves=True)
    assert found.state != "runs"
    assert not found.fits
    assert found.lead.part.source.id == "low"
    assert found.neck.kind == "refused"
    assert not headline(found).figure


def test_a_first_part_that_powers_nothing_does_not_hide_the_second():
    made = plan(source(), source("low"), devices=(device(), device("shop", source="low")), feeds=feeds("den@shop:low"))
    found = answer(house(hall=50, den=25), made)
    assert (found.state, found.hours) == ("runs", pytest.approx(40.0, rel=1e-3))


def test_health_leads_with_the_time_to_count_on():
    mask = load("mask", 40, purpose="life", spread=0.2)
    now = corded(mask, load("lamp", 20))
    kit = replace(KIT, stations={"test": STATION}).over(shipped())
    long = replace(CALM, goal_hours=100)
    found = answer(now.home, now.plan, long, kit)
    said = headline(found)
    low = found.band.low_h
    assert found.neck.kind == "life"
    assert said.life.startswith("Mask off at ")
    assert said.life == found.neck.title
    assert said.probably == ""  # where health depends on it, the expected hours are not said
    assert said.sentence.startswith(said.life)
    loss = life_losses(found)[0]
    assert loss.off_h == low
    # Its own battery carries on where the station ends; with a goal it reaches, nothing leads.
    own = replace(now.home, loads=now.home.loads | {"mask": replace(mask, own_battery_h=5)})
    assert life_losses(answer(own, now.plan, long, kit))[0].off_h == low + 5
    short = answer(now.home, now.plan, replace(CALM, goal_hours=1), kit)
    assert headline(short).life == ""
    assert short.neck.kind != "life"


def test_what_must_stay_on_and_has_no_power_is_said_in_the_same_words():
    home = with_life(house(hall=50, den=25), "den-load")
    found = answer(home, plan(source(), devices=(device(),), feeds=feeds("hall@main")))
    assert headline(found).missing == "Den-load isn't powered"
    assert not found.reaches
    assert "not met" in headline(found).goal


def test_hours_under_a_broken_limit_are_named_for_what_they_are():
    now = corded(load("kettle", 1900), load("lamp", 20), station=replace(STATION, continuous_w=1000, rated_va=1000))
    kit = replace(KIT, stations={"test": now.station}).over(shipped())
    found = answer(now.home, now.plan, kit=kit, moves=True)
    best = next(p for p in found.fixes if p.clears)
    said = headline(found).instead
    assert said.lower().startswith(best.move.label.lower())
    assert ("about" in said) is (best.hours is not None)
    assert "once solved" not in said


@pytest.mark.parametrize(
    ("places", "used", "ok"), [((1, 2, 4), 3, True), ((7, 8, 9), 3, True), ((1, 2, 3, 4, 5), 5, False)]
)
def test_a_number_on_an_outlet_is_no_count(places, used, ok):
    now = corded(*(load(f"l{p}", 10) for p in places), station=replace(STATION, outlets=4))
    each = {f.id: replace(f, place=p) for f, p in zip(now.plan.feeds.values(), places, strict=True)}
    part = resolve(
        now.home, replace(now.plan, feeds=each), replace(KIT, stations={"test": now.station}).over(shipped())
    ).parts[0]
    limit = next(x for x in fit(part, CALM) if x.id == "places")
    assert (limit.used, limit.ok) == (used, ok)


def test_a_place_the_switch_lacks_is_told_apart_from_too_many():
    made = plan(source(), devices=(device(equipment="six-place"),), feeds=feeds("hall@main"))
    made = replace(made, feeds={"hall": replace(made.feeds["hall"], place=7)})
    found = {x.id: x for x in fit(resolve(house(hall=50), made, KIT).parts[0], CALM)}
    assert found["places"].ok
    assert not found["place_number:7"].ok
    assert "7" in found["place_number:7"].sentence


def test_what_is_chosen_is_never_more_than_the_house():
    for seed in range(40):
        home, made, outage = random_plan(seed)
        found = judge(home, made, outage, shipped(), with_moves=False)
        assert chosen_day_wh(found.wirings) <= day_wh(found.home) * (1 + 1e-9), seed


@pytest.mark.parametrize(
    ("share", "words"),
    [
        (1.0, "almost always"),
        (0.9, "9 times in 10"),
        (0.89, "about 8 times in 10"),
        (0.33, "about 1 time in 3"),
        (0, "almost never"),
    ],
)
def test_chances_are_said_in_tries(share, words):
    assert chance_words(share) == words
