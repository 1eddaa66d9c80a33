"""A served desk in a process of its own, and plain connections to it."""

import http.client
import json
import re
import signal
import socket
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

PATIENCE_S = 30


class Desk:
    """A running server."""

    def __init__(self, process: subprocess.Popen[str], address: str, path: Path) -> None:
        self.process, self.path = process, path
        parts = urlsplit(address)
        self.host, self.port = parts.hostname or "", parts.port or 0
        self.address = address
        self.cookie = ""

    @contextmanager
    def kept_open(self) -> Iterator[http.client.HTTPConnection]:
        """One connection for many requests, as a browser keeps one."""
        connection = http.client.HTTPConnection(self.host, self.port, timeout=PATIENCE_S)
        try:
            yield connection
        finally:
            connection.close()

    def ask(self, method: str, path: str, body: Any = None, **headers: str) -> tuple[int, Any]:
        """Status and answer, on a connection of its own."""
        with self.kept_open() as connection:
            return self.ask_on(connection, method, path, body, **headers)

    def ask_on(
        self, connection: http.client.HTTPConnection, method: str, path: str, body: Any = None, **headers: str
    ) -> tuple[int, Any]:
        """The same on a connection that stays open."""
        data = body if isinstance(body, bytes) else json.dumps(body).encode() if body is not None else None
        sent = {"Content-Type": "application/json", "Cookie": self.cookie, **headers}
        connection.request(method, path, data, sent)
        answer = connection.getresponse()
        raw = answer.read()
        self.cookie = (answer.headers.get("Set-Cookie") or self.cookie).split(";")[0]
        return answer.status, json.loads(raw) if "json" in (answer.headers.get("Content-Type") or "") else raw

    def sit_down(self) -> None:
        """Be the first of the desk's people."""
        person = self.ask("GET", "/api/me")[1]["people"][0]["id"]
        assert self.ask("PUT", "/api/me", {"person": person})[0] == 200

    def open(self, begun: bytes = b"") -> socket.socket:
        """A bare connection, on which so much has been said."""
        made = socket.create_connection((self.host, self.port), timeout=PATIENCE_S)
        made.sendall(begun)
        return made

    def request(self, method: str, path: str, body: Any) -> bytes:
        """A whole request, as bytes."""
        data = json.dumps(body).encode()
        head = (
            f"{method} {path} HTTP/1.1\r\nHost: {self.host}:{self.port}\r\nCookie: {self.cookie}\r\n"
            f"Content-Type: application/json\r\nContent-Length: {len(data)}\r\nConnection: close\r\n\r\n"
        )
        return head.encode() + data

    def stop(self) -> int:
        """Ask it to stop, and how it ended."""
        self.process.send_signal(signal.SIGTERM)
        return self.process.wait(PATIENCE_S)


@contextmanager
def running(path: Path, *more: str, stderr: Any = subprocess.DEVNULL, **how: Any) -> Iterator[Desk]:
    """A server over that database, killed at the end unless it has ended. stderr, how: as `Popen` takes them."""
    command = [
        sys.executable,
        "-m",
        "mildladder.cli",
        "serve",
        "--no-work-ahead",
        "--port",
        "0",
        "--db",
        str(path),
        *more,
    ]
    process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=stderr, text=True, **how)
    assert process.stdout is not None
    try:
        line = process.stdout.readline()
        found = re.search(r"http://\S+:\d+", line)
        assert found, f"no address in: {line}"
        yield Desk(process, found[0], path)
    finally:
        process.kill()
        process.wait()
        process.stdout.close()
