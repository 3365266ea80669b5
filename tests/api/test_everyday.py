"""Ordinary days over the wire: tariff, hold, readiness, worth, calendar, replay, and an outage that begins as a day
leaves it."""

from __future__ import annotations

import time
from datetime import datetime, timedelta

import pytest
import vobject
from fastapi.testclient import TestClient

from imbuto.api.app import create_app
from tests.demo import demo_copy

HOME = "/api/homes/saltgrass-house"
PAIR = {"plan": "switched-panel", "outage": "evening-cut"}
STORM = {"plan": "switched-panel", "outage": "november-windstorm"}


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("everyday"))
    with TestClient(create_app(planner), base_url="http://localhost", raise_server_exceptions=False) as client:
        yield client
    planner.database.close()


def edit(client, *ops: dict, ok: bool = True) -> dict:
    rev = client.get(HOME).json()["rev"]
    body = {"base_rev": rev, "edit_id": f"e{rev}{len(str(ops))}", "label": "Edit", "ops": list(ops), "judge": PAIR}
    told = client.post(f"{HOME}/edits", json=body)
    assert (told.status_code == 200) is ok, told.text
    return told.json()


def test_a_year_its_bills_and_a_hold_that_moves_saving_against_readiness(client):
    view = client.get(f"{HOME}/everyday", params=STORM).json()
    assert view["uses"] == ["stand", "sun", "store", "charge"]
    assert view["saving"] == pytest.approx(view["before"]["total"] - view["after"]["total"])
    assert sum(x["cost"] for x in view["before"]["lines"]) == pytest.approx(view["before"]["total"])
    assert sum(m["house"] for m in view["months"]) == pytest.approx(43.9 * 365, rel=0.05)
    assert len(view["nights"]) == 365
    curve = client.get(f"{HOME}/everyday/curve", params=STORM).json()
    assert len(curve["points"]) == 20
    assert curve["points"][0]["saving"] > curve["points"][-1]["saving"]
    assert curve["points"][0]["chance"] < curve["points"][-1]["chance"]
    for day in view["days"]:
        for load, *given in zip(day["load"], day["grid"], day["sun"], day["store"], strict=True):
            assert sum(given) == pytest.approx(load, abs=0.5)
    # A wrong rate corrected recomputes what hung on it.
    edit(client, {"doc": "home", "op": "replace", "path": "/tariffs/bay-day-night/rates/day/price", "value": 0.34})
    dearer = client.get(f"{HOME}/everyday", params=STORM).json()
    assert dearer["saving"] > view["saving"]
    client.post(f"{HOME}/undo", json={"edit_id": "u1", "judge": PAIR})
    assert client.get(f"{HOME}/everyday", params=STORM).json()["saving"] == pytest.approx(view["saving"])
    for plan, outage, status in (("none", "november-windstorm", 404), ("two-panels", "november-windstorm", 200)):
        told = client.get(f"{HOME}/everyday", params={"plan": plan, "outage": outage})
        assert told.status_code == status
    several = client.get(f"{HOME}/everyday", params={**STORM, "plan": "two-panels"}).json()
    assert several["uses"]
    assert several["saving"] == pytest.approx(several["before"]["total"] - several["after"]["total"])
    assert sum(m["unserved"] for m in several["months"]) == pytest.approx(several["unserved_kwh"], abs=1e-6)


def test_bad_tariffs_and_weeks_are_refused_with_a_sentence_and_nothing_is_lost(client):
    rev = client.get(HOME).json()["rev"]
    rates = "/tariffs/bay-day-night/rates"
    night = {"id": "n2", "name": "Late", "price": 0.1, "windows": [{"start_h": 22, "end_h": 24 - 0.5, "days": "all"}]}
    for op in (
        {"path": f"{rates}/day/price", "op": "replace", "value": 14},
        {"path": f"{rates}/n2", "op": "add", "value": night | {"windows": [{"start_h": 2, "end_h": 4, "days": "all"}]}},
        {"path": f"{rates}/day", "op": "remove"},
    ):
        told = edit(client, {"doc": "home"} | op, ok=False)
        assert told["sentence"].endswith(".")
    modes = {k: {"id": k, "name": k, "use": "store", "windows": [{"start_h": 17, "end_h": 20}]} for k in "ab"}
    told = edit(client, {"doc": "switched-panel", "op": "replace", "path": "/everyday/modes", "value": modes}, ok=False)
    assert "one mode" in told["sentence"]
    assert client.get(HOME).json()["rev"] == rev


def test_tariffs_and_the_year_go_out_as_csv_and_a_tariff_comes_in(client):
    file = client.get(f"{HOME}/tariffs/bay-day-night.csv")
    assert file.status_code == 200
    more = file.text.replace("0.24", "0.26").replace("Bay day and night", "Bay next year")
    told = client.post(f"{HOME}/tariffs", params={"name": "t.csv", "edit_id": "csv"}, content=more.encode())
    assert told.status_code == 200, told.text
    assert client.get(HOME).json()["home"]["tariffs"]["bay-next-year"]["rates"]["all-other-hours"]["price"] == 0.26
    clash = more.replace("23.0,6.0", "17.0,6.0").replace("23,6", "17,6")
    wrong = client.post(f"{HOME}/tariffs", params={"name": "t.csv", "edit_id": "csv2"}, content=clash.encode())
    assert (wrong.status_code, "one price" in wrong.json()["sentence"]) == (422, True)
    client.post(f"{HOME}/undo", json={"edit_id": "u-csv", "judge": PAIR})
    year = client.get(f"{HOME}/everyday.csv", params=STORM).text.splitlines()
    assert len(year) == 1 + 12 + 365
    assert client.get(f"{HOME}/tariffs/none.csv").status_code == 404


def test_an_evening_outage_begins_at_what_an_ordinary_day_leaves(client):
    full = client.get(f"{HOME}/verdict", params=PAIR).json()
    edit(client, {"doc": "evening-cut", "op": "replace", "path": "/as_left", "value": True})
    left = client.get(f"{HOME}/verdict", params=PAIR).json()
    assert left["low_hours"] is None or full["low_hours"] is None or left["low_hours"] < full["low_hours"]
    run = client.get(f"{HOME}/run", params=PAIR).json()
    assert 0.3 < run["charge"][0] < 0.95
    row = next(
        r
        for r in client.get(f"{HOME}/compare", params={"against": "switched-panel"}).json()["rows"]
        if r["plan"] == "switched-panel"
    )
    assert row
    standing = {"doc": "switched-panel", "op": "replace", "path": "/everyday", "value": None}
    edit(client, standing)
    assert client.get(f"{HOME}/run", params=PAIR).json()["charge"][0] == 1
    client.post(f"{HOME}/undo", json={"edit_id": "u2", "judge": PAIR})
    client.post(f"{HOME}/undo", json={"edit_id": "u3", "judge": PAIR})


def test_worth_says_never_and_why_and_credits_come_off(client):
    w = client.get(f"{HOME}/worth", params=STORM).json()
    assert w["net"] == w["cost"] == pytest.approx(sum(x["sum"] for x in w["lines"] if x["counts"]))
    assert all(p["years"] is None for p in w["payback"])  # "never" is an answer
    credit = {"id": "c", "name": "Credit", "rate": 0.3, "of": ["equipment"]}
    edit(client, {"doc": "switched-panel", "op": "add", "path": "/credits/c", "value": credit})
    less = client.get(f"{HOME}/worth", params=STORM | {"avoided": 5000}).json()
    assert less["cost"] - less["net"] == pytest.approx(
        0.3 * sum(x["sum"] for x in w["lines"] if x["kind"] == "equipment")
    )
    assert [p["years"] is None for p in less["payback"] if p["avoided"]] == [False, False, False]
    flat = client.get(f"{HOME}/worth", params=STORM | {"plan": "cords-only"}).json()
    assert flat["saving"] is not None
    assert flat["nothing"]
    assert {o["name"] for o in w["others"]} == {"Bay day and night", "Bay plain"}
    assert w["rivals"]
    assert client.get(f"{HOME}/worth", params=STORM | {"avoided": -1}).status_code == 422
    client.post(f"{HOME}/undo", json={"edit_id": "u4", "judge": PAIR})


def test_the_calendar_is_read_by_another_library(client):
    edit(client, {"doc": "switched-panel", "op": "replace", "path": "/everyday/by", "value": "app"})
    view = client.get(f"{HOME}/keeping", params=STORM).json()
    assert any("Night: sun first" in d["title"] for d in view["duties"])
    file = client.get(f"{HOME}/keeping.ics", params=STORM)
    events = vobject.readOne(file.text).vevent_list
    assert len(events) == len(view["duties"])
    by_title = {e.summary.value: e for e in events}
    for d in view["duties"]:
        e = by_title[d["title"]]
        assert e.dtstart.value.replace(tzinfo=None) == datetime.fromisoformat(d["first"])
        assert ("rrule" in e.contents) == (d["every"] != "once")
    client.post(f"{HOME}/undo", json={"edit_id": "u5", "judge": PAIR})


def read_file(client, name: str, text: str) -> dict:
    """Have a file read, and wait for it."""
    told = client.post(f"{HOME}/logs", params={"name": name}, content=text.encode())
    assert told.status_code == 202, told.text
    job = told.json()
    for _ in range(400):
        job = client.get(f"/api/jobs/{job['id']}").json()
        if job["state"] not in ("waiting", "running"):
            break
        time.sleep(0.05)
    assert job["state"] == "done", job
    return job


def test_a_utility_file_is_replayed_with_the_outage_it_saw(client):
    begin = datetime(2026, 1, 1)
    rows = ["time,house W"]
    for i in range(24 * 60):
        at = begin + timedelta(hours=i)
        rows.append(f"{at:%Y-%m-%d %H:%M},{0 if 500 <= i < 503 else 1400 + 600 * (17 <= at.hour < 21)}")
    job = read_file(client, "year.csv", "\n".join(rows))
    kept_as = {"channel": job["log"]["channels"][0]["name"]}
    keep = {"edit_id": "keep", "job": job["id"], "channels": [kept_as], "judge": PAIR}
    kept = client.post(f"{HOME}/series", json=keep)
    assert kept.status_code == 200, kept.text
    (meter,) = client.get(f"{HOME}/meters").json()
    view = client.get(f"{HOME}/replay", params={"plan": "switched-panel", "series": meter["id"]}).json()
    assert view["days"] == pytest.approx(60, abs=0.3)
    assert view["house_kwh"] == pytest.approx((1400 * 24 + 600 * 4) / 1000 * 60, rel=0.01)
    assert view["saved"] is not None
    assert [(o["hours"], o["carried"]) for o in view["outages"]] == [(3, True)]
    several = client.get(f"{HOME}/replay", params={"plan": "two-panels", "series": meter["id"]})
    assert several.status_code == 200, several.text
    assert client.get(f"{HOME}/replay", params={"plan": "switched-panel", "series": "none"}).status_code == 404


def makers_csv(days: int = 30) -> str:
    """A month in a form that no reader was written for: local hours, kWh an hour, odd names."""
    rows = ["Reporting slot;Home usage kWh;Grid import kWh;Grid export kWh;PV yield kWh;SOC %"]
    for i in range(24 * days):
        at = datetime(2026, 9, 1) + timedelta(hours=i)
        sun = 0.9 if 9 <= at.hour < 16 else 0.0
        bought = 0.2 if sun else 1.0
        rows.append(f"{at:%Y-%m-%d %H:%M};1.0;{bought};{max(sun - 0.8, 0):.1f};{sun};{40 + at.hour}")
    return "\n".join(rows)


def test_a_months_file_of_any_maker_says_what_was_saved(client):
    assert client.get(f"{HOME}/saved").json()["kept"] == []
    job = read_file(client, "export.csv", makers_csv())
    names = [c["name"] for c in job["log"]["channels"]]
    roles = {"Home": "house", "import": "bought", "export": "sent", "PV": "sun"}
    chosen = [{"channel": n, "role": r} for n in names for word, r in roles.items() if word in n]
    assert len(chosen) == 4, names
    twice = [*chosen[:1], {**chosen[1], "role": chosen[0]["role"]}]
    refused = client.post(f"{HOME}/energy", json={"job": job["id"], "channels": twice})
    assert (refused.status_code, "the same thing" in refused.json()["sentence"]) == (422, True)
    kept = client.post(f"{HOME}/energy", json={"job": job["id"], "channels": chosen})
    assert kept.status_code == 200, kept.text
    assert {k["role"] for k in kept.json()} == set(roles.values())
    view = client.get(f"{HOME}/saved", params={"price": 0.5}).json()
    assert (view["first"], view["last"]) == ("2026-09-01", "2026-09-30")
    assert view["whole"]["house"] == pytest.approx(30 * 24, rel=1e-6)
    assert view["whole"]["at_price"] == pytest.approx(30 * 7 * 0.8 * 0.5)
    assert view["whole"]["by_sun"] == pytest.approx(7 * 0.8 / 24)
    assert view["whole"]["saved"] > 0
    assert len(view["rows"]) == 30
    assert sum(r["house"] for r in view["rows"]) == pytest.approx(view["whole"]["house"])
    weeks = client.get(f"{HOME}/saved", params={"by": "week", "first": "2026-09-01", "last": "2026-09-30"}).json()
    assert [r["first"] for r in weeks["rows"]][:2] == ["2026-09-01", "2026-09-07"]
    assert sum(r["bought"] for r in weeks["rows"]) == pytest.approx(weeks["whole"]["bought"])
    again = client.post(f"{HOME}/energy", json={"job": job["id"], "channels": chosen})  # the same hours are replaced
    assert again.status_code == 200
    assert client.get(f"{HOME}/saved").json()["whole"]["house"] == pytest.approx(view["whole"]["house"])
    # A wrong price corrected recomputes what hung on it.
    edit(client, {"doc": "home", "op": "replace", "path": "/tariffs/bay-day-night/rates/day/price", "value": 0.6})
    assert client.get(f"{HOME}/saved").json()["whole"]["saved"] > view["whole"]["saved"]
    left = client.delete(f"{HOME}/energy/house").json()
    assert "house" not in {k["role"] for k in left}
    worked_out = client.get(f"{HOME}/saved").json()
    assert any("calculates" in note for note in worked_out["notes"])
    for wrong in ({"first": "2026-09-30", "last": "2026-09-01"}, {"first": "1900-01-01", "last": "2026-09-01"}):
        told = client.get(f"{HOME}/saved", params=wrong)
        assert (told.status_code, told.json()["kind"]) == (422, "invalid")


def test_whether_it_runs_without_the_grid_is_said_in_days_with_the_next_step(client):
    view = client.get(f"{HOME}/alone", params={"plan": "switched-panel"}).json()
    assert view["short"] > 0
    assert f"{view['short']:,} of 365 days" in view["says"][0]
    assert all(step["short"] < view["short"] for step in view["steps"])
    assert any("hours per year" in line for line in view["says"])  # of its generator
    bare = client.get(f"{HOME}/alone", params={"plan": "ten-place"}).json()
    assert bare["short"] == 365
    assert any("no panels" in line for line in bare["says"])
    assert client.get(f"{HOME}/alone", params={"plan": "none"}).status_code == 404
