"""Every figure that the method of evidence names can be worked out from the tallies alone: each shown against the rows.

A record's parts (failed, tried before, found, event, looks), what a log may hide, minutes, harm, safeguards, returns.
"""

import statistics
from collections import Counter, defaultdict

import pytest

from mildladder.core.tally.counts import minutes_of
from mildladder.core.tally.signature import read_signature
from mildladder.demo.desk import fill
from mildladder.store.database import Database
from mildladder.store.log.rows import load_cases
from tests.samples import NOON

CASES = 800


@pytest.fixture(scope="module")
def log(tmp_path_factory):
    """The demo's cases, and its tallies: (stratum, signature, count, returned, seconds) and counts of steps."""
    database = Database(tmp_path_factory.mktemp("demo") / "desk.db")
    with database.writing() as session:
        fill(session, CASES, NOON)
        connection = session.connection()
        rows = load_cases(connection, "number", range(1, 2 * CASES))
        execute = connection.exec_driver_sql
        tallies = [
            (row[0], read_signature(row[1]), *row[2:])
            for row in execute(
                "SELECT stratum, text, count, returned, seconds FROM tallies"
                " JOIN signatures ON signatures.number = signature"
            )
        ]
        strata = {row.number: row for row in execute("SELECT * FROM strata").mappings()}
        steps = execute("SELECT stratum, step, what, value, count FROM step_tallies").all()
    database.close()
    return rows, tallies, strata, steps


def summed(tallies, of) -> Counter:
    found: Counter = Counter()
    for stratum, sign, count, *_ in tallies:
        for key in of(stratum, sign):
            found[key] += count
    return +found


def test_cases_by_symptom_edition_period_site_origin_and_facts(log):
    rows, tallies, strata, _ = log
    counted: Counter = Counter()
    for stratum, _, count, *_ in tallies:
        key = strata[stratum]
        counted[key["symptom"], key["edition"], key["period"][:7], key["site"], bool(key["is_guided"])] += count
    said = Counter(
        (r.case.symptom, r.linked or 0, r.case.closed.strftime("%Y-%m"), r.case.site, r.origin != "import")
        for r in rows
    )
    assert counted == said


def test_failed_tries_and_tries_before_the_call(log):
    rows, tallies, *_ = log
    bad = ("no-change", "worse")

    def of_sign(_, sign):
        yield from {(a.step, a.before) for a in sign.attempts if a.result in bad and a.took is None}

    said = Counter(
        key
        for r in rows
        for key in {(a.step, a.by == "before") for a in r.case.attempts if a.outcome in bad and a.took in (None, "yes")}
    )
    assert summed(tallies, of_sign) == said


def test_findings(log):
    rows, tallies, *_ = log
    of_sign = lambda _, sign: {(a.step, a.finding) for a in sign.attempts if a.finding}  # noqa: E731
    said = Counter(key for r in rows for key in {(a.step, a.finding) for a in r.case.attempts if a.finding})
    assert summed(tallies, of_sign) == said


def test_events_with_the_steps_that_share_a_trial(log):
    rows, tallies, *_ = log

    def of_sign(_, sign):
        fixed: dict = defaultdict(list)
        for n, a in enumerate(sign.attempts):
            if a.result == "fixed":
                fixed[a.trial or f"alone {n}"].append(a.step)
        return [tuple(steps) for steps in fixed.values()]

    said: Counter = Counter()
    for r in rows:
        fixed: dict = defaultdict(list)
        for n, a in enumerate(r.case.attempts):
            if a.outcome == "fixed":
                fixed[f"trial {a.trial}" if a.trial is not None else f"alone {n}"].append(a.step)
        said.update(tuple(steps) for steps in fixed.values())
    assert summed(tallies, of_sign) == said


def test_looks_by_baseline_and_trials(log):
    rows, tallies, *_ = log

    def looks(attempts, baseline, trial_of, fixed_of, before_of):
        trials: dict = defaultdict(list)
        for n, a in enumerate(attempts):
            if not before_of(a) and trial_of(a)[0] in ("fixed", "no-change", "better", "worse"):
                trials[trial_of(a)[1] if trial_of(a)[1] is not None else f"alone {n}"].append(fixed_of(a))
        return (baseline == "fails") + sum(not any(fixed) for fixed in trials.values())

    of_sign = lambda _, s: [  # noqa: E731
        looks(s.attempts, s.baseline, lambda a: (a.result, a.trial), lambda a: a.result == "fixed", lambda a: a.before)
    ]
    said = Counter(
        looks(
            r.case.attempts,
            r.case.baseline,
            lambda a: (a.outcome, a.trial),
            lambda a: a.outcome == "fixed",
            lambda a: a.by == "before",
        )
        for r in rows
    )
    assert summed(tallies, of_sign) == said


def test_what_was_impossible_needless_or_skipped(log):
    rows, tallies, *_ = log
    sorts = ("could-not", "not-available", "nothing-to-do", "skipped", "done")
    of_sign = lambda _, sign: [(a.step, a.result) for a in sign.attempts if a.result in sorts]  # noqa: E731
    said = Counter((a.step, a.outcome) for r in rows for a in r.case.attempts if a.outcome in sorts and not a.finding)
    told = summed(tallies, of_sign)
    found = Counter((a.step, a.outcome) for r in rows for a in r.case.attempts if a.outcome in sorts)
    assert told == found
    assert said <= found


def test_held_and_the_days_to_a_return(log):
    rows, tallies, _, steps = log
    returned: Counter = Counter()
    for _, sign, _, back, _ in tallies:
        if sign.resolved_by:
            returned[sign.resolved_by] += back
    said = Counter(r.case.resolved_by for r in rows if r.came_back and r.case.resolved_by)
    assert +returned == said
    days: Counter = Counter()
    for _, step, what, value, count in steps:
        if what == "return":
            days[step, int(value)] += count
    assert days == Counter(
        (r.case.resolved_by, (r.came_back - r.case.closed).days) for r in rows if r.came_back and r.case.resolved_by
    )


def test_median_minutes_of_each_step_within_a_bin(log):
    rows, _, _, steps = log
    bins: dict[str, list[float]] = defaultdict(list)
    for _, step, what, value, count in steps:
        if what == "minutes" and step:
            bins[step] += [minutes_of(value)] * count
    said: dict[str, list[float]] = defaultdict(list)
    for r in rows:
        for a in r.case.attempts:
            if a.minutes is not None:
                said[a.step].append(a.minutes)
    assert {step: len(values) for step, values in bins.items()} == {step: len(values) for step, values in said.items()}
    for step, values in said.items():
        median = statistics.median_low(values)
        assert statistics.median_low(sorted(bins[step])) == pytest.approx(median, rel=0.046, abs=0.07), step


def test_harm_asked_and_seen_and_safeguards_used(log):
    rows, _, _, steps = log
    told: Counter = Counter()
    for _, step, what, value, count in steps:
        if what in ("harm", "safeguard"):
            told[step, what, value] += count
    said: Counter = Counter()
    for r in rows:
        for a in r.case.attempts:
            for value in ("asked", *a.harmed) if a.harmed is not None else ():
                said[a.step, "harm", value] += 1
            if a.safeguard_used:
                said[a.step, "safeguard", a.safeguard_used] += 1
    assert told == said
    assert any(key[1] == "harm" and key[2] != "asked" for key in said)


def test_minutes_of_cases_by_stratum_for_editions_compared(log):
    rows, tallies, strata, _ = log
    told: Counter = Counter()
    for stratum, _, _, _, seconds in tallies:
        told[strata[stratum]["symptom"], strata[stratum]["edition"]] += seconds
    said: Counter = Counter()
    for r in rows:
        said[r.case.symptom, r.linked or 0] += round(60 * r.case.minutes())
    assert told == said


def test_what_a_log_may_hide_by_origin(log):
    rows, tallies, strata, _ = log

    def single(attempts) -> bool:
        return len(attempts) == 1

    def of_sign(stratum, sign):
        if sign.end == "resolved":
            yield bool(strata[stratum]["is_guided"]), single(sign.attempts), bool(sign.passed), sign.baseline

    said = Counter(
        (r.origin != "import", single(r.case.attempts), bool(r.case.passed), r.case.baseline)
        for r in rows
        if r.case.end == "resolved"
    )
    assert summed(tallies, of_sign) == said
