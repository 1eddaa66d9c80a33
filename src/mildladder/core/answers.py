"""What an agent may answer at each point of a guided case, with the key for it.

Kept beside the state machine and not in the interface, so that every front (browser, demo, tests) climbs by one rule.
"""

from typing import Literal

from mildladder.core.climb import (
    Answered,
    BaselineSeen,
    Climb,
    Consented,
    Ended,
    FactGiven,
    GuardAnswered,
    Move,
    WentOn,
)
from mildladder.core.model import Confirmed, Outcome, Shape

__all__ = ["Answer", "answers"]

_LABELS: dict[Outcome, str] = {
    "fixed": "Fixed",
    "no-change": "No change",
    "better": "Better, not gone",
    "worse": "Worse",
    "done": "Done",
    "nothing-to-do": "Nothing to do",
    "not-available": "Not there on this unit",
    "could-not": "Could not do it",
    "skipped": "Skip it",
}
_RARE: tuple[Outcome, ...] = ("could-not", "not-available", "nothing-to-do", "skipped")
_CONFIRMED: dict[Confirmed, str] = {
    "caller": "The caller says it works",
    "measured": "Seen to work",
    "assumed": "Assumed",
}


class Answer(Shape):
    """One legal move. `key`: the key that gives it; rare ones are shown only after the key for the rarer answers.

    `tone`: good ends the fault, plain goes on, harsh ends the case without it.
    """

    key: str
    label: str
    is_rare: bool
    tone: Literal["good", "plain", "harsh"]
    move: Move


def answers(climb: Climb) -> tuple[Answer, ...]:
    """Every answer that fits where the climb stands, in the order of their keys; none once it has ended."""
    match climb.place:
        case "baseline":
            return (
                _answer("1", "It fails now", BaselineSeen(result="fails")),
                _answer("2", "It works now", BaselineSeen(result="works")),
                _answer("3", "Cannot try", BaselineSeen(result="cannot-try")),
            )
        case "works-now":
            return (
                _answer("1", "Close: cleared by itself", Ended(end="self-cleared", confirmed="caller"), "good"),
                _answer("2", "Go on all the same", WentOn()),
            )
        case "fact":
            return _fact_answers(climb)
        case "guard":
            return tuple(
                _answer(word[0], word.capitalize(), GuardAnswered(step=climb.step.id, number=climb.guards, answer=word))
                for word in ("yes", "no")
            )
        case "consent":
            return (
                _answer("y", "They agree", Consented(step=climb.step.id, answer="yes")),
                _answer("n", "No", Consented(step=climb.step.id, answer="no")),
            )
        case "step":
            return _step_answers(climb)
        case "confirm":
            return _confirm_answers(climb)
        case "hand-off":
            return _hand_off_answers(climb)
    return ()


def _answer(
    key: str, label: str, move: Move, tone: Literal["good", "plain", "harsh"] = "plain", is_rare: bool = False
) -> Answer:
    return Answer(key=key, label=label, is_rare=is_rare, tone=tone, move=move)


def _fact_answers(climb: Climb) -> tuple[Answer, ...]:
    fact = next(f for f in climb.playbook.facts if f.id == climb.asked_fact)
    known = [
        _answer(str(number) if number < 9 else "", value, FactGiven(fact=fact.id, value=value))
        for number, value in enumerate(fact.choices, start=1)
    ]
    return (*known, _answer("9", "Cannot tell", FactGiven(fact=fact.id, value=None)))


def _step_answers(climb: Climb) -> tuple[Answer, ...]:
    step = climb.step
    usual: list[tuple[str, Answered]] = []
    if step.is_tested:
        usual.append((_LABELS["fixed"], Answered(step=step.id, outcome="fixed")))
    outcome: Outcome | None = "no-change" if step.is_tested else None
    for finding in step.findings:
        usual.append((finding.title, Answered(step=step.id, outcome=outcome, finding=finding.id)))
    if not step.findings:
        plain: Outcome = "no-change" if step.is_tested else "done"
        usual.append((_LABELS[plain], Answered(step=step.id, outcome=plain)))
    if step.is_tested:
        usual += [(_LABELS[o], Answered(step=step.id, outcome=o)) for o in ("better", "worse")]
    rare = [(_LABELS[o], Answered(step=step.id, outcome=o)) for o in _RARE]
    if step.is_tested:
        rare.insert(1, ("It did not take", Answered(step=step.id, outcome="no-change", took="no")))
    return (
        *(_answer(_key(n), label, m, "good" if m.outcome == "fixed" else "plain") for n, (label, m) in _count(usual)),
        *(_answer(_key(n), label, m, is_rare=True) for n, (label, m) in _count(rare)),
    )


def _count(items: list[tuple[str, Answered]]) -> list[tuple[int, tuple[str, Answered]]]:
    return list(enumerate(items, start=1))


def _key(number: int) -> str:
    """Number keys reach eight answers; 9 opens or shuts the rarer ones."""
    return str(number) if number < 9 else ""


def _confirm_answers(climb: Climb) -> tuple[Answer, ...]:
    step = climb.playbook.step(climb.playbook.ladder[climb.fixed_by or 0].step)
    end: Literal["resolved", "worked-around"] = "resolved" if step.kind == "fix" else "worked-around"
    return tuple(
        _answer(str(number), label, Ended(end=end, confirmed=confirmed), "good")
        for number, (confirmed, label) in enumerate(_CONFIRMED.items(), start=1)
    )


def _hand_off_answers(climb: Climb) -> tuple[Answer, ...]:
    teams = climb.playbook.hand_offs
    if climb.hand_off:
        teams = tuple(team for team in teams if team.id == climb.hand_off)
    else:
        teams = tuple(sorted(teams, key=lambda team: team != climb.playbook.default_hand_off))
    named = [
        _answer(_key(number), f"Hand on to {team.title}", Ended(end="handed-off", hand_off=team.id))
        for number, team in enumerate(teams, start=1)
    ]
    return tuple(named) or (_answer("1", "Hand on", Ended(end="handed-off")),)
