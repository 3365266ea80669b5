"""A home's broker, a real one in this process: contacted on somebody's word alone, only nearby; what comes in is a log."""

import gc
import json
import stat
import time
from datetime import datetime

import pytest

from imbuto.core.basics.errors import InvalidValue, NotFound
from imbuto.devices.demo_broker import DemoBroker, free_port
from imbuto.services.house.broker import Brokers
from imbuto.services.house.broker_link import BrokerAddress
from imbuto.store.repository import Repository
from tests.demo import demo_copy

# The demo's broker is a library's: when it is stopped while somebody listens, it leaves a stream for the collector.
pytestmark = pytest.mark.filterwarnings("ignore::pytest.PytestUnraisableExceptionWarning", "ignore::ResourceWarning")
HOME, PAIR = "saltgrass-house", ("ten-place", "november-windstorm")
PATIENCE_S = 40


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


@pytest.fixture
def house(tmp_path):
    planner = demo_copy(tmp_path)
    said = {
        "plug/fridge": '{"power": 150, "energy": {"total_wh": 10}}',
        "station/main/soc": "64 %",
        "odd": "not a number",
    }
    broker = DemoBroker(lambda: list(said.items()), free_port(0))
    brokers = Brokers(planner, allowed=True, clock=Clock())
    yield planner, brokers, broker, said
    brokers.close()
    broker.close()
    planner.database.close()
    gc.collect()


def test_nothing_is_contacted_unasked_or_beyond_the_own_network(house):
    planner, brokers, broker, _ = house
    here = BrokerAddress(host="127.0.0.1", port=broker.port)
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
    planner, brokers, broker, said = house
    brokers.connect(HOME, BrokerAddress(host="127.0.0.1", port=broker.port, user="ann", password="s3cret"))
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
    pick = until(lambda: next((p for p in brokers.view(HOME).picks if p.hours >= 0.6), None), "no half hour came in")
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
    port = broker.port
    broker.close()
    lost = until(lambda: (v := brokers.view(HOME)).state == "lost" and v, "the loss was not told")
    assert lost.said.endswith(".")
    assert all(p.now is None for p in lost.picks)
    again = DemoBroker(lambda: list(said.items()), port)
    try:
        until(lambda: brokers.view(HOME).state == "connected", "it did not come back")
    finally:
        again.close()
    assert brokers.disconnect(HOME).state == "off"
    assert not kept.exists()


def test_what_was_connected_is_taken_up_again_and_a_damaged_file_stops_nothing(house):
    planner, brokers, broker, _ = house
    brokers.connect(HOME, BrokerAddress(host="127.0.0.1", port=broker.port))
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
