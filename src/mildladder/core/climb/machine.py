"""The guided case as a state machine over events: one step at a time, nothing repeated, every answer taken back.

Pure: events carry their own time, so replaying them always gives the same climb. What an agent may answer at any
point is worked out in `answers.py`; this module says where each event leads.
"""

from collections.abc import Iterable, Sequence
from dataclasses import replace

from mildladder.core.climb.agenda import tasks
from mildladder.core.climb.carrying import (
    carry_out,
    search_on,
    tell_finding,
    tested,
    try_another_value,
    with_tries_noted,
    without_doing,
)
from mildladder.core.climb.checks import (
    check_answer,
    check_closed,
    check_step,
    check_value,
    ways_on,
    with_reading,
)
from mildladder.core.climb.closing import close_loose_end
from mildladder.core.climb.giving import corrected, given, is_asked, may_be_corrected
from mildladder.core.climb.pausing import after_watch, pause, resume
from mildladder.core.climb.settling import settled
from mildladder.core.climb.state import Climb, Place
from mildladder.core.climb.turns import do_off_ladder, entered_part_way, take_out_of_turn
from mildladder.core.climb.wording import Filler, message_parts
from mildladder.core.errors import Conflict
from mildladder.core.model import (
    Attempt,
    Consent,
    End,
    HandOffRef,
    Input,
    Outcome,
    Playbook,
)
from mildladder.core.model.base import MOST_LINE
from mildladder.core.model.events import (
    TAKEN_BACK,
    AnotherValue,
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
    SignTold,
    Started,
    StepBegun,
    TakenBack,
    TakenOutOfTurn,
    TakenOver,
    TiedUp,
    TriedBefore,
    WentOn,
)
from mildladder.core.model.outcomes import CURED, DO_NOT_ENTER
from mildladder.core.texts import shortened

__all__ = ["Climb", "Place", "apply", "begin", "climb", "cured_end", "surviving"]


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
    caught, values = message_parts(playbook, event.move.said), event.move.values
    if event.move.trusts_speech:
        caught, values = {}, {**caught, **values}
    known = dict(event.move.facts)
    hands = ((event.who, event.at),)
    now = Climb(playbook, event.move, event.at, event.at, known, ahead, caught, values, hands=hands)
    return entered_part_way(now, event.move.entered_at) if event.move.entered_at is not None else now


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
        now = close_loose_end(now, now.to_close.id, None, event)
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
        return _tried_before(now, move, event)
    if isinstance(move, SignTold):
        return _sign_told(now, move)
    if isinstance(move, TakenOver):
        return replace(now, hands=(*now.hands, (event.who, event.at)))
    if isinstance(move, FactGiven) and may_be_corrected(now, move):
        return corrected(now, move, event)
    if now.place not in _PLACES.get(type(move), ()):
        raise Conflict(f"that answer does not fit here: the case is at '{now.place}'; reload to see it as it stands")
    return _answer(now, event)


_AT_ANY_PLACE = (Noted, TriedBefore, SignTold, Paused, Resumed, TakenOutOfTurn, OffLadder, TakenOver)
_AT_A_RUNG: tuple[Place, ...] = ("fact", "guard", "consent", "begin", "step", "way-out", "hand-off")
_PLACES: dict[type, tuple[Place, ...]] = {
    BaselineSeen: ("baseline",),
    WentOn: ("works-now",),
    FactGiven: ("fact", "step"),
    GuardAnswered: ("guard",),
    Consented: ("consent",),
    Answered: ("begin", "step", "test", "finding", "paused"),
    AnotherValue: ("step",),
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
        "paused",
        "test",
        "way-out",
        "loose-end",
        "confirm",
        "hand-off",
        "sent-on",
    ),
    Resumed: ("paused",),
    TiedUp: ("loose-end", "way-out"),
    Searched: ("step", "test", "paused"),
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
                return without_doing(now, Answered(step=step, outcome="skipped"), event)
            yes = Consent(step=step, who=now.started.unit or "caller", at=event.at)
            return replace(now, has_consent=True, consents=(*now.consents, yes))
        case Answered() as move:
            if now.to_find:
                return tell_finding(now, move)
            if now.place == "begin" and move.outcome not in DO_NOT_ENTER:
                raise Conflict("say first that it is begun; from then on it must not be interrupted")
            at = after_watch(now, event)
            move = with_reading(at, move)
            check_answer(at, move)
            if move.outcome == "skipped":
                return without_doing(at, move, event)
            return tested(at, move, event) if at.place == "test" else carry_out(at, move, event)
        case AnotherValue() as move:
            return try_another_value(now, move)
        case StepBegun(step=step):
            check_step(now, step)
            return replace(now, has_begun=True, since=event.at)
        case TakenOutOfTurn() as move:
            return take_out_of_turn(now, move, event)
        case OffLadder() as move:
            return do_off_ladder(now, move, event)
        case Searched() as move:
            return search_on(after_watch(now, event), move, event)
        case Paused() as move:
            return pause(now, move, event)
        case Resumed():
            return resume(now, event)
        case TiedUp(end=end, why_left=why):
            return close_loose_end(now, end, why, event)
    raise AssertionError(event.move)


def _answer_guard(now: Climb, move: GuardAnswered, event: ClimbEvent) -> Climb:
    check_step(now, move.step)
    if move.number != now.guards:
        raise Conflict("that question is answered already; reload to see the case as it stands")
    if move.answer == now.guard.must:
        return replace(now, guards=now.guards + 1, is_inside=now.is_inside or now.asks_inside)
    otherwise = now.guard.else_
    if isinstance(otherwise, HandOffRef):
        told = (_asked_by_guard(now, move.answer),) if now.started.rules >= 2 else ()
        left = now.given_up()
        return replace(left, hand_off=otherwise.hand_off, notes=(*now.notes, *told), since=event.at)
    return without_doing(now, Answered(step=move.step, outcome=otherwise), event)


def _asked_by_guard(now: Climb, answer: str) -> str:
    """Why a guard's answer hands the case on, for whoever takes it."""
    ask = Filler(now.known, asked=now.asked_by).fill(now.guard.ask)
    return shortened(f"Handed off before “{now.step.title}”: {ask} {answer.capitalize()}.", MOST_LINE)


def _tried_before(now: Climb, move: TriedBefore, event: ClimbEvent) -> Climb:
    """What was done before the call is on record, and is not asked for; where that is the step at hand, what was
    entered for it meanwhile is to be left."""
    if now.started.rules >= 6 and now.agenda and now.is_try_begun and now.step.id == move.step:
        raise Conflict("that step is under way; say what came of it")
    attempt = _attempt_before(now, move)
    later = tuple(replace(one, after=one.after + 1) for one in now.carried)
    at = sum(one.by == "before" for one in now.attempts)
    climb = replace(
        now,
        attempts=(*now.attempts[:at], attempt, *now.attempts[at:]),
        tried_at=(*now.tried_at[:at], None, *now.tried_at[at:]),
        carried=later,
        findings={**now.findings, attempt.step: move.finding} if move.finding else now.findings,
        called={**now.called, move.called: move.called} if move.called is not None else now.called,
    )
    if not climb.is_off_baseline or climb.fixed_by is not None:
        return climb
    changed = settled(climb)
    if changed.agenda[:1] == now.agenda[:1] or now.started.rules < 6:
        return changed
    if now.is_try_begun:
        # It does the step at hand as well: what has begun goes on all the same.
        return climb
    left = now.given_up()
    return settled(replace(climb, footing=left.footing, route=left.route).with_nothing_begun(event.at))


def _attempt_before(now: Climb, move: TriedBefore) -> Attempt:
    if move.step is None:
        called = move.called or ""
        if any(one.step == called and one.by == "before" for one in now.attempts):
            raise Conflict(f"“{called}” is on record already")
        if any(step.id == called for step in now.playbook.steps):
            raise Conflict(f"'{called}' is a step of this playbook; choose it")
        return Attempt(step=called, outcome="no-change", by="before")
    if all(step.id != move.step for step in now.playbook.steps):
        raise Conflict(f"'{move.step}' is no step of this playbook")
    if now.is_done(move.step):
        raise Conflict(f"'{move.step}' is on record already")
    step = now.playbook.step(move.step)
    if move.finding is not None and all(finding.id != move.finding for finding in step.findings):
        raise Conflict(f"'{move.finding}' is no finding of '{move.step}'")
    outcome: Outcome | None = "no-change" if step.is_tested else None if move.finding else "done"
    return Attempt(step=move.step, outcome=outcome, finding=move.finding, by="before")


def _sign_told(now: Climb, move: SignTold) -> Climb:
    if all(sign.kind != "seen" or sign.text != move.sign for sign in now.playbook.symptom.signs):
        raise Conflict("that is no sign of this symptom that can be seen; reload to see the case as it stands")
    others = {sign: seen for sign, seen in now.signs.items() if sign != move.sign}
    return replace(now, signs=others if move.seen is None else {**others, move.sign: move.seen})


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
    resumed = with_tries_noted(resume(now, event) if now.pause else now, event)
    left = {end.id: move.why_left or "nobody said why" for end in now.open_ends}
    return replace(resumed, ended=move, closed=event.at, tied={**now.tied, **left})


def cured_end(now: Climb) -> End:
    """How a case ends whose fault is gone: by a fix, or (all that was tested being workarounds) around it."""
    cures = [a.step for a in now.attempts if a.outcome == "fixed"]
    kinds = {step.kind for step in now.playbook.steps if step.id in cures}
    return "worked-around" if kinds == {"workaround"} else "resolved"
