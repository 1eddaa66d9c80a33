"""Walks by chance through the whole interface; in full length in `make soak`."""

import pytest

from tests.browser.conftest import Served, new_context, sit_down
from tests.browser.rough import rough_line
from tests.browser.walk import Walk


@pytest.mark.parametrize("seed", [1, pytest.param(2, marks=pytest.mark.long)])
def test_a_walk_by_chance_finds_a_sound_page_everywhere(browser, demo: Served, seed):
    with new_context(browser) as context, rough_line(context) as line:
        walk = Walk(sit_down(context, demo), demo, line, seed)
        walk.go(100)
        assert walk.wrong == [], "\n".join(walk.wrong)
        assert walk.acknowledged
