"""Work ahead in a process of its own: the next items of a line are made while the caller is busy with those before."""

import fcntl
import gc
import multiprocessing
import signal
from collections.abc import Iterator
from contextlib import suppress
from itertools import islice
from multiprocessing.connection import Connection
from typing import Any, TypeVar

from mildladder.diagnostics.line_writer import other_threads

__all__ = ["prefetched"]

T = TypeVar("T")
_CHUNK = 100
# How far the other process may be ahead; without it one waits for the other most of the time.
_AHEAD_BYTES = 1 << 20


def prefetched(items: Iterator[T], first: int = 200) -> Iterator[T]:
    """The same items, in the same order; what making one raises is raised here.

    The first of them are made at once, for most lines end before a process is worth its while. It is a copy of this
    one, so where other threads run, which such a copy would not have, all are made here. It ends with this process.
    """
    yield from islice(items, first)
    if other_threads():
        yield from items
        return
    receiver, sender = multiprocessing.Pipe(duplex=False)
    with suppress(OSError):
        fcntl.fcntl(sender.fileno(), fcntl.F_SETPIPE_SZ, _AHEAD_BYTES)
    worker = multiprocessing.get_context("fork").Process(target=_make, args=(items, sender, receiver), daemon=True)
    worker.start()
    sender.close()
    try:
        yield from _received(receiver)
    finally:
        receiver.close()
        worker.kill()
        worker.join()


def _received(receiver: Connection) -> Iterator[Any]:
    while True:
        try:
            chunk, error = receiver.recv()
        except EOFError:
            raise RuntimeError("the process that reads ahead has ended in the middle") from None
        yield from chunk
        if error is not None:
            raise error
        if not chunk:
            return


def _make(items: Iterator[Any], sender: Connection, receiver: Connection) -> None:
    """Send chunk after chunk, an empty one at the end. The other end is closed here, so that sending fails once nobody
    receives any more: that ends it, and no signal that the whole group of processes gets."""
    signal.signal(signal.SIGTERM, signal.SIG_IGN)
    receiver.close()
    gc.disable()
    try:
        while chunk := list(islice(items, _CHUNK)):
            sender.send((chunk, None))
        sender.send(([], None))
    except BrokenPipeError:
        return
    except Exception as error:
        sender.send(([], error))
