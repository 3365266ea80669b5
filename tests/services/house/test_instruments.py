"""The simulated instruments: what they show adds up, and metering with them narrows the verdict."""

import pytest

from imbuto.core.basics.errors import ImbutoError, NotFound
from imbuto.services.house.instruments import Instruments
from imbuto.services.house.measuring import Measuring, Target
from tests.demo import demo_copy
from tests.formats.test_meterlog import meterlog

HOME, FLAT = "saltgrass-house", "via-dei-glicini"
PAIR = ("ten-place", "november-windstorm")


class Ticks:
    now = 0.0

    def __call__(self):
        return self.now


@pytest.fixture
def ticks():
    return Ticks()


@pytest.fixture
def bench(tmp_path, ticks):
    planner = demo_copy(tmp_path)
    yield Instruments(planner, ticks, lambda: 1_795_000_000.0)  # what a meter shows hangs on the hour it begins
    planner.database.close()


def meter(bench, ticks, load, hours):
    """Plug a load in for so many simulated hours at the fastest speed, and read the meter."""
    bench.set_up(HOME, plug=load, speed=1440)
    ticks.now += hours * 3600 / 1440
    return bench.read(HOME).meter


def figures_h(bench):
    """How wide the band would be if load figures alone were not known, h."""
    return next(p.hours for p in bench.planner.run(HOME, *PAIR).made_of if p.part == "loads")


def rel(verdict):
    """How far below the hours the 9-in-10 figure is, as a share of them."""
    return 1 - verdict.low_hours / verdict.hours


def test_metering_two_hours_then_two_days_narrows_the_band_and_reorders_meter_next(bench, ticks):
    measuring = Measuring(bench.planner)
    before = bench.planner.verdict(HOME, *PAIR)
    load = next(
        m.load for m in before.measures if bench.planner.state(HOME).home["loads"][m.load]["use"]["kind"] == "cycling"
    )
    short = meter(bench, ticks, load, 2)
    assert short.hours == pytest.approx(2, abs=0.05)
    first = measuring.note(HOME, "short", short.text, Target(load), PAIR)
    after_short = figures_h(bench)
    spread = first.state.home["loads"][load]["spread"]
    long = meter(bench, ticks, load, 48)
    second = measuring.note(HOME, "long", long.text, Target(load), PAIR)
    assert (spread, second.state.home["loads"][load]["spread"]) == (0.2, 0.08)
    # Habits and battery stay as unsure as they were; what the figures make unsure narrows, and the band with it.
    assert figures_h(bench) < after_short
    assert rel(second.verdict) < rel(first.verdict)
    ranks = [[m.load for m in v.measures] for v in (before, first.verdict, second.verdict)]
    assert load in ranks[0]
    assert ranks[2] != ranks[0]
    assert load not in ranks[2][:1]


def test_the_meter_adds_up_and_the_truth_stays_where_it_is(bench, ticks):
    first = meter(bench, ticks, "refrigerator", 48)
    assert first.lowest_w <= 1000 * first.energy_kwh / first.hours <= first.highest_w
    assert first.lowest_w <= first.now_w <= first.highest_w
    assert first.amps == pytest.approx(first.now_w / first.power_factor / 120)
    Measuring(bench.planner).note(HOME, "a", first.text, Target("refrigerator"), PAIR)
    again = meter(bench, ticks, "refrigerator", 48)
    assert again.energy_kwh / again.hours == pytest.approx(first.energy_kwh / first.hours, rel=0.08)
    assert bench.set_up(HOME, unplug=True).meter is None


def test_a_clock_changes_speed_without_a_jump(bench, ticks):
    start = bench.set_up(HOME, speed=1440).at
    ticks.now += 60
    later = bench.set_up(HOME, speed=1).at
    assert (later - start).total_seconds() == pytest.approx(86_400, abs=1)
    ticks.now += 60
    assert (bench.read(HOME).at - later).total_seconds() == pytest.approx(60, abs=1)
    for wrong in ({"speed": 7}, {"plug": "nothing"}, {"breakers": {"nowhere": False}}):
        with pytest.raises(ImbutoError):
            bench.set_up(HOME, **wrong)


def test_a_flip_in_round_shows_each_circuits_step(bench):
    circuits = bench.planner.state(HOME).home["circuits"]
    dark = bench.set_up(HOME, breakers=dict.fromkeys(circuits, False))
    assert dark.main_w == 0
    assert not any(b.on for b in dark.breakers)
    lit = bench.set_up(HOME, breakers={"office": True})
    office = next(b for b in lit.breakers if b.circuit == "office")
    assert lit.main_w == office.w > 0
    untraced = next(c for c, body in circuits.items() if not body["traced"])
    more = bench.set_up(HOME, breakers={untraced: True})
    assert more.main_w - office.w > 30


def test_a_made_log_comes_in_as_it_was_made(bench, tmp_path):
    text = bench.log_csv(HOME, ["office", "kitchen-fridge"], 2, 60)
    (tmp_path / "log.csv").write_text(text)
    log = meterlog.read(tmp_path / "log.csv", "log.csv", "America/Los_Angeles")
    assert log.rows == 2880
    names = [bench.planner.state(HOME).home["circuits"][c]["name"] for c in ("office", "kitchen-fridge")]
    assert [c.name for c in log.channels] == [f"{name} W" for name in names]
    for wrong in ((["nowhere"], 2, 60), ([], 99, 60), ([], 2, 7)):
        with pytest.raises(ImbutoError):
            bench.log_csv(HOME, *wrong)


def test_only_the_demo_homes_have_them(bench):
    assert bench.read(FLAT).breakers == []
    own = bench.planner.add({"id": "ours", "name": "Ours"}, [], [])
    with pytest.raises(NotFound, match="type your meter's readings"):
        bench.read(own.id)
