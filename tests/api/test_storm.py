"""Cards and drill over the wire."""

import pytest
from fastapi.testclient import TestClient

from imbuto.api.app import create_app
from tests.demo import demo_copy

HOME = "/api/homes/saltgrass-house"


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("storm"))
    with TestClient(create_app(planner), base_url="http://localhost", raise_server_exceptions=False) as client:
        yield client
    planner.database.close()


def test_cards_and_a_round_of_the_drill(client):
    kinds = [c["kind"] for c in client.get(f"{HOME}/cards", params={"plan": "ten-place"}).json()]
    assert kinds == ["over", "back", "restart", "low"]
    assert client.get(f"{HOME}/cards", params={"plan": "none"}).status_code == 404
    now = client.get(f"{HOME}/drill", params={"plan": "ten-place", "scene": "over"}).json()
    assert (now["won"], now["grid"], now["harm"]) == (False, False, [])

    def move(part: str, to: str, **more: object) -> dict:
        body = {"plan": "ten-place", "scene": "over", "positions": {p["id"]: p["now"] for p in now["parts"]},
                "harm": now["harm"], "part": part, "to": to}  # fmt: skip
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
    assert (alert["begins"], alert["came"]) == ("2026-11-24T17:00:00", "feed")
    view = client.get(f"{HOME}/ready", params=pair).json()
    assert view["hours"] == 48
    assert view["ready"]["carries"][0]["hours"] == pytest.approx(16.1, abs=0.1)
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
