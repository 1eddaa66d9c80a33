"""Serve the application on loopback with a production WSGI server."""

import errno
import ipaddress
import socket

from flask import Flask
from waitress.server import create_server

from mildladder.core.errors import BadInput, Unavailable

__all__ = ["listen", "serve"]

_THREADS = 8


def listen(host: str, port: int) -> socket.socket:
    """A socket bound to a loopback address, port 0 for any free one.

    Raises BadInput for any other address, Unavailable when the port is taken.
    """
    try:
        is_loopback = host == "localhost" or ipaddress.ip_address(host).is_loopback
    except ValueError:
        is_loopback = False
    if not is_loopback:
        raise BadInput(
            f"'{host}' is not a loopback address: until people have passwords, the desk is served on this machine"
            " alone; use 127.0.0.1"
        )
    try:
        bound = socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET)
        bound.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        bound.bind((host, port))
        bound.listen(128)
    except (OSError, OverflowError) as error:
        taken = isinstance(error, OSError) and error.errno == errno.EADDRINUSE
        why = "it is in use already; stop the other server or choose another with --port" if taken else str(error)
        raise Unavailable(f"port {port} on {host} cannot be opened: {why}") from error
    return bound


def serve(app: Flask, bound: socket.socket) -> None:
    """Answer on the bound socket until interrupted."""
    server = create_server(
        app, sockets=[bound], threads=_THREADS, ident="mild-ladder", clear_untrusted_proxy_headers=True
    )
    try:
        server.run()
    finally:
        server.close()
