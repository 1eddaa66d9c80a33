"""Whatever becomes of the stream that the program's own log goes to, people are answered."""

import fcntl
import os
import shutil

import pytest

from tests.serving.desk import running

# More lines than the smallest pipe holds.
REQUESTS = 60


def reader_gone() -> int:
    reading, writing = os.pipe()
    os.close(reading)
    return writing


def full_disk() -> int:
    return os.open("/dev/full", os.O_WRONLY)


def pipe_that_nobody_reads() -> int:
    reading, writing = os.pipe()
    fcntl.fcntl(writing, fcntl.F_SETPIPE_SZ, 4096)
    # Kept open by this process, which ends with the tests.
    os.set_inheritable(reading, False)
    return writing


@pytest.mark.parametrize("stream", [reader_gone, full_disk, pipe_that_nobody_reads])
def test_every_request_is_answered_whatever_takes_the_log(tmp_path, templates, stream):
    shutil.copy(templates / "sample.db", tmp_path / "desk.db")
    stderr = stream()
    with running(tmp_path / "desk.db", stderr=stderr) as desk:
        os.close(stderr)
        desk.sit_down()
        answers = [desk.ask("GET", "/api/me")[0] for _ in range(REQUESTS)]
        assert set(answers) == {200}
        assert desk.ask("GET", "/api/playbooks/gate-arm-up/draft/curve")[0] in (200, 202)
        assert desk.stop() == 0
