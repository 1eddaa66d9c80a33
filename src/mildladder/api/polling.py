"""Wait for what happens on connections, at a cost that does not grow with those on which nothing does.

The server's own loop asks every open connection at every turn what it waits for; with some hundred open ones that takes
longer than most answers.
"""

import select
from typing import Any

from waitress.wasyncore import readwrite

__all__ = ["Poller"]

_READING = select.POLLIN | select.POLLPRI


class Poller:
    """Waits on the connections of a server's map, which goes from descriptors to them.

    A connection that only waits for its client is asked again once something has happened on it; others, and the first
    so many (the server itself and what wakes it), at every turn.
    """

    def __init__(self, connections: dict[int, Any]) -> None:
        self._map = connections
        self._known: dict[int, Any] = {}
        self._asked: dict[int, int] = {}
        self._lively: set[int] = set()
        self._always = frozenset(connections)
        self._poll = select.poll()

    def ask_all(self) -> None:
        """Ask every connection at the next turn: something was changed that none of them knows of."""
        self._lively.update(self._map)

    def turn(self, timeout_s: float) -> None:
        """Wait so long at most, and let connections do what has come."""
        for fd in self._always & self._map.keys():
            self._ask(fd)
        if self._known != self._map:
            self._follow()
        for fd in list(self._lively):
            self._ask(fd)
        for fd, flags in self._poll.poll(1000 * timeout_s):
            connection = self._map.get(fd)
            if connection is not None:
                self._lively.add(fd)
                readwrite(connection, flags)

    def _follow(self) -> None:
        """See which connections were closed and opened; a descriptor may have gone from one to another."""
        for fd, connection in self._known.items():
            if self._map.get(fd) is not connection:
                self._lively.discard(fd)
                if self._asked.pop(fd, 0):
                    self._poll.unregister(fd)
        self._lively.update(fd for fd, connection in self._map.items() if self._known.get(fd) is not connection)
        self._known = dict(self._map)

    def _ask(self, fd: int) -> None:
        """Ask one connection what it waits for."""
        connection = self._map.get(fd)
        if connection is None:
            return
        flags = _READING if connection.readable() else 0
        if connection.writable() and not connection.accepting:
            flags |= select.POLLOUT
        before = self._asked.get(fd, 0)
        if flags != before:
            if flags:
                self._poll.register(fd, flags)
            else:
                self._poll.unregister(fd)
            self._asked[fd] = flags
        if flags == _READING:
            self._lively.discard(fd)
        else:
            self._lively.add(fd)
