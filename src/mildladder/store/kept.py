"""Keep what was worked out of things that never change: editions, revisions, one version of a symptom's tallies."""

from collections import OrderedDict, defaultdict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from threading import Lock, RLock
from typing import Any, TypeVar

from sqlalchemy.orm import Session

__all__ = ["Kept", "found", "kept"]

T = TypeVar("T")
Key = tuple[Any, ...]
# Documents are large, lines of a list are small; of a list that is longer than what is kept, nothing would be found.
_USUAL, _MOST = 128, {"open case": 2_000, "card": 1_000, "how it went": 1_000, "months": 1_000, "titles": 1_000}
_KEPT, _IS_WRITING = "kept", "is_writing"


class Kept:
    """The last things that were worked out of one database, whoever asked; of each kind the longest unused goes first.

    A key is a tuple that begins with its kind.
    """

    def __init__(self) -> None:
        self._lock = Lock()
        self._found: dict[str, OrderedDict[Key, Any]] = defaultdict(OrderedDict)
        self._made: dict[Key, tuple[RLock, int]] = {}

    def info(self, is_writing: bool) -> dict[str, Any]:
        """What a session carries so that `kept` finds this."""
        return {_KEPT: self, _IS_WRITING: is_writing}

    def find(self, key: Key) -> Any:
        """What is kept under the key; None for nothing."""
        with self._lock:
            same = self._found[key[0]]
            if key in same:
                same.move_to_end(key)
            return same.get(key)

    @contextmanager
    def alone(self, key: Key) -> Iterator[None]:
        """Held by whoever works out what is to be kept under a key; others wait rather than do the same."""
        with self._lock:
            lock, waiting = self._made.get(key, (RLock(), 0))
            self._made[key] = (lock, waiting + 1)
        try:
            with lock:
                yield
        finally:
            with self._lock:
                lock, waiting = self._made.pop(key)
                if waiting > 1:
                    self._made[key] = (lock, waiting - 1)

    def keep(self, key: Key, value: Any) -> None:
        """Keep a value that is not None."""
        with self._lock:
            same = self._found[key[0]]
            same[key] = value
            while len(same) > _MOST.get(key[0], _USUAL):
                same.popitem(last=False)


def found(session: Session | None, key: Key) -> Any:
    """What is kept under the key; None for nothing."""
    there: Kept | None = session.info.get(_KEPT) if session is not None else None
    return there.find(key) if there is not None else None


def kept(session: Session | None, key: Key, make: Callable[[], T]) -> T:
    """What `make` gives, worked out once for each key. The key must name something that never changes.

    A session that writes keeps nothing: what it sees may be rolled back, and its number be given to something else.
    """
    there: Kept | None = session.info.get(_KEPT) if session is not None else None
    if there is None or session is None:
        return make()
    found: T | None = there.find(key)
    if found is not None:
        return found
    if session.info[_IS_WRITING]:
        return make()
    with there.alone(key):
        found = there.find(key)
        if found is None:
            found = make()
            there.keep(key, found)
    return found
