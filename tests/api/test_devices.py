"""Phones at home: a one-time code pairs a device; anything else on the network gets nothing."""

import re

import pytest
from starlette.testclient import TestClient

from imbuto.api.app import create_app
from imbuto.services.desk.pairing import TOKEN_S
from tests.demo import demo_copy

LAN = "http://192.0.2.2:8474"


@pytest.fixture
def app(tmp_path):
    planner = demo_copy(tmp_path)
    yield create_app(planner, LAN)
    planner.database.close()


def at_home(app):
    return TestClient(app, base_url="http://localhost:8474", client=("127.0.0.1", 1))


def phone(app, host=LAN):
    return TestClient(app, base_url=host, client=("192.0.2.77", 50_000), follow_redirects=False)


def invited(app):
    answer = at_home(app).post("/api/devices/invitations").json()
    assert answer["address"].startswith(f"{LAN}/pair?token=")
    assert "<svg" in answer["svg"]
    return re.sub("^.*token=", "", answer["address"])


def paired(app, name="Phone"):
    device = phone(app)
    answer = device.post("/pair", data={"token": invited(app), "name": name})
    assert (answer.status_code, answer.headers["location"]) == (303, "/")
    assert "httponly" in answer.headers["set-cookie"].lower()
    assert "samesite=strict" in answer.headers["set-cookie"].lower()
    return device


@pytest.mark.parametrize("path", ["/", "/api/homes", "/api/about", "/api/devices", "/assets/x.js", "/api/openapi.json"])
def test_a_device_that_is_not_paired_gets_nothing(app, path):
    answer = phone(app).get(path)
    assert answer.status_code == 401
    assert answer.json()["sentence"].startswith("This device isn't paired")
    assert "saltgrass" not in answer.text.lower()
    assert at_home(app).get("/api/homes").status_code == 200


def test_a_paired_device_works_and_stops_when_it_is_unpaired(app):
    device = paired(app, "Kitchen phone")
    assert len(device.get("/api/homes").json()) == 2
    other = phone(app)
    assert other.get("/api/homes").status_code == 401
    listed = at_home(app).get("/api/devices").json()
    assert [d["name"] for d in listed] == ["Kitchen phone"]
    assert at_home(app).delete(f"/api/devices/{listed[0]['id']}").status_code == 204
    assert device.get("/api/homes").status_code == 401
    assert at_home(app).delete(f"/api/devices/{listed[0]['id']}").status_code == 404


def test_a_device_may_look_note_tick_or_edit(app):
    """Each right by what it lets through, over the wire; nothing that is refused is kept."""
    home = at_home(app)
    url = "/api/homes/saltgrass-house"
    pair = {"plan": "ten-place", "outage": "november-windstorm"}
    tick = {"id": "s1", "feed": "internet", "on": False, "at": "2100-01-01T00:00:00"}
    entry = {"id": "e1", "kind": "note", "at": "2026-11-25T10:00:00", "title": "Seen"}
    tries = {
        "note": {"op": "add", "path": "/book/e1", "value": entry},
        "tick": {"op": "add", "path": "/live/switched/s1", "value": tick},
        "edit": {"op": "replace", "path": "/note", "value": "mine"},
    }
    began = home.post(f"{url}/live", json=pair | {"edit_id": "out"})
    assert began.status_code == 200
    order = ["look", "measure", "note", "tick", "edit"]
    for rights in order:
        token = re.sub("^.*token=", "", home.post(f"/api/devices/invitations?rights={rights}").json()["address"])
        device = phone(app)
        device.post("/pair", data={"token": token, "name": rights})
        assert device.get("/api/about").json()["rights"] == rights
        assert device.get(f"{url}/live?outage=november-windstorm").status_code == 200
        asked = {"part": "main", "to": "on", "plan": "ten-place", "scene": "over", "positions": {}}
        assert device.post(f"{url}/drill", json=asked).status_code != 403
        for wanted, op in tries.items():
            rev = home.get(url).json()["rev"]
            body = {"base_rev": rev, "edit_id": f"{rights}-{wanted}", "label": "x", "ops": [{"doc": "home"} | op]}
            answer = device.post(f"{url}/edits", json=body)
            allowed = order.index(wanted) <= order.index(rights)
            assert answer.status_code == (200 if allowed else 403), (rights, wanted, answer.text)
            if allowed:
                home.post(f"{url}/undo", json={"edit_id": f"u-{rights}-{wanted}"})
            else:
                assert answer.json()["sentence"].startswith("This device may")
                assert home.get(url).json()["rev"] == rev
        noted = device.post(f"{url}/live/notes", json=pair | {"edit_id": f"n-{rights}", "text": "64%"})
        may_note = order.index(rights) >= order.index("note")
        assert noted.status_code == (200 if may_note else 403)
        reading = {"edit_id": f"r-{rights}", "text": "120 W", "load": "refrigerator"}
        read = device.post(f"{url}/readings", json=reading).status_code
        assert read == (403 if rights == "look" else 200)
        pictured = device.post(f"{url}/photograph?name=a.png&what=load", content=b"no picture").status_code
        assert pictured == (403 if rights == "look" else 400)
        if may_note:
            lines = home.get(url).json()["home"]["live"]["notes"].values()
            assert rights in {n["who"] for n in lines}, "a line says which phone it came from"
        assert device.post(f"{url}/undo", json={"edit_id": f"d-{rights}"}).status_code == (
            200 if rights == "edit" else 403
        )
        # A phone that is lent out, whatever it may: no backup of everything, and nothing deleted.
        assert device.delete("/api/homes/via-dei-glicini").status_code == 403
        assert device.post("/api/backup", json={}).status_code == 403
    assert home.delete("/api/homes/via-dei-glicini?copies=true").status_code == 204
    assert home.post("/api/backup", json={}).content.startswith(b"PK")
    (look,) = [d for d in home.get("/api/devices").json() if d["rights"] == "look"]
    assert home.put(f"/api/devices/{look['id']}/rights/tick").status_code == 204
    assert home.put("/api/devices/none/rights/tick").status_code == 404
    assert next(d["rights"] for d in home.get("/api/devices").json() if d["id"] == look["id"]) == "tick"


def test_a_code_works_once_and_looking_at_it_does_not_use_it_up(app):
    token = invited(app)
    page = phone(app).get(f"/pair?token={token}")
    assert (page.status_code, "Pair this device" in page.text) == (200, True)
    assert phone(app).post("/pair", data={"token": token}).status_code == 303
    for answer in (phone(app).get(f"/pair?token={token}"), phone(app).post("/pair", data={"token": token})):
        assert answer.status_code == 403
        assert "was used or has expired" in answer.text
    assert phone(app).post("/pair", data={"token": "made-up"}).status_code == 403
    assert phone(app).post("/pair", content=b"\xff\xfe").status_code == 403


def test_a_code_grows_old(app):
    now = [0.0]
    app.state.pairing._ticks = lambda: now[0]
    token = invited(app)
    now[0] = TOKEN_S + 1
    assert phone(app).post("/pair", data={"token": token}).status_code == 403


def test_a_paired_device_can_neither_let_others_in_nor_lock_them_out(app):
    device = paired(app)
    for call in (device.get("/api/devices"), device.post("/api/devices/invitations"), device.delete("/api/devices/x")):
        assert call.status_code == 404


def test_the_allow_list_of_hosts_has_that_address_and_no_other(app):
    device = paired(app)
    assert device.get("/api/homes", headers={"host": "evil.example"}).status_code == 403
    assert device.get("/api/homes", headers={"origin": "http://evil.example"}).status_code == 403
    assert phone(app, "http://192.0.2.3:8474").get("/pair?token=x").status_code == 403


def test_a_made_up_or_broken_cookie_is_no_session(app):
    for cookie in ("imbuto_session=made-up", "imbuto_session=", "a=b; ;;=", 'imbuto_session="x'):
        assert phone(app).get("/api/homes", headers={"cookie": cookie}).status_code == 401


def test_without_the_network_there_is_no_invitation(tmp_path):
    planner = demo_copy(tmp_path)
    answer = at_home(create_app(planner)).post("/api/devices/invitations")
    assert answer.status_code == 422
    assert "imbuto serve --lan" in answer.json()["sentence"]
    planner.database.close()


def test_a_phone_that_may_note_or_tick_writes_nothing_over(app):
    """What is there already stays: an outage, its lines, an entry, a test; ending keeps all that was noted."""
    home, url = at_home(app), "/api/homes/saltgrass-house"
    pair = {"plan": "ten-place", "outage": "november-windstorm"}
    assert home.post(f"{url}/live", json=pair | {"edit_id": "out"}).status_code == 200
    assert home.post(f"{url}/live/notes", json=pair | {"edit_id": "n", "text": "64%"}).status_code == 200
    entry = {"id": "e1", "kind": "note", "at": "2026-11-25T10:00:00", "title": "Seen"}
    noted = {"op": "add", "doc": "home", "path": "/book/e1", "value": entry}
    body = {"base_rev": home.get(url).json()["rev"], "edit_id": "book", "label": "x", "ops": [noted]}
    assert home.post(f"{url}/edits", json=body).status_code == 200
    before = home.get(url).json()["home"]
    live, (note,) = before["live"], before["live"]["notes"]
    book = next(iter(before["book"]))

    def put(op: str, path: str, *value: object) -> dict[str, object]:
        return {"doc": "home", "op": op, "path": path} | ({"value": value[0]} if value else {})

    ended = live | {"ended": live["began"]}
    wrong = [
        [put("replace", "/live", None)],
        [put("replace", "/live", live | {"notes": {}})],
        [put("remove", f"/live/notes/{note}")],
        [put("add", f"/live/notes/{note}", live["notes"][note] | {"charge": 0.9})],
        [put("add", f"/book/{book}", before["book"][book] | {"title": "Other"})],
        [put("remove", f"/book/{book}")],
        [put("add", "/lived/made-up", ended)],
        [put("add", "/lived/x", ended | {"notes": {}}), put("replace", "/live", None)],
        [put("add", "/lived/x", ended), put("replace", "/live", None), put("replace", "/note", "mine")],
        [{"doc": "home", "op": "move", "from": "/live/notes", "path": "/live/opened/x"}],
        [{"doc": "ten-place", "op": "add", "path": "/live/notes/x", "value": {}}],
        [put("add", f"/live/notes/{note}/sure", False)],
        [put("add", f"/live/notes/{note}/charge", True)],
        [put("add", "/live/notes/never/sure", True)],
    ]
    for rights in ("note", "tick"):
        token = re.sub("^.*token=", "", home.post(f"/api/devices/invitations?rights={rights}").json()["address"])
        device = phone(app)
        device.post("/pair", data={"token": token, "name": rights})
        for n, ops in enumerate(wrong):
            rev = home.get(url).json()["rev"]
            body = {"base_rev": rev, "edit_id": f"{rights}-{n}", "label": "x", "ops": ops}
            answer = device.post(f"{url}/edits", json=body)
            assert answer.status_code in (403, 422), (rights, ops, answer.text)
            assert home.get(url).json()["home"] == before
    # What it is asked about a line it may answer, and nothing else of that line changes.
    body = {"base_rev": home.get(url).json()["rev"], "edit_id": "sure", "label": "A line confirmed"}
    body["ops"] = [put("add", f"/live/notes/{note}/sure", True)]
    assert device.post(f"{url}/edits", json=body).status_code == 200
    live = home.get(url).json()["home"]["live"]
    assert live["notes"][note] == before["live"]["notes"][note] | {"sure": True}
    ended = live | {"ended": live["began"]}
    body = {"base_rev": home.get(url).json()["rev"], "edit_id": "back", "label": "Power is back"}
    body["ops"] = [put("add", "/lived/x", ended), put("replace", "/live", None)]
    assert device.post(f"{url}/edits", json=body).status_code == 200
    assert home.get(url).json()["home"]["lived"]["x"]["notes"] == live["notes"]


def test_the_events_of_a_home_that_is_not_there_are_refused(app):
    assert at_home(app).get("/api/homes/nowhere/events").status_code == 404
