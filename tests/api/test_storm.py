"""Cards and drill over the wire."""

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from fastapi.testclient import TestClient
from icalendar import Calendar

from imbuto.api.app import create_app
from tests.demo import demo_copy

HOME = "/api/homes/saltgrass-house"


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("storm"))
    with TestClient(create_app(planner), base_url="http://localhost", raise_server_exceptions=False) as client:
        yield client
    planner.database.close()


def over(client, edit_id):
    """The outage never was: as a person who may edit takes it out."""
    gone = {"doc": "home", "op": "replace", "path": "/live", "value": None}
    body = {"base_rev": client.get(HOME).json()["rev"], "edit_id": edit_id, "label": "No outage", "ops": [gone]}
    assert client.post(f"{HOME}/edits", json=body).status_code == 200


def test_cards_and_a_round_of_the_drill(client):
    kinds = [c["kind"] for c in client.get(f"{HOME}/cards", params={"plan": "ten-place"}).json()]
    assert kinds == ["over", "back", "restart", "low"]
    assert client.get(f"{HOME}/cards", params={"plan": "none"}).status_code == 404
    now = client.get(f"{HOME}/drill", params={"plan": "ten-place", "scene": "over"}).json()
    assert (now["won"], now["grid"], now["harm"]) == (False, False, [])

    def move(part: str, to: str, **more: object) -> dict:
        body = {
            "plan": "ten-place",
            "scene": "over",
            "positions": {p["id"]: p["now"] for p in now["parts"]},
            "harm": now["harm"],
            "part": part,
            "to": to,
        }
        return client.post(f"{HOME}/drill", json=body | more)

    now = move("charger:main", "out").json()
    assert next(p["now"] for p in now["parts"] if p["id"] == "charger:main") == "out"
    for wrong in (move("charger:main", "sideways"), move("nothing", "on"), move("main", "off", positions={})):
        assert wrong.status_code in (404, 422)
        assert wrong.json()["sentence"].endswith(".")


def test_a_storm_is_noted_ticked_and_undone(client):
    pair = {"plan": "ten-place", "outage": "november-windstorm"}
    assert client.get(f"{HOME}/ready", params=pair).json()["ready"] is None
    told = client.post(f"{HOME}/alert/feed", params={"edit_id": "feed-1"} | pair)
    assert told.status_code == 200, told.text
    alert = client.get(HOME).json()["home"]["alert"]
    view = client.get(f"{HOME}/ready", params=pair).json()
    begins, now = (datetime.fromisoformat(x) for x in (alert["begins"], view["now"]))
    assert (begins.hour, alert["came"]) == (17, "feed")
    assert timedelta(hours=29) < begins - now < timedelta(hours=55) or now < datetime(2026, 11, 23)
    assert view["planned_as"].startswith("Planned for 72 h, as long as “November windstorm”")
    assert view["hours"] == 48
    assert view["ready"]["carries"][0]["hours"] == pytest.approx(
        client.get(f"{HOME}/verdict", params=pair).json()["low_hours"], abs=0.1
    )
    assert not view["ready"]["enough"]
    rev = client.get(HOME).json()["rev"]
    tick = {
        "doc": "home",
        "op": "add",
        "path": "/alert/ticks/test",
        "value": {"who": "Ada", "at": "2026-11-23T10:00:00"},
    }
    client.post(f"{HOME}/edits", json={"base_rev": rev, "edit_id": "t", "label": "Done", "ops": [tick], "judge": pair})
    items = {i["id"]: i for i in client.get(f"{HOME}/ready", params=pair).json()["ready"]["items"]}
    assert items["test"]["done"].startswith("Ada")
    bad = client.post(f"{HOME}/alert", params={"edit_id": "x", "name": "a.xml"} | pair, content=b"<a/>")
    assert bad.status_code == 400
    for n in range(2):
        client.post(f"{HOME}/undo", json={"edit_id": f"u{n}", "judge": pair})
    assert client.get(HOME).json()["home"]["alert"] is None


def test_an_outage_is_begun_late_noted_and_ended_and_its_promise_stays(client):
    pair = {"plan": "ten-place", "outage": "november-windstorm"}
    url, view = f"{HOME}/live", lambda: client.get(f"{HOME}/live", params={"outage": pair["outage"]}).json()
    assert (view()["live"], view()["stores"]) == (None, [])
    assert client.post(f"{url}/notes", json=pair | {"edit_id": "n0", "text": "64%"}).status_code == 404
    now = datetime.fromisoformat(view()["now"])
    later = client.post(url, json=pair | {"edit_id": "o1", "began": (now + timedelta(hours=1)).isoformat()})
    assert (later.status_code, "in the future" in later.json()["sentence"]) == (422, True)
    began = now - timedelta(hours=4)
    body = {"edit_id": "o2", "began": began.isoformat(), "back_by": (began + timedelta(hours=48)).isoformat()}
    told = client.post(url, json=pair | body | {"charges": {"main": 0.8}})
    assert told.status_code == 200, told.text
    assert client.post(url, json=pair | body | {"edit_id": "o3"}).status_code == 422
    first = view()
    (store,) = first["stores"]
    assert first["lasted"] == "4 h"
    assert first["short"]
    assert store["dark_at"][:13] == store["promised_at"][:13]
    assert store["early_at"] < store["dark_at"]
    assert store["charge"] < 0.8
    assert "Hogshead" in first["text"]
    file = client.get(f"{url}/alarms.ics", params={"outage": pair["outage"]})
    assert file.headers["content-type"].startswith("text/calendar")
    events = Calendar.from_ical(file.content).walk("VEVENT")
    acts = {f"{a['id']}@saltgrass-house.imbuto": a for a in first["acts"] if not a["late"]}
    assert {str(e["uid"]) for e in events} == set(acts)
    for event in events:
        at = event["dtstart"].dt.astimezone(ZoneInfo("America/Los_Angeles")).replace(tzinfo=None)
        assert abs(at - datetime.fromisoformat(acts[str(event["uid"])]["at"])) < timedelta(minutes=1)
        assert [str(a["action"]) for a in event.walk("VALARM")] == ["DISPLAY"]
    life = next(a for a in first["acts"] if a["id"] == "life-main")
    assert life["title"].startswith("Oxygen concentrator")
    assert life["at"] < store["early_at"]

    def line(text: str, edit_id: str):
        return client.post(f"{url}/notes", json=pair | {"edit_id": edit_id, "text": text})

    # It went from 80 % to 50 % in four hours: it is dark hours before what the plan alone would say.
    assert line("50%", "n1").status_code == 200
    assert line("50%", "n1").status_code == 200  # sent twice: told once
    learnt = view()["stores"][0]
    assert (learnt["notes"], learnt["since_at"]) == (1, None)
    assert learnt["dark_at"] < store["dark_at"]
    assert learnt["promised_at"] == store["promised_at"]
    assert learnt["scale"] > 1
    for bad in ("soon dark", "140%", "50% 12 V"):
        wrong = line(bad, "n2")
        assert (wrong.status_code, wrong.json()["sentence"][-1]) == (422, ".")
    # A neighbour's outlet: from then on all goes by the last line, and the scale by the plan again.
    assert line("95% 9 kW", "n3").status_code == 200
    (asked,) = view()["stores"][0]["asks"]
    assert asked["says"].startswith("50% before, 95% at")
    sure = {"doc": "home", "op": "add", "path": f"/live/notes/{asked['note']}/sure", "value": True}
    body = {"base_rev": client.get(HOME).json()["rev"], "edit_id": "s1", "label": "Right", "ops": [sure], "judge": pair}
    assert client.post(f"{HOME}/edits", json=body).status_code == 200
    charged = view()["stores"][0]
    assert [(x["note"], x["apart"]) for x in charged["lines"]] == [("n2", "more")]
    assert 0 < charged["lines"][0]["planned_w"] < 2000
    assert charged["since_at"] is not None
    assert charged["charge"] == pytest.approx(0.95, abs=0.02)
    assert charged["dark_at"] > store["dark_at"]
    for n in range(3):
        client.post(f"{HOME}/undo", json={"edit_id": f"un{n}", "judge": pair})
    assert view()["stores"][0]["notes"] == 0
    rev, live = client.get(HOME).json()["rev"], view()["live"]
    backwards = {"doc": "home", "op": "add", "path": "/lived/x", "value": live | {"ended": "2020-01-01T00:00:00"}}
    edit = {"base_rev": rev, "edit_id": "e", "label": "It is back", "ops": [backwards], "judge": pair}
    assert client.post(f"{HOME}/edits", json=edit).status_code == 422
    # Undo passes over the start of an outage: a key pressed anywhere never ends it.
    assert client.get(HOME).json()["undo"] != "Power is out"
    over(client, "un9")
    assert view()["live"] is None


def test_before_any_gauge_every_plan_goes_dark_when_it_was_promised(client):
    """Whatever is joined to what: no store is dark before it began, and none later or earlier than the plan's own
    word."""
    seen = 0
    for plan in client.get(HOME).json()["plans"]:
        pair = {"plan": plan["id"], "outage": "november-windstorm"}
        told = client.post(f"{HOME}/live", json=pair | {"edit_id": f"out-{plan['id']}"})
        assert told.status_code == 200, told.text
        view = client.get(f"{HOME}/live", params={"outage": pair["outage"]}).json()
        assert view["stores"] or not plan["sources"], plan["id"]
        for s in view["stores"]:
            seen += 1
            assert 0 <= s["floor"] < s["charge"] <= 1, (plan["id"], s)
            if s["dark_at"] is None or s["promised_at"] is None:
                assert plan["engine"] or s["dark_at"] == s["promised_at"], (plan["id"], s)
                continue
            dark, promised = (datetime.fromisoformat(s[k]) for k in ("dark_at", "promised_at"))
            assert s["engine"] or abs(dark - promised) <= timedelta(minutes=20), (plan["id"], s)
            assert (
                s["early_at"] is None
                or datetime.fromisoformat(view["now"]) < datetime.fromisoformat(s["early_at"]) <= dark
            )
        over(client, f"back-{plan['id']}")
    assert seen >= 5
