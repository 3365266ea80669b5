"""What must not change an answer, and what may only change it one way, on generated plans."""

from __future__ import annotations

from dataclasses import replace

import pytest

from imbuto.core.advice.answer import Answer, judge
from imbuto.core.advice.house_totals import chosen_day_wh
from imbuto.core.equipment.catalogue import Catalogue, shipped
from imbuto.core.equipment.power_station import Station
from tests.breadth import breadth
from tests.core.run.test_several import KIT as SEVERAL
from tests.core.run.test_several import random_several
from tests.support import random_plan

KIT = SEVERAL.over(shipped())
SEEDS = range(breadth(20, 300))


def a_case(seed: int):
    return random_several(seed) if seed % 3 == 0 else random_plan(seed)


def answer(case, kit: Catalogue = KIT) -> Answer:
    return judge(*case, kit, with_moves=False)


def to_nine(value: float | None) -> float | None:
    """A figure without the noise of the order in which it was summed."""
    return None if value is None else round(value, 9)


def figures(a: Answer) -> tuple[object, ...]:
    """What an answer says, without names."""
    return (
        a.state,
        a.fits,
        to_nine(a.hours),
        None if a.band is None else (to_nine(a.band.low_h), to_nine(a.band.high_h), a.band.chance),
        round(chosen_day_wh(a.wirings), 6),
        sorted((x.family, x.ok, x.severity, round(x.used, 6), round(x.limit, 6)) for x in a.limits),
        [(to_nine(v.run.hours) if v.run else None, v.fits) for v in a.stations],
    )


def reordered(items: dict) -> dict:
    return dict(reversed(items.items()))


@pytest.mark.parametrize("tenth", range(10))
def test_names_order_and_what_nobody_uses_change_no_figure(tenth):
    for seed in SEEDS[tenth::10]:
        home, plan, outage = a_case(seed)
        one = figures(answer((home, plan, outage)))
        named = replace(
            home,
            name="Another",
            loads={k: replace(x, name=f"Load {i}") for i, (k, x) in enumerate(home.loads.items())},
            circuits={k: replace(x, name=f"Circuit {i}") for i, (k, x) in enumerate(home.circuits.items())},
        )
        assert figures(answer((named, replace(plan, name="Another"), outage))) == one, f"{seed}: names"
        turned = replace(home, loads=reordered(home.loads), circuits=reordered(home.circuits))
        assert figures(answer((turned, plan, outage))) == one, f"{seed}: order"
        spare = replace(next(iter(KIT.stations.values())), id="never-used", name="Never used")
        more = replace(KIT, stations={"never-used": spare, **KIT.stations})
        assert figures(answer((home, plan, outage), more)) == one, f"{seed}: what nobody uses"


def roomier(station: Station) -> Station:
    return replace(station, nominal_wh=1.25 * station.nominal_wh)


@pytest.mark.parametrize("tenth", range(10))
def test_more_stored_energy_never_shortens(tenth):
    larger = replace(KIT, stations={k: roomier(x) for k, x in KIT.stations.items()})
    for seed in SEEDS[tenth::10]:
        home, plan, outage = a_case(seed)
        if any(f.by_charge for f in plan.feeds.values()) or plan.engine is not None:
            continue  # with more charge more is switched on, and an engine starts later: it may go either way
        one, other = answer((home, plan, outage)), answer((home, plan, outage), larger)
        for a, b in zip(one.stations, other.stations, strict=True):
            before, after = (v.run.hours if v.run else None for v in (a, b))
            assert a.run is None or after is None or (before is not None and after >= before - 1e-9), seed


@pytest.mark.parametrize("tenth", range(10))
def test_a_blank_is_its_stated_default(tenth):
    """Own draw: 1% of continuous W and at least 10 W, as the page says."""
    blank = replace(KIT, stations={k: replace(x, idle_w=None) for k, x in KIT.stations.items()})
    stated = replace(
        KIT, stations={k: replace(x, idle_w=max(0.01 * x.continuous_w, 10.0)) for k, x in KIT.stations.items()}
    )
    for seed in SEEDS[tenth::10]:
        case = a_case(seed)
        a, b = answer(case, blank), answer(case, stated)
        assert (a.hours, a.fits) == (b.hours, b.fits), seed
        assert [v.run.hours if v.run else None for v in a.stations] == [
            v.run.hours if v.run else None for v in b.stations
        ], seed
