"""Commands as a shell runs them, within this process: starting one anew each time takes longer than all that it does."""

import sys
from collections.abc import Callable, Iterator
from typing import NamedTuple

import pytest

from mildladder.cli import main


class Said(NamedTuple):
    """How a command ended, and what it printed."""

    returncode: int
    stdout: str
    stderr: str


Shell = Callable[..., Said]


@pytest.fixture
def shell(tmp_path, monkeypatch, capsys) -> Iterator[Shell]:
    """Runs a command in an empty folder; db: with a database of its own."""
    monkeypatch.chdir(tmp_path)

    def run(*args: str, db: bool = False) -> Said:
        monkeypatch.setattr(sys, "argv", ["mild-ladder", *args, *(["--db", "desk.db"] if db else [])])
        with pytest.raises(SystemExit) as ended:
            main()
        said = capsys.readouterr()
        return Said(int(ended.value.code or 0), said.out, said.err)

    return run
