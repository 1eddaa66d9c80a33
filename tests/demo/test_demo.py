"""The made-up desk: sound playbooks, repeatable cases, and a truth that is really there to be found."""

from collections import Counter
from datetime import timedelta

import pytest

from mildladder.core.rules import broken
from mildladder.demo.desk import fill, playbooks
from mildladder.demo.simulate import PERIOD, simulate
from mildladder.demo.truth import TRUTHS
from mildladder.desk.measuring import evidence, symptoms
from tests.samples import NOON

KNOWN = {playbook.id: playbook for playbook in playbooks()}


@pytest.fixture(scope="module")
def made():
    """Two thousand cases with the causes behind them."""
    return list(simulate(KNOWN, TRUTHS, 2000, NOON, seed=7))


def test_every_playbook_has_a_truth_and_keeps_its_rules():
    assert set(KNOWN) == set(TRUTHS)
    for playbook in KNOWN.values():
        assert 5 <= len(playbook.ladder) <= 12
        assert not broken(playbook)
        assert all(len(step.do) >= 2 and step.expect for step in playbook.steps)
        truth = TRUTHS[playbook.id]
        causes = {cause.id for cause in playbook.causes} | {"something-else"}
        steps = {step.id for step in playbook.steps}
        assert set(truth.causes) == causes
        assert {name.partition("@")[0] for name in truth.cures} | set(truth.could_not) | set(truth.comes_back) <= steps


def test_the_same_seed_gives_the_same_cases(made):
    assert [case for case, _ in simulate(KNOWN, TRUTHS, 2000, NOON, seed=7)] == [case for case, _ in made]


def test_there_are_as_many_cases_as_asked_for_all_within_the_period(made):
    assert len(made) == 2000
    assert len({case.case for case, _ in made}) == 2000
    assert all(NOON - PERIOD - timedelta(days=2) < case.opened < case.closed < NOON for case, _ in made)


def test_causes_are_as_common_as_the_truth_says(made):
    counts = Counter((case.symptom, cause) for case, cause in made)
    for symptom, truth in TRUTHS.items():
        total = sum(n for (name, _), n in counts.items() if name == symptom)
        for cause, weight in truth.causes.items():
            share = weight / sum(truth.causes.values())
            assert counts[symptom, cause] / total == pytest.approx(share, abs=4 * (share / total) ** 0.5 + 0.02)


def test_the_cure_that_does_not_hold_shows_in_the_evidence(database):
    with database.writing() as session:
        assert fill(session, 600, NOON).new == 600
        assert sum(card.cases for card in symptoms(session)) == 600
        rows = {row.step: row.counts for row in evidence(session, "kiosk-faint-tickets", NOON.date()).rows}
    darkness, lid = rows["set-darkness"], rows["close-lid"]
    assert darkness.resolved > 12
    assert darkness.held / darkness.judged < 0.75
    assert lid.held / lid.judged > 0.9
