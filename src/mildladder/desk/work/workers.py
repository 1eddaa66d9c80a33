"""Processes that carry out the jobs of a served desk, one a kind: begun when there is work, and ended with the server.

A process of its own keeps long work from slowing answers down, and can be killed without harm. It is made by a helper
that has no thread and no open database (the `forkserver` of `multiprocessing`), since neither survives a fork.
"""

import multiprocessing
import os
import signal
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from multiprocessing import connection, forkserver, resource_tracker
from pathlib import Path
from typing import Any

from mildladder.desk.log.batches import forget_files
from mildladder.desk.work.kinds import JOB_KINDS, count_crash, delete_answers, due_kinds, run_waiting
from mildladder.diagnostics.events import configure, drain, log_event, place_of
from mildladder.store.database import Database

__all__ = ["ServedWorkers"]

# Seconds without work after which a process ends, that one has to leave off once the server is to end, and between
# looks at what waits and nobody was told of: what is tried again, and what another server on this desk has left.
_IDLE_S, _LEAVE_S, _LOOK_S = 120, 10, 5
_THIS = "mildladder.desk.work.workers"


class ServedWorkers:
    """The processes of one served desk."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._context = multiprocessing.get_context("forkserver")
        self._lock = threading.Lock()
        self._working: dict[str, tuple[Any, connection.Connection]] = {}
        self._is_closing, self._is_asked = threading.Event(), threading.Event()

    def start(self) -> None:
        """Take up what was left in the middle; make ready for more."""
        multiprocessing.set_forkserver_preload([_THIS])
        # Beforehand: starting it lets SIGTERM through again for this thread.
        resource_tracker.ensure_running()
        with _term_blocked():
            forkserver.ensure_running()
        delete_answers(self._database)
        forget_files(self._database)
        self._look()
        threading.Thread(target=self._look_again, name="look for jobs", daemon=True).start()

    def notify(self, kind: str) -> None:  # noqa: ARG002
        """There is work. Whoever says so does not wait until a process has begun with it, which takes seconds where the
        helper has just been started."""
        self._is_asked.set()

    def leave(self) -> None:
        """The server is to end: begin nothing more, and let every process leave off what it does."""
        with self._lock:
            self._is_closing.set()
            self._is_asked.set()
            for _, sender in self._working.values():
                sender.close()

    def close(self) -> None:
        """Wait until every process has left off; what it has begun waits for the next start."""
        self.leave()
        for process, _ in list(self._working.values()):
            process.join(_LEAVE_S)
            if process.is_alive():
                process.kill()
                process.join()

    def _begin(self, kind: str) -> None:
        receiver, sender = self._context.Pipe(duplex=False)
        process = self._context.Process(target=_work, args=(self._database.path, kind, receiver), name=kind)
        try:
            with _term_blocked():
                process.start()
        except BaseException:
            sender.close()
            raise
        finally:
            receiver.close()
        self._working[kind] = (process, sender)
        threading.Thread(target=self._watch, args=(kind, process), name=f"{kind} watched", daemon=True).start()

    def _watch(self, kind: str, process: Any) -> None:
        """Once a process has ended, by itself or by a crash, another goes on where there is work left."""
        process.join()
        with self._lock:
            if self._is_closing.is_set():
                return
            if self._working.get(kind, (None,))[0] is process:
                self._working.pop(kind)[1].close()
        with suppress(Exception):
            if process.exitcode:
                count_crash(self._database, kind)
            self._look()

    def _look(self) -> None:
        """Have what waits carried out. Where no process can be begun for it now, it waits for the next look."""
        for kind in due_kinds(self._database):
            with self._lock:
                if self._is_closing.is_set():
                    return
                try:
                    if kind in self._working:
                        self._working[kind][1].send_bytes(b"!")
                    else:
                        self._begin(kind)
                except (OSError, EOFError) as error:
                    log_event("fault", is_bad=True, error=type(error).__name__, at=place_of(error))

    def _look_again(self) -> None:
        while not self._is_closing.is_set():
            self._is_asked.wait(_LOOK_S)
            self._is_asked.clear()
            # A database that cannot be read now is looked at again.
            with suppress(Exception):
                self._look()


@contextmanager
def _term_blocked() -> Iterator[None]:
    """Processes made within begin with SIGTERM blocked: service managers send it to every process of a group, and the
    helper that makes workers has to outlive them. It ends with the server."""
    before = signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGTERM})
    try:
        yield
    finally:
        signal.pthread_sigmask(signal.SIG_SETMASK, before)


def _work(path: Path, kind: str, nudges: connection.Connection) -> None:
    """What such a process does. It ends when nobody holds the other end of `nudges`, and on SIGTERM."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    is_told_to_end, woken = _on_term()
    configure()
    os.nice(JOB_KINDS[kind].niceness)

    def _is_leaving() -> bool:
        if is_told_to_end():
            return True
        try:
            while nudges.poll():
                nudges.recv_bytes()
        except (EOFError, OSError):
            return True
        return False

    database = Database(path)
    try:
        while not _is_leaving():
            run_waiting(database, kind, _is_leaving)
            if not connection.wait([nudges, woken], _IDLE_S):
                return
    finally:
        database.close()
        drain()


def _on_term() -> tuple[Callable[[], bool], int]:
    """Take SIGTERM as being told to end: whether it came, and what becomes readable when it does."""
    came = threading.Event()
    signal.signal(signal.SIGTERM, lambda *_: came.set())
    reading, writing = os.pipe()
    for end in (reading, writing):
        os.set_blocking(end, False)
    signal.set_wakeup_fd(writing)
    signal.pthread_sigmask(signal.SIG_UNBLOCK, {signal.SIGTERM})
    return came.is_set, reading
