"""A home's broker, a real one in this process: contacted on somebody's word alone, only nearby; what comes in is a log."""

import gc
import json
import os
import shutil
import stat
import subprocess
import time
from collections.abc import Callable
from datetime import datetime
from typing import NamedTuple

import pytest
from cryptography import x509

from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.devices.demo_broker import BrokerProcess, DemoBroker, Publishing, answers, free_port
from imbuto.services.desk.planner import Planner
from imbuto.services.house.broker import Brokers
from imbuto.services.house.broker_link import BrokerAddress, BrokerLink, Heard, check_ca
from imbuto.store.energy_days import energy_between
from imbuto.store.repository import Repository
from tests.demo import demo_copy
from tests.support import certificate

# A client of the MQTT library that is left while it connects complains, when it is collected, that its loop is closed.
pytestmark = pytest.mark.filterwarnings("ignore::pytest.PytestUnraisableExceptionWarning", "ignore::ResourceWarning")
HOME, PAIR = "saltgrass-house", ("ten-place", "november-windstorm")
PATIENCE_S = 40


class House(NamedTuple):
    planner: Planner
    brokers: Brokers
    port: int
    begin: Callable[[], None]
    end: Callable[[], None]


def until(check, what: str):
    end = time.monotonic() + PATIENCE_S
    while time.monotonic() < end:
        found = check()
        if found:
            return found
        time.sleep(0.05)
    raise AssertionError(what)


class Clock:
    """An instrument's hour passes in a moment."""

    def __init__(self) -> None:
        self.at = 1_764_000_000.0

    def __call__(self, _home: str = "") -> float:
        self.at += 30
        return self.at


class Mosquitto:
    """A broker that others wrote, with a user and a password where one is given."""

    def __init__(self, port: int, folder, user: str = "", password: str = "", cert=None, key=None) -> None:
        rules = ["allow_anonymous true"]
        if user:
            kept = folder / "users"
            kept.touch(0o600)
            subprocess.run(["mosquitto_passwd", "-b", kept, user, password], check=True)
            rules = ["allow_anonymous false", f"password_file {kept}"]
        if cert:
            rules += [f"certfile {cert}", f"keyfile {key}"]
        if os.geteuid() == 0:
            rules.append("user root")
        (folder / "mosquitto.conf").write_text("\n".join([f"listener {port} 127.0.0.1", *rules, ""]))
        self._process = subprocess.Popen(["mosquitto", "-c", folder / "mosquitto.conf"], stderr=subprocess.DEVNULL)
        until(lambda: answers(port), "mosquitto did not start")

    def close(self) -> None:
        self._process.kill()
        self._process.wait()


HAS_MOSQUITTO = shutil.which("mosquitto", path=f"{os.environ['PATH']}:/usr/sbin") is not None
needs_mosquitto = pytest.mark.skipif(not HAS_MOSQUITTO, reason="mosquitto is not installed")


@pytest.fixture(params=["demo", pytest.param("mosquitto", marks=needs_mosquitto)])
def house(request, tmp_path, monkeypatch):
    """A planner, its brokers, what begins and what ends the broker process, its port, and what is published there."""
    monkeypatch.setenv("PATH", f"{os.environ['PATH']}:/usr/sbin")
    planner = demo_copy(tmp_path)
    said = {
        "plug/fridge": '{"power": 150, "energy": {"total_wh": 10}}',
        "station/main/soc": "64 %",
        "odd": "not a number",
    }
    port, running = free_port(0), []

    def begin() -> None:
        running.append(BrokerProcess(port) if request.param == "demo" else Mosquitto(port, tmp_path))

    def end() -> None:
        running.pop().close()

    begin()
    publishing = Publishing(lambda: list(said.items()), port)
    brokers = Brokers(planner, allowed=True, clock=Clock())
    yield House(planner, brokers, port, begin, end)
    brokers.close()
    publishing.close()
    for process in running:
        process.close()
    planner.database.close()
    gc.collect()  # here, where its complaints are expected


def test_nothing_is_contacted_unasked_or_beyond_the_own_network(house):
    planner, brokers, port, *_ = house
    here = BrokerAddress(host="127.0.0.1", port=port)
    silent = Brokers(planner)
    with pytest.raises(InvalidValue, match="started without --broker"):
        silent.connect(HOME, here)
    silent.take_up()
    assert silent.view(HOME).state == "off"
    for far in ("8.8.8.8", "1.1.1.1", "0.0.0.0", "no such host", ""):
        with pytest.raises(InvalidValue):
            brokers.connect(HOME, BrokerAddress(host=far, port=1883))
    assert brokers.view(HOME).state == "off"
    with pytest.raises(NotFound):
        brokers.connect("nobody", here)


def test_a_value_is_picked_logged_noted_and_the_broker_may_go_and_come_back(house):
    planner, brokers, port, begin, end = house
    brokers.connect(HOME, BrokerAddress(host="127.0.0.1", port=port, user="ann", password="s3cret"))
    wanted = {("plug/fridge", "power", "W"), ("station/main/soc", "", "%")}
    until(lambda: wanted <= {(t.topic, t.path, t.guess) for t in brokers.view(HOME).topics}, "nothing came in")
    with pytest.raises(InvalidValue, match="it can be"):
        brokers.pick(HOME, "station/main/soc", "", "%", "load", "refrigerator")
    with pytest.raises(NotFound):
        brokers.pick(HOME, "plug/fridge", "power", "W", "load", "nothing")
    brokers.pick(HOME, "plug/fridge", "power", "W", "load", "refrigerator")
    with pytest.raises(InvalidValue, match="already"):
        brokers.pick(HOME, "plug/fridge", "power", "W", "load", "refrigerator")
    brokers.pick(HOME, "station/main/soc", "", "%", "station_charge", "main")
    pick = until(
        lambda: next((p for p in brokers.view(HOME).picks if p.of == "Refrigerator" and p.hours >= 0.6), None),
        "no half hour came in",
    )
    assert (pick.of, pick.now, pick.refused) == ("Refrigerator", 150, 0)
    assert pick.energy_wh == pytest.approx(150 * pick.hours)
    assert brokers.log_csv(HOME, pick.id).splitlines()[0] == "time,Refrigerator W"
    done = brokers.note(HOME, pick.id, "note-1", PAIR)
    assert done.state.home["loads"]["refrigerator"]["average_w"] == pytest.approx(150, rel=0.02)
    # What a station shows is kept as a watched one's is, and reaches Outage now with it.
    with planner.database.reading() as session:
        faces = until(lambda: Repository(session).faces(HOME, "main", datetime(2000, 1, 1), None), "no gauge was kept")
    assert {f.charge for f in faces} == {0.64}
    # The file beside the database is its owner's alone, and no backup holds it.
    kept = planner.database.path.parent / f"broker-{HOME}.json"
    assert stat.S_IMODE(kept.stat().st_mode) == 0o600
    assert json.loads(kept.read_text())["address"]["password"] == "s3cret"
    assert "s3cret" not in json.dumps(planner.give_out(HOME))
    end()
    lost = until(lambda: (v := brokers.view(HOME)).state == "lost" and v, "the loss was not told")
    assert lost.said.endswith(".")
    assert all(p.now is None for p in lost.picks)
    begin()
    until(lambda: brokers.view(HOME).state == "connected", "it did not come back")
    assert brokers.disconnect(HOME).state == "off"
    assert not kept.exists()


def test_what_was_connected_is_taken_up_again_and_a_damaged_file_stops_nothing(house):
    planner, brokers, port, *_ = house
    brokers.connect(HOME, BrokerAddress(host="127.0.0.1", port=port))
    brokers.pick(HOME, "plug/fridge", "power", "W", "home", "")
    brokers.close()
    later = Brokers(planner, allowed=True)
    (planner.database.path.parent / "broker-other.json").write_text('{"home": "x"}')
    later.take_up()
    try:
        until(lambda: later.view(HOME).state == "connected", "it was not connected again")
        assert [p.of for p in later.view(HOME).picks] == ["the whole house"]
    finally:
        later.close()


def test_the_demos_broker_publishes_what_its_instruments_say():
    broker = DemoBroker(lambda: [("plug/kettle", "1200")])
    heard: list[Heard] = []
    link = BrokerLink(BrokerAddress(host="127.0.0.1", port=broker.port), heard.append)
    try:
        until(lambda: heard, "nothing came in")
        assert (heard[0].topic, heard[0].leaf.value) == ("plug/kettle", 1200)
        broker._broker.close()
        until(lambda: link.state == "lost", "the loss was not told")
        heard.clear()
        until(lambda: heard, "it was not started again")
    finally:
        link.close()
        broker.close()


@needs_mosquitto
def test_a_wrong_password_is_told_and_the_right_one_listens(tmp_path, monkeypatch):
    monkeypatch.setenv("PATH", f"{os.environ['PATH']}:/usr/sbin")
    port = free_port(0)
    broker = Mosquitto(port, tmp_path, "ann", "heron")
    try:
        for password, state in (("wrong", "lost"), ("heron", "connected")):
            address = BrokerAddress(host="127.0.0.1", port=port, user="ann", password=password)
            link = BrokerLink(address, lambda _: None)
            until(lambda: link.state != "connecting", "nothing was told")  # noqa: B023
            assert link.state == state
            assert link.said == (
                "" if state == "connected" else "The broker refused the user name or the password. Check both."
            )
            link.close()
    finally:
        broker.close()


def test_a_meter_fills_the_ordinary_days_and_a_restart_leaves_a_gap_and_no_more(house):
    planner, brokers, port, *_ = house
    brokers.connect(HOME, BrokerAddress(host="127.0.0.1", port=port))
    until(lambda: brokers.view(HOME).topics, "nothing came in")
    with pytest.raises(InvalidValue, match="Choose one of house, bought"):
        brokers.pick(HOME, "plug/fridge", "power", "W", "energy", "moon")
    brokers.pick(HOME, "plug/fridge", "power", "W", "energy", "bought")

    def kept() -> dict[int, float]:
        with planner.database.reading() as session:
            return energy_between(session, HOME, Clock().at, Clock().at + 86_400).get("bought", {})

    quarters = until(lambda: len(kept()) >= 3 and kept(), "no quarter hour was kept")
    assert list(quarters.values()) == pytest.approx([150 / 4] * len(quarters))
    before = brokers.view(HOME).picks[0]
    assert before.start_at_least == 150, "it tells a value each half minute, so a start is at least its highest"
    brokers.close()
    later = Brokers(planner, allowed=True, clock=Clock(), now=time.time)
    later.clock = lambda _home="": brokers.clock() + 7200
    later.take_up()
    try:
        after = until(lambda: (v := later.view(HOME).picks) and v[0].gap_hours > 1.5 and v[0], "the log was lost")
        assert after.hours >= before.hours
    finally:
        later.close()
    (planner.database.path.parent / f"brokerlog-{HOME}.json").write_text('{"logs": {"x": 3}}')
    again = Brokers(planner, allowed=True)
    again.take_up()
    assert again.view(HOME).picks[0].hours == 0, "a damaged log is put aside"
    again.close()


@needs_mosquitto
def test_a_certificate_of_ones_own_is_trusted_only_when_it_was_given(tmp_path, monkeypatch):
    monkeypatch.setenv("PATH", f"{os.environ['PATH']}:/usr/sbin")
    cert, key = certificate(tmp_path, x509.DNSName("localhost"))
    port = free_port(0)
    broker = Mosquitto(port, tmp_path, cert=cert, key=key)
    try:
        for ca, state, said in (("", "lost", "isn’t trusted"), (cert.read_text(), "connected", "")):
            link = BrokerLink(BrokerAddress(host="localhost", port=port, tls=True, ca=ca), lambda _: None)
            until(lambda: link.state != "connecting", "nothing was told")  # noqa: B023
            assert (link.state, said in link.said) == (state, True)
            link.close()
    finally:
        broker.close()
    check_ca("")
    check_ca(cert.read_text())
    with pytest.raises(InvalidValue, match="BEGIN"):
        check_ca("no certificate")
