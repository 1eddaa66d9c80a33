"""Review: reads a draft as a careful colleague would, and mends what can be mended in one press."""

from collections.abc import Iterator
from datetime import date

from mildladder.core.errors import BadInput, Conflict
from mildladder.core.figures.forecast import Forecast
from mildladder.core.ladder.links import rail_ends
from mildladder.core.model import Playbook
from mildladder.core.review.blockers import blockers
from mildladder.core.review.finding import Found, LinksByPlaybook, Mend, ReviewFinding, Subject
from mildladder.core.review.hints import hints
from mildladder.core.review.warnings import warnings

__all__ = ["LinksByPlaybook", "Mend", "ReviewFinding", "links_of", "mended", "mends", "review"]


def review(
    playbook: Playbook,
    known: LinksByPlaybook | None = None,
    figures: Forecast | None = None,
    today: date | None = None,
    helped: frozenset[str] = frozenset(),
) -> list[ReviewFinding]:
    """Every finding, blockers first, each level from top to bottom of the ladder.

    known: every playbook of the desk with those that its rails lead on to; None: links are not looked at. figures:
    the forecast of the ladder, where it is at hand. today: by which advice is old; None: none is. helped: steps that
    ended the fault of a logged case.
    """
    return [
        ReviewFinding(level=one.level, code=one.code, where=one.where, rung=one.rung, says=one.says)
        for one in _found(Subject(playbook, known, figures, today, helped))
    ]


def mends(playbook: Playbook, known: LinksByPlaybook | None = None) -> list[Mend]:
    """What can be mended in one press: each was tried, takes its finding away and brings no other about."""
    found = list(_found(Subject(playbook, known)))
    return [
        Mend(code=one.code, finding=one.says, says=one.mend)
        for one in found
        if one.mend is not None and _mends(one, found, known)
    ]


def mended(playbook: Playbook, code: str, finding: str, known: LinksByPlaybook | None = None) -> tuple[Playbook, str]:
    """The playbook with one finding mended, told by its code and sentence, and what was done.

    Raises Conflict when there is no such finding, or nothing that mends it.
    """
    found = list(_found(Subject(playbook, known)))
    for one in found:
        is_asked = (one.code, one.says) == (code, finding)
        if is_asked and one.mended is not None and one.mend is not None and _mends(one, found, known):
            return one.mended(), one.mend
    raise Conflict("that finding is gone, or it cannot be mended in one press; look at the review again")


def links_of(playbook: Playbook) -> frozenset[str]:
    """The playbooks that its rails lead on to."""
    return frozenset(one.playbook for one in rail_ends(playbook))


def _mends(one: Found, found: list[Found], known: LinksByPlaybook | None) -> bool:
    assert one.mended is not None
    try:
        after = {(other.code, other.says) for other in _found(Subject(one.mended(), known))}
    except BadInput:
        return False
    return (one.code, one.says) not in after and after <= {(other.code, other.says) for other in found}


def _found(subject: Subject) -> Iterator[Found]:
    broken = list(blockers(subject))
    yield from broken
    if not any(one.code == "unsound" for one in broken):
        yield from warnings(subject)
        yield from hints(subject)
