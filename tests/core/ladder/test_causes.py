"""Priors, findings and what is still likely, by hand from Bayes' rule."""

from copy import deepcopy

import pytest

from mildladder.core.errors import BadInput
from mildladder.core.figures.likely import likely_causes
from mildladder.core.ladder.causes import all_causes, finding_chances, priors, priors_on
from mildladder.core.ladder.units import fact_types, mean_priors
from mildladder.core.model import Attempt, Playbook
from tests.samples import GATE, gate, gate_with_step


def likely(*attempts: Attempt) -> dict[str, float]:
    return {cause.id: share for cause, share in likely_causes(gate(), attempts)}


def test_something_else_gets_a_tenth_when_the_file_names_none():
    shares = priors(all_causes(gate()))
    assert list(shares) == pytest.approx([0.9 * 4 / 7, 0.9 * 3 / 7, 0.1])
    named = [*GATE["causes"], {"id": "something-else", "title": "Else", "layer": "outside", "weight": 7}]
    assert list(priors(all_causes(gate(causes=named)))) == pytest.approx([4 / 14, 3 / 14, 7 / 14])


def test_findings_are_normalised_for_each_cause():
    findings = [
        {"id": "a", "title": "A", "given": {"sensor-dirty": 3e-1, "*": 0.1}},
        {"id": "b", "title": "B", "given": {"*": 0.1}},
    ]
    table = finding_chances(gate_with_step("sensor-look", findings=findings).step("sensor-look"), all_causes(gate()))
    assert table[:, 0] == pytest.approx([0.75, 0.25])
    assert table.sum(axis=0) == pytest.approx([1, 1, 1])


def test_findings_that_are_all_nothing_for_a_cause_are_an_error():
    findings = [{"id": "a", "title": "A", "given": {"sensor-dirty": 1.0}}]
    with pytest.raises(BadInput, match="all 0 for the cause 'bad-setting'"):
        finding_chances(gate_with_step("sensor-look", findings=findings).step("sensor-look"), all_causes(gate()))


def test_a_failed_fix_and_a_finding_change_what_is_likely():
    before = likely()
    failed = likely(Attempt(step="clear-hold", outcome="no-change"))
    weight = before["bad-setting"] * 0.05
    assert failed["bad-setting"] == pytest.approx(weight / (1 - before["bad-setting"] + weight))
    found = likely(Attempt(step="sensor-look", finding="blocked"))
    assert found["sensor-dirty"] > 0.9
    assert sum(found.values()) == pytest.approx(1)


def test_a_try_that_ended_the_fault_weighs_a_cause_by_its_chance_to_end_it():
    before, after = likely(), likely(Attempt(step="clear-hold", outcome="fixed"))
    assert after == pytest.approx({"bad-setting": 1.0, **dict.fromkeys(before.keys() - {"bad-setting"}, 0.0)})


def test_of_a_trial_that_ended_the_fault_any_of_its_steps_may_have_done_it():
    playbook = gate_with_step("wave-through", fixes={"sensor-dirty": 0.5})
    trial = [Attempt(step=one, outcome="fixed", trial=1) for one in ("clear-hold", "wave-through")]
    prior = {cause.id: share for cause, share in likely_causes(playbook, [])}
    shares = {cause.id: share for cause, share in likely_causes(playbook, trial)}
    weights = {"bad-setting": 0.95 * prior["bad-setting"], "sensor-dirty": 0.5 * prior["sensor-dirty"]}
    assert shares["bad-setting"] == pytest.approx(weights["bad-setting"] / sum(weights.values()))
    assert shares["sensor-dirty"] == pytest.approx(weights["sensor-dirty"] / sum(weights.values()))


def test_where_there_was_nothing_to_do_its_causes_are_less_likely():
    nothing = likely(Attempt(step="clear-hold", outcome="nothing-to-do"))
    assert nothing == pytest.approx(likely(Attempt(step="clear-hold", outcome="no-change")))


def test_what_was_not_carried_out_says_nothing():
    attempts = [Attempt(step="clear-hold", outcome=o) for o in ("could-not", "skipped", "not-available", "better")]
    attempts += [Attempt(step="clear-hold", outcome="no-change", took="no"), Attempt(step="unknown", outcome="fixed")]
    assert likely(*attempts) == pytest.approx(likely())


def moved() -> Playbook:
    """Two causes of weight 4 and 3, the second four times as likely on GR6; and a message that points to the first."""
    causes = deepcopy(GATE["causes"])
    causes[1]["likelier"] = [{"when": "model is GR6", "times": 4}, {"when": "firmware above 9", "times": 0}]
    signs = [{"kind": "message", "text": "ARM {arm} NOT HOME", "points_to": {causes[0]["id"]: 10}}]
    return gate(causes=causes, symptom={"says": "It is up", "signs": signs})


def test_facts_make_causes_likelier_and_something_else_keeps_its_weight():
    causes, types = all_causes(moved()), fact_types(moved())
    assert list(priors_on(causes, {"model": "GR6"}, types)) == pytest.approx(
        [4 / 16.7778, 12 / 16.7778, 0.7778 / 16.7778], abs=1e-4
    )
    # What is unknown does not hold.
    assert list(priors_on(causes, {}, types)) == pytest.approx(list(priors(causes)))
    assert sum(mean_priors(moved(), causes)) == pytest.approx(1)


def test_signs_point_to_causes_in_a_guided_case():
    first = moved().causes[0].id
    told = {c.id: s for c, s in likely_causes(moved(), [], {"model": "GR4"}, "it says ARM 3 NOT HOME")}
    silent = {c.id: s for c, s in likely_causes(moved(), [], {"model": "GR4"}, "it is up")}
    assert told[first] / (1 - told[first]) == pytest.approx(10 * silent[first] / (1 - silent[first]))


def test_facts_that_rule_every_cause_out_leave_the_weights():
    causes = [{**cause, "likelier": [{"when": "firmware above 9", "times": 0}]} for cause in deepcopy(GATE["causes"])]
    causes.append({"id": "something-else", "title": "Else", "layer": "outside", "weight": 0})
    odd = gate(causes=causes)
    plain = [share for _, share in likely_causes(odd, [])]
    assert [share for _, share in likely_causes(odd, [], {"firmware": "10"})] == pytest.approx(plain)
