"""The log and its tallies: kept in one transaction, foldable, and the same when counted anew."""

from datetime import timedelta

import pytest

from mildladder.core.errors import BadInput, NotFound
from mildladder.desk.evidence.symptom import evidence
from mildladder.desk.home import symptoms
from mildladder.desk.library.steps import merge_steps
from mildladder.desk.log.intake import import_cases
from mildladder.desk.log.pages import CaseFilter, case_list, case_total, case_view
from mildladder.desk.publishing.files import import_playbook
from mildladder.store.database import Database
from mildladder.store.log import reading as store
from mildladder.store.log.rebuild import rebuild
from mildladder.store.log.rows import load_cases
from mildladder.store.log.search import visits
from mildladder.store.log.tallies import fold
from tests.conftest import LEAD_ID, SHELL
from tests.drafts import replace
from tests.samples import GATE, NOON, case, gate

ID = "gate-arm-up"
CURED = ("clear-hold", "fixed")


def log(desk: Database, *cases, now=NOON):
    with desk.writing() as session:
        return import_cases(session, cases, "import", SHELL, now)


def counts(desk: Database, step: str = "clear-hold", today=None):
    with desk.reading() as session:
        rows = evidence(session, ID, (today or NOON).date()).rows
    return next(row.counts for row in rows if row.step == step)


def tallies(desk: Database) -> dict:
    with desk.reading() as session:
        return {(t.period, t.returned, t.signature): t.count for t in store.tallies(session, ID)}


def test_logging_counts_at_once(desk):
    log(desk, case(1, CURED), case(2, ("clear-hold", "no-change")))
    assert (counts(desk).tried, counts(desk).resolved) == (2, 1)


def test_logging_a_case_twice_changes_nothing_and_a_changed_one_replaces_it(desk):
    log(desk, case(1, CURED))
    assert log(desk, case(1, CURED)).unchanged == 1
    assert log(desk, case(1, ("clear-hold", "no-change"))).updated == 1
    assert (counts(desk).tried, counts(desk).resolved) == (1, 0)


def test_a_case_that_says_nothing_of_something_is_the_same_however_it_does_so(desk):
    silent = case(1, CURED)
    log(desk, silent)
    assert log(desk, silent.model_copy(update={"ticket": None, "values": {}, "passed": ()})).unchanged == 1
    with desk.reading() as session:
        (one,) = load_cases(session.connection(), "id", ["C-1"])
    assert log(desk, one.case).unchanged == 1


def test_the_same_fault_on_the_same_unit_within_the_window_has_come_back(desk):
    first = case(1, CURED, days_ago=10, unit="GR4-1")
    other = case(2, CURED, days_ago=10, unit="GR4-2")
    log(desk, first, other, case(3, ("clear-hold", "no-change"), days_ago=2, unit="GR4-1"))
    with desk.reading() as session:
        assert case_view(session, "C-1").case.came_back == NOON - timedelta(days=2, minutes=10)
        assert case_view(session, "C-2").case.came_back is None
    assert (counts(desk).judged, counts(desk).held) == (1, 0)


def test_cases_may_arrive_in_any_order(desk):
    cases = [case(n, CURED, days_ago=n * 5, unit="GR4-1") for n in range(6)]
    log(desk, *cases)
    forwards = tallies(desk)
    other = Database(desk.path.with_name("other.db"))
    log(other, *reversed(cases))
    assert tallies(other) == forwards
    other.close()


def test_tallies_counted_anew_are_those_that_were_kept(desk):
    log(
        desk,
        *(case(n, CURED if n % 3 else ("clear-hold", "no-change"), days_ago=n, unit=f"U-{n % 4}") for n in range(40)),
    )
    log(desk, case(3, ("clear-hold", "could-not"), days_ago=3))
    kept = tallies(desk)
    with desk.writing() as session:
        rebuild(session, 14)
    assert tallies(desk) == kept
    assert sum(kept.values()) == 40


def test_days_fold_into_months_without_changing_what_is_held(desk):
    log(desk, *(case(n, CURED, days_ago=n) for n in range(30)))
    later = NOON + timedelta(days=30)
    before = counts(desk, today=later)
    with desk.writing() as session:
        fold(session, later.date(), 14)
    assert all(len(period) == 7 for period, _, _ in tallies(desk))
    assert counts(desk, today=later) == before
    assert before.judged == 30


def test_the_log_is_paged_and_filtered(desk):
    log(desk, *(case(n, CURED, days_ago=n, said=f"gate {n} is up, 100 % sure") for n in range(25)))
    with desk.reading() as session:
        seen, after = [], ""
        while True:
            page = case_list(session, CaseFilter(symptom=ID), after, 10)
            seen += [row.case for row in page.cases]
            if page.next is None:
                break
            after = page.next
        assert seen == [f"C-{n}" for n in range(25)]
        assert case_total(session, CaseFilter(words="gate 7")).total == 1
        assert case_total(session, CaseFilter(words="100 %")).total == 25
        assert case_total(session, CaseFilter(words="percent")).total == 0
        assert case_total(session, CaseFilter(end="handed-off")).total == 0
        assert case_total(session, CaseFilter(step="clear-hold")).total == 25
        with pytest.raises(BadInput):
            case_list(session, CaseFilter(), "nonsense", 10)


def test_no_page_loses_cases_of_the_day_on_which_the_page_before_it_ends(desk):
    log(desk, *(case(n, CURED, days_ago=n / 100) for n in range(25)))
    with desk.reading() as session:
        seen, after = [], ""
        while after is not None:
            page = case_list(session, CaseFilter(), after, 4)
            seen += [row.case for row in page.cases]
            after = page.next
    assert seen == [f"C-{n}" for n in range(25)]


def test_symptoms_are_counted_by_how_their_cases_ended(desk):
    log(desk, case(1, CURED), case(2, end="abandoned"))
    with desk.reading() as session:
        card = symptoms(session, NOON.date())[0]
    assert (card.cases, card.ended, card.minutes) == (2, {"resolved": 1, "abandoned": 1}, 20)


def test_one_bad_case_keeps_all_out(desk):
    def cases():
        yield case(1, CURED)
        raise BadInput("the second one is bad", line=2)

    with pytest.raises(BadInput), desk.writing() as session:
        import_cases(session, cases(), "import", SHELL, NOON)
    with desk.reading() as session, pytest.raises(NotFound):
        case_view(session, "C-1")


def test_evidence_stands_in_the_order_of_the_ladder_rails_included(desk):
    rail = [{"step": "wave-through"}, {"step": "save-counts"}]
    ladder = [{"step": "sensor-look", "on": {"blocked": rail}}, {"step": "clear-hold"}, {"step": "save-counts"}]
    with desk.writing() as session:
        replace(session, gate(ladder=ladder))
    log(desk, case(1, ("reload-program", "no-change")), case(2, ("elsewhere", "no-change")))
    with desk.reading() as session:
        rows = evidence(session, ID, NOON.date()).rows
    assert [(row.label, row.step) for row in rows] == [
        ("1", "sensor-look"),
        ("1a", "wave-through"),
        ("1b, 3", "save-counts"),
        ("2", "clear-hold"),
        (None, "elsewhere"),
        (None, "reload-program"),
    ]


def harm(step: str, kinds: list[str] | None) -> dict:
    return {"step": step, "outcome": "no-change", "harmed": kinds}


def test_harm_is_counted_where_it_was_asked_about_beside_what_the_step_names(desk):
    told = [harm("reload-program", ["data"]), harm("reload-program", []), harm("reload-program", None)]
    odd = harm("clear-hold", ["service", "injury"])
    log(desk, case(1, attempts=told), case(2, attempts=[odd, harm("sensor-look", [])]))
    with desk.reading() as session:
        seen = {row.step: row.harms for row in evidence(session, ID, NOON.date()).rows}
    data = seen["reload-program"][0]
    assert (data.kind, data.judged, data.eased_by, data.asked, data.seen) == ("data", 0.5, "save-counts", 2, 1)
    assert data.rate.low < 0.5 < data.rate.high
    assert [(one.kind, one.judged, one.seen) for one in seen["clear-hold"]] == [
        ("service", None, 1),
        ("injury", None, 1),
    ]
    assert seen["sensor-look"] == seen["save-counts"] == ()


def test_harm_of_a_merged_step_counts_for_the_other(desk):
    steps = [*GATE["steps"], {"id": "load-anew", "title": "Load anew", "kind": "fix"}]
    with desk.writing() as session:
        import_playbook(session, gate(steps=steps), LEAD_ID, NOON, None, None)
    log(desk, case(1, attempts=[harm("load-anew", ["data"])]), case(2, attempts=[harm("reload-program", [])]))
    with desk.writing() as session:
        merge_steps(session, "load-anew", "reload-program", LEAD_ID, NOON)
        count = store.harm_counts(session, ID)["reload-program"]
    assert (count.asked, count.seen["data"]) == (2, 1)


def test_what_units_had_before_is_read_for_the_cases_logged_last(desk):
    steps = [*GATE["steps"], {"id": "hold-off", "title": "Switch the hold off", "kind": "fix"}]
    with desk.writing() as session:
        import_playbook(session, gate(steps=steps), LEAD_ID, NOON, None, None)
    log(
        desk,
        case(1, CURED, days_ago=9, unit="A"),
        case(2, ("hold-off", "fixed"), days_ago=6, unit="A"),
        case(3, days_ago=5, unit="B"),
        case(4, days_ago=4),
        case(5, days_ago=2, unit="A"),
    )
    with desk.writing() as session:
        merge_steps(session, "hold-off", "clear-hold", LEAD_ID, NOON)
    with desk.reading() as session:
        asked, had = visits(session, ID, 2)
    assert [(one.unit, (NOON - one.closed).days) for one in asked] == [("A", 2), ("", 4)]
    # Only what the units of those had, and merged steps under what they count as.
    assert sorted((one.unit, (NOON - one.closed).days, one.resolved_by) for one in had) == [
        ("A", 2, None),
        ("A", 6, "clear-hold"),
        ("A", 9, "clear-hold"),
    ]
