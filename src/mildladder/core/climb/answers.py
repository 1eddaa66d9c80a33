"""What an agent may answer at each point of a guided case, with the key for it.

Kept beside the state machine and not in the interface, so that every front (browser, demo, tests) climbs by one rule.
"""

from collections.abc import Collection, Sequence
from typing import Literal

from mildladder.core.climb.agenda import EndTask, RungTask, TrialTask
from mildladder.core.climb.machine import Climb, cured_end
from mildladder.core.climb.searching import Standing
from mildladder.core.ladder.values import in_words, value_in_words
from mildladder.core.model import Fact, HandOff, Shape, Step
from mildladder.core.model.events import (
    AnotherValue,
    Answered,
    BaselineSeen,
    Consented,
    Ended,
    FactGiven,
    GuardAnswered,
    Move,
    Paused,
    Resumed,
    Searched,
    StepBegun,
    TiedUp,
    WentOn,
)
from mildladder.core.model.outcomes import CONFIRMED, DO_NOT_ENTER, OUTCOMES, RARE
from mildladder.core.model.step import SEARCH_FINDS

__all__ = ["Answer", "answers"]

_WHY_LEFT = ("somebody else sees to it", "it cannot be done now")


class Answer(Shape):
    """One legal move. `key`: the key that gives it; rare ones are shown only after the key for the rarer answers.

    `tone`: good ends the fault, plain goes on, harsh ends the case without it. is_carried_out: the step is carried out,
    so that the harm it names may have been done, and one of its ways have worked.
    """

    key: str
    label: str
    is_rare: bool
    tone: Literal["good", "plain", "harsh"]
    move: Move
    is_carried_out: bool


def answers(climb: Climb, absent: Collection[str] = ()) -> tuple[Answer, ...]:
    """Every answer that fits where the climb stands, in the order of their keys; none once it has ended. absent:
    playbooks that a case cannot go on in, since nothing is published there."""
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
        case "begin":
            return (_answer("1", "Begin now", StepBegun(step=climb.step.id)), *_not_done(climb))
        case "step":
            return _step_answers(climb)
        case "test":
            not_taken = [_not_taken(climb.step)] if len(climb.carried) == 1 else []
            if climb.search is not None and climb.step.is_tested:
                return _tried_in_turn(climb, climb.search, not_taken)
            return _test_answers(climb, not_taken)
        case "finding":
            return _numbered(_plain_ends(climb), [])
        case "paused":
            return _paused_answers(climb)
        case "loose-end" | "way-out":
            return _loose_end_answers(climb)
        case "sent-on":
            return _sent_on_answers(climb, absent)
        case "confirm":
            return _confirm_answers(climb)
        case "hand-off":
            return _hand_off_answers(climb)
    return ()


def _answer(
    key: str, label: str, move: Move, tone: Literal["good", "plain", "harsh"] = "plain", is_rare: bool = False
) -> Answer:
    is_carried_out = isinstance(move, Answered) and move.outcome not in DO_NOT_ENTER
    return Answer(key=key, label=label, is_rare=is_rare, tone=tone, move=move, is_carried_out=is_carried_out)


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
    return (*known, _answer("0", "Cannot tell", FactGiven(fact=asked.id, value=None)))


def _not_done(climb: Climb) -> tuple[Answer, ...]:
    """That the step is not done at all."""
    return _numbered([], [(OUTCOMES[o].label, Answered(step=climb.step.id, outcome=o)) for o in RARE])


def _step_answers(climb: Climb) -> tuple[Answer, ...]:
    step = climb.step
    task = climb.task
    rare: list[tuple[str, Move]] = [(OUTCOMES[o].label, Answered(step=step.id, outcome=o)) for o in RARE]
    if climb.tried_with:
        return _test_answers(climb, [_not_taken(step)])
    if climb.waits_for_test:
        in_trial = isinstance(task, RungTask) and task.in_trial
        is_last = len(climb.agenda) < 2 or isinstance(climb.agenda[1], TrialTask)
        rare.insert(1, _not_taken(step))
        leaves = climb.leaves_for_test or step.proves == "after-leaving"
        test = "Done: out of it, then try again" if leaves else "Done: now try again"
        if climb.to_take_off is not None:
            test = "Done: the workaround off, then try again"
        label = "Done, go on to the next" if in_trial and not is_last else test
        return _numbered([(label, Answered(step=step.id, outcome="done"))], rare)
    if climb.search is not None:
        return _search_answers(climb, climb.search, rare)
    if not step.is_tested:
        return _read_later(climb, rare)
    rare.insert(1, _not_taken(step))
    return _test_answers(climb, rare)


def _read_later(climb: Climb, rare: Sequence[tuple[str, Move]]) -> tuple[Answer, ...]:
    """What was found; where only normal use can show it, the case may wait for that first."""
    if climb.watch_minutes is None:
        return _numbered(_plain_ends(climb), rare)
    watch = Paused(reason="watch", minutes=climb.watch_minutes)
    return _numbered([(f"Done: read it in {in_words(climb.watch_minutes)}", watch), *_plain_ends(climb)], rare)


def _not_taken(step: Step) -> tuple[str, Move]:
    return "It did not take", Answered(step=step.id, outcome="no-change", took="no")


def _search_answers(climb: Climb, search: Standing, rare: list[tuple[str, Move]]) -> tuple[Answer, ...]:
    """What came of a round; once it is decided, that all suspects are back as they were, and what was found."""
    step = climb.step
    if step.is_tested:
        return _tried_in_turn(climb, search, [rare[0], _not_taken(step), *rare[1:]])
    ends = dict(zip((f.id for f in step.findings), _plain_ends(climb), strict=True))
    found, none = ends[SEARCH_FINDS[0]], ends[SEARCH_FINDS[1]]
    if not search.is_decided:
        return _numbered(_round(step, search), [(f"{found[0]} (seen otherwise)", found[1]), none, *rare])
    is_found = search.found is not None
    label, move = found if is_found else none
    said = f"All back in use: {label[0].lower()}{label[1:]}" + (f", number {search.found}" if is_found else "")
    return _numbered([(said, move)], rare)


def _round(step: Step, search: Standing) -> list[tuple[str, Move]]:
    assert search.tried is not None
    first, last = search.tried
    among = (f"It is number {first}", f"It is not number {first}")
    if first != last:
        among = (f"It is among {first} to {last}", f"It is not among {first} to {last}")
    return [(said, Searched(step=step.id, is_among=yes)) for said, yes in zip(among, (True, False), strict=True)]


def _tried_in_turn(climb: Climb, search: Standing, rare: list[tuple[str, Move]]) -> tuple[Answer, ...]:
    """A fix that tries one suspect after the other ends with the first that helps; only the last one's failure is its
    own. By halves it narrows down first."""
    step = climb.step
    of_step = step.search
    assert of_step is not None
    if of_step.how == "halves":
        return _test_answers(climb, rare) if search.is_decided else _numbered(_round(step, search), rare)
    if search.tried is None or search.first == search.last:
        return _test_answers(climb, rare)
    is_back = "It came back" if climb.is_watched else "No change"
    next_one = (f"{is_back}: put {search.first} back, on to {search.first + 1}", Searched(step=step.id, is_among=False))
    fixed, *others = _test_answers(climb, rare)
    usual, rarer = [o for o in others if not o.is_rare], [o for o in others if o.is_rare]
    kept = [(one.label, one.move) for one in usual if not _is_no_change(one.move)]
    return _numbered([(fixed.label, fixed.move), next_one, *kept], [(one.label, one.move) for one in rarer])


def _is_no_change(move: Move) -> bool:
    return isinstance(move, Answered) and move.outcome == "no-change"


def _test_answers(climb: Climb, rare: Sequence[tuple[str, Move]] = ()) -> tuple[Answer, ...]:
    """What came of trying again; where only a watch can tell, it begins before anything counts as fixed."""
    fixed, *others = _results(climb)
    if climb.watch_minutes is None or climb.is_watched:
        return _numbered([fixed, *others], rare)
    watch = Paused(reason="watch", minutes=climb.watch_minutes)
    begin = (f"Works now: watch it for {in_words(climb.watch_minutes)}", watch)
    return _numbered([begin, *others], [*rare, ("Fixed, without a watch", fixed[1])])


def _paused_answers(climb: Climb) -> tuple[Answer, ...]:
    if climb.runs:
        taken_up = _answer("", "Back to the step", Resumed(), is_rare=True)
        return (*_step_answers(climb), taken_up)
    if climb.is_watched:
        again: list[tuple[str, Move]] = [("Take it up again", Resumed())]
        if climb.search is not None and climb.step.is_tested:
            return _tried_in_turn(climb, climb.search, again)
        return _numbered(_results(climb) if climb.step.is_tested else _plain_ends(climb), again)
    return (_answer("1", "Take it up again", Resumed()),)


def _loose_end_answers(climb: Climb) -> tuple[Answer, ...]:
    end = climb.to_close
    left = [(f"Stays open: {why}", TiedUp(end=end.id, why_left=why)) for why in _WHY_LEFT]
    done = ("Done", TiedUp(end=end.id))
    if end.due is None:
        return _numbered([done], left)
    due = f"due in {value_in_words(end.due)}"
    return _numbered([(f"Later: {due}", TiedUp(end=end.id, why_left=due))], [("Done already", done[1]), *left])


def _results(climb: Climb) -> list[tuple[str, Move]]:
    """What can come of trying the original action again, or of watching it; that it is fixed stands first."""
    step = climb.step
    is_watched = climb.is_watched or climb.watched == climb.agenda[0].path  # type: ignore[union-attr]
    fixed, no_change = (
        ("It stayed away", "It came back") if is_watched else (OUTCOMES["fixed"].label, OUTCOMES["no-change"].label)
    )
    usual: list[tuple[str, Move]] = [(fixed, Answered(step=step.id, outcome="fixed"))]
    usual += [(f.title, Answered(step=step.id, outcome="no-change", finding=f.id)) for f in step.findings]
    if not step.findings:
        usual.append((no_change, Answered(step=step.id, outcome="no-change")))
    usual += [(OUTCOMES[o].label, Answered(step=step.id, outcome=o)) for o in ("better", "worse")]
    if climb.to_try_with:
        usual.append(("Try it with another value", AnotherValue(step=step.id)))
    return usual


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
    known = {confirmed: says for confirmed, says in CONFIRMED.items() if says}
    return tuple(
        _answer(str(number), says.capitalize(), Ended(end=end, confirmed=confirmed), "good")
        for number, (confirmed, says) in enumerate(known.items(), start=1)
    )


def _sent_on_answers(climb: Climb, absent: Collection[str]) -> tuple[Answer, ...]:
    task = climb.agenda[0]
    assert isinstance(task, EndTask)
    if task.playbook in absent:
        return _hand_off_answers(climb)
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
