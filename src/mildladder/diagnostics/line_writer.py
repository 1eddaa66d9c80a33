"""Write lines to a stream from a thread of its own: whoever has one to write neither waits for the stream nor fails
with it."""

import os
import threading
import time
from collections.abc import Callable
from io import UnsupportedOperation
from queue import Full, Queue
from typing import TextIO

__all__ = ["LineWriter", "other_threads"]

_NAME = "log writer"
_MOST_LINES = 10_000


class LineWriter:
    """Writes lines in order. What the stream does not take (its reader is gone, the disk is full), and what comes while
    too many lines wait, is counted, and told as a line once the stream takes lines again.

    tell_lost: the line that says how many were lost.
    """

    def __init__(self, stream: TextIO, tell_lost: Callable[[int], str]) -> None:
        self.lost = 0
        self._put, self._tell_lost = _putter(stream), tell_lost
        self._waiting: Queue[str] = Queue(_MOST_LINES)
        threading.Thread(target=self._write_all, name=_NAME, daemon=True).start()

    def write(self, line: str) -> None:
        """Write a line once its turn comes."""
        try:
            self._waiting.put_nowait(line)
        except Full:
            self.lost += 1

    def drain(self, patience_s: float) -> None:
        """Wait until all is written, at most so long."""
        deadline = time.monotonic() + patience_s
        with self._waiting.all_tasks_done:
            while self._waiting.unfinished_tasks and (rest := deadline - time.monotonic()) > 0:
                self._waiting.all_tasks_done.wait(rest)

    def _write_all(self) -> None:
        while True:
            line = self._waiting.get()
            try:
                lost = self.lost
                self._put(f"{self._tell_lost(lost)}\n{line}\n" if lost else f"{line}\n")
                self.lost -= lost
            except (OSError, ValueError):
                self.lost += 1
            finally:
                self._waiting.task_done()


def _putter(stream: TextIO) -> Callable[[str], object]:
    """What puts text into the stream at once: past its buffer, which would try again to write what failed."""
    try:
        number = stream.fileno()
    except (OSError, UnsupportedOperation, ValueError):
        return stream.write

    def _put(text: str) -> None:
        left = text.encode(errors="backslashreplace")
        while left:
            left = left[os.write(number, left) :]

    return _put


def other_threads() -> int:
    """How many threads run beside the caller's and those of line writers, which a forked process can do without."""
    return sum(1 for one in threading.enumerate() if one.name != _NAME) - 1
