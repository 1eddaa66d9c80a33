"""Every awkward file, each in a process of its own: how long it takes to be refused, and how much memory."""

import multiprocessing
import resource
import time
from multiprocessing.connection import Connection
from typing import Any

from tests.exchange.awkward import ALL

MOST_S, MOST_MB = 2.0, 300


def prove() -> tuple[dict[str, Any], bool]:
    """Each is refused within 2 s and 300 MB."""
    seconds, megabytes, longest = [], [], 0
    fork = multiprocessing.get_context("fork")
    for refused, files in ALL:
        for raw in files():
            receiver, sender = fork.Pipe(duplex=False)
            worker = fork.Process(target=_refuse, args=(refused, raw, sender))
            worker.start()
            sender.close()
            taken, most, length = receiver.recv()
            worker.join()
            seconds.append(taken)
            megabytes.append(most)
            longest = max(longest, length)
    figures = {
        "files": len(seconds),
        "longest_s": round(max(seconds), 2),
        "most_mb": round(max(megabytes)),
        "longest_message": longest,
    }
    return figures, max(seconds) <= MOST_S and max(megabytes) <= MOST_MB and longest <= 500


def _refuse(refused: Any, raw: bytes, sender: Connection) -> None:
    began = time.perf_counter()
    says = refused(raw)
    taken = time.perf_counter() - began
    sender.send((taken, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000, len(says)))
