"""Edits, undo and redo, conflicts, restarts; and the first two minutes."""

import threading
from datetime import date

import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.basics.errors import ImbutoError, InvalidValue, NotFound
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.plan.itemised_costs import items, total
from imbuto.core.plan.plan_checks import check_plan
from imbuto.formats import strict_json
from imbuto.services.desk.demo import DEMO_HOMES, demo_file, open_demo, open_planner
from imbuto.services.desk.edits import Stale
from imbuto.services.first_page.first_plan import first_answer
from imbuto.services.first_page.first_questions import Answers, OwnBox
from tests.demo import demo_copy

HOME = "saltgrass-house"
PAIR = ("ten-place", "november-windstorm")


@pytest.fixture
def planner(tmp_path):
    planner = demo_copy(tmp_path)
    yield planner
    planner.database.close()


def set_run(watts, load="refrigerator"):
    return [{"doc": "home", "op": "replace", "path": f"/loads/{load}/run_w", "value": watts}]


def run_w(planner, load="refrigerator"):
    return planner.state(HOME).home["loads"][load]["run_w"]


def edit(planner, ops, edit_id="e1", label="Edit", rev=None):
    return planner.edit(HOME, planner.rev(HOME) if rev is None else rev, edit_id, label, ops, PAIR)


def test_an_edit_answers_with_the_new_state_and_verdict(planner):
    before = planner.verdict(HOME, *PAIR)
    result = edit(planner, [{"doc": "home", "op": "replace", "path": "/loads/concentrator/average_w", "value": 200}])
    assert result.state.rev == 2
    assert result.verdict.hours > before.hours
    assert result.state.undo == "Edit"


def test_undo_and_redo_survive_a_restart_and_name_what_they_do(tmp_path):
    planner = open_demo(tmp_path)
    edit(planner, set_run(140), "a", "Refrigerator 131 → 140 W")
    edit(planner, set_run(150), "b", "Refrigerator 140 → 150 W")
    planner.database.close()
    planner = open_demo(tmp_path)
    assert planner.state(HOME).undo == "Refrigerator 140 → 150 W"
    result = planner.undo(HOME, "u1", PAIR)
    assert (run_w(planner), result.state.undo, result.state.redo) == (
        140,
        "Refrigerator 131 → 140 W",
        "Refrigerator 140 → 150 W",
    )
    planner.undo(HOME, "u2", PAIR)
    assert run_w(planner) == 131
    assert planner.redo(HOME, "r1", PAIR).state.redo == "Refrigerator 140 → 150 W"
    assert run_w(planner) == 140
    edit(planner, set_run(145), "c")
    assert planner.state(HOME).redo is None
    with pytest.raises(InvalidValue, match="nothing to redo"):
        planner.redo(HOME, "r2", PAIR)
    planner.database.close()


def test_undo_takes_back_only_the_edit_its_sender_saw(planner):
    edit(planner, set_run(140), "mine", "Refrigerator 131 → 140 W")
    seen = planner.state(HOME).undo_edit
    edit(planner, set_run(150), "theirs", "Refrigerator 140 → 150 W")
    with pytest.raises(Stale):
        planner.undo(HOME, "u", PAIR, takes=seen)
    assert run_w(planner) == 150
    planner.undo(HOME, "u1", PAIR, takes=planner.state(HOME).undo_edit)
    assert run_w(planner) == 140
    assert planner.state(HOME).redo_edit == "theirs"
    with pytest.raises(Stale):
        planner.redo(HOME, "r", PAIR, takes="mine")
    assert run_w(planner) == 140


def test_an_edit_sent_twice_is_done_once(planner):
    first = edit(planner, set_run(140), "same", rev=1)
    again = edit(planner, set_run(140), "same", rev=1)
    assert first.state.rev == again.state.rev == 2
    planner.undo(HOME, "u", PAIR)
    planner.undo(HOME, "u", PAIR)
    assert run_w(planner) == 131


def test_a_stale_edit_is_refused_with_what_changed_and_nothing_is_lost(planner):
    edit(planner, set_run(140), "theirs", "Theirs", rev=1)
    with pytest.raises(Stale) as caught:
        edit(planner, set_run(150), "mine", "Mine", rev=1)
    assert caught.value.rev == 2
    assert [(c.label, c.paths) for c in caught.value.changes] == [("Theirs", ["home/loads/refrigerator/run_w"])]
    assert run_w(planner) == 140


def test_writers_at_once_never_lose_an_edit(planner):
    """Each thread retries on a stale base; all edits are there in the end."""
    loads = ["refrigerator", "freezer", "kettle", "toaster"]

    def work(load):
        for i in range(3):
            while True:
                try:
                    edit(planner, set_run(2000 + i, load), f"{load}{i}")
                    break
                except Stale:
                    continue

    threads = [threading.Thread(target=work, args=(load,)) for load in loads]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert [run_w(planner, load) for load in loads] == [2002] * 4
    assert planner.rev(HOME) == 13


BAD = [
    (set_run(-5), "Refrigerator, running watts"),
    (set_run("lots"), "Enter a number"),
    (set_run(float("nan")), "finite"),
    (set_run(float("inf")), "finite"),
    (set_run(20), "The average can't be above"),
    ([{"doc": "home", "op": "remove", "path": "/circuits/office"}], "This home doesn't have that circuit"),
    ([{"doc": "home", "op": "replace", "path": "/id", "value": "other"}], "must stay"),
    ([{"doc": "home", "op": "remove", "path": ""}], "remove a home as a whole"),
    ([{"doc": "x", "op": "add", "path": "", "kind": "plan", "value": {"id": "y", "name": "Y"}}], "must stay “x”"),
    ([{"doc": "x", "op": "add", "path": "", "value": {"id": "x", "name": "X"}}], "a home, a plan or an outage"),
    ([{"doc": "ten-place", "op": "replace", "path": "/feeds/office/place", "value": 1}], "is in that slot already"),
    ([], "1 to 2000 operations"),
]


@pytest.mark.parametrize(("ops", "words"), BAD, ids=[words for _, words in BAD])
def test_a_bad_edit_changes_nothing(planner, ops, words):
    before = strict_json.dump(planner.give_out(HOME))
    with pytest.raises(ImbutoError, match=words):
        edit(planner, ops)
    assert strict_json.dump(planner.give_out(HOME)) == before
    assert planner.rev(HOME) == 1


def test_several_documents_change_in_one_edit_and_come_back_together(planner):
    ops = [
        {"doc": "home", "op": "replace", "path": f"/loads/{x}/circuit", "value": None} for x in ("desktop", "printer")
    ] + [
        {"doc": "ten-place", "op": "remove", "path": "/feeds/office"},
        {"doc": "switched-panel", "op": "remove", "path": "/feeds/office"},
        {"doc": "two-panels", "op": "remove", "path": "/feeds/office"},
        {"doc": "home", "op": "remove", "path": "/circuits/office"},
    ]
    before = planner.state(HOME)
    edit(planner, ops, label="Circuit removed: Office")
    after = planner.undo(HOME, "u", PAIR).state
    assert (after.home, after.plans) == (before.home, before.plans)


def test_plans_and_outages_come_and_go(planner):
    copy = planner.state(HOME).plans[0] | {"id": "copy", "name": "Copy", "based_on": "ten-place"}
    edit(planner, [{"doc": "copy", "op": "add", "path": "", "kind": "plan", "value": copy}], "a")
    assert planner.verdict(HOME, "copy", PAIR[1]).hours == planner.verdict(HOME, *PAIR).hours
    edit(planner, [{"doc": "copy", "op": "remove", "path": "", "kind": "plan"}], "b")
    with pytest.raises(NotFound):
        planner.verdict(HOME, "copy", PAIR[1])
    planner.undo(HOME, "u", None)
    assert planner.state(HOME).plans[-1]["based_on"] == "ten-place"


def test_a_home_keeps_one_plan_and_one_outage(planner):
    for outage in ("evening-cut", "summer-storm"):
        op = {"doc": outage, "op": "remove", "path": "", "kind": "outage"}
        rev = planner.rev("via-dei-glicini")
        if outage == "evening-cut":
            planner.edit("via-dei-glicini", rev, outage, "x", [op], None)
            continue
        with pytest.raises(InvalidValue, match="keeps at least one outage"):
            planner.edit("via-dei-glicini", rev, outage, "x", [op], None)


def test_a_home_that_comes_with_nothing_gets_a_plan_and_an_evening_cut(planner):
    bare = '{"format": "imbuto", "version": 1, "home": {"id": "bare", "name": "Bare"}}'
    state = planner.take_in(bare, "bare.json")
    assert [o["name"] for o in state.outages] == ["Evening cut"]
    assert planner.verdict("bare", state.plans[0]["id"], "evening-cut").state == "no_loads"


def test_the_demo_homes_are_whole(planner):
    assert [h.id for h in planner.homes()] == list(DEMO_HOMES)
    state = planner.state(HOME)
    assert state.home["service"]["slots"] == 40
    assert len(state.home["loads"]) >= 35
    assert {p["name"] for p in state.plans} == {"Cords only", "Ten-place switch", "Switched panel", "Two panels"}
    assert len(state.outages) == 4
    flat = planner.state("via-dei-glicini")
    assert flat.home["service"]["volts"] == 230
    for home in DEMO_HOMES:
        documents = planner.state(home)
        for plan in documents.plans:
            for outage in documents.outages:
                run = planner.run(home, plan["id"], outage["id"])
                assert len(run.hour) == len(run.charge) == len(run.low) == len(run.high)
                assert run.strips


def test_taking_in_a_home_twice_makes_two(planner):
    assert planner.take_in(demo_file(HOME), "f").id == f"{HOME}-2"
    planner.delete(HOME)
    assert [h.id for h in planner.homes()] == ["via-dei-glicini", f"{HOME}-2"]
    with pytest.raises(NotFound):
        planner.state(HOME)


def test_options_say_what_each_station_does(planner):
    views = {v.station.id: v for v in planner.options(HOME, *PAIR)}
    assert "pail-eu" not in views
    hours = [o.hours for o in views["hogshead"].options]
    assert hours == sorted(hours)
    assert views["hogshead"].options[2].hours == planner.verdict(HOME, *PAIR).hours
    assert views["gill"].options[0].state == "trips"


@pytest.mark.parametrize("volts", [120, 230])
@pytest.mark.parametrize("hours", [4, 24, 168])
def test_three_answers_make_a_home_with_hours(volts, hours):
    answers = Answers(
        name="Ours", volts=volts, time_zone="Europe/Rome", picks={"fridge": 1, "router": 1, "lights": 2}, hours=hours
    )
    home, plan, outage = first_answer(answers, date(2026, 11, 24))
    verdict = judge(home, plan, outage, shipped())
    assert verdict.fits
    assert verdict.run.at_least_h > 3
    assert verdict.measures
    assert plan.sources["main"].station


@pytest.mark.parametrize("volts", [120, 230])
@pytest.mark.parametrize("outlets", [0, 2, 6])
def test_a_newcomers_own_station_is_the_plans_and_nothing_is_to_be_bought(volts, outlets):
    picks = {"fridge": 1, "router": 1, "phones": 1}
    own = OwnBox(name="Mine", nominal_wh=1024, continuous_w=1000, outlets=outlets)
    start = date(2026, 11, 24)
    home, plan, outage = first_answer(Answers(name="Ours", volts=volts, picks=picks, own=own), start)
    catalogue = home.catalogue.over(shipped())
    check_plan(plan, home, catalogue)
    answer = judge(home, plan, outage, catalogue)
    assert answer.lead.part.unit.name == "Mine"
    assert total(items(answer.lead.part)) == 0
    assert answer.run.store.nominal_wh == 1024
    # What nobody counted isn't taken for none: as many as there are plugs, and the count is asked for.
    assert len({f.place for f in plan.feeds.values()}) == min(outlets or 3, 3)
    assert any(x.id == "outlets_unlisted" for x in answer.limits) == (outlets == 0)


def test_a_fresh_folder_is_empty(tmp_path):
    planner = open_planner(tmp_path / "new" / "folder")
    assert planner.homes() == []
    planner.database.close()


def test_a_home_deleted_and_taken_in_again_shows_what_it_says_now(planner):
    """Caches go by content: the id of another home, at the same revision, is not this one."""
    before = planner.verdict(HOME, *PAIR)
    again = strict_json.parse(strict_json.dump(planner.give_out(HOME)), "again")
    planner.delete(HOME)
    with pytest.raises(NotFound):
        planner.verdict(HOME, *PAIR)
    for load in again["home"]["loads"].values():
        load |= {"average_w": load["average_w"] / 2, "rest_w": load["rest_w"] / 2, "settings": {}}
    again["readings"] = []
    taken = planner.take_in(strict_json.dump(again), "again")
    assert (taken.id, taken.rev) == (HOME, 1)
    now = planner.verdict(HOME, *PAIR)
    assert now.hours > 1.5 * before.hours
    bundle = planner.documents(planner.state(HOME))
    fresh = judge(bundle.home, bundle.plans[PAIR[0]], bundle.outages[PAIR[1]], bundle.catalogue)
    assert now.hours == fresh.run.hours


def test_an_edit_of_another_home_is_not_this_ones(planner):
    edit(planner, set_run(150), "shared")
    other = "via-dei-glicini"
    for act in (
        lambda: planner.edit(other, planner.rev(other), "shared", "x", set_run(150), None),
        lambda: planner.undo(other, "shared", None),
    ):
        with pytest.raises(InvalidValue, match="Another home"):
            act()


def test_what_fails_after_it_was_kept_says_so_and_undo_mends_it(planner, monkeypatch):
    monkeypatch.setattr("imbuto.services.desk.judging.judge", lambda *_, **__: 1 / 0)
    made = edit(planner, set_run(333))
    assert made.verdict is None
    assert "saved your change" in made.problem
    assert "Undo the change to go back" in made.problem
    assert run_w(planner) == 333
    monkeypatch.undo()
    assert planner.undo(HOME, "u1", PAIR).verdict is not None


@pytest.mark.parametrize("ident", ["a/b", "..", "</script>", "ü b", "."])
def test_a_home_from_a_file_has_an_id_that_can_be_opened(planner, ident):
    file = strict_json.parse(demo_file("via-dei-glicini"), "file")
    file["home"]["id"] = ident
    home_id = planner.take_in(strict_json.dump(file), "file").id
    assert home_id.strip(".")
    assert not set(home_id) & set("/<> ")
    planner.delete(planner.state(home_id).id)


@pytest.mark.parametrize("start", ["0001-01-01T00:00:00", "9999-12-31T12:00:00", "1970-12-31T00:00:00"])
def test_an_outage_out_of_all_reach_is_refused(planner, start):
    ops = [{"doc": PAIR[1], "op": "replace", "path": "/start", "value": start}]
    with pytest.raises(InvalidValue, match=r"a year from 19(71|00) to 2199"):
        edit(planner, ops)


def test_a_new_home_stands_where_its_time_zone_is_and_names_what_it_needs():
    picks, own = {"fridge": 1, "well-pump": 1}, OwnBox(nominal_wh=1024, continuous_w=1000)
    answers = Answers(name="N", time_zone="America/New_York", picks=picks, own=own)
    home, plan, outage = first_answer(answers, date(2026, 11, 25))
    assert home.site.place == "near New York, by its time zone"
    assert (round(home.site.latitude), round(home.site.longitude)) == (41, -74)
    verdict = judge(home, plan, outage, home.catalogue.over(shipped()))
    assert [x.name for x in verdict.unfed] == ["Well pump"]
    assert not verdict.reaches
    assert "transfer switch" in verdict.needs(verdict.unfed[0])
    assert "120/240 V" in verdict.needs(verdict.unfed[0])


def test_a_verdict_says_the_legs_and_how_many_places_each_circuit_takes(planner):
    v = planner.verdict(HOME, *PAIR)
    circuits = {c.id: c for c in v.circuits}
    # On a usual panel the leg alternates by row: slots 1 and 2 on A, 3 and 4 on B.
    home = planner.state(HOME).home["circuits"]
    for c in home.values():
        leg = "A·B" if c["poles"] == 2 else c["leg"] or "AB"[(c["slots"][0] - 1) // 2 % 2]
        assert (circuits[c["id"]].leg, circuits[c["id"]].places) == (leg, c["poles"])
    assert v.boards[0].place_legs == list("ABABABABAB")
    plan = next(p for p in planner.state(HOME).plans if p["id"] == PAIR[0])
    assert v.feed_legs == {f["id"]: "AB"[(f["place"] - 1) % 2] for f in plan["feeds"].values()}


def test_undo_passes_over_the_start_and_end_of_an_outage(tmp_path):
    """Ctrl+Z anywhere takes back the last change of the plan, and never an outage, or what was noted in one that is over."""
    planner, home = demo_copy(tmp_path), "saltgrass-house"
    began = planner.now(planner.documents(planner.state(home)).home).replace(microsecond=0).isoformat()

    def edit(label: str, *ops: dict[str, object]) -> None:
        planner.edit(home, planner.rev(home), label, label, [{"doc": "home"} | op for op in ops], None)

    edit("renamed", {"op": "replace", "path": "/note", "value": "mine"})
    edit("out", {"op": "replace", "path": "/live", "value": {"began": began, "plan": "ten-place"}})
    assert planner.state(home).undo == "renamed"
    note = {"id": "n", "source": "main", "at": began, "charge": 0.5}
    edit("noted", {"op": "add", "path": "/live/notes/n", "value": note})
    assert planner.state(home).undo == "noted"
    live = planner.state(home).home["live"]
    kept = {"op": "add", "path": "/lived/x", "value": live | {"ended": began}}
    edit("back", kept, {"op": "replace", "path": "/live", "value": None})
    assert planner.state(home).undo == "renamed"
    planner.undo(home, "u", None)
    state = planner.state(home)
    assert (state.home["live"], state.home["lived"]["x"]["notes"]["n"]["charge"], state.redo) == (None, 0.5, "renamed")
    planner.database.close()
