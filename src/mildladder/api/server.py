"""Serve the application on loopback with a production WSGI server."""

import errno
import signal
import socket
import time
from collections.abc import Callable
from typing import Any
from weakref import WeakKeyDictionary

from flask import Flask
from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser, ParsingError
from waitress.server import TcpWSGIServer

from mildladder.api.addresses import is_loopback
from mildladder.api.lanes import Lanes
from mildladder.api.polling import Poller
from mildladder.core.errors import BadInput, Unavailable

__all__ = ["Server", "listen", "serve"]

# Threads for requests that only read, and for those that write; the database takes one writer at a time. All of them
# share one interpreter: the more of them take turns at it, the later each one answers.
_READERS, _WRITERS = 3, 2
_MOST_CONNECTIONS = 800
_MOST_HEADERS, _MOST_BODY = 32_768, 8_000_000
# Seconds that a connection may be silent, that one request may take to arrive, that answers may take once stopped, and
# between looks at the connections.
_IDLE_S, _REQUEST_S, _FINISH_S, _LOOK_S = 60, 20, 15, 2


def listen(host: str, port: int) -> socket.socket:
    """A socket bound to a loopback address, port 0 for any free one.

    Raises BadInput for any other address, Unavailable when the port is taken.
    """
    if not is_loopback(host):
        raise BadInput(
            f"'{host}' is not a loopback address: until people have passwords, the desk is served on this machine"
            " alone; use 127.0.0.1"
        )
    bound = socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET)
    try:
        bound.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        bound.bind((host, port))
        bound.listen(128)
    except (OSError, OverflowError) as error:
        bound.close()
        taken = isinstance(error, OSError) and error.errno == errno.EADDRINUSE
        why = "it is in use already; stop the other server or choose another with --port" if taken else str(error)
        raise Unavailable(f"port {port} on {host} cannot be opened: {why}") from error
    return bound


def serve(app: Flask, bound: socket.socket, leave: Callable[[], None] = lambda: None) -> None:
    """Answer on the bound socket until SIGTERM or SIGINT; what is being answered then is finished first. leave: called
    at once then, to let other work of this program end meanwhile."""
    server = Server(app, bound, leave)
    before = {number: signal.signal(number, server.stop) for number in (signal.SIGTERM, signal.SIGINT)}
    try:
        server.run()
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)
        server.close()


class _Parser(HTTPRequestParser):  # type: ignore[misc]
    """Reads a request's head; a number in it that nobody can read is a bad request, and no fault."""

    def parse_header(self, header_plus: bytes) -> None:
        """Raises ParsingError."""
        try:
            super().parse_header(header_plus)
        except ValueError as error:
            raise ParsingError("a header of this request cannot be read") from error


class _Channel(HTTPChannel):  # type: ignore[misc]
    parser_class = _Parser


class Server(TcpWSGIServer):  # type: ignore[misc]
    """A server that no slow, idle or stuck connection can keep from answering others."""

    channel_class = _Channel

    def __init__(self, app: Flask, bound: socket.socket, leave: Callable[[], None] = lambda: None) -> None:
        settings = Adjustments(
            sockets=[bound],
            threads=_READERS + _WRITERS,
            ident="mild-ladder",
            clear_untrusted_proxy_headers=True,
            connection_limit=_MOST_CONNECTIONS,
            channel_timeout=_IDLE_S,
            cleanup_interval=_LOOK_S,
            max_request_header_size=_MOST_HEADERS,
            max_request_body_size=_MOST_BODY,
        )
        lanes = Lanes(readers=_READERS, writers=_WRITERS)
        place = (bound.family, bound.type, bound.proto, bound.getsockname())
        super().__init__(app, {}, True, bound, dispatcher=lanes, adj=settings, bind_socket=False, sockinfo=place)
        self._is_stopping, self._leave = False, leave
        self._poller = Poller(self._map)
        self._begun: WeakKeyDictionary[Any, float] = WeakKeyDictionary()

    def stop(self, *_signal: object) -> None:
        """Take no more connections, and end once what is being answered has been."""
        self._is_stopping = True
        self.pull_trigger()

    def run(self) -> None:
        """Answer until stopped."""
        while not self._is_stopping:
            self._poller.turn(1)
        self._leave()
        self.del_channel()
        self.socket.close()
        deadline = time.monotonic() + _FINISH_S
        while self._is_busy() and time.monotonic() < deadline:
            self._poller.turn(0.1)
        self.task_dispatcher.shutdown()

    def _is_busy(self) -> bool:
        return any(channel.requests or channel.total_outbufs_len for channel in self.active_channels.values())

    def maintenance(self, now: float) -> None:
        """Close connections that say nothing, and those that take too long over one request."""
        super().maintenance(now)
        for channel in self.active_channels.values():
            if channel.request is not None and now - self._begun.setdefault(channel.request, now) > _REQUEST_S:
                channel.will_close = True
        self._poller.ask_all()

    def close(self) -> None:
        """Let go of everything."""
        self.trigger.close()
