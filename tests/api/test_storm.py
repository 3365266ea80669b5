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
