"""The switch as it is, what gets warm, and the filling again afterwards: as hands and gauges have noted them."""

from __future__ import annotations

from datetime import datetime, timedelta

import pytest

from imbuto.services.outages.outage_now import begin, live_view, note
from tests.demo import demo_copy

HOME, PAIR = "saltgrass-house", ("ten-place", "november-windstorm")
BEGAN = datetime(2025, 11, 25, 18)


@pytest.fixture
def planner(tmp_path):
    planner = demo_copy(tmp_path)
    begin(planner, HOME, PAIR, BEGAN, None, {"main": 0.9}, "out")
    yield planner
    planner.database.close()


def put(planner, path: str, value: object, verb: str = "add") -> None:
    op = {"doc": "home", "op": verb, "path": path, "value": value}
    planner.edit(HOME, planner.rev(HOME), f"{path}{planner.rev(HOME)}", "Put", [op], PAIR)


def at(hours: float) -> datetime:
    return BEGAN + timedelta(hours=hours)


def switched(planner, ident: str, feed: str, on: bool, hours: float, who: str = "Ada") -> None:
    put(
        planner,
        f"/live/switched/{ident}",
        {"id": ident, "feed": feed, "on": on, "at": at(hours).isoformat(), "who": who},
    )


def view(planner, hours: float):
    return live_view(planner, HOME, PAIR[1], at(hours))


def test_places_stand_in_their_order_and_what_is_off_no_longer_counts(planner):
    before = view(planner, 3)
    assert [p.place for p in before.places] == sorted(p.place for p in before.places)
    assert all(p.on and p.noted == "" and p.by_hand for p in before.places)
    freezer = next(p for p in before.places if p.name == "Chest freezer")
    switched(planner, "s1", freezer.feed, False, 2)
    off = view(planner, 3)
    now = next(p for p in off.places if p.feed == freezer.feed)
    assert (now.on, now.noted) == (False, "Ada, 8:00 pm")
    assert off.stores[0].dark_at > before.stores[0].dark_at
    assert off.stores[0].planned_w == pytest.approx(before.stores[0].planned_w - 41, abs=1)
    switched(planner, "s2", freezer.feed, True, 2.5, "")
    on = next(p for p in view(planner, 3).places if p.feed == freezer.feed)
    assert (on.on, on.noted) == (True, "someone, 8:30 pm")


def test_a_place_that_a_life_hangs_on_is_never_off_without_a_word(planner):
    bedroom = next(p for p in view(planner, 1).places if "concentrator" in p.name.lower())
    switched(planner, "s1", bedroom.feed, False, 1)
    says = next(p.says for p in view(planner, 2).places if p.feed == bedroom.feed)
    assert "a life depends on it" in says


@pytest.mark.parametrize(
    ("after", "says"), [(95, ""), (900, "something else is on it"), (20, "the opposite direction")]
)
def test_the_meter_steps_with_a_place_and_a_rider_is_told(planner, after, says):
    freezer = next(p for p in view(planner, 1).places if p.name == "Chest freezer")
    note(planner, HOME, PAIR, "88% 1600 W", "main", "n1", at(2))
    switched(planner, "s1", freezer.feed, False, 2.05)
    note(planner, HOME, PAIR, f"88% {1600 - after if after != 20 else 1620} W", "main", "n2", at(2.1))
    found = next(p for p in view(planner, 3).places if p.feed == freezer.feed)
    assert found.steps_w == (after if after != 20 else -20)
    assert says in found.says
    assert bool(says) == bool(found.says)


def test_cold_boxes_without_power_warm_sooner_with_their_doors_open(planner):
    bait = next(c for c in view(planner, 1).cold if c.name == "Bait chest")
    assert bait.off_since == BEGAN
    assert "Chest freezer" not in {c.name for c in view(planner, 1).cold}
    put(planner, "/live/opened/o1", {"id": "o1", "load": bait.load, "at": at(0.5).isoformat(), "minutes": 6})
    again = next(c for c in view(planner, 1).cold if c.name == "Bait chest")
    assert again.opened == 6
    assert bait.limit_at - again.limit_at == pytest.approx(timedelta(minutes=60), abs=timedelta(minutes=1))
    rest = {"id": "t1", "kind": "rest", "source": "main", "load": "freezer", "at": at(1).isoformat()}
    put(planner, "/live/taken/t1", rest)
    freezer = next(c for c in view(planner, 2).cold if c.name == "Chest freezer")
    assert freezer.off_since == at(1)
    assert any(a.id == "food-freezer" for a in view(planner, 2).acts)
    put(planner, "/live/taken/t1/until", at(1.5).isoformat(), "replace")
    assert "Chest freezer" not in {c.name for c in view(planner, 2).cold}


def test_afterwards_it_is_filled_again_and_seen_to_charge(planner):
    live = planner.state(HOME).home["live"]
    put(planner, "/lived/l", live | {"ended": at(6).isoformat()})
    put(planner, "/live", None, "replace")
    back = view(planner, 6.5).back
    (store,) = back.stores
    assert (store.charge, store.confirmed, store.fits) == (0.9, "", True)
    put(
        planner,
        "/lived/l/notes/a",
        {"id": "a", "source": "main", "at": at(6.2).isoformat(), "charge": 0.4, "in_w": 1500, "out_w": 500},
    )
    put(planner, "/lived/l/notes/b", {"id": "b", "source": "main", "at": at(6.8).isoformat(), "charge": 0.47})
    (store,) = view(planner, 7).back.stores
    assert store.charge == 0.47
    assert store.confirmed == "from 40 to 47% since"
    assert store.full_at > at(7)
    assert store.now_h
    assert view(planner, 6 + 49).back is None
    # What is noted while it fills teaches nothing of the outage.
    assert planner.documents(planner.state(HOME)).home.lived["l"].notes.keys() == {"a", "b"}
