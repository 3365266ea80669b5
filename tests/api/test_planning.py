"""The API of sun, comparison and equipment."""

import pytest
from fastapi.testclient import TestClient

from imbuto.api.app import create_app
from tests.demo import demo_copy

HOME = "/api/homes/saltgrass-house"
JUG = (
    "id,name,volts,nominal_wh,continuous_w,rated_va,surge_va,leg_a,leg_surge_va,idle_w\n"
    "jug,Jug,120,2400,2000,2000,4000,16.7,4000,15\n"
)


@pytest.fixture(scope="module")
def client(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("planning"))
    with TestClient(create_app(planner), base_url="http://localhost", raise_server_exceptions=False) as client:
        yield client
    planner.database.close()


@pytest.mark.parametrize("outage", ["november-windstorm", "august-shutoff", "evening-cut", "january-ice"])
def test_sun_of_the_demo(client, outage):
    view = client.get(f"{HOME}/sun", params={"plan": "switched-panel", "outage": outage}).json()
    assert [a["id"] for a in view["arrays"]] == ["shed-roof", "west-fence"]
    assert view["inputs"] == 3
    assert [m["month"] for m in view["months"]] == list(range(1, 13))
    assert all(m["overcast_wh"] <= m["mean_wh"] <= m["clear_wh"] for m in view["months"])
    assert view["worst_month"] == min(view["months"], key=lambda m: m["mean_wh"])["month"]
    assert view["looked_up"] is True
    assert view["day_wh"] == pytest.approx(sum(a["day_wh"] for a in view["arrays"]))
    assert (view["days_to_full"] is None) == (view["day_wh"] <= view["need_wh"])
    assert view["fewest"]["slate"] >= 1


def test_sun_without_arrays_or_station_says_so(client):
    bare = client.get(f"{HOME}/sun", params={"plan": "ten-place", "outage": "evening-cut"}).json()
    assert (bare["arrays"], bare["months"], bare["worst_month"], bare["panels_lacking"]) == ([], [], None, None)
    assert bare["input_text"].startswith("Hogshead: 2 solar inputs")


@pytest.mark.parametrize("path", ["sun?plan=none&outage=evening-cut", "sun?plan=ten-place&outage=none"])
def test_what_is_not_there_is_said(client, path):
    answer = client.get(f"{HOME}/{path}")
    assert answer.status_code == 404
    assert "none" in answer.json()["sentence"]


def test_compare_answers_every_pair(client):
    view = client.get(f"{HOME}/compare", params={"against": "cords-only"}).json()
    assert [len(r["cells"]) for r in view["rows"]] == [4, 4, 4, 4]
    assert view["rows"][0]["plan"] == "cords-only"


def test_equipment_goes_in_and_out(client):
    before = client.get(f"{HOME}/catalogue").json()
    assert before["own"]["stations"] == []
    params = {"name": "mine.csv", "kind": "stations", "edit_id": "jug"}
    result = client.post(f"{HOME}/catalogue", params=params, content=JUG).json()
    assert "jug" in result["news"]["home"]["catalogue"]["stations"]
    again = client.post(f"{HOME}/catalogue", params=params, content=JUG)
    assert again.status_code == 200  # the same edit sent twice does it once
    table = client.get(f"{HOME}/catalogue/stations.csv")
    assert table.headers["content-type"].startswith("text/csv")
    assert "jug,Jug,120,2400.0" in table.text
    everything = client.get(f"{HOME}/catalogue/export.json").json()
    assert set(everything) == {"stations", "modules", "panels", "transfer", "generators", "batteries"}


@pytest.mark.parametrize(
    ("params", "content", "sentence"),
    [
        ({"name": "a.csv", "kind": "stations"}, JUG.replace("2400", "=1+1"), "row 2, nominal_wh"),
        ({"name": "a.json", "kind": "stations"}, "{", "a.json"),
        ({"name": "a.csv", "kind": "hats"}, JUG, "kind"),
    ],
)
def test_bad_equipment_is_refused_with_a_sentence(client, params, content, sentence):
    answer = client.post(f"{HOME}/catalogue", params=params | {"edit_id": "bad"}, content=content)
    assert answer.status_code in (400, 422)
    assert sentence in answer.json()["sentence"]
