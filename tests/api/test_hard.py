"""What comes from outside is bounded, parsed strictly, and refused in one shape."""

import asyncio
import re
from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy import update
from starlette.testclient import TestClient

from imbuto.api.app import create_app
from imbuto.api.hosts import LOOPBACK, host_name
from imbuto.api.request_bodies import ErrorBody
from imbuto.api.routes.home_routes import events
from imbuto.core.basics.errors import InvalidValue
from imbuto.formats.documents import MOST_FOREIGN
from imbuto.services.desk.demo import demo_file
from imbuto.store import repository
from imbuto.store.models import EditRow
from imbuto.store.repository import Repository
from tests.api.test_devices import LAN, at_home, paired, phone
from tests.demo import demo_copy

HOME = "saltgrass-house"
HEADERS = ("content-security-policy", "x-content-type-options", "referrer-policy")


@pytest.fixture
def planner(tmp_path):
    found = demo_copy(tmp_path)
    yield found
    found.database.close()


@pytest.fixture
def app(planner):
    return create_app(planner, LAN)


@pytest.mark.parametrize(
    "host",
    [
        "",
        "localhost.",
        "localhost:",
        "localhost:8474:1",
        "a@localhost",
        "localhost/x",
        "localhost#",
        "[::1",
        "::1",
        "127.0.0.1 ",
        "http://localhost",
        "localhost, evil.invalid",
        "192.0.2.2.evil.invalid",
        "l\u00f6calhost",
        "localhost:port",
        "evil.invalid",
    ],
)
def test_only_a_plain_host_of_its_own_is_let_in(app, host):
    answer = TestClient(app, base_url="http://localhost").get("/api/homes", headers={"host": host.encode()})
    assert answer.status_code == 403, host
    assert ErrorBody.model_validate(answer.json()).field == "Host"
    assert all(h in answer.headers for h in HEADERS)


@pytest.mark.parametrize("host", ["localhost", "LOCALHOST:8474", "127.0.0.1:1", "[::1]:8474"])
def test_its_own_is_let_in_however_it_is_written(host):
    assert host_name(host) in LOOPBACK


@pytest.mark.parametrize(
    "origin",
    [
        "null",
        "http://localhost:1",
        "https://localhost:8474",
        "http://localhost:8474.evil.invalid",
        "localhost:8474",
        "x://localhost:8474",
    ],
)
def test_another_origin_is_refused_though_it_ends_alike(app, origin):
    answer = at_home(app).post("/api/homes", json={}, headers={"origin": origin})
    assert (answer.status_code, answer.json()["field"]) == (403, "Origin")
    assert at_home(app).get("/api/homes", headers={"origin": "http://localhost:8474"}).status_code == 200


def test_every_refusal_has_one_shape_and_is_declared(app):
    there = at_home(app)
    looking = paired(app)
    device = there.get("/api/devices").json()[0]["id"]
    there.put(f"/api/devices/{device}/rights/look")
    refused = [
        there.get("/api/homes/none"),
        there.get("/api/nothing"),
        there.post("/api/homes", json={}),
        there.put("/api/homes"),
        there.post("/api/imports", content=b"x"),
        there.get("/api/homes", headers={"host": "evil.invalid"}),
        phone(app).get("/api/homes"),
        looking.delete(f"/api/homes/{HOME}"),
        there.post(
            f"/api/homes/{HOME}/edits",
            json={
                "base_rev": 0,
                "edit_id": "e",
                "label": "l",
                "ops": [{"doc": "home", "op": "replace", "path": "/name", "value": "x"}],
            },
        ),
    ]
    declared = app.openapi()["paths"]["/api/homes/{home_id}/edits"]["post"]["responses"]
    for answer in refused:
        body = ErrorBody.model_validate(answer.json())
        assert body.sentence.endswith("."), body
        assert str(answer.status_code) in declared, answer.status_code
        assert all(h in answer.headers for h in HEADERS)
    assert {a.status_code for a in refused} == {400, 401, 403, 404, 409, 422}
    assert "nothing can't be used" not in " ".join(a.text for a in refused)


def test_a_pairing_form_is_bounded_and_says_what_it_gives(app):
    answer = phone(app).post("/pair", content=b"token=" + b"x" * 5_000)
    assert answer.status_code == 413
    assert phone(app).post("/pair", content=b"&".join(b"a=%d" % i for i in range(400))).status_code == 403
    for rights, words in {
        "look": "may look but change nothing",
        "measure": "may photograph labels and note readings",
        "note": "note readings",
        "edit": "may change everything",
    }.items():
        address = at_home(app).post("/api/devices/invitations", params={"rights": rights}).json()["address"]
        page = phone(app).get(address.removeprefix(LAN)).text
        assert words in page
        assert "not encrypted" in page


def test_a_device_that_listens_hears_no_more_once_it_is_unpaired(app):
    session = paired(app).cookies["imbuto_session"]

    class Asks:
        scope = {"client": ("192.0.2.77", 1)}  # noqa: RUF012
        headers = {"cookie": f"imbuto_session={session}"}  # noqa: RUF012

    Asks.app = app

    async def listens() -> bool:
        heard = events(HOME, app.state.planner, Asks)
        waiting = asyncio.ensure_future(anext(heard))
        await asyncio.sleep(0.6)
        assert not waiting.done()
        device = app.state.pairing.devices()[0].id
        app.state.pairing.unpair(device)
        try:
            await asyncio.wait_for(waiting, 5)
        except StopAsyncIteration:
            return True
        return False

    assert asyncio.run(listens())


def test_what_nothing_reads_is_kept_up_to_a_bound(planner):
    def adds(edit, value):
        rev = planner.state(HOME).rev
        op = {"doc": "home", "op": "add", "path": "/of_another_program", "value": value}
        return planner.edit(HOME, rev, edit, "Foreign", [op], None)

    assert adds("e1", {"a": ["x" * 1000]}).state.home["of_another_program"] == {"a": ["x" * 1000]}
    before = planner.state(HOME)
    with pytest.raises(InvalidValue, match="100,000 characters"):
        adds("e2", "x" * MOST_FOREIGN)
    assert planner.state(HOME) == before
    with pytest.raises(InvalidValue, match="100,000 characters"):
        planner.take_in(demo_file(HOME).replace('"name"', f'"other": "{"x" * MOST_FOREIGN}", "name"', 1), "f")


def test_the_history_is_bounded_and_redo_never_leaves_one_out(planner, monkeypatch):
    monkeypatch.setattr(repository, "KEPT_EDITS", 20)
    monkeypatch.setattr(repository, "TIDY_EVERY", 1)

    def rename(n):
        op = {"doc": "home", "op": "replace", "path": "/name", "value": f"Home {n}"}
        planner.edit(HOME, planner.state(HOME).rev, f"e{n}", f"Edit {n}", [op], None)

    def history():
        with planner.database.reading() as session:
            return len(Repository(session).since(HOME, 0))

    for n in range(30):
        rename(n)
    assert history() == 20
    for again in range(3):
        for n in range(20):
            planner.undo(HOME, f"u{again}-{n}", None)
        assert planner.state(HOME).home["name"] == "Home 9"
        with pytest.raises(InvalidValue, match="nothing to undo"):
            planner.undo(HOME, f"one more {again}", None)
        for n in range(20):  # forwards from the first of them, none left out
            planner.redo(HOME, f"r{again}-{n}", None)
            assert planner.state(HOME).home["name"] == f"Home {10 + n}"
    assert history() <= 40
    for n in range(30, 80):
        rename(n)
    assert history() <= 40
    with planner.database.writing() as session:
        session.execute(update(EditRow).values(at=datetime.now(UTC) - timedelta(days=366)))
    rename(80)
    assert history() == 1
    assert planner.state(HOME).undo == "Edit 80"


def test_what_is_given_out_as_a_file_is_not_described_as_json(app):
    described = app.openapi()["paths"]
    files = {
        p: m["get"] for p, m in described.items() if "get" in m and re.search(r"\.(csv|ics|pdf|zip|svg)$|\{form\}$", p)
    }
    assert len(files) > 6
    assert [p for p, m in files.items() if "application/json" in m["responses"]["200"].get("content", {})] == []
