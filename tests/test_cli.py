"""The command line as a script uses it: a real process, one line on errors, a non-zero exit."""

import io
import json
import os
import signal
import socket
import ssl
import subprocess
import sys
import time
import urllib.request
from contextlib import redirect_stderr, redirect_stdout
from contextvars import copy_context
from dataclasses import dataclass
from ipaddress import ip_address
from pathlib import Path
from unittest import mock

import pytest
from cryptography import x509

from imbuto.cli import main
from tests.support import ask, certificate

ROOT = Path(__file__).parents[1]
FOUR = str(ROOT / "examples" / "four-loads.json")


def process(*args):
    """Run the command line as a script does: a process of its own."""
    command = [sys.executable, "-m", "imbuto", *args]
    return subprocess.run(command, capture_output=True, text=True, check=False, timeout=300)


@dataclass
class Done:
    returncode: int
    stdout: str
    stderr: str


def imbuto(*args, folder=None, stdin=None):
    """The same without the seconds that a process of its own takes to start."""
    env = os.environ | ({"IMBUTO_FOLDER": str(folder)} if folder else {})
    out, err = io.StringIO(), io.StringIO()
    given = io.TextIOWrapper(io.BytesIO((stdin or "").encode()))
    with (
        mock.patch.dict(os.environ, env),
        mock.patch.object(sys, "argv", ["imbuto", *args]),
        mock.patch.object(sys, "stdin", given),
        redirect_stdout(out),
        redirect_stderr(err),
    ):
        context = copy_context()
        try:
            context.run(main)
        except SystemExit as end:
            return Done(int(end.code or 0), out.getvalue(), err.getvalue())
    return Done(0, out.getvalue(), err.getvalue())


def test_help_needs_nothing_that_is_slow_to_load():
    code = "import sys, imbuto.cli; print([m for m in ('numpy', 'pydantic', 'fastapi', 'asyncio') if m in sys.modules])"
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout == "[]\n"
    told = process("--help")
    assert (told.returncode, "estimate" in told.stdout) == (0, True)


def test_a_process_ends_with_2_and_one_line_where_something_is_wrong(tmp_path):
    told = process("estimate", str(tmp_path / "none.json"))
    assert (told.returncode, told.stdout, told.stderr.count("\n")) == (2, "", 1)
    assert "No such file" in told.stderr


def test_estimate_gives_the_check_figure():
    answer = json.loads(imbuto("estimate", FOUR, "--json").stdout)
    assert round(answer["hours"], 3) == round(answer["paper_hours"], 3) == 20.561
    text = imbuto("estimate", "-", stdin=Path(FOUR).read_text()).stdout
    assert "probably 20 h 30 m" in text


@pytest.mark.parametrize(
    ("content", "args", "words"),
    [
        ("oops", [], "isn't JSON"),
        ('{"format": "imbuto", "version": 99, "home": {}}', [], "version 99"),
        (None, [], "No such file"),
        (Path(FOUR).read_text(), ["--plan", "nope"], "The file has Cords only"),
        (Path(FOUR).read_text().replace('"run_w": 60.0', '"run_w": -1.0'), [], "Fish tank, running watts: -1.0"),
    ],
)
def test_a_bad_file_is_one_line_and_a_non_zero_exit(tmp_path, content, args, words):
    file = tmp_path / "house.json"
    if content is not None:
        file.write_text(content)
    result = imbuto("estimate", str(file), *args)
    assert result.returncode == 2
    assert result.stdout == ""
    assert words in result.stderr
    assert result.stderr.count("\n") == 1


def test_a_file_of_50_mb_is_not_read(tmp_path):
    file = tmp_path / "big.json"
    with file.open("wb") as f:
        f.truncate(50_000_000)
    result = imbuto("estimate", str(file))
    assert (result.returncode, "50 MB" in result.stderr) == (2, True)


def test_import_and_export(tmp_path):
    assert "four-loads" in imbuto("import", FOUR, folder=tmp_path).stdout
    out = imbuto("export", "four-loads", folder=tmp_path).stdout
    assert json.loads(imbuto("estimate", "-", "--json", stdin=out).stdout)["hours"] == pytest.approx(20.561, abs=0.001)
    missing = imbuto("export", "nowhere", folder=tmp_path)
    assert (missing.returncode, missing.stderr.count("\n")) == (2, 1)
    assert json.loads(imbuto("schema").stdout)["title"] == "Imbuto plan file"


def call(url, body=None):
    request = urllib.request.Request(url, data=json.dumps(body).encode() if body else None)
    request.add_header("content-type", "application/json")
    return ask(request)


def started(folder, port, *more):
    process = subprocess.Popen(
        [sys.executable, "-m", "imbuto.cli", "demo", "--folder", str(folder), "--port", str(port), *more],
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )
    for line in process.stdout:
        if f"http://localhost:{port}" in line:
            break
    for _ in range(900):  # it says where it is before it is loaded
        try:
            call(f"http://localhost:{port}/api/about")
            return process
        except OSError:
            time.sleep(0.1)
    raise AssertionError("the server did not answer")


def free_port():
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return s.getsockname()[1]


def test_a_port_that_is_taken_is_told_in_one_line(tmp_path):
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        s.listen()
        taken = imbuto("demo", "--folder", str(tmp_path), "--port", str(s.getsockname()[1]))
    assert taken.returncode == 2
    assert "is taken; name another with --port" in taken.stderr


def test_a_killed_server_has_every_acknowledged_edit(tmp_path):
    port = free_port()
    url = f"http://localhost:{port}/api/homes/saltgrass-house"
    process = started(tmp_path, port)
    acknowledged = 0
    for i in range(1, 12):
        op = {"doc": "home", "op": "replace", "path": "/loads/kettle/run_w", "value": 1500 + i}
        call(f"{url}/edits", {"base_rev": i, "edit_id": f"e{i}", "label": f"Edit {i}", "ops": [op]})
        acknowledged = 1500 + i
    process.send_signal(signal.SIGKILL)
    process.communicate()
    process = started(tmp_path, port)
    try:
        state = call(url)
        assert state["home"]["loads"]["kettle"]["run_w"] == acknowledged
        assert state["undo"] == "Edit 11"
    finally:
        process.terminate()
        process.communicate()


def test_backup_restore_and_erase_as_a_person_types_them(tmp_path, monkeypatch):
    kept, file = tmp_path / "kept", tmp_path / "all.sealed"
    assert imbuto("import", FOUR, folder=kept).returncode == 0
    monkeypatch.setenv("IMBUTO_PASSPHRASE", "seven grey herons")
    told = imbuto("backup", str(file), "--sealed", folder=kept)
    assert told.returncode == 0, told.stderr
    assert "health" in told.stdout
    assert oct(file.stat().st_mode)[-3:] == "600"
    moved = imbuto("restore", str(file), folder=tmp_path / "moved")
    assert moved.returncode == 0, moved.stderr
    homes = [h["home"]["id"] for h in [json.loads(imbuto("export", "four-loads", folder=tmp_path / "moved").stdout)]]
    assert homes == ["four-loads"]
    for args, words in (
        (("erase", "four-loads"), "Delete it first"),
        (("backup", str(tmp_path)), "That is a folder"),
        (("restore", FOUR), "a whole backup"),
    ):
        refused = imbuto(*args, folder=tmp_path / "moved")
        assert (refused.returncode, refused.stderr.count("\n")) == (2, 1)
        assert words in refused.stderr
    (kept / "imbuto.db").write_bytes(b"SQLite format 3\0" + bytes(5_000))
    broken = imbuto("export", "four-loads", folder=kept)
    assert (broken.returncode, broken.stderr.count("\n")) == (2, 1)
    assert "it is damaged" in broken.stderr


def test_the_network_is_answered_by_https_with_a_certificate_of_ones_own(tmp_path):
    cert, key = certificate(tmp_path, x509.IPAddress(ip_address("127.0.0.2")))
    port = free_port()
    args = ["--lan", "--address", "127.0.0.2", "--cert", str(cert), "--key", str(key)]
    process = started(tmp_path / "kept", port, *args)
    try:
        trusted = ssl.create_default_context(cafile=cert)
        with urllib.request.urlopen(f"https://127.0.0.2:{port}/api/about", context=trusted, timeout=20) as answer:
            assert json.load(answer)["name"] == "imbuto"
        assert call(f"http://localhost:{port}/api/about")["name"] == "imbuto", "this machine as before"
    finally:
        process.terminate()
        told = process.communicate()[0]
    assert f"https://127.0.0.2:{port}/pair?token=" in told
    alone = imbuto("serve", "--lan", "--cert", str(cert), folder=tmp_path / "other")
    assert (alone.returncode, alone.stderr) == (
        2,
        "imbuto: --cert: use --cert together with --key and --lan.\n",
    )
    wrong = imbuto("serve", *args[:-1], str(cert), folder=tmp_path / "other")
    assert "do not go together" in wrong.stderr
