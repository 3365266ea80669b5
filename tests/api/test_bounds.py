"""No figure can poison a home: each is refused with a sentence before anything is kept, or every page answers with it.

For every number of every document: nothing, the least and the greatest, just beyond both, the tiniest there is, NaN.
Over 3,000 cases, made from the schema; those that are taken are kept together by the dozen and every route is
asked."""

from __future__ import annotations

import copy
import json
import random
from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient

from imbuto.api.app import create_app
from imbuto.core.basics.errors import ImbutoError
from imbuto.formats import strict_json
from imbuto.formats.documents import CATALOGUE, HOME, OUTAGE, PLAN
from imbuto.services.desk.edits import check
from imbuto.services.desk.planner import Planner
from imbuto.store.database import Database
from imbuto.store.repository import StoredDocument
from tests.breadth import breadth
from tests.support import random_plan

TOGETHER = 30
ADAPTERS = {"home": HOME, "plan": PLAN, "outage": OUTAGE}


def documents() -> dict[str, Any]:
    """A small home with one of everything that has a number in it."""
    home, plan, outage = random_plan(7)
    raw = {"home": HOME.write(home), "plan": PLAN.write(plan), "outage": OUTAGE.write(outage)}
    h, p, o = raw["home"], raw["plan"], raw["outage"]
    from imbuto.core.equipment.catalogue import shipped

    kit = CATALOGUE.write(shipped())
    own = {
        kind: {"own": kit[kind][ident] | {"id": "own"}}
        for kind, ident in (
            ("stations", "hogshead"),
            ("modules", next(iter(kit["modules"]))),
            ("panels", "slate"),
            ("transfer", "ten-place"),
            ("generators", "ember"),
            ("batteries", "keg"),
        )
    }
    own["stations"]["own"] |= {"parallel_most": 2, "coupler": ""}
    h["catalogue"] = own
    h["site"] |= {
        "record_low_c": -5.0,
        "record_high_c": 35.0,
        "sky": [{"month": 1, "clear": 0.2, "broken": 0.3, "overcast": 0.4}],
    }
    h["service"] |= {"contracted_w": 9000.0}
    h["household"]["people"] = {"a": {"id": "a", "name": "A", "can_switch": True}}
    h["household"]["history"] |= {"a_year": 3, "shortest_h": 1, "usual_h": 6, "longest_h": 40}
    circuits = list(h["circuits"])
    for i, load in enumerate(h["loads"].values()):
        load["circuit"] = circuits[i % len(circuits)]
    first, second, third = list(h["loads"].values())[:3]
    first["settings"] = {
        "low": {"id": "low", "name": "Low", "average_w": 1.0, "run_w": first["run_w"], "rest_w": 0.0, "spread": 0.2}
    }
    first |= {
        "start_va": 900.0,
        "power_factor": 0.9,
        "spread": 0.2,
        "highest_w": first["run_w"],
        "measured_c": 21.0,
        "less_w": 1.0,
    }
    first["tried"] = [{"station": "own", "on": "2026-01-02", "charge": 0.5, "cell_c": 10.0, "others_va": 100.0}]
    second["use"] = {"kind": "windows", "windows": [{"start_h": 8.0, "end_h": 20.0}]}
    third["use"] = {"kind": "tasks", "times": [8.0], "minutes": 30.0}
    h["circuits"][circuits[0]]["slots"] = [1]
    window = {"start_h": 8.0, "end_h": 20.0}
    p["feeds"] = {
        c: {
            "id": c,
            "circuit": c,
            "place": i,
            "stance": "keep_on" if i % 2 else "turns",
            "windows": [window] if i == 2 else [],
        }
        for i, c in enumerate(circuits[:6], 1)
    }
    p["sources"] = {"main": {"id": "main", "station": "own", "modules": 1, "units": 1, "drive_wh": 100.0}}
    cord = {"wire": "awg10", "length_m": 8.0}
    p["arrays"] = {
        "roof": {
            "id": "roof",
            "name": "Roof",
            "panel": "own",
            "series": 3,
            "cord": cord,
            "shade": [{"from_h": 8.0, "to_h": 9.0, "months": [1], "share": 0.5}],
        }
    }
    p["engine"] = {"generator": "own", "windows": [window]}
    p["devices"] = {"main": {"id": "main", "equipment": "own", "cord": cord}}
    p["sources"]["main"] |= {"charge_w": 500.0, "away": {"windows": [window], "from_h": 2.0, "for_h": 3.0}}
    p["banks"] = {"bank": {"id": "bank", "name": "Bank", "battery": "own", "to": "main", "input": 2, "amps": 8.0}}
    p["asleep"] = [window]
    p["arrays"]["roof"]["set_out"] = {"from_h": 8.0, "to_h": 17.0}
    p["banks"]["bank"]["others"] = [{"battery": "own", "fuse_a": 15.0}]
    h["circuits"]["spare"] = {"id": "spare", "name": "Spare"}
    p["everyday"] = {"circuits": {"spare": {"id": "spare", "off": [window]}}}
    p["other_uses"] = {"camp": {"id": "camp", "name": "Camp", "modules": 1, "days": 5.0, "instead": 30.0}}
    p["own_numbers"] = {
        "day_wh": 9_300.0,
        "days": 2.0,
        "module_wh": 2_700.0,
        "sun_hours": 4.0,
        "panel_w": 400.0,
        "night": {"loads": [first["id"]], "told_w": 300.0, "told_wh": 2_000.0},
    }
    h["panels"] = {"shed": {"id": "shed", "name": "Shed", "feeder_a": 60.0, "length_m": 20.0, "slots": 12}}
    o |= {"skies": ["clear", "storm"], "hours": 12.0, "goal_hours": 12.0}
    return {k: ADAPTERS[k].complete(v)[1] for k, v in raw.items()}


Leaf = tuple[tuple[Any, ...], float, float, bool]


def numbers(value: Any, schema: dict[str, Any], defs: dict[str, Any], path: tuple[Any, ...] = ()) -> Iterator[Leaf]:
    """Every number in a document: its path, and its bounds as the schema has them."""
    options = [schema, *schema.get("anyOf", [])]
    options = [defs[o["$ref"].rpartition("/")[2]] if "$ref" in o else o for o in options]
    if isinstance(value, dict):
        for key, inner in value.items():
            each = [o.get("properties", {}).get(key) or o.get("additionalProperties") for o in options]
            found = next((x for x in each if isinstance(x, dict)), None)
            if found is not None:
                yield from numbers(inner, found, defs, (*path, key))
    elif isinstance(value, list):
        items = next((o["items"] for o in options if "items" in o), None)
        for i, inner in enumerate(value):
            if items:
                yield from numbers(inner, items, defs, (*path, i))
    else:
        number = next((o for o in options if o.get("type") in ("number", "integer")), None)
        if number is not None:
            whole = number["type"] == "integer"
            yield path, number.get("minimum", number.get("exclusiveMinimum", -1e6)), number.get("maximum", 1e6), whole


def cases(raw: dict[str, Any]) -> Iterator[tuple[str, tuple[Any, ...], Any]]:
    """Each number with each value it is tried with."""
    for kind, adapter in ADAPTERS.items():
        schema = adapter.inner.json_schema()
        for path, least, most, whole in numbers(raw[kind], schema, schema.get("$defs", {})):
            tried = (
                [0, least, most, (least + most) // 2]
                if whole
                else [
                    0.0,
                    least,
                    most,
                    1e-300,
                    5e-324,
                    -1e-300,
                    1e-9,
                    (least + most) / 2,
                    least + 1e-6,
                    1e308,
                    most * 1.000001,
                    -1.0,
                ]
            )
            tried += [-1, most + 1]
            for value in dict.fromkeys(tried):
                yield kind, path, value


def changed(raw: dict[str, Any], kind: str, path: tuple[Any, ...], value: Any) -> dict[str, Any]:
    made = {k: copy.deepcopy(v) if k == kind else v for k, v in raw.items()}
    at = made[kind]
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    return made


def stands(raw: dict[str, Any]) -> str:
    """The sentence that refuses these documents; empty where they are taken."""
    try:
        for kind, document in raw.items():
            strict_json.check_plain(document, kind)
        stored = [StoredDocument(k, k, 1, ADAPTERS[k].complete(v, k)[1]) for k, v in raw.items()]
        check(stored)
    except ImbutoError as error:
        return error.sentence
    return ""


@pytest.fixture(scope="module")
def tried():
    raw = documents()
    assert stands(raw) == ""
    return raw, [(c, stands(changed(raw, *c))) for c in cases(raw)]


def test_every_number_is_refused_with_a_sentence_or_taken(tried):
    _, found = tried
    assert len(found) >= 3000
    refused = [s for _, s in found if s]
    assert all(s.endswith((".", "?")) for s in refused)
    assert len(refused) > 800
    beyond = [(c, s) for c, s in found if isinstance(c[2], float) and abs(c[2]) == 1e308]
    assert all(s for _, s in beyond)  # nothing physical is so large


ROUTES = (
    "verdict",
    "run",
    "run/steps",
    "sun",
    "fuel",
    "diagram",
    "size",
    "by-hand",
    "whole",
    "goals",
    "readings",
    "export",
    "tables/loads",
)
SLOW = ("options", "compare", "run/steps.csv", "labels")  # asked of every fourth home


def ask(client: TestClient, home: str, *, slow: bool) -> None:
    """Every page of a home answers, and what it says is finite."""
    pair = {"plan": "p", "outage": "o"}
    answers = [(r, client.get(f"/api/homes/{home}/{r}", params=pair)) for r in (*ROUTES, *(SLOW if slow else ()))]
    if slow:
        answers.append(("proposal", client.post(f"/api/homes/{home}/proposal", json=pair | {"hours": 6})))
    for route, answer in answers:
        assert answer.status_code < 500, (route, answer.text[:300])
        if answer.headers["content-type"].startswith("application/json"):
            json.loads(answer.text, parse_constant=lambda c, route=route: pytest.fail(f"{route}: {c}"))


@pytest.mark.parametrize("half", breadth([0], [0, 1]))
def test_with_every_number_that_is_taken_every_page_answers(tried, tmp_path, half):
    raw, found = tried
    ends = {}  # of each number the least and the greatest that is taken, and what is next to nothing
    for c, s in found:
        if not s:
            ends.setdefault(c[:2], []).append(c)
    taken = [
        c
        for each in ends.values()
        for c in {each[0], max(each, key=lambda c: c[2]), min(each, key=lambda c: abs(c[2]))}
    ]
    taken = sorted(taken, key=str)[half::2]
    random.Random(3).shuffle(taken)
    planner = Planner(Database(tmp_path / "imbuto.db"))
    client = TestClient(create_app(planner), base_url="http://127.0.0.1", raise_server_exceptions=False)
    kept = asked = 0
    while taken:
        documents_, used, later = raw, set(), []
        for c in taken:
            more = changed(documents_, *c) if len(used) < TOGETHER and c[:2] not in used else None
            if more is not None and not stands(more):
                documents_, kept = more, kept + 1
                used.add(c[:2])
            else:
                later.append(c)
        home = planner.add(documents_["home"], [documents_["plan"]], [documents_["outage"]]).id
        ask(client, home, slow=asked % 4 == 0)
        asked += 1
        planner.delete(home)
        taken = later if used else []
    assert kept > 250


@pytest.mark.parametrize(
    "text",
    [
        '{"a": NaN}',
        '{"a": Infinity}',
        '{"a": 1, "a": 2}',
        '{"a": ' + "9" * 5000 + "}",
        '{"a": "\\ud800"}',
        '{"\\udfff": 1}',
        '{"a": "\\u0000"}',
        '{"a": 1e-300}',
    ],
)
def test_json_that_says_two_things_or_nothing_is_refused(text):
    with pytest.raises(ImbutoError) as caught:
        strict_json.parse(text, "a file")
    assert caught.value.sentence
