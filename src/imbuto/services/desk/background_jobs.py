"""Long work in the background: followed by its progress, stopped when asked."""

from __future__ import annotations

import logging
import uuid
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from threading import Event, Lock
from typing import Literal

from imbuto.core.basics.errors import ImbutoError, NotFound

JobState = Literal["waiting", "running", "done", "failed", "stopped"]
MOST_KEPT = 6  # finished jobs whose result is still to be had
AT_ONCE = 2

log = logging.getLogger("imbuto")


class JobStopped(Exception):
    """Raised inside a job at the next sign of progress after it was asked to stop."""


@dataclass(slots=True)
class Job:
    """One piece of work.

    part: done, 0 to 1
    problem: a sentence, where it failed
    result: what it came to
    """

    id: str
    home_id: str
    state: JobState = "waiting"
    part: float = 0.0
    problem: str = ""
    result: object | None = None
    stop: Event = field(default_factory=Event)

    def progress(self, part: float) -> None:
        """Tell how far it is. Raises Stopped when it was asked to stop."""
        if self.stop.is_set():
            raise JobStopped
        self.part = part


class Jobs:
    """The server's jobs. Safe to share between threads."""

    def __init__(self) -> None:
        self._pool = ThreadPoolExecutor(AT_ONCE, thread_name_prefix="imbuto-job")
        self._jobs: OrderedDict[str, Job] = OrderedDict()
        self._lock = Lock()

    def start(self, home_id: str, work: Callable[[Job], object]) -> Job:
        """Begin a piece of work; it reports through the job it is given."""
        job = Job(uuid.uuid4().hex, home_id)
        with self._lock:
            self._jobs[job.id] = job
            finished = [k for k, j in self._jobs.items() if j.state in ("done", "failed", "stopped")]
            for key in finished[: max(0, len(self._jobs) - MOST_KEPT)]:
                del self._jobs[key]
        self._pool.submit(self._run, job, work)
        return job

    @staticmethod
    def _run(job: Job, work: Callable[[Job], object]) -> None:
        try:
            job.progress(0.0)
            job.state = "running"
            job.result = work(job)
            job.part, job.state = 1.0, "done"
        except JobStopped:
            job.state = "stopped"
        except ImbutoError as error:
            job.problem, job.state = error.sentence, "failed"
        except Exception:
            log.exception("a job failed")
            job.problem = "Something went wrong inside Imbuto, so nothing was saved. The server's log has the details."
            job.state = "failed"

    def get(self, job_id: str) -> Job:
        """A job. Raises NotFound; results are let go after a while."""
        with self._lock:
            job = self._jobs.get(job_id)
        if job is None:
            raise NotFound("job", job_id, "that job or its result is gone; start again")
        return job

    def drop(self, job_id: str) -> None:
        """Stop a job if it runs, and let its result go. Raises NotFound."""
        job = self.get(job_id)
        job.stop.set()
        job.result = None
        if job.state in ("done", "failed"):
            job.state = "stopped"

    def forget(self, home_id: str) -> None:
        """Stop and drop every job of a home that is gone."""
        with self._lock:
            for key in [k for k, j in self._jobs.items() if j.home_id == home_id]:
                self._jobs.pop(key).stop.set()

    def close(self) -> None:
        """Stop everything, and wait."""
        with self._lock:
            for job in self._jobs.values():
                job.stop.set()
        self._pool.shutdown()
