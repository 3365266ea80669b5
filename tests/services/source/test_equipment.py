"""Own equipment: in from CSV and JSON, out again the same, refused with row and column, undone by one undo."""

import csv
import io
from dataclasses import fields
from typing import get_args, get_type_hints

import pytest

from imbuto.core.basics.errors import ImbutoError
from imbuto.core.basics.units import PLANNING, FieldMeaning
from imbuto.core.equipment.catalogue import shipped
from imbuto.core.equipment.power_station import with_defaults
from imbuto.formats import strict_json
from imbuto.services.source.own_equipment import KINDS, as_csv, as_json, catalogue_view, take_in
from tests.demo import demo_copy

HOME = "saltgrass-house"
LABEL = "id,name,volts,nominal_wh,continuous_w,rated_va,surge_va,leg_a,leg_surge_va,idle_w,price\n"
JUG = LABEL + "jug,Jug,120,2400,2000,2000,4000,16.7,4000,15,1500\n"


@pytest.fixture
def planner(tmp_path):
    return demo_copy(tmp_path)


def own(planner, kind="stations"):
    return catalogue_view(planner, HOME).own[kind]


def add(planner, text, name="mine.csv", kind="stations", edit="e1"):
    return take_in(planner, HOME, text.encode(), name, kind, edit, None)


@pytest.mark.parametrize("text", [JUG, JUG.replace(",", ";"), "﻿" + JUG, "# from the label\n" + JUG + "\n\n"])
def test_a_station_typed_from_its_label_joins_the_catalogue_and_undo_takes_it_back(planner, text):
    result = add(planner, text)
    assert own(planner) == ["jug"]
    assert result.state.undo == "Equipment imported: 1 entry"
    jug = catalogue_view(planner, HOME).catalogue.stations["jug"]
    assert (jug.nominal_wh, jug.efficiency, str(jug.price)) == (2400, 0.94, "1500")
    assert planner.options(HOME, "cords-only", "evening-cut")[0].station.id == "gill"
    assert "jug" in [v.station.id for v in planner.options(HOME, "cords-only", "evening-cut")]
    planner.undo(HOME, "u1", None)
    assert own(planner) == []


@pytest.mark.parametrize("kind", ["stations", "modules", "panels", "transfer"])
def test_every_kind_goes_out_and_comes_back_the_same(planner, kind):
    text = as_csv(planner, HOME, kind)
    rows = list(csv.reader(io.StringIO(text)))
    assert len(rows) == 1 + len(getattr(shipped(), kind))
    with pytest.raises(ImbutoError, match="nothing new"):
        add(planner, text, kind=kind)
    first = rows[1][0]
    add(planner, text.replace(f"\n{first},", "\nmine,", 1).replace(f"\r\n{first},", "\r\nmine,", 1), kind=kind)
    assert own(planner, kind) == ["mine"]
    entries = getattr(catalogue_view(planner, HOME).catalogue, kind)
    assert {f: getattr(entries["mine"], f) for f in rows[0] if f != "id"} == {
        f: getattr(entries[first], f) for f in rows[0] if f != "id"
    }


def test_a_json_catalogue_brings_every_kind_at_once(planner, tmp_path):
    raw = as_json(planner, HOME)
    raw["panels"] = {"roof": raw["panels"]["slate"] | {"id": "roof", "name": "Roof 400", "w": 400}}
    raw["modules"] = {"slab": raw["modules"]["stave-2"] | {"id": "slab", "name": "Slab"}}
    add(planner, strict_json.dump(raw), "all.json")
    assert (own(planner, "panels"), own(planner, "modules"), own(planner)) == (["roof"], ["slab"], [])


@pytest.mark.parametrize(
    ("text", "name", "sentence"),
    [
        (JUG.replace("2400", "much"), "a.csv", "row 2, nominal_wh"),
        (JUG.replace("2400", ""), "a.csv", "row 2, nominal_wh.*Enter a value"),
        (JUG.replace("2400", "-5"), "a.csv", "row 2, nominal_wh"),
        (JUG + JUG.split("\n")[1] + "\n", "a.csv", "row 3, id.*earlier row"),
        (JUG.replace("idle_w", "idle_x"), "a.csv", "row 1.*idle_x.*Name the columns id, name"),
        (JUG.replace("id,", "name,", 1), "a.csv", "no id"),
        (JUG.replace(",1500", ""), "a.csv", "row 2.*11 cells are needed"),
        (LABEL, "a.csv", "no rows"),
        ("", "a.csv", "no rows"),
        ("[1]", "a.json", "none of stations"),
        ('{"stations": {"a": 1}}', "a.json", "stations"),
    ],
)
def test_what_cannot_stand_is_refused_with_its_place_and_nothing_is_added(planner, text, name, sentence):
    rev = planner.rev(HOME)
    with pytest.raises(ImbutoError, match=sentence):
        add(planner, text, name)
    assert (own(planner), planner.rev(HOME)) == ([], rev)


def test_what_is_no_text_or_too_large_is_refused(planner):
    for data, sentence in ((b"id\n\xff\xfe", "not UTF-8"), (b"x" * 2_100_000, "import 2 at most")):
        with pytest.raises(ImbutoError, match=sentence):
            take_in(planner, HOME, data, "a.csv", "stations", "e", None)


def test_each_field_says_what_it_is(planner):
    notes = {n.name: n for n in catalogue_view(planner, HOME).notes["stations"]}
    assert notes["nominal_wh"].needed
    assert notes["volts"].choices == ["120", "120/240", "230"]
    assert not notes["price"].needed
    assert "label" in notes["nominal_wh"].meaning


def test_a_table_of_an_old_machine_is_read_and_a_rating_of_nought_is_one_not_listed(planner):
    assert add(planner, JUG.replace("\n", "\r"), "a.csv")
    planner.undo(HOME, "u", None)
    zero = JUG.splitlines()
    head, row = zero[0].split(","), zero[1].split(",")
    for name in ("surge_va", "leg_surge_va", "rated_va"):
        cells = [("0" if h == name else c) for h, c in zip(head, row, strict=True)]
        add(planner, "\n".join([zero[0], ",".join(cells)]) + "\n", "a.csv", edit=f"zero {name}")
        filled, assumed = with_defaults(catalogue_view(planner, HOME).catalogue.stations["jug"])
        assert name in assumed
        assert getattr(filled, name) == 2000  # no more than it carries for long
        planner.undo(HOME, f"undo {name}", None)


def test_every_field_of_what_can_be_bought_says_what_it_means_and_where_its_default_comes_from():
    for kind, cls in KINDS.items():
        hints = get_type_hints(cls, include_extras=True)
        for f in fields(cls):
            says = next((x for x in get_args(hints[f.name])[1:] if isinstance(x, FieldMeaning)), None)
            assert says is not None, f"{kind}: {f.name}"
            assert len(says.meaning) > 1
            # A default that is a figure is somebody's: a planning default, or plainly none.
            figure = isinstance(f.default, int | float) and not isinstance(f.default, bool) and f.default > 1
            assert says.source == PLANNING or not figure, f"{kind}: {f.name}"
