"""How long a connection may be silent, and how long one request may take to arrive; the clock is the test's."""

from collections.abc import Iterator
from types import SimpleNamespace

import pytest
from flask import Flask

from mildladder.api.server import Server, listen


class Request:
    """A request that is arriving."""


class Channel(SimpleNamespace):
    """A connection as the server looks at it."""

    __hash__ = object.__hash__


def channel(last_activity: float, request: object = None) -> Channel:
    return Channel(last_activity=last_activity, request=request, requests=[], total_outbufs_len=0, will_close=False)


@pytest.fixture
def server() -> Iterator[Server]:
    bound = listen("127.0.0.1", 0)
    made = Server(Flask(__name__), bound)
    yield made
    made.task_dispatcher.shutdown()
    made.close()
    bound.close()


def test_a_silent_connection_is_closed_after_a_minute(server):
    server.active_channels = {1: channel(last_activity=0), 2: channel(last_activity=50)}
    server.maintenance(61)
    assert [one.will_close for one in server.active_channels.values()] == [True, False]


def test_a_request_that_dribbles_in_is_closed_however_busy_it_is(server):
    slow, quick = channel(0, request=Request()), channel(0, request=Request())
    server.active_channels = {1: slow, 2: quick}
    for now in range(0, 30, 2):
        slow.last_activity = quick.last_activity = now
        server.maintenance(now)
        if now == 10:
            quick.request = None
    assert (slow.will_close, quick.will_close) == (True, False)


def test_one_request_after_the_other_on_one_connection_have_each_their_own_time(server):
    """Whenever the server looks, some request is just arriving; none of them takes long."""
    busy = channel(0)
    server.active_channels = {1: busy}
    for now in range(0, 90, 2):
        busy.last_activity, busy.request = now, Request()
        server.maintenance(now)
    assert not busy.will_close


def test_a_request_that_begins_anew_has_its_own_time(server):
    one = channel(0, request=Request())
    server.active_channels = {1: one}
    server.maintenance(0)
    one.request = None
    server.maintenance(15)
    one.request, one.last_activity = Request(), 16
    server.maintenance(22)
    assert not one.will_close
