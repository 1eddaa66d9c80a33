"""Work that may take longer than a request should: done beside it, asked for again, and dropped when it is stale.

The same question joins the work that is under way, so a browser asks until the answer is there.
"""

import time
from collections import OrderedDict
from collections.abc import Callable, Hashable
from concurrent.futures import CancelledError, Future, ThreadPoolExecutor
from concurrent.futures import TimeoutError as NotYet
from dataclasses import dataclass
from threading import Event, Lock
from typing import Any, TypeVar

from mildladder.core.ordering.exact import Stopped
from mildladder.desk.noting import note

__all__ = ["Workshop"]

Result = TypeVar("Result")
_MOST_KEPT = 64


@dataclass(frozen=True)
class _Job:
    version: int
    stop: Event
    answer: "Future[Any]"


class Workshop:
    """Two workers. wait: seconds that a question waits for its answer before it is told to come again."""

    def __init__(self, wait: float = 0.2, workers: int = 2) -> None:
        self.wait = wait
        self.jobs: OrderedDict[tuple[str, int, Hashable], _Job] = OrderedDict()
        self.lock = Lock()
        self.pool = ThreadPoolExecutor(max_workers=workers, thread_name_prefix="workshop")

    def ask(
        self, subject: str, version: int, question: Hashable, work: Callable[[Callable[[], bool]], Result]
    ) -> Result | None:
        """The answer, or None while it is being worked out.

        Work on older versions of the subject is stopped; who asks late for an older one stops nothing, and is not
        answered by work on a newer. `work` is given a way to see that it is stopped; whatever it raises is raised here.
        """
        with self.lock:
            self._drop_older(subject, version)
            job = self.jobs.get((subject, version, question))
            if job is None:
                stop = Event()
                job = _Job(version, stop, self.pool.submit(_noted, subject, question, work, stop.is_set))
                self.jobs[subject, version, question] = job
                while len(self.jobs) > _MOST_KEPT:
                    self.jobs.popitem(last=False)[1].stop.set()
        try:
            answer: Result = job.answer.result(timeout=self.wait)
        except (NotYet, Stopped, CancelledError):
            return None
        return answer

    def moved_on(self, subject: str, version: int) -> None:
        """The subject has a new version: work on older ones is stopped."""
        with self.lock:
            self._drop_older(subject, version)

    def _drop_older(self, subject: str, version: int) -> None:
        for key, job in list(self.jobs.items()):
            if key[0] == subject and job.version < version:
                job.stop.set()
                job.answer.cancel()
                del self.jobs[key]


def _noted(
    subject: str, question: Hashable, work: Callable[[Callable[[], bool]], Result], is_stopped: Callable[[], bool]
) -> Result:
    """Do the work, and note how it ended."""
    began, state = time.perf_counter(), "failed"
    try:
        answer = work(is_stopped)
        state = "done"
    except Stopped:
        state = "stopped"
        raise
    finally:
        kind = question[0] if isinstance(question, tuple) else question
        note("job", subject=subject, kind=kind, state=state, ms=round(1000 * (time.perf_counter() - began), 1))
    return answer
