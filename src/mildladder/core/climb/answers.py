"""What an agent may answer at each point of a guided case, with the key for it.

Kept beside the state machine and not in the interface, so that every front (browser, demo, tests) climbs by one rule.
"""

from collections.abc import Sequence
from typing import Literal

from mildladder.core.climb.agenda import EndTask, RungTask
from mildladder.core.climb.machine import Climb, cured_end
from mildladder.core.ladder.values import in_words
from mildladder.core.model import Confirmed, Fact, HandOff, Shape
from mildladder.core.model.events import (
    Answered,
    BaselineSeen,
    Consented,
    Ended,
    FactGiven,
    GuardAnswered,
    Move,
    Paused,
    Resumed,
    TiedUp,
    WentOn,
)
from mildladder.core.model.outcomes import NOT_DONE, OUTCOMES, RARE

__all__ = ["Answer", "answers"]

_WHY_LEFT = ("somebody else sees to it", "it cannot be done now")
_CONFIRMED: dict[Confirmed, str] = {
    "caller": "The caller says it works",
    "measured": "Seen to work",
    "assumed": "Assumed",
}


class Answer(Shape):
    """One legal move. `key`: the key that gives it; rare ones are shown only after the key for the rarer answers.

    `tone`: good ends the fault, plain goes on, harsh ends the case without it. asks_harm: the step is carried out, so
    that the harm it names may have been done.
    """

    key: str
    label: str
    is_rare: bool
    tone: Literal["good", "plain", "harsh"]
    move: Move
    asks_harm: bool


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
        case "test":
            return _test_answers(climb)
        case "finding":
            return _numbered(_plain_ends(climb), [])
        case "paused":
            return _paused_answers(climb)
        case "loose-end":
            return _loose_end_answers(climb)
        case "sent-on":
            return _sent_on_answers(climb)
        case "confirm":
            return _confirm_answers(climb)
        case "hand-off":
            return _hand_off_answers(climb)
    return ()


def _answer(
    key: str, label: str, move: Move, tone: Literal["good", "plain", "harsh"] = "plain", is_rare: bool = False
) -> Answer:
    asks_harm = isinstance(move, Answered) and move.outcome not in NOT_DONE
    return Answer(key=key, label=label, is_rare=is_rare, tone=tone, move=move, asks_harm=asks_harm)


def _fact_answers(climb: Climb) -> tuple[Answer, ...]:
    asked = climb.asked
    options = list(asked.choices or ()) if isinstance(asked, Fact) else list(asked.options or ())
    if asked.type == "yes-no":
        options = ["yes", "no"]
    known = [
        _answer(str(number) if number < 9 else "", value, FactGiven(fact=asked.id, value=value))
        for number, value in enumerate(options, start=1)
    ]
    if climb.suggested is not None:
        known = [_answer("1", f"“{climb.suggested}”, as was said", FactGiven(fact=asked.id, value=climb.suggested))]
    return (*known, _answer("9", "Cannot tell", FactGiven(fact=asked.id, value=None)))


def _step_answers(climb: Climb) -> tuple[Answer, ...]:
    step = climb.step
    task = climb.task
    if isinstance(task, RungTask) and task.in_trial and step.is_tested:
        usual: list[tuple[str, Move]] = [("Done, go on to the next", Answered(step=step.id, outcome="done"))]
        return _numbered(usual, [(OUTCOMES[o].label, Answered(step=step.id, outcome=o)) for o in RARE])
    rare: list[tuple[str, Move]] = [(OUTCOMES[o].label, Answered(step=step.id, outcome=o)) for o in RARE]
    if not step.is_tested:
        return _numbered(_plain_ends(climb), rare)
    rare.insert(1, ("It did not take", Answered(step=step.id, outcome="no-change", took="no")))
    return _test_answers(climb, rare)


def _test_answers(climb: Climb, rare: Sequence[tuple[str, Move]] = ()) -> tuple[Answer, ...]:
    """What came of trying again; where only a watch can tell, it begins before anything counts as fixed."""
    fixed, *others = _results(climb)
    if climb.watch_minutes is None:
        return _numbered([fixed, *others], rare)
    watch = Paused(reason="watch", minutes=climb.watch_minutes)
    begin = (f"Works now: watch it for {in_words(climb.watch_minutes)}", watch)
    return _numbered([begin, *others], [*rare, ("Fixed, without a watch", fixed[1])])


def _paused_answers(climb: Climb) -> tuple[Answer, ...]:
    assert climb.pause is not None
    if climb.pause.reason == "watch":
        return _numbered(_results(climb), [("Take it up again", Resumed())])
    return (_answer("1", "Take it up again", Resumed()),)


def _loose_end_answers(climb: Climb) -> tuple[Answer, ...]:
    end = climb.open_ends[0]
    left = [(why, TiedUp(end=end.id, why_left=why)) for why in _WHY_LEFT]
    return _numbered([("Done", TiedUp(end=end.id))], [(f"Stays open: {why}", move) for why, move in left])


def _results(climb: Climb) -> list[tuple[str, Move]]:
    """What can come of trying the original action again, or of watching it; that it is fixed stands first."""
    step = climb.step
    is_watched = climb.pause is not None or climb.watched == climb.agenda[0].path  # type: ignore[union-attr]
    fixed, no_change = (
        ("It stayed away", "It came back") if is_watched else (OUTCOMES["fixed"].label, OUTCOMES["no-change"].label)
    )
    usual: list[tuple[str, Move]] = [(fixed, Answered(step=step.id, outcome="fixed"))]
    usual += [(f.title, Answered(step=step.id, outcome="no-change", finding=f.id)) for f in step.findings]
    if not step.findings:
        usual.append((no_change, Answered(step=step.id, outcome="no-change")))
    return usual + [(OUTCOMES[o].label, Answered(step=step.id, outcome=o)) for o in ("better", "worse")]


def _plain_ends(climb: Climb) -> list[tuple[str, Move]]:
    step = climb.step
    found: list[tuple[str, Move]] = [
        (finding.title, Answered(step=step.id, finding=finding.id)) for finding in step.findings
    ]
    return found or [(OUTCOMES["done"].label, Answered(step=step.id, outcome="done"))]


def _numbered(usual: Sequence[tuple[str, Move]], rare: Sequence[tuple[str, Move]]) -> tuple[Answer, ...]:
    return (
        *(_answer(_key(n), label, move, _tone(move)) for n, (label, move) in enumerate(usual, start=1)),
        *(_answer(_key(n), label, move, is_rare=True) for n, (label, move) in enumerate(rare, start=1)),
    )


def _tone(move: Move) -> Literal["good", "plain"]:
    return "good" if isinstance(move, Answered) and move.outcome == "fixed" else "plain"


def _key(number: int) -> str:
    """Number keys reach eight answers; 9 opens or shuts the rarer ones."""
    return str(number) if number < 9 else ""


def _confirm_answers(climb: Climb) -> tuple[Answer, ...]:
    end = cured_end(climb)
    return tuple(
        _answer(str(number), label, Ended(end=end, confirmed=confirmed), "good")
        for number, (confirmed, label) in enumerate(_CONFIRMED.items(), start=1)
    )


def _sent_on_answers(climb: Climb) -> tuple[Answer, ...]:
    task = climb.agenda[0]
    assert isinstance(task, EndTask)
    on = ("Go on in the other playbook", Ended(end="handed-off", sent_on=task.playbook))
    teams = [(f"Hand off to {team.title} instead", Ended(end="handed-off", hand_off=team.id)) for team in _teams(climb)]
    return _numbered([on, *teams], [])


def _teams(climb: Climb) -> tuple[HandOff, ...]:
    """The teams that a case can be handed off to, whoever takes what a ladder leaves first."""
    return tuple(sorted(climb.playbook.hand_offs, key=lambda team: team != climb.playbook.default_hand_off))


def _hand_off_answers(climb: Climb) -> tuple[Answer, ...]:
    teams = tuple(team for team in _teams(climb) if climb.team in (None, team.id))
    named = [
        _answer(_key(number), f"Hand off to {team.title}", Ended(end="handed-off", hand_off=team.id))
        for number, team in enumerate(teams, start=1)
    ]
    return tuple(named) or (_answer("1", "Hand off", Ended(end="handed-off")),)
