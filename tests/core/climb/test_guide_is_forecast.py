"""The guided case costs and ends what the forecast says: one meaning of a ladder, for agents and for figures."""

import pytest

from mildladder.core.climb import agenda, carrying, settling
from mildladder.core.climb.state import Climb
from mildladder.core.errors import Conflict
from mildladder.core.figures.forecast import forecast
from mildladder.core.model import Playbook
from mildladder.demo.desk import playbooks
from tests.core.climb.guide_walk import Walk
from tests.core.random_ladders import random_playbook
from tests.parts import in_part


def compare(playbook: Playbook) -> None:
    figures, walk = forecast(playbook), Walk(playbook).all()
    close = {"rel": 1e-9, "abs": 1e-9}
    for end in ("resolved", "worked_around", "handed_off", "sent_on"):
        assert walk.ends[end] == pytest.approx(getattr(figures, end), **close), end
    for rung in (*figures.rungs, *figures.side):
        assert walk.reach[rung.path] == pytest.approx(rung.reach, **close), rung.path
    assert walk.harm == pytest.approx(figures.harm, **close)
    assert walk.effort == pytest.approx(figures.effort, **close)


@pytest.mark.parametrize("seed", in_part(range(150), 25))
def test_every_answer_with_its_chance_gives_the_forecast_on_random_ladders(seed):
    compare(random_playbook(seed, rungs=3 + seed % 3))


@pytest.mark.parametrize("playbook", list(playbooks()), ids=lambda playbook: playbook.id)
def test_and_on_the_playbooks_of_the_demo_desk(playbook):
    compare(playbook)


def _at_once(now, task):
    return settling.with_rail(now, task, now.findings.get(task.rung.step, ""))


FAULTS = {
    "a rail goes back to where the unit stands": (Climb, "bound_for", property(lambda now: now.footing)),
    "a rung that is excluded is climbed": (settling, "_is_excluded", lambda *_: False),
    "nothing is ever put back": (carrying, "_changes", lambda *_: ()),
    "a finding of a trial is acted upon at once": (settling, "_with_rail_of_done", _at_once),
    "a step that was done comes up again": (Climb, "is_done", lambda *_: False),
    "every rung is tested alone": (agenda, "_trial_of", lambda *_: None),
}


@pytest.mark.parametrize("fault", in_part(FAULTS, 2))
def test_the_walk_notices_a_guide_that_means_something_else(fault, monkeypatch):
    monkeypatch.setattr(*FAULTS[fault])
    for seed in range(300):
        try:
            compare(random_playbook(seed, rungs=3 + seed % 3))
        except (AssertionError, Conflict, RecursionError):
            return
    pytest.fail("no ladder told the difference")
