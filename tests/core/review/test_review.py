"""Review: each rule alone, every mend, its speed's shape, and the demo's own playbooks."""

import pytest

from mildladder.core.errors import Conflict
from mildladder.core.figures.forecast import forecast
from mildladder.core.model import Playbook
from mildladder.core.review import ReviewFinding, mended, mends, review
from tests.core.ordering.ladders import ladder_of
from tests.core.review.review_cases import CASES, KNOWN, make, on
from tests.parts import in_part

LEVELS = {"blocker": 0, "warning": 1, "hint": 2}


def codes(playbook: Playbook) -> list[str]:
    return [finding.code for finding in review(playbook, KNOWN)]


def name(finding: ReviewFinding) -> tuple[str, str]:
    """A finding wherever its rung stands."""
    return finding.code, finding.says


def test_of_a_playbook_with_nothing_to_say_it_says_nothing():
    assert review(make(), KNOWN) == []


@pytest.mark.parametrize(("code", "broken", "passing"), CASES)
def test_a_rule_is_broken_by_one_thing_and_passes_without_it(code, broken, passing):
    assert code in codes(broken)
    assert code not in codes(passing)


def test_every_rule_has_such_a_pair():
    assert len({code for code, _, _ in CASES}) >= 33


@pytest.mark.parametrize(("code", "broken", "passing"), CASES)
def test_a_mend_removes_its_finding_and_adds_none(code, broken, passing):
    assert_mends(broken)


@pytest.mark.parametrize("seed", in_part(range(150), 40))
def test_on_random_ladders_too(seed):
    assert_mends(ladder_of(seed, 5))


def assert_mends(playbook: Playbook) -> None:
    before = review(playbook, KNOWN)
    for one in mends(playbook, KNOWN):
        finding = next(found for found in before if name(found) == (one.code, one.finding))
        made, says = mended(playbook, one.code, one.finding, KNOWN)
        after = {name(found) for found in review(made, KNOWN)}
        assert says == one.says
        assert name(finding) not in after, finding
        assert after <= {name(found) for found in before}, finding


MENDED = {
    "safeguard-below",
    "safeguard-absent",
    "needs-below",
    "needs-absent",
    "finding-below",
    "finding-absent",
    "no-end",
    "rough-above-mild",
    "never-reached",
    "footing-twice",
    "idle-check",
    "visit-above-desk",
    "uneven-causes",
    "always-holds",
}


@pytest.mark.parametrize("code", sorted(MENDED))
def test_what_can_be_mended_in_one_press_is_offered(code):
    broken = [playbook for name_of, playbook, _ in CASES if name_of == code]
    assert any(one.code == code for playbook in broken for one in mends(playbook, KNOWN))


def test_blockers_come_first_and_all_have_a_place():
    for seed in range(40):
        found = review(ladder_of(seed, 5), KNOWN)
        levels = [LEVELS[finding.level] for finding in found]
        assert levels == sorted(levels)
        assert all(finding.where and finding.says for finding in found)


def test_figures_at_hand_are_used():
    playbook = make(on("clear-hold", when="model is GR4"))
    assert review(playbook, KNOWN, forecast(playbook)) == review(playbook, KNOWN)


def test_what_is_not_there_cannot_be_mended():
    with pytest.raises(Conflict, match="look at the review again"):
        mended(make(), "no-end", "nothing")
