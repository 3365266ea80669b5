"""What is next in an outage: by the clock, and what a life depends on well before the dark."""

from datetime import datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st

from imbuto.core.outages.next_acts import WAKE_AHEAD, StoreOutlook, WarmingBox, acts

NOW = datetime(2026, 11, 24, 22, 0)
HOURS = st.floats(0, 60).map(lambda h: timedelta(hours=h))


@given(st.lists(st.tuples(HOURS, HOURS, st.booleans()), min_size=1, max_size=4), HOURS, st.one_of(st.none(), HOURS))
def test_life_goes_by_the_earliest_and_nothing_is_out_of_turn(stores, read, back):
    going = [
        StoreOutlook(
            source=f"s{i}",
            name=f"Store {i}",
            read_at=NOW - read,
            low_at=None,
            early_at=NOW + early,
            dark_at=NOW + early + more,
            life=("Concentrator",) if life else (),
        )
        for i, (early, more, life) in enumerate(stores)
    ]
    found = acts(going, None if back is None else NOW + back, NOW)
    overdue = [a.late and a.id.startswith("life-") for a in found]
    assert overdue == sorted(overdue, reverse=True), "what a life depends on leads once it is late"
    rest = [a.at for a, first in zip(found, overdue, strict=True) if not first]
    assert rest == sorted(rest)
    assert len({a.id for a in found}) == len(found)
    by_id = {a.id: a for a in found}
    for store in going:
        assert (f"life-{store.source}" in by_id) == bool(store.life)
        assert store.early_at is not None
        dark = by_id[f"dark-{store.source}"]
        assert dark.at < store.early_at
        if store.life:
            assert by_id[f"life-{store.source}"].at <= min(dark.at, store.early_at - timedelta(hours=2))
        assert store.read_at <= by_id[f"read-{store.source}"].at <= max(store.early_at, store.read_at)
    assert all(a.late == (a.at < NOW) for a in found)
    assert ("back" in by_id) == (back is not None)


def test_a_store_that_never_goes_dark_asks_only_for_its_gauge():
    going = StoreOutlook(
        source="s", name="Tun", read_at=NOW, low_at=None, early_at=None, dark_at=None, life=("Concentrator",)
    )
    assert [(a.id, a.at) for a in acts([going], None, NOW)] == [("read-s", NOW + timedelta(hours=3))]


def test_a_generator_is_started_with_time_to_wake_up_and_stopped_and_refuelled_cold():
    start = NOW + timedelta(hours=5)
    going = StoreOutlook(
        source="s", name="Tun", read_at=NOW, low_at=None, early_at=None, dark_at=None, engine="Ember", start_at=start
    )
    (first,) = [a for a in acts([going], None, NOW) if a.id == "engine-s"]
    assert (first.at, first.title) == (start - WAKE_AHEAD, "Start Ember")
    assert "6 m from every opening" in first.why
    runs = ((NOW + timedelta(hours=1), NOW + timedelta(hours=3)), (NOW - timedelta(hours=9), NOW - timedelta(hours=8)))
    settled = StoreOutlook(
        source="s",
        name="Tun",
        read_at=NOW,
        low_at=None,
        early_at=None,
        dark_at=None,
        engine="Ember",
        start_at=start,
        runs=runs,
    )
    found = {a.id: a for a in acts([settled], None, NOW)}
    assert found["engine-s"].at == runs[0][0] - WAKE_AHEAD
    assert found["stop-s"].at == runs[0][1]
    assert "cool before you refuel it" in found["stop-s"].why
    running = {a.id for a in acts([settled], None, NOW + timedelta(hours=2))}
    assert "engine-s" not in running
    assert "stop-s" in running


def test_a_cold_box_is_looked_at_when_it_passes_its_limit():
    box = WarmingBox(load="fridge", name="the fridge", limit_at=NOW + timedelta(hours=4))
    (only,) = acts([], None, NOW, [box])
    assert (only.at, only.late) == (box.limit_at, False)
    assert "Trust the thermometer" in only.why
    assert acts([], None, NOW + timedelta(hours=5), [box])[0].late
