"""The density of chances: the example worked by hand, and the gradient against finite differences."""

import numpy as np
import pytest

from mildladder.core.evidence.learnable import learnable
from mildladder.core.evidence.posterior import Chances, Posterior
from mildladder.core.evidence.records import KeyedTally, LeftOut, Records, records_of
from mildladder.core.model import Playbook
from mildladder.core.tally.signature import AttemptSign, Signature
from tests.core.evidence.desks import small_desk

_NONE = Records((), 0, 0, 0.0, 0.0, LeftOut())


def _example():
    return learnable(
        Playbook.model_validate(
            {
                "format": "mild-ladder/playbook/1",
                "id": "tiny",
                "title": "Tiny",
                "symptom": {"says": "It is tiny"},
                "causes": [
                    {"id": "a", "title": "A", "layer": "data", "weight": 5},
                    {"id": "b", "title": "B", "layer": "data", "weight": 3},
                    {"id": "something-else", "title": "E", "layer": "data", "weight": 2},
                ],
                "steps": [
                    {"id": "one", "title": "One", "kind": "fix", "fixes": {"a": 0.8}},
                    {"id": "two", "title": "Two", "kind": "fix", "fixes": {"a": 0.5, "b": 0.6}},
                    {
                        "id": "look",
                        "title": "Look",
                        "kind": "check",
                        "findings": [
                            {"id": "f", "title": "F", "given": {"a": 0.9, "b": 0.2, "*": 0.5}},
                            {"id": "g", "title": "G", "given": {"a": 0.1, "b": 0.8, "*": 0.5}},
                        ],
                    },
                ],
                "ladder": [{"step": "look"}, {"step": "one"}, {"step": "two"}],
            }
        )
    )


def _chances(model):
    pooled = np.array([0.5, 0.3, 0.2])[:, None]
    cures = np.zeros((2, 3, 1))
    cures[0, :, 0], cures[1, :, 0] = [0.8, 0, 1e-12], [0.5, 0.6, 1e-12]
    return Chances(
        shares=np.ones((1, 1)),
        pooled=pooled,
        causes=pooled[None],
        cures=cures,
        findings=tuple(one.table[..., None] for one in model.findings),
        clears=np.array([0.01]),
    )


def _said(*attempts: AttemptSign) -> KeyedTally:
    return KeyedTally(Signature(attempts=attempts, end="resolved", resolved_by=None), {}, False, 1)


def test_the_priors_weigh_as_many_cases_as_they_are_said_to():
    model = _example()
    draws = Posterior(model, _NONE).prior_draws(40_000, 0)
    # A listed chance m is Beta(2m, 2 - 2m); what nobody lists may still end something else, with Beta(0.4, 19.6).
    for (source, cause), mean, cases in (((0, 0), 0.8, 2), ((1, 1), 0.6, 2), ((0, 2), 0.02, 20)):
        drawn = draws.cures[source, cause]
        assert drawn.mean() == pytest.approx(mean, abs=0.01)
        assert drawn.var() == pytest.approx(mean * (1 - mean) / (cases + 1), rel=0.05)
    assert draws.pooled.mean(-1) == pytest.approx([0.5, 0.3, 0.2], abs=0.01)
    assert draws.pooled[0].var() == pytest.approx(0.25 / 6, rel=0.05)
    assert draws.findings[0][0, 0].var() == pytest.approx(0.09 / 5, rel=0.05)
    assert draws.clears.mean() == pytest.approx(0.5 / 50.5, rel=0.05)
    assert (draws.cures[0, 1] == 0).all()


FIRST = _said(
    AttemptSign(step="look", result="found", finding="f"),
    AttemptSign(step="one", result="no-change"),
    AttemptSign(step="two", result="fixed"),
)


def test_a_record_is_as_likely_as_worked_by_hand():
    records, model = records_of([FIRST], _example())
    posterior = Posterior(model, records)
    logs, shares = posterior.explained(_chances(model))
    assert logs == pytest.approx([-2.4927], abs=5e-5)
    assert shares[0] == pytest.approx([0.5496, 0.4383, 0.0121], abs=5e-5)


def test_the_gradient_of_a_cure_is_as_worked_by_hand():
    records, model = records_of([FIRST], _example())
    with_it, without = Posterior(model, records), Posterior(model, _NONE)
    theta = with_it.vector(_chances(model))
    place = list(zip(*with_it.free, strict=True)).index((1, 0))
    # Its only look is the failed try of the first step, which speaks of clearing alone.
    pulled = with_it.density(theta)[1] - without.density(theta)[1]
    assert pulled[place, 0] == pytest.approx(0.2694, abs=5e-5)


def test_a_try_before_the_call_counts_half_and_speaks_of_its_case_alone():
    tried = _said(AttemptSign(step="one", result="no-change", before=True), AttemptSign(step="two", result="fixed"))
    records, model = records_of([tried], _example())
    logs, _ = Posterior(model, records).explained(_chances(model))
    by_count = {one.count: np.exp(log) for one, log in zip(records.records, logs, strict=True)}
    assert by_count == {1.0: pytest.approx(0.29612, abs=5e-6), -1.0: pytest.approx(0.72361, abs=5e-6)}
    assert np.log(by_count[1.0] / by_count[-1.0]) == pytest.approx(-0.8935, abs=5e-5)


@pytest.mark.parametrize("seed", range(4))
def test_the_gradient_is_that_of_the_density(seed):
    desk = small_desk(seed, cases=300, before=0.3)
    records, model = records_of(desk.tallies, desk.model)
    posterior = Posterior(model, records)
    theta = np.random.default_rng(seed).standard_normal((posterior.size, 2))
    value, gradient = posterior.density(theta)
    for place in range(posterior.size):
        step = np.zeros((posterior.size, 1))
        step[place] = 1e-5
        slope = (posterior.density(theta + step)[0] - posterior.density(theta - step)[0]) / 2e-5
        assert slope == pytest.approx(gradient[place], rel=1e-6, abs=1e-6 * abs(value).max())


def test_vectors_and_chances_are_two_ways_of_saying_the_same():
    desk = small_desk(3, cases=50)
    posterior = Posterior(*reversed(records_of(desk.tallies, desk.model)))
    theta = np.random.default_rng(0).standard_normal((posterior.size, 3))
    again = posterior.chances(posterior.vector(posterior.chances(theta)))
    before = posterior.chances(theta)
    for one, other in ((before.cures, again.cures), (before.causes, again.causes), (before.shares, again.shares)):
        assert one == pytest.approx(other)
