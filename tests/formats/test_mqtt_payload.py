"""Messages of instruments, well and badly formed: every number is the one that was written, or none."""

import json
import math
import random
import re

from imbuto.formats.mqtt_payload import MOST_VALUES, guessed, leaves


def test_plain_numbers_units_and_json():
    assert [(x.value, x.unit) for x in leaves(b"12.5")] == [(12.5, "")]
    assert [(x.value, x.unit, x.kilo) for x in leaves(b" 1.2 kWh ")] == [(1200.0, "Wh", True)]
    found = {x.path: x.value for x in leaves(b'{"apower": 99.5, "aenergy": {"total": 12}, "on": true, "t": "21 C"}')}
    assert found == {"apower": 99.5, "aenergy/total": 12.0}
    assert {x.path: x.value for x in leaves(b'{"energy_kwh": 1.5, "phases": [{"voltage": "230.1"}]}')} == {
        "energy_kwh": 1500.0,
        "phases/0/voltage": 230.1,
    }


def test_a_guess_goes_by_unit_then_name():
    def guess(topic: str, payload: bytes) -> list[str | None]:
        return [guessed(topic, x) for x in leaves(payload)]

    assert guess("x", b"5 W") == ["W"]
    assert guess("station/main/soc", b"64") == ["%"]
    assert guess("station/main/soc", b"640") == [None]
    assert guess("plug", b'{"voltage": 1, "current": 2, "power": 3, "energy": {"total_wh": 4}}') == [
        "V",
        "A",
        "W",
        "Wh",
    ]
    assert guess("room/temperature", b"21.5") == [None]


ODD = ("12.5", "on", "", "1,5", "١٢", "0x10", "1e400", "64 %", "3 kW", "NaN", True, False, None, math.nan, math.inf)


def wild(rng: random.Random, depth: int = 0) -> object:
    pick = rng.randrange(7 if depth < 10 else 4)
    if pick == 0:
        return rng.uniform(-1e6, 1e6)
    if pick == 1:
        return rng.choice((rng.randint(-(10**9), 10**9), 1e308, 10**400))
    if pick < 4:
        return rng.choice(ODD)
    if pick == 4:
        return [wild(rng, depth + 1) for _ in range(rng.randint(0, 3))]
    return {rng.choice(("power", "kwh", "a", "0")): wild(rng, depth + 1) for _ in range(rng.randint(0, 3))}


def test_a_thousand_messages_give_finite_numbers_that_were_written_or_none():
    for seed in range(1000):
        rng = random.Random(seed)
        if seed % 5 == 0:
            payload = rng.randbytes(rng.randint(0, 300))
        else:
            payload = json.dumps(wild(rng)).encode()
            if seed % 7 == 0 and payload:
                at = rng.randrange(len(payload))
                payload = payload[:at] + rng.randbytes(2) + payload[at + 1 :]
        text = payload.decode("utf-8", "replace")
        found = leaves(payload)
        assert len(found) <= MOST_VALUES
        written = {float(x) for x in re.findall(r"[-+]?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?", text)}
        for leaf in found:
            assert math.isfinite(leaf.value)
            assert leaf.value in {1000 * x for x in written} if leaf.kilo else leaf.value in written, (seed, leaf)


def test_too_much_is_nothing():
    assert leaves(b"1" * 70_000) == []
    assert leaves(b"[" * 5_000) == []
    assert len(leaves(json.dumps(list(range(5000))).encode())) == MOST_VALUES
