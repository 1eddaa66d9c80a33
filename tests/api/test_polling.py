"""Waiting on connections: what happens on one is done, and those on which nothing does cost nothing."""

import socket

import pytest

from mildladder.api.polling import Poller

opened: list["Connection"] = []


class Connection:
    """One end of a pair of sockets, in the manner of the server's connections."""

    accepting = False

    def __init__(self, connections: dict):
        self.mine, self.theirs = socket.socketpair()
        self.mine.setblocking(False)
        self.map, self.fd = connections, self.mine.fileno()
        connections[self.fd] = self
        opened.append(self)
        self.asked, self.told, self.is_full, self.to_send, self.is_closed = 0, b"", False, b"", False

    def readable(self):
        self.asked += 1
        return not self.is_full

    def writable(self):
        return bool(self.to_send) or self.is_closed

    def handle_read_event(self):
        said = self.mine.recv(100)
        self.told += said
        if not said:
            self.handle_close()

    def handle_write_event(self):
        if self.is_closed:
            self.handle_close()
        else:
            self.to_send = self.to_send[self.mine.send(self.to_send) :]

    def handle_expt_event(self):
        pass

    def handle_close(self):
        self.map.pop(self.fd, None)
        self.mine.close()


@pytest.fixture
def connections():
    made: dict = {}
    yield made
    while opened:
        one = opened.pop()
        one.mine.close()
        one.theirs.close()


def test_quiet_connections_are_not_asked_at_every_turn(connections):
    Connection(connections)
    poller = Poller(connections)
    quiet = [Connection(connections) for _ in range(100)]
    busy = Connection(connections)
    for turn in range(50):
        busy.theirs.send(b"x")
        poller.turn(1)
        assert busy.told == b"x" * (turn + 1)
    assert {one.asked for one in quiet} == {1}
    assert next(iter(connections.values())).asked >= 50
    poller.ask_all()
    poller.turn(0)
    assert {one.asked for one in quiet} == {2}


def test_one_that_waits_for_its_answer_is_asked_until_it_waits_for_its_client(connections):
    poller = Poller(connections)
    one = Connection(connections)
    one.is_full = True
    one.theirs.send(b"first")
    for _ in range(3):
        poller.turn(0)
    assert (one.told, one.asked) == (b"", 3)
    one.is_full, one.to_send = False, b"answer"
    poller.turn(1)
    assert one.theirs.recv(100) == b"answer"
    poller.turn(1)
    assert one.told == b"first"
    poller.turn(0)
    before = one.asked
    poller.turn(0)
    assert one.asked == before


def test_a_descriptor_may_go_to_another_connection(connections):
    poller = Poller(connections)
    first = Connection(connections)
    poller.turn(0)
    first.theirs.close()
    poller.turn(1)
    assert connections == {}
    second = Connection(connections)
    while second.fd != first.fd:
        second = Connection(connections)
    second.theirs.send(b"here")
    poller.turn(0)
    poller.turn(0)
    assert second.told == b"here"
    # Closed and opened again between two turns.
    second.handle_close()
    third = Connection(connections)
    assert third.fd == second.fd
    third.theirs.send(b"too")
    poller.turn(0)
    poller.turn(0)
    assert third.told == b"too"


def test_one_that_somebody_closes_is_closed_once_all_are_asked(connections):
    poller = Poller(connections)
    one = Connection(connections)
    poller.turn(0)
    one.is_closed = True
    poller.turn(0)
    assert one.fd in connections
    poller.ask_all()
    poller.turn(1)
    assert connections == {}
