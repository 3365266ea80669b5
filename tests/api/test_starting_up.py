"""The interface's files from the first second, 503 with a sentence for the rest, and nothing for strangers."""

from __future__ import annotations

import time
from threading import Event

import pytest
from fastapi import FastAPI
from starlette.testclient import TestClient

from imbuto.api.starting_up import SENTENCE, StartingUp
from imbuto.core.basics.errors import DataFolder


@pytest.fixture
def interface(tmp_path):
    (tmp_path / "web").mkdir()
    (tmp_path / "web" / "index.html").write_text("<p>Imbuto</p>")
    (tmp_path / "web" / "app.js").write_text("1")
    (tmp_path / "secret").write_text("no")
    return tmp_path / "web"


def test_files_come_at_once_and_the_rest_when_it_is_loaded(interface):
    let, ended = Event(), Event()

    def load() -> FastAPI:
        let.wait(20)
        whole = FastAPI()
        whole.get("/api/homes")(lambda: ["loaded"])
        return whole

    with TestClient(StartingUp(load, interface, ended.set), base_url="http://localhost") as client:
        assert client.get("/").text == client.get("/home/x/house").text == "<p>Imbuto</p>"
        assert client.get("/app.js").text == "1"
        assert client.get("/..%2fsecret").text != "no"
        assert client.get("/").headers["content-security-policy"].startswith("default-src 'self'")
        waiting = client.get("/api/homes")
        assert (waiting.status_code, waiting.json()["sentence"]) == (503, SENTENCE)
        assert client.post("/").status_code == 503
        for host in ("example.org", "192.0.2.5"):
            assert client.get("/", headers={"host": host}).status_code == 503
        let.set()
        until = time.monotonic() + 20
        while client.get("/api/homes").status_code == 503 and time.monotonic() < until:
            time.sleep(0.01)
        assert client.get("/api/homes").json() == ["loaded"]
    assert not ended.is_set()


def test_a_folder_that_cannot_be_opened_ends_the_server_and_is_told(interface):
    ended = Event()

    def load() -> FastAPI:
        raise DataFolder("database", "x", "it is damaged")

    front = StartingUp(load, interface, ended.set)
    with TestClient(front, base_url="http://localhost"):
        assert ended.wait(20)
    assert isinstance(front.problem, DataFolder)
