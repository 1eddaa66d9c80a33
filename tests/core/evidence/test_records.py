"""What a case says to the estimate, rule by rule (evidence, section 1)."""

import pytest

from mildladder.core.evidence.learnable import NOTHING, SOMETHING, learnable
from mildladder.core.evidence.records import KeyedTally, events_of, records_of
from mildladder.core.model import Playbook
from mildladder.core.tally.signature import AttemptSign, Signature

CAUSES = [{"id": name, "title": name, "layer": "data", "weight": 1} for name in ("a", "b")]
MODELS = {"id": "model", "ask": "Which?", "type": "choice", "choices": {"K1": 0.5, "K2": 0.3, "K3": 0.2}}
TESTED = frozenset({"one", "two", "three"})


def playbook(**more) -> Playbook:
    steps = [{"id": step, "title": step, "kind": "fix", "fixes": {"a": 0.5}} for step in ("one", "two", "three")]
    data = {
        "format": "mild-ladder/playbook/1",
        "id": "x",
        "title": "X",
        "symptom": {"says": "X"},
        "causes": CAUSES,
        "steps": steps,
        "ladder": [{"step": step["id"]} for step in steps],
    }
    return Playbook.model_validate({**data, **more})


def sign(*attempts, end="handed-off", baseline=None) -> Signature:
    made = tuple(AttemptSign(**one) for one in attempts)
    return Signature(attempts=made, end=end, resolved_by=None, baseline=baseline)


def tried(step, result="no-change", **more):
    return {"step": step, "result": result, **more}


def test_a_step_fails_once_a_case_however_often_it_was_tried():
    found = events_of(sign(tried("one"), tried("one", "worse"), tried("two", "could-not")), TESTED)
    assert found.failed == ("one",)
    assert found.looks == 2


def test_what_failed_before_the_call_counts_apart_and_is_no_look():
    found = events_of(sign(tried("one", before=True), tried("two", before=True), tried("two")), TESTED)
    assert (found.before, found.failed, found.looks) == (("one",), ("two",), 1)


def test_what_worked_before_the_call_says_nothing():
    found = events_of(sign(tried("one", "fixed", before=True)), TESTED)
    assert (found.ended, found.before, found.looks) == ((), (), 0)


def test_what_did_not_take_and_what_the_playbook_lacks_say_nothing():
    found = events_of(sign(tried("one", took="no"), tried("odd", "fixed"), end="resolved"), TESTED)
    assert (found.failed, found.ended, found.looks, found.is_cleared) == ((), (), 0, False)


def test_what_may_have_taken_counts_as_it_is_logged():
    assert events_of(sign(tried("one", took="unknown")), TESTED).failed == ("one",)


def test_steps_of_one_trial_are_one_event():
    found = events_of(sign(tried("one", "fixed", trial=1), tried("two", "fixed", trial=1), end="resolved"), TESTED)
    assert (found.ended, found.looks) == ((("one", "two"),), 0)


def test_a_step_that_had_failed_leaves_the_event():
    both = [tried("one"), tried("one", "fixed", trial=1), tried("two", "fixed", trial=1)]
    assert events_of(sign(*both, end="resolved"), TESTED).ended == (("two",),)


def test_an_event_of_nothing_but_failed_steps_is_the_fault_clearing_by_itself_and_no_look():
    found = events_of(sign(tried("one"), tried("one", "fixed"), end="resolved"), TESTED)
    assert (found.ended, found.is_cleared, found.looks) == ((), True, 1)


@pytest.mark.parametrize(
    ("baseline", "looks", "is_cleared"), [("fails", 1, False), ("works", 0, True), (None, 0, False)]
)
def test_the_look_at_the_start(baseline, looks, is_cleared):
    found = events_of(sign(baseline=baseline), TESTED)
    assert (found.looks, found.is_cleared) == (looks, is_cleared)


def test_a_workaround_and_the_repair_that_followed_are_two_events():
    found = events_of(sign(tried("one", "fixed"), tried("two"), tried("three", "fixed"), end="resolved"), TESTED)
    assert found.ended == (("one",), ("three",))
    assert found.failed == ("two",)


def of(tallies, made: Playbook):
    return records_of([KeyedTally(*one) for one in tallies], learnable(made))


def test_records_that_agree_are_added_up_and_tries_before_the_call_have_their_companion():
    same = sign(tried("one", before=True), tried("two", "fixed"), end="resolved")
    records, _ = of([(same, {}, False, 2), (same, {"odd": "x"}, False, 3)], playbook())
    assert sorted(one.count for one in records.records) == [-5.0, 5.0]
    assert records.cases == 5


def groups_open(facts, made):
    records, _ = of([(sign(tried("one")), facts, False, 1)], made)
    return [row.groups for row in records.records[0].rows]


def test_units_stay_open_until_their_fact_is_known():
    made = playbook(facts=[MODELS], ladder=[{"step": "one"}, {"step": "two", "when": "model is K1"}])
    assert groups_open({}, made) == [(0, 1)]
    assert groups_open({"model": "K1"}, made) == [(0,)]
    assert groups_open({"model": "K3"}, made) == [(1,)]


def test_a_value_without_a_share_stands_for_those_on_which_every_condition_comes_out_alike():
    made = playbook(facts=[MODELS], ladder=[{"step": "one", "when": "model is K1"}])
    assert groups_open({"model": "M9"}, made) == [(1,)]


def test_a_record_has_a_row_for_each_class_of_units_on_which_its_steps_are_alike():
    steps = [
        {
            "id": "one",
            "title": "One",
            "kind": "fix",
            "fixes": {"a": 0.5},
            "varies": [{"when": "model is K2", "fixes": {"b": 0.5}}],
        }
    ]
    made = playbook(facts=[MODELS], steps=steps, ladder=[{"step": "one"}])
    records, model = of([(sign(tried("one")), {}, False, 1)], made)
    (record,) = records.records
    assert [len(row.groups) for row in record.rows] == [1, 1]
    assert {model.sources[row.failed[0]].variant for row in record.rows} == {None, 0}


def test_nothing_to_do_is_a_finding_once_it_was_logged_five_times():
    few = [(sign(tried("one", "nothing-to-do")), {}, False, 4), (sign(tried("one")), {}, False, 16)]
    assert (("one", NOTHING) in of(few, playbook())[1].found_at) is False
    many = [(sign(tried("one", "nothing-to-do")), {}, False, 5), (sign(tried("one")), {}, False, 15)]
    records, model = of(many, playbook())
    place, _ = model.found_at["one", NOTHING]
    ends_a, _, _ = (model.findings[place].table[0]).tolist()
    assert ends_a == pytest.approx(0.025)
    assert model.findings[place].table[0].tolist()[1] == pytest.approx(0.25)
    said = {one.findings: one.count for one in records.records}
    assert said == {
        (model.found_at["one", NOTHING],): 5.0,
        (model.found_at["one", SOMETHING],): 15.0,
    }
