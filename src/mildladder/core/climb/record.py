"""Turn a guided case into what outlives it: the logged case, a hand-off text, the start of the case it leads to."""

from collections.abc import Mapping, Sequence
from datetime import datetime

from mildladder.core.climb.agenda import EndTask
from mildladder.core.climb.loose_ends import LooseEnd
from mildladder.core.climb.machine import Climb, apply, begin
from mildladder.core.climb.wording import Filler
from mildladder.core.errors import Conflict
from mildladder.core.figures.likely import likely_causes
from mildladder.core.ladder.values import is_value, value_in_words
from mildladder.core.model import Attempt, AwaitedPart, Case, Cause, Playbook
from mildladder.core.model.case import MOST_NOTES
from mildladder.core.model.events import ClimbEvent, Noted, Started, TriedBefore
from mildladder.core.model.outcomes import BASELINES, CONFIRMED, CURED, ENDS, HARMS, OUTCOMES, SENT_ON, TESTED
from mildladder.core.texts import shortened

__all__ = ["awaited_in_words", "case_of", "hand_off_text", "reopened_events", "sent_on_events"]

_LONGEST_NOTE = 4000
_CUT = "\n… cut here; the guided case has the whole of it"


def case_of(climb: Climb, case_id: str, edition: int, edition_hash: str | None = None) -> Case:
    """The log's record of an ended climb, notes that are too long for it cut short. Conflict while it is open."""
    if climb.ended is None or climb.closed is None:
        raise Conflict("the case is still open")
    return Case(
        case=case_id,
        opened=climb.opened,
        closed=climb.closed,
        symptom=climb.playbook.id,
        said=climb.started.said or None,
        unit=climb.started.unit or None,
        facts=climb.facts,
        values={**climb.caught, **climb.values},
        signs=climb.signs,
        playbook=climb.playbook.id,
        edition=edition,
        edition_hash=edition_hash,
        attempts=climb.attempts,
        baseline=climb.baseline,
        consents=climb.consents,
        parts=climb.parts,
        passed=tuple(passed for _, passed in climb.passed),
        end=climb.ended.end,
        sent_on=climb.ended.sent_on,
        ticket=climb.started.ticket or None,
        caller=climb.started.caller or None,
        call_back=climb.started.call_back or None,
        reopened_from=climb.started.reopened_from or None,
        restored=climb.restored,
        resolved_by=climb.fixed_step if climb.ended.end in CURED else None,
        confirmed=climb.ended.confirmed,
        waited=round(climb.waited, 2) if climb.waited else None,
        notes=_notes(climb),
    )


def _notes(climb: Climb) -> str | None:
    """Every note, then what stays open; the log has room for so many letters."""
    left = (f"Left open: {title} ({why})" for title, why in _left_open(climb))
    found = (f"{climb.playbook.step(step).title}: number {number}" for step, number in climb.found_at.items())
    return shortened("\n".join((*climb.notes, *found, *left)), MOST_NOTES, _CUT) or None


def sent_on_events(before: Climb, case_id: str, playbook: Playbook, who: int, now: datetime) -> list[ClimbEvent]:
    """The first events of the climb in which a case goes on that was sent on: all that is known, nothing asked again.

    case_id: of the case that was sent on; playbook: the one that it goes on in. Steps that this one has too and that
    did not help are not offered again; the rest is a note.
    """
    facts = {fact.id: fact for fact in playbook.facts}
    fit = {name: value for name, value in before.facts.items() if name in facts and is_value(facts[name], value)}
    given = {**before.facts, **before.values}
    values = {name: value for name, value in given.items() if name not in facts}
    was = before.started
    end = before.agenda[0] if before.agenda else None
    started = Started(
        said=was.said,
        unit=was.unit,
        facts=fit,
        values=values,
        ticket=was.ticket,
        caller=was.caller,
        call_back=was.call_back,
        entered_at=end.entered_at if isinstance(end, EndTask) and end.playbook == playbook.id else None,
    )
    events = [ClimbEvent(at=now, who=who, move=started)]
    there = begin(playbook, events[0])
    steps = {step.id for step in playbook.steps if step.is_tested}
    for attempt in before.attempts:
        failed = attempt.outcome == "no-change" and attempt.took != "no"
        if failed and attempt.step in steps and not there.is_done(attempt.step):
            events.append(ClimbEvent(at=now, who=who, move=TriedBefore(step=attempt.step)))
            there = apply(there, events[-1])
    note = Noted(text=shortened(f"Sent on from {case_id}. {hand_off_text(before)}", _LONGEST_NOTE))
    return [*events, ClimbEvent(at=now, who=who, move=note)]


def reopened_events(case: Case, playbook: Playbook, who: int, now: datetime) -> list[ClimbEvent]:
    """The first events of the climb by which a case goes on that came back: all that is known of it, and what was tried
    then is not offered first. playbook: the one it goes on in, as it is today."""
    facts = {fact.id: fact for fact in playbook.facts}
    fit = {name: value for name, value in case.facts.items() if name in facts and is_value(facts[name], value)}
    values = {name: value for name, value in {**case.facts, **case.values}.items() if name not in facts}
    started = Started(
        said=case.said or "",
        unit=case.unit or "",
        facts=fit,
        values=values,
        ticket=case.ticket or "",
        caller=case.caller or "",
        call_back=case.call_back or "",
        reopened_from=case.case,
    )
    events = [ClimbEvent(at=now, who=who, move=started)]
    there = begin(playbook, events[0])
    steps = {step.id for step in playbook.steps if step.is_tested}
    for attempt in case.attempts:
        was_tried = attempt.outcome in TESTED and attempt.took != "no"
        if was_tried and attempt.step in steps and not there.is_done(attempt.step):
            events.append(ClimbEvent(at=now, who=who, move=TriedBefore(step=attempt.step)))
            there = apply(there, events[-1])
    note = f"Came back after {case.case}, which closed {case.closed:%Y-%m-%d}. {case.notes or ''}".strip()
    return [*events, ClimbEvent(at=now, who=who, move=Noted(text=shortened(note, _LONGEST_NOTE)))]


def hand_off_text(climb: Climb) -> str:
    """Plain text that tells the next team all that is known, most useful first."""
    playbook, facts = climb.playbook, climb.told
    team = next((h for h in playbook.hand_offs if h.id == climb.team), playbook.default_hand_off)
    told = [fact_id for fact_id in (team.tell if team else ()) if fact_id in facts]
    order = told + [fact_id for fact_id in facts if fact_id not in told]
    lines = [f"{playbook.title}" + (f": {climb.started.unit}" if climb.started.unit else "")]
    lines += _who(climb.started)
    if climb.started.said:
        lines.append(f"Caller: “{climb.started.said}”")
    lines += [_told(climb, name) for name in order]
    lines += [f"{'Seen' if seen == 'yes' else 'Looked for, not there'}: {sign}" for sign, seen in climb.signs.items()]
    if climb.baseline:
        lines.append(f"Baseline: {BASELINES[climb.baseline]}")
    tried = [*(_tried(climb, a) for a in climb.attempts), *_being_tried(climb)]
    lines += ["", "Tried:"] + ([f"- {one}" for one in tried] or ["- nothing yet"])
    lines += [f"Waited for: {awaited_in_words(part)}" for part in climb.parts]
    if climb.passed:
        lines += ["", "Passed over:"]
        lines += [f"- {playbook.step(p.step).title}: {p.why}" for _, p in climb.passed]
    lines += ["", _ended(climb) if climb.ended else _still_likely(climb)]
    undone = [
        *(f"{title} ({why})" for title, why in _left_open(climb)),
        *(_filled(climb, end) for end in climb.open_ends),
    ]
    if undone:
        lines += ["", "Left open:", *(f"- {title}" for title in undone)]
    if climb.notes:
        lines += ["", "Notes:", *climb.notes]
    return "\n".join(lines)


_PUT_RIGHT = {"whole": "put right from “{}”", "partly": "partly put right from “{}”", "no": "“{}” was no good"}


def _put_right(climb: Climb, attempt: Attempt) -> str:
    return _PUT_RIGHT[attempt.put_right or "no"].format(climb.playbook.step(attempt.safeguard_used or "").title)


def _tried_with(tries: Sequence[Mapping[str, str]]) -> str:
    """The values of each try, such as: with 3, then 5."""
    said = [", ".join(value_in_words(value) for value in one.values()) for one in tries]
    return f"with {', then '.join(said)}"


def _being_tried(climb: Climb) -> list[str]:
    """The step under way, where it was tried with some values already."""
    return [f"{climb.step.title}: no change yet, {_tried_with(climb.tried_with)}"] if climb.tried_with else []


def awaited_in_words(part: AwaitedPart) -> str:
    """A part that is waited for, and what is known of where it is."""
    known = [
        f"from {part.from_}" if part.from_ else "",
        f"ordered under {part.number}" if part.number else "",
        f"expected {part.expected:%Y-%m-%d}" if part.expected else "",
    ]
    return ", ".join([part.what, *(one for one in known if one)])


def _still_likely(climb: Climb) -> str:
    likely = [f"{cause.title} {share:.0%}" for cause, share in _likely(climb)[:3]]
    return f"Still likely: {', '.join(likely)}"


def _ended(climb: Climb) -> str:
    """How the case ended, by what, and whose word it is; where the fault is still there, what is likely."""
    assert climb.ended is not None
    says = SENT_ON if climb.ended.sent_on else ENDS[climb.ended.end].says
    if climb.ended.end not in CURED:
        return says if climb.ended.end == "self-cleared" else f"{says}\n\n{_still_likely(climb)}"
    by = climb.fixed_step and _title(climb, climb.fixed_step)
    confirmed = CONFIRMED[climb.ended.confirmed]
    return f"{says}{f' by: {by}' if by else ''}{f' ({confirmed})' if confirmed else ''}"


def _title(climb: Climb, step: str) -> str:
    return climb.called.get(step) or climb.playbook.step(step).title


def _who(started: Started) -> list[str]:
    """Who called, under which number, and where they are reached."""
    parts = [
        ("Number in the other system", started.ticket),
        ("Caller", started.caller),
        ("Call back", started.call_back),
        ("Came back after", started.reopened_from),
    ]
    return [f"{name}: {value}" for name, value in parts if value]


def _likely(climb: Climb) -> list[tuple[Cause, float]]:
    return likely_causes(climb.playbook, climb.attempts, climb.facts, climb.started.said, climb.seen)


def _filled(climb: Climb, end: LooseEnd) -> str:
    return Filler(climb.known, asked=climb.asked_by).fill(end.title)


def _told(climb: Climb, name: str) -> str:
    """A fact or value under the words in which it was asked."""
    asked = next((fact for fact in climb.playbook.facts if fact.id == name), None) or climb.inputs.get(name)
    value = climb.known[name]
    ask = asked.ask if asked is not None else name
    return f"{ask}{'' if ask.endswith('?') else ':'} {value_in_words(value)}"


def _fixed_then(climb: Climb) -> str | None:
    """The step that ended the fault in the case that came back."""
    came_back = climb.started.reopened_from
    return next((one.resolved_by for one in climb.started.history if one.case == came_back), None)


def _left_open(climb: Climb) -> list[tuple[str, str]]:
    """Loose ends that stay open, with the reason."""
    return [(_filled(climb, end), why) for end in climb.loose_ends if (why := climb.tied.get(end.id)) is not None]


def _tried(climb: Climb, attempt: Attempt) -> str:
    if attempt.step in climb.called and attempt.by == "before":
        return f"{climb.called[attempt.step]} (before the call)"
    if attempt.step in climb.called:
        said = OUTCOMES[attempt.outcome or "done"].said
        return f"{climb.called[attempt.step]}, off the ladder: {said} ({attempt.minutes or 0:.0f} min)"
    step = climb.playbook.step(attempt.step)
    parts = [finding.title for finding in step.findings if finding.id == attempt.finding]
    number = climb.found_at.get(step.id)
    search = climb.on_unit(step).search
    which = [f"number {number} of {search.count} {search.over}"] if search and number else []
    parts += which if parts else []
    if attempt.took == "no":
        parts.append("did not take")
    elif attempt.outcome and not (parts and attempt.outcome in ("no-change", "done")):
        parts.append(OUTCOMES[attempt.outcome].said)
        parts += which if attempt.outcome == "fixed" else []
    parts += [HARMS[kind].was_seen for kind in attempt.harmed or ()]
    parts += [_put_right(climb, attempt)] if attempt.put_right else []
    parts += [_tried_with(attempt.tried_with)] if attempt.tried_with else []
    if attempt.by == "before" and attempt.step == _fixed_then(climb):
        parts = [f"fixed it in {climb.started.reopened_from}, and the fault came back"]
    when = "before the call" if attempt.by == "before" else f"{attempt.minutes or 0:.0f} min"
    return f"{step.title}: {', '.join(parts)} ({when})"
