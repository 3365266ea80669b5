"""A disk that is full or cannot be written: what only reads goes on, printing and export too; what writes says so."""

from __future__ import annotations

import pytest
from sqlalchemy import event
from starlette.testclient import TestClient

from imbuto.api.app import create_app
from tests.demo import demo_copy

URL, PAIR = "/api/homes/saltgrass-house", "plan=ten-place&outage=november-windstorm"
READS = (
    "",
    f"/verdict?{PAIR}",
    f"/run?{PAIR}",
    f"/papers?{PAIR}",
    f"/papers/run-card.html?{PAIR}",
    f"/papers/run-card.pdf?{PAIR}",
    f"/papers/parts.csv?{PAIR}",
    "/export",
    "/export.zip",
    "/tables/loads",
)


@pytest.mark.parametrize(("pragma", "words"), [("max_page_count=1", "full"), ("query_only=ON", "can't write")])
def test_what_reads_goes_on_where_nothing_can_be_written(tmp_path, pragma, words):
    planner = demo_copy(tmp_path)
    planner.database.close()

    @event.listens_for(planner.database.engine, "connect")
    def _(connection: object, _record: object) -> None:
        connection.execute(f"PRAGMA {pragma}")  # type: ignore[attr-defined]

    client = TestClient(create_app(planner), base_url="http://localhost")
    before = client.get(URL).json()
    for address in READS:
        answer = client.get(f"{URL}{address}")
        assert answer.status_code == 200, (address, answer.text[:200])
    op = {"doc": "home", "op": "replace", "path": "/note", "value": "x" * 2000}
    body = {"base_rev": before["rev"], "edit_id": "e", "label": "x", "ops": [op]}
    refused = client.post(f"{URL}/edits", json=body)
    assert (refused.status_code, words in refused.json()["sentence"]) == (507, True), refused.text
    assert client.post(f"{URL}/papers/run-card/printed?{PAIR}").status_code in (204, 507)  # a row may still have room
    assert client.get(URL).json() == before
    planner.database.close()


def test_a_print_is_noted_by_its_own_request_and_never_by_looking(tmp_path):
    planner = demo_copy(tmp_path)
    client = TestClient(create_app(planner), base_url="http://localhost")

    def printed() -> set[str]:
        return {s["id"] for s in client.get(f"{URL}/papers?{PAIR}").json() if s["printed"]}

    assert client.get(f"{URL}/papers/run-card.pdf?{PAIR}").content.startswith(b"%PDF")
    assert printed() == set()
    assert client.post(f"{URL}/papers/run-card/printed?{PAIR}").status_code == 204
    assert printed() == {"run-card"}
    assert client.post(f"{URL}/papers/none/printed?{PAIR}").status_code == 404
    planner.database.close()
