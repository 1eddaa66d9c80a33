"""The made-up desk: sound playbooks, repeatable cases, and a truth that is really there to be found."""

from collections import Counter
from datetime import timedelta

import numpy as np
import pytest
from sqlalchemy import select

from mildladder.core.figures.forecast import forecast
from mildladder.core.ladder.bonds import broken
from mildladder.core.model import RefusedLine
from mildladder.core.ordering.best import objective
from mildladder.core.review import links_of, review
from mildladder.demo.desk import earlier, fill, playbooks
from mildladder.demo.elsewhere import export
from mildladder.demo.odd_names import EXTRA, ODD_NAMES
from mildladder.demo.simulate import PERIOD, simulate
from mildladder.demo.truth import TRUTHS
from mildladder.desk.drafts.editions import edition_list
from mildladder.exchange.case_lines import read_each
from mildladder.store.tables import CaseRow
from tests.samples import NOON

KNOWN = {playbook.id: playbook for playbook in playbooks()}


@pytest.fixture(scope="module")
def made():
    """Two thousand cases with the causes behind them."""
    return list(simulate(KNOWN, TRUTHS, 2000, NOON, seed=7, elsewhere=0.12))


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
        named = {name.partition("@")[0] for name in truth.cures}
        assert named | set(truth.could_not) | set(truth.comes_back) | set(truth.harms) <= steps
        assert set(truth.given_cause) | set(truth.rollouts) <= {fact.id for fact in playbook.facts}
        assert set(ODD_NAMES[playbook.id]) <= steps
        assert EXTRA.get(playbook.id) is None or set(EXTRA[playbook.id].cures) <= causes


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
        guided = select(CaseRow).where(CaseRow.origin == "demo")
        pad = session.scalars(guided.where(CaseRow.symptom == "kiosk-no-card-pad")).all()
        assert [view.number for view in edition_list(session, "kiosk-no-card-pad")] == [2, 1]
        assert edition_list(session, "lane-scale-wrong") == []
    assert lane
    assert {row.edition for row in lane} == {None}
    assert {row.edition for row in pad} == {1, 2}
    assert max(row.opened for row in pad if row.edition == 1) < min(row.opened for row in pad if row.edition == 2)


def test_the_same_seed_gives_the_same_cases(made):
    assert list(simulate(KNOWN, TRUTHS, 2000, NOON, seed=7, elsewhere=0.12)) == made


def test_another_day_gives_the_same_cases_with_other_dates(made):
    later = NOON + timedelta(days=100, hours=5)
    moved = simulate(KNOWN, TRUTHS, 300, later, seed=7, elsewhere=0.12)
    for one, other in zip(simulate(KNOWN, TRUTHS, 300, NOON, seed=7, elsewhere=0.12), moved, strict=True):
        assert other.case.opened - one.case.opened == timedelta(days=100)
        assert [(a.step, a.outcome, a.finding) for a in other.case.attempts] == [
            (a.step, a.outcome, a.finding) for a in one.case.attempts
        ]


def test_there_are_as_many_cases_as_asked_for_all_within_the_period(made):
    assert len(made) == 2000
    cases = [one.case for one in made]
    assert len({case.case for case in cases}) == 2000
    assert all(NOON - PERIOD - timedelta(days=2) < case.opened < case.closed < NOON for case in cases)


def test_causes_are_as_common_as_the_truth_says(made):
    counts = Counter((one.case.symptom, one.cause) for one in made if not one.is_return)
    for symptom, truth in TRUTHS.items():
        total = sum(n for (name, _), n in counts.items() if name == symptom)
        for cause, weight in truth.causes.items():
            share = weight / sum(truth.causes.values())
            assert counts[symptom, cause] / total == pytest.approx(share, abs=4 * (share / total) ** 0.5 + 0.02)


def test_one_case_in_eight_is_the_harbour_offices_in_its_own_words(made):
    office = [one.case for one in made if one.is_elsewhere]
    assert 0.09 < len(office) / len(made) < 0.15
    ours = {step.id for playbook in KNOWN.values() for step in playbook.steps}
    assert not {attempt.step for case in office for attempt in case.attempts} & ours
    assert all(case.playbook is None for case in office)
    together = [case for case in office if any(attempt.trial for attempt in case.attempts)]
    assert len(together) > len(office) / 3
    credited = [case for case in office if case.end == "resolved"]
    assert all(case.resolved_by == case.attempts[-1].step for case in credited)


def test_damaged_lines_are_refused_and_the_others_read_as_they_were(made):
    office = [one.case for one in made if one.is_elsewhere]
    read = list(read_each(export(office, np.random.default_rng(1))))
    refused = [one for one in read if isinstance(one, RefusedLine)]
    assert len(read) == len(office)
    assert 3 < len(refused) < len(office) / 8
    assert len({one.says for one in refused}) > 3
    assert [one.case for one in read if not isinstance(one, RefusedLine)] == [
        case for number, case in enumerate(office, start=1) if number not in {one.line for one in refused}
    ]
