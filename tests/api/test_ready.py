"""While the arithmetic is being compiled, whoever wants a figure is told so and may ask again; the page itself
comes."""

import asyncio
import os
import threading

from fastapi.testclient import TestClient

from imbuto.api.app import create_app
from imbuto.core.run.compile_ahead import FUNCTIONS, compile_all, keep_in
from tests.core.run.test_march import network, run_many
from tests.demo import demo_copy


def test_what_computes_waits_and_the_rest_answers(tmp_path, monkeypatch):
    monkeypatch.setattr("imbuto.api.warm_up.PATIENCE_S", 0.1)
    planner = demo_copy(tmp_path)
    app = create_app(planner)
    client, ready = TestClient(app, base_url="http://localhost"), app.state.ready
    begun, go_on = threading.Event(), threading.Event()

    def work():
        begun.set()
        go_on.wait(20)

    thread = threading.Thread(target=lambda: asyncio.run(ready.after(work)))
    thread.start()
    begun.wait(20)
    refused = client.get("/api/homes/saltgrass-house/verdict")
    assert (refused.status_code, refused.json()["kind"], refused.headers["retry-after"]) == (503, "getting_ready", "1")
    assert "Imbuto is preparing" in refused.json()["sentence"]
    before = planner.rev("saltgrass-house")
    assert client.post("/api/homes/saltgrass-house/undo", json={}).status_code == 503
    assert planner.rev("saltgrass-house") == before
    assert client.get("/api/about").status_code == 200
    assert client.get("/api/homes").status_code == 200
    go_on.set()
    thread.join()
    assert client.get("/api/homes/saltgrass-house").status_code == 200
    planner.database.close()


def test_it_is_compiled_once_for_every_kind_of_run():
    compile_all()
    once = [len(f.fast.signatures) for f in FUNCTIONS]
    for seed in range(12):
        run_many(**network(seed, m=1, n=8), with_charge=True, with_tally=True, until_dark=False)
    assert [len(f.fast.signatures) for f in FUNCTIONS] == once == [1, 1, 1]


def test_where_the_code_cannot_be_written_to_the_data_folder_keeps_it(tmp_path, monkeypatch):
    monkeypatch.setattr("os.environ", {})
    keep_in(tmp_path)
    assert os.environ == {}  # beside the code, where that can be
    monkeypatch.setattr("os.access", lambda *_: False)
    keep_in(tmp_path)
    assert os.environ == {"NUMBA_CACHE_DIR": str(tmp_path / "compiled")}
