"""Rungs that share a restart or a state are tested in one go where that pays, and taken apart where it does not."""

import pytest

from mildladder.core.advice.judging import Judge
from mildladder.core.advice.nudges import certain_changes
from mildladder.core.advice.together import apart, together
from mildladder.core.evidence.forward import Told
from mildladder.core.model import Playbook
from tests.core.advice.grounds import best_desk, grounds_of, really

RESTART = {"wait": 12}
STATE = {"id": "service-page", "title": "Service page", "enter": {"hands_on": 1}, "leave": RESTART}
SEARCH = {"over": "leads", "count": 3, "how": "one-by-one", "round": {"hands_on": 1}}


def changed(playbook: Playbook, first: dict, second: dict, **more) -> Playbook:
    """The playbook with the steps of its first two rungs said otherwise."""
    data = playbook.model_dump(mode="json", by_alias=True, exclude_unset=True)
    says = {playbook.ladder[0].step: first, playbook.ladder[1].step: second}
    steps = [{**step, **says.get(step["id"], {})} for step in data["steps"]]
    return Playbook.model_validate({**data, "steps": steps, **more})


@pytest.fixture(scope="module")
def desk():
    return best_desk(4)


def restarting(desk) -> Playbook:
    """Both first steps show after a restart that takes longer than they do."""
    return changed(desk.playbook, {"proves": "after-restart"}, {"proves": "after-restart"}, restart=RESTART)


def learned(grounds):
    return {one.step: one for one in grounds.made.estimate.steps}


def test_two_that_share_a_restart_are_tested_in_one_go_where_that_really_pays(desk):
    grounds = grounds_of(desk, restarting(desk))
    (found,) = [one.change for one in certain_changes(grounds) if one.change.kind == "trial"]
    titles = [grounds.draft.step(rung.step).title for rung in grounds.draft.ladder[:2]]
    assert found.says == f"Test “{titles[0]}” and “{titles[1]}” in one go"
    assert "one restart is enough" in found.why
    assert found.ladder[0].trial == found.ladder[1].trial is not None
    assert really(desk, grounds).worth(found.playbook) > 0


@pytest.mark.parametrize(
    ("first", "second"),
    [
        ({}, {}),
        ({"proves": "after-restart"}, {}),
        ({"proves": "after-leaving", "footing": "service-page"}, {"proves": "after-restart"}),
        ({"proves": "after-leaving", "footing": "service-page"}, {"proves": "after-leaving", "footing": "open"}),
        ({"proves": "after-restart"}, {"proves": "after-restart", "search": SEARCH}),
    ],
)
def test_nothing_is_put_together_that_shares_nothing(desk, first, second):
    states = [STATE, {**STATE, "id": "open", "title": "Open"}]
    grounds = grounds_of(desk, changed(desk.playbook, first, second, restart=RESTART, footings=states))
    assert list(together(Judge(grounds.made, grounds.draft, Told()), learned(grounds))) == []


def test_leaving_a_state_is_shared_by_its_name(desk):
    leaving = {"proves": "after-leaving", "footing": "service-page"}
    grounds = grounds_of(desk, changed(desk.playbook, leaving, leaving, footings=[STATE]))
    (found,) = together(Judge(grounds.made, grounds.draft, Told()), learned(grounds))
    assert "once “Service page” is left" in found.why


def test_a_trial_whose_first_step_does_most_is_taken_apart(desk):
    draft = changed(desk.playbook, {}, {"effort": {"hands_on": 40}})
    rungs = tuple(
        rung.model_copy(update={"trial": "both"}) if number < 2 else rung for number, rung in enumerate(draft.ladder)
    )
    grounds = grounds_of(desk, draft.model_copy(update={"ladder": rungs}))
    (change,) = apart(Judge(grounds.made, grounds.draft, Told()), learned(grounds))
    assert [rung.trial for rung in change.ladder] == [None] * len(rungs)
    assert change.says.endswith("one after the other")
    judge = really(desk, grounds)
    assert judge.worth(change.playbook) > 0
    assert change.says in [one.change.says for one in certain_changes(grounds)]


def test_a_trial_is_joined_by_the_neighbour_that_shares_its_restart_and_two_trials_stay_two(desk):
    draft = restarting(desk)
    joined = tuple(
        rung.model_copy(update={"trial": {0: "one", 1: None}.get(number)}) for number, rung in enumerate(draft.ladder)
    )
    grounds = grounds_of(desk, draft.model_copy(update={"ladder": joined}))
    (found,) = together(Judge(grounds.made, grounds.draft, Told()), learned(grounds))
    assert [rung.trial for rung in found.ladder[:2]] == ["one", "one"]
    both = tuple(
        rung.model_copy(update={"trial": {0: "one", 1: "two"}.get(number)}) for number, rung in enumerate(draft.ladder)
    )
    grounds = grounds_of(desk, draft.model_copy(update={"ladder": both}))
    assert list(together(Judge(grounds.made, grounds.draft, Told()), learned(grounds))) == []
