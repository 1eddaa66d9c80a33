"""Processes that carry out the jobs of a served desk, one a kind: begun when there is work, and ended with the server.

A process of its own keeps long work from slowing answers down, and can be killed without harm. It is made by a helper
that has no thread and no open database (the `forkserver` of `multiprocessing`), since neither survives a fork.
"""

import multiprocessing
import os
import signal
import threading
from contextlib import suppress
from multiprocessing import forkserver
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

from mildladder.desk.batches import forget_files
from mildladder.desk.jobs import Kind
from mildladder.desk.kinds import KINDS, carry_out_waiting, forget_answers, has_work
from mildladder.desk.noting import configure
from mildladder.store.database import Database

__all__ = ["ServedWorkers"]

# Seconds without work after which a process ends, and that one has to leave off once the server is to end.
_IDLE_S, _LEAVE_S = 120, 10
_THIS = "mildladder.desk.workers"


class ServedWorkers:
    """The processes of one served desk."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._context = multiprocessing.get_context("forkserver")
        self._lock = threading.Lock()
        self._working: dict[Kind, tuple[Any, Connection]] = {}
        self._is_closing = False

    def start(self) -> None:
        """Take up what was left in the middle; make ready for more."""
        multiprocessing.set_forkserver_preload([_THIS])
        forkserver.ensure_running()
        forget_answers(self._database)
        forget_files(self._database)
        for kind in KINDS:
            self._go_on(kind)

    def nudge(self, kind: Kind) -> None:
        """There is work of that kind."""
        with self._lock:
            if self._is_closing:
                return
            if kind in self._working:
                with suppress(OSError):
                    self._working[kind][1].send_bytes(b"!")
                    return
            self._begin(kind)

    def close(self) -> None:
        """Let every process leave off; what it has begun waits for the next start."""
        with self._lock:
            self._is_closing = True
            working = list(self._working.values())
        for process, connection in working:
            connection.close()
            process.join(_LEAVE_S)
            if process.is_alive():
                process.kill()
                process.join()

    def _begin(self, kind: Kind) -> None:
        receiver, sender = self._context.Pipe(duplex=False)
        process = self._context.Process(target=_work, args=(self._database.path, kind, receiver), name=kind)
        process.start()
        receiver.close()
        self._working[kind] = (process, sender)
        threading.Thread(target=self._watch, args=(kind, process), name=f"{kind} watched", daemon=True).start()

    def _watch(self, kind: Kind, process: Any) -> None:
        """Once a process has ended, by itself or by a crash, another goes on where there is work left."""
        process.join()
        with self._lock:
            if self._is_closing:
                return
            if self._working.get(kind, (None,))[0] is process:
                self._working.pop(kind)[1].close()
        self._go_on(kind)

    def _go_on(self, kind: Kind) -> None:
        if has_work(self._database, kind):
            self.nudge(kind)


def _work(path: Path, kind: Kind, nudges: Connection) -> None:
    """What such a process does. It ends when nobody holds the other end of `nudges`."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    configure()
    os.nice(KINDS[kind].niceness)

    def _is_leaving() -> bool:
        try:
            while nudges.poll():
                nudges.recv_bytes()
        except (EOFError, OSError):
            return True
        return False

    database = Database(path)
    try:
        while not _is_leaving():
            carry_out_waiting(database, kind, _is_leaving)
            if not nudges.poll(_IDLE_S):
                return
    finally:
        database.close()
