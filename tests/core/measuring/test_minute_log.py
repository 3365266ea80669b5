"""Minute means of an instrument: gaps are gaps, counters may begin again, and what can't be is refused."""

import math
import random

import pytest

from imbuto.core.measuring.minute_log import MOST_MINUTES, MinuteLog

BASE = 1_700_000_040.0  # a whole minute


def test_a_value_stands_for_five_minutes_at_most_and_silence_is_no_0_w():
    log = MinuteLog("W")
    log.take(100, BASE)
    log.take(200, BASE + 240)  # four minutes later: the first stood for them
    log.take(300, BASE + 3600)
    assert [round(w) for _, w in log.means()] == [100, 100, 100, 100, 200, 300]
    assert log.hours() == 6 / 60
    assert log.gap_hours() == pytest.approx(55 / 60)
    assert log.energy_wh() == pytest.approx((4 * 100 + 200 + 300) / 60)
    assert not log.silent(BASE + 3800)
    assert log.silent(BASE + 3600 + 301)


def test_a_counter_gives_the_watts_between_its_readings_and_may_begin_again():
    log = MinuteLog("Wh")
    for n in range(11):
        log.take(1000 + 2 * n, BASE + 60 * n)  # 2 Wh a minute: 120 W
    assert {round(w) for _, w in log.means()} == {120}
    log.take(3, BASE + 660)
    assert log.resets == 1
    log.take(5, BASE + 720)
    assert {round(w) for _, w in log.means()} == {120}
    log.take(1e9, BASE + 780)  # a jump that no house draws
    assert log.refused == 1
    log.take(1e9 + 5, BASE + 5000)  # too long after the one before to say when
    assert {round(w) for _, w in log.means()} == {120}


def test_a_retained_message_says_the_state_and_nothing_of_this_minute():
    log = MinuteLog("%")
    log.take(64, BASE, retained=True)
    assert (log.last, log.means()) == (64, [])
    log.take(63, BASE + 5)
    assert len(log.means()) == 1


def test_what_cannot_be_is_refused_and_the_log_stays_bounded():
    log = MinuteLog("W")
    for wrong in (math.nan, math.inf, -math.inf, 1e9, -2e5):
        log.take(wrong, BASE)
    assert (log.refused, log.last) == (5, None)
    for n in range(MOST_MINUTES + 500):
        log.take(1.0, BASE + 60 * n)
    assert len(log.minutes) == MOST_MINUTES


def test_whatever_order_comes_in_every_mean_lies_between_what_was_said():
    for seed in range(40):
        rng = random.Random(seed)
        log, said, at = MinuteLog("W"), [], BASE
        for _ in range(200):
            at += rng.choice((0.1, 5, 60, 250, 900, -30))
            said.append(rng.uniform(0, 3000))
            log.take(said[-1], at)
        assert all(min(said) - 1e-6 <= w <= max(said) + 1e-6 for _, w in log.means())
        assert log.hours() + log.gap_hours() <= (max(log.minutes) - min(log.minutes) + 1) / 60 + 1e-9
