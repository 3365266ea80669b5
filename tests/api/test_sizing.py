"""Sizes and the frontier, every step and fuel, through the API."""

import csv
import io
import time

import pytest
from fastapi.testclient import TestClient

from imbuto.api.app import create_app
from tests.demo import demo_copy

HOME = "/api/homes/saltgrass-house"
PAIR = {"plan": "cords-only", "outage": "evening-cut"}


@pytest.fixture
def client(tmp_path):
    planner = demo_copy(tmp_path)
    with TestClient(create_app(planner), base_url="http://localhost") as client:
        yield client
    planner.database.close()


def wait(client, job):
    for _ in range(600):
        job = client.get(f"/api/frontier/{job['id']}").json()
        if job["state"] not in ("waiting", "running"):
            return job
        time.sleep(0.05)
    raise AssertionError(job)


def test_the_frontier_is_worked_out_and_taken(client):
    begun = client.post(f"{HOME}/frontier", params=PAIR | {"budget": "2000"})
    assert begun.status_code == 200
    job = wait(client, begun.json())
    assert job["state"] == "done"
    result = job["result"]
    assert result["reach"]["reaches"]
    assert float(result["for_budget"]["price"]) <= 2000
    assert all(b["beaten_by"] for b in result["beaten"])
    pick = result["best"][2]
    state = client.get(HOME).json()
    body = {"base_rev": state["rev"], "edit_id": "e1", "label": "Buy", "ops": pick["ops"], "judge": PAIR}
    after = client.post(f"{HOME}/edits", json=body).json()
    assert after["verdict"]["low_hours"] == pytest.approx(pick["low_h"])


def test_a_frontier_can_be_stopped(client):
    begun = client.post(f"{HOME}/frontier", params={"plan": "ten-place", "outage": "november-windstorm"}).json()
    assert client.delete(f"/api/jobs/{begun['id']}").status_code == 204
    assert wait(client, begun)["state"] == "stopped"


def test_sizes_and_what_each_load_takes(client):
    view = client.get(f"{HOME}/size", params=PAIR | {"felt_h": 48}).json()
    assert {s["part"] for s in view["schools"]} == {"inverter", "battery", "solar"}
    assert view["loads"][0]["hours"] >= view["loads"][-1]["hours"] > 0
    assert "48 h" in view["felt"]
    assert "less" in view["felt"] or "more" in view["felt"]
    bad = client.get(f"{HOME}/size", params=PAIR | {"felt_h": -1})
    assert bad.status_code == 422
    assert "more than 0" in bad.json()["sentence"]
    assert client.get(f"{HOME}/size", params=PAIR | {"budget": "0"}).status_code == 422


def test_every_step_adds_up_to_the_run(client):
    pair = {"plan": "switched-panel", "outage": "january-ice"}
    steps = client.get(f"{HOME}/run/steps", params=pair).json()
    run = client.get(f"{HOME}/run", params=pair).json()
    assert len({len(v) for k, v in steps.items() if isinstance(v, list)}) == 1
    n = round(120 / steps["step_h"])
    assert sum(steps["served_w"][:n]) * steps["step_h"] == pytest.approx(run["served_wh"], rel=1e-4)
    assert sum(steps["fuel_l"]) == pytest.approx(run["fuel_l"], rel=1e-3)
    first = next(i for i, d in enumerate(steps["dark"]) if d > 0)
    assert first == int(run["dark_h"] / steps["step_h"] + 1e-9)
    text = client.get(f"{HOME}/run/steps.csv", params=pair)
    assert text.headers["content-type"].startswith("text/csv")
    rows = list(csv.DictReader(io.StringIO(text.text)))
    assert len(rows) == len(steps["clock"])
    assert rows[0]["clock"] == steps["clock"][0]
    assert client.get(f"{HOME}/run/steps", params=pair | {"source": "nowhere"}).status_code == 404


def test_fuel_is_told_for_a_plan_with_and_without_a_generator(client):
    none = client.get(f"{HOME}/fuel", params=PAIR).json()
    assert none["schools"] == []
    assert none["ways"]
    both = client.get(f"{HOME}/fuel", params={"plan": "switched-panel", "outage": "november-windstorm"}).json()
    assert [s["school"] for s in both["schools"]] == ["fill", "carry"]
    assert both["plugs"][0]["amps"] == 50
