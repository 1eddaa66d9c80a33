"""The desk listens on, and answers by, the same loopback addresses."""

import pytest

from mildladder.api.server import listen
from mildladder.core.errors import BadInput

HERE = ["127.0.0.1", "127.0.0.2", "127.200.3.4", "localhost", "::1"]
ELSEWHERE = ["0.0.0.0", "192.168.1.5", "desk.example", "127.0.0.1.example", "::", "1.0.0.127"]


@pytest.mark.parametrize("host", HERE)
def test_what_it_may_listen_on_it_also_answers_by(client, host):
    if ":" not in host:
        listen(host, 0).close()
    name = f"[{host}]" if ":" in host else host
    assert client.get("/api/me", headers={"Host": f"{name}:8474"}).status_code == 200


@pytest.mark.parametrize("host", ELSEWHERE)
def test_what_it_may_not_listen_on_it_does_not_answer_by(client, host):
    with pytest.raises(BadInput, match="loopback"):
        listen(host, 0)
    name = f"[{host}]" if ":" in host else host
    assert client.get("/api/me", headers={"Host": f"{name}:8474"}).status_code == 403
