"""What is planted on the made-up desk is really there to be found in the log that it leaves."""

from collections import Counter
from datetime import timedelta

import pytest
from sqlalchemy import func, select

from mildladder.core.evidence.rates import raw_rate
from mildladder.core.ladder.units import fact_types, on_unit
from mildladder.demo.desk import CASES, UNPUBLISHED, fill, playbooks
from mildladder.demo.faults import Fault
from mildladder.demo.simulate import PERIOD
from mildladder.demo.truth import NEW_VERSION, TRUTHS
from mildladder.desk.evidence.symptom import evidence
from mildladder.desk.home import symptoms
from mildladder.desk.log.intake import left_out
from mildladder.desk.log.pages import CaseFilter, case_list, case_total
from mildladder.store.database import Database
from mildladder.store.log.reading import harm_counts
from mildladder.store.tables import AttemptRow, CaseFactRow, CaseRow
from tests.samples import NOON

KNOWN = {playbook.id: playbook for playbook in playbooks()}
NEW_FIRMWARE = NOON.replace(hour=0) - PERIOD + timedelta(days=30 * NEW_VERSION)


@pytest.fixture(scope="module")
def session(tmp_path_factory):
    """The whole demo desk, as it is served."""
    database = Database(tmp_path_factory.mktemp("demo") / "desk.db")
    with database.writing() as writing:
        fill(writing, CASES, NOON)
    with database.reading() as reading:
        yield reading
    database.close()


def rows(session, symptom):
    return {row.step: row for row in evidence(session, symptom, NOON.date()).rows}


def first_rate(symptom: str, step: str, **facts: str) -> float:
    """The true share of cases that a step would end as the very first one, on units with these facts."""
    playbook, truth = KNOWN[symptom], TRUTHS[symptom]
    on = on_unit(playbook.step(step), facts, fact_types(playbook))
    chances = {cause: Fault(symptom, truth, cause, facts, None).cure_chance(playbook, on) for cause in truth.causes}
    return sum(truth.causes[cause] * chance for cause, chance in chances.items()) / sum(truth.causes.values())


def test_every_line_is_logged_or_left_out_with_its_reason(session):
    logged = sum(card.cases for card in symptoms(session, NOON.date()))
    out = left_out(session)
    assert logged + out.total == CASES
    assert 24 <= out.total <= 60
    assert {line.source for line in out.lines} == {"harbour-office.jsonl"}
    assert all(line.says and line.text for line in out.lines)
    origins = Counter(dict(session.execute(select(CaseRow.origin, func.count()).group_by(CaseRow.origin)).all()))
    assert (origins["import"] + out.total) / CASES == pytest.approx(0.12, abs=0.015)


def test_a_step_near_the_top_is_worse_than_its_raw_rate_and_a_low_one_better(session):
    board = rows(session, "board-departed-sailing")["nudge-feed"]
    assert board.label == "2"
    assert board.counts.raw.low > 2 * first_rate("board-departed-sailing", "nudge-feed")
    arm = rows(session, "gate-arm-up")["reload-program"]
    assert arm.label == "5"
    assert arm.counts.raw.high < first_rate("gate-arm-up", "reload-program", model="GR4")


def test_one_fix_works_on_one_model_and_never_on_the_other(session):
    query = (
        select(CaseFactRow.value, AttemptRow.outcome, func.count())
        .join(CaseRow, CaseRow.number == AttemptRow.case)
        .join(CaseFactRow, CaseFactRow.case == CaseRow.number)
        .where(AttemptRow.step == "wipe-home-sensor", CaseFactRow.fact == "model")
        .group_by(CaseFactRow.value, AttemptRow.outcome)
    )
    seen = {(model, outcome): count for model, outcome, count in session.execute(query)}
    assert seen["GR6", "fixed"] > 10
    assert seen["GR4", "no-change"] > 10
    assert seen.get(("GR4", "fixed"), 0) <= 2


def test_one_fix_stopped_working_with_the_new_firmware_of_the_eleventh_month(session):
    query = (
        select(CaseRow.opened, CaseFactRow.value, AttemptRow.outcome)
        .join(CaseRow, CaseRow.number == AttemptRow.case)
        .join(CaseFactRow, CaseFactRow.case == CaseRow.number)
        .where(AttemptRow.step == "restart-reader", CaseFactRow.fact == "firmware", AttemptRow.by != "before")
    )
    tried, fixed = Counter(), Counter()
    for opened, firmware, outcome in session.execute(query):
        key = (opened >= NEW_FIRMWARE, firmware == "4.3")
        tried[key] += 1
        fixed[key] += outcome == "fixed"
    assert tried[False, True] == 0
    rates = {key: raw_rate(fixed[key], tried[key]) for key in tried}
    assert rates[True, True].high < min(rates[False, False].low, rates[True, False].low)
    assert rates[True, True].mean < 0.15


def test_a_popular_fix_comes_back_and_a_fault_often_clears_by_itself(session):
    darkness = rows(session, "kiosk-faint-tickets")["set-darkness"].counts
    assert darkness.judged > 60
    assert darkness.held / darkness.judged == pytest.approx(0.6, abs=0.12)
    cards = {card.id: card for card in symptoms(session, NOON.date())}
    assert cards["tablet-loses-network"].ended["self-cleared"] / cards["tablet-loses-network"].cases > 0.02


def test_one_step_is_impossible_a_third_of_the_time(session):
    counts = rows(session, "kiosk-no-card-pad")["restart-pad-service"].counts
    share = counts.could_not / (counts.could_not + counts.tried)
    assert share == pytest.approx(0.33, abs=0.12)


def test_a_hazard_without_a_safeguard_shows_its_harm(session):
    harms = rows(session, "handheld-no-sailing-list")["end-list-program"].harms
    assert [(harm.kind, harm.eased_by) for harm in harms] == [("data", None)]
    assert harms[0].rate.low > 2 * harms[0].judged
    eased = harm_counts(session, "handheld-no-sailing-list")["clear-old-lists"]
    assert eased.seen["data"] / eased.asked < 0.15


def test_no_other_hazard_of_the_desk_shows_more_harm_than_its_step_names(session):
    more = [
        (symptom, step, harm.kind)
        for symptom in KNOWN
        for step, row in rows(session, symptom).items()
        for harm in row.harms
        if harm.is_more
    ]
    assert more == [("handheld-no-sailing-list", "end-list-program", "data")]


def test_some_units_need_the_same_cure_again_and_again(session):
    query = (
        select(CaseRow.unit, func.count())
        .where(CaseRow.symptom == "handheld-dies", CaseRow.resolved_by == "wipe-contacts", CaseRow.unit.is_not(None))
        .group_by(CaseRow.unit)
    )
    assert max(count for _, count in session.execute(query)) >= 3


def test_a_case_of_the_harbour_office_can_be_found_and_was_guided_by_nothing(session):
    found = case_list(session, CaseFilter(words="given to crew"), "", 50)
    assert case_total(session, CaseFilter(words="given to crew")).total > 50
    assert {summary.origin for summary in found.cases} == {"import"}
    assert {card.id for card in symptoms(session, NOON.date())} >= UNPUBLISHED
