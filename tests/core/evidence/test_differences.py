"""Splits, drift, come-backs and doubts: found where they are planted, and the example worked by hand."""

from collections import defaultdict
from datetime import date

import numpy as np
import pytest
from scipy.special import ndtr

from mildladder.core.evidence.comebacks import Cured, come_backs
from mildladder.core.evidence.differences import Drift, Split, by_hochberg, drifts, splits
from mildladder.core.evidence.doubts import doubts
from mildladder.core.evidence.estimate import estimate
from mildladder.core.evidence.expected import Cell, Expected, expected
from mildladder.core.evidence.learned import guesses_of, minutes_of_step
from mildladder.core.evidence.records import KeyedTally, records_of
from mildladder.core.evidence.versions import with_versions
from mildladder.core.model import Fact, Retest, Step
from mildladder.core.tally.signature import AttemptSign, Signature
from tests.core.evidence.desks import small_desk

TODAY = date(2026, 3, 31)


def test_a_split_is_as_worked_by_hand():
    one, other = Cell(40, 20, 16, 9.6), Cell(20, 2, 6, 4.2)
    whole = Cell(60, 22, 22, 13.8)
    assert other.apart(whole) == pytest.approx(-4)
    assert other.score(whole) == pytest.approx(-2.340, abs=5e-4)
    assert one.score(whole) == pytest.approx(2.340, abs=5e-4)
    assert 2 * ndtr(other.score(whole)) == pytest.approx(0.0193, abs=5e-5)


def test_hochberg_lets_as_many_stand_as_the_largest_that_holds():
    assert by_hochberg([0.001, 0.03, 0.04, 0.9], 0.05) == [True, False, False, False]
    assert by_hochberg([0.001, 0.02, 0.03, 0.9], 0.05) == [True, True, True, False]
    assert by_hochberg([], 0.05) == []


def found_with(**cells) -> Expected:
    made = Expected()
    for name, table in cells.items():
        getattr(made, name).update(table)
    return made


def test_a_fact_that_is_asked_late_makes_no_split():
    """Of those whose fact is known none resolved, for only they went on; of the rest all did."""
    cells = {("wipe", "lamps", "dark"): Cell(40, 0, 20, 10), ("wipe", "lamps", "lit"): Cell(40, 0, 20, 10)}
    made = found_with(
        whole={"wipe": Cell(200, 120, 100, 50)}, by_value=cells, by_fact={("wipe", "lamps"): Cell(80, 0, 40, 20)}
    )
    assert [one.level for one in splits(made)] == [None, None]


def test_a_model_on_which_a_step_never_works_is_sure():
    cells = {("wipe", "model", "K1"): Cell(60, 0, 24, 14), ("wipe", "model", "K2"): Cell(60, 44, 24, 14)}
    made = found_with(by_value=cells, by_fact={("wipe", "model"): Cell(120, 44, 48, 28)})
    assert [(one.value, one.level, one.z < 0) for one in splits(made)] == [("K1", "sure", True), ("K2", "sure", False)]


def test_a_step_that_stopped_working_is_told_with_its_month():
    months = {f"2025-{number:02}": Cell(20, 12 if number < 8 else 2, 10, 5) for number in range(1, 13)}
    made = found_with(by_month={("wipe", month): cell for month, cell in months.items()})
    (drift,) = drifts(made)
    assert (drift.step, drift.since, drift.tries_after) == ("wipe", "2025-08", 100)
    steady = {("wipe", month): Cell(20, 10, 10, 5) for month in months}
    assert drifts(found_with(by_month=steady)) == ()
    better = {("wipe", month): Cell(20, 2 if month < "2025-08" else 12, 10, 5) for month in months}
    assert drifts(found_with(by_month=better)) == ()


def versions_by_month(**shares):
    """Cases of some months, of which so many in a hundred have the second version; of ten nobody knows it."""
    sign = Signature(attempts=(), end="abandoned", resolved_by=None)
    return [
        KeyedTally(sign, facts, is_double=False, count=count, month=month.replace("_", "-"))
        for month, share in shares.items()
        for facts, count in (({"fw": "2"}, share), ({"fw": "1"}, 100 - share), ({}, 10))
    ]


def test_a_version_that_became_common_when_a_step_stopped_working_is_told_with_what_the_step_does_on_it():
    playbook = small_desk(0).playbook.model_copy(update={"facts": (Fact(id="fw", ask="Firmware", type="version"),)})
    drift = Drift(
        step="wipe",
        since="2026-03",
        z=5,
        tries_before=40,
        resolved_before=20,
        expected_before=18,
        tries_after=40,
        resolved_after=4,
        expected_after=18,
    )
    split = Split(step="wipe", fact="fw", value="2", tries=40, resolved=4, expected=18, z=-4, p=0, level="sure")

    def told(**shares):
        (made,) = with_versions([drift], versions_by_month(**shares), playbook, [split])
        return [(one.value, round(one.before, 3), round(one.after, 3), one.split) for one in made.versions]

    rises = {"2026_01": 4, "2026_02": 6, "2026_03": 50, "2026_04": 70}
    assert told(**rises) == [("2", 0.05, 0.6, split)]
    assert told(**{"2026_01": 4, "2026_02": 6, "2026_03": 15, "2026_04": 20}) == [], "no more than 20 points"
    early = {"2025_08": 2, "2025_09": 60, "2025_10": 60, "2025_11": 60, "2025_12": 60, "2026_01": 60, "2026_03": 60}
    assert told(**early) == [], "long before"
    assert told(**{"2026_03": 60}) == [], "nothing to compare with"


def test_what_is_expected_adds_up_to_what_came_where_the_chances_are_the_truth():
    desk = small_desk(3, cases=3000)
    records, model = records_of(desk.tallies, desk.model)
    found = expected(desk.tallies, model, desk.truth)
    whole = [cell for cell in found.whole.values() if cell.variance > 5]
    scores = [(cell.resolved - cell.expected) / np.sqrt(cell.variance) for cell in whole]
    # Self-clearing aside, which adds up to a hundredth of the tries.
    assert len(scores) >= 5
    assert max(np.abs(scores)) < 4
    assert records.cases == 3000


@pytest.mark.parametrize("seed", range(3))
def test_luck_alone_makes_no_sure_split_and_no_drift(seed):
    desk = small_desk(seed, cases=1500)
    months = defaultdict(int)
    tallies = []
    for place, one in enumerate(desk.tallies):
        # Alike cases fall on months in turn, whatever came of them.
        for month in range(6):
            count = one.count // 6 + (month < one.count % 6 if place % 2 else month >= 6 - one.count % 6)
            if count:
                months[month] += count
                tallies.append(KeyedTally(one.signature, one.facts, False, count, f"2025-{month + 1:02}", "Here", True))
    _, model = records_of(tallies, desk.model)
    found = expected(tallies, model, desk.truth)
    assert [one for one in splits(found) if one.fact == "site"] == []
    assert drifts(found) == ()


def test_come_backs_count_recent_cures_as_far_as_they_go():
    old = Cured("wipe", "2026-01", 10, {2: 4})
    young = Cured("wipe", "2026-03-30", 10, {})
    (one,) = come_backs([old, young], TODAY, 14)
    # Two days on, the young ones are looked at no longer: 4 of the 10 old ones come back then.
    assert one.back[1] == 0
    assert one.back[2] == pytest.approx(0.4)
    assert one.p is None


def test_a_cure_that_does_not_hold_stands_out_from_the_others():
    made = come_backs([Cured("wipe", "2026-01", 60, {3: 20}), Cured("seat", "2026-01", 200, {5: 4})], TODAY, 14)
    by = {one.step: one for one in made}
    assert by["wipe"].back[-1] == pytest.approx(1 / 3)
    assert by["wipe"].others[-1] == pytest.approx(0.02)
    assert by["wipe"].p is not None
    assert by["wipe"].p < 1e-6
    alike = come_backs([Cured("wipe", "2026-01", 60, {3: 2}), Cured("seat", "2026-01", 60, {3: 2})], TODAY, 14)
    assert alike[0].p == pytest.approx(1.0)


def told(desk, tallies):
    records, model = records_of(tallies, desk.model)
    made = estimate(records, model, {}, {})
    mean = made.chances.mean()
    learned = [one.learned for one in made.estimate.steps]
    found = doubts(tallies, records, made.posterior, mean, expected(tallies, model, mean), learned)
    return {one.code: one for one in found}


def test_a_sound_log_hides_nothing():
    desk = small_desk(1, cases=1200)
    assert set(told(desk, desk.tallies)) <= {"one-order"}


def test_a_log_that_notes_only_what_worked_is_told_of_with_its_origin():
    desk = small_desk(1, cases=1200)
    alone = Signature(attempts=(AttemptSign(step="fix-7", result="fixed"),), end="resolved", resolved_by="fix-7")
    found = told(desk, [*desk.tallies, KeyedTally(alone, {}, False, 60, is_guided=False)])
    assert (found["last-only"].cases, found["last-only"].is_guided) == (60, False)
    assert found["gaps"].cases == 60


def test_cases_left_out_are_told_of_with_their_number():
    desk = small_desk(1, cases=600)
    better = Signature(attempts=(AttemptSign(step="fix-0", result="better"),), end="handed-off", resolved_by=None)
    more = [KeyedTally(better, {}, False, 7), KeyedTally(desk.tallies[0].signature, {}, True, 3)]
    found = told(desk, [*desk.tallies, *more])
    assert (found["better"].cases, found["double"].cases) == (7, 3)


def test_without_a_look_at_the_start_self_clearing_rests_on_an_assumption():
    desk = small_desk(1, cases=600)
    bare = [
        KeyedTally(one.signature.model_copy(update={"baseline": None}), one.facts, False, one.count)
        for one in desk.tallies
        if one.signature.end != "self-cleared"
    ]
    assert "no-baseline" in told(desk, bare)
    assert "no-baseline" not in told(desk, desk.tallies)


def test_causes_that_were_shared_otherwise_in_some_months_are_told_of():
    early, late = small_desk(11, cases=600), small_desk(11, cases=600)
    steady = [KeyedTally(one.signature, one.facts, False, one.count, "2025-01") for one in early.tallies]
    same = [KeyedTally(one.signature, one.facts, False, one.count, "2025-02") for one in late.tallies]
    assert "mix" not in told(early, [*steady, *same])
    first_alone = [one for one in same if one.signature.attempts[:1] and one.signature.attempts[0].result == "fixed"]
    assert "mix" in told(
        early, [*steady, *[KeyedTally(one.signature, one.facts, False, 9, "2025-02") for one in first_alone]]
    )


def test_a_guess_that_the_cases_contradict_is_marked_and_one_that_they_bear_out_is_not():
    desk = small_desk(12, cases=3000)
    records, model = records_of(desk.tallies, desk.model)
    made = estimate(records, model, {step: tried for step, (_, tried) in desk.raw.items()}, {})
    found = [one for one in guesses_of(made, {}) if one.what == "ends"]
    assert found
    for one in found:
        low, high = one.seen.low or 0.0, one.seen.high or 1.0
        assert one.is_contradicted == (not low <= one.judged <= high and one.learned >= 0.5)
    assert {one.is_contradicted for one in found} == {True, False}


def test_minutes_are_the_median_with_its_interval():
    step = Step.model_validate({"id": "wipe", "title": "Wipe", "kind": "fix", "effort": {"hands_on": 2}})
    # 64 is two to a multiple of eight bins over a sixteenth of a minute: its bin begins there.
    few = minutes_of_step(step, {"80": 5}, None)
    assert few is None
    made = minutes_of_step(step, {"80": 200}, None)
    assert made is not None
    assert made.judged == 2
    tested = minutes_of_step(step, {"80": 200}, Retest(how="Try it", hands_on=2, wait=1))
    assert tested is not None
    assert tested.judged == 5, "trying the original action again takes its time too"
    assert made.tries == 200
    assert made.low <= made.median <= made.high
    assert made.is_off
    assert minutes_of_step(step, {}, None) is None
