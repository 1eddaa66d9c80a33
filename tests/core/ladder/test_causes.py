"""Priors, findings and what is still likely, by hand from Bayes' rule."""

import pytest

from mildladder.core.errors import BadInput
from mildladder.core.figures.likely import likely_causes
from mildladder.core.ladder.causes import all_causes, finding_chances, priors
from mildladder.core.model import Attempt
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


def test_what_was_not_carried_out_says_nothing():
    attempts = [Attempt(step="clear-hold", outcome=o) for o in ("could-not", "skipped", "not-available", "better")]
    attempts += [Attempt(step="clear-hold", outcome="no-change", took="no"), Attempt(step="unknown", outcome="fixed")]
    assert likely(*attempts) == pytest.approx(likely())
