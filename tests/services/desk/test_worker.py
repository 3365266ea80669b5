"""The second process: what it returns and raises, its bound of memory, how it is stopped, and that it goes."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Callable
from threading import Thread

import pytest

from imbuto.core.basics.elsewhere import run_elsewhere, run_elsewhere_with_progress, take_place
from imbuto.core.basics.errors import UnreadableFile
from imbuto.core.basics.measures import IN_USE, Measures, temp_text
from imbuto.core.run.compile_ahead import compile_all, is_cached, prepare
from imbuto.services.desk.worker import TooMuch, Worker


def where() -> int:
    return os.getpid()


def refuse(name: str) -> None:
    raise UnreadableFile(name, 3, "it is not what it says")


def fill(megabytes: int) -> int:
    return len(bytearray(megabytes * 1_000_000))


def count_on(n: int, progress: Callable[[float], None]) -> int:
    for i in range(n):
        progress(i / n)
        time.sleep(0.02)
    return n


def alive(pid: int) -> bool:
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    return True


def until(true: Callable[[], bool], most_s: float = 30) -> bool:
    end = time.monotonic() + most_s
    while not true() and time.monotonic() < end:
        time.sleep(0.05)
    return true()


@pytest.fixture(scope="module")
def worker():
    worker = Worker(idle_s=1.0, most_bytes=400_000_000)
    take_place(worker)
    yield worker
    take_place(None)
    worker.close()


def test_a_call_is_made_in_another_process_and_says_what_it_would_here(worker):
    assert run_elsewhere(where) != os.getpid()
    with pytest.raises(UnreadableFile) as refused:
        run_elsewhere(refuse, "a.csv")
    assert (refused.value.sentence, refused.value.value) == (
        "Imbuto can't use a.csv because it is not what it says.",
        3,
    )


def test_a_call_there_speaks_in_the_measures_of_who_asks(worker):
    for system, said in (("us", "50 °F"), ("metric", "10 °C"), ("us", "50 °F")):
        before = IN_USE.set(Measures(system=system))
        try:
            assert run_elsewhere(temp_text, 10.0) == said
            assert run_elsewhere(where) != os.getpid()
        finally:
            IN_USE.reset(before)


def test_what_takes_too_much_memory_is_refused_and_the_next_call_is_made(worker):
    assert run_elsewhere(fill, 50) == 50_000_000
    with pytest.raises(TooMuch, match="needed too much memory"):
        run_elsewhere(fill, 2_000)
    assert run_elsewhere(fill, 50) == 50_000_000


def test_a_long_call_tells_how_far_it_is_and_stops_when_that_is_asked(worker):
    parts: list[float] = []
    assert run_elsewhere_with_progress(count_on, parts.append, 40) == 40
    assert parts == sorted(parts)
    assert parts[-1] > 0

    class NoLonger(Exception):
        pass

    def stop(_part: float) -> None:
        raise NoLonger

    began = time.monotonic()
    with pytest.raises(NoLonger):
        run_elsewhere_with_progress(count_on, stop, 3_000)
    assert time.monotonic() - began < 40  # of the minute that it would take


def test_half_a_minute_after_the_last_call_it_is_gone(worker):
    run_elsewhere(where)
    (pid, *_) = worker._pool._processes
    assert alive(pid)
    assert until(lambda: worker._pool is None and not alive(pid))
    assert run_elsewhere(where) != pid


def test_it_ends_with_a_server_that_is_killed():
    program = (
        "import os, sys\nfrom imbuto.services.desk.worker import Worker\n"
        "if __name__ == '__main__':\n    w = Worker()\n    print(w.call(os.getpid, (), None), flush=True)\n"
        "    os.kill(os.getpid(), 9)\n"
    )
    told = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True)
    pid = int(told.stdout)
    assert until(lambda: not alive(pid))


def test_what_was_never_compiled_is_compiled_there_first(monkeypatch):
    """The compiler's memory is given back with its process."""
    asked = []

    class Elsewhere:
        def call(self, function, args, progress):
            asked.append(function)

    compile_all()
    assert is_cached()
    take_place(Elsewhere())
    try:
        prepare()
        assert asked == []
        monkeypatch.setattr("imbuto.core.run.compile_ahead.is_cached", lambda: False)
        prepare()
        assert asked == [compile_all]
    finally:
        take_place(None)


def test_closed_amid_a_large_answer_it_leaves_nobody_waiting():
    """The process may end when half of an answer is written; who waits for the rest would wait for ever."""
    for n in range(6):
        worker, told = Worker(), []
        worker.call(where, (), None)

        def ask(worker=worker, told=told):
            try:
                while True:
                    worker.call(bytes, (60_000_000,), None)
            except TooMuch as stopped:
                told.append(stopped.sentence)

        asking = Thread(target=ask, daemon=True)
        asking.start()
        time.sleep(0.1 + 0.05 * n)
        worker.close()
        asking.join(20)
        assert told == ["This was stopped because Imbuto is closing."]
