"""Guide a case: start a climb on the newest edition, record answers, and log the case when it ends."""

from contextlib import suppress
from datetime import datetime
from functools import partial

from sqlalchemy.orm import Session

from mildladder.core.climb.machine import Climb, apply, climb
from mildladder.core.climb.record import case_of, hand_off_text, reopened_events, sent_on_events
from mildladder.core.errors import Conflict, Stale
from mildladder.core.figures.judgement import ROUGH, risk_grade
from mildladder.core.ladder.links import look_alikes, rail_ends
from mildladder.core.model import Playbook, Step
from mildladder.core.model.events import (
    RULES,
    ClimbEvent,
    EarlierCase,
    Ended,
    Move,
    Noted,
    OffLadder,
    Started,
    TakenBack,
    TakenOver,
)
from mildladder.desk.advice.side_by_side import Given, belong, close_case, give
from mildladder.desk.documents import document
from mildladder.desk.guiding.climb_shapes import ClimbSummary, ClimbView
from mildladder.desk.guiding.climb_view import climb_view, summary, unreadable
from mildladder.desk.guiding.followed import new_since
from mildladder.desk.guiding.notices import NewCall, log_call
from mildladder.desk.settings import return_window
from mildladder.exchange.calendar import FollowUp, write_follow_ups
from mildladder.store import climbs as store
from mildladder.store.cache import Needs, cached
from mildladder.store.documents import document_of
from mildladder.store.drafts import newest_revision
from mildladder.store.editions import edition as stored_edition
from mildladder.store.editions import newest_edition
from mildladder.store.library import library_step
from mildladder.store.log.facts import facts_of_unit
from mildladder.store.log.reading import ways_worked
from mildladder.store.log.search import case as stored_case
from mildladder.store.log.search import unit_history
from mildladder.store.log.tallies import fold
from mildladder.store.log.writing import Logging, log_cases
from mildladder.store.people import people, person
from mildladder.store.pictures import picture as stored_picture
from mildladder.store.tables import ClimbRow, EditionRow, PictureRow

__all__ = ["all_due", "follow_up", "go_on", "history_of", "look", "open_cases", "picture", "record", "reopen", "start"]


_MOST_EARLIER = 100


def start(session: Session, playbook_id: str, started: Started, climb_id: str, who: int, now: datetime) -> None:
    """Open a case on the newest edition. Sending the same climb id again changes nothing.

    Raises NotFound, and Conflict when nothing is published yet, a fact has no such value, or that id opened another.
    """
    there = session.get(ClimbRow, climb_id)
    if there is not None:
        _refuse_other_start(session, there, playbook_id, started)
        return
    known = _with_history(session, playbook_id, started)
    given, edition = _given(session, playbook_id, climb_id, known.unit, None, now)
    _open(session, edition, [ClimbEvent(at=now, who=who, move=known)], climb_id)
    belong(session, given, climb_id, known.unit, None, now)


def _refuse_other_start(session: Session, row: ClimbRow, playbook_id: str, started: Started) -> None:
    was = store.events(session, row.id)[0].move
    assert isinstance(was, Started)
    same = {"history": (), "known_before": {}, "trusts_speech": False, "rules": RULES}
    if row.playbook_id != playbook_id or was.model_copy(update=same) != started.model_copy(update=same):
        raise Conflict("another case was started under this id; start again")


def _with_history(session: Session, playbook_id: str, started: Started) -> Started:
    """The start with what the log knows of the unit, whatever it came with, and nothing taken on trust."""
    known = {
        "history": tuple(history_of(session, playbook_id, started.unit)),
        "known_before": facts_of_unit(session, started.unit),
    }
    return started.model_copy(update={**known, "trusts_speech": False, "rules": RULES})


def history_of(session: Session, playbook_id: str, unit: str) -> list[EarlierCase]:
    """What a case that begins now is told of its unit."""
    return unit_history(session, playbook_id, unit, _MOST_EARLIER)


def go_on(session: Session, climb_id: str, new_id: str, who: int, now: datetime) -> None:
    """Open the case in which one that was sent on goes on, with all that is known of it.

    Raises NotFound, and Conflict when it was not sent on or nothing is published there. Sending the same new id again
    changes nothing.
    """
    if session.get(ClimbRow, new_id) is not None:
        return
    row = store.climb_row(session, climb_id)
    playbook = document(session, row.playbook_id, row.edition)
    before = climb(playbook, store.events(session, climb_id))
    if before.ended is None or before.ended.sent_on is None:
        raise Conflict("this case was not sent on to another playbook; start a new one instead")
    unit = before.started.unit
    given, edition = _given(session, before.ended.sent_on, new_id, unit, None, now)
    known = document_of(edition).playbook
    first, *rest = sent_on_events(before, row.case_id, known, who, now)
    assert isinstance(first.move, Started)
    first = first.model_copy(update={"move": _with_history(session, known.id, first.move)})
    _open(session, edition, [first, *rest], new_id)
    belong(session, given, new_id, unit, climb_id, now)


def reopen(session: Session, case_id: str, new_id: str, who: int, now: datetime) -> None:
    """Open the case in which one goes on that came back, on the edition of its symptom that agents follow, or that it
    was given where two run at once.

    Raises NotFound, and Conflict when nothing is published there. Sending the same new id again changes nothing.
    """
    if session.get(ClimbRow, new_id) is not None:
        return
    case = stored_case(session, case_id).case
    before = store.climb_of_case(session, case_id)
    given, edition = _given(session, case.playbook or case.symptom, new_id, case.unit or "", before, now)
    known = document_of(edition).playbook
    first, *rest = reopened_events(case, known, who, now)
    assert isinstance(first.move, Started)
    first = first.model_copy(update={"move": _with_history(session, known.id, first.move)})
    _open(session, edition, [first, *rest], new_id)
    belong(session, given, new_id, case.unit or "", before, now)


def _given(
    session: Session, playbook_id: str, climb_id: str, unit: str, before: str | None, now: datetime
) -> tuple[Given, EditionRow]:
    """The edition that a case is guided by: the one that agents follow, or one of two by a coin."""
    newest_revision(session, playbook_id)
    given = give(session, playbook_id, climb_id, unit, before, now)
    if given is None:
        raise Conflict(f"'{playbook_id}' has no edition yet; publish its draft first")
    return given, stored_edition(session, playbook_id, given.edition)


def _open(session: Session, edition: EditionRow, first: list[ClimbEvent], climb_id: str) -> None:
    climb(document_of(edition).playbook, first)
    row = ClimbRow(
        id=climb_id,
        case_id=store.new_case_id(session),
        playbook_id=edition.playbook_id,
        edition=edition.number,
        who=first[0].who,
        opened=first[0].at,
        ended=None,
    )
    session.add(row)
    session.flush()
    for number, event in enumerate(first, start=1):
        store.add_event(session, row, number, climb_id if number == 1 else f"{climb_id}-{number}", event)


def look(session: Session, climb_id: str, now: datetime) -> ClimbView:
    """A guided case as it stands at that moment. Raises NotFound."""
    return _view(session, store.climb_row(session, climb_id), now)


def follow_up(session: Session, climb_id: str, site: str) -> bytes:
    """When a case that waits is to be taken up again, as an iCalendar file. site: the address that people see it at.

    Raises NotFound, and Conflict when it waits for nothing with a time.
    """
    row = store.climb_row(session, climb_id)
    playbook = document(session, row.playbook_id, row.edition)
    so_far = store.events(session, climb_id)
    now = climb(playbook, so_far)
    due = _due(row, now, len(so_far), site)
    if due is None:
        raise Conflict("this case does not wait until a set time; there is nothing to put into a calendar")
    return write_follow_ups([due])


def all_due(session: Session, site: str) -> bytes:
    """Every case that waits until a set time, as one iCalendar file that a calendar may follow."""
    found = []
    for climb_id, events in store.open_climbs(session):
        row = store.climb_row(session, climb_id)
        with suppress(Conflict, ValueError):
            at = climb(document(session, row.playbook_id, row.edition), store.events(session, climb_id))
            if (due := _due(row, at, events, site)) is not None:
                found.append(due)
    return write_follow_ups(found)


def _due(row: ClimbRow, at: Climb, events: int, site: str) -> FollowUp | None:
    if at.pause is None or at.pause.until is None or at.ended is not None:
        return None
    return FollowUp(
        uid=f"{row.id}-{events}@mild-ladder",
        made=at.pause.since,
        at=at.pause.until,
        title=f"{row.case_id}: {at.playbook.title}",
        says=hand_off_text(at),
        url=f"{site.rstrip('/')}/climbs/{row.id}",
    )


def picture(session: Session, digest: str) -> PictureRow:
    """A picture of an instruction, by its digest. Raises NotFound."""
    return stored_picture(session, digest)


def open_cases(session: Session) -> list[ClimbSummary]:
    """The guided cases that have not ended, the newest first."""
    return [
        cached(session, "open case", Needs(case=(climb_id, events)), partial(_summary, session, climb_id))
        for climb_id, events in store.open_climbs(session)
    ]


def _summary(session: Session, climb_id: str) -> ClimbSummary:
    row = store.climb_row(session, climb_id)
    playbook = document(session, row.playbook_id, row.edition)
    try:
        return summary(row, playbook, climb(playbook, store.events(session, row.id)))
    except (Conflict, ValueError):
        return unreadable(row, playbook)


def record(session: Session, climb_id: str, move: Move, key: str, after: int, who: int, now: datetime) -> None:
    """Append one move; an end logs the case, or its caller to what is known now, in the same transaction. Sending the
    same key again changes nothing.

    Raises NotFound, Conflict when the move does not fit or the key came with another one, Stale when the climb has gone
    on since event `after`.
    """
    row = store.climb_row(session, climb_id)
    there = store.event_by_key(session, climb_id, key)
    if there is not None:
        if there.move != move:
            raise Conflict("another answer was sent with this key before; look at the case, then answer again")
        return
    so_far = store.events(session, climb_id)
    if len(so_far) != after:
        raise Stale("this case has gone on in another window; look at it as it stands now", len(so_far))
    playbook = document(session, row.playbook_id, row.edition)
    _check_hand(session, so_far, move, who)
    if isinstance(move, OffLadder):
        _check_library(session, playbook, move)
    event = ClimbEvent(at=max(now, so_far[-1].at), who=who, move=move)
    is_back = isinstance(move, TakenBack)
    now_at = climb(playbook, [*so_far, event]) if is_back else apply(climb(playbook, so_far), event)
    store.add_event(session, row, len(so_far) + 1, key, event)
    if isinstance(move, TakenOver):
        row.who = who
    if isinstance(move, Ended):
        _log(session, row, now_at, who, event.at)


def _check_hand(session: Session, so_far: list[ClimbEvent], move: Move, who: int) -> None:
    """Two people never answer one case at the same time: whoever goes on with it takes it over first."""
    holder = next(event.who for event in reversed(so_far) if isinstance(event.move, Started | TakenOver))
    if holder != who and not isinstance(move, TakenOver | Noted):
        raise Conflict(f"{person(session, holder).name} has this case; take it over first, then answer")


def _check_library(session: Session, playbook: Playbook, move: OffLadder) -> None:
    """A step that is not on this ladder comes from the library, and a rough one asks for the caller's yes too."""
    if move.step is None or any(step.id == move.step for step in playbook.steps):
        return
    if _grade(session, move) >= ROUGH and not move.agreed:
        raise Conflict(f"“{move.called}” is rough; tell the caller what it costs and get their yes first")


def _grade(session: Session, move: OffLadder) -> int:
    row = library_step(session, move.step or "")
    if row is None:
        raise Conflict(f"the library has no step “{move.called}”; say in your own words what was done")
    return risk_grade(Step.model_validate(row.shared))


def _log(session: Session, row: ClimbRow, ended: Climb, who: int, now: datetime) -> None:
    store.end_climb(row, now)
    if ended.ended is not None and ended.ended.notice is not None:
        log_call(session, ended.ended.notice, _call_of(row, ended.started), who, now)
        close_case(session, row.id, ended.playbook, None, now)
        return
    window = return_window(session)
    fold(session, now.date(), window)
    digest = stored_edition(session, row.playbook_id, row.edition).content_hash
    case = case_of(ended, row.case_id, row.edition, digest)
    log_cases(session, [case], Logging("guided", who, now, window))
    close_case(session, row.id, ended.playbook, case, now)


def _call_of(row: ClimbRow, started: Started) -> NewCall:
    """The caller of a guided case, as they are logged to what is known now."""
    return NewCall(id=row.id, caller=started.caller, call_back=started.call_back, unit=started.unit, said=started.said)


def _view(session: Session, row: ClimbRow, at: datetime) -> ClimbView:
    edition = stored_edition(session, row.playbook_id, row.edition)
    playbook = document_of(edition).playbook
    last = store.last_followed(session, row)
    changed = new_since(document(session, row.playbook_id, last), playbook, last) if last is not None else ()
    names = {one.id: one.name for one in people(session)}
    has_ways = any(do.ways for step in playbook.steps for do in step.do)
    worked = ways_worked(session, playbook.id) if has_ways else None
    named = {one.playbook for one in (*look_alikes(playbook), *rail_ends(playbook))}
    absent = [one for one in named if newest_edition(session, one) is None]
    return climb_view(row, playbook, edition, store.events(session, row.id), names, at, changed, worked, absent)
