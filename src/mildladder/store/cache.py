"""The one cache: values worked out of the database, each under a key made from what it depends on.

A value says what it needs (`Needs`). Its key holds the version of each of these as this session sees it, so a change of
any of them is another key, and nothing has to be thrown away when something changes.
"""

from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
from datetime import date
from threading import Lock, RLock
from typing import Any, NamedTuple, TypeVar

from sqlalchemy.orm import Session

from mildladder.store.sizes import size_of
from mildladder.store.tables import TallyVersionRow

__all__ = ["Cache", "Key", "Needs", "cached", "key_of", "peek_cached", "version_of"]

T = TypeVar("T")
Key = tuple[Hashable, ...]
_CACHE, _IS_WRITING, _VERSIONS, _TALLIES = "cache", "is_writing", "versions of the desk", "versions of tallies"
# Bytes held at the most. Small values stand apart, for lists of every symptom are made of them, and reading through all
# drafts must not push them out.
_SMALL, _MOST_SMALL, _MOST_LARGE = 32_768, 48_000_000, 160_000_000
_NONE = object()


class Needs(NamedTuple):
    """What a value is worked out of, and nothing else.

    draft: a playbook and a revision of its draft. editions: playbooks and numbers of editions. case: a guided case and
    the number of its events. tallies: the symptom whose logged cases it counts. library: the library of steps and the
    facts that the desk knows. names: what other names count as. settings: the desk's settings. day: today. asked: what
    tells two questions about the same apart.
    """

    draft: tuple[str, int] | None = None
    editions: tuple[tuple[str, int], ...] = ()
    case: tuple[str, int] | None = None
    tallies: str | None = None
    library: bool = False
    names: bool = False
    settings: bool = False
    day: date | None = None
    asked: Hashable = None


def key_of(session: Session, what: str, needs: Needs) -> Key:
    """The key of a value of that name: what it needs, with the version of each."""
    return (
        what,
        needs,
        version_of(session, needs.tallies) if needs.tallies is not None else None,
        *(_desk_version(session, name) if getattr(needs, name) else None for name in ("library", "names", "settings")),
    )


def _desk_version(session: Session, name: str) -> int:
    """How often the library, the names or the settings have changed; the database counts that itself."""
    if session.info.get(_IS_WRITING, True):
        return _desk_versions(session).get(name, 0)
    versions: dict[str, int] | None = session.info.get(_VERSIONS)
    if versions is None:
        versions = session.info[_VERSIONS] = _desk_versions(session)
    return versions.get(name, 0)


def _desk_versions(session: Session) -> dict[str, int]:
    # Asked by nearly every request: a statement that is built anew each time takes longer than the answer.
    rows = session.connection().exec_driver_sql("SELECT name, version FROM desk_versions")
    return dict(rows.all())


def version_of(session: Session, symptom: str) -> int:
    """The version of a symptom's tallies."""
    if session.info.get(_IS_WRITING, True):
        row = session.get(TallyVersionRow, symptom)
        return row.version if row else 0
    # Whoever reads sees one state of the log throughout; lists ask for every symptom.
    versions: dict[str, int] | None = session.info.get(_TALLIES)
    if versions is None:
        rows = session.connection().exec_driver_sql("SELECT symptom, version FROM tally_versions")
        versions = session.info[_TALLIES] = dict(rows.all())
    return versions.get(symptom, 0)


class _LruCache:
    """Values up to a number of bytes; the longest unused goes first."""

    def __init__(self, most: int) -> None:
        self._most, self._bytes = most, 0
        self._found: OrderedDict[Key, tuple[Any, int]] = OrderedDict()

    def find(self, key: Key) -> Any:
        there = self._found.get(key)
        if there is None:
            return _NONE
        self._found.move_to_end(key)
        return there[0]

    def put(self, key: Key, value: Any, size: int) -> None:
        self.drop(key)
        if size > self._most:
            return
        self._found[key] = (value, size)
        self._bytes += size
        while self._bytes > self._most:
            _, (_, gone) = self._found.popitem(last=False)
            self._bytes -= gone

    def drop(self, key: Key) -> None:
        there = self._found.pop(key, None)
        if there is not None:
            self._bytes -= there[1]


class Cache:
    """The values of one open database, whoever asked for them."""

    def __init__(self, most_small: int = _MOST_SMALL, most_large: int = _MOST_LARGE) -> None:
        self._lock = Lock()
        self._small, self._large = _LruCache(most_small), _LruCache(most_large)
        self._made: dict[Key, tuple[RLock, int]] = {}

    def info(self, is_writing: bool) -> dict[str, Any]:
        """What a session carries so that `cached` finds this."""
        return {_CACHE: self, _IS_WRITING: is_writing}

    def find(self, key: Key) -> tuple[Any] | None:
        """The value under the key, in a tuple of one; None for none."""
        with self._lock:
            for shelf in (self._small, self._large):
                value = shelf.find(key)
                if value is not _NONE:
                    return (value,)
        return None

    def put(self, key: Key, value: Any, size: int | None = None) -> None:
        """Hold a value. size: in bytes, where it is known."""
        size = size_of(value) if size is None else size
        with self._lock:
            here, other = (self._small, self._large) if size <= _SMALL else (self._large, self._small)
            other.drop(key)
            here.put(key, value, size)

    @contextmanager
    def making(self, key: Key) -> Iterator[None]:
        """Held by whoever works out the value of a key; others wait rather than do the same."""
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


def peek_cached(session: Session | None, what: str, needs: Needs) -> Any:
    """The value, where it is held; None otherwise."""
    cache: Cache | None = session.info.get(_CACHE) if session is not None else None
    there = cache.find(key_of(session, what, needs)) if cache is not None and session is not None else None
    return there[0] if there is not None else None


def cached(
    session: Session | None, what: str, needs: Needs, make: Callable[[], T], size: Callable[[T], int] = size_of
) -> T:
    """What `make` gives, worked out once for each version of what it needs. size: of the value in bytes, where that is
    known without looking at all of it.

    A session that writes holds nothing: what it sees may be rolled back, and its numbers be given to something else.
    """
    cache: Cache | None = session.info.get(_CACHE) if session is not None else None
    if cache is None or session is None:
        return make()
    key = key_of(session, what, needs)
    found: tuple[T] | None = cache.find(key)
    if found is not None:
        return found[0]
    if session.info[_IS_WRITING]:
        return make()
    with cache.making(key):
        found = cache.find(key)
        if found is None:
            found = (make(),)
            cache.put(key, found[0], size(found[0]))
    return found[0]
