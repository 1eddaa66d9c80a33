"""What is left of a ladder for a case, on one sheet: for whoever goes there, printed or on a phone."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import datetime

from sqlalchemy.orm import Session

from mildladder.core.climb.agenda import AgainTask, RungTask
from mildladder.core.climb.brought_back import Ticked, brought_back
from mildladder.core.climb.entering import with_entering
from mildladder.core.climb.machine import Climb, climb
from mildladder.core.climb.record import hand_off_text
from mildladder.core.climb.spoken import spoken_cost
from mildladder.core.climb.wording import FilledInstruction, Filler
from mildladder.core.figures.judgement import ROUGH, risk_grade
from mildladder.core.ladder.footings import chain, footings_of
from mildladder.core.ladder.saying import told_in_words
from mildladder.core.ladder.shown import filled_step
from mildladder.core.ladder.walk import RowOfLadder, rows_of
from mildladder.core.model import Id, Need, Outcome, Rung, Shape, Step
from mildladder.core.model.outcomes import OUTCOMES
from mildladder.desk.guiding.climb_shapes import Passage
from mildladder.desk.guiding.climb_steps import filler_of, passage
from mildladder.desk.guiding.climbs import record
from mildladder.store import climbs as store
from mildladder.store.documents import document_of
from mildladder.store.editions import edition as stored_edition

__all__ = ["Sheet", "Ticked", "enter_ticks", "sheet"]


class SheetEnd(Shape):
    """Something that a rung may end in, in the words of its answer."""

    label: str
    outcome: Outcome | None
    finding: Id | None


class SheetRung(Shape):
    """A rung that is ahead. via: what opens the rail that it begins; when: where it applies, in words; enter, leave:
    the states that the unit is brought into for it, and out of; guards: what is asked before, with what it must be;
    ends: in what it may end, to be ticked; reading: what a number that is read stands for, in words; is_agreed_to:
    something is asked first."""

    path: str
    label: str
    title: str
    depth: int
    via: str | None
    when: str | None
    enter: tuple[Passage, ...]
    leave: tuple[Passage, ...]
    guards: tuple[str, ...]
    beware: tuple[str, ...]
    cost: str | None
    do: tuple[FilledInstruction, ...]
    expect: str | None
    harmless: tuple[str, ...]
    missing: str | None
    stuck: str | None
    reading: tuple[str, ...]
    ends: tuple[SheetEnd, ...]
    is_agreed_to: bool


class Sheet(Shape):
    """The rungs ahead of a case, side rails under theirs; to_hand: all that they need, tools and parts first; told:
    what is known and was tried; number: of the last event, which what is ticked follows."""

    case: str
    title: str
    number: int
    told: str
    to_hand: tuple[str, ...]
    retest: str | None
    rungs: tuple[SheetRung, ...]


def sheet(session: Session, climb_id: str, at: datetime) -> Sheet:
    """The sheet of a guided case as it stands at that moment. Raises NotFound."""
    row = store.climb_row(session, climb_id)
    document = document_of(stored_edition(session, row.playbook_id, row.edition))
    events = store.events(session, climb_id)
    now = replace(climb(document.playbook, events), looked_at=at)
    filler = filler_of(now, document.pictures)
    retest = now.playbook.retest
    return Sheet(
        case=row.case_id,
        title=now.playbook.title,
        number=len(events),
        told=hand_off_text(now),
        to_hand=_to_hand(now, filler),
        retest=filler.fill(retest.how) if retest else None,
        rungs=tuple(_rung(now, filler, row) for row in _ahead(now)),
    )


def _ahead(now: Climb) -> list[RowOfLadder]:
    """The rungs ahead, in the order of the ladder, with the rails that may still open under them."""
    left = {task.path for task in now.agenda if isinstance(task, RungTask | AgainTask)}
    rows = [row for row in rows_of(now.playbook) if isinstance(row.entry, Rung)]
    return [row for row in rows if any(row.path == one or row.path.startswith(f"{one}.on.") for one in left)]


def _step_of(now: Climb, row: RowOfLadder) -> Step:
    assert isinstance(row.entry, Rung)
    return now.on_unit(now.playbook.step(row.entry.step))


def _to_hand(now: Climb, filler: Filler) -> tuple[str, ...]:
    """What all of them need, each once, the tools and parts before the rest."""
    needs: list[Need] = []
    for row in _ahead(now):
        step = _step_of(now, row)
        needs += step.to_hand
        if step.footing not in (None, "any"):
            needs += [need for one in chain(footings_of(now.playbook), step.footing) for need in one.enter.to_hand]
    needs.sort(key=lambda need: need.kind not in ("tool", "part"))
    said = [filler.fill(need.what) + (f" ({filler.fill(need.from_)})" if need.from_ else "") for need in needs]
    return tuple(dict.fromkeys(said))


def _rung(now: Climb, filler: Filler, row: RowOfLadder) -> SheetRung:
    step = _step_of(now, row)
    assert isinstance(row.entry, Rung)
    stands = [] if step.footing in (None, "any") else chain(footings_of(now.playbook), step.footing)
    is_each_round = step.search is not None and step.is_tested and step.proves == "after-leaving"
    whole = with_entering(step, stands, is_each_round)
    filled = filled_step(step, filler.fill)
    return SheetRung(
        path=row.path,
        label=row.label,
        title=step.title,
        depth=row.depth,
        via=row.via,
        when=told_in_words(row.entry.when, now.playbook) if row.entry.when else None,
        enter=tuple(passage(now, filler, f"First: {one.title}", one.enter.do, one.lost) for one in stands),
        leave=tuple(passage(now, filler, f"Leave: {one.title}", one.leave.do) for one in reversed(stands)),
        guards=tuple(f"{guard.ask} It must be: {guard.must}." for guard in filled.guard),
        beware=filled.beware,
        cost=spoken_cost(filled_step(whole, filler.fill)),
        do=filler.instructions(step.do, now.world),
        expect=filled.expect,
        harmless=filled.harmless,
        missing=filled.missing,
        stuck=filled.stuck,
        reading=_bands(step),
        ends=tuple(_ends(step)),
        is_agreed_to=bool(step.guard) or risk_grade(whole) >= ROUGH,
    )


def _bands(step: Step) -> tuple[str, ...]:
    """What a number that is read stands for, in words."""
    if step.reading is None:
        return ()
    titles = {finding.id: finding.title for finding in step.findings}
    unit = step.reading.unit
    said, above = [], ""
    for band in step.reading.bands:
        here = f"below {band.below:g} {unit}" if band.below is not None else above or f"any number of {unit}"
        said.append(f"{here}: {titles[band.finding]}")
        above = f"{band.below:g} {unit} and more" if band.below is not None else above
    return tuple(said)


def _ends(step: Step) -> Iterator[SheetEnd]:
    """What can be ticked of a step."""
    without = "no-change" if step.is_tested else None
    if step.is_tested:
        yield _end("fixed")
    for finding in step.findings:
        yield SheetEnd(label=finding.title, outcome=without, finding=finding.id)
    if not step.findings:
        yield _end("no-change" if step.is_tested else "done")
    yield _end("could-not")
    yield _end("not-available")


def _end(outcome: Outcome) -> SheetEnd:
    return SheetEnd(label=OUTCOMES[outcome].label, outcome=outcome, finding=None)


def enter_ticks(
    session: Session, climb_id: str, ticks: Sequence[Ticked], key: str, after: int, who: int, now: datetime
) -> None:
    """Enter what was ticked, as the answers that the case would have been given one by one. Sending the same key again
    changes nothing.

    Raises NotFound, Conflict when a tick does not fit, Stale when the case has gone on since event `after`.
    """
    if store.event_by_key(session, climb_id, f"{key}.0") is not None:
        return
    row = store.climb_row(session, climb_id)
    playbook = document_of(stored_edition(session, row.playbook_id, row.edition)).playbook
    events = store.events(session, climb_id)
    made = brought_back(climb(playbook, events), ticks, who, max(now, events[-1].at))
    for number, event in enumerate(made):
        record(session, climb_id, event.move, f"{key}.{number}", after + number, who, now)
