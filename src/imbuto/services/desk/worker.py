"""The server's second process: papers, files that come in, light, ordinary years and *What size to buy* are worked
out there, within a bound of memory.

It begins with the first call and ends half a minute after the last, and gives all its memory back.
"""

from __future__ import annotations

import gc
import multiprocessing
import os
import resource
import signal
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import CancelledError, Future, ProcessPoolExecutor
from concurrent.futures import TimeoutError as NotYet
from concurrent.futures.process import BrokenProcessPool
from pathlib import Path
from threading import Lock, Thread, Timer
from typing import Any

from imbuto.core.basics.elsewhere import Progress
from imbuto.core.basics.errors import ImbutoError
from imbuto.core.basics.measures import IN_USE, Measures, speak_in
from imbuto.services.desk.memory_use import give_back

IDLE_S = 30.0
MOST_BYTES = 1_500_000_000  # of memory of its own; a log of the largest size takes about half of it
LOOK_S = 0.2
AT_ONCE = 2  # a long import never keeps a sheet waiting


class TooMuch(ImbutoError):
    """A call took more memory than it may have, or its process was ended."""

    kind = "too_much"

    @property
    def sentence(self) -> str:
        return f"This {self.rule}."


STOPPING = "was stopped because Imbuto is closing"
TOO_MUCH = "needed too much memory, so Imbuto stopped it and saved nothing. Try a smaller file"


class Worker:
    """Makes calls in a process of its own. Safe to share between threads.

    idle_s: after so many seconds without a call the process ends
    most_bytes: of memory a call may take
    """

    def __init__(self, idle_s: float = IDLE_S, most_bytes: int = MOST_BYTES) -> None:
        self._idle_s, self._most = idle_s, most_bytes
        self._lock = Lock()
        self._pool: ProcessPoolExecutor | None = None
        self._busy = 0
        self._closed = False
        self._timer: Timer | None = None

    def call(self, function: Callable[..., Any], args: tuple[Any, ...], progress: Progress | None) -> Any:
        """Make a call there; see ``elsewhere``. Raises TooMuch where it takes too much memory."""
        pool = self._begin()
        try:
            if progress is None:
                return pool.submit(_in_measures, IN_USE.get(), function, *args).result()
            return self._followed(pool, function, args, progress)
        except (BrokenProcessPool, MemoryError):
            self._drop(pool)
            raise TooMuch("memory", None, STOPPING if self._closed else TOO_MUCH) from None
        except CancelledError:
            raise TooMuch("work", None, STOPPING) from None
        finally:
            self._end()

    def close(self) -> None:
        """End the process, for good: what still waits for it is told so."""
        with self._lock:
            self._closed = True
            if self._timer is not None:
                self._timer.cancel()
            pool, self._pool = self._pool, None
        if pool is not None:
            processes, answers = list((pool._processes or {}).values()), pool._result_queue
            pool.shutdown(wait=False, cancel_futures=True)
            for process in processes:  # what is half done there is not waited for
                process.terminate()
            for process in processes:
                process.join()
            # One that ended amid its answer leaves the pool waiting for the rest; closed here too, the answers end, and
            # with them every call.
            answers._writer.close()  # type: ignore[attr-defined]
            del pool
            gc.collect()  # its semaphores go with it, or the system is told that they leaked

    def _begin(self) -> ProcessPoolExecutor:
        with self._lock:
            if self._closed:
                raise TooMuch("work", None, STOPPING)
            if self._timer is not None:
                self._timer.cancel()
                self._timer = None
            if self._pool is None:
                self._pool = ProcessPoolExecutor(
                    AT_ONCE,
                    mp_context=multiprocessing.get_context("spawn"),
                    initializer=_settle_in,
                    initargs=(self._most,),
                )
            self._busy += 1
            return self._pool

    def _end(self) -> None:
        with self._lock:
            self._busy -= 1
            if self._busy == 0 and self._pool is not None:
                self._timer = Timer(self._idle_s, self._rest)
                self._timer.daemon = True
                self._timer.start()

    def _rest(self) -> None:
        with self._lock:
            if self._busy:
                return
            pool, self._pool = self._pool, None
        if pool is not None:
            pool.shutdown(wait=False)
        give_back()

    def _drop(self, pool: ProcessPoolExecutor) -> None:
        with self._lock:
            if self._pool is pool:
                self._pool = None
        pool.shutdown(wait=False, cancel_futures=True)

    def _followed(
        self, pool: ProcessPoolExecutor, function: Callable[..., Any], args: tuple[Any, ...], progress: Progress
    ) -> Any:
        """Tell how far a call is, and stop it when that raises; both go through a file of its own."""
        with tempfile.TemporaryDirectory(prefix="imbuto-work-") as folder:
            place = Path(folder)
            found: Future[Any] = pool.submit(_in_measures, IN_USE.get(), _telling, function, args, place)
            while True:
                try:
                    return found.result(timeout=LOOK_S)
                except NotYet:
                    if found.done():
                        raise
                try:
                    progress(_part(place))
                except BaseException:
                    (place / "stop").touch()
                    found.cancel()
                    found.exception()  # until it has stopped: the folder goes after that
                    raise


def _part(place: Path) -> float:
    try:
        return float((place / "part").read_text())
    except FileNotFoundError:  # not begun
        return 0.0


class _Stop(Exception):
    """Raised inside a call that is no longer wanted."""


def _in_measures(measures: Measures, function: Callable[..., Any], *args: Any) -> Any:
    """In the worker: make a call whose sentences are in the measures that the caller speaks in."""
    speak_in(measures)
    return function(*args)


def _telling(function: Callable[..., Any], args: tuple[Any, ...], place: Path) -> Any:
    """In the worker: make a call that tells how far it is."""

    def progress(part: float) -> None:
        if (place / "stop").exists():
            raise _Stop
        (place / "next").write_text(f"{part:.4f}")
        os.replace(place / "next", place / "part")

    return function(*args, progress)


def _settle_in(most_bytes: int) -> None:
    """In the worker, once: a bound of memory, and no life without the server."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    resource.setrlimit(resource.RLIMIT_DATA, (most_bytes, most_bytes))
    Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()


def _end_with(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(1)
    os._exit(0)
