"""Long work on many small rows, during which no rings are looked for among them: that takes a fifth of its time."""

import gc
from collections.abc import Iterator
from contextlib import contextmanager
from threading import Lock

__all__ = ["collect_gen0", "gc_paused"]

_lock = Lock()
_inside = 0


@contextmanager
def gc_paused() -> Iterator[None]:
    """Rows hold no rings and go when nobody holds them; whatever else was made meanwhile is looked at afterwards, or by
    `collect_gen0`."""
    global _inside
    with _lock:
        _inside += 1
        gc.disable()
    try:
        yield
    finally:
        with _lock:
            _inside -= 1
            if _inside == 0:
                gc.enable()


def collect_gen0() -> None:
    """Let go of rings among what was made since the last time; at no cost that grows with what was there before."""
    gc.collect(0)
