"""How warm food gets: the usual guidance as check, turns kept safe, a dark spell told."""

from dataclasses import replace

import numpy as np
import pytest

from imbuto.core.advice.answer import judge
from imbuto.core.run.food_warming import FREEZER, FRIDGE, box_of, food
from imbuto.formats import planfile
from imbuto.services.desk.demo import demo_file
from imbuto.services.desk.run_views import run_view

BUNDLE = planfile.read(demo_file("saltgrass-house"), "demo")
TEN = next(p for p in BUNDLE.plans if p.id == "ten-place")
OUTAGES = {o.id: o for o in BUNDLE.outages}


def test_refrigerator_and_freezer_are_told_by_their_names():
    names = {x.name: box_of(x) for x in BUNDLE.home.loads.values() if x.purpose == "food"}
    assert names["Chest freezer"] is FREEZER
    assert names["Refrigerator"] is FRIDGE


def on_for(hours_on: float, every: float, run) -> dict:
    h = np.arange(run.steps.n) * run.steps.step_h
    return {"refrigerator": (h % every) < hours_on, "chest-freezer": np.ones(run.steps.n, dtype=bool)}


def test_short_turns_are_safe_and_long_rests_are_not():
    run = judge(BUNDLE.home, TEN, OUTAGES["august-shutoff"], BUNDLE.catalogue, with_moves=False).run
    short = {f.load.id: f for f in food(run, on_for(2.5, 4, run))}["refrigerator"]
    long = {f.load.id: f for f in food(run, on_for(2, 14, run))}["refrigerator"]
    assert short.safe
    assert short.longest_off_h == pytest.approx(1.5, abs=0.1)
    assert not long.safe
    assert long.over_h > 2
    assert long.warmest_c > short.warmest_c > 3
    none = {f.load.id: f for f in food(run, {})}["refrigerator"]
    assert not none.fed
    assert none.longest_off_h == pytest.approx(30)


def test_the_run_tells_it_of_what_goes_dark():
    v = judge(BUNDLE.home, TEN, OUTAGES["november-windstorm"], BUNDLE.catalogue, with_moves=False)
    told = {f.load: f for f in run_view(v.lead, v.band).food}
    assert not told["refrigerator"].safe  # dark from the first morning, for two days more
    assert told["refrigerator"].longest_off_h == pytest.approx(72 - v.run.hours, abs=0.2)
    evening = judge(BUNDLE.home, TEN, OUTAGES["evening-cut"], BUNDLE.catalogue, with_moves=False)
    assert all(f.safe for f in run_view(evening.lead, evening.band).food if f.fed)
    cold = replace(OUTAGES["january-ice"], indoors_c=1.0, garage_c=1.0)
    iced = judge(BUNDLE.home, TEN, cold, BUNDLE.catalogue)
    assert all(f.may_off_h is None for f in run_view(iced.lead, iced.band).food if "freezer" not in f.load)
