"""What if, on my days: days metered as the model has them come out as the model has them, and more of a plan as that."""

from datetime import UTC, date, datetime

import numpy as np
import pytest

from imbuto.core.basics.errors import ImbutoError
from imbuto.core.everyday.metered_savings import QUARTER_S
from imbuto.core.everyday.year_ground import STEP_H
from imbuto.core.measuring.metered_series import Series
from imbuto.services.everyday.plan_years import house_flows, years_of
from imbuto.services.everyday.saved_views import saved_view
from imbuto.services.everyday.what_if import More, what_if
from imbuto.store.energy_days import keep_energy
from imbuto.store.models import ReadingRow, SeriesRow
from imbuto.store.series_blocks import keep
from tests.demo import demo_copy

HOME, PLAN = "saltgrass-house", "switched-panel"
FIRST, LAST = date(2026, 6, 1), date(2026, 6, 30)


@pytest.fixture(scope="module")
def planner(tmp_path_factory):
    planner = demo_copy(tmp_path_factory.mktemp("whatif"))
    documents = planner.open(HOME)
    [y] = years_of(documents, documents.plans[PLAN], 2026)
    begin = round(y.ground.steps.start.timestamp() / QUARTER_S)
    bought = house_flows([y]).bought_w
    kept = {"house": y.ground.fed_w + y.ground.rest_w, "bought": bought, "sun": y.ground.sun_w}
    with planner.database.writing() as session:
        for role, watts in kept.items():
            keep_energy(session, HOME, role, {begin + i: float(w) * STEP_H for i, w in enumerate(watts)})
    yield planner
    planner.database.close()


def run(planner, plan=PLAN, more=None):
    return what_if(planner, HOME, plan, FIRST, LAST, PLAN, more or More())


def test_days_metered_as_the_model_has_them_come_out_so(planner):
    found = run(planner)
    assert found.days == pytest.approx(30)
    assert found.bought == pytest.approx(found.bought_then, rel=0.01)  # the charge of the month's first day apart
    assert found.cost == pytest.approx(found.cost_then, rel=0.01)
    assert found.notes == []
    assert found.sun > 100


def test_more_panels_buy_less_and_a_plan_without_panels_uses_no_sun_and_says_so(planner):
    now = run(planner)
    assert run(planner, more=More(panels=2.0)).bought < now.bought - 5
    none = run(planner, more=More(panels=0.0))
    assert none.bought > now.bought + 50
    bare = run(planner, plan="ten-place")
    assert any("no panels" in note for note in bare.notes)
    assert bare.bought >= bare.house - 1
    unit = run(planner, more=More(units=1))
    assert any("adds no sun" in note for note in unit.notes)
    assert unit.plan == "Switched panel, 1 more unit"


def test_a_roof_with_its_own_inverter_gives_to_the_house_first(tmp_path):
    """Metered as the model has a house with a roof: the same plan buys what was bought, and not all that was used."""
    planner = demo_copy(tmp_path)
    roof = {"id": "roof", "name": "Roof", "panel": "slate", "series": 8, "source": "main", "ac": True, "owned": True}
    op = {"doc": PLAN, "op": "add", "path": "/arrays/roof", "value": roof}
    planner.edit(HOME, planner.state(HOME).rev, "roof", "Add the roof", [op], None)
    documents = planner.open(HOME)
    years = years_of(documents, documents.plans[PLAN], 2026)
    [y] = years
    begin = round(y.ground.steps.start.timestamp() / QUARTER_S)
    bought_w = house_flows(years).bought_w
    kept = {"house": y.ground.fed_w + y.ground.rest_w, "bought": bought_w, "sun": y.ground.sun_w + y.ground.roof_w}
    with planner.database.writing() as session:
        for role, watts in kept.items():
            keep_energy(session, HOME, role, {begin + i: float(w) * STEP_H for i, w in enumerate(watts)})
    found = run(planner)
    assert found.bought == pytest.approx(found.bought_then, rel=0.01)
    assert found.bought < 0.9 * found.house
    assert run(planner, more=More(panels=0.0)).bought > found.bought + 50
    planner.database.close()


@pytest.mark.parametrize(
    ("plan", "more", "word"),
    [(PLAN, More(modules=20), "at most"), ("none", More(), "doesn't have"), ("cords-only", More(modules=9), "at most")],
)
def test_what_cannot_be_run_is_refused_with_a_sentence(planner, plan, more, word):
    with pytest.raises(ImbutoError, match=word):
        run(planner, plan, more)
    with pytest.raises(ImbutoError, match="metered"):
        what_if(
            planner,
            "via-dei-glicini",
            next(iter(planner.open("via-dei-glicini").plans)),
            FIRST,
            LAST,
            next(iter(planner.open("via-dei-glicini").plans)),
            More(),
        )


def test_a_circuit_with_a_meter_of_its_own_has_its_share_of_the_house(planner):
    house = saved_view(planner, HOME, FIRST, LAST).whole.house
    begin = datetime(2026, 6, 11, tzinfo=UTC)
    at = begin.timestamp() + np.arange(10 * 24) * 3600.0
    with planner.database.writing() as session:
        named = {"home_id": HOME, "raw": "", "side": "", "setting": "", "season": "", "at": begin}
        session.add(ReadingRow(id="r", load=None, circuit="kitchen-fridge", **named))
        session.flush()
        row = SeriesRow(
            home_id=HOME,
            id="s",
            reading_id="r",
            channel="a",
            file="f",
            zone="UTC",
            unit="W",
            cumulative=False,
            interval_s=3600.0,
            samples=len(at),
        )
        keep(
            session,
            row,
            Series(seconds=at, values=np.full(len(at), 100.0), unit="W", cumulative=False, interval_s=3600.0),
        )
    [found] = saved_view(planner, HOME, FIRST, LAST).circuits
    assert found.name == planner.open(HOME).home.circuits["kitchen-fridge"].name
    assert found.kwh == pytest.approx(24.0)
    assert found.told == pytest.approx(1 / 3)
    assert found.share == pytest.approx(24.0 / (house / 3), rel=0.05)  # of the house in the same ten days
