"""The made-up desk: sound playbooks, repeatable cases, and a truth that is really there to be found."""

from collections import Counter
from datetime import timedelta

import pytest
from sqlalchemy import select

from mildladder.core.forecast import forecast
from mildladder.core.ordering.best import objective
from mildladder.core.review import links_of, review
from mildladder.core.rules import broken
from mildladder.demo.desk import earlier, fill, playbooks
from mildladder.demo.simulate import PERIOD, simulate
from mildladder.demo.truth import TRUTHS
from mildladder.desk.drafts import edition_list
from mildladder.desk.measuring import evidence, symptoms
from mildladder.store.tables import CaseRow
from tests.samples import NOON

KNOWN = {playbook.id: playbook for playbook in playbooks()}


@pytest.fixture(scope="module")
def made():
    """Two thousand cases with the causes behind them."""
    return list(simulate(KNOWN, TRUTHS, 2000, NOON, seed=7))


def test_every_playbook_has_a_truth_and_keeps_its_rules():
    assert set(KNOWN) == set(TRUTHS)
    for playbook in KNOWN.values():
        assert 4 <= len(playbook.ladder) <= 12
        assert bool(broken(playbook)) == (playbook.id == "lane-scale-wrong")
        assert all(len(step.do) >= 2 and step.expect for step in playbook.steps)
        truth = TRUTHS[playbook.id]
        causes = {cause.id for cause in playbook.causes} | {"something-else"}
        steps = {step.id for step in playbook.steps}
        assert set(truth.causes) == causes
        assert {name.partition("@")[0] for name in truth.cures} | set(truth.could_not) | set(truth.comes_back) <= steps


def test_review_of_the_twelve_finds_the_planted_flaw_and_no_other():
    assert len(KNOWN) == 12
    known = {playbook.id: links_of(playbook) for playbook in KNOWN.values()}
    found = [
        (playbook.id, finding.level, finding.code, finding.where)
        for playbook in KNOWN.values()
        for finding in review(playbook, known)
        if finding.level != "hint"
    ]
    assert found == [("lane-scale-wrong", "blocker", "safeguard-below", "ladder.3")]


def test_the_second_edition_is_a_real_improvement():
    first = earlier()["kiosk-no-card-pad"]
    second = KNOWN["kiosk-no-card-pad"]
    assert objective(forecast(second), 5) < 0.85 * objective(forecast(first), 5)
    assert not [one for one in review(first) if one.level == "blocker"]


def test_editions_follow_each_other_and_what_is_unpublished_has_cases_without_one(database):
    with database.writing() as session:
        fill(session, 400, NOON)
        lane = session.scalars(select(CaseRow).where(CaseRow.symptom == "lane-scale-wrong")).all()
        pad = session.scalars(select(CaseRow).where(CaseRow.symptom == "kiosk-no-card-pad")).all()
        assert [view.number for view in edition_list(session, "kiosk-no-card-pad")] == [2, 1]
        assert edition_list(session, "lane-scale-wrong") == []
    assert lane
    assert {row.edition for row in lane} == {None}
    assert {row.edition for row in pad} == {1, 2}
    assert max(row.opened for row in pad if row.edition == 1) < min(row.opened for row in pad if row.edition == 2)


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
        assert fill(session, 1200, NOON).new == 1200
        assert sum(card.cases for card in symptoms(session)) == 1200
        rows = {row.step: row.counts for row in evidence(session, "kiosk-faint-tickets", NOON.date()).rows}
    darkness, lid = rows["set-darkness"], rows["close-lid"]
    assert darkness.resolved > 12
    assert darkness.held / darkness.judged < 0.75
    assert lid.held / lid.judged > 0.9
