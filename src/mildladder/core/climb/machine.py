"""The guided case as a state machine over events: one step at a time, nothing repeated, every answer taken back.

Pure: events carry their own time, so replaying them always gives the same climb. What an agent may answer at any
point is worked out in `answers.py`; this module says where each event leads.
"""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import TypeVar

from mildladder.core.climb.agenda import RailTask, RungTask, TestTask, tasks
from mildladder.core.climb.checks import (
    check_answer,
    check_closed,
    check_step,
    check_value,
    ways_on,
    with_reading,
)
from mildladder.core.climb.closing import tie_up
from mildladder.core.climb.giving import corrected, given, is_asked, may_be_corrected
from mildladder.core.climb.pausing import after_watch, pause, resume
from mildladder.core.climb.settling import ended_by, settled, with_lasting_repair, with_rail
from mildladder.core.climb.state import Carried, Climb, Place
from mildladder.core.climb.turns import do_off_ladder, take_out_of_turn
from mildladder.core.climb.wording import Filler, captured
from mildladder.core.errors import Conflict
from mildladder.core.ladder.footings import chain, footings_of
from mildladder.core.model import (
    Attempt,
    Consent,
    End,
    HandOffRef,
    Input,
    Outcome,
    Playbook,
    Rung,
    Step,
    minutes_between,
)
from mildladder.core.model.base import MOST_LINE
from mildladder.core.model.events import (
    TAKEN_BACK,
    Answered,
    BaselineSeen,
    ClimbEvent,
    Consented,
    Ended,
    FactGiven,
    GuardAnswered,
    Noted,
    OffLadder,
    Paused,
    Resumed,
    Searched,
    Started,
    StepBegun,
    TakenBack,
    TakenOutOfTurn,
    TakenOver,
    TiedUp,
    TriedBefore,
    WentOn,
)
from mildladder.core.model.outcomes import CURED, DO_NOT_ENTER, RESTORED, TESTED
from mildladder.core.model.step import SEARCH_FINDS
from mildladder.core.texts import shortened

__all__ = ["Climb", "Place", "apply", "begin", "climb", "cured_end", "surviving"]

_T = TypeVar("_T")


def begin(playbook: Playbook, event: ClimbEvent) -> Climb:
    """The climb after its first event. Raises Conflict when that is not a start or gives facts that do not exist."""
    if not isinstance(event.move, Started):
        raise Conflict("a climb begins with its start; start a case first")
    facts = {fact.id: fact for fact in playbook.facts}
    for name, value in event.move.facts.items():
        if name not in facts:
            raise Conflict(f"'{name}' is no fact of this playbook; it has {', '.join(facts)}")
        check_value(facts[name], value)
    ahead = tasks(playbook.ladder, "ladder")
    caught, values = captured(playbook, event.move.said), event.move.values
    if event.move.trusts_speech:
        caught, values = {}, {**caught, **values}
    known = dict(event.move.facts)
    hands = ((event.who, event.at),)
    return Climb(playbook, event.move, event.at, event.at, known, ahead, caught, values, hands=hands)


def climb(playbook: Playbook, events: Sequence[ClimbEvent]) -> Climb:
    """Replay a whole log, taken-back answers left out. Raises Conflict at the first event that does not fit.

    How a case was once ended stands, even where it could not be ended so today: see `apply`.
    """
    kept = surviving(events)
    now = begin(playbook, kept[0])
    for event in kept[1:]:
        now = _end(now, event.move, event) if isinstance(event.move, Ended) and not now.ended else _again(now, event)
    return now


def _again(now: Climb, event: ClimbEvent) -> Climb:
    """What was answered once stands, whatever would be asked for today: a value that was not asked for then stays
    unknown, one that is not asked for any more is known, a state was left unasked, a step was done without the yes that
    it would need, or with one that it would not."""
    move = event.move
    while now.place == "fact" and not isinstance(move, _AT_ANY_PLACE):
        if isinstance(move, FactGiven) and (move.fact == now.asked.id or may_be_corrected(now, move)):
            break
        now = settled(replace(now, unknown=now.unknown | {now.asked.id}))
    while now.place == "way-out" and not isinstance(move, (TiedUp, FactGiven, *_AT_ANY_PLACE)):
        now = tie_up(now, now.to_close.id, None, event)
    if isinstance(move, FactGiven) and not is_asked(now, move.fact) and now.asks(move.fact) and not now.ended:
        return corrected(now, move, event)
    if now.place == "consent" and isinstance(move, Answered):
        now = replace(now, has_consent=True)
    if now.place == "begin" and isinstance(move, Answered):
        now = replace(now, has_begun=True)
    if now.place == "step" and isinstance(move, Consented):
        return _answer(now, event)
    return _applied(now, event)


def surviving(events: Iterable[ClimbEvent]) -> list[ClimbEvent]:
    """The events that stand: each take-back removes itself and the last answer before it.

    Raises Conflict when there is no answer left to take back.
    """
    kept: list[ClimbEvent] = []
    for event in events:
        if not isinstance(event.move, TakenBack):
            kept.append(event)
            continue
        last = next((i for i in reversed(range(len(kept))) if isinstance(kept[i].move, TAKEN_BACK)), None)
        if last is None or isinstance(kept[-1].move, Ended):
            raise Conflict("there is no answer to take back")
        del kept[last]
    return kept


def apply(now: Climb, event: ClimbEvent) -> Climb:
    """Where one new event leads (take-backs apart: see `surviving`). Raises Conflict when it does not fit here, such as
    an end over loose ends without a reason."""
    move = event.move
    if isinstance(move, FactGiven) and move.value is not None:
        asked = now.asks(move.fact) or Input(id=move.fact, ask=move.fact, type="text")
        check_value(asked, move.value, move.fact in now.in_commands)
    return _applied(now, event)


def _applied(now: Climb, event: ClimbEvent) -> Climb:
    move = event.move
    if now.ended:
        raise Conflict("this case is closed; start a new one")
    if isinstance(move, Noted):
        return replace(now, notes=(*now.notes, move.text))
    if isinstance(move, Ended):
        check_closed(now, move)
        return _end(now, move, event)
    if isinstance(move, TriedBefore):
        return _tried_before(now, move)
    if isinstance(move, TakenOver):
        return replace(now, hands=(*now.hands, (event.who, event.at)))
    if isinstance(move, FactGiven) and may_be_corrected(now, move):
        return corrected(now, move, event)
    if now.place not in _PLACES.get(type(move), ()):
        raise Conflict(f"that answer does not fit here: the case is at '{now.place}'; reload to see it as it stands")
    return _answer(now, event)


_AT_ANY_PLACE = (Noted, TriedBefore, Paused, Resumed, TakenOutOfTurn, OffLadder, TakenOver)
_AT_A_RUNG: tuple[Place, ...] = ("fact", "guard", "consent", "begin", "step", "way-out", "hand-off")
_PLACES: dict[type, tuple[Place, ...]] = {
    BaselineSeen: ("baseline",),
    WentOn: ("works-now",),
    FactGiven: ("fact", "step"),
    GuardAnswered: ("guard",),
    Consented: ("consent",),
    Answered: ("begin", "step", "test", "finding", "paused"),
    StepBegun: ("begin",),
    TakenOutOfTurn: _AT_A_RUNG,
    OffLadder: _AT_A_RUNG,
    Paused: (
        "baseline",
        "fact",
        "guard",
        "consent",
        "begin",
        "step",
        "test",
        "way-out",
        "loose-end",
        "confirm",
        "hand-off",
        "sent-on",
    ),
    Resumed: ("paused",),
    TiedUp: ("loose-end", "way-out"),
    Searched: ("step",),
}


def _answer(now: Climb, event: ClimbEvent) -> Climb:
    match event.move:
        case BaselineSeen(result=result):
            climb = replace(now, baseline=result, is_off_baseline=result != "works", since=event.at)
            return settled(climb) if climb.is_off_baseline else climb
        case WentOn():
            return settled(replace(now, is_off_baseline=True, since=event.at))
        case FactGiven(fact=fact, value=value):
            return given(now, fact, value, event)
        case GuardAnswered() as move:
            return _answer_guard(now, move, event)
        case Consented(step=step, answer=answer):
            check_step(now, step)
            if answer == "no":
                return _without_doing(now, Answered(step=step, outcome="skipped"), event)
            yes = Consent(step=step, who=now.started.unit or "caller", at=event.at)
            return replace(now, has_consent=True, consents=(*now.consents, yes))
        case Answered() as move:
            if now.to_find:
                return _tell_finding(now, move)
            if now.place == "begin" and move.outcome not in DO_NOT_ENTER:
                raise Conflict("say first that it is begun; from then on it must not be interrupted")
            at = after_watch(now, event)
            move = with_reading(at, move)
            check_answer(at, move)
            if move.outcome == "skipped":
                return _without_doing(at, move, event)
            return _test(at, move, event) if at.place == "test" else _carry_out(at, move, event)
        case StepBegun(step=step):
            check_step(now, step)
            return replace(now, has_begun=True, since=event.at)
        case TakenOutOfTurn() as move:
            return take_out_of_turn(now, move, event)
        case OffLadder() as move:
            return do_off_ladder(now, move, event)
        case Searched(step=step, is_among=is_among):
            check_step(now, step)
            if now.search is None or now.search.is_decided:
                raise Conflict("nothing is left to search here; reload to see the case as it stands")
            return replace(now, rounds=(*now.rounds, is_among))
        case Paused() as move:
            return pause(now, move, event)
        case Resumed():
            return resume(now, event)
        case TiedUp(end=end, why_left=why):
            return tie_up(now, end, why, event)
    raise AssertionError(event.move)


def _answer_guard(now: Climb, move: GuardAnswered, event: ClimbEvent) -> Climb:
    check_step(now, move.step)
    if move.number != now.guards:
        raise Conflict("that question is answered already; reload to see the case as it stands")
    if move.answer == now.guard.must:
        return replace(now, guards=now.guards + 1)
    if isinstance(now.guard.else_, HandOffRef):
        told = (_asked_by_guard(now, move.answer),) if now.started.rules >= 2 else ()
        return replace(now, hand_off=now.guard.else_.hand_off, notes=(*now.notes, *told), since=event.at)
    return _without_doing(now, Answered(step=move.step, outcome=now.guard.else_), event)


def _asked_by_guard(now: Climb, answer: str) -> str:
    """Why a guard's answer hands the case on, for whoever takes it."""
    ask = Filler(now.known, asked=now.asked_by).fill(now.guard.ask)
    return shortened(f"Handed on before “{now.step.title}”: {ask} {answer.capitalize()}.", MOST_LINE)


def _without_doing(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    """An end of the rung before anything was done to the unit: its footing was not even entered."""
    task = now.task
    climb = _note_attempt(now, move, event)
    return settled(with_rail(climb, task, move.outcome or ""))


def _carry_out(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    """The step was come to on its footing; how it ended decides what follows."""
    task, step = now.task, now.step
    footing = now.bound_for if step.footing == "any" else step.footing
    in_trial = isinstance(task, RungTask) and task.in_trial
    waits = now.waits_for_test and move.outcome == "done"
    proves_after = step.proves == "after-leaving"
    is_left = proves_after and not in_trial
    is_not_done = move.outcome in DO_NOT_ENTER
    stays = in_trial or waits or (is_not_done and (move.outcome in task.rung.on or now.started.rules >= 2))
    climb = _entered(replace(
        now,
        footing=None if proves_after and not stays else footing,
        route=(),
        to_put_back=(),
        leaves_for_test=now.leaves_for_test or ((in_trial or waits) and proves_after),
    ))  # fmt: skip
    if waits:
        minutes = minutes_between(now.since, event.at)
        test = () if in_trial else (TestTask(task.path, task.rung),)
        climb = replace(
            climb, agenda=(*test, *climb.agenda[1:]), since=event.at, guards=0, has_consent=False, has_begun=False,
            rounds=(),
            carried=(*climb.carried, Carried(task.path, step.id, minutes, move.harmed, len(climb.attempts), move.ways)),
        )  # fmt: skip
        return settled(climb)
    climb = _note_attempt(climb, move, event)
    if move.outcome in TESTED and move.took != "no":
        climb = replace(climb, to_put_back=_changes((step,), move.outcome))
    if move.outcome == "fixed":
        return _fixed(climb, task.path, task.rung, step.id)
    if is_left and is_not_done and stays and move.outcome not in task.rung.on:
        climb = replace(climb, route=(None,))
    return settled(with_rail(climb, task, move.finding or move.outcome or "", is_left and is_not_done))


def _entered(now: Climb) -> Climb:
    """The states that the unit stands in are to be left, whatever became of leaving them before."""
    stands_in = {f"leave:{one.id}" for one in chain(footings_of(now.playbook), now.footing)}
    if stands_in.isdisjoint(now.tied):
        return now
    tied = {end: why for end, why in now.tied.items() if end not in stands_in}
    return replace(now, tied=tied, stuck=tuple(end for end in now.stuck if end.id not in stands_in))


def _note_attempt(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    attempt = Attempt(
        step=move.step,
        outcome=move.outcome,
        finding=move.finding,
        minutes=round(minutes_between(now.since, event.at), 2),
        by=now.step.effort.by,
        trial=_next_trial(now),
        took=move.took,
        harmed=move.harmed,
        reading=move.reading,
        ways=move.ways,
        at=event.at,
    )
    found = now.search.found if now.search and move.finding == SEARCH_FINDS[0] else None
    return replace(
        now,
        found_at={**now.found_at, move.step: found} if found is not None else now.found_at,
        rounds=(),
        attempts=(*now.attempts, attempt),
        tried_at=(*now.tried_at, now.task.path),
        findings={**now.findings, move.step: move.finding} if move.finding else now.findings,
        agenda=now.agenda[1:],
        since=event.at,
        guards=0,
        has_consent=False,
        has_begun=False,
    )


def _test(now: Climb, move: Answered, event: ClimbEvent) -> Climb:
    """The original action was tried once for all that was done in the trial."""
    task = now.agenda[0]
    assert isinstance(task, TestTask)
    number = _next_trial(now)
    attempts = tuple(
        Attempt(
            step=one.step,
            outcome=move.outcome,
            finding=move.finding if one.step == move.step else None,
            minutes=round(one.minutes, 2),
            by=now.on_unit(now.playbook.step(one.step)).effort.by,
            trial=number,
            took=move.took,
            harmed=one.harmed,
            ways=one.ways,
            at=event.at,
        )
        for one in now.carried
    )
    climb = replace(
        now,
        attempts=_put_among(now.attempts, now.carried, attempts),
        tried_at=_put_among(now.tried_at, now.carried, [one.path for one in now.carried]),
        findings={**now.findings, move.step: move.finding} if move.finding else now.findings,
        footing=None if now.leaves_for_test else now.bound_for,
        route=(),
        leaves_for_test=False,
        carried=(),
        to_put_back=()
        if move.took == "no"
        else _changes([now.playbook.step(one.step) for one in now.carried], move.outcome),
        agenda=now.agenda[1:],
        since=event.at,
    )
    if move.outcome == "fixed":
        alone = now.carried[0].step if len(now.carried) == 1 else None
        last = task.last if now.carried[-1].path == task.path else None
        return _fixed(climb, now.carried[-1].path, last, alone)
    others = (one.step for one in now.carried if one.step != move.step)
    climb = replace(climb, to_find=tuple(step for step in others if now.playbook.step(step).findings))
    if now.carried[-1].path != task.path:
        return settled(climb)
    if move.finding is None:
        return settled(with_rail(climb, task, move.outcome or ""))
    return settled(replace(climb, agenda=(RailTask(task.path, task.last), *climb.agenda)))


def _put_among(tried: Sequence[_T], carried: Sequence[Carried], tested: Sequence[_T]) -> tuple[_T, ...]:
    """What was tested together, put among the rest in the order in which it was carried out."""
    found = list(tried)
    for number, (one, made) in enumerate(zip(carried, tested, strict=True)):
        found.insert(one.after + number, made)
    return tuple(found)


def _tell_finding(now: Climb, move: Answered) -> Climb:
    """What a step of the trial, not the last one, has left to be seen."""
    check_step(now, move.step)
    if all(finding.id != move.finding for finding in now.step.findings):
        raise Conflict(f"'{move.finding}' is no finding of '{move.step}'")
    last = max(number for number, attempt in enumerate(now.attempts) if attempt.step == move.step)
    told = now.attempts[last].model_copy(update={"finding": move.finding})
    told_of = replace(
        now,
        attempts=(*now.attempts[:last], told, *now.attempts[last + 1 :]),
        findings={**now.findings, move.step: move.finding or ""},
        to_find=now.to_find[1:],
    )
    return settled(told_of)


def _changes(steps: Sequence[Step], outcome: str | None) -> tuple[str, ...]:
    """Those of the steps of a trial that are put back after it, the last first."""
    after = ("always",) if outcome == "fixed" else ("always", "no-change")
    return tuple(step.id for step in reversed(steps) if step.undo is not None and step.undo.after in after)


def _fixed(now: Climb, path: str, rung: Rung | None, step: str | None) -> Climb:
    """The original action works again; where a workaround does it and the lasting repair is known, that follows."""
    if rung is not None and RESTORED in rung.on and now.playbook.step(rung.step).kind == "workaround":
        return settled(with_lasting_repair(replace(now, restored=now.since), path, rung))
    return settled(ended_by(now, path, step))


def _next_trial(now: Climb) -> int:
    return 1 + max((attempt.trial or 0 for attempt in now.attempts), default=0)


def _tried_before(now: Climb, move: TriedBefore) -> Climb:
    if all(step.id != move.step for step in now.playbook.steps):
        raise Conflict(f"'{move.step}' is no step of this playbook")
    if now.is_done(move.step):
        raise Conflict(f"'{move.step}' is on record already")
    step = now.playbook.step(move.step)
    if move.finding is not None and all(finding.id != move.finding for finding in step.findings):
        raise Conflict(f"'{move.finding}' is no finding of '{move.step}'")
    outcome: Outcome | None = "no-change" if step.is_tested else None if move.finding else "done"
    attempt = Attempt(step=move.step, outcome=outcome, finding=move.finding, by="before")
    later = tuple(replace(one, after=one.after + 1) for one in now.carried)
    climb = replace(
        now,
        attempts=(attempt, *now.attempts),
        tried_at=(None, *now.tried_at),
        carried=later,
        findings={**now.findings, move.step: move.finding} if move.finding else now.findings,
    )
    return settled(climb) if climb.is_off_baseline and climb.fixed_by is None else climb


def _end(now: Climb, move: Ended, event: ClimbEvent) -> Climb:
    is_cured = move.end in CURED
    if is_cured != (now.fixed_by is not None) or (is_cured and move.end != cured_end(now)):
        raise Conflict(
            f"the case cannot end '{move.end}' here; take the last answer back first, or end it as it stands"
        )
    known = {hand_off.id for hand_off in now.playbook.hand_offs}
    if move.hand_off is not None and (move.end != "handed-off" or move.hand_off not in known):
        raise Conflict(f"'{move.hand_off}' is no hand-off of this playbook")
    if move.sent_on is not None and move.sent_on not in ways_on(now):
        raise Conflict(f"the case does not go on in '{move.sent_on}' here")
    if move.notice is not None and move.end != "abandoned":
        raise Conflict("a case that is logged to what is known now ends without an end of its own")
    resumed = resume(now, event) if now.pause else now
    left = {end.id: move.why_left or "nobody said why" for end in now.open_ends}
    return replace(resumed, ended=move, closed=event.at, tied={**now.tied, **left})


def cured_end(now: Climb) -> End:
    """How a case ends whose fault is gone: by a fix, or (all that was tested being workarounds) around it."""
    cures = [a.step for a in now.attempts if a.outcome == "fixed"]
    kinds = {step.kind for step in now.playbook.steps if step.id in cures}
    return "worked-around" if kinds == {"workaround"} else "resolved"
