"""Keep what was worked out of things that never change: editions, revisions, one version of a symptom's tallies."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Any, TypeVar

from sqlalchemy.orm import Session

__all__ = ["Kept", "kept"]

T = TypeVar("T")
_KEPT, _IS_WRITING = "kept", "is_writing"


class Kept:
    """The last things that were worked out of one database, whoever asked; the longest unused goes first."""

    def __init__(self, most: int = 4096) -> None:
        self._most, self._lock = most, Lock()
        self._found: OrderedDict[Hashable, Any] = OrderedDict()

    def info(self, is_writing: bool) -> dict[str, Any]:
        """What a session carries so that `kept` finds this."""
        return {_KEPT: self, _IS_WRITING: is_writing}

    def find(self, key: Hashable) -> Any:
        """What is kept under the key; None for nothing."""
        with self._lock:
            if key in self._found:
                self._found.move_to_end(key)
            return self._found.get(key)

    def keep(self, key: Hashable, value: Any) -> None:
        """Keep a value that is not None."""
        with self._lock:
            self._found[key] = value
            while len(self._found) > self._most:
                self._found.popitem(last=False)


def kept(session: Session | None, key: Hashable, make: Callable[[], T]) -> T:
    """What `make` gives, worked out once for each key. The key must name something that never changes.

    A session that writes keeps nothing: what it sees may be rolled back, and its number be given to something else.
    """
    there: Kept | None = session.info.get(_KEPT) if session is not None else None
    if there is None or session is None:
        return make()
    found: T | None = there.find(key)
    if found is None:
        found = make()
        if not session.info[_IS_WRITING]:
            there.keep(key, found)
    return found
