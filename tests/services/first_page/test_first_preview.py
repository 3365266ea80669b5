"""A newcomer is answered while she types, and what is kept says the same."""

from dataclasses import replace
from datetime import date

import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.advice.headline import headline
from imbuto.core.basics.errors import ImbutoError
from imbuto.core.basics.towns import town_named, towns_named
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.plan.itemised_costs import to_buy
from imbuto.core.plan.plan_checks import check_plan
from imbuto.core.plan.system import resolve_part
from imbuto.services.first_page.first_answers import setting_of
from imbuto.services.first_page.first_plan import first_answer
from imbuto.services.first_page.first_preview import first_preview
from imbuto.services.first_page.first_questions import Answers, OtherLoad, OwnBox, OwnEngine, Package, PickDetail

CATALOGUE = shipped()
TODAY = date(2026, 12, 1)
SMALL = {"fridge": 1, "router": 1, "cpap": 1, "lights": 2}
OWN = OwnBox(nominal_wh=1024, continuous_w=1200, outlets=3)
CROWD = [
    Answers(name="Flat", picks=SMALL, own=OWN, time_zone="America/Chicago"),
    Answers(name="Nothing yet", picks=SMALL, time_zone="America/New_York", hours=24),
    Answers(name="Pump", picks={"fridge": 1, "well-pump": 1}, place="Springfield, MO", hours=12),
    Answers(name="Furnace", picks={"furnace-fan": 1, "router": 1}, volts=120, hours=72, season="winter"),
    Answers(name="Casa", volts=230, picks={"fridge": 1, "boiler-pump": 1}, time_zone="Europe/Rome", currency="EUR"),
    Answers(name="Engine", picks=SMALL, own=replace(OWN, charge_w=500), engine=OwnEngine(running_w=2000), hours=72),
    Answers(
        name="Odd", picks={"lights": 1}, others=[OtherLoad(name="Radio set", watts=25, from_h=8, to_h=20)], hours=4
    ),
]


def kept(answers):
    home, plan, outage = first_answer(answers, TODAY)
    return judge(home, plan, outage, home.catalogue.over(CATALOGUE))


@pytest.mark.parametrize("answers", CROWD, ids=lambda a: a.name)
def test_the_answer_so_far_is_the_verdict_on_what_is_kept(answers):
    said, verdict = first_preview(answers, TODAY), kept(answers)
    assert (said.count_on_h, said.reaches, said.horizon_h) == (verdict.low_h, verdict.reaches, answers.hours)
    assert verdict.fits, [x.sentence for x in verdict.limits if x.stops]
    figure = headline(verdict).figure
    assert figure in said.said
    fed = {f.load.name for v in verdict.stations for f in v.part.fed if not f.assumed}
    assert {b.name for b in said.bars} == fed
    for bar in said.bars:
        assert all(0 <= s.from_h < s.to_h <= answers.hours + 1e-9 for s in bar.spans)
    assert [s.hours_gained for s in said.free] == sorted((s.hours_gained for s in said.free), reverse=True)


@pytest.mark.parametrize("answers", [a for a in CROWD if a.own is None], ids=lambda a: a.name)
def test_a_size_that_is_chosen_has_the_hours_and_the_price_it_was_shown_with(answers):
    shown = first_preview(answers, TODAY).packages
    assert 1 <= len(shown) <= 3
    assert sum(p.chosen for p in shown) == 1
    for package in shown:
        taken = replace(answers, buy=Package(station=package.station, modules=package.modules))
        again = first_preview(taken, TODAY)
        verdict = kept(taken)
        assert again.count_on_h == package.low_hours == verdict.low_h
        assert next(p for p in again.packages if p.chosen).station == package.station
        if package.currency == answers.currency:
            home, plan, _ = first_answer(taken, TODAY)
            part = resolve_part(home, plan, CATALOGUE)
            assert float(package.price) == pytest.approx(float(to_buy(part, part)))


def test_what_is_wired_in_gets_a_circuit_and_a_switch_and_never_a_cord():
    home, plan, _ = first_answer(CROWD[2], TODAY)
    check_plan(plan, home, CATALOGUE)
    assert home.circuits["well-pump"].poles == 2
    assert home.circuits["well-pump"].traced is False  # nobody looked yet
    # 1,100 W at 240 V, and a quarter more: under 15 A.
    assert home.circuits["well-pump"].breaker_a == 15
    assert (plan.feeds["well-pump"].circuit, plan.feeds["well-pump"].device) == ("well-pump", "switch")
    assert plan.feeds["fridge"].load == "fridge"
    assert CATALOGUE.stations[plan.sources["main"].station].volts == "120/240"
    # Her own 120 V station cannot power it: it stays off, and what it needs is said.
    said = first_preview(replace(CROWD[2], own=OWN), TODAY)
    assert not said.reaches
    assert any("Well pump" in n and "transfer switch" in n for n in said.notes)


def test_a_blank_of_a_label_is_named_with_what_is_taken_for_it():
    said = first_preview(CROWD[0], TODAY)
    # 1% of 1,200 W; 15 A at 120 V; a start counts as what it supplies for long.
    assert said.assumed == "Not entered, so assumed: outlets 15 A · own draw 12 W · for a start 1,200 VA."
    whole = replace(OWN, outlet_a=20, idle_w=9, surge_va=2400)
    assert first_preview(replace(CROWD[0], own=whole), TODAY).assumed == ""


def test_a_load_is_corrected_and_nonsense_is_refused_with_a_sentence():
    corrected = replace(CROWD[0], details={"fridge": PickDetail(watts=45), "router": PickDetail(from_h=8, to_h=20)})
    home, _, _ = first_answer(corrected, TODAY)
    assert home.loads["fridge"].average_w == 45
    assert home.loads["router"].use.windows[0].start_h == 8
    assert first_preview(corrected, TODAY).count_on_h > first_preview(CROWD[0], TODAY).count_on_h
    bad = [
        replace(CROWD[0], picks={"dragon": 1}),
        replace(CROWD[0], details={"router": PickDetail(from_h=8, to_h=8)}),
        replace(CROWD[1], buy=Package(station="pail-eu")),
    ]
    for answers in bad:
        with pytest.raises(ImbutoError, match=r"\w"):
            first_preview(answers, TODAY)


def test_a_town_is_used_or_said_not_to_be_known():
    assert [t.place for t in towns_named("Springfield, mo")] == ["Springfield, MO, US"]
    assert town_named("zurich").name == "Zürich"
    assert (towns_named("x"), town_named("Saltgrass"), town_named("")) == ([], None, None)
    at = setting_of(Answers(name="x", place="Springfield, MO", time_zone="Asia/Tokyo"))
    assert (at.place, round(at.latitude), round(at.longitude), at.unknown) == ("Springfield, MO, US", 37, -93, "")
    lost = setting_of(Answers(name="x", place="Saltgrass", time_zone="America/Chicago"))
    assert (lost.unknown, lost.place) == ("Saltgrass", "near Chicago, by its time zone")
    # The climate is guessed from the latitude, and its worst season is asked about; July is winter in the south.
    assert (lost.climate, lost.season) == ("cold_winter", "winter")
    south = Answers(name="x", place="Hobart", season="winter", picks={"fridge": 1})
    assert first_answer(south, TODAY)[2].start.month == 7


@pytest.mark.parametrize("answers", CROWD, ids=lambda a: a.name)
def test_a_path_keeps_what_it_bought_and_its_last_step_reaches_the_goal(answers):
    said = first_preview(answers, TODAY)
    path = said.path
    if not path:
        assert said.reaches or answers.own is None
        return
    assert [s.when for s in path] == ["First", "Next", "Later"][: len(path)]
    assert len(path) > 1
    assert path[-1].short_of == ""
    lasts = [float("inf") if s.low_hours is None else s.low_hours for s in path]
    assert lasts == sorted(lasts)
    assert not path[0].kept
    assert all(s.kept.startswith(("Keeps ", "Your own station stays")) for s in path[1:])
    # Bought in steps it costs what its last step costs at once; a station of one's own costs nothing.
    bought = [s for s in path if s.price]
    assert all(s.price > 0 for s in bought)
    assert (path[0].price == 0) is (answers.own is not None)
