"""Awkward files are refused in few words; that it is soon and at little cost is measured by `make soak`."""

import pytest

from tests.exchange.awkward import ALL


@pytest.mark.parametrize(("refused", "files"), ALL)
def test_awkward_files_are_refused_in_few_words(refused, files):
    for raw in files():
        says = refused(raw)
        assert 0 < len(says) <= 500, (raw[:60], says[:80])
        assert "\n" not in says, raw[:60]


def test_there_are_enough_of_them():
    assert sum(1 for _, files in ALL for _ in files()) >= 250
